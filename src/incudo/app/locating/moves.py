"""Moves at a machine's handles: turns, divisions, what the dial shows; and measuring a handle's backlash."""

from __future__ import annotations

import json
import uuid
from dataclasses import replace
from datetime import datetime
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, StepView, View
from incudo.app.shop.machines import spec_of
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, LengthUnit, Unit
from incudo.core.kernel.say import say
from incudo.core.locating.backlash import Backlash, Measurement, confirmed, measure
from incudo.core.locating.datum import (
    Datum,
    Line,
    Scale,
    counted,
    divisions_words,
    goes,
    leg_words,
    lines_from,
    move_steps,
    rounding_words,
    shown,
    shown_from,
    way_words,
)
from incudo.core.locating.dial import Dial, Leg, Turning
from incudo.core.people.roles import Role
from incudo.core.shop.machine import READOUT_OF, Axis, Handle, Machine, Way
from incudo.store import schema as t
from incudo.store.locating import found as store

Number = Annotated[str, Field(min_length=1, max_length=20)]
Numbers = tuple[Number, ...]


class HandleView(View):
    """A handle with its dial as it stands today. ``clockwise`` is what is seen when it is turned so.

    ``marks`` are the numbers at every tenth of the ring.
    """

    index: int
    axis: Axis
    place: str
    unit: LengthUnit
    per_turn: str
    graduations: int
    division: str
    lost: str
    lost_words: str
    clockwise: str
    grows: Turning
    dial_up: Turning
    marks: tuple[str, ...]
    readout: bool


class LostPoint(View):
    """One measurement of backlash, in mm for the plot; one that is not confirmed is a proposal that nothing uses."""

    at: datetime
    by: str
    handle: str
    axis: Axis
    middle: float
    end: float | None
    words: str
    confirmed: bool


class MovesPage(View):
    """A machine's handles, and how their backlash grew."""

    machine: Named
    unit: LengthUnit
    handles: tuple[HandleView, ...]
    wear: str
    history: tuple[LostPoint, ...]


class MovesQuestion(Command):
    """From ``start`` to every place, each come to in the sense ``side``; ``last`` is the turning before.

    Places are in the drawing's ``unit``; ``dial`` is what the dial shows at the start, in the dial's own.
    """

    handle: Annotated[int, Field(ge=0, le=9)]
    unit: LengthUnit
    start: Number = "0"
    places: Annotated[Numbers, Field(min_length=1, max_length=40)]
    side: Literal[1, -1] = 1
    last: Literal[1, -1] = 1
    dial: Number = "0"


class LegView(View):
    """One turning without a stop: for the words and for the picture."""

    turning: Turning
    turns: int
    divisions: str
    takes_up: bool
    way: Way
    at: float
    words: tuple[str, ...]


class MoveLine(View):
    """One place: how to come there, and what dial and readout show."""

    place: str
    reading: str
    coordinate: str
    rounding: str
    legs: tuple[LegView, ...]


class MovesAnswer(View):
    """Places in the order in which each is approached from the same side."""

    lines: tuple[MoveLine, ...]
    side: str
    working: tuple[StepView, ...]


class BacklashCommand(Command):
    """Readings of the dial when the table first moved again after a reversal, the dial zeroed before.

    ``numbers`` says whether the dial's numbers rose or fell while the handle was turned back.
    """

    id: uuid.UUID
    handle: Annotated[int, Field(ge=0, le=9)]
    numbers: Literal["rise", "fall"]
    middle: Annotated[Numbers, Field(min_length=1, max_length=9)]
    end: Annotated[Numbers, Field(max_length=9)] = ()


def handle_of(spec: Machine, index: int) -> Handle:
    """One of a machine's handles. Raises ``Refused``."""
    if index >= len(spec.handles):
        raise Refused.of("handle", index, say("must be at most {count}", count=len(spec.handles) - 1))
    return spec.handles[index]


def dials(w: Work, row: t.Machine) -> tuple[Dial, ...]:
    """The dials of a machine's handles, each with its newest measured backlash, else what the register says."""
    spec = spec_of(row)
    found = [Dial.of(h) for h in spec.handles]
    for i, h in enumerate(spec.handles):
        for m, _, stands in _measured(w, row, h):
            if stands and (h.measured is None or w.day(m.at) >= h.measured):
                found[i] = replace(found[i], backlash=min(_lost(m).taken, found[i].turn))
    return tuple(found)


def _measured(w: Work, row: t.Machine, handle: Handle) -> list[tuple[t.MeasuredBacklash, str, bool]]:
    """The measurements of a handle, oldest first: by whom, and whether each is confirmed."""
    if "measured" not in w.memo:
        w.memo["measured"] = {}
    kept: dict[uuid.UUID, list[tuple[t.MeasuredBacklash, t.Person]]] = w.memo["measured"]
    if row.id not in kept:
        kept[row.id] = store.backlash(w.db, row.id)
    mine = [(m, by) for m, by in kept[row.id] if (handle.axis, handle.place) == (m.axis, m.handle)]
    each = [Measurement(str(by.id), Role(by.role) is not Role.STUDENT, _lost(m)) for m, by in mine]
    stand = confirmed(Dial.of(handle), each)
    return [(m, by.name, ok) for (m, by), ok in zip(mine, stand, strict=True)]


def _readings(texts: Numbers, unit: Unit, field: str) -> list[Fraction]:
    return [Length.parse(x, unit, field).mm for x in texts]


