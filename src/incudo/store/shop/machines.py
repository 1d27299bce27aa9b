"""Machines and workholding: rows in the order they stand in the shop."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def workholding(db: Session, *, also_gone: bool = False) -> list[t.Workholding]:
    """Everything in the shop that holds work, in the order it is kept; ``also_gone``: and what was there once."""
    query = select(t.Workholding).order_by(t.Workholding.place, t.Workholding.name, t.Workholding.id)
    return list(db.scalars(query if also_gone else query.where(t.Workholding.gone == "")))


def notes_of(db: Session, machine: uuid.UUID) -> list[tuple[t.MachineNote, str]]:
    """What was done to a machine and by whom, the newest first."""
    query = (
        select(t.MachineNote, t.Person.name)
        .join(t.Person, t.Person.id == t.MachineNote.person_id)
        .where(t.MachineNote.machine_id == machine)
        .order_by(t.MachineNote.at.desc(), t.MachineNote.id.desc())
    )
    return [(n, name) for n, name in db.execute(query)]


def machines(db: Session, *, also_gone: bool = False) -> list[t.Machine]:
    """The machines of the shop in the order they stand; ``also_gone``: and those that stood there once."""
    query = select(t.Machine).order_by(t.Machine.place, t.Machine.id)
    return list(db.scalars(query if also_gone else query.where(t.Machine.gone == "")))


@dataclass(frozen=True)
class MachineHead:
    """A machine without its entry: what it is called, in a line what it is, and whether it still stands here."""

    id: uuid.UUID
    name: str
    about: str
    here: bool


def machine_heads(db: Session) -> list[MachineHead]:
    """Every machine that ever stood here, in order."""
    of = t.Machine
    rows = db.execute(select(of.id, of.name, of.about, of.gone).order_by(of.place, of.id))
    return [MachineHead(ident, name, about, gone == "") for ident, name, about, gone in rows]


def all_names(db: Session) -> dict[uuid.UUID, str]:
    """The names of all machines, instruments and cutters."""
    found: dict[uuid.UUID, str] = {}
    for table in (t.Machine, t.Instrument, t.Cutter):
        found |= dict(db.execute(select(table.id, table.name)).all())
    return found


def photo_since(db: Session, machine: uuid.UUID) -> datetime | None:
    """Since when there is the photograph of a machine; the picture itself is not read."""
    return db.scalar(select(t.MachinePhoto.at).where(t.MachinePhoto.machine_id == machine))
