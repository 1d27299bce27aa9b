"""Calls of students, and hold points."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session, aliased

from incudo.store import schema as t


def open_calls(db: Session, since: datetime) -> list[tuple[t.Call, str]]:
    """Calls that nobody has answered, with the student's name, oldest first."""
    query = (
        select(t.Call, t.Person.name)
        .join(t.Person, t.Person.id == t.Call.student_id)
        .outerjoin(t.CallEnd, t.CallEnd.call_id == t.Call.id)
        .where(t.CallEnd.call_id.is_(None), t.Call.at > since)
        .order_by(t.Call.at, t.Call.id)
    )
    return [(c, name) for c, name in db.execute(query)]


def calls_of(db: Session, student: uuid.UUID, since: datetime) -> list[tuple[t.Call, t.CallEnd | None, str]]:
    """A student's calls with their answers and who answered, the newest first."""
    by = aliased(t.Person)
    query = (
        select(t.Call, t.CallEnd, by.name)
        .outerjoin(t.CallEnd, t.CallEnd.call_id == t.Call.id)
        .outerjoin(by, by.id == t.CallEnd.by_id)
        .where(t.Call.student_id == student, t.Call.at > since)
        .order_by(t.Call.at.desc(), t.Call.id.desc())
    )
    return [(c, end, name or "") for c, end, name in db.execute(query)]


def hold_calls(db: Session, assignments: Iterable[uuid.UUID]) -> list[tuple[t.Call, t.CallEnd | None]]:
    """Calls at hold points of these job cards with their answers, oldest first."""
    query = (
        select(t.Call, t.CallEnd)
        .outerjoin(t.CallEnd, t.CallEnd.call_id == t.Call.id)
        .where(t.Call.assignment_id.in_(list(assignments)), t.Call.kind == "hold")
        .order_by(t.Call.at, t.Call.id)
    )
    return [(c, end) for c, end in db.execute(query)]


def hold_points(db: Session, students: Iterable[uuid.UUID]) -> list[t.HoldPoint]:
    """Hold points set for these students, oldest first."""
    query = select(t.HoldPoint).where(t.HoldPoint.student_id.in_(list(students)))
    return list(db.scalars(query.order_by(t.HoldPoint.at, t.HoldPoint.id)))
