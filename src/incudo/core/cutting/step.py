"""One step of a run card: what is done next, in words that can be read at two metres."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.cutting.slides import Go
from incudo.core.parts.holds import Hold


class StepKind(StrEnum):
    """What a step is."""

    HOLD = "hold"
    CUTTER = "cutter"
    ZERO = "zero"
    SET = "set"
    PASS = "pass"  # noqa: S105 (no password)
    MEASURE = "measure"
    HOLE = "hole"
    HAND = "hand"


@dataclass(frozen=True)
class Check:
    """A measurement before the last pass, lengths in mm.

    ``number`` is that of the drawing, 0 where the depth so far is measured. ``before`` is what was to be read before
    the last pass but one, ``expected`` now, ``aim`` in the end (the middle of the limits), ``low`` and ``high`` the
    limits, none where the drawing gives none here. ``falls`` says whether the reading falls while metal goes.
    ``axis`` is set anew from the reading.
    """

    number: int
    words: str
    axis: str
    before: Fraction
    expected: Fraction
    aim: Fraction
    low: Fraction | None
    high: Fraction | None
    falls: bool

    def left(self, reading: Fraction) -> Fraction:
        """How much is to come off still; less than 0 when too much is gone."""
        return reading - self.aim if self.falls else self.aim - reading


@dataclass(frozen=True)
class Zero:
    """Along an axis the dial shows 0 with the cutter at ``place``, mm, come to in the sense ``side``."""

    axis: str
    place: Fraction
    side: int


@dataclass(frozen=True)
class RunStep:
    """One step. ``head`` is the operation that it belongs to; ``do`` are its sentences in order, ``why``
    is said small.

    ``starts``: the spindle turns for the first time in this operation. ``holds`` are
    the hold points that it waits for. ``seconds`` is what the plan expects.
    """

    id: str
    kind: StepKind
    holding: str
    operation: str
    title: str
    head: str = ""
    do: tuple[str, ...] = ()
    go: tuple[Go, ...] = ()
    why: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    check: Check | None = None
    zero: Zero | None = None
    starts: bool = False
    holds: tuple[Hold, ...] = ()
    seconds: Fraction = Fraction(0)
