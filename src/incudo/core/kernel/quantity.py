"""Lengths: an exact decimal, kept as it was written, with its unit.

1 in is 25.4 mm exactly (the international inch), so every comparison is made
on exact fractions of a millimetre and never on binary floating point.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import ROUND_HALF_EVEN, Decimal, localcontext
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache
from typing import Annotated

from pydantic import BeforeValidator, WithJsonSchema

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say

MM_PER_INCH = Fraction(254, 10)
MAX_DECIMALS = 6
MAX_LENGTH_MM = 10_000
#: How a number is typed; a page can look at once whether something is one, and nothing more.
NUMBER_FORM = r"([+-]?)([0-9]{1,6}(?:\.[0-9]*)?|\.[0-9]+)"
_NUMBER = re.compile(NUMBER_FORM)


class Unit(StrEnum):
    """What a measured value is in: one of the two units of length, or degrees of an angle."""

    INCH = "in"
    MM = "mm"
    DEGREE = "deg"

    @property
    def in_mm(self) -> Fraction:
        """Millimetres in one of this unit, exactly; angles are worked with in degrees as they are."""
        return MM_PER_INCH if self is Unit.INCH else Fraction(1)

    @property
    def other(self) -> Unit:
        """The other unit of length; degrees have no other."""
        return {Unit.INCH: Unit.MM, Unit.MM: Unit.INCH, Unit.DEGREE: Unit.DEGREE}[self]


#: The units of length.
LENGTHS = (Unit.INCH, Unit.MM)


def _of_length(unit: object) -> object:
    if unit not in LENGTHS:
        raise ValueError(say("must be one of: in, mm"))
    return unit


#: A unit of length, as a form or a file gives it.
LengthUnit = Annotated[Unit, BeforeValidator(_of_length), WithJsonSchema({"enum": ["in", "mm"], "type": "string"})]


@lru_cache(maxsize=4096)
def _read(text: str) -> Fraction:
    """The numbers of a machine, a cutter or a part are asked for again and again."""
    return Fraction(Decimal(text))


@dataclass(frozen=True)
class Length:
    """A length, or an angle, as written: ``text`` keeps its decimal places (2.50 is not 2.500)."""

    text: str
    unit: Unit

    @classmethod
    def parse(cls, text: str, unit: str | Unit, field: str = "value") -> Length:
        """Read what a person typed. Raises ``Refused`` naming the field and the bound."""
        known = next((u for u in LENGTHS if u == unit), None)
        if known is None:
            raise Refused.of(f"{field}.unit", unit, say("must be one of: in, mm"))
        length = cls(number(text, field), known)
        if abs(length.mm) > MAX_LENGTH_MM:
            most = str(MAX_LENGTH_MM) if known is Unit.MM else "393.7"
            bound = say("must lie between -{most} and {most} {unit}", most=most, unit=known)
            raise Refused.of(field, text, bound)
        return length

    @classmethod
    def degrees(cls, text: str, field: str = "value") -> Length:
        """An angle that a person typed, 0 to 180 degrees. Raises ``Refused`` naming the field and the bound."""
        angle = cls(number(text, field), Unit.DEGREE)
        if not 0 <= angle.exact <= 180:
            raise Refused.of(field, text, say("must lie between 0 and 180 degrees"))
        return angle

    @property
    def exact(self) -> Fraction:
        """The value in its own unit."""
        return _read(self.text)

    @property
    def mm(self) -> Fraction:
        """The value in millimetres (an angle: in degrees), exactly."""
        return self.exact * self.unit.in_mm

    @property
    def decimals(self) -> int:
        """Decimal places as written."""
        return len(self.text.partition(".")[2])

    def shown_in(self, unit: Unit) -> str:
        """The value as text in ``unit``: as written in its own, rounded in the other.

        One decimal place of an inch is worth about one and a half of a
        millimetre: going to mm drops one place, going to inch adds two.
        """
        if unit is self.unit or self.unit is Unit.DEGREE:
            return self.text
        places = max(self.decimals - 1, 0) if unit is Unit.MM else self.decimals + 2
        return in_places(self.mm / unit.in_mm, places)


def sense(way: Fraction | float) -> int:
    """Which way a difference goes: 1 where it grows, else -1. What is no difference has no way: ask before."""
    return 1 if way > 0 else -1


def number(text: str, field: str) -> str:
    """A plain decimal number as it was typed, without a plus sign. Raises ``Refused`` naming the field."""
    if len(text) > 40:
        raise Refused.of(field, text, say("must be a number of at most 40 characters"))
    given = text.strip().replace("\u2212", "-")
    if "," in given:
        raise Refused.of(field, text, say("write a decimal point, not a comma"))
    if not _NUMBER.fullmatch(given):
        raise Refused.of(field, text, say("must be a plain number such as 0.2485"))
    if len(given.partition(".")[2]) > MAX_DECIMALS:
        raise Refused.of(field, text, say("must have at most {max_decimals} decimal places", max_decimals=MAX_DECIMALS))
    return given.removeprefix("+")


def settable(value_mm: Fraction, division: Length, *, halves: bool = True) -> Length:
    """What can be set on a dial or read off an indicator: whole divisions, or halves of them.

    Halves of the step go to even. Shown with the places of the division, one more for a half.
    """
    step = division.exact / 2 if halves else division.exact
    steps = round(value_mm / division.unit.in_mm / step)
    exact = steps * step
    places = division.decimals + (1 if halves and steps % 2 else 0)
    text = in_places(exact, places)
    return Length(text if Fraction(text) == exact else in_places(exact, MAX_DECIMALS), division.unit)


def in_places(value: Fraction, places: int) -> str:
    """``value`` rounded (halves to even) to a fixed number of decimal places."""
    return f"{to_decimal(value, places):f}"


def to_decimal(value: Fraction, places: int = 20) -> Decimal:
    """A fraction as a decimal, rounded half to even at ``places``."""
    with localcontext() as context:
        context.prec = 60
        quotient = Decimal(value.numerator) / Decimal(value.denominator)
        return quotient.quantize(Decimal(1).scaleb(-places), rounding=ROUND_HALF_EVEN)


def plain(value_mm: Fraction, unit: Unit, at_least: int = 0) -> str:
    """A value given in mm, in ``unit``, without needless zeros.

    Exact where the decimal ends within eight places; else cut there and marked
    with an ellipsis, so that a rounded number never passes for an exact one.
    """
    value = value_mm / unit.in_mm
    text = in_places(value, 8)
    exact = Fraction(Decimal(text)) == value
    whole, _, part = text.partition(".")
    part = part.rstrip("0").ljust(at_least, "0") if exact else f"{part}…"
    return f"{whole}.{part}" if part else whole
