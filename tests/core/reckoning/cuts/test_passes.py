"""Passes and planning again: what is cut adds up, and never more than was wanted."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.reckoning.cuts.shared import passes
from tests.core.reckoning.figures import INCH, names, result, slip, worked


@pytest.mark.parametrize(
    ("stock", "limit", "finish", "cuts"),
    [
        ("3", "1", "0.25", ("0.75", "1", "1", "0.25")),
        ("3.25", "1", "0.25", ("1", "1", "1", "0.25")),
        ("0.25", "1", "0.25", ("0.25",)),
        ("0.26", "1", "0.25", ("0.01", "0.25")),
        ("0.1", "1", "0.25", ("0.1",)),
        ("2", "1", "0", ("1", "1")),
        ("2.5", "1", "0", ("0.5", "1", "1")),
        ("0.010", "0.050", "0.010", ("0.010",)),
    ],
)
def test_how_stock_is_shared_out(stock: str, limit: str, finish: str, cuts: tuple[str, ...]) -> None:
    assert passes(Fraction(stock), Fraction(limit), Fraction(finish)) == tuple(Fraction(c) for c in cuts)


@given(st.integers(1, 2000), st.integers(1, 500), st.integers(0, 60))
def test_the_finishing_pass_is_the_last_and_all_before_it_stay_within_the_limit(s: int, limit: int, f: int) -> None:
    found = passes(Fraction(s, 100), Fraction(limit, 100), Fraction(f, 100))
    assert sum(found) == Fraction(s, 100)
    assert all(x > 0 for x in found)
    assert all(x <= Fraction(limit, 100) for x in found[: -1 if f else None])
    # an awkward remainder comes first: those after it are whole
    assert all(x == Fraction(limit, 100) for x in found[1 : -1 if f else None])


def test_inch_work_leaves_ten_thousandths_for_the_last_pass() -> None:
    inch = worked("passes", stock="0.115 in", limit="0.050 in")
    assert [result(inch, n) / INCH for n in names(inch)[1:]] == pytest.approx([0.005, 0.05, 0.05, 0.01])
    metric = worked("passes", stock="3", limit="1")
    assert result(metric, "pass4") == 0.25
    given = worked("passes", stock="0.115 in", limit="0.050 in", finish="0.015 in")
    assert result(given, "pass3") == pytest.approx(0.015 * INCH)


def test_more_than_two_hundred_passes_are_a_mistake() -> None:
    assert result(worked("passes", stock="100", limit="0.5", finish="0"), "passes") == 200
    with pytest.raises(Refused, match=r"limit.*more than 200 passes"):
        worked("passes", stock="100", limit="0.499", finish="0")


def test_miscounting_is_named() -> None:
    assert slip("passes", 3, 0.1, stock="3", limit="1") == "the finishing pass was forgotten"
    assert slip("passes", 5, 0.1, stock="3", limit="1") == "one pass too many was counted"
    assert slip("passes", 4, 0.1, stock="3", limit="1") == ""


LIMITS = {"lower": "24.9", "upper": "25.0", "limit": "1"}


@pytest.mark.parametrize(
    ("of", "measured", "left"),
    [
        ("outside", "25.30", 0.35),
        ("outside", "24.96", 0.01),
        ("inside or depth", "24.00", 0.95),
        ("slot on both walls", "24.00", 0.475),
    ],
)
def test_what_is_left_to_the_middle_of_the_limits(of: str, measured: str, left: float) -> None:
    found = worked("replan", measured=measured, of=of, **LIMITS)
    assert result(found, "left") == pytest.approx(left)
    cuts = [result(found, n) for n in names(found) if n.startswith("pass") and n != "passes"]
    assert sum(cuts) == pytest.approx(left)


@pytest.mark.parametrize(
    ("of", "measured", "words"),
    [
        ("outside", "24.95", "It is in: leave it."),
        ("outside", "24.90", "It is in: leave it."),
        ("outside", "24.899", "More is gone than the limits allow. Stop, and ask."),
        ("inside or depth", "24.95", "It is in: leave it."),
        ("inside or depth", "25.00", "It is in: leave it."),
        ("inside or depth", "25.001", "More is gone than the limits allow. Stop, and ask."),
        ("slot on both walls", "25.001", "More is gone than the limits allow. Stop, and ask."),
    ],
)
def test_nothing_more_is_cut_once_the_middle_is_reached(of: str, measured: str, words: str) -> None:
    found = worked("replan", measured=measured, of=of, **LIMITS)
    assert names(found) == ["left"]
    assert found.said == (words,)


def test_limits_the_wrong_way_round_are_refused() -> None:
    with pytest.raises(Refused, match=r"upper.*must be more than the lower limit"):
        worked("replan", measured="25", lower="25", upper="25", limit="1")


@pytest.mark.parametrize(
    ("of", "answer", "words"),
    [
        ("outside", 0.4, "the aim was the lower limit, not the middle"),
        ("outside", 0.3, "the aim was the upper limit, not the middle"),
        ("outside", 0.175, "it was halved though only one side is cut"),
        ("outside", -0.35, "it was taken the wrong way round"),
        ("outside", 0.35, ""),
        ("outside", 0.1, ""),
    ],
)
def test_slips_of_a_new_plan(of: str, answer: float, words: str) -> None:
    assert slip("replan", answer, measured="25.30", of=of, **LIMITS) == words


def test_forgetting_that_both_walls_are_cut_is_named() -> None:
    words = slip("replan", 0.95, measured="24.00", of="slot on both walls", **LIMITS)
    assert words == "half was forgotten: both walls are cut"
