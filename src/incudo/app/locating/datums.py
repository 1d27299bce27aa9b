"""The datum record of a job card, and the dial readings that follow from it."""

from __future__ import annotations

import json
from datetime import timedelta
from fractions import Fraction
from typing import Any

from incudo.app.kernel.unit import Work, find
from incudo.app.locating.moves import dials, handle_of, move_line
from incudo.app.locating.views import (
    DatumView,
    PlanAxis,
    PlanLine,
)
from incudo.app.parts.attempts import AttemptFile
from incudo.app.setup.standards import setup_rules
from incudo.app.shop.machines import spec_of
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say, together
from incudo.core.locating import found as core
from incudo.core.locating.datum import Datum, Line, Scale, lines_from, shown, way_words
from incudo.core.locating.dial import Dial
from incudo.core.locating.places import PartAxis, extents
from incudo.core.parts.project import Project
from incudo.core.shop.machine import READOUT_OF, Axis, Machine
from incudo.store import schema as t
from incudo.store.locating import found as store
from incudo.store.setup import setups as setup_store

OF = {Axis.X: PartAxis.X, Axis.Y: PartAxis.Y, Axis.KNEE: PartAxis.Z, Axis.QUILL: PartAxis.Z}


class Bench:
    """A job card at its machine: the part, the handles, and how each is read."""

    def __init__(self, w: Work, file: AttemptFile) -> None:
        if file.assignment.machine_id is None:
            raise Refused.of("machine", "", say("the job card has no machine yet: ask the instructor"))
        self.row = find(w, t.Machine, file.assignment.machine_id, "machine")
        self.spec: Machine = spec_of(self.row)
        self.dials: tuple[Dial, ...] = dials(w, self.row)
        self.project: Project = file.project
        self.span = extents(file.project)

    def reader(self, handle: int, scale: Scale, axes: tuple[Axis, ...]) -> core.Reader:
        """How an axis is read. Raises ``Refused`` for a handle of another axis or a readout that is not there."""
        axis = handle_of(self.spec, handle).axis
        if axis not in axes:
            raise Refused.of(
                "handle",
                handle,
                say("must move {listed}; this one moves {axis}", listed=together(axes, " or "), axis=axis),
            )
        dial = self.dials[handle]
        if scale is Scale.DIAL:
            return core.Reader(axis, dial, scale, dial.division, dial.unit)
        if READOUT_OF[axis] not in self.spec.readout:
            raise Refused.of(
                "scale", scale, say("must be dial: {name} has no readout for this axis", name=self.row.name)
            )
        return core.Reader(axis, dial, scale, READOUT_STEP, self.spec.unit)

    def length(self, text: str, field: str) -> Fraction:
        """A length in the part's unit."""
        return Length.parse(text, self.project.unit, field).mm


def kept_of(d: Datum, handle: int) -> dict[str, object]:
    """What is kept of a datum found with this handle, as JSON."""
    return {
        "axis": d.axis,
        "scale": d.scale,
        "part": str(d.part),
        "shows": str(d.shows),
        "side": d.side,
        "handle": handle,
    }


def _datum_of(kept: dict[str, Any]) -> tuple[Datum, int]:
    d = Datum(
        Axis(kept["axis"]),
        Scale(kept["scale"]),
        Fraction(kept["part"]),
        Fraction(kept["shows"]),
        int(kept["side"]),
    )
    return d, int(kept["handle"])


def _unit_of(b: Bench, d: Datum, handle: int) -> Unit:
    return b.dials[handle].unit if d.scale is Scale.DIAL else b.spec.unit


def datum_words(b: Bench, d: Datum, handle: int) -> str:
    """Where zero is and what the scale shows there, in words."""
    u, scale_unit = b.project.unit, _unit_of(b, d, handle)
    shows = f"{shown(d.shows, scale_unit)} {scale_unit}"
    return say(
        "over {of} {part} {u} the {scale} shows {shows}",
        of=OF[d.axis].upper(),
        part=shown(d.part, u),
        u=u,
        scale=d.scale,
        shows=shows,
    )


