"""Attempts with everything recorded about them, many at once in a fixed number of queries."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from functools import cache
from typing import Any, NamedTuple

from sqlalchemy import ScalarSelect, Select, bindparam, case, func, or_, select, tuple_, union
from sqlalchemy.orm import Session, aliased, defer

from incudo.store import schema as t


class Reads(NamedTuple):
    """How often one thing was read by the student in one round.

    ``number`` of them decide: they came before the hand-in, were decided when they were read, and nothing took their
    place in time. ``first`` is when the first since some moment was saved, ``last`` the last of all.
    """

    attempt_id: uuid.UUID
    characteristic: int
    element: str
    round: int
    number: int
    first: datetime | None
    last: datetime


class Tick(NamedTuple):
    """When a station of an attempt was ticked."""

    attempt_id: uuid.UUID
    station: str
    at: datetime


@dataclass
class AttemptRows:
    """The rows of one attempt, each list oldest first."""

    attempt: t.Attempt
    assignment: t.Assignment
    version: t.ProjectVersion
    student: t.Person
    newest: bool
    hand_ins: list[t.HandIn] = field(default_factory=list)
    decisions: dict[uuid.UUID, t.Decision] = field(default_factory=dict)
    findings: dict[uuid.UUID, list[t.Finding]] = field(default_factory=dict)
    comparisons: list[t.Comparison] = field(default_factory=list)
    readings: list[t.Reading] = field(default_factory=list)
    reads: list[Reads] = field(default_factory=list)
    ticks: list[Tick] = field(default_factory=list)


def load_attempts(db: Session, attempts: Sequence[uuid.UUID]) -> list[AttemptRows]:
    """The rows of several attempts, in the order asked for; unknown ids are left out."""
    found = _with_readings(db, _loaded(db, _wanted_attempts(), attempts))
    return [found[a] for a in attempts if a in found]


def load_newest(db: Session, assignments: Sequence[uuid.UUID]) -> list[AttemptRows]:
    """The rows of the newest attempt of several assignments, in the order asked for; unknown ids are left out."""
    return _by_assignment(_with_readings(db, _loaded(db, _wanted_newest(), assignments)), assignments)


def load_progress(db: Session, assignments: Sequence[uuid.UUID], since: datetime) -> list[AttemptRows]:
    """The same with readings that are only counted, for many at once."""
    found = _loaded(db, _wanted_newest(), assignments)
    for r in count_reads(db, found, since):
        found[r.attempt_id].reads.append(r)
    return _by_assignment(found, assignments)


def _by_assignment(loaded: Mapping[uuid.UUID, AttemptRows], assignments: Sequence[uuid.UUID]) -> list[AttemptRows]:
    found = {rows.assignment.id: rows for rows in loaded.values()}
    return [found[a] for a in assignments if a in found]


def _with_readings(db: Session, found: dict[uuid.UUID, AttemptRows]) -> dict[uuid.UUID, AttemptRows]:
    readings = select(t.Reading).where(t.Reading.attempt_id.in_(found))
    for r in db.scalars(readings.order_by(t.Reading.saved_at, t.Reading.id)) if found else ():
        found[r.attempt_id].readings.append(r)
    return found


def count_reads(db: Session, attempts: Collection[uuid.UUID], since: datetime) -> list[Reads]:
    """How often the students read each thing of these attempts, and when since a moment."""
    if not attempts:
        return []
    of, later = t.Reading, aliased(t.Reading)
    decides = ~of.late & (of.undecided == "") & later.id.is_(None)
    query = (
        select(
            *(of.attempt_id, of.characteristic, of.element, of.round),
            func.count(case((decides, 1))),
            func.min(case((of.saved_at > since, of.saved_at))),
            func.max(of.saved_at),
        )
        .outerjoin(later, (later.supersedes_id == of.id) & ~later.late)
        .where(of.attempt_id.in_(attempts), ~of.checking)
        .group_by(of.attempt_id, of.characteristic, of.element, of.round)
    )
    return [Reads(*row) for row in db.execute(query)]


def readings_of(db: Session, wanted: Collection[tuple[uuid.UUID, int]]) -> list[t.Reading]:
    """Every reading of some characteristics, oldest first; each is its attempt's id and its own number."""
    if not wanted:
        return []
    of = t.Reading
    query = select(of).where(tuple_(of.attempt_id, of.characteristic).in_(list(wanted)))
    return list(db.scalars(query.order_by(of.saved_at, of.id)))


@cache
def _attempts() -> Select[t.Attempt, t.Assignment, t.ProjectVersion, t.Person, int]:
    """Attempts with what they belong to and the number of the newest of their card; made once, asked all the time."""
    return (
        select(t.Attempt, t.Assignment, t.ProjectVersion, t.Person, _last_number())
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .join(t.Person, t.Person.id == t.Assignment.student_id)
        .options(defer(t.ProjectVersion.content, raiseload=True))
    )


