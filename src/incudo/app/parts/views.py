"""Readings and what they amount to, as they go out."""

from __future__ import annotations

import uuid
from datetime import datetime

from incudo.app.kernel.views import Both, Named, StepView, View
from incudo.core.measuring.verdict import Bar, Verdict


class BarView(View):
    """Places on a tolerance bar, 0 to 1; limits stand at 0.25 and 0.75."""

    at: float
    sure: float
    aim: float | None
    off: str

    @classmethod
    def of(cls, bar: Bar) -> BarView:
        return cls(at=bar.at, sure=bar.sure, aim=bar.aim, off=bar.off)


class ReadingView(View):
    """One reading as it is shown."""

    id: uuid.UUID
    element: str
    #: The length or angle; none of a yes or no, of which ``said`` are the words.
    value: Both | None
    said: str
    person: str
    instrument: Named
    sure: Both
    verdict: Verdict
    words: str
    against: str
    undecided: str
    late: bool
    superseded: bool
    round: int
    blind: bool
    measured_at: datetime
    saved_at: datetime
    bar: BarView | None


class FindingView(View):
    """The verdict over all readings of a characteristic."""

    verdict: Verdict
    words: str
    against: str
    value: Both | None
    sure: Both | None
    bar: BarView | None
    ask_again: str
    #: The upper limit with its bonus, where there is one.
    upper: Both | None
    working: tuple[StepView, ...]


class MissingView(View):
    """A skill that is missing, with the reason in words."""

    skill: str
    name: str
    reason: str
