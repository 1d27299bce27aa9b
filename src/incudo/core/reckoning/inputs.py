"""Inputs of calculations: their units, their bounds, and how typed values are read.

Values are exact fractions in base units: mm, m/min for a cutting speed, mm/min for a feed, rpm,
degrees, percent, seconds, watts. Roots and π are taken to the precision of binary floats.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH, LengthUnit, Unit, in_places, number
from incudo.core.kernel.say import say, together


class Quantity(StrEnum):
    """What a value is; it decides which units it can be given in."""

    LENGTH = "length"
    SURFACE = "cutting speed"
    TURNS = "rpm"
    FEED = "feed"
    COUNT = "count"
    NUMBER = "number"
    ANGLE = "angle"
    PERCENT = "percent"
    TIME = "time"
    TEMPERATURE = "difference in temperature"
    POWER = "power"
    UNIT_POWER = "power per rate of removal"
    REMOVAL = "rate of removal"
    STEPS = "steps"
    LENGTHS = "lengths"
    FEEDS = "feeds"
    CHOICE = "choice"


_HP = Fraction(7457, 10)


_CUBIC_INCH = MM_PER_INCH**3 / 1000


_MM_OR_INCH = {"mm": Fraction(1), "in": MM_PER_INCH}


#: Units of each kind with what one of them is in the base unit; the first is the base.
UNITS: dict[Quantity, dict[str, Fraction]] = {
    Quantity.LENGTH: _MM_OR_INCH,
    Quantity.SURFACE: {"m/min": Fraction(1), "ft/min": MM_PER_INCH * 12 / 1000},
    Quantity.TURNS: {"rpm": Fraction(1)},
    Quantity.FEED: {"mm/min": Fraction(1), "in/min": MM_PER_INCH},
    Quantity.COUNT: {"": Fraction(1)},
    Quantity.NUMBER: {"": Fraction(1)},
    Quantity.ANGLE: {"°": Fraction(1)},
    Quantity.PERCENT: {"%": Fraction(1)},
    Quantity.TIME: {"s": Fraction(1), "min": Fraction(60)},
    Quantity.TEMPERATURE: {"°C": Fraction(1), "°F": Fraction(5, 9)},
    Quantity.POWER: {"W": Fraction(1), "hp": _HP},
    Quantity.UNIT_POWER: {"W·min/cm³": Fraction(1), "hp·min/in³": _HP / _CUBIC_INCH},
    Quantity.REMOVAL: {"cm³/min": Fraction(1), "in³/min": _CUBIC_INCH},
    Quantity.STEPS: {"rpm": Fraction(1)},
    Quantity.LENGTHS: _MM_OR_INCH,
    Quantity.FEEDS: {"mm/min": Fraction(1), "in/min": MM_PER_INCH},
    Quantity.CHOICE: {"": Fraction(1)},
}


#: Units that make the working one in inches.
INCH_UNITS = frozenset({"in", "ft/min", "in/min"})


MOST_IN_LIST = 200
#: What is given as several numbers with spaces between.
LISTS = (Quantity.STEPS, Quantity.LENGTHS, Quantity.FEEDS)


@dataclass(frozen=True)
class Input:
    """One input: its bounds in the base unit (``low`` itself is allowed only where ``with_low``), its choices.

    ``fills`` says which value of the chosen machine, material or cutter stands here, such as ``cutter.diameter``.
    ``default_inch`` stands for ``default`` (mm) where the work is in inches: a round figure of that unit.
    """

    name: str
    label: str
    kind: Quantity
    low: Fraction = Fraction(0)
    high: Fraction = Fraction(10_000)
    with_low: bool = False
    choices: tuple[str, ...] = ()
    default: str = ""
    optional: bool = False
    fills: str = ""
    default_inch: str = ""

    def unit_in(self, shown: Unit) -> str:
        """The unit to type it in where inches or millimetres are shown."""
        units = tuple(UNITS[self.kind])
        inch = next((u for u in units if u in INCH_UNITS), units[0])
        return inch if shown is Unit.INCH else units[0]

    def bound(self, unit: str) -> str:
        """The bounds in words, in a unit."""
        one = UNITS[self.kind][unit]
        low, high = (shown(v / one) for v in (self.low, self.high))
        tail = f" {unit}" if unit else ""
        if self.with_low:
            return say("must be at least {low} and at most {high}{tail}", low=low, high=high, tail=tail)
        return say("must be more than {low} and at most {high}{tail}", low=low, high=high, tail=tail)


def length(
    name: str,
    label: str,
    high: float = 500,
    *,
    low: float = 0,
    zero: bool = False,
    default: str = "",
    default_inch: str = "",
    optional: bool = False,
    fills: str = "",
) -> Input:
    """A length of more than ``low`` (with ``zero`` also that itself), at most ``high``, in mm."""
    bounds = Fraction(str(low)), Fraction(str(high))
    return Input(
        name,
        label,
        Quantity.LENGTH,
        *bounds,
        with_low=zero or low < 0,
        default=default,
        optional=optional,
        fills=fills,
        default_inch=default_inch,
    )


def count(name: str, label: str, low: int, high: int, *, default: str = "", fills: str = "") -> Input:
    """A whole number from ``low`` to ``high``."""
    bounds = Fraction(low), Fraction(high)
    return Input(name, label, Quantity.COUNT, *bounds, with_low=True, default=default, fills=fills)


def choice(name: str, label: str, *choices: str, fills: str = "") -> Input:
    """One of these; the first unless another is said."""
    return Input(name, label, Quantity.CHOICE, choices=choices, default=choices[0], fills=fills)


Value = Fraction | str | tuple[Fraction, ...] | None


@dataclass(frozen=True)
class Values:
    """The inputs of one reckoning, read and within their bounds; ``unit`` is that of its working."""

    of: Mapping[str, Value]
    unit: LengthUnit = Unit.MM

    def __getitem__(self, name: str) -> Fraction:
        found = self.of[name]
        if not isinstance(found, Fraction):
            raise TypeError(f"{name} is no number")
        return found

    def given(self, name: str) -> bool:
        """Whether an input that may be left out was given."""
        return self.of.get(name) not in (None, ())

    def choice(self, name: str) -> str:
        """The choice of an input."""
        return str(self.of[name])

    def list(self, name: str) -> tuple[Fraction, ...]:
        """The numbers of a list: steps of a machine, lengths."""
        found = self.of[name]
        return found if isinstance(found, tuple) else ()

    def but(self, **changed: Value) -> Values:
        """The same with some values changed."""
        return Values({**self.of, **changed}, self.unit)

    def num(self, mm: Fraction | float, places: int | None = None) -> str:
        """A length as a number in the working's unit."""
        exact = Fraction(mm) / self.unit.in_mm
        return shown(exact, (5 if self.unit is Unit.INCH else 4) if places is None else places)

    def len(self, mm: Fraction | float, places: int | None = None) -> str:
        """A length with the working's unit."""
        return f"{self.num(mm, places)} {self.unit.value}"

    def surface(self, metres: Fraction) -> str:
        """A cutting speed in m/min, or in ft/min for a working in inches."""
        inch = self.unit is Unit.INCH
        return f"{shown(metres / UNITS[Quantity.SURFACE]['ft/min' if inch else 'm/min'], 1)}"

    def feed(self, mm_min: Fraction) -> str:
        """A feed with its unit."""
        return f"{shown(mm_min / self.unit.in_mm, 2)} {self.unit.value}/min"


