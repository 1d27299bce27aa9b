"""The drawing rig: a drawing that nobody has seen before, to be read; the usual misreadings are named."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from functools import lru_cache
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.quantity import LengthUnit, Unit, in_places
from incudo.core.kernel.say import say
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.features.part import Part
from incudo.core.practice.rigs.base import Level
from incudo.core.practice.rigs.plan.made_up import made_up
from incudo.core.practice.rigs.plan.quiz import asked, svg_of
from incudo.core.practice.rigs.quiz import Question, QuizRig, QuizState

_ASKED = 6


class SheetPicture(BaseModel):
    """A drawing as SVG."""

    model_config = ConfigDict(frozen=True)
    svg: str


class DrawingScene(BaseModel):
    """The drawing that is read; the same for all questions of a run."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["drawing"] = "drawing"
    picture: SheetPicture


@dataclass(frozen=True)
class _Asks:
    """One question about a part: its words, the right answer, wrong ones with the slip behind each, and why."""

    words: str
    right: str
    wrong: tuple[tuple[str, str], ...]
    why: str
    critical: bool = False


class _Sheet:
    """What a drawing says, as numbers: nominal of each requirement in the drawing's unit."""

    def __init__(self, part: Part) -> None:
        self.part, self.project = part, part.project

    def nominal(self, number: int) -> Decimal:
        return Decimal(self.project.characteristic(number).nominal)

    def said(self, value: Decimal) -> str:
        """A length as the drawing would write it: inches with three places, millimetres with as few as it takes."""
        least = Decimal("0.001") if self.part.file.unit is Unit.INCH else Decimal(1)
        short = value.normalize()
        places = max(-int(short.as_tuple().exponent), -int(least.as_tuple().exponent), 0)
        return f"{short:.{places}f} {self.part.file.unit}"

    def limit(self, number: int, *, upper: bool) -> Decimal:
        limits = self.project.limits(self.project.characteristic(number))
        found = (limits.upper if upper else limits.lower) or Fraction(0)
        return Decimal(in_places(found / limits.unit.in_mm, 4))

    def hole(self, name: str) -> HoleFeature:
        return next(f for f in self.part.file.features if f.kind == "hole" and f.name == name)


def _largest(s: _Sheet) -> _Asks:
    low, high, nominal = s.limit(4, upper=False), s.limit(4, upper=True), s.nominal(4)
    return _Asks(
        say("How much may be left under the step at most?"),
        s.said(high),
        (
            (s.said(nominal), say("that is the size without its tolerance")),
            (s.said(low), say("that is the least that must be left")),
            (s.said(nominal + (high - low)), say("both parts of the tolerance were added to the size")),
            (s.said(nominal - (high - low)), say("the tolerance was taken off, not put on")),
        ),
        say("The upper number of the tolerance counts, from the size beside it: {high}.", high=s.said(high)),
        critical=True,
    )


def _untold(s: _Sheet) -> _Asks:
    block = {places: Decimal(x) for places, x in s.part.file.title_block.items()}
    nominal = s.nominal(7)
    places = max(0, -int(nominal.as_tuple().exponent))
    right = block[places]
    others = [x for x in block.values() if x != right]
    size = (
        say("Its size is written without decimal places")
        if places == 0
        else say("Its size is written with {places} decimal places", places=places)
    )
    return _Asks(
        say("No tolerance stands beside the depth of the slot. How far may it be off, each way?"),
        s.said(right),
        (
            (say("nothing"), say("no size can be met exactly: the title block says what holds")),
            *((s.said(x), say("that one is for another number of decimal places")) for x in others),
        ),
        say("{size}; for those the title block gives ±{right}.", size=size, right=s.said(right)),
    )


def _step_depth(s: _Sheet) -> _Asks:
    height, left = s.nominal(3), s.nominal(4)
    return _Asks(
        say("How deep is the step, from the top?"),
        s.said(height - left),
        (
            (s.said(left), say("that is what is left under it")),
            (s.said(height), say("that is the height of the block")),
            (s.said(s.nominal(7)), say("that is the depth of the slot")),
        ),
        say("The height less what is left: {height} − {left}.", height=s.said(height), left=s.said(left)),
        critical=True,
    )


def _slot_wall(s: _Sheet) -> _Asks:
    wall, width = s.nominal(5), s.nominal(6)
    return _Asks(
        say("How far from the left end does the slot end, at its right wall?"),
        s.said(wall + width),
        (
            (s.said(wall), say("that is its left wall")),
            (s.said(wall + width / 2), say("that is its middle")),
            (s.said(width), say("that is how wide it is")),
        ),
        say("Its left wall and its width: {wall} + {width}.", wall=s.said(wall), width=s.said(width)),
    )


def _between(s: _Sheet) -> _Asks:
    pin, screw = s.nominal(8), s.nominal(10)
    return _Asks(
        say("How far apart are the two holes along the length?"),
        s.said(abs(screw - pin)),
        (
            (s.said(screw), say("that is from the left end, not from the other hole")),
            (s.said(pin), say("that is from the left end, not from the other hole")),
            (s.said(abs(s.nominal(11) - s.nominal(9))), say("that is across, not along the length")),
        ),
        say("Both are measured from the left end: take one from the other."),
    )


def _step_long(s: _Sheet) -> _Asks:
    whole, wall = s.nominal(1), s.nominal(12)
    return _Asks(
        say("How long is the step, from its wall to the right end?"),
        s.said(whole - wall),
        (
            (s.said(wall), say("that is from the left end to its wall")),
            (s.said(whole), say("that is the whole length")),
            (s.said(s.nominal(6)), say("that is the width of the slot")),
        ),
        say("The whole length less what stands before it: {whole} − {wall}.", whole=s.said(whole), wall=s.said(wall)),
    )


