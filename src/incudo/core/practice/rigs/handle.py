"""The handle rig: an axis and its dial with play; go to places, count turns, see afterwards where it really was."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit, sense
from incudo.core.kernel.say import Text, say, say_many
from incudo.core.locating.datum import shown
from incudo.core.locating.screw import DialShown
from incudo.core.practice.rigs.base import Action, Advice, Control, Level, Pass, Rig, RigSetup, State
from incudo.core.practice.rigs.slide import NO_DIAL, Slide, a_slide
from incudo.core.shop.machine import Axis


@dataclass
class HandleState(State):
    """The handle, the places in the order they are asked for, and where it truly stood at each claim."""

    slide: Slide = field(default_factory=lambda: Slide(NO_DIAL, axis=Axis.X))
    drawing: Unit = Unit.INCH
    places: tuple[Fraction, ...] = ()
    stood: list[Fraction] = field(default_factory=list)
    called_away: int = -1
    readout: bool = False

    @property
    def place(self) -> Fraction | None:
        return self.places[len(self.stood)] if len(self.stood) < len(self.places) else None

    @property
    def target(self) -> Fraction | None:
        """The nearest place that half a division can set, from the part's zero."""
        return None if self.place is None else self.slide.dial.nearest(self.place)


class StoodShown(BaseModel):
    """One place after the run: where it was asked for and where the table really was."""

    model_config = ConfigDict(frozen=True)
    place: Text
    stood: Text
    off: Text
    good: bool
    why: Text


