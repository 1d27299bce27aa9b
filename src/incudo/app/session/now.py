"""The session that is open: who supervises, who is here, what its machines do."""

from __future__ import annotations

import uuid
from datetime import timedelta

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Named
from incudo.app.people.names import names_of
from incudo.app.session.views import Presence, SessionMachine
from incudo.app.shop.events import event_of
from incudo.app.shop.machines import machine_names, machines_here
from incudo.app.shop.tags import closed_words
from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.say import say
from incudo.core.session.at_machine import AtMachine, fold
from incudo.store import schema as t
from incudo.store.session import sessions as store


def the_session(w: Work) -> t.Meeting:
    """The session that is open. Raises ``Conflict`` when there is none."""
    meeting = store.open_meeting(w.db)
    if meeting is None:
        raise Conflict(say("No session is open."))
    return meeting


def one_after_the_other(w: Work) -> None:
    """From here on nobody else changes what happens at the machines. Before anything is read, or it reads old facts."""
    store.lock_open_meeting(w.db)


def supervisors(w: Work, meeting: t.Meeting) -> tuple[Named, ...]:
    """Who supervises now: signed in to this session, and not too long ago."""
    on = store.supervisors(w.db, meeting.id)
    return tuple(Named(id=p, name=name) for p, (s, name) in on.items() if w.now - s.at < SUPERVISED)


def states_at_machines(w: Work, meeting: t.Meeting) -> dict[uuid.UUID, AtMachine]:
    """Every machine of the shop, folded from this session's events."""
    events = store.machine_events(w.db, meeting.id)
    return {m: fold(event_of(e) for e in events.get(m, [])) for m in map(uuid.UUID, machine_names(w))}


def machines_in(w: Work, meeting: t.Meeting) -> tuple[SessionMachine, ...]:
    """Every machine of the shop as it stands in this session."""
    open_, states, closed = (
        store.open_machines(w.db, meeting.id),
        states_at_machines(w, meeting),
        closed_words(w),
    )
    people = {uuid.UUID(p) for s in states.values() for p in s.people}
    names = names_of(w, people)
    return tuple(
        SessionMachine(
            machine=Named(id=uuid.UUID(m), name=name),
            open=uuid.UUID(m) in open_,
            tagged_out=closed.get(uuid.UUID(m), ""),
            people=tuple(Named(id=uuid.UUID(p), name=names[uuid.UUID(p)]) for p in states[uuid.UUID(m)].people),
            handles=uuid.UUID(states[uuid.UUID(m)].handles) if states[uuid.UUID(m)].handles else None,
            running=states[uuid.UUID(m)].run is not None,
            handed_back=states[uuid.UUID(m)].handed_back,
        )
        for m, name in machines_here(w).items()
    )


def is_present(w: Work, meeting: t.Meeting, person: uuid.UUID) -> bool:
    """Whether somebody is on the roll of a session as here."""
    row = store.roll(w.db, meeting.id).get(person)
    return row is not None and Presence(row.presence).present


#: A supervisor's sign-in to a session ends after so long, so that a forgotten session opens nothing.
SUPERVISED = timedelta(hours=12)
