"""Finding the places of a job card's part: what touches tell, the datum record, and the dial readings that follow."""

from __future__ import annotations

import json
import uuid
from dataclasses import replace
from datetime import timedelta
from fractions import Fraction
from typing import Any

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named, StepView
from incudo.app.locating.moves import dials, handle_of, handle_views, move_line
from incudo.app.locating.views import (
    ClearanceView,
    DatumView,
    DepthFind,
    EdgeFind,
    FaceView,
    FeatureView,
    Find,
    FindAnswer,
    FinderView,
    FindPage,
    FindQuestion,
    FlatFind,
    FoundLine,
    KeepFind,
    MiddleFind,
    OutlineView,
    PlanAxis,
    PlanLine,
    RoundFind,
)
from incudo.app.parts.attempts import AttemptFile, own_attempt, station_machine
from incudo.app.setup.standards import setup_rules
from incudo.app.shop.machines import spec_of
from incudo.core.kernel.errors import NotPermitted, Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.locating import found as core
from incudo.core.locating.centre import Sweep, agreement
from incudo.core.locating.datum import Datum, Line, Scale, lines_from, shown, way_words
from incudo.core.locating.dial import Dial
from incudo.core.locating.finders import COMES, FACE_WORDS, FINDERS, Face, Finder, face_at
from incudo.core.locating.places import PartAxis, extents, places, round_at
from incudo.core.parts.project import Hole, Project, RoundBar
from incudo.core.shop.machine import Axis, Machine
from incudo.core.skills.permission import Role
from incudo.store import schema as t
from incudo.store.locating import found as store
from incudo.store.setup import setups as setup_store

#: The least step that a readout is taken to show where the register does not say.
_READOUT_STEP = Fraction(1, 200)
#: The cutter that walls are reckoned with until another is given.
_CUTTER = {Unit.INCH: "0.500", Unit.MM: "12"}
_OF = {Axis.X: PartAxis.X, Axis.Y: PartAxis.Y, Axis.KNEE: PartAxis.Z, Axis.QUILL: PartAxis.Z}
_READOUT = {Axis.X: "x", Axis.Y: "y", Axis.KNEE: "z", Axis.QUILL: "z"}


class _Bench:
    """A job card at its machine: the part, the handles, and how each is read."""

    def __init__(self, w: Work, file: AttemptFile) -> None:
        if file.assignment.machine_id is None:
            raise Refused.of("machine", "", "the job card has no machine yet: ask the instructor")
        self.row = find(w, t.Machine, file.assignment.machine_id, "machine")
        self.spec: Machine = spec_of(self.row)
        self.dials: tuple[Dial, ...] = dials(w, self.row)
        self.project: Project = file.project
        self.span = extents(file.project)

    def reader(self, handle: int, scale: Scale, axes: tuple[Axis, ...]) -> core.Reader:
        """How an axis is read. Raises ``Refused`` for a handle of another axis or a readout that is not there."""
        axis = handle_of(self.spec, handle).axis
        if axis not in axes:
            raise Refused.of("handle", handle, f"must move {' or '.join(axes)}; this one moves {axis}")
        dial = self.dials[handle]
        if scale is Scale.DIAL:
            return core.Reader(axis, dial, scale, dial.division, dial.unit)
        if _READOUT[axis] not in self.spec.readout:
            raise Refused.of("scale", scale, f"must be dial: {self.row.name} has no readout for this axis")
        return core.Reader(axis, dial, scale, _READOUT_STEP, self.spec.unit)

    def length(self, text: str, field: str) -> Fraction:
        """A length in the part's unit."""
        return Length.parse(text, self.project.unit, field).mm


def _finder(name: str) -> Finder:
    if name not in FINDERS:
        raise Refused.of("finder", name, f"must be one of: {', '.join(FINDERS)}")
    return FINDERS[name]


def _read(texts: tuple[str, ...], unit: Unit, field: str) -> tuple[Fraction, ...]:
    return tuple(Length.parse(x, unit, field).mm for x in texts)


# ── what touches tell ─────────────────────────────────────────────────────


