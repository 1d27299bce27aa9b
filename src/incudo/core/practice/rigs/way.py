"""The which-way rig: quick questions about handles, directions, dials, and how a cutter meets the work."""

from __future__ import annotations

import random
from collections.abc import Callable
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import capital, say
from incudo.core.locating.climb import MOST_LOST, Milling, milling
from incudo.core.locating.datum import goes, shown, way_words
from incudo.core.locating.dial import Turning
from incudo.core.locating.screw import DialShown
from incudo.core.practice.rigs.base import Level
from incudo.core.practice.rigs.quiz import Option, Question, QuizRig, QuizState
from incudo.core.practice.rigs.slide import Slide, a_slide
from incudo.core.shop.machine import Axis, Way

_TURNS = (Option("clockwise", say("Clockwise")), Option("anticlockwise", say("Anticlockwise")))
_HANDLES = (
    Option("x", say("X, along the table")),
    Option("y", say("Y, across it")),
    Option("knee", say("Knee, up and down")),
)
_ASKED = 8


class WayPicture(BaseModel):
    """What is drawn of a question: a dial, an arrow for the cutter or the table, or a cutter on the work from above."""

    model_config = ConfigDict(frozen=True)
    kind: Literal["turn", "dial", "handle", "milling"]
    dial: DialShown | None = None
    axis: Axis | None = None
    cutter: Way | None = None
    table: Way | None = None
    rotation: Turning | None = None
    behind: bool = False


