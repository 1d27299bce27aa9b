"""Ending a session."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Command
from incudo.app.people.accounts import Pin
from incudo.app.session.duties import share_duties
from incudo.app.session.now import states_at_machines
from incudo.app.session.page import session_page
from incudo.app.session.views import SessionPage
from incudo.app.shop.machines import machine_names
from incudo.core.kernel.errors import Conflict, FieldError, Refused
from incudo.core.kernel.say import say
from incudo.core.session.at_machine import EventKind
from incudo.store import schema as t
from incudo.store.session import sessions as store


class EndSession(Command):
    """End the session: every machine must be handed back, clean and standing."""

    id: uuid.UUID
    handed_back: Annotated[tuple[uuid.UUID, ...], Field(max_length=40)] = ()
    pin: Pin


def end_session(w: Work, who: Who, command: EndSession) -> SessionPage:
    """End the session, and show what is needed to open the next."""
    close(w, who, command)
    return session_page(w)


def close(w: Work, who: Who, command: EndSession) -> None:
    """End the session. Every machine that was used must be handed back, and none may run.

    Raises ``Refused`` naming each machine, ``Conflict`` when another session or none is open.
    """
    meeting = store.lock_open_meeting(w.db)
    if meeting is None:
        ended = w.db.get(t.Meeting, command.id)
        if ended is not None and ended.ended_at:
            return
        raise Conflict(say("No session is open."))
    if meeting.id != command.id:
        raise Conflict(say("Another session is open than the one you want to end."))
    states, names = states_at_machines(w, meeting), machine_names(w)
    faults = []
    for machine, state in states.items():
        if state.run is not None:
            faults.append(FieldError("handed_back", names[str(machine)], say("still runs: end the run first")))
        elif state.people and machine not in command.handed_back:
            faults.append(FieldError("handed_back", names[str(machine)], say("is not handed back yet")))
    if faults:
        raise Refused(*faults)
    share_duties(w, meeting)
    for machine in dict.fromkeys(command.handed_back):
        find(w, t.Machine, machine, "machine")
        w.db.add(
            t.MachineEvent(
                id=uuid.uuid5(command.id, f"back {machine}"),
                meeting_id=meeting.id,
                machine_id=machine,
                kind=EventKind.HANDED_BACK.value,
                person_id=who.id,
                operation="",
                words="",
                at=w.now,
            )
        )
    meeting.ended_at, meeting.ended_by, meeting.open_slot = w.now, who.id, None
    w.db.flush()
