"""The bore rig: an indicator turned in a bore or around a boss; move by handles with play until it stands central."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import sense
from incudo.core.kernel.say import Text, say, together
from incudo.core.locating.centre import AGREE, Sweep, agreement, swept
from incudo.core.locating.datum import shown
from incudo.core.locating.screw import DialShown
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, State
from incudo.core.practice.rigs.slide import NO_DIAL, Slide, a_slide
from incudo.core.shop.machine import Axis

#: The indicator's travel, in mm; a needle beyond it says nothing.
TRAVEL = 0.8
_X, _Y = (say("to the left"), say("to the right")), ("forward", "back")
_PLACES = (("E", 0), ("N", 90), ("W", 180), ("S", 270))


@dataclass
class BoreState(State):
    """Both handles, the true centre, and what the last swing read. ``aim`` are screw places that follow from it."""

    x: Slide = field(default_factory=lambda: Slide(NO_DIAL, axis=Axis.X))
    y: Slide = field(default_factory=lambda: Slide(NO_DIAL, axis=Axis.Y))
    centre: tuple[Fraction, Fraction] = (Fraction(0), Fraction(0))
    radius: float = 20.0
    boss: bool = False
    oval: float = 0.0
    oval_at: float = 0.0
    isolated: bool = False
    swung: bool = False
    sweep: Sweep | None = None
    aim: tuple[Fraction, Fraction] | None = None
    curve: tuple[tuple[float, float], ...] = ()
    zeroed: tuple[Fraction, Fraction] | None = None

    @property
    def off(self) -> tuple[Fraction, Fraction]:
        return self.x.at - self.centre[0], self.y.at - self.centre[1]

    @property
    def allowed(self) -> Fraction:
        return agreement(max(self.x.dial.division, self.y.dial.division) / 2)

    def needle(self, degrees: float) -> float:
        """What the needle shows at an angle, stopped at the ends of its travel."""
        ox, oy = (float(v) for v in self.off)
        if math.hypot(ox, oy) >= self.radius / 2:
            return TRAVEL
        wall = self.oval * math.cos(2 * math.radians(degrees - self.oval_at))
        raw = swept(self.radius, (ox, oy), degrees, boss=self.boss) + (wall if self.boss else -wall)
        return max(-TRAVEL, min(TRAVEL, raw))


class BoreScene(BaseModel):
    """What is drawn: the needle against the angle of the last swing; ``stood`` (mm off) only after the run."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["bore"] = "bore"
    dials: tuple[DialShown, DialShown]
    boss: bool
    isolated: bool
    curve: tuple[tuple[float, float], ...]
    reads: tuple[Text, ...]
    travel: float
    fresh: bool
    zeroed: bool
    radius: float
    stood: tuple[float, float] | None


