"""What work and cutters are held with, as it really stands in the shop: each with what it can hold.

Numbers are text in the thing's own unit, as they were measured at it.
"""

from __future__ import annotations

import json
from fractions import Fraction
from functools import lru_cache
from itertools import combinations
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import Key, Num, Strict, Word, read_model
from incudo.core.kernel.quantity import Length, LengthUnit, Unit, in_places
from incudo.core.kernel.say import say, say_many, together
from incudo.core.shop.cutter import Number
from incudo.core.shop.table import Maybe, Name, Row, Texts


class Vise(Strict):
    """A vise. ``jaw`` is the jaw's length, ``depth`` its height above the bed, ``opening`` the widest.

    ``bolts`` is the distance of the two bolts, ``bolts_before`` how far their line lies
    before the fixed jaw's face.
    """

    kind: Literal["vise"]
    unit: LengthUnit
    jaw: Num
    depth: Num
    opening: Num
    bolts: Num
    bolts_before: Num
    swivel: bool = False

    @model_validator(mode="after")
    def _plausible(self) -> Vise:
        _in_mm("jaw", self.jaw, self.unit, 25, 400)
        _in_mm("depth", self.depth, self.unit, 10, 150)
        _in_mm("opening", self.opening, self.unit, 10, 600)
        _in_mm("bolts", self.bolts, self.unit, 20, 600)
        _in_mm("bolts_before", self.bolts_before, self.unit, 0, 400)
        return self


class Pair(Strict):
    """A pair of parallels of one height."""

    height: Num
    thickness: Num
    length: Num


def _in_mm(name: str, given: str, unit: LengthUnit, least: int, most: int) -> None:
    """Refuse a length of a thing that holds work that none has: a slip of the unit, a point left out."""
    if not least <= Length(given, unit).mm <= most:
        low, high = (in_places(x / unit.in_mm, 0 if unit is Unit.MM else 2) for x in (least, most))
        raise ValueError(say("{name}: must be from {low} to {high} {unit}", name=name, low=low, high=high, unit=unit))


class Parallels(Strict):
    """A drawer of parallels."""

    kind: Literal["parallels"]
    unit: LengthUnit
    pairs: Annotated[tuple[Pair, ...], Field(min_length=1, max_length=40)]

    @model_validator(mode="after")
    def _plausible(self) -> Parallels:
        seen = set()
        for n, p in enumerate(self.pairs, start=1):
            _in_mm(say("pair {n}, height", n=n), p.height, self.unit, 3, 150)
            _in_mm(say("pair {n}, thickness", n=n), p.thickness, self.unit, 1, 50)
            _in_mm(say("pair {n}, length", n=n), p.length, self.unit, 25, 500)
            key = tuple(Length(x, self.unit).mm for x in (p.height, p.thickness, p.length))
            if key in seen:
                raise ValueError(say("pair {n}: is listed already", n=n))
            seen.add(key)
        return self


class Clamps(Strict):
    """A set of strap clamps with studs and heel blocks; without a ``width`` a strap is taken as usually wide."""

    kind: Literal["clamps"]
    unit: LengthUnit
    stud: Word
    straps: Annotated[tuple[Num, ...], Field(min_length=1, max_length=20)]
    heels: Num
    width: Maybe = None

    @model_validator(mode="after")
    def _plausible(self) -> Clamps:
        if self.width is not None:
            _in_mm(say("width"), self.width, self.unit, 10, 80)
        for n, strap in enumerate(self.straps, start=1):
            _in_mm(say("strap {n}", n=n), strap, self.unit, 25, 500)
        _in_mm("heels", self.heels, self.unit, 3, 300)
        return self


