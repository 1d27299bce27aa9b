"""Counts of what a shop has, for who begins."""

from __future__ import annotations

from datetime import date

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t
from incudo.store.people.groups import groups


def counts(db: Session, day: date) -> dict[str, int]:
    """How many there are of each: one indexed count each, and the groups of this term."""

    def many(table: type[t.Base], *where: object) -> int:
        query = select(func.count()).select_from(table)
        return db.scalar(query.where(*where) if where else query) or 0  # type: ignore[arg-type]

    return {
        "machines": many(t.Machine, t.Machine.gone == ""),
        "holding": many(t.Workholding, t.Workholding.gone == ""),
        "cutters": many(t.Cutter),
        "gauges": many(t.Instrument, t.Instrument.gone == ""),
        "groups": len(groups(db, day)),
        "students": many(t.Person, t.Person.role == "student", t.Person.active),
        "parts": many(t.Project),
        "cards": many(t.Assignment),
    }
