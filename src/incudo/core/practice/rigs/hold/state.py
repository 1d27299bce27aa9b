"""The holding rig's state: a part, a vise, a drawer of parallels, or straps."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import State
from incudo.core.setup.holding import (
    Cut,
    Drilled,
    Held,
    JawVise,
    ParallelPair,
    Said,
    Strap,
    Weight,
    Work,
    hold,
    sized,
)

#: Bolt places of a strap: from the work's end and from the heel, in mm.
BOLTS = {"near": (20, 60), "middle": (40, 40), "far": (60, 20)}


HEELS = {"lower": -2, "hair-higher": 1, "much-higher": 12}


HEEL_WORDS = {
    "lower": say("lower than the work"),
    "hair-higher": say("a hair higher"),
    "much-higher": say("much higher"),
}


@dataclass
class HoldState(State):
    """The case (work, cuts, drawer) and what was chosen."""

    work: Work = field(default_factory=lambda: Work(Fraction(1), Fraction(1), Fraction(1)))
    vise: JawVise = field(default_factory=lambda: JawVise(Fraction(1), Fraction(1), Fraction(1)))
    drawer: tuple[ParallelPair, ...] = ()
    cuts: tuple[Cut, ...] = ()
    holes: tuple[Drilled, ...] = ()
    rough: bool = False
    runs_out: str = ""
    strapped: bool = False
    pair: int | None = None
    chosen: bool = False
    stop: str = ""
    bar: bool = False
    tight: bool = False
    tapped: bool = False
    tried: bool = False
    bolt: str = ""
    heel: str = ""
    strap_side: str = ""
    second: bool = False

    @property
    def held(self) -> Held:
        pair = None if self.pair is None else self.drawer[self.pair]
        return hold(self.work, self.vise, pair, self.cuts, self.holes, self.setup.unit)

    @property
    def strap(self) -> Strap | None:
        if not self.bolt or not self.heel:
            return None
        a, c = BOLTS[self.bolt]
        return Strap(Fraction(a), Fraction(c), Fraction(HEELS[self.heel]))

    def said_all(self) -> list[Said]:
        """Everything that is wrong with how it is held now."""
        return [*self._strap_said()] if self.strapped else [*self._vise_said()]

    def _vise_said(self) -> list[Said]:
        found = [*self.held.said]
        if not self.chosen:
            found.append(Said(Weight.WEAK, "parallel", say("Nothing is chosen to stand the work on.")))
        if self.rough and not self.bar:
            words = say(
                "The rough face at the moving jaw turns the work off the fixed jaw: a soft round bar goes between."
            )
            found.append(Said(Weight.WEAK, "bar", words))
        if not self.rough and self.bar:
            words = say("Both faces are good: the round bar only lessens the grip.")
            found.append(Said(Weight.WEAK, "bar", words))
        if not self.stop:
            found.append(Said(Weight.WEAK, "stop", say("Without a stop the next part lies elsewhere.")))
        elif self.stop == self.runs_out:
            words = say("The cut runs out at the {runs_out}: the cutter meets the stop.", runs_out=self.runs_out)
            found.append(Said(Weight.HITS, "stop", words))
        found += self._seated()
        return found

    def _seated(self) -> list[Said]:
        if not self.tight:
            return [Said(Weight.HITS, "grip", say("The vise is not tight: the work is thrown."))]
        if not self.tapped:
            words = say("Tightening lifts the work off its seat: tap it down with the soft hammer.")
            return [Said(Weight.WEAK, "seat", words)]
        if not self.tried:
            return [Said(Weight.WEAK, "seat", say("Nobody tried the paper slips: is it seated?"))]
        return []

    def _strap_said(self) -> list[Said]:
        strap = self.strap
        found = [*strap.said()] if strap else [Said(Weight.HITS, "bolt", say("No strap holds the work."))]
        if self.strap_side == self.runs_out:
            found.append(
                Said(
                    Weight.HITS,
                    "strap",
                    say("The cut runs out at the {runs_out}: the cutter meets the strap.", runs_out=self.runs_out),
                )
            )
        if any(h.through for h in self.holes) and self.pair is None:
            found.append(
                Said(
                    Weight.HITS,
                    "bed",
                    say("The drill comes out into the table: parallels under the work, none under the hole."),
                )
            )
        if not self.stop:
            found.append(Said(Weight.WEAK, "stop", say("Without a stop the cut can push the work along the table.")))
        if not self.second:
            words = say("One strap lets the work turn about its bolt: two hold it.")
            found.append(Said(Weight.WEAK, "strap", words))
        if not self.tight:
            found.append(Said(Weight.HITS, "grip", say("The straps are not tight: the work is thrown.")))
        return found


def bolt_words(where: str) -> str:
    """Where a strap has its bolt, in words. Raises ``KeyError`` for no such place."""
    return {
        "near": say("Bolt close to the work"),
        "middle": say("Bolt in the middle"),
        "far": say("Bolt close to the heel"),
    }[where]


def size(s: HoldState, value: Fraction) -> str:
    """A length in mm, in the unit of the rig."""
    return sized(value, s.setup.unit)
