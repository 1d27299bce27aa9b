"""Something is not right: every sign says what to do now and why; cures go by this operation's numbers."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import pytest

from incudo.core.cutting.trouble import Sense, sense_words, signs, slower_words
from incudo.core.planning.course import Course
from tests.core.cutting.test_worker import looked_at
from tests.core.planning.shops import MACHINES, shop


@pytest.fixture(scope="module")
def course() -> Course:
    found = looked_at("keel-step-gauge", "petrel")
    return found


def test_signs_of_every_sense_with_their_causes(course: Course) -> None:
    found = signs(course, None)
    assert len({s.id for s in found}) == len(found) >= 25
    assert {s.by for s in found} == set(Sense) == set(sense_words())
    for s in found:
        assert s.causes
        assert all(cause.endswith((".", "?")) and cure.endswith((".", "?")) for cause, cure in s.causes), s.id
        assert s.stop or not s.call, "nobody is called while it goes on"


@pytest.mark.parametrize("sign", ["moved", "pulled", "broke", "power"])
def test_what_loses_a_zero_says_which(course: Course, sign: str) -> None:
    (found,) = (s for s in signs(course, None) if s.id == sign)
    assert found.zeros
    assert found.call


def test_slower_is_the_next_lower_step_of_this_machine(course: Course) -> None:
    steps = course.shop.machine.spindle.steps
    n = next(n for _, n in course.each() if n.speed)
    for below, above in pairwise(steps):
        assert (
            slower_words(course, replace(n, speed=Fraction(above)))
            == f"From {above} to {below} rpm, the next lower step."
        )
    assert "slowest" in slower_words(course, replace(n, speed=Fraction(steps[0])))
    assert slower_words(course, None) == "Take the next lower speed."


def test_without_steps_it_is_turned_down(course: Course) -> None:
    machine = next(m for m in MACHINES if shop(m, "low-carbon steel").machine.spindle.ranges)
    stepless = looked_at("tide-block", machine)
    low = min(r[0] for r in stepless.shop.machine.spindle.ranges)
    n = next(n for _, n in stepless.each() if n.speed)
    assert slower_words(stepless, replace(n, speed=Fraction(1000))) == "From 1000 to about 700 rpm."
    assert slower_words(stepless, replace(n, speed=Fraction(low))) == f"From {low} to about {low} rpm."
