"""The reading rig: instruments of the bench, drawn exactly, to be read; the usual misreadings are named."""

from __future__ import annotations

import random
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.quantity import LengthUnit, Unit, in_places
from incudo.core.kernel.say import Text, say
from incudo.core.practice.rigs.base import Level
from incudo.core.practice.rigs.quiz import Option, Question, QuizRig, QuizState

Kind = Literal["dial-caliper", "vernier-caliper", "micrometer", "depth-micrometer", "indicator"]
_ASKED = 6


@dataclass(frozen=True)
class _Reads:
    """An instrument as it is read: its range and least step in its unit, and its usual slips as differences.

    ``up`` is the level from which it is asked. Slips that fall outside of the range are left out.
    """

    kind: Kind
    name: str
    unit: LengthUnit
    least: Fraction
    step: Fraction
    most: Fraction
    places: int
    up: int
    slips: tuple[tuple[Fraction, str], ...]
    how: str


def _f(text: str) -> Fraction:
    return Fraction(text)


_SLEEVE_IN = say("one sleeve turn: 0.025 in, a line of the sleeve was not seen or seen too early")
_SLEEVE_MM = say("one thimble turn: 0.5 mm, the half-millimetre line was not seen or seen too early")
_BESIDE = say("one division off: look at the line squarely")
_READS = (
    _Reads("dial-caliper", say("dial caliper"), Unit.INCH, _f("0.1"), _f("0.001"), _f("3.9"), 3, 1,
           ((_f("0.1"), say("the bar's tenth: the jaw had not passed that line yet")),
            (_f("-0.1"), say("one tenth of the bar too few")),
            (_f("0.010"), say("off by a tenth of the dial"))),
           say("The bar gives the tenths that the jaw has passed, the dial the thousandths.")),
    _Reads("micrometer", "micrometer, 0 to 1 in", Unit.INCH, _f("0.05"), _f("0.001"), _f("0.95"), 3, 1,
           ((_f("0.025"), _SLEEVE_IN), (_f("-0.025"), _SLEEVE_IN), (_f("0.001"), _BESIDE)),
           say("The sleeve's numbers are tenths, every further line is 0.025, and the thimble gives the thousandths.")),
    _Reads("micrometer", "micrometer, 0 to 25 mm", Unit.MM, _f("1"), _f("0.01"), _f("24"), 2, 1,
           ((_f("0.5"), _SLEEVE_MM), (_f("-0.5"), _SLEEVE_MM), (_f("0.01"), _BESIDE)),
           say("Whole millimetres above the line, a half below it when it shows, and the thimble's hundredths.")),
    _Reads("vernier-caliper", say("vernier caliper, 0.02 mm"), Unit.MM, _f("5"), _f("0.02"), _f("90"), 2, 2,
           ((_f("1"), say("the millimetre: the vernier's zero had not passed that line yet")),
            (_f("-1"), say("one millimetre too few")),
            (_f("0.1"), say("five lines off: look for the one that meets"))),
           say("The vernier's zero gives the millimetres, the line that meets gives the rest.")),
    _Reads("micrometer", say("micrometer with tenths"), Unit.INCH, _f("0.05"), _f("0.0001"), _f("0.95"), 4, 2,
           ((_f("0.025"), _SLEEVE_IN), (_f("0.001"), say("the vernier's tenths were added to the next thousandth")),
            (_f("0.0003"), say("the wrong line of the vernier: look for the one that meets"))),
           say("As without it, then the vernier's line that meets gives the ten-thousandths.")),
    _Reads("depth-micrometer", say("depth micrometer, 0 to 1 in"), Unit.INCH, _f("0.05"), _f("0.001"), _f("0.95"), 3, 2,
           ((_f("0.025"), _SLEEVE_IN), (_f("-0.025"), _SLEEVE_IN),
            (_f("0.100"), say("a number that still shows: on this sleeve the covered ones count"))),
           say("Its numbers run the other way: what the thimble has covered counts.")),
    _Reads("indicator", say("dial indicator with a turn counter"),
           Unit.INCH, _f("0.0305"), _f("0.0005"), _f("0.0895"), 4, 3,
           ((_f("-0.03"), say("the counter was not read: one turn is 0.030 in")),
            (_f("0.03"), say("the counter had not moved on yet")),
            (_f("0.0005"), _BESIDE)),
           say("Whole turns from the counter, then the needle.")),
    _Reads("indicator", say("dial indicator with a turn counter"),
           Unit.MM, _f("0.61"), _f("0.01"), _f("1.79"), 2, 3,
           ((_f("-0.6"), say("the counter was not read: one turn is 0.60 mm")),
            (_f("0.6"), say("the counter had not moved on yet")),
            (_f("0.01"), _BESIDE)),
           say("Whole turns from the counter, then the needle.")),
    _Reads("micrometer", say("micrometer with thousandths"), Unit.MM, _f("1"), _f("0.001"), _f("24"), 3, 3,
           ((_f("0.5"), _SLEEVE_MM), (_f("0.01"), say("the vernier's thousandths were added to the next hundredth")),
            (_f("0.003"), say("the wrong line of the vernier: look for the one that meets"))),
           say("As without it, then the vernier's line that meets gives the thousandths.")),
)  # fmt: skip


