"""What a calculation is: declared inputs with units and bounds, the working, and the slips that lead to wrong answers.

Values are exact fractions in base units: mm, m/min for a cutting speed, mm/min for a feed, turns a minute,
degrees, percent, seconds, watts. Roots and π are taken to the precision of binary floats.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.errors import FieldError, Refused
from incudo.core.quantity import MM_PER_INCH, Length, Unit, in_places
from incudo.core.working import Step


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
    STEPS = "steps"
    CHOICE = "choice"


#: Units of each kind with what one of them is in the base unit; the first is the base.
UNITS: dict[Quantity, dict[str, Fraction]] = {
    Quantity.LENGTH: {"mm": Fraction(1), "in": MM_PER_INCH},
    Quantity.SURFACE: {"m/min": Fraction(1), "ft/min": MM_PER_INCH * 12 / 1000},
    Quantity.TURNS: {"1/min": Fraction(1)},
    Quantity.FEED: {"mm/min": Fraction(1), "in/min": MM_PER_INCH},
    Quantity.COUNT: {"": Fraction(1)},
    Quantity.ANGLE: {"°": Fraction(1)},
    Quantity.PERCENT: {"%": Fraction(1)},
    Quantity.TIME: {"s": Fraction(1), "min": Fraction(60)},
    Quantity.TEMPERATURE: {"°C": Fraction(1), "°F": Fraction(5, 9)},
    Quantity.STEPS: {"1/min": Fraction(1)},
    Quantity.CHOICE: {"": Fraction(1)},
}


@dataclass(frozen=True)
class Input:
    """One input: its bounds in the base unit (``low`` itself is allowed only where ``with_low``), its choices."""

    name: str
    label: str
    kind: Quantity
    low: Fraction = Fraction(0)
    high: Fraction = Fraction(10_000)
    with_low: bool = False
    choices: tuple[str, ...] = ()
    default: str = ""
    optional: bool = False

    def bound(self, unit: str) -> str:
        """The bounds in words, in a unit."""
        one = UNITS[self.kind][unit]
        low, high = (shown(v / one) for v in (self.low, self.high))
        tail = f" {unit}" if unit else ""
        return f"must be {'at least' if self.with_low else 'more than'} {low} and at most {high}{tail}"


Value = Fraction | str | tuple[int, ...]


@dataclass(frozen=True)
class Values:
    """The inputs of one reckoning, read and within their bounds."""

    of: Mapping[str, Value]

    def __getitem__(self, name: str) -> Fraction:
        found = self.of[name]
        if not isinstance(found, Fraction):
            raise TypeError(f"{name} is no number")
        return found

    def choice(self, name: str) -> str:
        """The choice of an input."""
        return str(self.of[name])

    def steps(self, name: str) -> tuple[int, ...]:
        """The steps of a machine."""
        found = self.of[name]
        return found if isinstance(found, tuple) else ()

    def but(self, **changed: Value) -> Values:
        """The same with some values changed."""
        return Values({**self.of, **changed})


@dataclass(frozen=True)
class Output:
    """One result, in the base unit of its kind."""

    name: str
    label: str
    kind: Quantity
    value: Fraction


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
        return Values(found)

    def reckon(self, given: Mapping[str, object]) -> Outcome:
        """Read and work out."""
        return self.work(self.read(given))

    def slip_of(self, values: Values, answer: Fraction, near: Fraction) -> Slip | None:
        """The slip that leads to just this answer (within ``near``), none for a right answer or another wrong one."""
        right = self.work(values)
        if abs(right.answer.value - answer) <= near:
            return None
        for slip in self.slips:
            wrong = wrong_answer(self, slip, values, right)
            if wrong is not None and abs(wrong - answer) <= near:
                return slip
        return None


def wrong_answer(c: Calculation, slip: Slip, values: Values, right: Outcome) -> Fraction | None:
    """What a slip makes of these inputs; None where it cannot be made with them."""
    if slip.answer is not None:
        return slip.answer(values, right)
    if slip.inputs is None:
        return None
    try:
        return c.work(slip.inputs(values)).answer.value
    except (Refused, ZeroDivisionError, ValueError):
        return None


@dataclass(frozen=True)
class Lever:
    """How the answer changes, as a share of itself, when one input grows by a tenth."""

    name: str
    label: str
    share: float


def levers(c: Calculation, values: Values) -> tuple[Lever, ...]:
    """Which inputs move the answer most; those that cannot grow by a tenth here are left out."""
    right = c.work(values).answer.value
    found = []
    for i in c.inputs:
        value = values.of[i.name]
        if not isinstance(value, Fraction) or not right or not value:
            continue
        grown = value * 11 / 10 if i.kind is not Quantity.COUNT else value + 1
        if grown > i.high:
            continue
        try:
            share = float(c.work(values.but(**{i.name: grown})).answer.value / right) - 1
        except Refused:
            continue
        found.append(Lever(i.name, i.label, share))
    return tuple(found)


def _read(i: Input, given: object) -> Value:
    text, unit = given, ""
    if isinstance(given, Mapping):
        text, unit = given.get("value", ""), given.get("unit", "")
    if not isinstance(text, str) or not isinstance(unit, str):
        raise Refused.of(
            i.name, "", 'must be a text, or a text with its unit, such as {"value": "0.625", "unit": "in"}'
        )
    if i.kind is Quantity.CHOICE:
        if text not in i.choices:
            raise Refused.of(i.name, text, f"must be one of: {', '.join(i.choices)}")
        return text
    units = UNITS[i.kind]
    unit = unit or next(iter(units))
    if unit not in units:
        raise Refused.of(f"{i.name}.unit", unit, f"must be one of: {', '.join(u or 'none' for u in units)}")
    if i.kind is Quantity.STEPS:
        return () if i.optional and not text.strip() else _steps(i, text)
    # a length's own reader knows how a number is written; the bound is this input's
    number = Length.parse(text, Unit.MM, i.name).exact if text else None
    if number is None:
        raise Refused.of(i.name, "", f"is missing: {i.bound(unit)}")
    value = number * units[unit]
    if i.kind is Quantity.COUNT and value.denominator != 1:
        raise Refused.of(i.name, text, "must be a whole number")
    if value > i.high or value < i.low or (value == i.low and not i.with_low):
        raise Refused.of(i.name, text, i.bound(unit))
    return value


def _steps(i: Input, text: str) -> tuple[int, ...]:
    parts = [p for p in text.replace(",", " ").split() if p]
    if not parts or len(parts) > 60 or not all(p.isascii() and p.isdigit() and len(p) <= 5 for p in parts):
        raise Refused.of(i.name, text[:60], "must be whole numbers with spaces between, such as 80 135 210; at most 60")
    found = tuple(int(p) for p in parts)
    if list(found) != sorted(set(found)) or found[0] < 1:
        raise Refused.of(i.name, text[:60], "must rise from each to the next, from 1 on")
    return found


def shown(value: Fraction, places: int = 5) -> str:
    """A number without needless zeros, rounded at so many places."""
    text = in_places(value, places)
    return text.rstrip("0").rstrip(".") if "." in text else text
