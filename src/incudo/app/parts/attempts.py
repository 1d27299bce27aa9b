"""One attempt with everything that is recorded about it, and what of it counts.

Rounds: readings belong to the hand-in they lead up to (1, 2, …). After a
decision for rework the next round begins; readings of the characteristics to
be reworked count only from the new round on, the others carry over.
"""

from __future__ import annotations

import uuid
from collections import Counter
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named
from incudo.app.parts.taken import reading_of
from incudo.app.shop.machines import machine_names
from incudo.app.skills.standings import standing_of, standings
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import Combined, School, Verdict
from incudo.core.parts.features.versions import project_of
from incudo.core.parts.inspection import Disposition, Outcome
from incudo.core.parts.project import Characteristic, Project
from incudo.core.parts.requirement import found, wants
from incudo.core.parts.stations import Facts, Station, StationLine, line_of
from incudo.core.people.roles import Role
from incudo.core.skills.permission import Missing, missing_for, needed_for
from incudo.core.skills.standing import Standings
from incudo.store import schema as t
from incudo.store.kernel.database import cache_of
from incudo.store.parts import attempts as store
from incudo.store.parts import projects
from incudo.store.people import people as people_store
from incudo.store.shop import instruments


@dataclass(frozen=True)
class AttemptFile:
    """An attempt, its assignment and project, and all that was recorded, oldest first."""

    attempt: t.Attempt
    assignment: t.Assignment
    version: t.ProjectVersion
    project: Project
    student: t.Person
    hand_ins: tuple[t.HandIn, ...]
    decisions: dict[uuid.UUID, t.Decision]
    findings: dict[uuid.UUID, tuple[t.Finding, ...]]
    comparisons: tuple[t.Comparison, ...]
    readings: tuple[t.Reading, ...]
    ticks: tuple[t.Progress, ...]
    school: School
    newest: bool

    @property
    def ticked(self) -> frozenset[Station]:
        return frozenset(Station(p.station) for p in self.ticks)

    @property
    def worked(self) -> list[datetime]:
        """When the student entered something."""
        return [*(p.at for p in self.ticks), *(r.saved_at for r in self.readings if not r.checking)]

    @property
    def round(self) -> int:
        """The round that a new reading would belong to."""
        return len(self.decisions) + 1

    @property
    def pending(self) -> t.HandIn | None:
        """The hand-in that waits for a decision."""
        return next((h for h in self.hand_ins if h.id not in self.decisions), None)

    @property
    def last_decision(self) -> t.Decision | None:
        decided = [h for h in self.hand_ins if h.id in self.decisions]
        return self.decisions[decided[-1].id] if decided else None

    @property
    def outcome(self) -> Outcome | None:
        return Outcome(self.last_decision.outcome) if self.last_decision else None

    @property
    def over(self) -> bool:
        """Accepted or scrapped: nothing counts any more."""
        return self.outcome in (Outcome.ACCEPTED, Outcome.SCRAPPED)

    @property
    def rework(self) -> tuple[int, ...]:
        """The characteristics that the last decision sent back."""
        if self.outcome is not Outcome.REWORK or self.last_decision is None:
            return ()
        found = self.findings[self.last_decision.id]
        return tuple(f.characteristic for f in found if f.disposition == Disposition.REWORK)

    def reworked_in(self, characteristic: int, before: int) -> int:
        """The last round before ``before`` in which this characteristic was sent back; else 0."""
        last = 0
        for h in self.hand_ins:
            decision = self.decisions.get(h.id)
            if decision is None or h.number >= before:
                continue
            for f in self.findings[decision.id]:
                if f.characteristic == characteristic and f.disposition == Disposition.REWORK:
                    last = h.number
        return last

    def superseded(self, round_: int) -> frozenset[uuid.UUID]:
        """The readings that others have taken the place of up to a round.

        What came after the hand-in, or belongs to a later round, takes nothing away from what was handed in: a
        decision goes on standing on what it stood on.
        """
        return frozenset(r.supersedes_id for r in self.readings if r.supersedes_id and not r.late and r.round <= round_)

    def counting(self, characteristic: int, round_: int) -> list[t.Reading]:
        """The student's readings that decide in a round."""
        since, gone = self.reworked_in(characteristic, round_), self.superseded(round_)
        return [
            r
            for r in self.readings
            if r.characteristic == characteristic
            and not r.checking
            and not r.late
            and not r.undecided
            and r.id not in gone
            and since < r.round <= round_
        ]

    def checked(self, characteristic: int, round_: int, assessor: uuid.UUID) -> list[t.Reading]:
        """One assessor's own readings of a round that decide."""
        gone = self.superseded(round_)
        return [
            r
            for r in self.readings
            if r.checking
            and r.characteristic == characteristic
            and r.round == round_
            and r.person_id == assessor
            and not r.undecided
            and r.id not in gone
        ]

    def is_measured(self, c: Characteristic, round_: int) -> bool:
        """Whether the student's readings of a round are all that a requirement takes, or enough to be out."""
        counting = self.counting(c.number, round_)
        there = Counter(r.element for r in counting)
        if not Counter(wants(c)) - there:
            return True
        return bool(counting) and self.combined(c, counting).judgement.verdict is not Verdict.NOT_MEASURED

    def opened_by(self, assessor: uuid.UUID, round_: int) -> t.Comparison | None:
        """The assessor's opening of the comparison in a round, if they have opened it."""
        ids = {h.id for h in self.hand_ins if h.number == round_}
        found = (c for c in self.comparisons if c.assessor_id == assessor and c.hand_in_id in ids)
        return next(found, None)

    def decided(self, round_: int) -> bool:
        return any(h.number == round_ and h.id in self.decisions for h in self.hand_ins)

    def may_see(self, who: Who, reading: t.Reading) -> bool:
        """The blind check: nobody sees what could colour their own measuring.

        A student sees their own readings, and the check's once it is decided. An
        assessor sees their own, and all others of a round once that round is
        decided or once they have saved their own and opened the comparison. The
        auditor measures nothing and sees all.
        """
        if who.role is Role.AUDITOR or reading.person_id == who.id:
            return True
        if self.decided(reading.round):
            return True
        return who.assesses and self.opened_by(who.id, reading.round) is not None

    def may_see_reckoned(self, who: Who, at: datetime) -> bool:
        """Whether what the student reckoned at a moment can be shown: its values are their readings.

        The student and the auditor see all. An assessor sees what was there before the last decision, and the rest
        once their own readings of this round are compared.
        """
        if who.id == self.student.id or who.role is Role.AUDITOR:
            return True
        if self.last_decision is not None and (self.over or at <= self.last_decision.at):
            return True
        return self.opened_by(who.id, self.round) is not None

    def combined(self, c: Characteristic, readings: Iterable[t.Reading]) -> Combined:
        """The verdict over readings of one characteristic under the shop's school."""
        return found(self.project, c, map(reading_of, readings), self.school)


