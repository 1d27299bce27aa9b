"""Entering a gauge: like one of its kind, with its own number and the day of its next check."""

from __future__ import annotations

import uuid
from datetime import date
from typing import Annotated

from pydantic import StringConstraints

from incudo import shipped
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.names import alike
from incudo.core.kernel.say import say, together
from incudo.core.measuring.kinds import GaugeEntry
from incudo.store import schema as t
from incudo.store.shop import instruments as store


class GaugeKindView(View):
    """A kind with its usual entry; ``threads``: it is for one thread (``thread``); ``own``: one of the shop's."""

    id: str
    name: str
    entry: GaugeEntry
    threads: bool
    thread: str = ""
    own: bool = False


class GaugeKinds(View):
    """All kinds, and the threads that a gauge can be for."""

    kinds: tuple[GaugeKindView, ...]
    threads: tuple[str, ...]


class GaugeCommand(Command):
    """A gauge with its own name or number. ``thread`` is empty but for a thread gauge."""

    id: uuid.UUID
    name: Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)]
    entry: GaugeEntry
    thread: Annotated[str, StringConstraints(max_length=40, strip_whitespace=True)]
    due: date


class GaugeAdded(View):
    """It is in the register."""

    id: uuid.UUID
    name: str


def gauge_kinds(w: Work) -> GaugeKinds:
    """The shipped kinds, and the shop's own gauges as kinds: another one like it has its numbers, not its error."""
    kinds = [
        GaugeKindView(id=k.id, name=k.name, entry=GaugeEntry(**k.model_dump(exclude={"id", "name"})), threads=k.threads)
        for k in shipped.gauge_kinds()
    ]
    columns = set(GaugeEntry.model_fields)
    for row in store.instruments(w.db):
        entry = GaugeEntry.model_validate({c: getattr(row, c) for c in columns})
        name = say("Another like {name}", name=row.name)
        kinds.append(
            GaugeKindView(id=str(row.id), name=name, entry=entry, threads=bool(row.thread), thread=row.thread, own=True)
        )
    return GaugeKinds(kinds=tuple(kinds), threads=tuple(shipped.threads()))


def add_gauge(w: Work, command: GaugeCommand) -> GaugeAdded:
    """A gauge in the register. Sent again, it adds nothing.

    Raises ``Refused`` for a name that is taken, a kind that is not known, a day that is past and a thread that is
    missing or not wanted; ``Conflict`` for an id that another gauge has.
    """
    e = command.entry
    kinds = {k.kind: k for k in shipped.gauge_kinds()}
    if e.kind not in kinds:
        raise Refused.of("entry.kind", e.kind, say("must be one of: {known}", known=together(kinds, ", ")))
    if kinds[e.kind].threads and command.thread not in shipped.threads():
        raise Refused.of("thread", command.thread, say("must be a thread of the shop's table"))
    if not kinds[e.kind].threads and command.thread:
        raise Refused.of("thread", command.thread, say("is for thread gauges"))
    there = w.db.get(t.Instrument, command.id)
    if there is not None:
        if there.name != command.name:
            raise Conflict(say("This id was used before, when {key} was different.", key="name"))
        return GaugeAdded(id=there.id, name=there.name)
    if any(alike(i.name) == alike(command.name) for i in store.instruments(w.db, also_gone=True)):
        raise Refused.of("name", command.name, say("is another gauge's name"))
    if command.due < w.today:
        raise Refused.of("due", command.due, say("must not be past: a gauge whose check is due decides nothing"))
    w.db.add(
        t.Instrument(
            id=command.id,
            name=command.name,
            kind=e.kind,
            unit=e.unit,
            least=e.least,
            most=e.most,
            resolution=e.resolution,
            uncertainty=e.uncertainty,
            zero_error="0",
            due=command.due,
            thread=command.thread,
        )
    )
    w.db.flush()
    return GaugeAdded(id=command.id, name=command.name)
