"""The edge rig's state: finder, holder, speed, the slide."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.locating.centre import agree
from incudo.core.locating.datum import shown
from incudo.core.locating.finders import COMES, FINDERS, Face, Finder
from incudo.core.practice.rigs.base import State
from incudo.core.practice.rigs.slide import NO_DIAL, Slide
from incudo.core.shop.machine import Axis

SPEEDS = (0, 300, 600, 1000, 2000)


#: How far the free tip swings, and how far it may be pushed on before it is bent, in mm.
SWING, BENT = Fraction(6, 5), Fraction(3, 2)


SHIPPED_FINDERS = {Unit.INCH: ("kick-in", "wiggler-in"), Unit.MM: ("kick-mm", "wiggler-in")}


HOLDERS = {"collet": say("in a collet"), "chuck": say("in a drill chuck")}


@dataclass
class EdgeState(State):
    """The finder over the work. ``touched`` are screw places of the touches that were noted."""

    slide: Slide = field(default_factory=lambda: Slide(NO_DIAL, axis=Axis.X))
    face: Face = Face.LEFT
    edge: Fraction = Fraction(0)
    burr: Fraction = Fraction(0)
    runout: Fraction = Fraction(0)
    late: Fraction = Fraction(0)
    finder: str = ""
    holder: str = ""
    speed: int = 0
    raised: bool = False
    touched: list[Fraction] = field(default_factory=list)
    noted: bool = False
    zeroed: Fraction | None = None
    parts: tuple[tuple[str, Fraction], ...] = ()

    @property
    def side(self) -> int:
        return COMES[self.face][1]

    @property
    def what(self) -> Finder | None:
        return FINDERS[self.finder] if self.finder else None

    @property
    def right_speed(self) -> bool:
        band = self.what.speed if self.what else None
        return band is not None and band[0] <= self.speed <= band[1]

    @property
    def half(self) -> Fraction:
        return self.what.tip.mm / 2 if self.what else Fraction(0)

    def gap(self, at: Fraction) -> Fraction:
        """Between the turning tip and what it meets first; below 0 it is pushed."""
        out = self.runout if self.holder == "chuck" else Fraction(0)
        return self.side * (self.edge - at) - self.half - self.burr - out

    @property
    def kicked(self) -> bool:
        late = Fraction(0) if self.right_speed else self.late
        return bool(self.finder) and not self.raised and self.speed > 0 and self.gap(self.slide.at) <= -late

    @property
    def agreed(self) -> Fraction | None:
        """The mean of the last two touches when they agree."""
        last = self.touched[-2:]
        return agree(last, self.slide.dial.division) if len(last) == 2 else None


def said_in(s: EdgeState, mm: Fraction) -> str:
    """A length in mm, in the unit of the rig."""
    return f"{shown(mm, s.setup.unit)} {s.setup.unit}"