def read_of(i: Input, given: object) -> Value:
    text, unit = given, ""
    if isinstance(given, Mapping):
        text, unit = given.get("value", ""), given.get("unit", "")
    if not isinstance(text, str) or not isinstance(unit, str):
        raise Refused.of(
            i.name, "", say('must be a text, or a text with its unit, such as {{"value": "0.625", "unit": "in"}}')
        )
    if i.kind is Quantity.CHOICE:
        if (text or i.default) not in i.choices:
            raise Refused.of(i.name, text, say("must be one of: {listed}", listed=together(i.choices, ", ")))
        return text or i.default
    units = UNITS[i.kind]
    unit = unit or next(iter(units))
    if unit not in units:
        raise Refused.of(
            f"{i.name}.unit", unit, say("must be one of: {listed}", listed=together((u or "none" for u in units), ", "))
        )
    if i.optional and not text.strip():
        return () if i.kind in LISTS else None
    if i.kind is Quantity.STEPS:
        return _steps(i, text)
    if i.kind in LISTS:
        return _lengths(i, text, unit)
    if not text.strip():
        raise Refused.of(i.name, "", say("is missing: {bound}", bound=i.bound(unit)))
    return _number(i, text, unit)


def _number(i: Input, text: str, unit: str) -> Fraction:
    value = Fraction(number(text, i.name)) * UNITS[i.kind][unit]
    if i.kind is Quantity.COUNT and value.denominator != 1:
        raise Refused.of(i.name, text, say("must be a whole number"))
    if value > i.high or value < i.low or (value == i.low and not i.with_low):
        raise Refused.of(i.name, text, i.bound(unit))
    return value


def _steps(i: Input, text: str) -> tuple[Fraction, ...]:
    parts = [p for p in text.replace(",", " ").split() if p]
    if not parts or len(parts) > 60 or not all(p.isascii() and p.isdigit() and len(p) <= 5 for p in parts):
        raise Refused.of(
            i.name, text[:60], say("must be whole numbers with spaces between, such as 90 145 230; at most 60")
        )
    found = tuple(Fraction(p) for p in parts)
    if list(found) != sorted(set(found)) or found[0] < 1:
        raise Refused.of(i.name, text[:60], say("must rise from each to the next, from 1 on"))
    return found


def _lengths(i: Input, text: str, unit: str) -> tuple[Fraction, ...]:
    parts = text.split()
    if not 1 <= len(parts) <= MOST_IN_LIST:
        raise Refused.of(
            i.name,
            text[:60],
            say("must be 1 to {most_in_list} numbers with spaces between, such as 0.5 1.25", most_in_list=MOST_IN_LIST),
        )
    return tuple(_number(i, p, unit) for p in parts)


def shown(value: Fraction | float, places: int = 5) -> str:
    """A number without needless zeros, rounded at so many places."""
    text = in_places(Fraction(value), places)
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text == "-0" else text


def root(value: Fraction) -> Fraction:
    """A square root, to the precision of a binary float."""
    return Fraction(math.sqrt(value))


def tan(degrees: Fraction) -> Fraction:
    """A tangent, to the precision of a binary float."""
    return Fraction(math.tan(math.radians(degrees)))
