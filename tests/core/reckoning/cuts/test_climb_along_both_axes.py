"""Climb or conventional held against the teeth themselves: which way each moves where it meets the metal."""

from __future__ import annotations

import math

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.locating.climb import Milling, milling_at
from incudo.core.locating.dial import Turning
from incudo.core.reckoning.cuts.climb_round import OUTSIDE, POCKET, sides
from incudo.core.shop.machine import Way
from tests.core.reckoning.figures import slip, worked

AT = {Way.RIGHT: (1, 0), Way.LEFT: (-1, 0), Way.AWAY: (0, 1), Way.TOWARDS: (0, -1)}
SIDES = {"behind": Way.AWAY, "in front of": Way.TOWARDS, "left of": Way.LEFT, "right of": Way.RIGHT}
LEVEL = tuple(AT)


def by_the_teeth(turning: Turning, work: Way, table: Way) -> str:
    """The tooth that meets the work at its side moves with it (climb) or against it."""
    angle = math.atan2(AT[work][1], AT[work][0])
    sense = -1 if turning is Turning.CLOCKWISE else 1
    tooth = (-sense * math.sin(angle), sense * math.cos(angle))
    along = tooth[0] * AT[table][0] + tooth[1] * AT[table][1]
    assert abs(abs(along) - 1) < 1e-9
    return "climb" if along > 0 else "conventional"


@pytest.mark.parametrize("turning", Turning)
@pytest.mark.parametrize("work", LEVEL)
@pytest.mark.parametrize("table", LEVEL)
def test_it_is_what_the_teeth_do(turning: Turning, work: Way, table: Way) -> None:
    along = AT[work][0] * AT[table][0] + AT[work][1] * AT[table][1]
    if along:
        with pytest.raises(ValueError, match="beside"):
            milling_at(turning, work, table)
        return
    assert milling_at(turning, work, table).value == by_the_teeth(turning, work, table)


@pytest.mark.parametrize(("work", "table"), [(Way.UP, Way.LEFT), (Way.LEFT, Way.DOWN)])
def test_up_and_down_are_no_ways_on_the_table(work: Way, table: Way) -> None:
    with pytest.raises(ValueError, match="left, right, away or towards"):
        milling_at(Turning.CLOCKWISE, work, table)


@pytest.mark.parametrize("work", SIDES)
@pytest.mark.parametrize("table", LEVEL)
def test_the_calculation_asks_for_work_beside_the_travel(work: str, table: Way) -> None:
    side = SIDES[work]
    if (table in (Way.LEFT, Way.RIGHT)) == (side in (Way.LEFT, Way.RIGHT)):
        with pytest.raises(Refused, match="work: must be"):
            worked("climb", work=work, table=table.value)
        return
    found = worked("climb", work=work, table=table.value)
    assert found.answer.word == by_the_teeth(Turning.CLOCKWISE, side, table)


@pytest.mark.parametrize(
    ("of", "way", "which"),
    [
        (OUTSIDE, "clockwise", "climb"),
        (OUTSIDE, "anticlockwise", "conventional"),
        (POCKET, "clockwise", "conventional"),
        (POCKET, "anticlockwise", "climb"),
    ],
)
def test_once_round(of: str, way: str, which: str) -> None:
    found = worked("climb-round", of=of, way=way)
    assert found.answer.word == which
    each = sides(of == OUTSIDE, way == "clockwise")
    assert sorted(name for name, _, _ in each) == ["front", "left", "rear", "right"]
    for name, work, table in each:
        assert by_the_teeth(Turning.CLOCKWISE, work, table) == which, f"the same on every side, also at the {name}"
    assert ("conventional: rough that way" in " ".join(found.said)) == (which == "climb")


@pytest.mark.parametrize(("outside", "clockwise"), [(a, b) for a in (True, False) for b in (True, False)])
def test_the_cutter_comes_round_to_where_it_began(outside: bool, clockwise: bool) -> None:
    """Walked leg by leg around a square, the cutter always has the wall where it is said to be, and turns one way."""
    half = 60.0 if outside else 30.0
    begin = {"rear": (0, half), "right": (half, 0), "front": (0, -half), "left": (-half, 0)}
    turned = 0.0
    each = sides(outside, clockwise)
    for (name, work, table), (_, _, after) in zip(each, (*each[1:], each[0]), strict=True):
        x, y = begin[name]
        towards_wall = (-math.copysign(1, x) if x else 0, -math.copysign(1, y) if y else 0)
        assert AT[work] == tuple(towards_wall if outside else (-towards_wall[0], -towards_wall[1]))
        (ax, ay), (bx, by) = AT[table], AT[after]
        turned += math.copysign(90, ax * by - ay * bx)
    assert turned == (-360 if clockwise else 360)


def test_a_mix_up_of_inside_and_outside_is_named() -> None:
    assert slip("climb-round", 1, of=OUTSIDE, way="clockwise") == "inside and outside were mixed up"
    assert slip("climb", 1, work="right of", table="towards") == "the table's way was taken for the cutter's"
    assert Milling.CLIMB.value == worked("climb", work="right of", table="towards").answer.word
