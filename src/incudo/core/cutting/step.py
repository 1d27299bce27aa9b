"""One step of a run card: what is done next, in words that can be read at two metres."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from typing import Literal

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
    the last pass but one, ``expected`` now, ``aim`` in the end (the middle of the limits), ``limits`` the lower and the
    upper one, none where the drawing gives none here. ``falls`` says whether the reading falls while metal goes.
    ``axis`` is set anew from the reading. ``of`` are the names of what is being cut and of what it is measured from.
    """

    number: int
    words: str
    axis: str
    before: Fraction
    expected: Fraction
    aim: Fraction
    limits: tuple[Fraction, Fraction] | None
    falls: bool
    of: tuple[str, str] = ("", "")

    def left(self, reading: Fraction) -> Fraction:
        """How much is to come off still; less than 0 when too much is gone."""
        return reading - self.aim if self.falls else self.aim - reading


@dataclass(frozen=True)
class Zero:
    """Along an axis the dial shows 0 with the cutter at ``place``, mm, come to in the sense ``side``.

    ``on`` is the name of what is touched, ``by`` with what: an edge finder, the end of the cutter or its side, the
    stop.
    """

    axis: str
    place: Fraction
    side: int
    on: str = ""
    by: Literal["finder", "end", "side", "stop"] = "finder"


@dataclass(frozen=True)
class RunStep:
    """One step. ``head`` is the operation that it belongs to; ``do`` are its sentences in order, ``why``
    is said small.

    ``starts``: the spindle turns for the first time in this operation, for which ``skill`` is what a start is asked
    for. ``per_turn`` is how many seconds one turn of the handle takes that is fed by hand. ``holds`` are
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
    skill: str = ""
    per_turn: Fraction | None = None
    holds: tuple[Hold, ...] = ()
    seconds: Fraction = Fraction(0)