def datums_of(w: Work, file: AttemptFile) -> tuple[DatumView, ...]:
    """The datum record of a job card; empty without a machine."""
    rows = store.found(w.db, file.assignment.id) if file.assignment.machine_id else []
    if not rows:
        return ()
    b = Bench(w, file)
    return datum_views(w, file, b, newest_of(rows, b))


def newest_of(rows: list[tuple[t.Found, str]], b: Bench) -> dict[PartAxis, tuple[Datum, int, t.Found, str]]:
    """The newest datum of each axis that was found on this card's machine."""
    newest: dict[PartAxis, tuple[Datum, int, t.Found, str]] = {}
    for row, by in rows:
        if row.machine_id == b.row.id:
            for kept in json.loads(row.datums):
                d, handle = _datum_of(kept)
                if handle in range(len(b.dials)):
                    newest.setdefault(OF[d.axis], (d, handle, row, by))
    return newest


def plan_axis(b: Bench, axis: PartAxis, d: Datum, handle: int, wanted: list[tuple[str, str, Fraction]]) -> PlanAxis:
    """Every place to go to along one axis, with what handle and scale show there."""
    dial, u = b.dials[handle], b.project.unit
    # a readout's coordinate is at no ring: a dial set to zero over the datum is reckoned beside it
    ring = d if d.scale is Scale.DIAL else Datum(d.axis, Scale.DIAL, d.part, Fraction(0), d.side)
    by_place: dict[Fraction, Line] = {x.place: x for x in lines_from(dial, ring, {at for _, _, at in wanted})}
    order = sorted(wanted, key=lambda p: d.side * p[2])
    lines = []
    for name, note, at in order:
        line = by_place.get(at) or next(x for x in by_place.values() if x.settable == dial.nearest(at, ring.zero(dial)))
        readout = f"{shown(d.coordinate(at), b.spec.unit)} {b.spec.unit}" if d.scale is Scale.READOUT else ""
        move = move_line(d.axis, dial, line, u, readout)
        lines.append(PlanLine(name=name, note=note, move=move))
    h = handle_of(b.spec, handle)
    return PlanAxis(
        axis=axis,
        handle=say("{axis} handle, {place}", axis=h.axis, place=h.place)
        if axis is PartAxis.Z
        else say("handle, {place}", place=h.place),
        side=say("turning {turning}: {way_words}", turning=dial.turning(d.side), way_words=way_words(d.axis, d.side)),
        scale=d.scale,
        lines=tuple(lines),
    )


def datum_views(
    w: Work, file: AttemptFile, b: Bench, newest: dict[PartAxis, tuple[Datum, int, t.Found, str]]
) -> tuple[DatumView, ...]:
    """Datums with whether they still stand: not after the vise was moved, the work held anew, or hours went by."""
    if not newest:
        return ()
    rules, since = setup_rules(w), min(row.at for _, _, row, _ in newest.values())
    moved = [(m.at, m.words) for m in setup_store.moves(w.db, [b.row.id], since) if m.kind == "vise"]
    held = [e.at for _, e, _ in setup_store.holds_for(w.db, file.assignment.id)]
    found = []
    for axis in PartAxis:
        if axis not in newest:
            continue
        d, handle, row, by = newest[axis]
        reason = next((say("the vise was moved since: {words}", words=words) for at, words in moved if at > row.at), "")
        if any(at > row.at for at in held):
            reason = reason or say("the work was clamped again since")
        if w.now - row.at > timedelta(hours=rules.hours):
            reason = reason or say("older than the {hours} hours that the shop allows", hours=rules.hours)
        if rules.same_person and row.person_id != file.student.id:
            reason = reason or say("found by another person: touch it again yourself")
        found.append(
            DatumView(
                axis=axis,
                scale=d.scale,
                part=float(d.part),
                words=datum_words(b, d, handle),
                by=by,
                at=row.at,
                stands=not reason,
                reason=reason or say("found today, nothing moved since"),
            )
        )
    return tuple(found)


#: The least step that a readout is taken to show where the register does not say.
READOUT_STEP = Fraction(1, 200)
