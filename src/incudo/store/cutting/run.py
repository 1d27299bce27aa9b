"""What was done by a run card."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
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


@dataclass(frozen=True)
class RunAt:
    """Where a run card stands: since when it runs, when something was done last, the step that is next."""

    begun: datetime
    last: datetime
    place: int
    places: int
    title: str
    planned: int


def standing(db: Session, attempts: Collection[uuid.UUID]) -> dict[uuid.UUID, RunAt]:
    """Where the run cards of these attempts stand; those without one are left out. One indexed query."""
    if not attempts:
        return {}
    of = t.RunTick
    ends = (
        select(of.attempt_id, func.max(of.number).label("number"), func.min(of.done_at).label("begun"))
        .where(of.attempt_id.in_(list(attempts)))
        .group_by(of.attempt_id)
        .subquery()
    )
    query = select(of, ends.c.begun).join(ends, (ends.c.attempt_id == of.attempt_id) & (ends.c.number == of.number))
    return {
        r.attempt_id: RunAt(begun, r.done_at, r.place, r.places, r.title, r.planned) for r, begun in db.execute(query)
    }
