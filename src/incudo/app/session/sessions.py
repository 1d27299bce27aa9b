"""One meeting of a group: opening it, the roll, who supervises, which machines are open, its end."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command
from incudo.app.people.accounts import Pin
from incudo.app.session.now import states_at_machines, supervisors, the_session
from incudo.app.session.page import session_page
from incudo.app.session.views import SessionPage
from incudo.app.shop.machines import machine_here
from incudo.core.kernel.errors import Conflict, NotPermitted
from incudo.core.kernel.say import say
from incudo.store import schema as t
from incudo.store.session import sessions as store


class OpenSession(Command):
    """Open a meeting of a group; whoever opens it supervises."""

    id: uuid.UUID
    group: uuid.UUID
    machines: Annotated[tuple[uuid.UUID, ...], Field(max_length=40)] = ()
    pin: Pin


class SuperviseCommand(Command):
    """Supervise the session, or leave it to the others."""

    id: uuid.UUID
    on: bool
    pin: Pin


class MachineOpenCommand(Command):
    """Open or close a machine for this session."""

    id: uuid.UUID
    machine: uuid.UUID
    open: bool


def open_session(w: Work, who: Who, command: OpenSession) -> SessionPage:
    """Open a session, and show it."""
    begin(w, who, command)
    return session_page(w)


def begin(w: Work, who: Who, command: OpenSession) -> None:
    """Open a session; the opener supervises it. Only one can be open."""
    find(w, t.Group, command.group, "group")
    there = store.open_meeting(w.db)
    if there is not None and there.id != command.id:
        group = find(w, t.Group, there.group_id, "group")
        raise Conflict(say("A session of {name} is open: end it first.", name=group.name))
    if there is None:
        if w.db.get(t.Meeting, command.id) is not None:
            raise Conflict(say("That session is over already."))
        w.db.add(
            t.Meeting(
                id=command.id,
                group_id=command.group,
                opened_by=who.id,
                opened_at=w.now,
                duties="",
                open_slot=1,
            )
        )
        w.db.flush()
        w.db.add(_supervision(command.id, command.id, who, on=True, at=w.now))
        for machine in dict.fromkeys(command.machines):
            machine_here(w, machine)
            w.db.add(
                t.MeetingMachine(
                    id=uuid.uuid5(command.id, f"open {machine}"),
                    meeting_id=command.id,
                    machine_id=machine,
                    open=True,
                    by_id=who.id,
                    at=w.now,
                )
            )
        w.db.flush()


def _supervision(row_id: uuid.UUID, meeting: uuid.UUID, who: Who, *, on: bool, at: datetime) -> t.Supervision:
    return t.Supervision(id=uuid.uuid5(row_id, "supervision"), meeting_id=meeting, person_id=who.id, on=on, at=at)


def supervise(w: Work, who: Who, command: SuperviseCommand) -> SessionPage:
    """An instructor begins to supervise or leaves; somebody must stay while a machine runs."""
    meeting = the_session(w)
    others = [s for s in supervisors(w, meeting) if s.id != who.id]
    running = any(s.run for s in states_at_machines(w, meeting).values())
    if not command.on and not others and running:
        raise NotPermitted(say("Machines are running: another instructor must supervise before you leave."))
    insert_once(w, _supervision(command.id, meeting.id, who, on=command.on, at=w.now), ignoring=("at",))
    return session_page(w)


def open_machine(w: Work, who: Who, command: MachineOpenCommand) -> SessionPage:
    """Open or close a machine for this session; closing ends no running cut."""
    meeting = the_session(w)
    machine_here(w, command.machine)
    row = t.MeetingMachine(
        id=command.id,
        meeting_id=meeting.id,
        machine_id=command.machine,
        open=command.open,
        by_id=who.id,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))
    return session_page(w)
