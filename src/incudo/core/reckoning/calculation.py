"""What a calculation is: declared inputs with units and bounds, the working, and the slips that lead to wrong answers.

Values are exact fractions in base units: mm, m/min for a cutting speed, mm/min for a feed, turns a minute,
degrees, percent, seconds, watts. Roots and π are taken to the precision of binary floats. The working is
written in the unit that the lengths were given in.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.quantity import MM_PER_INCH, Unit, in_places, number
from incudo.core.kernel.working import Step
from incudo.core.reckoning.picture import Picture


class Quantity(StrEnum):
    """What a value is; it decides which units it can be given in."""

    LENGTH = "length"
    SURFACE = "cutting speed"
    TURNS = "turns a minute"
    FEED = "feed"
    COUNT = "count"
    ANGLE = "angle"
    PERCENT = "percent"
    TIME = "time"
    TEMPERATURE = "difference in temperature"
    POWER = "power"
    UNIT_POWER = "power per rate of removal"
    REMOVAL = "rate of removal"
    STEPS = "steps"
    LENGTHS = "lengths"
    CHOICE = "choice"


_HP = Fraction(7457, 10)
_CUBIC_INCH = MM_PER_INCH**3 / 1000
_MM_OR_INCH = {"mm": Fraction(1), "in": MM_PER_INCH}

#: Units of each kind with what one of them is in the base unit; the first is the base.
UNITS: dict[Quantity, dict[str, Fraction]] = {
    Quantity.LENGTH: _MM_OR_INCH,
    Quantity.SURFACE: {"m/min": Fraction(1), "ft/min": MM_PER_INCH * 12 / 1000},
    Quantity.TURNS: {"1/min": Fraction(1)},
    Quantity.FEED: {"mm/min": Fraction(1), "in/min": MM_PER_INCH},
    Quantity.COUNT: {"": Fraction(1)},
    Quantity.ANGLE: {"°": Fraction(1)},
    Quantity.PERCENT: {"%": Fraction(1)},
    Quantity.TIME: {"s": Fraction(1), "min": Fraction(60)},
    Quantity.TEMPERATURE: {"°C": Fraction(1), "°F": Fraction(5, 9)},
    Quantity.POWER: {"W": Fraction(1), "hp": _HP},
    Quantity.UNIT_POWER: {"W·min/cm³": Fraction(1), "hp·min/in³": _HP / _CUBIC_INCH},
    Quantity.REMOVAL: {"cm³/min": Fraction(1), "in³/min": _CUBIC_INCH},
    Quantity.STEPS: {"1/min": Fraction(1)},
    Quantity.LENGTHS: _MM_OR_INCH,
    Quantity.CHOICE: {"": Fraction(1)},
}
#: Units that make the working one in inches.
_INCH_UNITS = frozenset({"in", "ft/min", "in/min"})
MOST_IN_LIST = 200


@dataclass(frozen=True)
class Input:
    """One input: its bounds in the base unit (``low`` itself is allowed only where ``with_low``), its choices.

    ``fills`` says which value of the chosen machine, material or cutter stands here, such as ``cutter.diameter``.
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

    def bound(self, unit: str) -> str:
        """The bounds in words, in a unit."""
        one = UNITS[self.kind][unit]
        low, high = (shown(v / one) for v in (self.low, self.high))
        tail = f" {unit}" if unit else ""
        return f"must be {'at least' if self.with_low else 'more than'} {low} and at most {high}{tail}"


