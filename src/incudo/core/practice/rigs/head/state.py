"""The head rig's state: angles, bolts, the arm, the knee, what lies on the table."""

from __future__ import annotations

from dataclasses import dataclass, field

from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import State
from incudo.core.setup.record import HeadPass, axes_in_order
from incudo.core.setup.standard import Slope
from incudo.core.setup.tram import HeadAxis

LOOSE, DRAG, HALF, TIGHT = 0, 1, 2, 3


GRIP_WORDS = ("loose", say("at a drag"), say("half tight"), "tight")


TRAVEL = 0.8


#: The arm: how far from the spindle the tip touches, in mm.
ARM = 100.0


#: A turn of the screw, small to large, in radians.
TURNS = {1: 0.00005, 2: 0.0003, 3: 0.0018}


#: A tap at the side of the head while its bolts drag, in radians.
TAP = 0.00004


TURN_WORDS = {1: "a hair", 2: "a little", 3: "a lot"}


#: What a bolt pulls when it is drawn up and the slackest of its axis lags so much behind, in radians.
PULLS = {0: 0.0, 1: 0.000008, 2: 0.00012, 3: 0.0003}


BOLTS = {
    HeadAxis.TILT: ("top-left", "bottom-right", "top-right", "bottom-left"),
    HeadAxis.NOD: ("nod-left", "nod-right"),
}


PLACES = {"right": (1, 0), "rear": (0, 1), "left": (-1, 0), "front": (0, -1)}


DEGREES = {"right": 0.0, "rear": 90.0, "left": 180.0, "front": 270.0}


#: Which way a screw turns the head: (axis, way) → sign of the angle.
WAYS = {("tilt", "clockwise"): 1, ("tilt", "anticlockwise"): -1, ("nod", "back"): 1, ("nod", "forward"): -1}


AXIS_WORDS = {HeadAxis.TILT: say("side to side"), HeadAxis.NOD: say("front to back")}


@dataclass
class HeadState(State):
    """The head's angles, bolts, the arm, the knee, what lies on the table."""

    tilt: float = 0.0
    nod: float = 0.0
    behind: float = 120.0
    behind_known: bool = True
    base: float = 0.0
    bolts: dict[str, int] = field(default_factory=lambda: {b: TIGHT for a in BOLTS.values() for b in a})
    pull: dict[str, float] = field(default_factory=dict)
    at: str = "right"
    down: bool = False
    zero: float = 0.0
    isolated: bool = False
    wiped: bool = False
    parallels: bool = False
    clamped: bool = True
    burr: str = ""
    slot: str = ""
    sag: float = 0.0
    stamp: int = 0
    read: dict[str, tuple[int, float]] = field(default_factory=dict)
    sweeps: list[HeadPass] = field(default_factory=list)
    swept: dict[HeadAxis, int] = field(default_factory=dict)
    rebased: bool = False

    @property
    def axes(self) -> tuple[HeadAxis, ...]:
        return axes_in_order(self.setup.rules, tilt=True, nod=self.level > 1)

    @property
    def standard(self) -> Slope:
        return self.setup.rules.head

    @property
    def tight(self) -> bool:
        return all(v == TIGHT for v in self.bolts.values())

    def in_slot(self, station: str) -> bool:
        return station == self.slot and not self.parallels

    def plunger(self, station: str) -> float:
        """How far the tip is pushed in at a station; 0 when it hangs in a slot."""
        if self.in_slot(station):
            return 0.0
        x, y = PLACES[station]
        sag = 0.0 if self.clamped else self.sag * ARM * y
        burr = 0.03 if station == self.burr else 0.0
        value = self.base + ARM * (self.tilt * x + self.nod * y) + sag + burr
        return min(max(value, 0.0), TRAVEL)

    def reading(self, station: str) -> float:
        return self.plunger(station) - self.zero

    @property
    def stopped(self) -> bool:
        """Whether the needle is at an end of its travel where the tip stands."""
        return self.plunger(self.at) in (0.0, TRAVEL)
