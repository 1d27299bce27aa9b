"""What closes machines and instruments: tags and the stop of all machines."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def open_tags(db: Session) -> Sequence[tuple[t.Tag, str]]:
    """Tags that nobody has cleared, with the name of who hung each, oldest first."""
    query = (
        select(t.Tag, t.Person.name)
        .join(t.Person, t.Person.id == t.Tag.person_id)
        .outerjoin(t.TagCleared, t.TagCleared.tag_id == t.Tag.id)
        .where(t.TagCleared.tag_id.is_(None))
        .order_by(t.Tag.at, t.Tag.id)
    )
    return [(tag, name) for tag, name in db.execute(query)]


def open_stop(db: Session) -> tuple[t.ShopStop, str] | None:
    """The stop of all machines that is in force, with the name of who gave it."""
    query = (
        select(t.ShopStop, t.Person.name)
        .join(t.Person, t.Person.id == t.ShopStop.person_id)
        .outerjoin(t.ShopStopCleared, t.ShopStopCleared.stop_id == t.ShopStop.id)
        .where(t.ShopStopCleared.stop_id.is_(None))
        .order_by(t.ShopStop.at.desc(), t.ShopStop.id.desc())
        .limit(1)
    )
    row = db.execute(query).first()
    return None if row is None else (row[0], row[1])


def open_stops(db: Session) -> list[t.ShopStop]:
    """Every stop in force; lifting lifts them all."""
    query = (
        select(t.ShopStop)
        .outerjoin(t.ShopStopCleared, t.ShopStopCleared.stop_id == t.ShopStop.id)
        .where(t.ShopStopCleared.stop_id.is_(None))
    )
    return list(db.scalars(query))
