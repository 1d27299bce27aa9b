"""Rigs and runs as they go out, and what is asked of them."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.views import Command, Named, Note, View
from incudo.app.skills.views import CautionView
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.practice.rigs import Scene
from incudo.core.practice.rigs.base import MOST_ACTIONS, Action


class LevelView(View):
    """A level of a rig."""

    number: int
    name: str
    about: str


class RunLine(View):
    """A run in short."""

    id: uuid.UUID
    level: int
    at: datetime
    guided: bool
    ended: bool
    passed: bool
    passes: int
    reason: str


class RigCard(View):
    """A rig as it is offered: its levels, what it counts for, how far one is, the last runs."""

    rig: str
    name: str
    about: str
    skill: str
    levels: tuple[LevelView, ...]
    wanted: int
    wanted_level: int
    in_a_row: int
    running: uuid.UUID | None
    last: tuple[RunLine, ...]


class ExerciseResult(View):
    """How one student did an exercise; ``run`` is their best, or their newest."""

    student: Named
    run: uuid.UUID | None
    tries: int
    ended: bool
    passed: bool
    passes: int
    reason: str


class ExerciseView(View):
    """One rig, level and seed, set for a whole group."""

    id: uuid.UUID
    rig: str
    name: str
    level: int
    group: str
    words: str
    at: datetime
    mine: ExerciseResult | None
    results: tuple[ExerciseResult, ...]


class RigList(View):
    """The rigs and the exercises that concern this person."""

    rigs: tuple[RigCard, ...]
    exercises: tuple[ExerciseView, ...]
    groups: tuple[Named, ...]


class ControlView(View):
    """Something that can be done now, or why not."""

    label: str
    group: str
    closed: str
    action: Action


class FaultView(View):
    """What was wrong in a run."""

    words: str
    critical: bool


class PassView(View):
    """One reading from end to end."""

    cells: tuple[str, ...]
    off: float
    words: str
    tight: bool


class ResultView(View):
    """How a run ended, and what a practised hand would have needed."""

    passed: bool
    passes: int
    practised: int
    reasons: tuple[str, ...]
    truth: str
    counts: bool
    best: tuple[PassView, ...]


class RigRunView(View):
    """A run as it is shown after its last action, or after ``shown`` of them."""

    id: uuid.UUID
    rig: str
    name: str
    task: str
    student: Named
    level: int
    level_name: str
    guided: bool
    mine: bool
    unit: LengthUnit
    count: int
    shown: int
    said: str
    warned: bool
    advice: str
    press: str
    standard: float
    heads: tuple[str, ...]
    passes: tuple[PassView, ...]
    faults: tuple[FaultView, ...]
    controls: tuple[ControlView, ...]
    motion: tuple[tuple[float, float], ...]
    scene: Annotated[Scene, Field(discriminator="rig")]
    result: ResultView | None
    cautions: tuple[CautionView, ...]


class BeginRun(Command):
    """Begin a run. ``guided`` shows the next thing all the time; such a run does not count.

    ``leave``: a run for the record that is still open on this rig is left; it counts as not reached.
    """

    id: uuid.UUID
    rig: Annotated[str, Field(max_length=20)]
    level: Annotated[int, Field(ge=1, le=9)] = 1
    guided: bool = False
    exercise: uuid.UUID | None = None
    leave: bool = False


class RigActs(Command):
    """Actions, the first of which is the run's action number ``number`` (from 1)."""

    number: Annotated[int, Field(ge=1, le=MOST_ACTIONS + 1)]
    actions: Annotated[tuple[Action, ...], Field(min_length=1, max_length=120)]


class SetExercise(Command):
    """The same rig, level and seed for everybody of a group. Without a seed one is drawn."""

    id: uuid.UUID
    group: uuid.UUID
    rig: Annotated[str, Field(max_length=20)]
    level: Annotated[int, Field(ge=1, le=9)] = 1
    seed: Annotated[str, Field(max_length=20, pattern=r"^[A-Za-z0-9-]*$")] = ""
    words: Note = ""
