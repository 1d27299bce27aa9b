"""What was done by a run card."""

from __future__ import annotations

import uuid

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def ticks(db: Session, attempt: uuid.UUID) -> list[tuple[t.RunTick, str]]:
    """What was done in one attempt with by whom, in the order in which it came in."""
    query = (
        select(t.RunTick, t.Person.name)
        .join(t.Person, t.Person.id == t.RunTick.person_id)
        .where(t.RunTick.attempt_id == attempt)
        .order_by(t.RunTick.number)
    )
    return [(row, by) for row, by in db.execute(query)]