def length(
    name: str,
    label: str,
    high: float = 500,
    *,
    low: float = 0,
    zero: bool = False,
    default: str = "",
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
    unit: Unit = Unit.MM

    def __getitem__(self, name: str) -> Fraction:
        found = self.of[name]
        if not isinstance(found, Fraction):
            raise TypeError(f"{name} is no number")
        return found

    def given(self, name: str) -> bool:
        """Whether an input that may be left out was given."""
        return self.of[name] not in (None, ())

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


@dataclass(frozen=True)
class Output:
    """One result, in the base unit of its kind. An answer in words is its place among ``words``."""

    name: str
    label: str
    kind: Quantity
    value: Fraction
    words: tuple[str, ...] = ()

    @property
    def word(self) -> str:
        """The answer in words; empty for a number."""
        return self.words[int(self.value)] if self.words else ""


@dataclass(frozen=True)
class Outcome:
    """Results (the first is the answer), the working, and what has to be said about them."""

    results: tuple[Output, ...]
    steps: tuple[Step, ...]
    said: tuple[str, ...] = ()

    @property
    def answer(self) -> Output:
        return self.results[0]


@dataclass(frozen=True)
class Slip:
    """A usual mistake: what it does to the inputs, or to the right answer (both are given)."""

    words: str
    inputs: Callable[[Values], Values] | None = None
    answer: Callable[[Values, Outcome], Fraction] | None = None


@dataclass(frozen=True)
class Calculation:
    """A calculation, declared once for page, exercise and command line."""

    id: str
    name: str
    group: str
    about: str
    inputs: tuple[Input, ...]
    work: Callable[[Values], Outcome]
    slips: tuple[Slip, ...] = ()
    draw: Callable[[Values, Outcome], Picture] | None = None
    plot: Callable[[Values, Outcome], Picture | None] | None = None

    def read(self, given: Mapping[str, object]) -> Values:
        """Typed inputs: a text, or a text with its unit ({"value": "0.625", "unit": "in"}).

        Raises ``Refused`` with every field that cannot be, its value and its bound.
        """
        errors: list[FieldError] = []
        found: dict[str, Value] = {}
        known = {i.name for i in self.inputs}
        for name in sorted(set(given) - known):
            errors.append(FieldError(name, "", f"is no input here; there are: {', '.join(sorted(known))}"))
        for i in self.inputs:
            try:
                found[i.name] = _read(i, given.get(i.name, i.default))
            except Refused as refused:
                errors += refused.errors
        if errors:
            raise Refused(*errors)
        units = [u for i in self.inputs if (u := _unit_of(i, given.get(i.name))) is not None]
        return Values(found, Unit.INCH if units and units[0] in _INCH_UNITS else Unit.MM)

    def reckon(self, given: Mapping[str, object]) -> Outcome:
        """Read and work out."""
        return self.work(self.read(given))

    def slip_of(self, values: Values, answer: Fraction, near: Fraction) -> Slip | None:
        """The slip that leads to just this answer (within ``near``), the nearest of several.

        None for a right answer, and for a wrong one that no slip leads to.
        """
        right = self.work(values)
        if abs(right.answer.value - answer) <= near:
            return None
        best: tuple[Fraction, Slip] | None = None
        for slip in self.slips:
            wrong = wrong_answer(self, slip, values, right)
            if wrong is not None and abs(wrong - answer) <= near and (best is None or abs(wrong - answer) < best[0]):
                best = abs(wrong - answer), slip
        return best[1] if best else None

    def working_from(self, values: Values, slip: Slip | None) -> tuple[Step, ...]:
        """The working from the line on at which a slip leads away; all of it where no slip is known."""
        right = self.work(values)
        if slip is None or slip.inputs is None:
            return right.steps if slip is None else right.steps[-1:]
        try:
            wrong = self.work(slip.inputs(values))
        except (Refused, ZeroDivisionError, ValueError, TypeError):
            return right.steps
        same = 0
        for mine, other in zip(right.steps, wrong.steps, strict=False):
            if mine != other:
                break
            same += 1
        return right.steps[min(same, len(right.steps) - 1) :]


def wrong_answer(c: Calculation, slip: Slip, values: Values, right: Outcome) -> Fraction | None:
    """What a slip makes of these inputs; None where it cannot be made with them."""
    try:
        if slip.answer is not None:
            return slip.answer(values, right)
        return None if slip.inputs is None else c.work(slip.inputs(values)).answer.value
    except (Refused, ZeroDivisionError, ValueError, TypeError):
        return None


@dataclass(frozen=True)
class Lever:
    """How the answer changes, as a share of itself, when one input grows by a tenth."""

    name: str
    label: str
    share: float


def levers(c: Calculation, values: Values) -> tuple[Lever, ...]:
    """Which inputs move the answer most; those that cannot grow by a tenth here are left out."""
    answer = c.work(values).answer
    if answer.words or not answer.value:
        return ()
    found = []
    for i in c.inputs:
        value = values.of[i.name]
        if not isinstance(value, Fraction) or not value:
            continue
        grown = value * 11 / 10 if i.kind is not Quantity.COUNT else value + 1
        if grown > i.high:
            continue
        try:
            share = float(c.work(values.but(**{i.name: grown})).answer.value / answer.value) - 1
        except Refused:
            continue
        found.append(Lever(i.name, i.label, share))
    return tuple(found)


def _unit_of(i: Input, given: object) -> str | None:
    """The unit an input that was given sets for the working; None where it sets none."""
    if i.kind not in (Quantity.LENGTH, Quantity.LENGTHS, Quantity.SURFACE, Quantity.FEED) or not given:
        return None
    unit = given.get("unit", "") if isinstance(given, Mapping) else ""
    return str(unit) or next(iter(UNITS[i.kind]))


def _read(i: Input, given: object) -> Value:
    text, unit = given, ""
    if isinstance(given, Mapping):
        text, unit = given.get("value", ""), given.get("unit", "")
    if not isinstance(text, str) or not isinstance(unit, str):
        raise Refused.of(
            i.name, "", 'must be a text, or a text with its unit, such as {"value": "0.625", "unit": "in"}'
        )
    if i.kind is Quantity.CHOICE:
        if (text or i.default) not in i.choices:
            raise Refused.of(i.name, text, f"must be one of: {', '.join(i.choices)}")
        return text or i.default
    units = UNITS[i.kind]
    unit = unit or next(iter(units))
    if unit not in units:
        raise Refused.of(f"{i.name}.unit", unit, f"must be one of: {', '.join(u or 'none' for u in units)}")
    if i.optional and not text.strip():
        return () if i.kind in (Quantity.STEPS, Quantity.LENGTHS) else None
    if i.kind is Quantity.STEPS:
        return _steps(i, text)
    if i.kind is Quantity.LENGTHS:
        return _lengths(i, text, unit)
    if not text.strip():
        raise Refused.of(i.name, "", f"is missing: {i.bound(unit)}")
    return _number(i, text, unit)


def _number(i: Input, text: str, unit: str) -> Fraction:
    value = Fraction(number(text, i.name)) * UNITS[i.kind][unit]
    if i.kind is Quantity.COUNT and value.denominator != 1:
        raise Refused.of(i.name, text, "must be a whole number")
    if value > i.high or value < i.low or (value == i.low and not i.with_low):
        raise Refused.of(i.name, text, i.bound(unit))
    return value


def _steps(i: Input, text: str) -> tuple[Fraction, ...]:
    parts = [p for p in text.replace(",", " ").split() if p]
    if not parts or len(parts) > 60 or not all(p.isascii() and p.isdigit() and len(p) <= 5 for p in parts):
        raise Refused.of(i.name, text[:60], "must be whole numbers with spaces between, such as 80 135 210; at most 60")
    found = tuple(Fraction(p) for p in parts)
    if list(found) != sorted(set(found)) or found[0] < 1:
        raise Refused.of(i.name, text[:60], "must rise from each to the next, from 1 on")
    return found


def _lengths(i: Input, text: str, unit: str) -> tuple[Fraction, ...]:
    parts = text.split()
    if not 1 <= len(parts) <= MOST_IN_LIST:
        raise Refused.of(
            i.name, text[:60], f"must be 1 to {MOST_IN_LIST} numbers with spaces between, such as 0.5 1.25"
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


def numbered(name: str, label: str, kind: Quantity, values: Iterable[Fraction]) -> tuple[Output, ...]:
    """Results of one kind, numbered from 1."""
    return tuple(Output(f"{name}{i}", f"{label} {i}", kind, x) for i, x in enumerate(values, 1))
