"""Closing a faulty machine, gauge or cutter, stopping all machines, and writing down what nearly happened."""

from __future__ import annotations

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, Note, Reason, View
from incudo.app.people.accounts import Pin
from incudo.app.register.chain import record
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.say import say
from incudo.store import schema as t
from incudo.store.shop import instruments, machines
from incudo.store.shop import tags as store

Words = Annotated[str, StringConstraints(max_length=200, strip_whitespace=True)]
What = Annotated[str, StringConstraints(min_length=10, max_length=1000, strip_whitespace=True)]


class TagCommand(Command):
    """Close a machine, an instrument or a cutter with a note; exactly one of the three is named."""

    id: uuid.UUID
    machine: uuid.UUID | None = None
    instrument: uuid.UUID | None = None
    cutter: uuid.UUID | None = None
    note: Reason


class ClearTagCommand(Command):
    """The fault is gone: what was done about it."""

    note: Reason
    pin: Pin


class TagView(View):
    """A tag that hangs."""

    id: uuid.UUID
    machine: uuid.UUID | None
    instrument: uuid.UUID | None
    what: str
    note: str
    by: str
    at: datetime


class StopView(View):
    """The stop that is in force."""

    at: datetime
    by: str
    reason: str


class TagList(View):
    """Every tag that hangs, the stop that is in force, and what a tag can be hung on."""

    tags: tuple[TagView, ...]
    stopped: StopView | None
    machines: tuple[Named, ...]
    instruments: tuple[Named, ...]


class StopCommand(Command):
    """Stop spindles and feeds of all machines."""

    id: uuid.UUID
    reason: Note = ""


class ClearStopCommand(Command):
    """It is safe again: what was done."""

    note: Reason
    pin: Pin


class IncidentKind(StrEnum):
    """What happened, or nearly did."""

    NEAR_MISS = "near_miss"
    INCIDENT = "incident"


class IncidentCommand(Command):
    """Something that happened or nearly happened. Without a name nobody is recorded."""

    id: uuid.UUID
    kind: IncidentKind
    what: What
    machine: uuid.UUID | None = None
    place: Words = ""
    witness: Words = ""
    done: Note = ""
    with_name: bool = True


def closed_words(w: Work) -> dict[uuid.UUID, str]:
    """Why a machine or an instrument is closed, by its id; the oldest open tag speaks."""
    if "closed" not in w.memo:
        words: dict[uuid.UUID, str] = {}
        for tag, by in store.open_tags(w.db):
            thing = tag.machine_id or tag.instrument_id or tag.cutter_id
            if thing:
                words.setdefault(thing, f"{tag.note} ({by})")
        w.memo["closed"] = words
    found: dict[uuid.UUID, str] = w.memo["closed"]
    return found


def _open_stop(w: Work) -> tuple[t.ShopStop, str] | None:
    """The stop in force, read once in a use case."""
    if "stop" not in w.memo:
        w.memo["stop"] = store.open_stop(w.db)
    found: tuple[t.ShopStop, str] | None = w.memo["stop"]
    return found


def stop_words(w: Work) -> str:
    """Why all machines are stopped; empty when they are not."""
    found = _open_stop(w)
    if found is None:
        return ""
    stop, by = found
    if stop.reason:
        return say("All machines are stopped by {by}: {reason}", by=by, reason=stop.reason)
    return say("All machines are stopped by {by}.", by=by)


def stop_view(w: Work) -> StopView | None:
    """The stop of all machines that is in force."""
    stop = _open_stop(w)
    return StopView(at=stop[0].at, by=stop[1], reason=stop[0].reason) if stop else None


def tag_list(w: Work) -> TagList:
    """Every tag that hangs, and the stop that is in force."""
    return TagList(
        tags=tuple(_tag_view(w, tag, by) for tag, by in store.open_tags(w.db)),
        stopped=stop_view(w),
        machines=tuple(Named(id=m.id, name=m.name) for m in machines.machines(w.db)),
        instruments=tuple(Named(id=i.id, name=i.name) for i in instruments.instruments(w.db)),
    )


