"""What a rig decides just on a bound: what is allowed is good, a hair more is not."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.locating.centre import agreement
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, RigSetup, begin

F = Fraction
METRIC = RigSetup(unit=Unit.MM)
HAIR = F(1, 10**6)


def rig(name: str, level: int = 1) -> tuple[Any, Any]:
    rules = RIGS[name]
    return rules, begin(rules, METRIC, level, "just on")


@pytest.mark.parametrize(("more", "good"), [(F(0), True), (HAIR, False)])
def test_a_zero_is_as_far_off_as_touches_may_differ(more: F, good: bool) -> None:
    rules, s = rig("edge")
    s.zeroed = s.edge + agreement(s.slide.dial.division) + more
    reasons, truth = rules.judge(s)
    assert (truth not in reasons) is good
    rules, s = rig("bore")
    allowed = s.allowed + s.setup.division.mm / 2
    s.zeroed, s.swung = (s.centre[0] + allowed + more, s.centre[1]), True
    reasons, truth = rules.judge(s)
    assert (reasons == []) is good, reasons


@pytest.mark.parametrize(("more", "there"), [(F(0), True), (HAIR, False)])
def test_a_pin_stands_about_in_the_middle(more: F, there: bool) -> None:
    rules, s = rig("bore")
    s.x.at, s.y.at = s.centre[0] + F(3, 10) + more, s.centre[1]
    assert rules._is_rough(s) is there


def test_a_handle_that_stands_off_by_half_a_division_stands_there() -> None:
    rules, s = rig("handle")
    d = s.slide.dial = replace(s.slide.dial, backlash=s.slide.dial.division * 3)
    half = d.division / 2
    for off, words in (
        (half, ""),
        (half + HAIR, "a little off"),
        (d.backlash - half, "exactly the backlash"),
        (d.backlash + half, "exactly the backlash"),
        (d.backlash + half + HAIR, "a little off"),
        (d.turn + d.backlash + half, "1 whole turn"),
        (d.turn + d.backlash + half + HAIR, "a little off"),
    ):
        s.stood = [s.places[0] + off]
        (found,) = rules._stood(s)
        assert words in found.why, off
        assert found.good is (off == half)


def test_the_indicator_runs_to_just_beyond_the_jaw() -> None:
    rules, s = rig("vise")
    edge = s.length / 2 + 4
    rules._run(s, Action(do="run", by=edge + 30))
    with pytest.raises(Refused):
        rules._run(s, Action(do="run", by=math.nextafter(edge + 30, math.inf)))
    s.table, s.touched = 0.0, True
    rules._run(s, Action(do="run", by=edge))
    assert s.touched
    rules._run(s, Action(do="run", by=math.nextafter(edge, math.inf)))
    assert not s.touched