class BoreRig(Rig[BoreState]):
    id = "bore"
    name = say("Centre a bore")
    about = say("An indicator turned by hand in a bore or around a boss: read four places, move both axes, read again.")
    skill = "centre-bore"
    heads = ("E", "N", "W", "S")
    levels = (
        Level(1, say("A bore, nearly central"), say("A round bore, roughly centred already.")),
        Level(
            2, say("Boss or bore, far off"), say("On a boss the sense is the other way; rough centring comes first.")
        ),
        Level(3, say("Out of round"), say("It is oval: what can be centred is its mean.")),
    )

    def start(self, setup: RigSetup, level: int, seed: str) -> BoreState:
        s = BoreState(setup, level, seed)
        chance = s.chance("bore")
        s.x, s.y = a_slide(chance, setup.unit, Axis.X), a_slide(chance, setup.unit, Axis.Y)
        s.radius = chance.choice((10.0, 16.0, 25.0))
        s.boss = level > 1 and chance.random() < 0.6
        far = 3 if level == 1 else 25
        s.centre = tuple(Fraction(chance.choice((-1, 1)) * chance.randint(far, far * 4), 20 * 4) for _ in "xy")  # type: ignore[assignment]
        if level > 1:
            s.centre = (s.centre[0] * 3, s.centre[1] * 3)
        if level == 3:
            s.oval, s.oval_at = chance.uniform(0.03, 0.07), chance.choice((0.0, 90.0, 20.0))
        return s

    def act(self, s: BoreState, a: Action) -> None:
        match a.do:
            case "isolate":
                s.isolated = True
                s.said = say("Isolated and out of gear: the spindle turns by hand only.")
            case "rough":
                self._rough(s)
            case "swing":
                self._swing(s)
            case "turn":
                self._turn(s, a)
            case "zero":
                s.x.ring, s.y.ring = s.x.screw, s.y.screw
                s.zeroed = (s.x.at, s.y.at)
                s.said = say("Both rings are at 0 here.")
            case _:
                raise Refused.of("do", a.do, say("is not an action at this rig"))

    def _turn(self, s: BoreState, a: Action) -> None:
        slide = {"x": s.x, "y": s.y}.get(a.on)
        if slide is None:
            raise Refused.of("on", a.on, say("must be x or y"))
        slide.act(a)
        s.motion = tuple((ring, 0.0) for ring, _ in slide.frames)
        s.swung = False

    def _rough(self, s: BoreState) -> None:
        """A pin brought into the bore by eye, or a finder around the boss: within a few tenths."""
        chance = s.chance("rough")
        for slide, centre in ((s.x, s.centre[0]), (s.y, s.centre[1])):
            half = slide.dial.division / 2
            place = round((centre + Fraction(chance.randint(-25, 25), 100)) / half) * half
            slide.screw = slide.at = place
            slide.sense, slide.since = 1, Fraction(1000)
        s.swung, s.aim = False, None
        s.said = say("Set by a pin it is within a few tenths; both handles were turned so that the coordinate rises.")

    def _swing(self, s: BoreState) -> None:
        if not s.isolated:
            s.fault(say("The spindle was turned by hand without being isolated."), critical=True)
        s.curve = tuple((float(d), s.needle(d)) for d in range(0, 361, 10))
        s.motion = tuple((d / 360, r) for d, r in s.curve)
        reads = [s.needle(d) for _, d in _PLACES]
        if any(abs(r) >= TRAVEL for r in reads):
            s.said, s.warned = say("The needle is at the end of its travel: centre roughly first."), True
            s.aim = None
            return
        east, north, west, south = (s.setup.seen(r) for r in reads)
        s.sweep = Sweep(east.mm, north.mm, west.mm, south.mm, s.boss)
        ox, oy = s.sweep.off
        s.aim = (s.x.dial.nearest(s.x.screw - ox, s.x.ring), s.y.dial.nearest(s.y.screw - oy, s.y.ring))
        s.swung = True
        worst = float(max(abs(ox), abs(oy)))
        best = (
            say("{n} by {v} {w}", n=n, v=shown(abs(v), s.setup.unit), w=w[sense(v) == 1])
            for n, v, w in (("X", -ox, _X), ("Y", -oy, _Y))
            if v
        )
        words = (
            say("the cutter over the work: {best}", best=together(best, ", "))
            if worst > s.allowed
            else say("central: set both rings to 0")
        )
        s.passes.append(Pass(tuple(v.text for v in (east, north, west, south)), worst, words, tight=False))
        s.said = say("Read at all four places.")

    def controls(self, s: BoreState) -> tuple[Control, ...]:
        done = say("it is done") if s.isolated else ""
        return (
            Control(Action(do="isolate"), say("Isolate the spindle, out of gear"), say("The spindle"), done),
            Control(Action(do="rough"), say("Centre roughly with a pin"), say("The spindle")),
            Control(Action(do="swing"), say("Swing the indicator around"), say("The spindle")),
            Control(Action(do="zero"), say("Set both rings to 0"), say("The spindle")),
            *s.x.controls("X"),
            *s.y.controls("Y"),
        )

    def advice(self, s: BoreState) -> Advice:
        if not s.isolated:
            return Advice(Action(do="isolate"), say("Isolate it and take it out of gear: it is turned by hand."))
        if s.aim is None:
            far = s.curve and not s.swung
            if far or s.level > 1:
                rough = Advice(Action(do="rough"), say("Far off the needle has no room: bring it in with a pin first."))
                return rough if not self._is_rough(s) else Advice(Action(do="swing"), say("Now swing it around once."))
            return Advice(Action(do="swing"), say("Swing it around once and read the four places."))
        if s.swung and s.sweep and max(abs(v) for v in s.sweep.off) <= s.allowed:
            if s.zeroed == (s.x.at, s.y.at):
                return Advice(Action(do="finish"), say("Both rings are at 0 over the centre: finish."))
            return Advice(Action(do="zero"), say("It is central within what a division can set: set both rings to 0."))
        sense = say("towards the lower reading") if s.boss else say("towards the higher reading")
        for slide, target in ((s.x, s.aim[0]), (s.y, s.aim[1])):
            on = slide.towards(target)
            if on:
                words = say(
                    "It is off {sense}, by half the difference. {axis}: {words}",
                    sense=sense,
                    axis=slide.axis.upper(),
                    words=on.words,
                )
                return Advice(on.action, words)
        return Advice(Action(do="swing"), say("Both axes are moved: swing it around again."))

    def _is_rough(self, s: BoreState) -> bool:
        """What one sees without an indicator: whether the pin stands about in the middle."""
        return all(abs(v) <= Fraction(3, 10) for v in s.off)

    def standard(self, setup: RigSetup) -> float:
        return float(AGREE)

    def task(self, s: BoreState) -> str:
        what = say("over the middle of the boss") if s.boss else say("over the middle of the bore")
        return say("Bring the spindle {what} and set both dials to zero there.", what=what)

    def judge(self, s: BoreState) -> tuple[list[str], str]:
        if s.zeroed is None:
            return [say("no zero was set")], say("No zero was set.")
        off = [abs(a - c) for a, c in zip(s.zeroed, s.centre, strict=True)]
        allowed = s.allowed + s.setup.division.mm / 2
        x, y = (f"{shown(v, s.setup.unit)} {s.setup.unit}" for v in off)
        truth = say("The zero is {x} off the centre along X and {y} along Y.", x=x, y=y)
        reasons = [truth] if max(off) > allowed else []
        if not s.swung:
            reasons.append(say("it was not read again after the last move"))
        return reasons, truth

    def scene(self, s: BoreState) -> BoreScene:
        ox, oy = (float(v) for v in s.off)
        return BoreScene(
            dials=(s.x.seen(), s.y.seen()),
            boss=s.boss,
            isolated=s.isolated,
            curve=s.curve,
            reads=s.passes[-1].cells if s.passes else (),
            travel=TRAVEL,
            fresh=s.swung,
            zeroed=s.zeroed is not None,
            radius=s.radius,
            stood=(ox, oy) if s.finished else None,
        )
