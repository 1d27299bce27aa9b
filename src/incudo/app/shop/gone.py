"""What has left the shop: machines, gauges, workholding, cutters and materials, sold, scrapped or entered twice.

Nothing is deleted: what was made, measured and signed on them still names them, and they can come back.
"""

from __future__ import annotations

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Who, Work, find_locked, insert_once
from incudo.app.kernel.views import Command, Named, View
from incudo.app.shop.tooling import material_id
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.say import say, together
from incudo.store import schema as t
from incudo.store.session import sessions
from incudo.store.shop import crib, instruments, machines
from incudo.store.shop import shop as store

#: So many changes are shown, the newest first.
MOST = 60
_LEAST_REASON = 3


class Thing(StrEnum):
    """What can leave the shop."""

    MACHINE = "machine"
    GAUGE = "gauge"
    HOLDING = "holding"
    CUTTER = "cutter"
    MATERIAL = "material"


Leaver = t.Machine | t.Instrument | t.Workholding | t.Cutter | t.Material
_TABLES: dict[Thing, type[Leaver]] = {
    Thing.MACHINE: t.Machine,
    Thing.GAUGE: t.Instrument,
    Thing.HOLDING: t.Workholding,
    Thing.CUTTER: t.Cutter,
    Thing.MATERIAL: t.Material,
}


class GoneCommand(Command):
    """Something has left the shop, and why, or is back; ``why`` is empty then."""

    id: uuid.UUID
    thing: Thing
    key: uuid.UUID
    gone: bool
    why: Annotated[str, StringConstraints(max_length=200, strip_whitespace=True)] = ""


class GoneThing(View):
    """Something that is not here any more."""

    thing: Thing
    what: Named
    why: str


class ShopActView(View):
    """What somebody changed of the shop."""

    at: datetime
    by: str
    words: str


class GoneList(View):
    """What has left, and the last changes of the shop."""

    gone: tuple[GoneThing, ...]
    acts: tuple[ShopActView, ...]


def gone_list(w: Work) -> GoneList:
    """What has left the shop, by kind and name, and the last changes of the shop."""
    rows: list[tuple[Thing, Leaver]] = [
        *((Thing.MACHINE, m) for m in machines.machines(w.db, also_gone=True)),
        *((Thing.GAUGE, i) for i in instruments.instruments(w.db, also_gone=True)),
        *((Thing.HOLDING, h) for h in machines.workholding(w.db, also_gone=True)),
        *((Thing.CUTTER, c) for c in crib.cutters(w.db, also_gone=True)),
        *((Thing.MATERIAL, m) for m in crib.materials(w.db, also_gone=True)),
    ]
    return GoneList(
        gone=tuple(
            GoneThing(thing=thing, what=Named(id=_id(row), name=row.name), why=row.gone)
            for thing, row in rows
            if row.gone
        ),
        acts=tuple(ShopActView(at=a.at, by=by, words=a.words) for a, by in store.acts(w.db, MOST)),
    )


def _id(row: Leaver) -> uuid.UUID:
    return material_id(row.key) if isinstance(row, t.Material) else row.id


def gone_change(w: Work, who: Who, command: GoneCommand) -> GoneList:
    """Take something out of the shop or back in. Sent again, it changes nothing.

    Raises ``NotFound``; ``Refused`` without a reason; ``Conflict`` for a machine that is open in a session, a gauge or
    a cutter that somebody has, and for an id that was used for something else.
    """
    thing, key = command.thing, command.key
    if command.gone and len(command.why) < _LEAST_REASON:
        raise Refused.of("why", command.why, say("must say why, in at least {least} characters", least=_LEAST_REASON))
    # locked before anything is read: a session that opens the machine, or a counter that hands the gauge out, waits
    meeting = sessions.lock_open_meeting(w.db) if thing is Thing.MACHINE else None
    row = find_locked(w, _TABLES[thing], _kept_as(w, thing, key), thing.value)
    act = t.ShopAct(
        id=command.id,
        thing=thing.value,
        thing_id=key,
        by_id=who.id,
        words=say("{name} was removed from the shop: {why}", name=row.name, why=command.why)
        if command.gone
        else say("{name} is back in the shop.", name=row.name),
        at=w.now,
    )
    if w.db.get(t.ShopAct, command.id) is None:
        if command.gone == bool(row.gone):
            return gone_list(w)  # somebody else was quicker, or nothing was to be done
        if command.gone and meeting is not None and key in sessions.open_machines(w.db, meeting.id):
            raise Conflict(say("{name} is open in the session: close it there first.", name=row.name))
        if command.gone and thing in (Thing.GAUGE, Thing.CUTTER) and (out := crib.out_with(w.db, key)):
            raise Conflict(
                say("{name} is out with {who}: it has to come back first.", name=row.name, who=together(out, ", "))
            )
        row.gone = command.why if command.gone else ""
    insert_once(w, act, ignoring=("at",))
    w.db.flush()
    w.memo.pop("cutters", None)
    return gone_list(w)


def _kept_as(w: Work, thing: Thing, key: uuid.UUID) -> uuid.UUID | str:
    """By what its row is found."""
    if thing is not Thing.MATERIAL:
        return key
    return next((m.key for m in crib.materials(w.db, also_gone=True) if material_id(m.key) == key), "")


def note_change(w: Work, who: Who, words: str) -> None:
    """Keep that somebody changed how the shop works, with what was before."""
    w.db.add(t.ShopAct(id=uuid.uuid4(), thing="settings", thing_id=None, by_id=who.id, words=words, at=w.now))
