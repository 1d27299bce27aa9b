"""The vise rig's state: the body, its bolts, the indicator, what lies underneath."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import State
from incudo.core.setup.record import VisePass
from incudo.core.setup.standard import ViseSchool

LOOSE, SNUG, FIRM, TIGHT = 0, 1, 2, 3


GRIP_WORDS = ("loose", "snug", say("half tight"), "tight")


#: How far a tap moves the jaw's end when one bolt is snug and the other loose, in mm.
TAPS = {1: 0.012, 2: 0.05, 3: 0.22}


TAP_WORDS = {1: "lightly", 2: "firmly", 3: "hard"}


#: The indicator's whole travel, and how far in the tip is brought at first.
TRAVEL = 0.8


#: How far the vise turns when a bolt is drawn up and the other lags behind, as mm over the jaw.
PULLS = {0: 0.0, 1: 0.0015, 2: 0.014, 3: 0.04}


ENDS = ("left", "right")


@dataclass
class ViseState(State):
    """The vise: middle of the jaw's face and its angle; bolts; indicator; what lies underneath."""

    x: float = 0.0
    y: float = 0.0
    angle: float = 0.0
    bolts: dict[str, int] = field(default_factory=lambda: {"left": FIRM, "right": FIRM})
    table: float = 0.0
    touched: bool = False
    tip_y: float = 0.0
    zero: float = 0.0
    sense: int = 1
    hammer: str = "soft"
    chip: bool = False
    pushed: bool = False
    pull: dict[str, float] = field(default_factory=dict)
    sweeps: list[VisePass] = field(default_factory=list)
    changed: bool = True
    last_end: tuple[str, float] | None = None
    zeroed: bool = False
    aim: float | None = None
    dirt: bool = False
    far: bool = False

    @property
    def school(self) -> ViseSchool:
        return self.setup.rules.vise_school

    @property
    def walks(self) -> bool:
        """Whether both bolts stay snug now; a vise that is far out is swung in about one bolt first."""
        return self.school is ViseSchool.WALK_IN and not self.far

    @property
    def standard(self) -> Fraction:
        """The shop's, in mm over the jaw."""
        return self.setup.rules.vise.mm

    @property
    def length(self) -> float:
        """What is read along: the jaw, or a parallel that reaches beyond the bolts."""
        return self.setup.bolts + 60 if self.school is ViseSchool.LONG_PARALLEL else self.setup.jaw

    def station(self, end: str) -> float:
        """Where one reads at an end: a little inside it."""
        return (self.length / 2 - 6) * (-1 if end == "left" else 1)

    def bolt(self, end: str) -> tuple[float, float]:
        """Where a bolt stands on the table."""
        half = self.setup.bolts / 2 * (-1 if end == "left" else 1)
        return half, -self.setup.bolts_before

    def face(self, x: float) -> float:
        """Y of the jaw's face at a place of the table."""
        return self.y + (x - self.x) * math.tan(self.angle)

    def plunger(self, x: float) -> float:
        """How far the tip is pushed in, 0 to its whole travel."""
        return min(max(self.tip_y - self.face(x), 0.0), TRAVEL)

    def reading(self, x: float) -> float:
        """What the needle shows, in mm; a lever set the other way turns it round."""
        return self.sense * (self.plunger(x) - self.zero)

    def turn(self, about: tuple[float, float], angle: float) -> None:
        """Turn the vise about a point, exactly."""
        dx, dy = self.x - about[0], self.y - about[1]
        c, s = math.cos(angle), math.sin(angle)
        self.x, self.y = about[0] + c * dx - s * dy, about[1] + s * dx + c * dy
        self.angle += angle

    @property
    def tight(self) -> bool:
        return all(v == TIGHT for v in self.bolts.values())

    @property
    def off(self) -> float:
        """How far out of true over the jaw, truly."""
        return abs(math.tan(self.angle)) * self.setup.jaw