class HandleScene(BaseModel):
    """What is drawn of the handle rig; ``stood`` only after the run."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["handle"] = "handle"
    dial: DialShown
    place: Text
    claimed: tuple[Text, ...]
    readout: Text
    lost: Text
    stood: tuple[StoodShown, ...]


class HandleRig(Rig[HandleState]):
    id = "handle"
    name = say("Turn the handle")
    about = say("One handle with backlash: go to given places by its dial, count the turns, approach from one side.")
    skill = "dials"
    heads = ("place", say("the dial shows"))
    levels = (
        Level(1, say("Onwards"), say("Three places, each further on; a readout beside the dial shows the table.")),
        Level(2, say("There and back"), say("Places on both sides; no readout. The backlash was measured.")),
        Level(
            3,
            say("Other unit, called away"),
            say("The drawing is in the other unit, and somebody leans on the handle."),
        ),
    )

    def start(self, setup: RigSetup, level: int, seed: str) -> HandleState:
        s = HandleState(setup, level, seed)
        chance = s.chance("handle")
        s.slide = a_slide(chance, setup.unit, chance.choice((Axis.X, Axis.Y)))
        s.drawing = setup.unit.other if level == 3 else setup.unit
        turn = s.slide.dial.turn
        grain = Fraction(1, 2) if s.drawing is Unit.MM else Fraction(127, 10) / 200
        ahead = [turn * Fraction(chance.uniform(0.3, 2.6)) for _ in range(3)]
        places, at = [], Fraction(0)
        for n, by in enumerate(ahead):
            at += -by if level > 1 and n == 1 else by
            places.append(round(at / grain) * grain)
        s.places = tuple(places)
        s.called_away = chance.choice((0, 1)) if level == 3 else -1
        s.readout = level == 1
        return s

    def act(self, s: HandleState, a: Action) -> None:
        match a.do:
            case "turn":
                if a.on != s.slide.axis:
                    raise Refused.of("on", a.on, say("must be {axis}", axis=s.slide.axis))
                s.slide.act(a)
                s.motion = tuple((ring, 0.0) for ring, _ in s.slide.frames)
            case "zero":
                s.slide.ring = s.slide.screw
                s.said = say("The ring is at 0 here. From now on it counts from here.")
            case "here":
                self._claim(s)
            case _:
                raise Refused.of("do", a.do, say("is not an action at this rig"))

    def _claim(self, s: HandleState) -> None:
        if s.place is None:
            raise Refused.of("do", "here", say("every place is done: finish"))
        s.passes.append(Pass((_in(s.place, s.drawing), s.slide.seen().shows), 0.0, "", tight=False))
        s.stood.append(s.slide.at)
        s.said = say("Noted. You will see afterwards where the table really was.")
        if len(s.stood) - 1 == s.called_away:
            halves = s.chance("lean").choice((-7, -5, -3, 4, 6, 9))
            s.slide.turn(sense(halves), abs(halves) * s.slide.dial.division / 2)
            s.slide.sense, s.slide.since = -1, Fraction(0)
            s.said = say(
                "You were called away, and somebody leaned on the handle: it was turned a little, nobody knows how."
            )
            s.warned = True

    def controls(self, s: HandleState) -> tuple[Control, ...]:
        over = "" if s.place is not None else say("every place is done")
        return (
            *s.slide.controls(say("Turn"), over),
            Control(Action(do="here"), say("I am there"), say("The place"), over),
            Control(Action(do="zero"), say("Set the ring to 0"), say("The place"), over),
        )

    def advice(self, s: HandleState) -> Advice:
        if s.target is None:
            return Advice(Action(do="finish"), say("Every place is done: finish."))
        return s.slide.towards(s.target) or Advice(
            Action(do="here"), say("The dial shows it, approached from the right side.")
        )

    def task(self, s: HandleState) -> str:
        if s.place is None:
            return say("Every place is done.")
        return say(
            "Go to {in_}, the {value} of three places.",
            in_=_in(s.place, s.drawing),
            value=("first", "second", "third")[len(s.stood)],
        )

    def judge(self, s: HandleState) -> tuple[list[str], str]:
        stood = self._stood(s)
        reasons = [say("{place}: {off} off, {why}", place=x.place, off=x.off, why=x.why) for x in stood if not x.good]
        if s.place is not None:
            reasons.append(
                say(
                    "{count} of {count2} places were missed",
                    count=len(s.places) - len(s.stood),
                    count2=len(s.places),
                )
            )
        worst = max((abs(a - p) for a, p in zip(s.stood, s.places, strict=False)), default=Fraction(0))
        return reasons, say("At its worst place the table was {in_} off.", in_=_in(worst, s.setup.unit))

    def _stood(self, s: HandleState) -> tuple[StoodShown, ...]:
        d, found = s.slide.dial, []
        for place, at in zip(s.places, s.stood, strict=False):
            off = at - place
            good = abs(off) <= d.division / 2
            near = d.division / 2
            turns = round(off / d.turn)
            if good:
                why = ""
            elif d.backlash and abs(abs(off) - d.backlash) <= near:
                why = say("off by exactly the backlash: approached from the other side, slack not taken up")
            elif turns and abs(off - turns * d.turn) <= near + d.backlash:
                why = say_many("{count} whole turn miscounted", "{count} whole turns miscounted", abs(turns))
            else:
                why = say("the dial was set a little off, or the ring was counted from elsewhere")
            found.append(
                StoodShown(
                    place=_in(place, s.drawing),
                    stood=_in(at, s.drawing),
                    off=_in(abs(off), s.setup.unit),
                    good=good,
                    why=why,
                )
            )
        return tuple(found)

    def scene(self, s: HandleState) -> HandleScene:
        u = s.setup.unit
        return HandleScene(
            dial=s.slide.seen(),
            place="" if s.place is None else _in(s.place, s.drawing),
            claimed=tuple(p.cells[0] for p in s.passes),
            readout=_in(s.slide.at, u) if s.readout else "",
            lost=f"{shown(s.slide.dial.backlash, u)} {u}",
            stood=self._stood(s) if s.finished else (),
        )


def _in(mm: Fraction, unit: Unit) -> str:
    return f"{shown(mm, unit)} {unit}"
