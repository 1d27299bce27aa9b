"""The crib: materials, cutters, who has what."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

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


def materials(db: Session) -> list[t.Material]:
    """All materials in the register's order."""
    return list(db.scalars(select(t.Material).order_by(t.Material.place)))


def cutters(db: Session) -> list[t.Cutter]:
    """All cutters in the register's order."""
    return list(db.scalars(select(t.Cutter).order_by(t.Cutter.place)))


def issued(db: Session, *, out: bool, person: uuid.UUID | None = None, limit: int = 0) -> list[Issued]:
    """What was handed out: only what is still out, the oldest first; or the last so many, the newest first."""
    by = aliased(t.Person)
    query = (
        select(t.CribIssue, t.CribReturn, t.Person.name, by.name)
        .join(t.Person, t.Person.id == t.CribIssue.person_id)
        .join(by, by.id == t.CribIssue.by_id)
        .outerjoin(t.CribReturn, t.CribReturn.issue_id == t.CribIssue.id)
    )
    if out:
        pending = (t.Pending.kind == "issue") & (t.Pending.id == t.CribIssue.id)
        query = query.join(t.Pending, pending).order_by(t.CribIssue.at, t.CribIssue.id)
    else:
        query = query.order_by(t.CribIssue.at.desc(), t.CribIssue.id)
    if person is not None:
        query = query.where(t.CribIssue.person_id == person)
    if limit:
        query = query.limit(limit)
    return [Issued(*row) for row in db.execute(query)]


def out_with(db: Session, thing: uuid.UUID) -> list[str]:
    """Who has a cutter or an instrument, as it stands now and not when the transaction began."""
    query = (
        select(t.Person.name)
        .join(t.CribIssue, t.CribIssue.person_id == t.Person.id)
        .outerjoin(t.CribReturn, t.CribReturn.issue_id == t.CribIssue.id)
        .where((t.CribIssue.cutter_id == thing) | (t.CribIssue.instrument_id == thing))
        .where(t.CribReturn.issue_id.is_(None))
        .order_by(t.CribIssue.at)
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