def _file(rows: store.AttemptRows, project: Project, school: School) -> AttemptFile:
    return AttemptFile(
        attempt=rows.attempt,
        assignment=rows.assignment,
        version=rows.version,
        project=project,
        student=rows.student,
        hand_ins=tuple(rows.hand_ins),
        decisions=rows.decisions,
        findings={k: tuple(v) for k, v in rows.findings.items()},
        comparisons=tuple(rows.comparisons),
        readings=tuple(rows.readings),
        ticks=tuple(rows.ticks),
        school=school,
        newest=rows.newest,
    )


def load_attempts(w: Work, attempts: Sequence[uuid.UUID]) -> list[AttemptFile]:
    """Everything about several attempts, in a fixed number of queries."""
    return _files(w, store.load_attempts(w.db, attempts))


def _files(w: Work, found: list[store.AttemptRows]) -> list[AttemptFile]:
    school = School(find(w, t.Shop, 1, "shop").verdict_school)
    parts = projects_of(w, {rows.version.id for rows in found})
    return [_file(rows, parts[rows.version.id], school) for rows in found]


def load_attempt(w: Work, attempt: uuid.UUID) -> AttemptFile:
    """Everything about one attempt. Raises ``NotFound``."""
    found = load_attempts(w, [attempt])
    if not found:
        raise NotFound(say("There is no such attempt."))
    return found[0]


