"""Workholding, setups at the machines, and what was done to the machines."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def moves(db: Session, machines: Iterable[uuid.UUID], since: datetime) -> list[t.MachineNote]:
    """Heads and vises moved since a moment."""
    query = select(t.MachineNote).where(
        t.MachineNote.machine_id.in_(list(machines)),
        t.MachineNote.kind.in_(("head", "vise")),
        t.MachineNote.at >= since,
    )
    return list(db.scalars(query))


def ended_setups(db: Session, machine: uuid.UUID, kind: str) -> list[tuple[t.Setup, t.SetupEnd, str]]:
    """Accepted setups of one kind at a machine with whose they are, the oldest first."""
    query = (
        select(t.Setup, t.SetupEnd, t.Person.name)
        .join(t.SetupEnd, t.SetupEnd.setup_id == t.Setup.id)
        .join(t.Person, t.Person.id == t.Setup.person_id)
        .where(t.Setup.machine_id == machine, t.Setup.kind == kind)
        .order_by(t.SetupEnd.at, t.SetupEnd.setup_id)
    )
    return [(s, e, n) for s, e, n in db.execute(query)]


def newest_ends(db: Session, machines: Iterable[uuid.UUID]) -> list[tuple[t.Setup, t.SetupEnd, str]]:
    """The newest accepted setup of each kind at each machine, with whose it is."""
    last = (
        select(t.Setup.machine_id, t.Setup.kind, func.max(t.SetupEnd.at).label("at"))
        .join(t.SetupEnd, t.SetupEnd.setup_id == t.Setup.id)
        .where(t.Setup.machine_id.in_(list(machines)))
        .group_by(t.Setup.machine_id, t.Setup.kind)
        .subquery()
    )
    here = (last.c.machine_id == t.Setup.machine_id) & (last.c.kind == t.Setup.kind) & (last.c.at == t.SetupEnd.at)
    query = (
        select(t.Setup, t.SetupEnd, t.Person.name)
        .join(t.SetupEnd, t.SetupEnd.setup_id == t.Setup.id)
        .join(t.Person, t.Person.id == t.Setup.person_id)
        .join(last, here)
    )
    return [(s, e, n) for s, e, n in db.execute(query)]


def holds_for(db: Session, assignment: uuid.UUID) -> list[tuple[t.Setup, t.SetupEnd, str]]:
    """How the work of an assignment was held, the newest first."""
    query = (
        select(t.Setup, t.SetupEnd, t.Person.name)
        .join(t.SetupEnd, t.SetupEnd.setup_id == t.Setup.id)
        .join(t.Person, t.Person.id == t.Setup.person_id)
        .where(t.Setup.assignment_id == assignment, t.Setup.kind == "hold")
        .order_by(t.SetupEnd.at.desc(), t.SetupEnd.setup_id.desc())
    )
    return [(s, e, n) for s, e, n in db.execute(query)]


def begun(db: Session, machine: uuid.UUID, person: uuid.UUID, since: datetime) -> list[t.Setup]:
    """Working records that a person began at a machine and has not ended, the newest first."""
    query = (
        select(t.Setup)
        .outerjoin(t.SetupEnd, t.SetupEnd.setup_id == t.Setup.id)
        .where(
            t.Setup.machine_id == machine,
            t.Setup.person_id == person,
            t.Setup.at >= since,
            t.SetupEnd.setup_id.is_(None),
        )
        .order_by(t.Setup.at.desc(), t.Setup.id.desc())
    )
    return list(db.scalars(query))


def passes(db: Session, setups: Iterable[uuid.UUID]) -> dict[uuid.UUID, list[t.SetupPass]]:
    """The sweeps of several working records, each in order."""
    query = select(t.SetupPass).where(t.SetupPass.setup_id.in_(list(setups))).order_by(t.SetupPass.number)
    found: dict[uuid.UUID, list[t.SetupPass]] = {}
    for row in db.scalars(query):
        found.setdefault(row.setup_id, []).append(row)
    return found