def _from_where(s: _Sheet) -> _Asks:
    del s
    return _Asks(
        say("From which face is the screw hole measured across the width?"),
        say("the front"),
        (
            (say("the rear"), say("no dimension begins there")),
            (say("the left end"), say("that one is along the length")),
            (say("the middle of the pin hole"), say("no dimension goes from hole to hole")),
        ),
        say("Its dimension begins at the front: that is where zero is set, too."),
        critical=True,
    )


def _which_view(s: _Sheet) -> _Asks:
    del s
    return _Asks(
        say("The slot runs from front to rear. In which view is its depth seen?"),
        say("in the front view"),
        (
            (say("in the top view"), say("from above one sees how wide it is, not how deep")),
            (say("in none: it is given as a note"), say("one looks along it in the front view and sees its floor")),
            (say("in the view from the rear only"), say("what is seen from the rear is seen from the front as well")),
        ),
        say("One looks along the slot in the front view: its floor and both walls are edges there."),
    )


def _dashed(s: _Sheet) -> _Asks:
    del s
    return _Asks(
        say("What are the dashed lines in the front view?"),
        say("edges that lie behind metal: the holes"),
        (
            (say("centre lines of the holes"), say("a centre line is long and short, and goes on past the hole")),
            (say("where the stock is cut off"), say("the drawing shows the finished part")),
            (say("how far the cutter goes"), say("no drawing of a part shows the cutter")),
        ),
        say("What one cannot see from here is drawn dashed."),
    )


def _thread(s: _Sheet) -> _Asks:
    thread, unit = s.hole("screw hole").thread, s.part.file.unit
    name = thread.designation if thread else ""
    return _Asks(
        say("Which hole gets the thread {thread}?", thread=name),
        say("the one that is countersunk"),
        (
            (
                say("the one of {size} {unit}", size=s.hole("pin hole").diameter, unit=unit),
                say("that is a diameter without a thread: it is reamed for a pin"),
            ),
            (say("both"), say("a callout belongs to the hole that its arrow points at")),
            (say("none, it is drilled only"), say("the callout at its arrow says the thread")),
        ),
        say("The leader with the thread points at the hole with the countersink."),
    )


def _zone(s: _Sheet) -> _Asks:
    zone = s.limit(13, upper=True)
    return _Asks(
        say("How far may the middle of the pin hole lie from its true place, in any direction?"),
        s.said(zone / 2),
        (
            (s.said(zone), say("that is the diameter of the zone: from its middle to its edge is half")),
            (s.said(zone * 2), say("the zone is a diameter, not a radius to be doubled")),
            (s.said(s.limit(6, upper=True) - s.nominal(6)), say("that is the tolerance of the slot")),
        ),
        say("The frame gives a round zone, {zone} across: half of it to each side.", zone=s.said(zone)),
        critical=True,
    )


def _frame_datums(s: _Sheet) -> _Asks:
    del s
    return _Asks(
        say("From which faces does the frame measure the place of the pin hole?"),
        say("B and C: left end and front"),
        (
            (say("A and B: bottom and left end"), say("A is not in its frame")),
            (say("the slot's wall and the front"), say("a letter in the frame names the face")),
            (say("the middle of the block"), say("a letter in the frame names the face")),
        ),
        say("The letters in the frame stand at these two faces on the drawing."),
    )


#: What is asked on each level; what a level brings in is asked for sure.
_LEVELS: dict[int, tuple[Callable[[_Sheet], _Asks], ...]] = {
    1: (_largest, _step_depth, _slot_wall, _between, _step_long, _from_where),
    2: (_untold, _which_view, _dashed, _thread),
    3: (_zone, _frame_datums),
}


class DrawingRig(QuizRig[SheetPicture]):
    id = "drawing"
    name = say("Read the drawing")
    about = say("A drawing you have never seen: sizes, limits, what is measured from where, and what the signs mean.")
    skill = "read-drawing"
    levels = (
        Level(1, say("Sizes"), say("What is left, how deep, how far apart, and the largest that is still good.")),
        Level(2, say("Views and notes"), say("Which view shows it, dashed lines, threads, and the title block.")),
        Level(3, say("Frames"), say("Where a hole may lie: zones and the faces they are measured from.")),
    )

    def ask(self, s: QuizState[SheetPicture]) -> tuple[Question[SheetPicture], ...]:
        return _questions(s.setup.unit, s.level, s.seed)

    def scene(self, s: QuizState[SheetPicture]) -> DrawingScene:
        return DrawingScene(picture=s.questions[0].picture)


# a run is played from its beginning at every answer: the same drawing is not laid out each time
@lru_cache(maxsize=64)
def _questions(unit: LengthUnit, level: int, seed: str) -> tuple[Question[SheetPicture], ...]:
    chance = random.Random(f"{seed}:{level}:drawing")  # noqa: S311 (a simulation)
    sheet = _Sheet(made_up(chance, unit))
    picture = SheetPicture(svg=svg_of(sheet.project))
    first = list(_LEVELS[level])
    rest = [ask for n in range(1, level) for ask in _LEVELS[n]]
    chance.shuffle(first)
    chance.shuffle(rest)
    asks = (first + rest)[:_ASKED]
    chance.shuffle(asks)
    found = [ask(sheet) for ask in asks]
    return tuple(asked(q.words, picture, q.right, q.wrong, q.why, chance, critical=q.critical) for q in found)