@cache
def _wanted_attempts() -> Select[t.Attempt, t.Assignment, t.ProjectVersion, t.Person, int]:
    """The same of the wanted attempts."""
    return _attempts().where(t.Attempt.id.in_(bindparam("wanted", expanding=True)))


@cache
def _wanted_newest() -> Select[t.Attempt, t.Assignment, t.ProjectVersion, t.Person, int]:
    """The same of the newest attempts of the wanted assignments."""
    of = t.Attempt.assignment_id.in_(bindparam("wanted", expanding=True))
    return _attempts().where(of, t.Attempt.number == _last_number())


@cache
def _last_number() -> ScalarSelect[int]:
    other = aliased(t.Attempt)
    return select(func.max(other.number)).where(other.assignment_id == t.Attempt.assignment_id).scalar_subquery()


def _loaded(
    db: Session,
    heads: Select[t.Attempt, t.Assignment, t.ProjectVersion, t.Person, int],
    wanted: Sequence[uuid.UUID],
) -> dict[uuid.UUID, AttemptRows]:
    """The rows of the attempts of a query, by their id."""
    found: dict[uuid.UUID, AttemptRows] = {
        a.id: AttemptRows(a, assignment, version, student, a.number == last)
        for a, assignment, version, student, last in db.execute(heads, {"wanted": list(wanted)})
    }
    if not found:
        return {}
    of_hand_in: dict[uuid.UUID, AttemptRows] = {}
    for h in db.scalars(select(t.HandIn).where(t.HandIn.attempt_id.in_(found)).order_by(t.HandIn.number)):
        of_hand_in[h.id] = found[h.attempt_id]
        found[h.attempt_id].hand_ins.append(h)
    of_decision: dict[uuid.UUID, AttemptRows] = {}
    for d in _where(db, t.Decision, t.Decision.hand_in_id, of_hand_in, t.Decision.id):
        of_decision[d.id] = of_hand_in[d.hand_in_id]
        of_hand_in[d.hand_in_id].decisions[d.hand_in_id] = d
        of_hand_in[d.hand_in_id].findings[d.id] = []
    for f in _where(db, t.Finding, t.Finding.decision_id, of_decision, t.Finding.characteristic):
        of_decision[f.decision_id].findings[f.decision_id].append(f)
    for c in _where(db, t.Comparison, t.Comparison.hand_in_id, of_hand_in, t.Comparison.at, t.Comparison.id):
        of_hand_in[c.hand_in_id].comparisons.append(c)
    of = t.Progress
    ticked = select(of.attempt_id, of.station, of.at).where(of.attempt_id.in_(found)).order_by(of.at, of.id)
    for attempt, station, at in db.execute(ticked):
        found[attempt].ticks.append(Tick(attempt, station, at))
    return found


def _where(db: Session, table: Any, column: Any, keys: Iterable[uuid.UUID], *order: Any) -> list[Any]:
    wanted = list(keys)
    query = select(table).where(column.in_(wanted)).order_by(*order)
    return list(db.scalars(query)) if wanted else []


def open_cards(db: Session, students: Collection[uuid.UUID]) -> list[uuid.UUID]:
    """The assignments of these students whose part is not accepted yet, oldest first."""
    if not students:
        return []
    of = t.Pending
    query = select(of.id).where(of.kind == "card", of.person_id.in_(list(students)))
    return list(
        db.scalars(
            query.join(t.Assignment, t.Assignment.id == of.id).order_by(t.Assignment.assigned_at, t.Assignment.id)
        )
    )


def being_worked_on(db: Session, since: datetime) -> list[tuple[uuid.UUID, uuid.UUID]]:
    """Open assignments that their student entered something for since a moment, with the student, oldest first."""
    read = (
        select(t.Attempt.assignment_id)
        .join(t.Reading, t.Reading.attempt_id == t.Attempt.id)
        .where(t.Reading.saved_at > since, ~t.Reading.checking)
    )
    ticked = (
        select(t.Attempt.assignment_id)
        .join(t.Progress, t.Progress.attempt_id == t.Attempt.id)
        .where(t.Progress.at > since)
    )
    run = (
        select(t.Attempt.assignment_id)
        .join(t.RunTick, t.RunTick.attempt_id == t.Attempt.id)
        .where(t.RunTick.at > since)
    )
    worked = union(read, ticked, run).subquery()
    query = select(t.Pending.id, t.Assignment.student_id).join(worked, worked.c.assignment_id == t.Pending.id)
    query = query.join(t.Assignment, t.Assignment.id == t.Pending.id).where(t.Pending.kind == "card")
    found = db.execute(query.order_by(t.Assignment.assigned_at, t.Assignment.id))
    return [(assignment, student) for assignment, student in found]


@dataclass(frozen=True)
class WaitingPart:
    """A part that was handed in and waits for its check."""

    hand_in: uuid.UUID
    number: int
    at: datetime
    assignment: uuid.UUID
    student: uuid.UUID
    student_name: str
    version: uuid.UUID


