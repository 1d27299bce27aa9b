"""One attempt with everything that is recorded about it, and what of it counts.

Rounds: readings belong to the hand-in they lead up to (1, 2, …). After a
decision for rework the next round begins; readings of the characteristics to
be reworked count only from the new round on, the others carry over.
"""

from __future__ import annotations

import uuid
from collections import Counter, OrderedDict, defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property

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
from incudo.store.kernel import changes
from incudo.store.kernel.database import cache_of
from incudo.store.parts import attempts as store
from incudo.store.parts import projects
from incudo.store.people import people as people_store
from incudo.store.shop import instruments

#: So many are kept by one process.
MOST_KEPT = 400
#: What somebody entered longer ago belongs to another day at work.
A_DAY_AT_WORK = timedelta(hours=12)


@dataclass(frozen=True)
class CardRecord:
    """An attempt, its assignment and project, and what was recorded beside its readings, oldest first."""

    attempt: t.Attempt
    assignment: t.Assignment
    version: t.ProjectVersion
    project: Project
    student: t.Person
    hand_ins: tuple[t.HandIn, ...]
    decisions: dict[uuid.UUID, t.Decision]
    findings: dict[uuid.UUID, tuple[t.Finding, ...]]
    comparisons: tuple[t.Comparison, ...]
    ticks: tuple[store.Tick, ...]
    school: School
    newest: bool

    @property
    def ticked(self) -> frozenset[Station]:
        return frozenset(Station(p.station) for p in self.ticks)

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

    def decided(self, round_: int) -> bool:
        return any(h.number == round_ and h.id in self.decisions for h in self.hand_ins)

    def combined(self, c: Characteristic, readings: Iterable[t.Reading]) -> Combined:
        """The verdict over readings of one characteristic under the shop's school."""
        return found(self.project, c, map(reading_of, readings), self.school)

    def enough(self, c: Characteristic, readings: Sequence[t.Reading]) -> bool:
        """Whether readings that are not all that a requirement takes are enough to be out."""
        return bool(readings) and self.combined(c, readings).judgement.verdict is not Verdict.NOT_MEASURED


@dataclass(frozen=True)
class CardProgress(CardRecord):
    """How far an attempt has come: how often each thing was read that is read of its requirements."""

    reads: tuple[store.Reads, ...]

    @property
    def worked(self) -> list[datetime]:
        """When the student entered something; of the readings the first of this day at work and the last."""
        return [*(p.at for p in self.ticks), *(x for r in self.reads for x in (r.first, r.last) if x)]

    @cached_property
    def _counts(self) -> dict[int, Counter[str]]:
        found: dict[int, Counter[str]] = defaultdict(Counter)
        for r in self.reads:
            if r.number and self.reworked_in(r.characteristic, self.round) < r.round <= self.round:
                found[r.characteristic][r.element] += r.number
        return dict(found)

    def counts(self, characteristic: int) -> Counter[str]:
        """How many readings of each element of a requirement decide in the round that goes on."""
        return self._counts.get(characteristic, Counter())

    @cached_property
    def complete(self) -> frozenset[int]:
        """The requirements of which all is read that they take."""
        read = ((c, self._counts.get(c.number)) for c in self.project.characteristics)
        full = (c for c, there in read if there and all(there[e] >= n for e, n in Counter(wants(c)).items()))
        return frozenset(c.number for c in full)

    @cached_property
    def begun(self) -> frozenset[int]:
        """The requirements of which something was read, but less than they take."""
        return frozenset(c.number for c in self.project.characteristics if c.number in self._counts) - self.complete


