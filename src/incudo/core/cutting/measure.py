"""Measuring before the last pass: what should be read, what is left, and a reading that cannot be right."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.cutting.slides import set_to
from incudo.core.cutting.step import Check
from incudo.core.kernel.quantity import MM_PER_INCH, Unit, sense
from incudo.core.kernel.say import say
from incudo.core.parts.features.asked import Asked
from incudo.core.parts.features.frame import Axle, Named, Plane, RoundWall
from incudo.core.planning.course import Course, drawing_datums
from incudo.core.planning.file import OperationKind
from incudo.core.planning.stages import Stage

#: A reading this far from what is expected is taken as it is: what a cutter that is pushed away or a dial between two
#: divisions brings. A rule of thumb.
USUAL = Fraction(3, 20)
#: So near to what a slip would have given, the slip is named.
NEAR = Fraction(1, 20)


def check_of(course: Course, stage: Stage, axis: int, takes: Sequence[Fraction]) -> Check | None:
    """What is measured before the last of several passes along a machine axis, by the tightest size of the drawing.

    Without one that can be measured by then, how deep it is so far. None for a single pass.
    """
    if len(takes) < 2:
        return None
    last, before = takes[-1], takes[-2]
    found = [(width, a, name) for name, a, width in drawing_datums(course, stage, axis) if _there(course, stage, name)]
    if not found:
        if stage.kind in (OperationKind.FACE, OperationKind.SIDE):
            # a first face: nothing on the drawing goes to it yet
            return None
        total = sum(takes, Fraction(0))
        mine = stage.operation.of[0] if stage.operation.of else ""
        words = say("how deep it is")
        so_far = total - last
        return Check(0, words, "xyz"[axis], so_far - before, so_far, total, None, falls=False, of=(mine, ""))
    _, asked, name = min(found, key=lambda f: f[0])
    project = course.piece.part.project
    characteristic = project.characteristic(asked.number)
    limits = project.limits(characteristic)
    nominal = Fraction(characteristic.nominal) * course.piece.unit.in_mm
    low = limits.lower if limits.lower is not None else nominal
    high = limits.upper if limits.upper is not None else nominal
    falls = _falls(course, stage, axis, asked, name)
    sense = 1 if falls else -1
    expected = nominal + sense * last
    words = say("number {number}, {name}", number=asked.number, name=characteristic.name)
    return Check(
        asked.number,
        words,
        "xyz"[axis],
        expected + sense * before,
        expected,
        (low + high) / 2,
        (low, high),
        falls=falls,
        of=(next(n for n in asked.of if n != name), name),
    )


def middle_of(course: Course, one: str, two: str) -> Fraction:
    """How far the middle of a distance's limits lies beyond its nominal, mm; 0 for what the drawing does not ask."""
    asked = next((a for a, _ in course.asked if a.kind == "distance" and set(a.of) == {one, two}), None)
    if asked is None:
        return Fraction(0)
    project = course.piece.part.project
    characteristic = project.characteristic(asked.number)
    limits = project.limits(characteristic)
    if limits.aim is None:
        return Fraction(0)
    return limits.aim - Fraction(characteristic.nominal) * course.piece.unit.in_mm


def _there(course: Course, stage: Stage, name: str) -> bool:
    """Whether the other end of a size is milled already."""
    return stage.true(name) if name in course.piece.slabs else True


def _falls(course: Course, stage: Stage, axis: int, asked: Asked, other: str) -> bool:
    """Whether the size becomes smaller while metal goes."""
    mine = next(n for n in asked.of if n != other)
    one, two = _at(course, stage, axis, mine), _at(course, stage, axis, other)
    if axis == 2:
        return sense(one - two) == 1
    # an end is cut inwards: the size to the end across falls
    slab = stage.piece.slabs.get(mine)
    out = stage.place.signs[axis] * slab.out if slab else 1
    return (one - two) * out > 0


def _at(course: Course, stage: Stage, axis: int, name: str) -> Fraction:
    thing: Named | None = course.named(name)
    part_axis = stage.place.axes[axis]
    match thing:
        case Plane():
            at = Fraction(thing.at)
        case Axle() | RoundWall():
            at = Fraction(thing.centre[part_axis])
        case _:
            at = Fraction(0)
    return at * stage.place.signs[axis]


@dataclass(frozen=True)
class Judged:
    """What a reading says. ``good``: the last pass can be set by it; ``left`` comes off then, mm.

    ``call``: too much is gone, somebody decides about the part.
    """

    good: bool
    left: Fraction
    words: str
    call: bool = False


def judge_reading(check: Check, reading: Fraction, turn: Fraction, unit: Unit) -> Judged:
    """A reading in mm before the last pass; ``turn`` is one turn of the handle that sets it, mm.

    Raises nothing: what cannot be right is questioned with what probably happened.
    """
    left = check.left(reading)
    off = abs(reading - check.expected)

    def length(mm: Fraction) -> str:
        return set_to(mm, unit)

    if off <= USUAL and not _below(check, reading):
        words = say("{left} is left to the middle of the limits.", left=length(left))
        if check.limits is None:
            words = say("{left} is left.", left=length(left))
        return Judged(good=True, left=max(left, Fraction(0)), words=words)
    step = abs(check.before - check.expected)
    slips = (
        (reading * MM_PER_INCH, say("That looks like inches read as millimetres.")),
        (reading / MM_PER_INCH, say("That looks like millimetres read as inches.")),
    )
    for value, why in slips:
        if abs(value - check.expected) <= USUAL:
            return _questioned(reading, check, why, length)
    if _below(check, reading):
        words = say(
            "{reading}: that is beyond the limits already, too much is gone. Measure again; if it stays, leave "
            "everything as it is and call.",
            reading=length(reading),
        )
        return Judged(good=False, left=Fraction(0), words=words, call=True)
    moved = (
        (
            check.before,
            say("The last pass has taken nothing: was the handle turned, is an axis locked, the work loose?"),
        ),
        (
            2 * check.expected - check.before,
            say("The last pass took twice what was set: was the backlash turned away?"),
        ),
        (check.expected + turn, say("One turn of the handle is miscounted.")),
        (check.expected - turn, say("One turn of the handle is miscounted.")),
    )
    for value, why in moved:
        if step and abs(reading - value) <= NEAR:
            return _questioned(reading, check, why, length)
    return _questioned(
        reading, check, say("A chip or a burr under the work or the gauge, or another size was measured?"), length
    )


def _below(check: Check, reading: Fraction) -> bool:
    """Whether more is gone than the drawing allows."""
    if check.limits is None:
        return reading > check.aim + USUAL
    low, high = check.limits
    return reading < low if check.falls else reading > high


def _questioned(reading: Fraction, check: Check, why: str, length: object) -> Judged:
    assert callable(length)  # noqa: S101 (the function above)
    words = say(
        "{reading} instead of {expected}. {why} Clean, measure again, and set nothing by it before both agree.",
        reading=length(reading),
        expected=length(check.expected),
        why=why,
    )
    return Judged(good=False, left=Fraction(0), words=words)