def _work_out(b: _Bench, q: Find) -> tuple[core.Found, bool | None]:
    match q:
        case EdgeFind():
            return _edge(b, q), None
        case MiddleFind():
            return _middle(b, q)
        case FlatFind():
            return _flat(b, q), None
        case RoundFind():
            return _round(b, q), None
        case DepthFind():
            r = b.reader(q.handle, q.scale, (Axis.KNEE, Axis.QUILL))
            thickness = b.length(q.thickness, "thickness") if q.how != "chips" else Fraction(0)
            (reading,) = _read((q.reading,), r.unit, "reading")
            return core.find_depth(r, reading, thickness, b.span[PartAxis.Z][1], q.how), None


def _edge(b: _Bench, q: EdgeFind) -> core.Found:
    r = b.reader(q.handle, q.scale, (COMES[q.face][0],))
    at = face_at(q.face, b.span[PartAxis.X], b.span[PartAxis.Y])
    touches = _read(q.touches, r.unit, "touches")
    return core.find_edge(r, q.face, _finder(q.finder), touches, at, b.length(q.paper, "paper"))


def _middle(b: _Bench, q: MiddleFind) -> tuple[core.Found, bool | None]:
    r = b.reader(q.handle, q.scale, (Axis.X, Axis.Y))
    low, high = (_read((v,), r.unit, f)[0] for v, f in ((q.low, "low"), (q.high, "high")))
    width, unsure = b.length(q.width, "width"), b.length(q.unsure, "unsure")
    ends, finder = b.span[_OF[r.axis]], _finder(q.finder)
    between = core.Between(low, high, q.turns, q.inside)
    found = core.find_middle(r, between, finder, width, unsure, sum(ends, Fraction(0)) / 2)
    if r.axis is Axis.Y and isinstance(b.project.solid, RoundBar):
        clear, words = core.clearance_words(width, finder, b.length(q.above, "above"), b.project.unit)
        if not clear:
            return core.Found(next=("Clear the body first.",), wrong=(words, *found.wrong), steps=found.steps), clear
        return core.Found(found.datums, found.next, found.wrong, (words, *found.notes), found.steps), clear
    return found, None


def _flat(b: _Bench, q: FlatFind) -> core.Found:
    solid = b.project.solid
    if not isinstance(solid, RoundBar):
        raise Refused.of("kind", "flat", "needs a round bar: this part is a block")
    r = b.reader(q.handle, q.scale, (Axis.Y,))
    (here,) = _read((q.here,), r.unit, "here")
    mill, depth, near, far = (b.length(getattr(q, f), f) for f in ("mill", "depth", "near", "far"))
    return core.find_by_flat(r, here, b.length(solid.diameter, "diameter"), mill, depth, near, far, Fraction(0))


def _round(b: _Bench, q: RoundFind) -> core.Found:
    x = b.reader(q.x_handle, q.scale, (Axis.X,))
    y = b.reader(q.y_handle, q.scale, (Axis.Y,))
    middle = tuple(sum(b.span[a], Fraction(0)) / 2 for a in (PartAxis.X, PartAxis.Y))
    feature = round_at(b.project, q.feature)
    if q.feature and feature is None:
        raise Refused.of("feature", q.feature, "must be a hole of this part that is seen from above")
    part = (middle[0], middle[1]) if feature is None else (feature[0], feature[1])
    radius = feature[2] if feature else min(b.span[PartAxis.X][1], b.span[PartAxis.Y][1])
    east, north, west, south = (Length.parse(getattr(q, f), q.unit, f).mm for f in ("east", "north", "west", "south"))
    here = (_read((q.here_x,), x.unit, "here_x")[0], _read((q.here_y,), y.unit, "here_y")[0])
    division = Length.parse(q.division, q.unit, "division").mm
    if not 0 < division <= 1:
        raise Refused.of("division", q.division, "must be more than 0 and at most 1 mm: an indicator's division")
    allowed = agreement(max(x.division, y.division) / 2)
    sweep = Sweep(east, north, west, south, q.boss)
    return core.find_round(x, y, sweep, here, part, allowed, radius)