@dataclass(frozen=True)
class AttemptFile(CardRecord):
    """An attempt with every reading."""

    readings: tuple[t.Reading, ...]

    @property
    def worked(self) -> list[datetime]:
        """When the student entered something."""
        return [*(p.at for p in self.ticks), *(r.saved_at for r in self.readings if not r.checking)]

    def counting(self, characteristic: int, round_: int) -> list[t.Reading]:
        """The student's readings that decide in a round."""
        return deciding(self.readings, characteristic, self.reworked_in(characteristic, round_), round_)

    def checked(self, characteristic: int, round_: int, assessor: uuid.UUID) -> list[t.Reading]:
        """One assessor's own readings of a round that decide."""
        gone = superseded(self.readings, round_)
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
        return not Counter(wants(c)) - Counter(r.element for r in counting) or self.enough(c, counting)

    def opened_by(self, assessor: uuid.UUID, round_: int) -> t.Comparison | None:
        """The assessor's opening of the comparison in a round, if they have opened it."""
        ids = {h.id for h in self.hand_ins if h.number == round_}
        found = (c for c in self.comparisons if c.assessor_id == assessor and c.hand_in_id in ids)
        return next(found, None)

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


def superseded(readings: Iterable[t.Reading], round_: int) -> frozenset[uuid.UUID]:
    """The readings that others have taken the place of up to a round.

    What came after the hand-in, or belongs to a later round, takes nothing away from what was handed in: a
    decision goes on standing on what it stood on.
    """
    return frozenset(r.supersedes_id for r in readings if r.supersedes_id and not r.late and r.round <= round_)


def deciding(readings: Sequence[t.Reading], characteristic: int, since: int, round_: int) -> list[t.Reading]:
    """The student's readings of a characteristic that decide in a round, when it was sent back in round ``since``.

    For many cards at once the database counts them by the same rule (``count_reads``).
    """
    gone = superseded(readings, round_)
    return [
        r
        for r in readings
        if r.characteristic == characteristic
        and not r.checking
        and not r.late
        and not r.undecided
        and r.id not in gone
        and since < r.round <= round_
    ]


def load_attempts(w: Work, attempts: Sequence[uuid.UUID]) -> list[AttemptFile]:
    """Everything about several attempts, in a fixed number of queries."""
    return _files(w, store.load_attempts(w.db, attempts))


def _files(w: Work, rows: Sequence[store.AttemptRows]) -> list[AttemptFile]:
    records = zip(_records(w, rows), rows, strict=True)
    return [AttemptFile(**vars(record), readings=tuple(x.readings)) for record, x in records]


def _records(w: Work, rows: Sequence[store.AttemptRows]) -> list[CardRecord]:
    school = School(find(w, t.Shop, 1, "shop").verdict_school)
    parts = projects_of(w, {x.version.id for x in rows})
    return [
        CardRecord(
            attempt=x.attempt,
            assignment=x.assignment,
            version=x.version,
            project=parts[x.version.id],
            student=x.student,
            hand_ins=tuple(x.hand_ins),
            decisions=x.decisions,
            findings={k: tuple(v) for k, v in x.findings.items()},
            comparisons=tuple(x.comparisons),
            ticks=tuple(x.ticks),
            school=school,
            newest=x.newest,
        )
        for x in rows
    ]


def load_attempt(w: Work, attempt: uuid.UUID) -> AttemptFile:
    """Everything about one attempt. Raises ``NotFound``."""
    found = load_attempts(w, [attempt])
    if not found:
        raise NotFound(say("There is no such attempt."))
    return found[0]


def newest_attempts(w: Work, assignments: Sequence[uuid.UUID]) -> list[AttemptFile]:
    """The attempts that are being worked on, in the order of the assignments."""
    return _files(w, store.load_newest(w.db, assignments))


def progress_of(w: Work, assignments: Sequence[uuid.UUID]) -> list[CardProgress]:
    """How far the attempts that are being worked on have come, in the order of the assignments."""
    rows = store.load_progress(w.db, assignments, w.now - A_DAY_AT_WORK)
    records = zip(_records(w, rows), rows, strict=True)
    return [CardProgress(**vars(record), reads=tuple(x.reads)) for record, x in records]


