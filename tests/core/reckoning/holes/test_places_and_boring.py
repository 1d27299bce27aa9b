"""Bolt circles, grids and boring: places by turning a point, cuts that add up on either kind of dial."""

from __future__ import annotations

import cmath
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import names, result, slip, worked


@given(st.integers(2, 24), st.integers(10, 1000), st.integers(-360, 360))
def test_each_hole_is_the_one_before_turned_on(holes: int, diameter: int, first: int) -> None:
    found = worked("bolt-circle", diameter=str(diameter), holes=str(holes), first=str(first))
    at = [complex(result(found, f"x{i}"), result(found, f"y{i}")) for i in range(1, holes + 1)]
    turn = cmath.exp(2j * math.pi / holes)
    assert at[0] == pytest.approx(diameter / 2 * cmath.exp(1j * math.radians(first)))
    for one, other in zip(at, [*at[1:], at[0]], strict=True):
        assert one * turn == pytest.approx(other, abs=1e-9)
        assert abs(one - other) == pytest.approx(result(found, "chord"))


def test_the_order_goes_to_each_from_low_x() -> None:
    said = worked("bolt-circle", diameter="100", holes="4", first="0").said[0]
    assert said.startswith("Drill them in the order 3, 4, 2, 1:")


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (100.0, "the diameter was taken for the radius"),
        (58.7785, "a hole was forgotten"),
        (52.3599, "the arc was taken for the chord"),
        (86.6025, "the whole angle was taken, not its half"),
        (50.0, ""),
    ],
)
def test_slips_of_a_circle(answer: float, words: str) -> None:
    assert slip("bolt-circle", answer, 1e-3, diameter="100", holes="6") == words


@pytest.mark.parametrize(("holes", "taken"), [("1", False), ("2", True), ("24", True), ("25", False)])
def test_how_many_holes_a_circle_can_have(holes: str, taken: bool) -> None:
    if taken:
        assert len(names(worked("bolt-circle", diameter="100", holes=holes))) == 1 + 2 * int(holes)
        return
    with pytest.raises(Refused, match=r"holes.*at least 2 and at most 24"):
        worked("bolt-circle", diameter="100", holes=holes)


@given(st.integers(1, 8), st.integers(1, 7), st.integers(-50, 50), st.integers(1, 500))
def test_no_rounding_adds_up_over_a_grid(columns: int, rows: int, x: int, spacing: int) -> None:
    dx = spacing / 7  # no round number in any unit
    given = {"x": str(x), "columns": str(columns), "rows": str(rows), "dx": f"{dx:.5f}", "dy": "12.345"}
    found = worked("hole-grid", **given)
    n = columns * rows
    assert result(found, "last") == pytest.approx(x + (columns - 1) * round(dx, 5))
    assert result(found, f"x{n}") == result(found, "last")
    assert result(found, f"y{n}") == pytest.approx((rows - 1) * 12.345)
    assert len({(result(found, f"x{i}"), result(found, f"y{i}")) for i in range(1, n + 1)}) == n


def test_more_than_sixty_holes_are_too_many() -> None:
    assert len(names(worked("hole-grid", columns="20", rows="3", dx="10"))) == 121
    with pytest.raises(Refused, match=r"rows.*more than 60 holes"):
        worked("hole-grid", columns="30", rows="3", dx="10")
    with pytest.raises(Refused, match=r"rows.*more than 60 holes"):
        worked("hole-grid", columns="21", rows="3", dx="10")


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (70.0, "a spacing too many was counted"),
        (45.0, "the first hole's place was forgotten"),
        (40.0, "a spacing was forgotten"),
        (55.0, ""),
    ],
)
def test_slips_of_a_grid(answer: float, words: str) -> None:
    assert slip("hole-grid", answer, x="10", columns="4", dx="15") == words


@given(st.integers(1, 200), st.integers(1, 50), st.sampled_from(("diameter", "radius")))
def test_the_cuts_of_a_head_add_up_to_the_bore(left: int, limit: int, dial: str) -> None:
    given = {"target": "30", "measured": f"{30 - left / 100:.2f}", "dial": dial, "limit": f"{limit / 10}"}
    found = worked("boring-head", **given)
    factor = 2 if dial == "radius" else 1
    cuts = [factor * result(found, n) for n in names(found) if n.startswith("cut") and n != "cuts"]
    assert sum(cuts) == pytest.approx(left / 100)
    assert len(cuts) == result(found, "cuts")
    assert factor * result(found, "dial") == pytest.approx(left / 100)
    assert all(c <= limit / 10 + 1e-9 for c in cuts[:-1])


def test_a_bore_that_is_there_takes_nothing_and_one_beyond_is_refused() -> None:
    assert result(worked("boring-head", target="30", measured="30", limit="1"), "dial") == 0
    with pytest.raises(Refused, match=r"measured.*at most the target, 30 mm"):
        worked("boring-head", target="30", measured="30.001")


def test_more_than_a_hundred_cuts_are_a_mistake() -> None:
    assert result(worked("boring-head", target="32", measured="30", limit="0.02", finish="0"), "cuts") == 100
    with pytest.raises(Refused, match="more than 100 cuts"):
        worked("boring-head", target="32.01", measured="30", limit="0.02", finish="0")


def test_the_last_cut_is_a_round_figure_of_the_works_unit() -> None:
    metric = worked("boring-head", target="30", measured="29", limit="0.5")
    assert result(metric, "cut3") == pytest.approx(0.1)
    inch = worked("boring-head", target="1.25 in", measured="1.2 in", limit="0.02 in")
    assert result(inch, "cut4") / 25.4 == pytest.approx(0.004)


@pytest.mark.parametrize(
    ("dial", "answer", "words"),
    [
        ("diameter", 0.3, "half was set on a dial that reads on the diameter"),
        ("radius", 0.6, "the whole was set on a dial that reads on the radius"),
        ("diameter", 1.2, "the difference was doubled"),
        ("radius", 0.3, ""),
    ],
)
def test_slips_of_a_head(dial: str, answer: float, words: str) -> None:
    assert slip("boring-head", answer, target="30", measured="29.4", dial=dial) == words