def _clearance(b: _Bench, q: Find, clear: bool | None) -> ClearanceView | None:
    """The finder beside the bar, drawn; None where there is no bar to clear."""
    if clear is None or not isinstance(q, MiddleFind):
        return None
    finder = _finder(q.finder)
    return ClearanceView(
        bar=float(b.length(q.width, "width")),
        tip=float(finder.tip.mm),
        body=float(finder.body.mm),
        reach=float(finder.reach.mm),
        above=float(b.length(q.above, "above")),
        clear=clear,
    )


def _answer(found: core.Found, clearance: ClearanceView | None) -> FindAnswer:
    off = found.off
    both = Axis.X in off and Axis.Y in off
    return FindAnswer(
        good=found.good,
        next=found.next,
        wrong=found.wrong,
        notes=found.notes,
        working=tuple(StepView.of(s) for s in found.steps),
        off=(float(off[Axis.X]), float(off[Axis.Y])) if both else None,
        clearance=clearance,
    )


def find_check(w: Work, who: Who, assignment: uuid.UUID, q: FindQuestion) -> FindAnswer:
    """What touches tell; keeps nothing."""
    b = _Bench(w, own_attempt(w, who, assignment))
    found, clear = _work_out(b, q.find)
    return _answer(found, _clearance(b, q.find, clear))


def keep_find(w: Work, who: Who, assignment: uuid.UUID, command: KeepFind) -> FindPage:
    """Keep what was found as datums of this job card. Raises ``NotPermitted`` while it does not hold."""
    file = own_attempt(w, who, assignment)
    b = _Bench(w, file)
    found, _ = _work_out(b, command.find)
    if not found.good:
        raise NotPermitted(*(found.wrong or found.next))
    q = command.find
    handles = (q.x_handle, q.y_handle) if isinstance(q, RoundFind) else (q.handle,)
    datums = [replace(d, shows=Fraction(0)) if command.zeroed else d for d in found.datums]
    kept = [_kept(d, h) for d, h in zip(datums, handles, strict=True)]
    words = "; ".join(_datum_words(b, d, h) for d, h in zip(datums, handles, strict=True))
    row = t.Found(
        id=command.id,
        assignment_id=assignment,
        machine_id=b.row.id,
        person_id=who.id,
        kind=q.kind,
        content=command.model_dump_json(exclude={"id"}),
        datums=json.dumps(kept),
        words=words[:400],
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "datums", "words"))
    return find_page(w, who, assignment, "")


def _kept(d: Datum, handle: int) -> dict[str, object]:
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


def _unit_of(b: _Bench, d: Datum, handle: int) -> Unit:
    return b.dials[handle].unit if d.scale is Scale.DIAL else b.spec.unit


def _datum_words(b: _Bench, d: Datum, handle: int) -> str:
    u, scale_unit = b.project.unit, _unit_of(b, d, handle)
    shows = f"{shown(d.shows, scale_unit)} {scale_unit}"
    return f"over {_OF[d.axis].upper()} {shown(d.part, u)} {u} the {d.scale} shows {shows}"


# ── the datum record and what follows from it ─────────────────────────────


def find_page(w: Work, who: Who, assignment: uuid.UUID, cutter: str) -> FindPage:
    """The datum record of a job card, and every place of the part by dial and readout from it."""
    file = own_attempt(w, who, assignment)
    b = _Bench(w, file)
    cutter = cutter or _CUTTER[b.project.unit]
    across = b.length(cutter, "cutter")
    if not 0 < across <= 500:
        raise Refused.of("cutter", cutter, "must be more than 0 and at most 500 mm")
    rows = store.found(w.db, assignment)
    newest = _newest(rows, b)
    wanted = places(b.project, across)
    plan = tuple(
        _plan_axis(b, axis, *newest[axis][:2], [(p.name, p.note, p.at) for p in wanted if p.axis is axis])
        for axis in PartAxis
        if axis in newest
    )
    return FindPage(
        assignment=assignment,
        name=b.project.name,
        student=Named(id=file.student.id, name=file.student.name),
        mine=who.role is not Role.AUDITOR,
        machine=station_machine(w, file),
        unit=b.project.unit,
        scale_unit=b.spec.unit,
        outline=_outline(b),
        handles=handle_views(b.spec, b.dials),
        faces=tuple(_face_view(f) for f in Face),
        finders=tuple(_finder_view(f) for f in FINDERS.values()),
        datums=_datum_views(w, file, b, newest),
        plan=plan,
        missing=tuple(a for a in PartAxis if a not in newest),
        cutter=cutter,
        history=tuple(FoundLine(id=f.id, kind=f.kind, words=f.words, by=by, at=f.at) for f, by in rows[:20]),
    )


