"""Measuring instruments: how sure they are, and whether they may decide."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from fractions import Fraction
from typing import TypeVar

from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say
from incudo.core.measuring.tolerance import Limits


class Measure(StrEnum):
    """What an instrument measures, and what a requirement asks to have measured."""

    SIZE = "size"
    DIFFERENCE = "difference"
    ANGLE = "angle"
    THREAD = "thread"
    FINISH = "finish"


#: What the kinds of instrument measure that do not measure sizes.
MEASURES = {
    "indicator": Measure.DIFFERENCE,
    "protractor": Measure.ANGLE,
    "thread gauge": Measure.THREAD,
    "finish specimens": Measure.FINISH,
}


class Suitability(StrEnum):
    """How an instrument's uncertainty stands to the width of the limits."""

    IDEAL = "ideal"
    ALLOWED = "allowed"
    COARSE = "coarse"
    USELESS = "useless"
    UNFIT = "unfit"


def grade(u: Fraction, width: Fraction) -> Suitability:
    """How an uncertainty U stands to a full width UL - LL: a tenth is ideal, a quarter allowed."""
    if 10 * u <= width:
        return Suitability.IDEAL
    if 4 * u <= width:
        return Suitability.ALLOWED
    return Suitability.COARSE if 2 * u <= width else Suitability.USELESS


#: From the one that should be taken to the one that cannot be.
BEST_FIRST = (
    Suitability.IDEAL,
    Suitability.ALLOWED,
    Suitability.COARSE,
    Suitability.USELESS,
    Suitability.UNFIT,
)


@dataclass(frozen=True)
class Instrument:
    """An instrument of the shop.

    ``uncertainty`` is the expanded uncertainty U, ``resolution`` the smallest
    step it shows, ``zero_error`` what it reads at zero (reading minus zero
    error is the corrected reading). ``least`` to ``most`` is what it can span;
    what it ``measures`` is one thing only (an indicator differences, a thread gauge its own ``thread``). Gauges and
    specimens answer yes or no: their lengths say nothing.
    """

    name: str
    least: Length
    most: Length
    measures: Measure
    resolution: Length
    uncertainty: Length
    zero_error: Length
    due: date
    tagged_out: str = ""
    thread: str = ""

    def cannot_decide(self, today: date) -> str:
        """Why its readings decide nothing today; empty when they do."""
        if self.tagged_out:
            return say("{name} is tagged out: {tagged_out}", name=self.name, tagged_out=self.tagged_out)
        if self.due < today:
            return say("{name} is overdue for its check since {due}", name=self.name, due=self.due)
        return ""

    @property
    def answers(self) -> bool:
        """Whether it answers yes or no: a gauge, specimens."""
        return self.measures in (Measure.THREAD, Measure.FINISH)

    def may_read(self, measure: Measure) -> bool:
        """Whether its readings are of this at all: one that measures sizes or differences stands in for the other."""
        either = {Measure.SIZE, Measure.DIFFERENCE}
        return self.measures is measure or {self.measures, measure} <= either

    def can_show(self, value: Length, *, signed: bool = False) -> bool:
        """Whether a reading lies in what it can span; its entry in the register says how far, overrun and all.

        ``signed`` for an indicator that was set to zero somewhere: it spans as far to either side.
        """
        return self.least.mm <= (abs(value.mm) if signed else value.mm) <= self.most.mm

    @property
    def least_width(self) -> Fraction:
        """The narrowest limits (UL - LL, in mm) that it is allowed for: four times U."""
        return 4 * self.uncertainty.mm

    def suitability(self, limits: Limits | None, measure: Measure, thread: str = "") -> Suitability:
        """U against the full width UL - LL: a tenth is ideal, a quarter allowed.

        ``limits`` are ``None`` for what is answered yes or no; ``thread`` is the one that a gauge must be for. An
        instrument for something else, or that cannot span the size, is unfit. Above half the width (2U > width) no
        reading can be called in under a guard band. A lone minimum has no width and takes any instrument.
        """
        if self.measures is not measure:
            return Suitability.UNFIT
        if limits is None:
            return Suitability.IDEAL if self.thread == thread else Suitability.UNFIT
        size = limits.upper if limits.upper is not None else limits.lower
        difference = measure is Measure.DIFFERENCE
        if not difference and size is not None and not self.least.mm <= size <= self.most.mm:
            return Suitability.UNFIT
        return Suitability.IDEAL if limits.width is None else grade(self.uncertainty.mm, limits.width)


K = TypeVar("K")


def offered(
    tools: Mapping[K, Instrument], limits: Limits | None, unit: Unit, today: date, measure: Measure, thread: str = ""
) -> K | None:
    """The instrument to take for these limits: the best suited that may decide today, the drawing's unit first.

    Where none may decide, the first there is; ``None`` in a shop without instruments.
    """
    usable = {k: x for k, x in tools.items() if not x.cannot_decide(today)} or dict(list(tools.items())[:1])

    def rank(k: K) -> tuple[int, bool]:
        x = usable[k]
        return BEST_FIRST.index(x.suitability(limits, measure, thread)), x.resolution.unit is not unit

    return min(usable, key=rank, default=None)