def _lost(row: t.MeasuredBacklash) -> Backlash:
    """As it was measured then; the handle's entry may have changed since."""
    kept = json.loads(row.content)
    return Backlash(Fraction(kept["middle_mm"]), Fraction(kept["end_mm"]) if kept["end_mm"] else None)


def moves_page(w: Work, machine_id: uuid.UUID) -> MovesPage:
    """A machine's handles."""
    row = find(w, t.Machine, machine_id, "machine")
    spec = spec_of(row)
    history = []
    for h in spec.handles:
        for m, by, stands in _measured(w, row, h):
            lost = _lost(m)
            history.append(
                LostPoint(
                    at=m.at,
                    by=by,
                    handle=m.handle,
                    axis=Axis(m.axis),
                    middle=float(lost.middle),
                    end=None if lost.end is None else float(lost.end),
                    words=lost.words(Dial.of(h)),
                    confirmed=stands,
                )
            )
    history.sort(key=lambda p: p.at)
    return MovesPage(
        machine=Named(id=row.id, name=row.name),
        unit=spec.unit,
        handles=handle_views(spec, dials(w, row)),
        wear=spec.wear,
        history=tuple(history),
    )


def handle_views(spec: Machine, found: tuple[Dial, ...]) -> tuple[HandleView, ...]:
    """Handles as they are shown."""
    views = []
    for i, (h, d) in enumerate(zip(spec.handles, found, strict=True)):
        lost = f"{shown(d.backlash, d.unit)} {d.unit}"
        views.append(
            HandleView(
                index=i,
                axis=h.axis,
                place=h.place,
                unit=h.unit,
                per_turn=h.per_turn,
                graduations=h.graduations,
                division=h.division,
                lost=lost,
                lost_words=say("backlash {lost}", lost=lost)
                if d.backlash
                else say("backlash not measured: measure it first"),
                clockwise=way_words(h.axis, 1 if d.grows is Turning.CLOCKWISE else -1),
                grows=d.grows,
                dial_up=d.dial_up,
                marks=tuple(shown(d.turn * n / 10, d.unit) for n in range(10)),
                readout=READOUT_OF[h.axis] in spec.readout,
            )
        )
    return tuple(views)


def leg_view(axis: Axis, dial: Dial, leg: Leg) -> LegView:
    """A leg as it is shown; ``at`` is the ring's place at its end, 0 to 1."""
    return LegView(
        turning=leg.turning,
        turns=leg.turns,
        divisions=divisions_words(leg.divisions),
        takes_up=leg.takes_up,
        way=goes(axis, 1 if leg.turning is dial.grows else -1),
        at=float(leg.reading / dial.turn),
        words=leg_words(axis, dial, leg),
    )


def moves_check(w: Work, machine_id: uuid.UUID, q: MovesQuestion) -> MovesAnswer:
    """How to come from place to place on this machine; keeps nothing."""
    row = find(w, t.Machine, machine_id, "machine")
    spec = spec_of(row)
    handle, dial = handle_of(spec, q.handle), dials(w, row)[q.handle]
    start = Length.parse(q.start, q.unit, "start").mm
    wanted = _readings(q.places, q.unit, "places")
    shows = Length.parse(q.dial, dial.unit, "dial").mm
    counted(dial, shows)
    datum = Datum(handle.axis, Scale.DIAL, start, shown_from(dial, shows, side=q.side, last=q.last), q.side)
    lines = lines_from(dial, datum, wanted, last=q.last)
    side = say(
        "Approach every place turning {turning}: {way_words}.",
        turning=dial.turning(q.side),
        way_words=way_words(handle.axis, q.side),
    )
    first = lines[0].settable - start
    return MovesAnswer(
        lines=tuple(move_line(handle.axis, dial, x, q.unit, f"{shown(x.place, spec.unit)} {spec.unit}") for x in lines),
        side=side,
        working=tuple(StepView.of(s) for s in move_steps(dial, first)),
    )


def move_line(axis: Axis, dial: Dial, x: Line, unit: Unit, coordinate: str) -> MoveLine:
    """A place of a list as it is shown; ``coordinate`` is what a readout shows there, with its unit."""
    return MoveLine(
        place=f"{shown(x.place, unit)} {unit}",
        reading=f"{shown(x.reading, dial.unit)} {dial.unit}",
        coordinate=coordinate,
        rounding=rounding_words(x, dial.unit),
        legs=tuple(leg_view(axis, dial, leg) for leg in x.legs),
    )


def keep_backlash(w: Work, who: Who, machine_id: uuid.UUID, command: BacklashCommand) -> MovesPage:
    """Keep a measurement; moves at this handle reckon with it as soon as it is confirmed (``backlash.confirmed``)."""
    row = find(w, t.Machine, machine_id, "machine")
    handle = handle_of(spec_of(row), command.handle)
    dial = Dial.of(handle)
    middle, end = (_readings(getattr(command, k), dial.unit, k) for k in ("middle", "end"))
    lost = measure(dial, middle, end, rising=command.numbers == "rise")
    content = {
        "numbers": command.numbers,
        "middle": command.middle,
        "end": command.end,
        "middle_mm": str(lost.middle),
        "end_mm": None if lost.end is None else str(lost.end),
    }
    saved = t.MeasuredBacklash(
        id=command.id,
        machine_id=row.id,
        axis=handle.axis.value,
        handle=handle.place,
        person_id=who.id,
        content=json.dumps(content),
        at=w.now,
    )
    insert_once(w, saved, ignoring=("at",))
    w.memo.pop("measured", None)
    return moves_page(w, machine_id)
