"""Which act made an error of place, named by what was done and by how far off it left the cutter. Lengths in mm."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.cutting.dry.acts import Act, Do
from incudo.core.cutting.slides import Ring, set_to
from incudo.core.cutting.step import RunStep, Zero
from incudo.core.kernel.quantity import Unit, sense
from incudo.core.kernel.say import say, say_many
from incudo.core.locating.datum import divisions_words


class Code(StrEnum):
    """What was done wrong."""

    MISCOUNTED = "miscounted"
    WRONG_WAY = "wrong-way"
    STRAIGHT = "straight"
    NOT_TURNED = "not-turned"
    TWICE = "twice"
    BACKWARDS = "backwards"
    BESIDE = "beside"
    HALF_TIP = "half-tip"
    TIP_OTHER_WAY = "tip-other-way"
    WHOLE_TIP = "whole-tip"
    RING_SLIPPED = "ring-slipped"
    UNDER = "under"
    PAPER = "paper"
    KEPT = "kept"
    BESIDE_ZERO = "beside-zero"
    CUTTER = "cutter"
    PULLED = "pulled"
    MOVED = "moved"
    CREPT = "crept"
    LEFT_OUT = "left-out"
    MISREAD = "misread"
    CHIP = "chip"
    JAW = "jaw"
    HEAD = "head"


@dataclass(frozen=True)
class Cause:
    """The act at a step that moved the cutter ``size`` along an axis from where the card wanted it, mm; 0 where it is
    no matter of a length. ``act`` says what was done, without how far.
    """

    step: str
    code: Code
    axis: str
    size: Fraction
    act: str
    unit: Unit

    @property
    def words(self) -> str:
        """What was done, and how far off that is."""
        if not self.size:
            return say("{act}.", act=self.act)
        return say("{act}: {size}.", act=self.act, size=set_to(abs(self.size), self.unit))


def is_felt(off: Fraction, fine: Fraction) -> bool:
    """Whether an error is more than what a dial can set anyway; both in mm."""
    return abs(off) > fine


@dataclass(frozen=True)
class Off:
    """How far something is off, mm, and the acts that made it so."""

    mm: Fraction = Fraction(0)
    causes: tuple[Cause, ...] = ()

    def then(self, now: Fraction, fine: Fraction, cause: Cause | None) -> Off:
        """The error after an act that may have changed it; nothing is kept against what is right again."""
        if not is_felt(now, fine):
            return Off(now)
        if cause is None:
            return Off(now, self.causes)
        undone = next((c for c in self.causes if not is_felt(c.size + cause.size, fine)), None)
        if undone is not None:
            return Off(now, tuple(c for c in self.causes if c is not undone))
        return Off(now, (*self.causes, cause))


def fine_of(ring: Ring) -> Fraction:
    """What is no error yet: a quarter of a division."""
    return ring.dial.division / 4


def at_place(step: RunStep, ring: Ring, told: Sequence[Act], done: Sequence[Act], off: Fraction) -> Cause:
    """Why the cutter stands ``off`` from the place of a step, along one axis."""
    axis = (told or done)[0].axis
    code, act = _act(axis, ring, told, done, off)
    return Cause(step.id, code, axis, off, act, ring.dial.unit)


def _act(axis: str, ring: Ring, told: Sequence[Act], done: Sequence[Act], off: Fraction) -> tuple[Code, str]:
    dial, fine, name = ring.dial, fine_of(ring), axis.upper()
    turns = [a for a in done if a.do is Do.TURN]
    wanted = sum((a.sign * a.travel for a in told), Fraction(0))
    whole = round(off / dial.turn)

    def near(value: Fraction) -> bool:
        return abs(value) <= fine

    if any(a.do is Do.MOVE for a in done):
        if axis == "z":
            return Code.PULLED, say("The cutter pulled out of its holder")
        return Code.MOVED, say("The work moved in the vise along {axis}", axis=name)
    if any(a.do is Do.CREEP for a in done):
        return Code.CREPT, say("{axis} was not locked: the cut drew the table through its backlash", axis=name)
    if not turns:
        return Code.NOT_TURNED, say("The {axis} handle was not turned", axis=name)
    if told and turns[-1].sign != told[-1].sign:
        if near(abs(off) - dial.backlash):
            return Code.STRAIGHT, say(
                "{axis} was approached from the other side: its backlash was not taken up", axis=name
            )
        return Code.WRONG_WAY, say("The {axis} handle was turned the wrong way", axis=name)
    if wanted and near(off - wanted) and (len(turns) > len(told) or not near(off - whole * dial.turn)):
        return Code.TWICE, say("{axis} was set twice", axis=name)
    if whole and near(off - whole * dial.turn):
        act = say_many(
            "The {axis} handle was miscounted by {count} whole turn",
            "The {axis} handle was miscounted by {count} whole turns",
            abs(whole),
            axis=name,
        )
        return Code.MISCOUNTED, act
    read, meant = turns[-1].reading, told[-1].reading if told else None
    if read is not None and meant is not None and near((read + meant) % dial.turn):
        return Code.BACKWARDS, say("The {axis} dial was read backwards", axis=name)
    beside = divisions_words(abs(off) / dial.division)
    return Code.BESIDE, say("{axis} stopped {divisions} divisions off the reading", axis=name, divisions=beside)


def at_zero(step: RunStep, ring: Ring, told: Sequence[Act], done: Sequence[Act], off: Fraction) -> Cause:
    """Why a zero is ``off`` from where it should be."""
    zero = step.zero
    assert zero is not None  # noqa: S101 (asked of steps with a zero alone)
    code, act = _zeroed(zero, ring, told, done, off)
    return Cause(step.id, code, zero.axis, off, act, ring.dial.unit)


def _zeroed(zero: Zero, ring: Ring, told: Sequence[Act], done: Sequence[Act], off: Fraction) -> tuple[Code, str]:
    name, fine = zero.axis.upper(), fine_of(ring)
    half = next((a.travel for a in told if a.do is Do.TURN), Fraction(0))
    allowed = sum((a.sign * a.travel for a in done if a.do is Do.TURN), Fraction(0)) * zero.side
    touch = next((a for a in done if a.do is Do.TOUCH), None)
    slipped = sum((a.travel for a in done if a.do is Do.RING), Fraction(0))
    if touch is None:
        return Code.KEPT, say("The {axis} zero was not set again", axis=name)
    if abs(slipped) > fine and abs(abs(off) - abs(slipped)) <= fine:
        return Code.RING_SLIPPED, say("The {axis} dial slipped while it was set to 0", axis=name)
    if half and abs(allowed) <= fine:
        return Code.HALF_TIP, say("{axis} zero: half the tip of the edge finder was not allowed for", axis=name)
    if half and abs(allowed + half) <= fine:
        return Code.TIP_OTHER_WAY, say("{axis} zero: half the tip was turned the wrong way", axis=name)
    if half and abs(allowed - 2 * half) <= fine:
        return Code.WHOLE_TIP, say("{axis} zero: the whole tip was allowed for, not half of it", axis=name)
    meant = next((a.travel for a in told if a.do is Do.TOUCH), Fraction(0))
    if abs(touch.travel - meant) > fine:
        if zero.axis == "z":
            return Code.PAPER, say("Z zero: the paper was not added")
        return Code.UNDER, say("{axis} zero: a chip or a burr was under the finder", axis=name)
    return Code.BESIDE_ZERO, say("The {axis} zero was set away from the face", axis=name)


def of_cutter(step: RunStep, real: Fraction, wanted: Fraction, unit: Unit) -> Cause:
    """Another cutter than the plan's is in."""
    act = say("The cutter measures {real}, not {wanted}", real=set_to(real, unit), wanted=set_to(wanted, unit))
    return Cause(step.id, Code.CUTTER, "", Fraction(0), act, unit)


def left_out(step: RunStep, unit: Unit) -> Cause:
    """A pass or a hole that was not cut."""
    act = say("{title} was left out", title=step.title) if step.head else say("This step was left out")
    return Cause(step.id, Code.LEFT_OUT, "", Fraction(0), act, unit)


def misread(step: RunStep, by: Fraction, axis: str, unit: Unit) -> Cause:
    """A measurement that was read wrong, so that the last pass was set by it."""
    much, little = say("Too much was read before the last pass"), say("Too little was read before the last pass")
    act = much if sense(by) == 1 else little
    return Cause(step.id, Code.MISREAD, axis, by, act, unit)
