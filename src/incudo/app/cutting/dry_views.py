"""What a dry run shows, and what is said to it."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.views import Command, Named, View
from incudo.core.cutting.dry.measured import Measured
from incudo.core.cutting.step import StepKind
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.locating.dial import Turning
from incudo.core.locating.screw import DialShown


class BeginDryRun(Command):
    """Begin a dry run of the newest plan."""

    id: uuid.UUID


class SaidTurn(Command):
    """A handle is turned: which way, how many whole turns, and on until the dial shows ``reading``.

    Without a reading it is turned by the whole turns alone.
    """

    turning: Turning
    turns: Annotated[int, Field(ge=0, le=200)] = 0
    reading: Annotated[str, StringConstraints(max_length=12, strip_whitespace=True)] = ""


#: What is turned for one place: on, and if need be past it and back.
Turns = Annotated[tuple[SaidTurn, ...], Field(max_length=4)]


class DryActCommand(Command):
    """What is done at the next step: the turnings for each of its places, in its order."""

    id: uuid.UUID
    number: Annotated[int, Field(ge=1, le=2000)]
    step: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    places: Annotated[tuple[Turns, ...], Field(max_length=60)] = ()


class DryPlace(View):
    """A place to go to: the handle as its dial stands now, where the place is from the zero, what the card would say.

    ``zero``: the tip of an edge finder touches; what has to be allowed for is turned on, then the ring is set to 0.
    """

    axis: str
    handle: str
    place: str
    dial: DialShown
    zero: bool
    told: tuple[str, ...]


class DryStep(View):
    """The step of a dry run that comes next."""

    id: str
    kind: StepKind
    operation: str
    head: str
    title: str
    do: tuple[str, ...]
    why: tuple[str, ...]
    places: tuple[DryPlace, ...]


class DryCause(View):
    """An act that put something off, the step it was done at, and the sizes that it spoilt."""

    step: str
    words: str
    numbers: tuple[int, ...]


class DryOutcome(View):
    """The part as it came out, and why. ``right``: every step was done as the card says, whatever the machine did."""

    lines: tuple[Measured, ...]
    causes: tuple[DryCause, ...]
    right: bool = False


class DryRunView(View):
    """A dry run of a job card's plan. ``cannot`` says why there is none; ``newer``: the plan was changed since."""

    assignment: uuid.UUID
    name: str
    student: Named
    machine: str
    unit: LengthUnit
    run: uuid.UUID | None
    plan: int
    newer: bool
    at: int
    of: int
    step: DryStep | None
    said: str
    outcome: DryOutcome | None
    cannot: str
