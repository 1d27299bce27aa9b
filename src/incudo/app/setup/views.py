"""What setting up takes and shows: working records, how setups stand, what they do to the part."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from incudo.app.kernel.views import Command, Named, StepView, View
from incudo.core.kernel.quantity import LengthUnit, Unit
from incudo.core.setup.record import Do, SetupKind, Stand
from incudo.core.setup.standard import SetupRules
from incudo.core.setup.tram import HeadAxis
from incudo.core.shop.machine import Machine

Number = Annotated[str, Field(min_length=1, max_length=20)]


class SetupState(View):
    """How the head, the vise or the holding of the work stands for somebody now."""

    kind: SetupKind
    state: Stand
    reason: str
    by: str
    at: datetime | None
    words: str
    setup: uuid.UUID | None


class DriftPoint(View):
    """One accepted setup of a head: how it was found, how it was left, over the standard's span (mm)."""

    at: datetime
    by: str
    axis: HeadAxis
    found: float
    left: float


class SetupLine(View):
    """A working record in short."""

    id: uuid.UUID
    kind: SetupKind
    by: str
    at: datetime
    good: bool
    words: str


class SetupBench(View):
    """A machine's setups: how they stand, what was begun, the history of its head.

    ``head`` is how its head would be read, none for a fixed one; a record may begin otherwise.
    """

    machine: Named
    about: str
    spec: Machine
    rules: SetupRules
    states: tuple[SetupState, ...]
    begun: tuple[SetupLine, ...]
    history: tuple[SetupLine, ...]
    drift: tuple[DriftPoint, ...]
    drift_words: str
    allowed: float
    head: HeadSettings | None
    vises: tuple[ViseChoice, ...]


class HeadSettings(Command):
    """How a head is read: the indicator's unit and division, the span between the stations, the cutter of the job."""

    kind: Literal["head"] = "head"
    unit: LengthUnit
    division: Number
    span: Number
    cutter: Number = "63"
    cutter_unit: LengthUnit = Unit.MM


class ViseSettings(Command):
    """How a vise is read: which one, along which axis, the indicator, where along the jaw, which bolt is the pivot.

    ``sense`` -1: the lever turns the needle the other way. Places are from the jaw's middle.
    ``range`` is the indicator's whole travel, empty when nobody knows it.
    """

    kind: Literal["vise"] = "vise"
    vise: uuid.UUID
    along: Literal["x", "y"] = "x"
    unit: LengthUnit
    division: Number
    left_at: Number
    right_at: Number
    pivot: Literal["left", "right"] = "left"
    lever_degrees: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0
    range: Annotated[str, Field(max_length=20)] = ""
    sense: Literal[-1, 1] = 1


class ViseChoice(View):
    """A vise with how it would be read; a record may begin otherwise."""

    id: uuid.UUID
    name: str
    settings: ViseSettings


class BeginSetup(Command):
    """Begin a working record, for a job card if one is named."""

    id: uuid.UUID
    assignment: uuid.UUID | None = None
    settings: Annotated[HeadSettings | ViseSettings, Field(discriminator="kind")]


class PassCommand(Command):
    """One sweep: the readings at the lower and the higher coordinate, and whether every bolt was tight."""

    id: uuid.UUID
    axis: HeadAxis | None = None
    low: Number
    high: Number
    tight: bool


class AcceptCommand(Command):
    """The setup is accepted as it was read last."""

    id: uuid.UUID


class EffectView(View):
    """What it does to the part."""

    words: str
    share: str
    over: bool


class PassLine(View):
    """One sweep as it was read, and what follows from it."""

    number: int
    axis: str
    low: str
    high: str
    off: str
    off_mm: float
    within: bool
    tight: bool
    at: datetime


class NextView(View):
    """The one next thing, in words and for the picture."""

    do: Do
    axis: HeadAxis | None
    title: str
    lines: tuple[str, ...]
    stations: tuple[str, str]
    targets: tuple[str, str] | None
    tight: bool


class VisePlan(View):
    """What the picture of a vise needs, in mm from the jaw's middle; ``bring`` is the end that is tapped now."""

    jaw: float
    bolts: float
    bolts_before: float
    left_at: float
    right_at: float
    pivot: Literal["left", "right"]
    bring: str


class SetupPage(View):
    """A working record."""

    id: uuid.UUID
    kind: SetupKind
    machine: Named
    by: Named
    mine: bool
    at: datetime
    assignment: uuid.UUID | None
    job: str
    unit: LengthUnit
    division: str
    standard: str
    standard_mm: float
    school: str
    along: str
    ends: tuple[str, str]
    holding: str
    plan: VisePlan | None
    axes: tuple[HeadAxis, ...]
    fixed: tuple[str, ...]
    next: NextView
    passes: tuple[PassLine, ...]
    lean: dict[str, float]
    effects: tuple[EffectView, ...]
    working: tuple[StepView, ...]
    accepted_at: datetime | None
    accepted: str