def waiting_parts(db: Session) -> list[WaitingPart]:
    """The parts that wait for their check, the longest first."""
    h, a = t.HandIn, t.Assignment
    query = (
        select(h.id, h.number, h.at, a.id, a.student_id, t.Person.name, a.project_version_id)
        .join(t.Pending, (t.Pending.kind == "hand_in") & (t.Pending.id == h.id))
        .join(t.Attempt, t.Attempt.id == h.attempt_id)
        .join(a, a.id == t.Attempt.assignment_id)
        .join(t.Person, t.Person.id == a.student_id)
        .order_by(h.at, h.id)
    )
    return [WaitingPart(*row) for row in db.execute(query)]


def versions_given(db: Session, assignments: Collection[uuid.UUID]) -> dict[uuid.UUID, uuid.UUID]:
    """Which version of a part each of these assignments gives."""
    if not assignments:
        return {}
    query = select(t.Assignment.id, t.Assignment.project_version_id).where(t.Assignment.id.in_(list(assignments)))
    return {assignment: version for assignment, version in db.execute(query)}


@dataclass(frozen=True)
class CardHead:
    """An open job card without anything that was recorded about it."""

    assignment: uuid.UUID
    student: uuid.UUID
    student_name: str
    machine: uuid.UUID | None
    due: date | None
    version: uuid.UUID


def card_heads(db: Session, students: Collection[uuid.UUID]) -> list[CardHead]:
    """The open job cards of these students, oldest first."""
    if not students:
        return []
    pending = (t.Pending.kind == "card") & (t.Pending.id == t.Assignment.id)
    query = _heads().join(t.Pending, pending).where(t.Pending.person_id.in_(list(students)))
    return [CardHead(*row) for row in db.execute(query.order_by(t.Assignment.assigned_at, t.Assignment.id))]


def _heads() -> Any:
    a = t.Assignment
    query = select(a.id, a.student_id, t.Person.name, a.machine_id, a.due, a.project_version_id)
    return query.join(t.Person, t.Person.id == a.student_id)


def last_accepted(db: Session, student: uuid.UUID, count: int) -> list[CardHead]:
    """The last assignments of a student whose part was accepted, the newest first."""
    open_ = select(t.Pending.id).where(t.Pending.kind == "card", t.Pending.id == t.Assignment.id)
    query = _heads().where(t.Assignment.student_id == student, ~open_.exists())
    return [
        CardHead(*row)
        for row in db.execute(query.order_by(t.Assignment.assigned_at.desc(), t.Assignment.id.desc()).limit(count))
    ]


def last_decided(db: Session, student: uuid.UUID) -> uuid.UUID | None:
    """The attempt of a student about which something was decided last."""
    query = (
        select(t.Attempt.id)
        .join(t.HandIn, t.HandIn.attempt_id == t.Attempt.id)
        .join(t.Decision, t.Decision.hand_in_id == t.HandIn.id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .where(t.Assignment.student_id == student)
        .order_by(t.Decision.at.desc(), t.Decision.id.desc())
        .limit(1)
    )
    return db.scalar(query)


@dataclass(frozen=True)
class CardToLayOut:
    """An open job card that is being made; ``begun`` when a station of its newest attempt is ticked."""

    student: uuid.UUID
    student_name: str
    version: uuid.UUID
    number: int
    assignment: uuid.UUID
    begun: bool


def cards_to_lay_out(db: Session, students: Collection[uuid.UUID]) -> list[CardToLayOut]:
    """The job cards of these students that are being made: not handed in, not scrapped; oldest first."""
    if not students:
        return []
    a, newest = t.Assignment, aliased(t.Attempt)
    later = select(newest.id).where(newest.assignment_id == a.id, newest.number > t.Attempt.number)
    waits_or_over = (
        select(t.HandIn.id)
        .outerjoin(t.Decision, t.Decision.hand_in_id == t.HandIn.id)
        .where(t.HandIn.attempt_id == t.Attempt.id, or_(t.Decision.id.is_(None), t.Decision.outcome != "rework"))
    )
    ticked = select(t.Progress.id).where(t.Progress.attempt_id == t.Attempt.id)
    query = (
        select(a.student_id, t.Person.name, a.project_version_id, t.Attempt.number, a.id, ticked.exists())
        .join(t.Pending, (t.Pending.kind == "card") & (t.Pending.id == a.id))
        .join(t.Attempt, t.Attempt.assignment_id == a.id)
        .join(t.Person, t.Person.id == a.student_id)
        .where(t.Pending.person_id.in_(list(students)), ~later.exists(), ~waits_or_over.exists())
        .order_by(a.assigned_at, a.id)
    )
    return [CardToLayOut(*row[:5], begun=bool(row[5])) for row in db.execute(query)]
