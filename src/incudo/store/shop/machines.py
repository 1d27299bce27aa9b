"""Machines and workholding: rows in the order they stand in the shop."""

from __future__ import annotations

import uuid

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def workholding(db: Session) -> list[t.Workholding]:
    """Everything that holds work, in the order it is kept."""
    return list(db.scalars(select(t.Workholding).order_by(t.Workholding.place, t.Workholding.name, t.Workholding.id)))


def notes_of(db: Session, machine: uuid.UUID) -> list[tuple[t.MachineNote, str]]:
    """What was done to a machine and by whom, the newest first."""
    query = (
        select(t.MachineNote, t.Person.name)
        .join(t.Person, t.Person.id == t.MachineNote.person_id)
        .where(t.MachineNote.machine_id == machine)
        .order_by(t.MachineNote.at.desc(), t.MachineNote.id.desc())
    )
    return [(n, name) for n, name in db.execute(query)]


def machines(db: Session) -> list[t.Machine]:
    """All machines in the order they stand."""
    return list(db.scalars(select(t.Machine).order_by(t.Machine.place, t.Machine.id)))


def machine_ids(db: Session) -> dict[uuid.UUID, str]:
    """The ids and names of all machines in the order they stand, without their entries in the register."""
    rows = db.execute(select(t.Machine.id, t.Machine.name).order_by(t.Machine.place, t.Machine.id))
    return {ident: name for ident, name in rows}


def all_names(db: Session) -> dict[uuid.UUID, str]:
    """The names of all machines, instruments and cutters."""
    found: dict[uuid.UUID, str] = {}
    for table in (t.Machine, t.Instrument, t.Cutter):
        found |= dict(db.execute(select(table.id, table.name)).all())
    return found
