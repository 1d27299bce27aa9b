"""The shop for a wall: who is where, what runs, who waits. No failure, no withdrawal, no verdict, no reason."""

from __future__ import annotations

import uuid
from datetime import datetime

from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import View
from incudo.app.people.names import names_of
from incudo.app.session.floor import SessionNow, session_now
from incudo.app.session.line import line_of
from incudo.app.session.shopfloor import device_of, runs_now, shop_now
from incudo.app.shop.devices import known_device
from incudo.app.skills.graph import skill_graph
from incudo.core.kernel.say import say
from incudo.core.session.at_machine import AtMachine
from incudo.core.session.calls import CallKind
from incudo.core.session.plate import PlateState, alarms, plate_state
from incudo.core.shop.device import Purpose
from incudo.store import schema as t
from incudo.store.parts import attempts
from incudo.store.shop import machines

#: What somebody waits for, as everybody may read it.
WAITS_FOR = {
    "plan": say("plan"),
    CallKind.START.value: say("wants to start"),
    CallKind.HOLD.value: say("hold point"),
    CallKind.SHOW.value: say("a skill to show"),
    CallKind.HELP.value: say("calls"),
    "check": say("a part to measure"),
    "sign": say("a skill to sign"),
}


class WallMachine(View):
    """A machine from far away: who is at it, the one at the handles first, what runs and since when."""

    name: str
    state: PlateState
    people: tuple[str, ...]
    operation: str
    since: datetime | None


class WallWaiting(View):
    """Somebody who waits for an instructor."""

    student: str
    what: str
    machine: str
    since: datetime


class Wall(View):
    """What hangs on the wall. ``stopped``: all machines are."""

    shop: str
    session: SessionNow | None
    stopped: bool
    machines: tuple[WallMachine, ...]
    line: tuple[WallWaiting, ...]
    as_of: datetime


def let_in(w: Work, key: str) -> None:
    """Raises ``UnknownDevice`` unless this is the key of a wall."""
    known_device(w, key, Purpose.WALL)


def wall(w: Work) -> Wall:
    """The shop as everybody in it may see it."""
    shop = shop_now(w)
    runs = runs_now(w, shop)
    at = {uuid.UUID(p) for s in shop.states.values() for p in s.people}
    names = names_of(w, at | {uuid.UUID(s.run.person) for s in shop.states.values() if s.run})
    graph = skill_graph(w)
    found = []
    for m in machines.machines(w.db):
        state, device, decision = shop.states.get(m.id, AtMachine()), device_of(w, m.id), runs.get(m.id)
        turning = device is not None and device.spindle
        tagged = m.id in shop.closed
        unclear = alarms(still_may=decision.starts if decision else None, spindle=turning, tagged_out=tagged)
        people = sorted(state.people, key=lambda p: p != state.handles)
        found.append(
            WallMachine(
                name=m.name,
                state=plate_state(
                    tagged_out=tagged,
                    alarm=unclear,
                    spindle=turning,
                    started=state.run is not None,
                    people=bool(people),
                    open_=m.id in shop.open,
                ),
                people=tuple(names[uuid.UUID(p)] for p in people),
                operation=graph.get(state.run.operation).name if state.run and not unclear else "",
                since=state.run.since if state.run and not unclear else None,
            )
        )
    waiting = line_of(w, attempts.waiting_parts(w.db), shop.names)
    return Wall(
        shop=find(w, t.Shop, 1, "shop").name,
        session=session_now(w, shop),
        stopped=bool(shop.stopped),
        machines=tuple(found),
        line=tuple(
            WallWaiting(
                student=x.student.name,
                what=WAITS_FOR[x.kind],
                machine=x.machine.name if x.machine else "",
                since=x.since,
            )
            for x in waiting
        ),
        as_of=w.now,
    )
