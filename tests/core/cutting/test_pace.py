"""What the shop learns from a run card: how long an operation took, and when that says nothing."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from itertools import pairwise
from typing import Any

import pytest

from incudo.core.cutting.pace import AFTERWARDS, BREAK, expected, plan_time, taken, work_of
from incudo.core.cutting.step import StepKind
from incudo.core.planning.pace import HOLDING, Pace, Taken
from tests.core.cutting.test_procedures import card_of
from tests.core.cutting.test_worker import looked_at

BEGUN = datetime(2026, 11, 24, 18, tzinfo=UTC)
COURSE = looked_at("keel-step-gauge", "petrel")
STEPS = card_of(COURSE, "petrel")
#: The steps of the first operation, by their places; the work was put in before them.
PART = [n for n, s in enumerate(STEPS) if s.operation == STEPS[1].operation]
LAST = STEPS[PART[-1]].id
RECKONED = sum((STEPS[n].seconds for n in PART), Fraction(0))


def clock(**gaps: float) -> dict[str, datetime]:
    """When each step was done: as reckoned, but those named by their place (``s3``) took so many seconds."""
    at, found = BEGUN, {}
    for n, s in enumerate(STEPS[: PART[-1] + 1]):
        at += timedelta(seconds=gaps.get(f"s{n}", float(s.seconds)))
        found[s.id] = at
    return found


def test_an_operation_takes_from_the_step_in_front_of_it_to_its_last() -> None:
    assert STEPS[0].operation == ""
    kind = COURSE.stages[0].kind.value
    assert work_of(COURSE, STEPS[1]) == kind
    assert work_of(COURSE, STEPS[0]) == HOLDING
    more = float(STEPS[1].seconds) + 45
    assert taken(COURSE, STEPS, clock(s1=more), LAST) == Taken(kind, round(RECKONED), round(RECKONED) + 45)


@pytest.mark.parametrize(
    ("last", "gone"),
    [("nothing", ""), (STEPS[PART[-2]].id, ""), (STEPS[0].id, ""), (LAST, STEPS[0].id), (LAST, STEPS[PART[0]].id)],
)
def test_nothing_is_learned_of_what_is_not_whole(last: str, gone: str) -> None:
    done = {step: at for step, at in clock().items() if step != gone}
    assert taken(COURSE, STEPS, done, last) is None


def gap(place: int) -> float:
    return float(STEPS[place].seconds) + BREAK.total_seconds()


@pytest.mark.parametrize(
    ("gaps", "learned"),
    [
        ({f"s{PART[1]}": gap(PART[1])}, True),
        ({f"s{PART[1]}": gap(PART[1]) + 1}, False),
        ({f"s{PART[1]}": -1.0}, False),
        ({f"s{PART[1]}": 0.0}, True),
    ],
)
def test_a_break_is_no_work(gaps: dict[str, float], learned: bool) -> None:
    assert (taken(COURSE, STEPS, clock(**gaps), LAST) is not None) is learned


@pytest.mark.parametrize(("over", "learned"), [(0, True), (-1, False)])
def test_what_is_ticked_afterwards_says_nothing(over: int, learned: bool) -> None:
    quick: dict[str, Any] = {f"s{n}": 0.0 for n in PART}
    quick[f"s{PART[0]}"] = round(RECKONED * AFTERWARDS + Fraction(1, 2)) + over
    assert (taken(COURSE, STEPS, clock(**quick), LAST) is not None) is learned


@pytest.mark.parametrize(
    ("part", "machine"), [("keel-step-gauge", "petrel"), ("sheave-housing", "gannet"), ("tiller-key-shaft", "fulmar")]
)
def test_the_time_of_a_plan_is_cutting_and_all_that_is_done_between(part: str, machine: str) -> None:
    c = looked_at(part, machine)
    steps = card_of(c, machine)
    tools = [s.operation.cutter for s in c.stages if s.operation.cutter]
    changes = 1 + sum(a != b for a, b in pairwise(tools))
    looks = sum(s.kind in (StepKind.ZERO, StepKind.MEASURE) for s in steps)
    between = 120 * changes + 600 * len(c.plan.holdings) + 90 * looks
    whole = sum(n.seconds for n in c.settled) + between
    assert sum(s.seconds for s in steps) == whole
    found = plan_time(c)
    assert (found.minutes, found.reckoned, found.runs) == (round(whole / 60), round(whole / 60), 0)


def test_a_plan_takes_what_its_work_takes_here() -> None:
    plain = plan_time(COURSE)
    known = {HOLDING: Pace(Fraction(2), 7), "tap": Pace(Fraction(9), 5)}
    slow = replace(COURSE, shop=replace(COURSE.shop, paces=known))
    found = plan_time(slow)
    assert found.minutes == plain.minutes + 10 * len(COURSE.plan.holdings), "each holding takes ten minutes more"
    assert (found.reckoned, found.runs) == (plain.reckoned, 7), "no tap is in this plan"
    assert expected(slow, STEPS[:1]) == 2 * expected(COURSE, STEPS[:1])