def _tag_view(w: Work, tag: t.Tag, by: str) -> TagView:
    if tag.machine_id:
        what = find(w, t.Machine, tag.machine_id, "machine").name
    elif tag.instrument_id:
        what = find(w, t.Instrument, tag.instrument_id, "instrument").name
    else:
        what = find(w, t.Cutter, tag.cutter_id, "cutter").name
    return TagView(
        id=tag.id,
        machine=tag.machine_id,
        instrument=tag.instrument_id,
        what=what,
        note=tag.note,
        by=by,
        at=tag.at,
    )


def tag_out(w: Work, who: Who, command: TagCommand) -> TagList:
    """Anyone closes a faulty machine, gauge or cutter; at once, for everybody."""
    if sum(x is not None for x in (command.machine, command.instrument, command.cutter)) != 1:
        raise Refused.of("machine", command.machine, say("name a machine, an instrument or a cutter, only one"))
    if command.machine:
        find(w, t.Machine, command.machine, "machine")
    if command.instrument:
        find(w, t.Instrument, command.instrument, "instrument")
    if command.cutter:
        find(w, t.Cutter, command.cutter, "cutter")
    row = t.Tag(
        id=command.id,
        machine_id=command.machine,
        instrument_id=command.instrument,
        cutter_id=command.cutter,
        person_id=who.id,
        note=command.note,
        at=w.now,
    )
    if insert_once(w, row, ignoring=("at",)):
        record(w, row)
    return tag_list(w)


def clear_tag(w: Work, who: Who, tag_id: uuid.UUID, command: ClearTagCommand) -> TagList:
    """An instructor has seen that the fault is gone."""
    find(w, t.Tag, tag_id, "tag")
    cleared = w.db.get(t.TagCleared, tag_id)
    if cleared is not None:
        if (cleared.person_id, cleared.note) == (who.id, command.note):
            return tag_list(w)  # sent again
        raise Conflict(say("This tag is cleared already."))
    row = t.TagCleared(tag_id=tag_id, person_id=who.id, note=command.note, at=w.now)
    w.db.add(row)
    w.db.flush()
    record(w, row)
    return tag_list(w)


def stop_all(w: Work, who: Who, command: StopCommand) -> TagList:
    """An instructor stops spindles and feeds of all machines; one touch, no PIN."""
    row = t.ShopStop(id=command.id, person_id=who.id, reason=command.reason, at=w.now)
    if insert_once(w, row, ignoring=("at",)):
        record(w, row)
    return tag_list(w)


def clear_stop(w: Work, who: Who, command: ClearStopCommand) -> TagList:
    """Lift the stop of all machines. Nothing starts by itself: each start is asked for anew."""
    stops = store.open_stops(w.db)
    if not stops:
        raise Conflict(say("No stop is in force."))
    for stop in stops:
        row = t.ShopStopCleared(stop_id=stop.id, person_id=who.id, note=command.note, at=w.now)
        w.db.add(row)
        w.db.flush()
        record(w, row)
    return tag_list(w)


def report_incident(w: Work, who: Who, command: IncidentCommand) -> Named:
    """Write down an incident or a near miss. Anyone can; a near miss also without a name."""
    if not command.with_name and command.kind is not IncidentKind.NEAR_MISS:
        raise Refused.of("with_name", "false", say("only a near miss can be reported without a name"))
    if command.machine:
        find(w, t.Machine, command.machine, "machine")
    row = t.Incident(
        id=command.id,
        kind=command.kind.value,
        person_id=who.id if command.with_name else None,
        machine_id=command.machine,
        what=command.what,
        place=command.place,
        witness=command.witness,
        done=command.done,
        at=w.now,
    )
    if insert_once(w, row, ignoring=("at",)):
        record(w, row)
    return Named(id=row.id, name=command.kind.value)