def newest_attempts(w: Work, assignments: Sequence[uuid.UUID]) -> list[AttemptFile]:
    """The attempts that are being worked on, in the order of the assignments."""
    return _files(w, store.load_newest(w.db, assignments))


def newest_attempt(w: Work, assignment: uuid.UUID) -> AttemptFile:
    """The attempt that is being worked on. Raises ``NotFound``."""
    found = newest_attempts(w, [assignment])
    if not found:
        raise NotFound(say("There is no such job card."))
    return found[0]


def own_attempt(w: Work, who: Who, assignment: uuid.UUID) -> AttemptFile:
    """The attempt that is being worked on; a student's only their own. Raises ``NotFound``."""
    file = newest_attempt(w, assignment)
    own_only(file, who)
    return file


def own_only(file: AttemptFile, who: Who) -> None:
    """Raises ``NotFound`` for a student who is not its own."""
    if who.role is Role.STUDENT and file.student.id != who.id:
        raise NotFound(say("There is no such job card."))


def missing_skills(w: Work, file: AttemptFile) -> tuple[Missing, ...]:
    """What the student lacks today for this job card."""
    return missing_of(standing_of(w, file.student.id), file)


def missing_of(book: Standings, file: AttemptFile) -> tuple[Missing, ...]:
    """What the student whose book it is lacks for this job card."""
    return missing_for_part(book, file.project, file.assignment.machine_id)


def missing_for_part(book: Standings, part: Project, machine: uuid.UUID | None) -> tuple[Missing, ...]:
    """What a student lacks for a part, on a machine if one is named."""
    needed = needed_for(book.graph, part.needs, part.operations)
    return missing_for(book, needed, str(machine) if machine else None)


def projects_of(w: Work, versions: Collection[uuid.UUID]) -> dict[uuid.UUID, Project]:
    """The parts of these versions; a version never changes, so that one is read once and kept."""
    kept = cache_of(w.db)
    missing = {v for v in versions if ("project version", v) not in kept}
    for version, content in projects.contents(w.db, missing).items():
        kept["project version", version] = project_of(content)
    return {v: kept["project version", v] for v in versions}


def stations_of(
    w: Work, files: Sequence[AttemptFile], known: Mapping[uuid.UUID, Standings] | None = None
) -> list[StationLine]:
    """The line of stations of each job card. ``known`` are standings of students that were loaded before."""
    books = dict(known or {})
    books |= standings(w, {f.student.id for f in files} - books.keys())
    return [_line(missing_of(books[f.student.id], f), f) for f in files]


def _line(missing: tuple[Missing, ...], file: AttemptFile) -> StationLine:
    measured = sum(file.is_measured(c, file.round) for c in file.project.characteristics)
    return line_of(
        Facts(
            missing=tuple(m.name for m in missing),
            ticked=file.ticked,
            measured=measured,
            characteristics=len(file.project.characteristics),
            handed_in=file.pending is not None,
            outcome=file.outcome,
            rework=file.rework,
        )
    )


def names_in(w: Work, file: AttemptFile) -> dict[uuid.UUID, str]:
    """Names of the people and instruments that stand in the readings."""
    people = people_store.names(w.db, (r.person_id for r in file.readings))
    return people | instruments.instrument_names(w.db, (r.instrument_id for r in file.readings))


def station_machine(w: Work, file: AttemptFile) -> Named | None:
    """The machine of the assignment, if one was named."""
    if file.assignment.machine_id is None:
        return None
    name = machine_names(w)[str(file.assignment.machine_id)]
    return Named(id=file.assignment.machine_id, name=name)


def tick_by_itself(w: Work, file: AttemptFile, station: Station, person: uuid.UUID) -> None:
    """A station is done because its work is, unless it is ticked already."""
    if station in file.ticked:
        return
    row = t.Progress(
        id=uuid.uuid5(file.attempt.id, station.value),
        attempt_id=file.attempt.id,
        station=station.value,
        person_id=person,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "person_id"))
