"""What a calculation is: declared inputs with units and bounds, the working, and the slips that lead to wrong answers.

Values are exact fractions in base units: mm, m/min for a cutting speed, mm/min for a feed, rpm,
degrees, percent, seconds, watts. Roots and π are taken to the precision of binary floats. The working is
written in the unit that the lengths were given in.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.picture import Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step
from incudo.core.reckoning.inputs import INCH_UNITS, UNITS, Input, Quantity, Value, Values, read_of


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
    """A calculation, declared once for page, exercise and command line; ``order`` is its place in the order of work.

    ``holds_reading``: what it is given is measured at the part, so that whoever measures it blind must not see it.
    """

    id: str
    name: str
    group: str
    about: str
    inputs: tuple[Input, ...]
    work: Callable[[Values], Outcome]
    slips: tuple[Slip, ...] = ()
    draw: Callable[[Values, Outcome], Picture] | None = None
    plot: Callable[[Values, Outcome], Picture | None] | None = None
    order: int = 0
    holds_reading: bool = False

    def read(self, given: Mapping[str, object]) -> Values:
        """Typed inputs: a text, or a text with its unit ({"value": "0.625", "unit": "in"}).

        Raises ``Refused`` with every field that cannot be, its value and its bound.
        """
        errors: list[FieldError] = []
        found: dict[str, Value] = {}
        known = {i.name for i in self.inputs}
        for name in sorted(set(given) - known):
            errors.append(
                FieldError(
                    name, "", say("is not an input here; there are: {listed}", listed=together(sorted(known), ", "))
                )
            )
        units = [u for i in self.inputs if (u := _unit_of(i, given.get(i.name))) is not None]
        unit = Unit.INCH if units and units[0] in INCH_UNITS else Unit.MM
        for i in self.inputs:
            try:
                found[i.name] = read_of(i, given[i.name] if i.name in given else default_of(i, unit))
            except Refused as refused:
                errors += refused.errors
        if errors:
            raise Refused(*errors)
        return Values(found, unit)

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


def default_of(i: Input, unit: Unit) -> dict[str, str]:
    """What stands for an input that is not given, in the unit of the work."""
    if unit is Unit.INCH and i.default_inch:
        return {"value": i.default_inch, "unit": "in"}
    return {"value": i.default, "unit": ""}


#: Kinds whose unit says in which system the work is done.
_WITH_SYSTEM = (Quantity.LENGTH, Quantity.LENGTHS, Quantity.SURFACE, Quantity.FEED, Quantity.FEEDS)


def _unit_of(i: Input, given: object) -> str | None:
    """The unit an input that was given sets for the working; None where it sets none."""
    if i.kind not in _WITH_SYSTEM or not given:
        return None
    unit = given.get("unit", "") if isinstance(given, Mapping) else ""
    return str(unit) or next(iter(UNITS[i.kind]))


def numbered(name: str, label: str, kind: Quantity, values: Iterable[Fraction]) -> tuple[Output, ...]:
    """Results of one kind, numbered from 1."""
    return tuple(Output(f"{name}{i}", f"{label} {i}", kind, x) for i, x in enumerate(values, 1))