class ReadingPicture(BaseModel):
    """An instrument as it stands; ``value`` and ``step`` in its unit.

    ``turns`` and ``needle`` (in mm) are an indicator's.
    """

    model_config = ConfigDict(frozen=True)
    kind: Kind
    name: Text
    unit: LengthUnit
    value: float
    step: float
    vernier: bool
    turns: int
    needle: float


class ReadingScene(BaseModel):
    """The instrument that is asked now."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["reading"] = "reading"
    picture: ReadingPicture | None


class ReadingRig(QuizRig[ReadingPicture]):
    id = "reading"
    name = say("Read the instrument")
    about = say("Calipers, micrometers, depth micrometer, indicator, drawn as they stand: what do they show?")
    skill = "measure-micrometer"
    levels = (
        Level(1, say("Dial and thimble"), say("Dial caliper and micrometers in inch and metric.")),
        Level(
            2, say("Verniers and depth"), say("Verniers, tenths, and the depth micrometer that counts the other way.")
        ),
        Level(3, say("Everything"), say("Thousandths of a millimetre and the indicator's turn counter as well.")),
    )

    def ask(self, s: QuizState[ReadingPicture]) -> tuple[Question[ReadingPicture], ...]:
        chance = s.chance("ask")
        known = [r for r in _READS if r.up <= s.level]
        # what the level brings in is asked for sure
        first = [r for r in known if r.up == s.level]
        rest = [chance.choice(known) for _ in range(_ASKED)]
        asked = (first + rest)[:_ASKED]
        chance.shuffle(asked)
        return tuple(_question(r, chance) for r in asked)

    def scene(self, s: QuizState[ReadingPicture]) -> ReadingScene:
        return ReadingScene(picture=s.now.picture if s.now else None)


def _question(r: _Reads, chance: random.Random) -> Question[ReadingPicture]:
    turn = 60 * r.step
    value = r.least + r.step * chance.randint(0, int((r.most - r.least) / r.step))
    if r.kind == "indicator":
        # its dial counts both ways from 0: read on the side of the plus
        value = turn * chance.randint(1, 2) + r.step * chance.randint(1, 28)
    turns, rest = divmod(value, turn)
    picture = ReadingPicture(
        kind=r.kind,
        name=r.name,
        unit=r.unit,
        value=float(value),
        step=float(r.step),
        vernier=r.kind == "micrometer" and r.step < Fraction(1, 1000 if r.unit is Unit.INCH else 100),
        turns=int(turns),
        needle=float(rest * r.unit.in_mm),
    )
    wrong = [(value + by, slip) for by, slip in r.slips if value + by >= 0]
    options = [
        Option(i, label, slip) for i, (label, slip) in zip("abcde", _labels(r, [(value, ""), *wrong]), strict=False)
    ]
    chance.shuffle(options)
    return Question(say("What does the {name} show?", name=r.name), picture, tuple(options), "a", r.how)


def _labels(r: _Reads, values: Iterable[tuple[Fraction, str]]) -> list[tuple[str, str]]:
    return [(f"{in_places(v, r.places)} {r.unit}", slip) for v, slip in values]
