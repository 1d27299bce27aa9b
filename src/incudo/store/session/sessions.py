"""Sessions: the open one, its roll, its machines and what happens at them; calls and hold points."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def open_meeting(db: Session) -> t.Meeting | None:
    """The session that is open now; there is at most one."""
    return db.scalar(select(t.Meeting).where(t.Meeting.open_slot == 1))


def lock_open_meeting(db: Session) -> t.Meeting | None:
    """The session that is open, locked until the end of the transaction.

    Asked first in a transaction it also makes everything read after it as of then: what decides about a start, a
    change of handles or the end of a session is so done one after the other.
    """
    return db.scalar(select(t.Meeting).where(t.Meeting.open_slot == 1).with_for_update())


def meetings(db: Session, limit: int) -> list[tuple[t.Meeting, str]]:
    """The last sessions with the names of their groups, the newest first."""
    query = (
        select(t.Meeting, t.Group.name)
        .join(t.Group, t.Group.id == t.Meeting.group_id)
        .order_by(t.Meeting.opened_at.desc(), t.Meeting.id.desc())
        .limit(limit)
    )
    return [(m, name) for m, name in db.execute(query)]


def meeting_count(db: Session, group: uuid.UUID) -> int:
    """How often a group has met."""
    return db.scalar(select(func.count()).select_from(t.Meeting).where(t.Meeting.group_id == group)) or 0


def roll(db: Session, meeting: uuid.UUID) -> dict[uuid.UUID, t.Roll]:
    """The newest entry of each person in a session."""
    query = select(t.Roll).where(t.Roll.meeting_id == meeting).order_by(t.Roll.at, t.Roll.id)
    return {r.person_id: r for r in db.scalars(query)}


def presences(db: Session, students: Sequence[uuid.UUID]) -> dict[uuid.UUID, list[datetime]]:
    """When each of these students was marked as here."""
    query = select(t.Roll.person_id, t.Roll.at).where(
        t.Roll.person_id.in_(students), t.Roll.presence.in_(("here", "late"))
    )
    found: dict[uuid.UUID, list[datetime]] = defaultdict(list)
    for person, at in db.execute(query):
        found[person].append(at)
    return found


def supervisors(db: Session, meeting: uuid.UUID) -> dict[uuid.UUID, tuple[t.Supervision, str]]:
    """Who supervises a session now, with their names."""
    query = (
        select(t.Supervision, t.Person.name)
        .join(t.Person, t.Person.id == t.Supervision.person_id)
        .where(t.Supervision.meeting_id == meeting)
    )
    newest = {s.person_id: (s, name) for s, name in db.execute(query.order_by(t.Supervision.at, t.Supervision.id))}
    return {p: (s, name) for p, (s, name) in newest.items() if s.on}


def open_machines(db: Session, meeting: uuid.UUID) -> set[uuid.UUID]:
    """The machines that are opened for a session now."""
    query = select(t.MeetingMachine).where(t.MeetingMachine.meeting_id == meeting)
    newest = {m.machine_id: m.open for m in db.scalars(query.order_by(t.MeetingMachine.at, t.MeetingMachine.id))}
    return {machine for machine, is_open in newest.items() if is_open}


def machine_events(db: Session, meeting: uuid.UUID) -> dict[uuid.UUID, list[t.MachineEvent]]:
    """What happened at each machine in a session, oldest first."""
    query = select(t.MachineEvent).where(t.MachineEvent.meeting_id == meeting)
    found: dict[uuid.UUID, list[t.MachineEvent]] = defaultdict(list)
    for e in db.scalars(query.order_by(t.MachineEvent.at, t.MachineEvent.id)):
        found[e.machine_id].append(e)
    return found


def worked(db: Session, students: Sequence[uuid.UUID]) -> list[t.MachineEvent]:
    """All events at the machines and sessions at which these students started something, in order."""
    started = (
        select(t.MachineEvent.meeting_id, t.MachineEvent.machine_id)
        .where(t.MachineEvent.person_id.in_(students), t.MachineEvent.kind == "start")
        .distinct()
        .subquery()
    )
    here = (started.c.meeting_id == t.MachineEvent.meeting_id) & (started.c.machine_id == t.MachineEvent.machine_id)
    query = select(t.MachineEvent).join(started, here)
    return list(
        db.scalars(
            query.order_by(t.MachineEvent.meeting_id, t.MachineEvent.machine_id, t.MachineEvent.at, t.MachineEvent.id)
        )
    )


def notices(db: Session, people: Iterable[uuid.UUID]) -> set[tuple[uuid.UUID, int]]:
    """Who of these people has signed which version of the safety notice."""
    query = select(t.NoticeSigned.person_id, t.NoticeSigned.version).where(t.NoticeSigned.person_id.in_(list(people)))
    return {(p, v) for p, v in db.execute(query)}