class WayScene(BaseModel):
    """The picture of the question that is asked now."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["way"] = "way"
    picture: WayPicture | None


class WayRig(QuizRig[WayPicture]):
    id = "way"
    name = say("Which way?")
    about = say(
        "Quick questions: which handle, which way, what will the dial show; climb or conventional, and is it allowed."
    )
    skill = "dials"
    levels = (
        Level(1, say("Handles"), say("Which handle, and which way it is turned.")),
        Level(2, say("And dials"), say("What the dial shows at arrival as well.")),
        Level(3, say("And cutters"), say("Climb or conventional, on machines with and without backlash.")),
    )

    def ask(self, s: QuizState[WayPicture]) -> tuple[Question[WayPicture], ...]:
        chance = s.chance("ask")
        kinds: list[Callable[[QuizState[WayPicture], random.Random], Question[WayPicture]]] = [_turn, _handle]
        if s.level > 1:
            kinds += [_reading, _reading]
        if s.level > 2:
            kinds += [_cut, _cut, _allowed, _allowed]
        found: list[Question[WayPicture]] = []
        while len(found) < _ASKED:
            for make in kinds:
                q = make(s, chance)
                if all(q.words != f.words or q.picture != f.picture for f in found):
                    found.append(q)
        chance.shuffle(found)
        return tuple(found[:_ASKED])

    def scene(self, s: QuizState[WayPicture]) -> WayScene:
        return WayScene(picture=s.now.picture if s.now else None)


def _slide(s: QuizState[WayPicture], chance: random.Random) -> Slide:
    return a_slide(chance, s.setup.unit, chance.choice((Axis.X, Axis.Y, Axis.KNEE)))


_SAID = {
    Axis.X: {1: say("further right over the work"), -1: say("further left over the work")},
    Axis.Y: {1: say("further back over the work"), -1: say("further forward over the work")},
    Axis.KNEE: {1: say("higher above the work"), -1: "deeper"},
}


def _turn(s: QuizState[WayPicture], chance: random.Random) -> Question[WayPicture]:
    slide, sign = _slide(s, chance), chance.choice((1, -1))
    by_table = chance.random() < 0.4
    part = "knee" if slide.axis is Axis.KNEE else "table"
    asked = (
        say("The {part} must go {goes}", part=part, goes=goes(slide.axis, sign))
        if by_table
        else say("The cutter must come {said}", said=_SAID[slide.axis][sign])
    )
    right = slide.dial.turning(sign)
    why = say("Turned {right}, {way_words}.", right=right, way_words=way_words(slide.axis, sign))
    picture = WayPicture(kind="turn", dial=slide.seen(), axis=slide.axis)
    return Question(
        say("{asked}. Which way do you turn?", asked=asked), picture, _TURNS, right.value, why, critical=True
    )


def _handle(_: QuizState[WayPicture], chance: random.Random) -> Question[WayPicture]:
    axis, sign = chance.choice((Axis.X, Axis.Y, Axis.KNEE)), chance.choice((1, -1))
    picture = WayPicture(kind="handle", axis=axis, table=goes(axis, sign))
    return Question(
        say("The cutter must come {said}. Which handle?", said=_SAID[axis][sign]),
        picture,
        _HANDLES,
        axis.value,
        say("{way_words}.", way_words=capital(way_words(axis, sign))),
    )


def _reading(s: QuizState[WayPicture], chance: random.Random) -> Question[WayPicture]:
    slide, sign = _slide(s, chance), chance.choice((1, -1))
    d = slide.dial
    start = d.division * chance.randint(1, d.graduations - 1)
    by = d.turn * chance.randint(1, 3) + d.division * chance.randint(5, d.graduations - 5)
    slide.ring = -slide.dial.sign * start
    rises = d.turning(sign) is d.dial_up
    after, other = ((start + (by if up else -by)) % d.turn for up in (rises, not rises))
    beside = (after + d.division * 10) % d.turn
    options = [
        Option("a", _in(s, after)),
        Option("b", _in(s, other), say("its numbers go the other way")),
        Option("c", _in(s, beside), say("ten divisions were lost on the way")),
    ]
    options = [o for n, o in enumerate(options) if o.label not in [x.label for x in options[:n]]]
    chance.shuffle(options)
    words = say(
        "The dial shows {in_}. You turn it {turning} by {in_2}. What does it show?",
        in_=_in(s, start),
        turning=d.turning(sign),
        in_2=_in(s, by),
    )
    turn = _in(s, d.turn)
    why = (
        say("Its numbers rise that way; drop whole turns of {turn}.", turn=turn)
        if rises
        else say("Its numbers fall that way; drop whole turns of {turn}.", turn=turn)
    )
    return Question(words, WayPicture(kind="dial", dial=slide.seen(), axis=slide.axis), tuple(options), "a", why)


_CUTS = (Option("climb", say("Climb")), Option("conventional", say("Conventional")))


def _milling(chance: random.Random) -> tuple[WayPicture, Milling]:
    rotation = Turning.CLOCKWISE if chance.random() < 0.8 else Turning.ANTICLOCKWISE
    behind, table = chance.random() < 0.5, chance.choice((Way.LEFT, Way.RIGHT))
    return WayPicture(kind="milling", table=table, rotation=rotation, behind=behind), milling(rotation, behind, table)


def _cut(_: QuizState[WayPicture], chance: random.Random) -> Question[WayPicture]:
    picture, which = _milling(chance)
    why = (
        say("The tooth goes the way the work goes: it climbs onto it and pulls.")
        if which is Milling.CLIMB
        else say("The tooth goes against the work: it pushes it back onto the screw.")
    )
    return Question(say("Is this climb or conventional milling?"), picture, _CUTS, which.value, why)


def _allowed(s: QuizState[WayPicture], chance: random.Random) -> Question[WayPicture]:
    picture, which = _milling(chance)
    least = Fraction(254, 10_000) if s.setup.unit is Unit.INCH else Fraction(1, 50)
    lost = least * chance.choice((1, 2, 12, 25))
    may = which is Milling.CONVENTIONAL or lost <= Fraction(MOST_LOST)
    options = (Option("yes", say("Yes, so")), Option("no", say("No, not so")))
    if which is Milling.CONVENTIONAL:
        why = say("Conventional: the work is pushed back onto the screw, backlash or not.")
    elif may:
        why = say("Climbing, but with hardly any backlash: a light last pass is allowed where the shop allows it.")
    else:
        why = say("Climbing pulls the table forward through its backlash: the tooth bites too deep and breaks.")
    words = say("Backlash of this axis: {in_}. May a light cut be made so?", in_=_in(s, lost))
    return Question(words, picture, options, "yes" if may else "no", why, critical=not may)


def _in(s: QuizState[WayPicture], mm: Fraction) -> str:
    return f"{shown(mm, s.setup.unit)} {s.setup.unit}"
