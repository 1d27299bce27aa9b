"""The crib: materials, cutters, who has what."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session, aliased

from incudo.store import schema as t


@dataclass(frozen=True)
class Issued:
    """What was handed out: the rows, and the names of who has it and of who gave it."""

    issue: t.CribIssue
    back: t.CribReturn | None
    person: str
    by: str


def materials(db: Session, *, also_gone: bool = False) -> list[t.Material]:
    """The materials in the register's order; those that have left the shop only if they are asked for."""
    query = select(t.Material).order_by(t.Material.place, t.Material.key)
    return list(db.scalars(query if also_gone else query.where(t.Material.gone == "")))


def cutters(db: Session, *, also_gone: bool = False) -> list[t.Cutter]:
    """The cutters in the register's order; those that have left the shop only if they are asked for."""
    query = select(t.Cutter).order_by(t.Cutter.place, t.Cutter.id)
    return list(db.scalars(query if also_gone else query.where(t.Cutter.gone == "")))


def out_now(db: Session) -> list[Issued]:
    """What is still out, the oldest first."""
    pending = (t.Pending.kind == "issue") & (t.Pending.id == t.CribIssue.id)
    return _issued(db, _with_names().join(t.Pending, pending).order_by(t.CribIssue.at, t.CribIssue.id))


def last_issued(db: Session, limit: int, person: uuid.UUID | None = None) -> list[Issued]:
    """The last things that were handed out (to one person), the newest first."""
    # by the index first, and only then who and what
    last = select(t.CribIssue.id).order_by(t.CribIssue.at.desc(), t.CribIssue.id.desc()).limit(limit)
    if person is not None:
        last = last.where(t.CribIssue.person_id == person)
    found = last.subquery()
    query = _with_names().join(found, found.c.id == t.CribIssue.id)
    return _issued(db, query.order_by(t.CribIssue.at.desc(), t.CribIssue.id.desc()))


def _with_names() -> Any:
    by = aliased(t.Person)
    return (
        select(t.CribIssue, t.CribReturn, t.Person.name, by.name)
        .join(t.Person, t.Person.id == t.CribIssue.person_id)
        .join(by, by.id == t.CribIssue.by_id)
        .outerjoin(t.CribReturn, t.CribReturn.issue_id == t.CribIssue.id)
    )


def _issued(db: Session, query: Any) -> list[Issued]:
    return [Issued(*row) for row in db.execute(query)]


def out_with(db: Session, thing: uuid.UUID) -> list[str]:
    """Who has a cutter or an instrument, as it stands now and not when the transaction began."""
    query = (
        select(t.Person.name)
        .join(t.CribIssue, t.CribIssue.person_id == t.Person.id)
        .outerjoin(t.CribReturn, t.CribReturn.issue_id == t.CribIssue.id)
        .where((t.CribIssue.cutter_id == thing) | (t.CribIssue.instrument_id == thing))
        .where(t.CribReturn.issue_id.is_(None))
        .order_by(t.CribIssue.at, t.CribIssue.id)
        .with_for_update(read=True)
    )
    return list(db.scalars(query))


def last_place(db: Session, table: type[t.Cutter] | type[t.Material]) -> int:
    """The last place in a register; 0 for an empty one."""
    return db.scalar(select(func.max(table.place))) or 0


def locked_cutter(db: Session, cutter: uuid.UUID) -> t.Cutter | None:
    """A cutter's row, held until the end of the transaction so that the last one is handed out once."""
    return db.scalar(select(t.Cutter).where(t.Cutter.id == cutter).with_for_update())


def locked_instrument(db: Session, instrument: uuid.UUID) -> t.Instrument | None:
    """An instrument's row, held likewise."""
    return db.scalar(select(t.Instrument).where(t.Instrument.id == instrument).with_for_update())