class VBlocks(Strict):
    """A V-block, or a pair ground as a set: bars of ``least`` to ``most`` across lie in its 90 degree groove.

    ``groove`` is how wide the groove is at the top, ``length`` how long a block is along the bar.
    """

    kind: Literal["v-blocks"]
    unit: LengthUnit
    count: Annotated[int, Field(ge=1, le=4)]
    least: Num
    most: Num
    groove: Num
    length: Num

    @model_validator(mode="after")
    def _plausible(self) -> VBlocks:
        _in_mm("least", self.least, self.unit, 2, 100)
        _in_mm("most", self.most, self.unit, 5, 200)
        _in_mm("groove", self.groove, self.unit, 5, 200)
        _in_mm("length", self.length, self.unit, 15, 300)
        least, most, groove = (Length(x, self.unit).mm for x in (self.least, self.most, self.groove))
        if least > most:
            raise ValueError(say("least: must be at most {most} {unit}", most=self.most, unit=self.unit))
        # a bar touches a groove of 90 degrees on two lines, each half its diameter down the face from the bottom
        if most**2 > 2 * groove**2:
            limit = in_places(groove / self.unit.in_mm * Fraction("1.41421"), 2)
            raise ValueError(
                say("most: more than {limit} {unit} lies on the edges of this groove", limit=limit, unit=self.unit)
            )
        return self


#: So many angle blocks are stacked at most: a higher stack is unsteady, and its errors add up.
MOST_STACKED = 3


class AngleBlocks(Strict):
    """A set of angle blocks by their angles in degrees."""

    kind: Literal["angle-blocks"]
    angles: Annotated[tuple[Num, ...], Field(min_length=1, max_length=24)]

    @model_validator(mode="after")
    def _plausible(self) -> AngleBlocks:
        seen = set()
        for n, angle in enumerate(self.angles, start=1):
            value = Fraction(angle)
            if not 0 < value <= 90:
                raise ValueError(say("block {n}: must be more than 0 and at most 90 degrees", n=n))
            if value in seen:
                raise ValueError(say("block {n}: is listed already", n=n))
            seen.add(value)
        return self

    def reached(self) -> frozenset[Fraction]:
        """Every angle up to 90 degrees that up to three blocks set, one on the other or one against the other."""
        blocks = [Fraction(a) for a in self.angles]
        found: set[Fraction] = set()
        for count in range(1, MOST_STACKED + 1):
            for chosen in combinations(blocks, count):
                sums = {Fraction(0)}
                for block in chosen:
                    sums = {s + sign * block for s in sums for sign in (1, -1)}
                found |= {s for s in sums if 0 < s <= 90}
        return frozenset(found)

    def every_degree_to(self) -> int:
        """Up to how many degrees every whole one is reached; 0 where even the first is not."""
        reached, degree = self.reached(), 0
        while degree + 1 in reached:
            degree += 1
        return degree


class RotaryTable(Strict):
    """A rotary table: its diameter, its height lying flat, and how many turns of the handle make a full circle."""

    kind: Literal["rotary-table"]
    unit: LengthUnit
    diameter: Num
    height: Num
    turns: Annotated[int, Field(ge=20, le=360)]
    upright: bool = False

    @model_validator(mode="after")
    def _plausible(self) -> RotaryTable:
        _in_mm("diameter", self.diameter, self.unit, 50, 1000)
        _in_mm("height", self.height, self.unit, 20, 400)
        return self

    @property
    def per_turn(self) -> Fraction:
        """Degrees of one turn of the handle."""
        return Fraction(360, self.turns)


#: Ways to hold a cutter that do not sit in the spindle's taper.
LOOSE_WAYS = frozenset({"tap-wrench"})


class ToolHolders(Strict):
    """Holders of one way and one taper: collets, arbors, chucks. ``sizes`` are what they take, ``count`` how many.

    ``way`` is a key of the table of holders, ``taper`` the spindle's that they fit, as the machine's entry says it.
    ``nose`` is how wide they are where the cutter comes out; without it what is usual for their way holds.
    """

    kind: Literal["tool-holders"]
    way: Key
    taper: Word
    unit: LengthUnit
    sizes: Annotated[tuple[Num, ...], Field(max_length=40)] = ()
    count: Annotated[int, Field(ge=1, le=200)]
    nose: Maybe = None

    @model_validator(mode="after")
    def _plausible(self) -> ToolHolders:
        if self.nose is not None:
            _in_mm(say("nose"), self.nose, self.unit, 5, 200)
        seen = set()
        for n, size in enumerate(self.sizes, start=1):
            _in_mm(say("size {n}", n=n), size, self.unit, 1, 100)
            if (mm := Length(size, self.unit).mm) in seen:
                raise ValueError(say("size {n}: is listed already", n=n))
            seen.add(mm)
        if len(self.sizes) > self.count:
            raise ValueError(say("count: must be at least one for each size, {least}", least=len(self.sizes)))
        return self


