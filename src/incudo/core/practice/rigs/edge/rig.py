"""The edge rig: choose finder, holder and speed, creep up until the tip kicks, twice; then set zero over the edge."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.locating.centre import agreement
from incudo.core.locating.finders import COMES, FINDERS, Face
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup
from incudo.core.practice.rigs.edge.advice import advise
from incudo.core.practice.rigs.edge.controls import controls_of
from incudo.core.practice.rigs.edge.scene import EdgeScene, parts_of, scene_of
from incudo.core.practice.rigs.edge.state import BENT, HOLDERS, SHIPPED_FINDERS, SPEEDS, SWING, EdgeState, said_in
from incudo.core.practice.rigs.slide import a_slide


class EdgeRig(Rig[EdgeState]):
    id = "edge"
    name = say("Find the edge")
    about = say(
        "A finder beside the work: the right holder and speed, creep until it kicks, twice; set zero over the edge."
    )
    skill = "edge-finding"
    heads = ("touch", say("the dial shows"), "agrees")
    levels = (
        Level(1, say("Clean edge"), say("A left or front edge, clean and smooth.")),
        Level(2, say("Any side"), say("Any of four sides, and a burr from the last cut.")),
        Level(3, say("As it was left"), say("The finder hangs as somebody left it: look before you begin.")),
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
            s.finder, s.holder = SHIPPED_FINDERS[setup.unit][0], "chuck"
        return s

    def act(self, s: EdgeState, a: Action) -> None:
        match a.do:
            case "deburr":
                self._standing(s, say("The spindle turns: fingers and stone belong nowhere near it."))
                s.burr = Fraction(0)
                s.said = say("Stoned and wiped: edge and tip are clean.")
            case "finder":
                self._standing(s, say("A finder is changed with the spindle stopped."))
                if a.on not in FINDERS:
                    raise Refused.of("on", a.on, say("must be a finder of the drawer"))
                s.finder, s.touched = a.on, []
                s.said = say("The {name}: {tells}.", name=FINDERS[a.on].name, tells=FINDERS[a.on].tells)
            case "holder":
                self._standing(s, say("The holder is changed with the spindle stopped."))
                if a.on not in HOLDERS:
                    raise Refused.of("on", a.on, say("must be one of: {listed}", listed=together(HOLDERS, ", ")))
                s.holder, s.touched = a.on, []
            case "speed":
                self._speed(s, int(a.by))
            case "turn":
                self._turn(s, a)
            case "raise":
                s.raised = True
                s.said = say("The finder is clear above the work.")
            case "lower":
                if s.gap(s.slide.at) <= 0:
                    s.fault(say("The finder came down on the work."), critical=True)
                else:
                    s.raised = False
            case "note":
                self._note(s)
            case "zero":
                s.slide.ring, s.zeroed = s.slide.screw, s.slide.at
                s.parts = parts_of(s, s.slide.at)
                s.said = say("The ring is at 0 here: this is now the edge.")
            case _:
                raise Refused.of("do", a.do, say("is not an action at this rig"))

    def _standing(self, s: EdgeState, words: str) -> None:
        if s.speed:
            s.fault(words, critical=True)

    def _speed(self, s: EdgeState, speed: int) -> None:
        if speed not in SPEEDS:
            raise Refused.of("by", speed, say("must be one of: {listed}", listed=together(map(str, SPEEDS), ", ")))
        s.speed = speed
        band = s.what.speed if s.what else None
        if speed and not s.finder:
            s.said = say("It turns with nothing in it.")
        elif band and speed > band[1] * 3 // 2:
            s.fault(say("That fast the tip flies off: never raise the speed with a finder in."), critical=True)

    def _turn(self, s: EdgeState, a: Action) -> None:
        if a.on != s.slide.axis:
            raise Refused.of("on", a.on, say("must be {axis}", axis=s.slide.axis))
        was = s.gap(s.slide.at)
        s.slide.act(a)
        s.noted = False
        s.motion = tuple((ring, float(s.gap(Fraction(at)))) for ring, at in s.slide.frames)
        gap = s.gap(s.slide.at)
        if s.raised or not s.finder:
            return
        if gap < -BENT:
            s.fault(say("It was run into the work: the tip is bent."), critical=True)
        elif gap < 0 < was and a.way.endswith(("turn", "ten")):
            s.said, s.warned = say("It met the work in one go: how far it was overrun, nobody knows."), True
        elif s.kicked:
            s.said = say("It kicks.")
        elif gap < SWING / 6:
            s.said = say("It hardly swings any more.")

    def _note(self, s: EdgeState) -> None:
        if not s.kicked:
            s.said, s.warned = say("It does not kick: there is nothing to note."), True
            return
        s.touched.append(s.slide.screw)
        s.noted = True
        mean = s.agreed
        agrees = "" if len(s.touched) < 2 else "yes" if mean is not None else "no"
        s.passes.append(Pass((str(len(s.touched)), s.slide.seen().shows, agrees), 0.0, "", tight=False))
        s.said = (
            say("Noted.") if agrees != "no" else say("They do not agree: back off a whole turn and approach again.")
        )

    def controls(self, s: EdgeState) -> tuple[Control, ...]:
        return controls_of(s)

    def advice(self, s: EdgeState) -> Advice:
        return advise(s)

    def task(self, s: EdgeState) -> str:
        name = {Face.LEFT: "left", Face.RIGHT: "right", Face.FRONT: "front", Face.REAR: "rear"}[s.face]
        return say("Set the {axis} dial to zero over the part's {name} edge.", axis=s.slide.axis.upper(), name=name)

    def judge(self, s: EdgeState) -> tuple[list[str], str]:
        if s.zeroed is None:
            return [say("no zero was set")], say("No zero was set.")
        off, allowed = s.zeroed - s.edge, agreement(s.slide.dial.division)
        truth = say(
            "The zero is {said_in} off the edge; allowed {said_in2}.",
            said_in=said_in(s, abs(off)),
            said_in2=said_in(s, allowed),
        )
        reasons = []
        if abs(off) > allowed:
            reasons = [
                truth,
                *(say("{words}: {said_in}", words=words, said_in=said_in(s, abs(by))) for words, by in s.parts),
            ]
        if s.agreed is None:
            reasons.append(say("fewer than two touches that agree"))
        return reasons, truth

    def scene(self, s: EdgeState) -> EdgeScene:
        return scene_of(s)
