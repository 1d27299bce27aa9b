"""The steps at holes: each place by its dials, then what the quill does, as one does it for this tool."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from math import ceil

from incudo.core.cutting.at_work import AtWork
from incudo.core.cutting.measure import middle_of
from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.kernel.say import say
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.geometry.sections import reach
from incudo.core.planning.file import OperationKind
from incudo.core.planning.piece import exact
from incudo.core.planning.settle import Settled
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.inputs import shown
from incudo.core.shop.cutter import CutterKind

#: A drill is drawn back after about its own diameter of depth; below three diameters more often.
PECK, DEEP = 1, 3


def steps(work: AtWork, stage: Stage, n: Settled) -> Iterator[RunStep]:
    """The steps of one operation on holes."""
    for axis in ("x", "y"):
        yield from work.found(stage, axis)
    yield from work.cutter_in(stage)
    if stage.cutter is None:
        yield work.set_up(stage, n)
        return
    tap = stage.kind is OperationKind.TAP
    feed = () if tap else tuple(_feed(work, n))
    off = (say("Spindle off and isolated: the tap is turned by hand."),) if tap else ()
    first = work.set_up(stage, n, *off, *feed)
    yield first if not tap else replace(first, starts=False, holds=())
    hole = next(f for f in stage.features if isinstance(f, HoleFeature))
    count = len(n.path) or 1
    told = tuple(_how(work, stage, hole))
    for number, (x, y) in enumerate(n.path, 1):
        go = []
        for axis, place in (("x", x), ("y", y)):
            slide = work.slides.of.get(axis)
            found = slide.go(axis, exact(place)) if slide else None
            go += [found] if found else []
        title = work.title(stage)
        yield RunStep(
            id=f"{stage.operation.id}.hole-{number}",
            kind=StepKind.HOLE,
            holding=stage.holding.id,
            operation=stage.operation.id,
            title=say("{title}, {number} of {count}", title=title, number=number, count=count) if count > 1 else title,
            do=told,
            go=tuple(go),
            why=(say("Lock X and Y before the quill comes down."),),
            cautions=_cautions(stage),
            seconds=n.seconds / count,
        )


def _feed(work: AtWork, n: Settled) -> Iterator[str]:
    if n.chip:
        unit = work.course.shop.machine.unit
        turn = f"{shown(n.chip / unit.in_mm, 4 if unit.value == 'in' else 3)} {unit}"
        yield say("Feed {turn} for each turn of the spindle.", turn=turn)


def tip_depth(stage: Stage) -> Fraction | None:
    """How far the tool's tip comes down below the face that it begins at, mm; none for what goes through."""
    if stage.through or not stage.lying:
        return None
    low = min(reach(b, 2)[0] for b in stage.lying)
    hole = next(f for f in stage.features if isinstance(f, HoleFeature))
    plane = stage.piece.part.frame.plane(hole.face, "face")
    top = Fraction(plane.at) * stage.piece.unit.in_mm * stage.place.signs[2]
    return top - exact(low)


def _how(work: AtWork, stage: Stage, hole: HoleFeature) -> Iterator[str]:
    """What is done there, one sentence after the other."""
    length, unit = work.length, work.course.piece.unit
    assert stage.cutter is not None  # noqa: S101 (asked by the caller)
    size = stage.cutter.real
    deep = tip_depth(stage)
    if deep is not None and stage.kind in (OperationKind.DRILL, OperationKind.REAM, OperationKind.BORE):
        deep += middle_of(work.course, f"{hole.name}.floor", hole.face)
    match stage.kind:
        case OperationKind.SPOT if size < Fraction(hole.diameter) * unit.in_mm:
            yield say("Spot until the mark is nearly as wide as the spot drill, {size}.", size=length(size))
        case OperationKind.SPOT:
            yield say("Spot until the mark is a little smaller than the hole, {size}.", size=f"{hole.diameter} {unit}")
        case OperationKind.DRILL:
            yield say("Through.") if deep is None else say("{deep} deep, to the tip.", deep=work.course.length(deep))
            yield from _pecks(work, stage, deep, size)
            if deep is None and stage.operation.easing:
                yield say("Ease off the feed as the point breaks through, so that it does not grab.")
        case OperationKind.REAM:
            yield (
                say("Through, in one go and out again while it turns the same way.")
                if deep is None
                else say("{deep} deep; out again while it turns the same way.", deep=length(deep))
            )
            yield say("Never run a reamer backwards: that breaks the edges.")
        case OperationKind.COUNTERSINK if hole.countersink:
            across = f"{hole.countersink.diameter} {unit}"
            yield say(
                "Until it is {across} across; then set the quill stop, and the next ones go to it.", across=across
            )
        case OperationKind.COUNTERBORE if hole.counterbore:
            more = middle_of(work.course, f"{hole.name}.counterbore floor", hole.face)
            down = Fraction(hole.counterbore.depth) * unit.in_mm + more
            yield say("{deep} deep, from the face; set the quill stop.", deep=length(down))
        case OperationKind.BORE:
            yield say("To {size}, by the head's own dial, a little each time.", size=f"{hole.diameter} {unit}")
            yield say("Stop, measure the bore, set what is left; the last setting goes through twice.")
        case OperationKind.TAP:
            yield from _tapping(stage, hole)


def _pecks(work: AtWork, stage: Stage, deep: Fraction | None, size: Fraction) -> Iterator[str]:
    down = deep if deep is not None else exact(stage.block[1][2] - stage.block[0][2])
    if down > DEEP * size:
        each, count = PECK * size, ceil(down / (PECK * size))
        yield say(
            "Peck: about {each} at a time, out of the hole in between, {count} times.",
            each=work.length(each),
            count=count,
        )


def _tapping(stage: Stage, hole: HoleFeature) -> Iterator[str]:
    assert stage.cutter is not None  # noqa: S101 (asked by the caller)
    yield say("Guide the tap with a centre in the spindle, lightly, to keep it square.")
    if stage.cutter.tap == "forming":
        yield say("In one go, with plenty of oil: it makes no chips.")
    else:
        yield say("Half a turn on, a quarter back, so that the chip breaks; oil.")
    yield say("Follow it down with the quill; never force it.")
    if hole.depth is not None:
        yield say("Out before the bottom, clear the chips, and again.")
    yield say("If it crunches or sticks: stop, back out, look.")


def _cautions(stage: Stage) -> tuple[str, ...]:
    found = []
    if stage.kind is OperationKind.TAP:
        found.append(say("Keep the spindle isolated while you turn the tap."))
    else:
        found.append(say("Clamp the work, never hold it. Clear chips with a brush, spindle stopped."))
    if stage.kind is OperationKind.DRILL and stage.through:
        found.append(say("Check that nothing is below where it comes out."))
    if stage.cutter is not None and stage.cutter.kind is CutterKind.HEAD:
        found.append(say("The bar swings wider than it looks: turn it by hand first."))
    return tuple(found)
