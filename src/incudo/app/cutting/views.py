"""What the run card shows."""

from __future__ import annotations

import uuid
from datetime import datetime

from incudo.app.kernel.views import Named, View
from incudo.app.planning.views import FrameView
from incudo.core.cutting.slides import Go
from incudo.core.cutting.step import StepKind
from incudo.core.cutting.trouble import Sense, Sign
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.locating.datum import divisions_words
from incudo.core.locating.dial import Turning


class TurnView(View):
    """One turning of a handle without a stop, to be seen from afar."""

    turning: Turning
    turns: int
    divisions: str
    takes_up: bool


class GoView(View):
    """A place to go to along one axis: the turnings, what dial and readout show there, and the same in words."""

    axis: str
    handle: str
    turns: tuple[TurnView, ...]
    reading: str
    readout: str
    rounding: str
    from_zero: bool
    told: tuple[str, ...]

    @classmethod
    def of(cls, g: Go) -> GoView:
        return cls(
            axis=g.axis.upper(),
            handle=g.handle,
            turns=tuple(
                TurnView(
                    turning=leg.turning,
                    turns=leg.turns,
                    divisions=divisions_words(leg.divisions),
                    takes_up=leg.takes_up,
                )
                for leg in g.legs
            ),
            reading=g.reading,
            readout=g.readout,
            rounding=g.rounding,
            from_zero=g.from_zero,
            told=g.told,
        )


class RunReading(View):
    """What was read at a step, and what was said of it. ``call``: somebody has to look."""

    value: str
    good: bool
    words: str
    at: datetime


class RunStepView(View):
    """One step of a run card. ``held`` are the hold points that it waits for, in words.

    ``skill`` is what a start is asked for; ``per_turn`` how many seconds one turn of the handle takes, 0 for none.
    ``again`` are the steps from which it is done again after trouble, by their kind.
    """

    id: str
    kind: StepKind
    holding: str
    operation: str
    head: str
    title: str
    do: tuple[str, ...]
    go: tuple[GoView, ...]
    why: tuple[str, ...]
    cautions: tuple[str, ...]
    asks: str
    starts: bool
    skill: str
    per_turn: float
    seconds: int
    again: dict[str, str]
    held: tuple[str, ...]
    done: datetime | None
    by: str
    reading: RunReading | None


class RemarkView(View):
    """What somebody who teaches said on the card, at which step."""

    step: str
    words: str
    by: str
    at: datetime


class RunCardView(View):
    """The run card of a job card: every step, how far it is, and why it does not go on.

    ``cannot`` says why there is no card; ``closed`` why nothing more is ticked on it; ``paced`` where its time comes
    from, if from the shop's own runs.
    """

    assignment: uuid.UUID
    attempt: uuid.UUID
    name: str
    student: Named
    machine: Named | None
    unit: LengthUnit
    plan: int
    steps: tuple[RunStepView, ...]
    remarks: tuple[RemarkView, ...]
    at: int
    minutes: int
    paced: str
    spent: int
    cannot: str
    closed: str
    as_of: datetime


class CauseView(View):
    """What it probably is, and what helps."""

    cause: str
    cure: str


class SignView(View):
    """A sign that something is not right: what to do now, what it probably is, which zeros are lost."""

    id: str
    by: Sense
    name: str
    now: str
    causes: tuple[CauseView, ...]
    stop: bool
    call: bool
    zeros: str
    again: str

    @classmethod
    def of(cls, s: Sign) -> SignView:
        return cls(
            id=s.id,
            by=s.by,
            name=s.name,
            now=s.now,
            causes=tuple(CauseView(cause=c, cure=h) for c, h in s.causes),
            stop=s.stop,
            call=s.call,
            zeros=s.zeros,
            again=s.again,
        )


class SenseView(View):
    """By what signs are noticed, as a heading."""

    by: Sense
    words: str


class SignsView(View):
    """The signs for one operation with its numbers; for an empty ``operation`` in general."""

    operation: str
    groups: tuple[SenseView, ...]
    signs: tuple[SignView, ...]


class RunFrames(View):
    """The part before every operation of the card, each large, and what may be not right there."""

    plan: int
    frames: tuple[FrameView, ...]
    signs: tuple[SignsView, ...]
