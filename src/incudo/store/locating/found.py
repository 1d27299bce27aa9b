"""Found places of job cards, and measured backlash of machines."""

from __future__ import annotations

import uuid

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def found(db: Session, assignment: uuid.UUID) -> list[tuple[t.Found, str]]:
    """Everything that was found for a job card and by whom, the newest first."""
    query = (
        select(t.Found, t.Person.name)
        .join(t.Person, t.Person.id == t.Found.person_id)
        .where(t.Found.assignment_id == assignment)
        .order_by(t.Found.at.desc(), t.Found.id.desc())
    )
    return [(f, name) for f, name in db.execute(query)]


def backlash(db: Session, machine: uuid.UUID) -> list[tuple[t.MeasuredBacklash, t.Person]]:
    """Measurements of a machine's backlash and by whom, the oldest first."""
    query = (
        select(t.MeasuredBacklash, t.Person)
        .join(t.Person, t.Person.id == t.MeasuredBacklash.person_id)
        .where(t.MeasuredBacklash.machine_id == machine)
        .order_by(t.MeasuredBacklash.at, t.MeasuredBacklash.id)
    )
    return [(m, by) for m, by in db.execute(query)]
