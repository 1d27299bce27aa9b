"""Calculations as they go out, and what is asked of them."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.pictures import PictureView
from incudo.app.kernel.views import Command, Named, Note, StepView, View
from incudo.core.kernel.quantity import Unit
from incudo.core.reckoning.inputs import Quantity


class InUnit(View):
    """A result in one unit."""

    unit: str
    value: str


class InputView(View):
    """One input: its units (the first is the base), its bounds in words by unit, its choices, what fills it.

    ``starts`` is what stands in the field at first, with its unit, where inches or millimetres are shown; ``words``
    say the choices.
    """

    name: str
    label: str
    kind: Quantity
    units: tuple[str, ...]
    bounds: dict[str, str]
    starts: dict[Unit, InUnit]
    choices: tuple[str, ...]
    words: tuple[str, ...]
    optional: bool
    fills: str


class CalculationView(View):
    """A calculation as it is declared; ``exercise`` says that questions are made of it."""

    id: str
    name: str
    group: str
    about: str
    inputs: tuple[InputView, ...]
    exercise: bool


class KeyName(View):
    """A key with its name."""

    key: str
    name: str


class CutterName(View):
    """A cutter to choose."""

    id: uuid.UUID
    name: str
    kind: str


class ReckonList(View):
    """Every calculation, and the machines, materials and cutters that can be chosen."""

    calculations: tuple[CalculationView, ...]
    machines: tuple[Named, ...]
    materials: tuple[KeyName, ...]
    cutters: tuple[CutterName, ...]


class FilledView(View):
    """A value for an input, and what is said of it."""

    value: str
    unit: str
    words: str


class Fills(View):
    """What the chosen machine, material and cutter say, by the name that inputs ask by; and their cautions.

    ``chart`` draws the chip load against the diameter, where material and cutter have one.
    """

    values: dict[str, FilledView]
    chart: PictureView | None
    cautions: tuple[str, ...]
    fluid: str


class GivenValue(Command):
    """A value as it was typed, with its unit; none is the base unit."""

    value: Annotated[str, Field(max_length=1600)]
    unit: Annotated[str, Field(max_length=16)] = ""


class ReckonQuestion(Command):
    """What is given, by the names of the inputs."""

    given: Annotated[dict[str, GivenValue], Field(max_length=20)]


class KeepReckoning(Command):
    """Keep a calculation on a job card, with what it is for."""

    id: uuid.UUID
    name: Annotated[str, Field(max_length=60)]
    given: Annotated[dict[str, GivenValue], Field(max_length=20)]
    note: Note = ""


class ReckonResult(View):
    """One result, in every unit of its kind; an answer in words has none."""

    name: str
    label: str
    word: str
    values: tuple[InUnit, ...]


class LeverView(View):
    """How the answer changes, as a share of itself, when this input grows by a tenth (a count by one)."""

    name: str
    label: str
    share: float


class ReckonAnswer(View):
    """Results (the first is the answer), what moves it, the working, what has to be said, and pictures.

    ``defaults`` are the values that stood for inputs that were not given, in the unit of the work.
    """

    results: tuple[ReckonResult, ...]
    defaults: dict[str, InUnit]
    levers: tuple[LeverView, ...]
    working: tuple[StepView, ...]
    said: tuple[str, ...]
    picture: PictureView | None
    plot: PictureView | None


class ReckonedView(View):
    """A calculation kept on a job card."""

    id: uuid.UUID
    calculation: str
    name: str
    note: str
    by: str
    at: datetime
    given: tuple[str, ...]
    results: tuple[ReckonResult, ...]
    working: tuple[StepView, ...]


class ReckonedList(View):
    """What was reckoned for a job card, the oldest first."""

    reckoned: tuple[ReckonedView, ...]
