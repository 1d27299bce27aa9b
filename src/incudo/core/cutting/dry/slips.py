"""Slips that happen at a mill, each as what hands do otherwise at one step of a card. Lengths in mm."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction

from incudo.core.cutting.dry.acts import Act, Do, Hands, told
from incudo.core.cutting.dry.causes import Code
from incudo.core.cutting.slides import Ring, Slides
from incudo.core.cutting.step import RunStep, StepKind, Zero
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.planning.course import Course
from incudo.core.planning.file import HeldIn, OperationKind
from incudo.core.planning.kinds import MILLING
from incudo.core.planning.stages import Stage
from incudo.core.shop.cutter import CutterKind

#: How far something is off where chance would say, in the machine's own unit: (inch, mm).
_PAPER = ("0.004", "0.1")
_BURR = ("0.006", "0.15")
_LONGER = ("0.020", "0.5")
_PULLED = ("0.012", "0.3")
_MOVED = ("0.015", "0.4")
_READ = ("0.005", "0.12")
_CHIP = ("0.010", "0.25")
_OUT = ("0.012", "0.3")
#: By so many divisions a ring moves, or a reading is missed.
_SLIPPED, _BESIDE = 4, 7
#: What is cut to a depth from a face that Z was touched off on.
_DEEP = (OperationKind.STEP, OperationKind.SLOT, OperationKind.POCKET)
_SIZED = (CutterKind.END_MILL, CutterKind.DRILL, CutterKind.REAMER, CutterKind.SIDE_AND_FACE)


@dataclass(frozen=True)
class Slip:
    """What is done otherwise at a step, and what it is called; the ``number``-th of its kind there."""

    code: Code
    step: str
    hands: Hands
    number: int = 0


def slips(course: Course, steps: tuple[RunStep, ...], slides: Slides) -> Iterator[Slip]:
    """Every slip that a card leaves room for, in its order."""
    for step in steps:
        yield from slips_at(course, step, slides)


def slips_at(course: Course, step: RunStep, slides: Slides) -> Iterator[Slip]:
    """Every slip that one step leaves room for."""
    seen = Counter[Code]()
    for slip in _slips_at(course, step, slides):
        yield replace(slip, number=seen[slip.code])
        seen[slip.code] += 1


def _slips_at(course: Course, step: RunStep, slides: Slides) -> Iterator[Slip]:
    right = told(step, slides)
    if step.kind is StepKind.HOLD:
        yield from _at_holding(course, step, right)
        return
    stage = next((s for s in course.stages if s.operation.id == step.operation), None)
    if stage is None:
        return
    if step.zero is not None:
        yield from _at_zero(step, step.zero, right, slides.of[step.zero.axis].ring, again=_again(course, stage))
    elif step.kind is StepKind.CUTTER:
        yield from _cutter(course, step, stage)
    elif step.check is not None:
        yield Slip(Code.MISREAD, step.id, replace(right, misread=_of(_READ, course.piece.unit)))
    elif step.kind in (StepKind.PASS, StepKind.HOLE) and step.go:
        yield from _at_places(step, right, slides, stage)


def _at_holding(course: Course, step: RunStep, right: Hands) -> Iterator[Slip]:
    """A chip under the work, a jaw that nobody indicated, and at the beginning a head that nobody trammed."""
    holding = next(h for h in course.plan.holdings if h.id == step.holding)
    if holding.held is HeldIn.V_BLOCK:
        return
    unit = course.piece.unit
    yield Slip(Code.CHIP, step.id, replace(right, chip=_of(_CHIP, unit)))
    if holding.held is HeldIn.VISE:
        yield Slip(Code.JAW, step.id, replace(right, jaw=_of(_OUT, unit)))
    if holding.id == course.plan.holdings[0].id and course.shop.machine.head.tilt:
        yield Slip(Code.HEAD, step.id, replace(right, lean=_of(_OUT, unit)))


def _of(size: tuple[str, str], unit: Unit) -> Fraction:
    return Length(size[0], Unit.INCH).mm if unit is Unit.INCH else Length(size[1], Unit.MM).mm


def _again(course: Course, stage: Stage) -> bool:
    """Whether Z is touched off on a face that was touched before in this holding, with another cutter."""
    before = (s for s in course.stages[: stage.index] if s.holding.id == stage.holding.id and s.kind in _DEEP)
    return stage.kind in _DEEP and any(
        s.operation.z == stage.operation.z and s.operation.cutter != stage.operation.cutter for s in before
    )


def _at_zero(step: RunStep, zero: Zero, right: Hands, ring: Ring, *, again: bool) -> Iterator[Slip]:
    unit, division = ring.unit, ring.dial.division
    if zero.by == "stop":
        return
    slipped = tuple(replace(a, travel=_SLIPPED * division) if n == len(right.first) - 1 else a
                    for n, a in enumerate(right.first))  # fmt: skip
    yield Slip(Code.RING_SLIPPED, step.id, replace(right, first=slipped))
    if zero.by == "finder":
        touch, ring_set, half, _ = right.first
        yield Slip(Code.HALF_TIP, step.id, replace(right, first=(touch, ring_set)))
        other = replace(half, sign=-half.sign, reading=None)
        yield Slip(Code.TIP_OTHER_WAY, step.id, replace(right, first=(touch, ring_set, other, ring_set)))
        whole = replace(half, travel=half.travel * 2, reading=None)
        yield Slip(Code.WHOLE_TIP, step.id, replace(right, first=(touch, ring_set, whole, ring_set)))
        burr = replace(touch, travel=touch.travel + _of(_BURR, unit))
        yield Slip(Code.UNDER, step.id, replace(right, first=(burr, *right.first[1:])))
    elif zero.by == "end":
        touch, *rest = right.first
        if again:
            yield Slip(Code.KEPT, step.id, replace(right, first=(Act(Do.MOVE, "z", travel=-_of(_LONGER, unit)),)))
        yield Slip(Code.PAPER, step.id, replace(right, first=(replace(touch, travel=_of(_PAPER, unit)), *rest)))


def _cutter(course: Course, step: RunStep, stage: Stage) -> Iterator[Slip]:
    """The next cutter of the same kind in the drawer."""
    cutter = stage.cutter
    if cutter is None or cutter.kind not in _SIZED:
        return
    near = sorted(
        (
            c.cutter
            for c in course.shop.crib.values()
            if c.cutter.kind is cutter.kind and c.cutter.width != cutter.width
        ),
        key=lambda c: (abs(c.width - cutter.width), c.name),
    )
    if near:
        yield Slip(Code.CUTTER, step.id, Hands(wide=near[0].width))


def _at_places(step: RunStep, right: Hands, slides: Slides, stage: Stage) -> Iterator[Slip]:
    yield Slip(Code.LEFT_OUT, step.id, replace(right, cut=False))
    milled = stage.kind in MILLING
    for number, go in enumerate(step.go):
        acts, ring = right.gos[number], slides.of[go.axis].ring
        if not acts:
            continue
        dial, last = ring.dial, acts[-1]

        def slip(code: Code, *done: Act, n: int = number) -> Slip:
            return Slip(code, step.id, right.at(n, done))

        yield slip(Code.NOT_TURNED)
        yield slip(Code.MISCOUNTED, *acts[:-1], replace(last, travel=last.travel + dial.turn))
        if last.travel > dial.turn + 2 * dial.backlash:
            yield slip(Code.MISCOUNTED, *acts[:-1], replace(last, travel=last.travel - dial.turn))
        if len(acts) > 1 and dial.backlash and acts[0].travel > dial.turn + 2 * dial.backlash:
            # straight to the reading, as if the screw had no play
            short = acts[0].travel - dial.turn
            yield slip(Code.STRAIGHT, replace(acts[0], travel=short, reading=last.reading))
        if len(acts) == 1:
            # until the dial shows the reading, but the other way round
            yield slip(Code.WRONG_WAY, replace(last, sign=-last.sign, travel=dial.turn))
            yield slip(Code.TWICE, last, replace(last, reading=None))
        past = replace(last, reading=None, travel=last.travel + _BESIDE * dial.division)
        yield slip(Code.BESIDE, *acts[:-1], past)
        if last.reading is not None:
            back = -last.reading % dial.turn
            if min(back, dial.turn - back) > 2 * dial.division and abs(2 * back - dial.turn) > 2 * dial.division:
                yield slip(Code.BACKWARDS, *acts[:-1], replace(last, reading=back))
        if milled and go.axis == "z" and not (stage.cutter and stage.cutter.on_arbor):
            by = Act(Do.MOVE, "z", travel=-_of(_PULLED, ring.unit))
            yield slip(Code.PULLED, *acts, by)
        elif go.axis in ("x", "y"):
            yield slip(Code.MOVED, *acts, Act(Do.MOVE, go.axis, travel=_of(_MOVED, ring.unit)))
            if milled and dial.backlash > dial.division:
                yield slip(Code.CREPT, *acts, Act(Do.CREEP, go.axis, last.sign))