def kept_progress(w: Work, cards: Sequence[tuple[uuid.UUID, uuid.UUID]]) -> list[CardProgress]:
    """The same of assignments with their students, in order; read anew only where something has changed since.

    What concerns a student or the shop is counted in the transaction that changes it (``store.kernel.changes``): while
    both numbers stand, what was read holds, but for what was entered earlier than this day at work.
    """
    if changes.has_written(w.db):
        return progress_of(w, [assignment for assignment, _ in cards])
    kept: OrderedDict[uuid.UUID, _Kept] = cache_of(w.db).setdefault("progress", OrderedDict())
    since = w.now - A_DAY_AT_WORK
    counted = changes.numbers(w.db, {changes.SHOP, *(changes.of_person(s) for _, s in cards)})
    found: dict[uuid.UUID, CardProgress] = {}
    upto = {a: (counted[changes.of_person(student)], counted[changes.SHOP]) for a, student in cards}
    for assignment, number in upto.items():
        there = kept.get(assignment)
        if there is not None and there.upto == number and there.holds(since):
            found[assignment] = there.card
    missing = [a for a in upto if a not in found]
    fresh = {card.assignment.id: card for card in progress_of(w, missing)} if missing else {}
    if fresh:
        # once the use case is done: rows of one that came to nothing are not to be read again
        w.later.append(lambda _: _keep(kept, {a: _Kept(upto[a], card) for a, card in fresh.items()}))
    found |= fresh
    return [found[a] for a in upto if a in found]


def _keep(kept: OrderedDict[uuid.UUID, _Kept], fresh: Mapping[uuid.UUID, _Kept]) -> None:
    kept.update(fresh)
    while len(kept) > MOST_KEPT:
        kept.popitem(last=False)


@dataclass(frozen=True)
class _Kept:
    """How far an attempt had come, and up to which changes of its student and of the shop that holds."""

    upto: tuple[int, int]
    card: CardProgress

    def holds(self, since: datetime) -> bool:
        """Whether the first thing read on this day at work still belongs to it."""
        return all(r.first is None or r.first > since for r in self.card.reads)


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


def missing_skills(w: Work, file: CardRecord) -> tuple[Missing, ...]:
    """What the student lacks today for this job card."""
    return missing_of(standing_of(w, file.student.id), file)


def missing_of(book: Standings, file: CardRecord) -> tuple[Missing, ...]:
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
    w: Work, cards: Sequence[CardProgress], known: Mapping[uuid.UUID, Standings] | None = None
) -> list[StationLine]:
    """The line of stations of each job card. ``known`` are standings of students that were loaded before."""
    books = dict(known or {})
    books |= standings(w, {card.student.id for card in cards} - books.keys())
    values: dict[uuid.UUID, list[t.Reading]] = defaultdict(list)
    for r in store.readings_of(w.db, [(card.attempt.id, c) for card in cards for c in sorted(card.begun)]):
        values[r.attempt_id].append(r)

    def measured(card: CardProgress, c: Characteristic) -> bool:
        if c.number not in card.begun:
            return c.number in card.complete
        since = card.reworked_in(c.number, card.round)
        return card.enough(c, deciding(values[card.attempt.id], c.number, since, card.round))

    counts = [sum(measured(card, c) for c in card.project.characteristics) for card in cards]
    return [_line(missing_of(books[x.student.id], x), x, n) for x, n in zip(cards, counts, strict=True)]


def stations_in(book: Standings, file: AttemptFile) -> StationLine:
    """The line of stations of a job card that is loaded whole; the book is its student's."""
    measured = sum(file.is_measured(c, file.round) for c in file.project.characteristics)
    return _line(missing_of(book, file), file, measured)


def _line(missing: tuple[Missing, ...], card: CardRecord, measured: int) -> StationLine:
    return line_of(
        Facts(
            missing=tuple(m.name for m in missing),
            ticked=card.ticked,
            measured=measured,
            characteristics=len(card.project.characteristics),
            handed_in=card.pending is not None,
            outcome=card.outcome,
            rework=card.rework,
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
