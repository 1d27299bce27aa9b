"""Attempts with everything recorded about them, many at once in a fixed number of queries."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


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
    ticks: list[t.Progress] = field(default_factory=list)


def load_attempts(db: Session, attempts: Sequence[uuid.UUID]) -> list[AttemptRows]:
    """The rows of several attempts, in the order asked for; unknown ids are left out."""
    head = (
        select(t.Attempt, t.Assignment, t.ProjectVersion, t.Person)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .join(t.Person, t.Person.id == t.Assignment.student_id)
        .where(t.Attempt.id.in_(attempts))
    )
    heads = db.execute(head).all()
    last = _last_numbers(db, [assignment.id for _, assignment, _, _ in heads])
    found = {
        a.id: AttemptRows(a, assignment, version, student, a.number == last[assignment.id])
        for a, assignment, version, student in heads
    }
    of_hand_in: dict[uuid.UUID, AttemptRows] = {}
    for h in db.scalars(select(t.HandIn).where(t.HandIn.attempt_id.in_(found)).order_by(t.HandIn.number)):
        of_hand_in[h.id] = found[h.attempt_id]
        found[h.attempt_id].hand_ins.append(h)
    of_decision: dict[uuid.UUID, AttemptRows] = {}
    for d in _where(db, t.Decision, t.Decision.hand_in_id, of_hand_in):
        of_decision[d.id] = of_hand_in[d.hand_in_id]
        of_hand_in[d.hand_in_id].decisions[d.hand_in_id] = d
        of_hand_in[d.hand_in_id].findings[d.id] = []
    for f in _where(db, t.Finding, t.Finding.decision_id, of_decision):
        of_decision[f.decision_id].findings[f.decision_id].append(f)
    for c in _where(db, t.Comparison, t.Comparison.hand_in_id, of_hand_in):
        of_hand_in[c.hand_in_id].comparisons.append(c)
    readings = select(t.Reading).where(t.Reading.attempt_id.in_(found))
    for r in db.scalars(readings.order_by(t.Reading.saved_at, t.Reading.id)):
        found[r.attempt_id].readings.append(r)
    for p in _where(db, t.Progress, t.Progress.attempt_id, found):
        found[p.attempt_id].ticks.append(p)
    return [found[a] for a in attempts if a in found]


def _where(db: Session, table: Any, column: Any, keys: Iterable[uuid.UUID]) -> list[Any]:
    wanted = list(keys)
    return list(db.scalars(select(table).where(column.in_(wanted)))) if wanted else []


def _last_numbers(db: Session, assignments: list[uuid.UUID]) -> dict[uuid.UUID, int]:
    query = (
        select(t.Attempt.assignment_id, func.max(t.Attempt.number))
        .where(t.Attempt.assignment_id.in_(assignments))
        .group_by(t.Attempt.assignment_id)
    )
    return dict(db.execute(query).all())


def newest_attempts(db: Session, assignments: Iterable[uuid.UUID]) -> list[uuid.UUID]:
    """The newest attempt of each assignment, in the order asked for."""
    wanted = list(assignments)
    query = select(t.Attempt.id, t.Attempt.assignment_id, t.Attempt.number).where(t.Attempt.assignment_id.in_(wanted))
    newest: dict[uuid.UUID, tuple[int, uuid.UUID]] = defaultdict(lambda: (0, uuid.UUID(int=0)))
    for attempt, assignment, number in db.execute(query):
        newest[assignment] = max(newest[assignment], (number, attempt))
    return [newest[a][1] for a in wanted if a in newest]


def open_cards(db: Session, students: Collection[uuid.UUID]) -> list[uuid.UUID]:
    """The assignments of these students whose part is not accepted yet, oldest first."""
    if not students:
        return []
    of = t.Pending
    query = select(of.id).where(of.kind == "card", of.person_id.in_(list(students)))
    return list(db.scalars(query.join(t.Assignment, t.Assignment.id == of.id).order_by(t.Assignment.assigned_at)))


def last_closed(db: Session, student: uuid.UUID, count: int) -> list[uuid.UUID]:
    """The last assignments of a student whose part was accepted, oldest first."""
    open_ = select(t.Pending.id).where(t.Pending.kind == "card", t.Pending.id == t.Assignment.id)
    query = select(t.Assignment.id).where(t.Assignment.student_id == student, ~open_.exists())
    return list(db.scalars(query.order_by(t.Assignment.assigned_at.desc()).limit(count)))[::-1]


def on_the_floor(db: Session, here: Collection[uuid.UUID], since: datetime) -> list[uuid.UUID]:
    """Open assignments of whoever is here, who entered something since a moment, or who waits for a check."""
    waiting = (
        select(t.Attempt.assignment_id)
        .join(t.HandIn, t.HandIn.attempt_id == t.Attempt.id)
        .join(t.Pending, (t.Pending.kind == "hand_in") & (t.Pending.id == t.HandIn.id))
    )
    read = (
        select(t.Attempt.assignment_id)
        .join(t.Reading, t.Reading.attempt_id == t.Attempt.id)
        .where(t.Reading.saved_at > since, ~t.Reading.checking)
    )
    ticked = select(t.Attempt.assignment_id).join(t.Progress, t.Progress.attempt_id == t.Attempt.id)
    wanted = {*open_cards(db, here), *db.scalars(waiting)}
    recent = {*db.scalars(read.distinct()), *db.scalars(ticked.where(t.Progress.at > since))} - wanted
    if recent:
        still = select(t.Pending.id).where(t.Pending.kind == "card", t.Pending.id.in_(recent))
        wanted |= set(db.scalars(still))
    query = select(t.Assignment.id).where(t.Assignment.id.in_(wanted)).order_by(t.Assignment.assigned_at)
    return list(db.scalars(query)) if wanted else []
