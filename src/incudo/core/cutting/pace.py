"""How long an operation took on a run card, as the shop learns from it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from fractions import Fraction

from incudo.core.cutting.card import run_card
from incudo.core.cutting.slides import Ring
from incudo.core.cutting.step import RunStep
from incudo.core.locating.dial import Dial
from incudo.core.planning.course import Course
from incudo.core.planning.pace import HOLDING, Taken, here, runs
from incudo.core.shop.machine import READOUT_OF, Axis

#: Less than this share of what is reckoned is not work either: the steps were ticked afterwards.
AFTERWARDS = Fraction(1, 10)
#: A step that took so much longer than reckoned was a break, not work.
BREAK = timedelta(minutes=15)


def work_of(course: Course, step: RunStep) -> str:
    """What a step's time counts as: the kind of its operation, or holding the work."""
    return next((s.kind.value for s in course.stages if s.operation.id == step.operation), HOLDING)


def expected(course: Course, steps: Sequence[RunStep]) -> Fraction:
    """How long these steps take on this machine, s: by the shop's own runs where there are enough, else as reckoned."""
    return sum((here(course.shop.paces, work_of(course, s), s.seconds) for s in steps), Fraction(0))


@dataclass(frozen=True)
class CardTime:
    """How long a run card takes here and by the rules alone, in minutes, and from how many of the shop's own runs."""

    minutes: int
    reckoned: int
    runs: int


def card_time(course: Course, steps: Sequence[RunStep]) -> CardTime:
    """The time of these steps on this machine."""
    return CardTime(
        round(expected(course, steps) / 60),
        round(sum((s.seconds for s in steps), Fraction(0)) / 60),
        runs(course.shop.paces, (work_of(course, s) for s in steps)),
    )


def plan_time(course: Course) -> CardTime:
    """The time of a plan: that of its run card, every holding, zero, change of cutter and measurement with it."""
    machine, rings = course.shop.machine, dict[Axis, Ring]()
    for handle in machine.handles:
        readout = READOUT_OF[handle.axis] in machine.readout
        rings.setdefault(handle.axis, Ring(handle, Dial.of(handle), readout, machine.unit))
    return card_time(course, run_card(course, rings, {}))


def taken(course: Course, steps: Sequence[RunStep], done: Mapping[str, datetime], last: str) -> Taken | None:
    """What the operation took whose last step ``last`` has just been done; ``done``: when each step was done.

    None while something of it is left, where nobody knows when it began (it is the first of the card), where a step
    of it was done before the one in front of it, where somebody went away meanwhile, and where it was ticked
    afterwards.
    """
    of = next((s for s in steps if s.id == last), None)
    if of is None:
        return None
    part = [n for n, s in enumerate(steps) if (s.holding, s.operation) == (of.holding, of.operation)]
    first = part[0]
    if first == 0 or steps[part[-1]].id != last or any(steps[n].id not in done for n in (first - 1, *part)):
        return None
    times = [done[steps[n].id] for n in (first - 1, *part)]
    for n, began, ended in zip(part, times, times[1:], strict=False):
        if not timedelta(0) <= ended - began <= timedelta(seconds=float(steps[n].seconds)) + BREAK:
            return None
    reckoned = sum((steps[n].seconds for n in part), Fraction(0))
    took = round((times[-1] - times[0]).total_seconds())
    return Taken(work_of(course, of), round(reckoned), took) if took >= reckoned * AFTERWARDS else None
