"""Finding the places of a job card's part: what touches tell, the datum record, and the dial readings that follow."""

from __future__ import annotations

import json
import uuid
from dataclasses import replace
from fractions import Fraction

from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import StepView
from incudo.app.locating.datums import OF, Bench, datum_words, kept_of
from incudo.app.locating.found import find_page
from incudo.app.locating.views import (
    ClearanceView,
    DepthFind,
    EdgeFind,
    Find,
    FindAnswer,
    FindPage,
    FindQuestion,
    FlatFind,
    KeepFind,
    MiddleFind,
    RoundFind,
)
from incudo.app.parts.attempts import own_attempt
from incudo.core.kernel.errors import NotPermitted, Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say, together
from incudo.core.locating import found as core
from incudo.core.locating.centre import Sweep, agreement
from incudo.core.locating.finders import COMES, FINDERS, Finder, face_at
from incudo.core.locating.places import PartAxis, round_at
from incudo.core.parts.project import RoundBar
from incudo.core.shop.machine import Axis
from incudo.store import schema as t


def _finder(name: str) -> Finder:
    if name not in FINDERS:
        raise Refused.of("finder", name, say("must be one of: {listed}", listed=together(FINDERS, ", ")))
    return FINDERS[name]


def _read(texts: tuple[str, ...], unit: Unit, field: str) -> tuple[Fraction, ...]:
    return tuple(Length.parse(x, unit, field).mm for x in texts)


def _work_out(b: Bench, q: Find) -> tuple[core.Found, bool | None]:
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


def _edge(b: Bench, q: EdgeFind) -> core.Found:
    r = b.reader(q.handle, q.scale, (COMES[q.face][0],))
    at = face_at(q.face, b.span[PartAxis.X], b.span[PartAxis.Y])
    touches = _read(q.touches, r.unit, "touches")
    return core.find_edge(r, q.face, _finder(q.finder), touches, at, b.length(q.paper, "paper"))


def _middle(b: Bench, q: MiddleFind) -> tuple[core.Found, bool | None]:
    r = b.reader(q.handle, q.scale, (Axis.X, Axis.Y))
    low, high = (_read((v,), r.unit, f)[0] for v, f in ((q.low, "low"), (q.high, "high")))
    width, unsure = b.length(q.width, "width"), b.length(q.unsure, "unsure")
    ends, finder = b.span[OF[r.axis]], _finder(q.finder)
    between = core.Between(low, high, q.turns, q.inside)
    found = core.find_middle(r, between, finder, width, unsure, sum(ends, Fraction(0)) / 2)
    if r.axis is Axis.Y and isinstance(b.project.solid, RoundBar):
        clear, words = core.clearance_words(width, finder, b.length(q.above, "above"), b.project.unit)
        if not clear:
            return core.Found(
                next=(say("Clear the body first."),), wrong=(words, *found.wrong), steps=found.steps
            ), clear
        return core.Found(found.datums, found.next, found.wrong, (words, *found.notes), found.steps), clear
    return found, None


def _flat(b: Bench, q: FlatFind) -> core.Found:
    solid = b.project.solid
    if not isinstance(solid, RoundBar):
        raise Refused.of("kind", "flat", say("needs a round bar: this part is a block"))
    r = b.reader(q.handle, q.scale, (Axis.Y,))
    (here,) = _read((q.here,), r.unit, "here")
    mill, depth, near, far = (b.length(getattr(q, f), f) for f in ("mill", "depth", "near", "far"))
    return core.find_by_flat(r, here, b.length(solid.diameter, "diameter"), mill, depth, near, far, Fraction(0))


def _round(b: Bench, q: RoundFind) -> core.Found:
    x = b.reader(q.x_handle, q.scale, (Axis.X,))
    y = b.reader(q.y_handle, q.scale, (Axis.Y,))
    middle = tuple(sum(b.span[a], Fraction(0)) / 2 for a in (PartAxis.X, PartAxis.Y))
    feature = round_at(b.project, q.feature)
    if q.feature and feature is None:
        raise Refused.of("feature", q.feature, say("must be a hole of this part that is seen from above"))
    part = (middle[0], middle[1]) if feature is None else (feature[0], feature[1])
    radius = feature[2] if feature else min(b.span[PartAxis.X][1], b.span[PartAxis.Y][1])
    east, north, west, south = (Length.parse(getattr(q, f), q.unit, f).mm for f in ("east", "north", "west", "south"))
    here = (_read((q.here_x,), x.unit, "here_x")[0], _read((q.here_y,), y.unit, "here_y")[0])
    division = Length.parse(q.division, q.unit, "division").mm
    if not 0 < division <= 1:
        raise Refused.of("division", q.division, say("must be more than 0 and at most 1 mm: an indicator's division"))
    allowed = agreement(max(x.division, y.division) / 2)
    sweep = Sweep(east, north, west, south, q.boss)
    return core.find_round(x, y, sweep, here, part, allowed, radius)


def _clearance(b: Bench, q: Find, clear: bool | None) -> ClearanceView | None:
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
    return FindAnswer(
        good=found.good,
        next=found.next,
        wrong=found.wrong,
        notes=found.notes,
        working=tuple(StepView.of(s) for s in found.steps),
        off=(float(off[Axis.X]), float(off[Axis.Y])) if off else None,
        clearance=clearance,
    )


def find_check(w: Work, who: Who, assignment: uuid.UUID, q: FindQuestion) -> FindAnswer:
    """What touches tell; keeps nothing."""
    b = Bench(w, own_attempt(w, who, assignment))
    found, clear = _work_out(b, q.find)
    return _answer(found, _clearance(b, q.find, clear))


def keep_find(w: Work, who: Who, assignment: uuid.UUID, command: KeepFind) -> FindPage:
    """Keep what was found as datums of this job card. Raises ``NotPermitted`` while it does not hold."""
    file = own_attempt(w, who, assignment)
    b = Bench(w, file)
    found, _ = _work_out(b, command.find)
    if not found.good:
        raise NotPermitted(*(found.wrong or found.next))
    q = command.find
    handles = (q.x_handle, q.y_handle) if isinstance(q, RoundFind) else (q.handle,)
    datums = [replace(d, shows=Fraction(0)) if command.zeroed else d for d in found.datums]
    kept = [kept_of(d, h) for d, h in zip(datums, handles, strict=True)]
    words = together((datum_words(b, d, h) for d, h in zip(datums, handles, strict=True)), "; ")
    row = t.Found(
        id=command.id,
        assignment_id=assignment,
        machine_id=b.row.id,
        person_id=who.id,
        kind=q.kind,
        content=command.model_dump_json(exclude={"id"}),
        datums=json.dumps(kept),
        words=words,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "datums", "words"))
    return find_page(w, who, assignment, "")
