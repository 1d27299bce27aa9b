"""Exercises and sheets as they go out, and what is asked of them."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.views import Command, Named, Note, StepView, View

CalculationName = Annotated[str, StringConstraints(min_length=1, max_length=60)]


class GivenLine(View):
    """What a question gives: a name and its value."""

    label: str
    value: str


class ExerciseAnswerView(View):
    """An answer held against the right one. Empty, the working was asked for instead."""

    answer: str
    unit: str
    right: bool
    slip: str
    correct: str
    working: tuple[StepView, ...]


class ExerciseQuestionView(View):
    """A question; ``kept`` when it is answered and what came of it is not shown yet.

    ``choices`` are the answers in words, empty where a number is asked in one of ``units``.
    """

    id: uuid.UUID
    calculation: str
    name: str
    words: str
    given: tuple[GivenLine, ...]
    unit: str
    units: tuple[str, ...]
    choices: tuple[str, ...]
    choice_words: tuple[str, ...]
    near: str
    answered: ExerciseAnswerView | None
    kept: bool
    in_a_row: int


class ExerciseCard(View):
    """A calculation that is an exercise: how far one is, how far one must come for a skill."""

    calculation: str
    name: str
    group: str
    in_a_row: int
    wanted: int
    skill: str
    answered: int
    right: int


class SheetLine(View):
    """A sheet in short; ``done`` of ``count`` by oneself, or by everybody together for who teaches."""

    id: uuid.UUID
    title: str
    group: str
    words: str
    count: int
    done: int
    right: int
    at: datetime


class SlipLine(View):
    """A slip, how often it was made and by whom, the most frequent maker first."""

    calculation: str
    name: str
    slip: str
    times: int
    students: tuple[str, ...]


class GroupSlips(View):
    """What a group gets wrong most."""

    group: str
    slips: tuple[SlipLine, ...]


class ExercisePage(View):
    """The exercises, the sheets that concern one, and for who teaches the slips that are made most."""

    cards: tuple[ExerciseCard, ...]
    sheets: tuple[SheetLine, ...]
    groups: tuple[Named, ...]
    slips: tuple[GroupSlips, ...]


class AskQuestion(Command):
    """A question of a calculation; the one that was not answered yet comes again."""

    id: uuid.UUID
    calculation: CalculationName


class AnswerQuestion(Command):
    """The answer; given up, the working is shown and the row is broken."""

    answer: Annotated[str, StringConstraints(max_length=80, strip_whitespace=True)] = ""
    unit: Annotated[str, Field(max_length=16)] = ""
    give_up: bool = False


class SetSheet(Command):
    """The same questions for everybody of a group: so many of each calculation. Without a seed one is drawn.

    ``in_class``: the reckoner is closed to the group and nothing is shown until the sheet is ended; only then
    do its answers count for a skill.
    """

    id: uuid.UUID
    group: uuid.UUID
    title: Annotated[str, StringConstraints(min_length=3, max_length=80, strip_whitespace=True)]
    calculations: Annotated[tuple[CalculationName, ...], Field(min_length=1, max_length=12)]
    each: Annotated[int, Field(ge=1, le=10)] = 2
    seed: Annotated[str, Field(max_length=20, pattern=r"^[A-Za-z0-9-]*$")] = ""
    words: Note = ""
    in_class: bool = False


class SheetAnswer(Command):
    """The answer to one number of a sheet, once."""

    id: uuid.UUID
    number: Annotated[int, Field(ge=1, le=120)]
    answer: Annotated[str, StringConstraints(max_length=80, strip_whitespace=True)] = ""
    unit: Annotated[str, Field(max_length=16)] = ""
    give_up: bool = False


class SheetMark(View):
    """How a student answered one number; empty while they have not."""

    answered: bool
    right: bool
    answer: str
    slip: str


class SheetRow(View):
    """One student on a sheet: every mark, and how many were right."""

    student: Named
    marks: tuple[SheetMark, ...]
    right: int


class SheetView(View):
    """A sheet: its questions with one's own answers; for who teaches everybody's, and what goes wrong most."""

    id: uuid.UUID
    title: str
    words: str
    group: str
    at: datetime
    in_class: bool
    ended: bool
    questions: tuple[ExerciseQuestionView, ...]
    rows: tuple[SheetRow, ...]
    slips: tuple[SlipLine, ...]


class ExampleValue(View):
    """A value of a worked example."""

    value: str
    unit: str


class Example(View):
    """What a calculation is given as an example, by the names of its inputs."""

    given: dict[str, ExampleValue]
