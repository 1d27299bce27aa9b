"""Calculations kept on a job card."""

from __future__ import annotations

import uuid

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def reckoned(db: Session, assignment: uuid.UUID) -> list[tuple[t.Reckoned, str]]:
    """What was reckoned for a job card, with who did it, the oldest first."""
    query = (
        select(t.Reckoned, t.Person.name)
        .join(t.Person, t.Person.id == t.Reckoned.person_id)
        .where(t.Reckoned.assignment_id == assignment)
        .order_by(t.Reckoned.at, t.Reckoned.id)
    )
    return [(r, name) for r, name in db.execute(query)]
