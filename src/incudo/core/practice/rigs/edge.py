"""The edge rig: choose finder, holder and speed, creep up until the tip kicks, twice; then set zero over the edge."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.locating.centre import agree, agreement
from incudo.core.locating.datum import shown, way_words
from incudo.core.locating.finders import COMES, FINDERS, Face, Finder
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, State
from incudo.core.practice.rigs.slide import NO_DIAL, DialShown, Slide, a_slide
from incudo.core.shop.machine import Axis

SPEEDS = (0, 300, 600, 1000, 2000)
#: How far the free tip swings, and how far it may be pushed on before it is bent, in mm.
SWING, BENT = Fraction(6, 5), Fraction(3, 2)
_FINDERS = {Unit.INCH: ("kick-in", "wiggler-in"), Unit.MM: ("kick-mm", "wiggler-in")}
HOLDERS = {"collet": "in a collet", "chuck": "in a drill chuck"}


@dataclass
class EdgeState(State):
    """The finder over the work. ``touched`` are screw places of the touches that were noted."""

    slide: Slide = field(default_factory=lambda: Slide(Axis.X, NO_DIAL))
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


class PartShown(BaseModel):
    """One part of the error of the zero."""

    model_config = ConfigDict(frozen=True)
    words: str
    off: str


class EdgeScene(BaseModel):
    """What is drawn: the tip beside the work. ``gap`` in mm as one sees it; ``parts`` only after the run."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["edge"] = "edge"
    dial: DialShown
    face: Face
    side: int
    tip: float
    body: float
    finder: str
    holder: str
    speed: int
    right_speed: bool
    gap: float
    swing: float
    look: Literal["away", "swings", "nears", "true", "kicked", "raised"]
    burr: bool
    touches: tuple[str, ...]
    zeroed: bool
    parts: tuple[PartShown, ...]


