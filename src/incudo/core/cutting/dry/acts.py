"""What hands do at one step of a run card, and what they do when they do just what it says. Lengths in mm."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction

from incudo.core.cutting.slides import Go, Slides
from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.kernel.quantity import Length, Unit

#: Over what jaw and head are said to be out: (inch, mm).
REACH = ("4", "100")


def reach(unit: Unit) -> Length:
    """The length over which a jaw or a head is said to be out."""
    return Length(REACH[0], Unit.INCH) if unit is Unit.INCH else Length(REACH[1], Unit.MM)


class Do(StrEnum):
    """What is done."""

    #: The tip or the cutter touches, with a gap between.
    TOUCH = "touch"
    #: The dial ring is set to 0; by as much as ``travel`` it turns along.
    RING = "ring"
    #: A handle is turned until the dial shows a reading, counting about so far; without a reading just so far.
    TURN = "turn"
    #: The work, or the cutter in its holder, moves by itself.
    MOVE = "move"
    #: The table is drawn to the other end of its play.
    CREEP = "creep"


@dataclass(frozen=True)
class Act:
    """One thing done along an axis. ``sign`` is that of the coordinate of the cutter over the work.

    With ``turns`` so many whole turns are counted, and on to the reading; without, about ``travel``.
    """

    do: Do
    axis: str
    sign: int = 1
    travel: Fraction = Fraction(0)
    reading: Fraction | None = None
    turns: int | None = None


@dataclass(frozen=True)
class Hands:
    """What is done at a step: ``first`` before it, then at each place it asks for, then it is cut or not.

    ``wide`` is the diameter of the cutter that is put in, 0 for the right one; ``misread`` is added to what is
    measured. Of a holding: ``chip`` is how thick what lies under the work's left end, ``jaw`` how far the fixed jaw
    runs out over ``REACH``, ``lean`` how far the head leans over it.
    """

    first: tuple[Act, ...] = ()
    gos: tuple[tuple[Act, ...], ...] = ()
    cut: bool = True
    wide: Fraction = Fraction(0)
    misread: Fraction = Fraction(0)
    chip: Fraction = Fraction(0)
    jaw: Fraction = Fraction(0)
    lean: Fraction = Fraction(0)

    def at(self, number: int, acts: tuple[Act, ...]) -> Hands:
        """The same, but for what is done for one of the places."""
        return replace(self, gos=(*self.gos[:number], acts, *self.gos[number + 1 :]))


def tip(unit: Unit) -> Fraction:
    """The diameter of an edge finder's tip as both systems have it, mm."""
    return Length("0.200", Unit.INCH).mm if unit is Unit.INCH else Length("10", Unit.MM).mm


def told(step: RunStep, slides: Slides) -> Hands:
    """What somebody does who does just what a step says."""
    first: tuple[Act, ...] = ()
    if step.zero is not None:
        axis, side = step.zero.axis, step.zero.side
        ring = Act(Do.RING, axis)
        if step.zero.by == "finder":
            half = tip(slides.of[axis].ring.unit) / 2
            dial = slides.of[axis].ring.dial
            on = Act(Do.TURN, axis, side, half, (dial.sign * side * half) % dial.turn)
            first = (Act(Do.TOUCH, axis, side, half), ring, on, ring)
        else:
            first = (Act(Do.TOUCH, axis, side), ring)
    return Hands(first, tuple(_turned(go, slides) for go in step.go), step.kind in (StepKind.PASS, StepKind.HOLE))


def _turned(go: Go, slides: Slides) -> tuple[Act, ...]:
    grows = slides.of[go.axis].ring.dial.grows
    return tuple(Act(Do.TURN, go.axis, 1 if x.turning is grows else -1, x.travel, x.reading) for x in go.legs)