def datums_of(w: Work, file: AttemptFile) -> tuple[DatumView, ...]:
    """The datum record of a job card; empty without a machine."""
    rows = store.found(w.db, file.assignment.id) if file.assignment.machine_id else []
    if not rows:
        return ()
    b = _Bench(w, file)
    return _datum_views(w, file, b, _newest(rows, b))


def _newest(rows: list[tuple[t.Found, str]], b: _Bench) -> dict[PartAxis, tuple[Datum, int, t.Found, str]]:
    """The newest datum of each axis that was found on this card's machine."""
    newest: dict[PartAxis, tuple[Datum, int, t.Found, str]] = {}
    for row, by in rows:
        if row.machine_id == b.row.id:
            for kept in json.loads(row.datums):
                d, handle = _datum_of(kept)
                if handle < len(b.dials):
                    newest.setdefault(_OF[d.axis], (d, handle, row, by))
    return newest


def _plan_axis(b: _Bench, axis: PartAxis, d: Datum, handle: int, wanted: list[tuple[str, str, Fraction]]) -> PlanAxis:
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
        handle=f"{'' if axis is not PartAxis.Z else f'{h.axis} '}handle, {h.place}",
        side=f"turning {dial.turning(d.side)}: {way_words(d.axis, d.side)}",
        scale=d.scale,
        lines=tuple(lines),
    )


def _datum_views(
    w: Work, file: AttemptFile, b: _Bench, newest: dict[PartAxis, tuple[Datum, int, t.Found, str]]
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
        reason = next((f"the vise was moved since: {words}" for at, words in moved if at > row.at), "")
        if any(at > row.at for at in held):
            reason = reason or "the work was held anew since"
        if w.now - row.at > timedelta(hours=rules.hours):
            reason = reason or f"older than the {rules.hours} hours that the shop allows"
        if rules.same_person and row.person_id != file.student.id:
            reason = reason or "found by another person: touch it again yourself"
        found.append(
            DatumView(
                axis=axis,
                scale=d.scale,
                part=float(d.part),
                words=_datum_words(b, d, handle),
                by=by,
                at=row.at,
                stands=not reason,
                reason=reason or "found today, nothing moved since",
            )
        )
    return tuple(found)


def _outline(b: _Bench) -> OutlineView:
    p = b.project
    holes = [(c.name, round_at(p, c.name)) for c in p.cuts if isinstance(c, Hole)]
    (x0, x1), (y0, y1) = b.span[PartAxis.X], b.span[PartAxis.Y]
    return OutlineView(
        x=(float(x0), float(x1)),
        y=(float(y0), float(y1)),
        bar=isinstance(p.solid, RoundBar),
        features=tuple(
            FeatureView(name=name, x=float(r[0]), y=float(r[1]), radius=float(r[2])) for name, r in holes if r
        ),
    )


def _face_view(face: Face) -> FaceView:
    axis, towards = COMES[face]
    return FaceView(face=face, axis=_OF[axis], words=FACE_WORDS[face], come=way_words(axis, towards))


def _finder_view(f: Finder) -> FinderView:
    speed = f"{f.speed[0]} to {f.speed[1]} turns a minute" if f.speed else "spindle standing"
    return FinderView(
        id=f.id,
        name=f.name,
        kind=f.kind,
        tip=f"{f.tip.text} {f.tip.unit}",
        tip_mm=float(f.tip.mm),
        body=f"{f.body.text} {f.body.unit}",
        speed=speed,
        tells=f.tells,
    )