class EdgeRig(Rig[EdgeState]):
    id = "edge"
    name = "Find the edge"
    about = "A finder beside the work: the right holder and speed, creep until it kicks, twice; set zero over the edge."
    skill = "edge-finding"
    heads = ("touch", "the dial shows", "agrees")
    levels = (
        Level(1, "Clean edge", "A left or front edge, clean and smooth."),
        Level(2, "Any side", "Any of four sides, and a burr from the last cut."),
        Level(3, "As it was left", "The finder hangs as somebody left it: look before you begin."),
    )

    def start(self, setup: RigSetup, level: int, seed: str) -> EdgeState:
        s = EdgeState(setup, level, seed)
        chance = s.chance("edge")
        faces = (Face.LEFT, Face.FRONT) if level == 1 else (Face.LEFT, Face.FRONT, Face.RIGHT, Face.REAR)
        s.face = chance.choice(faces)
        s.slide = a_slide(chance, setup.unit, COMES[s.face][0])
        s.edge = s.side * Fraction(chance.randint(900, 1500), 100)
        s.burr = Fraction(chance.randint(6, 14), 100) if level > 1 else Fraction(0)
        s.runout = Fraction(chance.randint(7, 15), 100)
        s.late = Fraction(chance.randint(8, 16), 100)
        if level == 3:
            s.finder, s.holder = _FINDERS[setup.unit][0], "chuck"
        return s

    def act(self, s: EdgeState, a: Action) -> None:
        match a.do:
            case "deburr":
                self._standing(s, "The spindle turns: fingers and stone belong nowhere near it.")
                s.burr = Fraction(0)
                s.said = "Stoned and wiped: edge and tip are clean."
            case "finder":
                self._standing(s, "A finder is changed with the spindle standing.")
                if a.on not in FINDERS:
                    raise Refused.of("on", a.on, "must be a finder of the drawer")
                s.finder, s.touched = a.on, []
                s.said = f"The {FINDERS[a.on].name}: {FINDERS[a.on].tells}."
            case "holder":
                self._standing(s, "The holder is changed with the spindle standing.")
                if a.on not in HOLDERS:
                    raise Refused.of("on", a.on, f"must be one of: {', '.join(HOLDERS)}")
                s.holder, s.touched = a.on, []
            case "speed":
                self._speed(s, int(a.by))
            case "turn":
                self._turn(s, a)
            case "raise":
                s.raised = True
                s.said = "The finder is clear above the work."
            case "lower":
                if s.gap(s.slide.at) <= 0:
                    s.fault("The finder came down on the work.", critical=True)
                else:
                    s.raised = False
            case "note":
                self._note(s)
            case "zero":
                s.slide.ring, s.zeroed = s.slide.screw, s.slide.at
                s.parts = self._parts(s, s.slide.at)
                s.said = "The ring is at 0 here: this is now the edge."
            case _:
                raise Refused.of("do", a.do, "is no action at this rig")

    def _standing(self, s: EdgeState, words: str) -> None:
        if s.speed:
            s.fault(words, critical=True)

    def _speed(self, s: EdgeState, speed: int) -> None:
        if speed not in SPEEDS:
            raise Refused.of("by", speed, f"must be one of: {', '.join(map(str, SPEEDS))}")
        s.speed = speed
        band = s.what.speed if s.what else None
        if speed and not s.finder:
            s.said = "It turns with nothing in it."
        elif band and speed > band[1] * 3 // 2:
            s.fault("That fast the tip flies off: never raise the speed with a finder in.", critical=True)

    def _turn(self, s: EdgeState, a: Action) -> None:
        if a.on != s.slide.axis:
            raise Refused.of("on", a.on, f"must be {s.slide.axis}")
        was = s.gap(s.slide.at)
        s.slide.act(a)
        s.noted = False
        s.motion = tuple((ring, float(s.gap(Fraction(at)))) for ring, at in s.slide.frames)
        gap = s.gap(s.slide.at)
        if s.raised or not s.finder:
            return
        if gap < -BENT:
            s.fault("It was run into the work: the tip is bent.", critical=True)
        elif gap < 0 < was and a.way.endswith(("turn", "ten")):
            s.said, s.warned = "It met the work in one go: how far it was overrun, nobody knows.", True
        elif s.kicked:
            s.said = "It kicks."
        elif gap < SWING / 6:
            s.said = "It hardly swings any more."

    def _note(self, s: EdgeState) -> None:
        if not s.kicked:
            s.said, s.warned = "It does not kick: there is nothing to note.", True
            return
        s.touched.append(s.slide.screw)
        s.noted = True
        mean = s.agreed
        agrees = "" if len(s.touched) < 2 else "yes" if mean is not None else "no"
        s.passes.append(Pass((str(len(s.touched)), s.slide.seen().shows, agrees), 0.0, "", tight=False))
        s.said = "Noted." if agrees != "no" else "They do not agree: back off a whole turn and come again."

    def controls(self, s: EdgeState) -> tuple[Control, ...]:
        ready = "" if s.finder and s.holder else "there is no finder in the spindle"
        down = "the finder is raised" if s.raised else ""
        below = "the work is below it" if s.gap(s.slide.at) <= 0 else ""
        found = [
            *s.slide.controls(s.slide.axis.upper(), ready),
            Control(Action(do="note"), "Note the touch", "The touch", ready or down),
            Control(Action(do="raise"), "Raise the finder", "The touch", ready or down),
            Control(Action(do="lower"), "Lower it", "The touch", ready or ("" if s.raised else "it is down") or below),
            Control(Action(do="zero"), "Set the ring to 0", "The touch", ready),
        ]
        for speed in SPEEDS:
            words = f"{speed} a minute" if speed else "Stop"
            found.append(Control(Action(do="speed", by=speed), words, "Spindle"))
        for name in _FINDERS[s.setup.unit]:
            found.append(Control(Action(do="finder", on=name), FINDERS[name].name.capitalize(), "Finder"))
        for name, words in HOLDERS.items():
            found.append(Control(Action(do="holder", on=name), words.capitalize(), "Held"))
        found.append(Control(Action(do="deburr"), "Stone and wipe the edge", "The work"))
        return tuple(found)

    def advice(self, s: EdgeState) -> Advice:
        prepared = self._prepare(s)
        if prepared:
            return prepared
        if s.agreed is None:
            return self._approach(s)
        if s.zeroed is not None:
            return Advice(Action(do="finish"), "Zero stands over the edge: finish.")
        if not s.raised:
            return Advice(Action(do="raise"), "Both touches agree. Raise the finder clear of the work first.")
        target = s.slide.dial.nearest(s.agreed + s.side * s.half, s.slide.ring)
        on = s.slide.towards(target, s.side)
        if on:
            return Advice(on.action, f"On by half the tip, {_in(s, s.half)}, in the same sense. {on.words}")
        return Advice(Action(do="zero"), "The spindle stands over the edge: set the ring to 0.")

    def _prepare(self, s: EdgeState) -> Advice | None:
        dirty, chuck = s.burr > 0, s.holder != "collet"
        if s.speed and (dirty or chuck or not s.finder):
            return Advice(Action(do="speed", by=0), "Stop the spindle first.")
        if dirty:
            return Advice(Action(do="deburr"), "There is a burr: the tip would touch it and not the edge.")
        if not s.finder:
            name = _FINDERS[s.setup.unit][0]
            return Advice(Action(do="finder", on=name), f"Take the {FINDERS[name].name}.")
        if chuck:
            return Advice(Action(do="holder", on="collet"), "Into a collet: a chuck runs out, and the tip kicks early.")
        if not s.right_speed and s.agreed is None:
            low, high = (s.what.speed if s.what else None) or (0, 0)
            right = next(x for x in SPEEDS if low <= x <= high)
            return Advice(Action(do="speed", by=right), f"Its speed is {low} to {high}: {right} turns a minute.")
        return None

    def _approach(self, s: EdgeState) -> Advice:
        d, side, gap = s.slide.dial, s.side, s.gap(s.slide.at)
        if s.raised:
            return Advice(Action(do="lower"), "Lower the finder beside the work.")
        if s.kicked and not s.noted:
            return Advice(Action(do="note"), "It kicks: note what the dial shows.")
        if s.kicked or gap <= 0:
            return Advice(s.slide.press(-side, d.turn), "Back off a whole turn, to come again in the same sense.")
        way = f"{d.turning(side)}: {way_words(s.slide.axis, side)}"
        for step in ("turn", "ten"):
            if gap > s.slide.travel(step) + 3 * d.division:
                action = Action(do="turn", on=s.slide.axis.value, way=f"{d.turning(side)}-{step}")
                return Advice(action, f"It is well away: turn {way}.")
        action = Action(do="turn", on=s.slide.axis.value, way=f"{d.turning(side)}-one")
        return Advice(action, f"Creep up by single divisions, {way}.")

    def task(self, s: EdgeState) -> str:
        name = {Face.LEFT: "left", Face.RIGHT: "right", Face.FRONT: "front", Face.REAR: "rear"}[s.face]
        return f"Set the {s.slide.axis.upper()} dial to zero over the part's {name} edge."

    def judge(self, s: EdgeState) -> tuple[list[str], str]:
        if s.zeroed is None:
            return ["no zero was set"], "No zero was set."
        off, allowed = s.zeroed - s.edge, agreement(s.slide.dial.division)
        truth = f"The zero lies {_in(s, abs(off))} beside the edge; allowed {_in(s, allowed)}."
        reasons = []
        if abs(off) > allowed:
            reasons = [truth, *(f"{words}: {_in(s, abs(by))}" for words, by in s.parts)]
        if s.agreed is None:
            reasons.append("fewer than two touches that agree")
        return reasons, truth

    def _parts(self, s: EdgeState, at: Fraction) -> tuple[tuple[str, Fraction], ...]:
        """What the error of a zero set here is made of, along the sense in which the edge was come to."""
        found = []
        if s.burr:
            found.append(("the burr held the tip off", s.burr))
        if s.holder == "chuck":
            found.append(("the chuck runs out, so that it kicked early", s.runout))
        if s.finder and not s.right_speed and s.speed:
            found.append(("at that speed the kick came late", s.late))
        off = s.side * (at - s.edge)
        near = s.slide.dial.division + s.slide.dial.backlash + sum((x for _, x in found), Fraction(0))
        if s.half and abs(off + s.half) <= near:
            found.append(("half the tip was not taken off", s.half))
        elif s.half and abs(off + 2 * s.half) <= near:
            found.append(("half the tip was taken off on the wrong side", 2 * s.half))
        if s.slide.sense != s.side and s.slide.dial.backlash:
            found.append(("the last turning was the other way: lost motion", s.slide.dial.backlash))
        return tuple(found)

    def scene(self, s: EdgeState) -> EdgeScene:
        gap, away = s.gap(s.slide.at), not (s.finder and s.holder)
        swing = min(SWING, max(gap, Fraction(0)))
        look: Literal["away", "swings", "nears", "true", "kicked", "raised"]
        if away:
            look = "away"
        elif s.raised:
            look = "raised"
        elif s.kicked:
            look = "kicked"
        elif gap >= SWING:
            look = "swings"
        else:
            look = "nears" if gap > s.slide.dial.division else "true"
        # one sees a gap to about a twentieth of a millimetre, the tip's swing magnifies the rest
        seen = float(round(gap * 20) / 20) if gap > SWING else float(gap)
        return EdgeScene(
            dial=s.slide.seen(),
            face=s.face,
            side=s.side,
            tip=float(s.half * 2),
            body=float(s.what.body.mm) if s.what else 0.0,
            finder=s.what.name if s.what else "",
            holder=s.holder,
            speed=s.speed,
            right_speed=s.right_speed,
            gap=seen,
            swing=0.0 if s.kicked or not s.speed else float(swing),
            look=look,
            burr=s.burr > 0,
            touches=tuple(p.cells[1] for p in s.passes),
            zeroed=s.zeroed is not None,
            parts=tuple(PartShown(words=w, off=_in(s, by)) for w, by in s.parts) if s.finished else (),
        )


def _in(s: EdgeState, mm: Fraction) -> str:
    return f"{shown(mm, s.setup.unit)} {s.setup.unit}"