class HolderRow(Row):
    """Holders of one way and one taper as a line of a table."""

    name: Name
    way: Key
    taper: Word
    unit: LengthUnit
    sizes: Texts = ()
    count: Annotated[Number, Field(ge=1, le=200)]
    nose: Maybe = None

    @model_validator(mode="after")
    def _plausible(self) -> HolderRow:
        try:
            self.holders()
        except Refused as refused:
            raise ValueError(together((e.bound for e in refused.errors), "; ")) from None
        return self

    def holders(self) -> ToolHolders:
        """The entry of the register. Raises ``Refused``."""
        return read_model(ToolHolders, {"kind": "tool-holders", **self.model_dump(exclude={"name"})})

    @classmethod
    def of(cls, name: str, holders: ToolHolders) -> HolderRow:
        """The line of an entry."""
        return cls(name=name, **holders.model_dump(exclude={"kind"}))


AnyHolding = Vise | Parallels | Clamps | VBlocks | AngleBlocks | RotaryTable | ToolHolders
Of = Annotated[AnyHolding, Field(discriminator="kind")]


class _Entry(Strict):
    of: Of


def read_holding(data: Any) -> AnyHolding:
    """A workholding entry from its file content. Raises ``Refused`` with every field that cannot be."""
    return read_model(_Entry, {"of": data}).of


@lru_cache(maxsize=512)
def kept_holding(text: str) -> AnyHolding:
    """A workholding entry as the register keeps it; the same text is read once. Raises ``Refused``."""
    return read_holding(json.loads(text))


def described(of: AnyHolding) -> str:
    """What it is and what it can hold, in a line."""
    match of:
        case Vise():
            words = say(
                "jaw {jaw} {unit}, {depth} deep, opens {opening}; bolts {bolts} apart; {base}",
                **of.model_dump(include={"jaw", "unit", "depth", "opening", "bolts"}),
                base=say("swivel base") if of.swivel else say("plain base"),
            )
        case Parallels():
            listed = together((p.height for p in of.pairs), " · ")
            said = ("{count} pair: {listed} {unit} high", "{count} pairs: {listed} {unit} high")
            words = say_many(*said, len(of.pairs), listed=listed, unit=of.unit)
        case Clamps():
            words = say(
                "{stud} studs, straps {listed} {unit}", stud=of.stud, listed=together(of.straps, " · "), unit=of.unit
            )
        case VBlocks():
            words = say_many(
                "{count} block {length} {unit} long, bars of {least} to {most} {unit}",
                "{count} blocks {length} {unit} long, bars of {least} to {most} {unit}",
                of.count,
                **of.model_dump(include={"length", "unit", "least", "most"}),
            )
        case AngleBlocks():
            words = say("{listed} degrees", listed=together(of.angles, " · "))
            if degree := of.every_degree_to():
                words = say(
                    "{words}; up to {stacked} together set every whole degree from 1 to {degree}",
                    words=words,
                    stacked=MOST_STACKED,
                    degree=degree,
                )
        case RotaryTable():
            words = say(
                "{diameter} {unit} across, {height} high; {turns}:1, {degrees} degrees a turn{stands}",
                **of.model_dump(include={"diameter", "unit", "height", "turns"}),
                degrees=in_places(of.per_turn, 3).rstrip("0").rstrip("."),
                stands=say("; stands upright too") if of.upright else "",
            )
        case ToolHolders():
            words = say_many("{count} for a {taper}", "{count} for a {taper}", of.count, taper=of.taper)
            if of.sizes:
                words = say("{words}: {listed} {unit}", words=words, listed=together(of.sizes, " · "), unit=of.unit)
    return words
