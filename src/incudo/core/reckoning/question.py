"""What a question is made from: what a shop has, and chance."""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.kernel.say import say, together
from incudo.core.reckoning.bench import Bench, Filled, fills, x_handle
from incudo.core.reckoning.inputs import shown
from incudo.core.shop.cutter import Cutter, CutterKind, Thread
from incudo.core.shop.machine import Machine
from incudo.core.shop.material import Stock

K = CutterKind


Given = dict[str, dict[str, str]]


@dataclass(frozen=True)
class ShopFacts:
    """What a shop has: machines by name, materials, cutters, threads; which step of a spindle it takes."""

    machines: Mapping[str, Machine]
    stocks: Sequence[Stock]
    cutters: Sequence[Cutter]
    threads: Mapping[str, Thread]
    school: str = "below"


@dataclass(frozen=True)
class Question:
    """A question: what is given (as inputs), in which unit the answer is wanted and how near it must come.

    ``hidden`` inputs are not shown: the student reads them off the rest.
    """

    calculation: str
    words: str
    given: Given
    unit: str
    near: Fraction
    near_words: str
    hidden: tuple[str, ...] = ()


@dataclass(frozen=True)
class Draw:
    """Chance, within what a shop has."""

    rng: random.Random
    facts: ShopFacts
    name: str
    machine: Machine

    @property
    def unit(self) -> Unit:
        return self.machine.unit

    def pick(self, *values: str) -> str:
        """One of these."""
        return self.rng.choice(values)

    def size(self, low: float, high: float, step: float | None = None) -> str:
        """A length between two given in mm, in the machine's unit, in steps of a drawing."""
        inch = self.unit is Unit.INCH
        grain = Fraction(str(step or 1)) if not inch else Fraction(str((step or 1) / 20)).limit_denominator(2000)
        count = self.rng.randint(*(int(Fraction(str(x)) / self.unit.in_mm / grain) for x in (low, high)))
        return shown(max(count, 1) * grain, 4)

    def length(self, text: str) -> dict[str, str]:
        """A length in the machine's unit, as an input."""
        return {"value": text, "unit": self.unit}

    def mm(self, text: str) -> Fraction:
        return Length(text, self.unit).mm

    def cutter(self, *kinds: CutterKind) -> Cutter:
        """A cutter of one of these kinds, of the machine's unit where there is one."""
        all_of = [c for c in self.facts.cutters if c.kind in kinds and c.owned]
        own = [c for c in all_of if c.unit is self.unit]
        if not all_of:
            raise Refused.of("cutters", "", say("this shop has no {kinds}", kinds=kinds[0]))
        return self.rng.choice(own or all_of)

    def bench(self, cutter: Cutter | None = None) -> tuple[Bench, Mapping[str, Filled], str]:
        """A material for a cutter, what both say, and their names."""
        stocks = [s for s in self.facts.stocks if Bench(self.machine, s, cutter).range] if cutter else []
        stock = self.rng.choice(stocks) if stocks else None
        b = Bench(self.machine, stock, cutter, self.facts.cutters, self.facts.threads)
        names = [self.name, *([cutter.name] if cutter else []), *([stock.material.name] if stock else [])]
        return b, fills(b), together(names, ", ")

    @property
    def dial(self) -> tuple[Fraction, str]:
        """Half a division of the X dial, and how it is said."""
        handle = x_handle(self.machine)
        half = Length(handle.per_turn, handle.unit).mm / handle.graduations / 2
        return half, say("to half a division of {name}'s dial", name=self.name)

    @property
    def fine(self) -> tuple[Fraction, str]:
        """What a length is asked to where no dial decides."""
        return (
            (Fraction(254, 10) / 2000, "to 0.0005 in") if self.unit is Unit.INCH else (Fraction(1, 100), "to 0.01 mm")
        )


def filled(f: Filled) -> dict[str, str]:
    return {"value": f.value, "unit": f.unit}


def coarse(d: Draw) -> tuple[Fraction, str]:
    return (Fraction(254, 10) / 500, "to 0.002 in") if d.unit is Unit.INCH else (Fraction(1, 20), "to 0.05 mm")
