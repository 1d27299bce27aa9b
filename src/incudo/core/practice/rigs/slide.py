"""One axis of a rig: a screw with play, its handle's dial, and what a careful hand would turn. Exact millimetres."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say, together
from incudo.core.locating.datum import shown, way_words
from incudo.core.locating.dial import Dial, Turning
from incudo.core.locating.screw import DialShown, Screw, dial_shown
from incudo.core.practice.rigs.base import Action, Advice, Control
from incudo.core.shop.machine import Axis

#: How far one press turns a handle, in half divisions (a whole turn apart).
STEPS = {"ten": 20, "one": 2, "half": 1}
STEP_WORDS = {
    "turn": say("one whole turn"),
    "ten": say("ten divisions"),
    "one": say("one division"),
    "half": say("half a division"),
}
_DIALS = {
    Unit.INCH: ((Fraction(508, 100), 200), (Fraction(254, 100), 100), (Fraction(3175, 1000), 125)),
    Unit.MM: ((Fraction(5), 250), (Fraction(4), 80), (Fraction(2), 100)),
}


@dataclass
class Slide(Screw):
    """A screw with its handle.

    ``sense`` is the sign of the last turning, ``since`` how far it was turned in it; ``frames`` are the
    ring's place in turns and the cutter's while it was turned last.
    """

    axis: Axis = Axis.X
    sense: int = 1
    since: Fraction = Fraction(1000)
    frames: tuple[tuple[float, float], ...] = field(default=(), compare=False)

    @property
    def ring_turns(self) -> float:
        """The ring's place in turns."""
        return float(self.dial.sign * (self.screw - self.ring) / self.dial.turn)

    @property
    def taken_up(self) -> bool:
        """Whether the slack is surely on the side of the last turning."""
        return self.since >= self.dial.backlash

    def turn(self, sign: int, travel: Fraction) -> None:
        """Turn the handle; the table follows outside its play."""
        ring, at = self.ring_turns, self.at
        screw = self.screw
        self.since = self.since + travel if sign == self.sense else travel
        self.sense = sign
        super().turn(sign, travel)
        count = min(28, 3 + int(travel / self.dial.turn * 16))
        frames = []
        for i in range(count + 1):
            on = screw + sign * travel * i / count
            table = min(max(at, on), on + self.dial.backlash)
            frames.append((ring + (self.ring_turns - ring) * i / count, float(table)))
        self.frames = tuple(frames)

    def travel(self, step: str) -> Fraction:
        """What one press turns. Raises ``Refused``."""
        if step == "turn":
            return self.dial.turn
        if step not in STEPS:
            raise Refused.of("way", step, say("must end in one of: {listed}", listed=together(STEP_WORDS, ", ")))
        return self.dial.division / 2 * STEPS[step]

    def act(self, a: Action) -> None:
        """A turning: ``way`` is clockwise or anticlockwise and a step, as "clockwise-ten"."""
        turning, _, step = a.way.partition("-")
        if turning not in tuple(Turning):
            raise Refused.of("way", a.way, say("must begin with clockwise or anticlockwise"))
        self.turn(1 if Turning(turning) is self.dial.grows else -1, self.travel(step))

    def controls(self, name: str, closed: str = "") -> Iterator[Control]:
        """Both ways, every step."""
        for turning in Turning:
            for step, words in STEP_WORDS.items():
                action = Action(do="turn", on=self.axis.value, way=f"{turning}-{step}")
                yield Control(
                    action,
                    say("{name} {turning}, {words}", name=name, turning=turning, words=words),
                    say("{name} {turning}", name=name, turning=turning),
                    closed,
                )

    def press(self, sign: int, by: Fraction) -> Action:
        """The largest press that turns at most ``by``."""
        for step in STEP_WORDS:
            if self.travel(step) <= by:
                return Action(do="turn", on=self.axis.value, way=f"{self.dial.turning(sign)}-{step}")
        return Action(do="turn", on=self.axis.value, way=f"{self.dial.turning(sign)}-half")

    def towards(self, target: Fraction, side: int = 1) -> Advice | None:
        """What a careful hand turns to bring the screw to a settable place from one side; None when it is there."""
        need, way = side * (target - self.screw), self.dial.turning(side)
        if need == 0 and self.sense == side and self.taken_up:
            return None
        if need > 0 and (self.sense == side or need >= self.dial.turn):
            left = shown(self.dial.reading(target, self.ring), self.dial.unit)
            words = say(
                "Turn {way} until the dial shows {left}: {way_words}.",
                way=way,
                left=left,
                way_words=way_words(self.axis, side),
            )
            return Advice(self.press(side, need), words)
        words = say(
            "It lies behind: turn {turning} a whole turn past it, then come back {way}.",
            turning=self.dial.turning(-side),
            way=way,
        )
        return Advice(self.press(-side, self.dial.turn - need), words)

    def seen(self) -> DialShown:
        return dial_shown(self.axis, self)


NO_DIAL = Dial(Fraction(1), 100, Fraction(0), Turning.CLOCKWISE, Turning.CLOCKWISE, Unit.MM)


def a_slide(chance: random.Random, unit: Unit, axis: Axis) -> Slide:
    """A handle by chance: its dial, which way it turns what, its backlash in whole half divisions."""
    turn, graduations = chance.choice(_DIALS[unit])
    half = turn / graduations / 2
    play = round(Fraction(chance.uniform(0.12, 0.7)) / half) * half
    grows, up = chance.choice(tuple(Turning)), chance.choice(tuple(Turning))
    return Slide(Dial(turn, graduations, min(play, turn), grows, up, unit), axis=axis)
