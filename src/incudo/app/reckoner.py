"""The reckoner: which calculations there are, and one worked out; for page and command line alike."""

from __future__ import annotations

import uuid
from typing import Annotated, Any

from pydantic import Field

from incudo.app.machine_register import spec_of
from incudo.app.unit import Work
from incudo.app.views import Command, StepView, View
from incudo.core.errors import NotFound
from incudo.core.reckon import CALCULATIONS
from incudo.core.reckon.base import UNITS, Calculation, Output, Quantity, levers, shown
from incudo.store import shop as shop_store


class InputView(View):
    """One input: its units (the first is the base), its bounds in words by unit, its choices."""

    name: str
    label: str
    kind: Quantity
    units: tuple[str, ...]
    bounds: dict[str, str]
    choices: tuple[str, ...]
    default: str
    optional: bool


class CalculationView(View):
    """A calculation as it is declared."""

    id: str
    name: str
    group: str
    about: str
    inputs: tuple[InputView, ...]


class MachineSteps(View):
    """A machine's spindle speeds, for what asks steps."""

    id: uuid.UUID
    name: str
    steps: str


class ReckonList(View):
    """Every calculation, and the machines' steps."""

    calculations: tuple[CalculationView, ...]
    machines: tuple[MachineSteps, ...]


class GivenValue(Command):
    """A value as it was typed, with its unit; none is the base unit."""

    value: Annotated[str, Field(max_length=400)]
    unit: Annotated[str, Field(max_length=8)] = ""


class ReckonQuestion(Command):
    """What is given, by the names of the inputs."""

    given: Annotated[dict[str, GivenValue], Field(max_length=20)]


class InUnit(View):
    """A result in one unit."""

    unit: str
    value: str


class ReckonResult(View):
    """One result, in every unit of its kind."""

    name: str
    label: str
    values: tuple[InUnit, ...]


class LeverView(View):
    """How the answer changes, as a share of itself, when this input grows by a tenth (a count by one)."""

    name: str
    label: str
    share: float


class ReckonAnswer(View):
    """Results (the first is the answer), what moves it, the working in base units, and what has to be said."""

    results: tuple[ReckonResult, ...]
    levers: tuple[LeverView, ...]
    working: tuple[StepView, ...]
    said: tuple[str, ...]


#: Decimal places in which a result is shown, by unit.
_PLACES = {"in": 4, "mm": 3, "in/min": 2, "mm/min": 1, "1/min": 0, "s": 0, "min": 1, "m/min": 1, "ft/min": 0, "": 0}


def calculation(name: str) -> Calculation:
    """A calculation. Raises ``NotFound`` naming those there are."""
    if name not in CALCULATIONS:
        raise NotFound(f"There is no calculation {name[:40]!r}; there are: {', '.join(CALCULATIONS)}.")
    return CALCULATIONS[name]


def calculation_view(c: Calculation) -> CalculationView:
    """A calculation as it is declared."""
    inputs = tuple(
        InputView(
            name=i.name,
            label=i.label,
            kind=i.kind,
            units=tuple(UNITS[i.kind]),
            bounds={} if i.kind in (Quantity.CHOICE, Quantity.STEPS) else {u: i.bound(u) for u in UNITS[i.kind]},
            choices=i.choices,
            default=i.default,
            optional=i.optional,
        )
        for i in c.inputs
    )
    return CalculationView(id=c.id, name=c.name, group=c.group, about=c.about, inputs=inputs)


def reckon_list(w: Work) -> ReckonList:
    """Every calculation, and the steps of the shop's machines."""
    machines = [(m, spec_of(m).spindle.steps) for m in shop_store.machines(w.db)]
    return ReckonList(
        calculations=tuple(calculation_view(c) for c in CALCULATIONS.values()),
        machines=tuple(
            MachineSteps(id=m.id, name=m.name, steps=" ".join(map(str, steps))) for m, steps in machines if steps
        ),
    )


def reckon(name: str, given: dict[str, Any]) -> ReckonAnswer:
    """Work one out; needs no database. Raises ``NotFound``, or ``Refused`` with every field and bound."""
    c = calculation(name)
    values = c.read(given)
    found = c.work(values)
    return ReckonAnswer(
        results=tuple(_result(o) for o in found.results),
        levers=tuple(LeverView(name=x.name, label=x.label, share=x.share) for x in levers(c, values)),
        working=tuple(StepView.of(s) for s in found.steps),
        said=found.said,
    )


def reckon_check(name: str, q: ReckonQuestion) -> ReckonAnswer:
    """The same from an operation's body."""
    return reckon(name, {k: v.model_dump() for k, v in q.given.items()})


def _result(o: Output) -> ReckonResult:
    values = tuple(InUnit(unit=u, value=shown(o.value / one, _PLACES.get(u, 4))) for u, one in UNITS[o.kind].items())
    return ReckonResult(name=o.name, label=o.label, values=values)
