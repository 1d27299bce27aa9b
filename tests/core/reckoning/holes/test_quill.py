"""Drilling by the quill: time against a drill that is moved in small steps, drift against a leaning line."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import INCH, result, slip, worked

HOLE = {"diameter": "10 mm", "depth": "20 mm", "speed": "500", "per_turn": "0.1 mm", "approach": "2 mm"}


@given(st.integers(2, 30), st.integers(1, 80), st.integers(50, 2000), st.integers(2, 40), st.integers(90, 140))
def test_time_is_that_of_a_drill_that_turns_and_sinks(d: int, depth: int, speed: int, feed: int, angle: int) -> None:
    """Counted in turns: each takes the drill a feed deeper, until its corners are at the full depth."""
    per_turn = feed / 100
    corner = d / 2 * math.cos(math.radians(angle / 2)) / math.sin(math.radians(angle / 2))
    turns = (3 + depth + corner) / per_turn
    found = worked(
        "quill-time",
        diameter=f"{d} mm",
        depth=f"{depth} mm",
        speed=str(speed),
        per_turn=f"{per_turn} mm",
        approach="3 mm",
        angle=str(angle),
    )
    assert result(found, "one") == pytest.approx(turns / speed * 60)


def test_worked_by_hand() -> None:
    """118°: the point of 10 mm is 3.004 mm long; 25.004 mm at 50 mm/min are 30.0 s; three holes with 20 s each."""
    found = worked("quill-time", **HOLE, holes="3", handling="20 s")
    assert result(found, "one") == pytest.approx(30.005, abs=0.001)
    assert result(found, "time") == pytest.approx(150.015, abs=0.005)
    inch = worked(
        "quill-time", diameter="0.25 in", depth="0.5 in", speed="1000", per_turn="0.003 in", approach="0.1 in"
    )
    assert result(inch, "one") == pytest.approx((0.6 + 0.125 / math.tan(math.radians(59))) / 3 * 60)


@pytest.mark.parametrize(
    ("wanted", "taken"), [("0.079", 0.04), ("0.08", 0.08), ("0.149", 0.08), ("0.15", 0.15), ("1", 0.15)]
)
def test_the_quill_feeds_at_or_below_what_is_wanted(wanted: str, taken: float) -> None:
    found = worked("quill-time", **HOLE | {"per_turn": f"{wanted} mm"}, feeds="0.04 0.08 0.15 mm")
    assert result(found, "per_turn") == pytest.approx(taken)
    assert ("the next at or below" in found.said[0]) == (float(wanted) != taken)


def test_below_the_least_feed_it_is_fed_by_hand() -> None:
    assert worked("quill-time", **HOLE | {"per_turn": "0.04 mm"}, feeds="0.04 0.08 mm")
    with pytest.raises(Refused, match="per_turn: is below the quill's least feed"):
        worked("quill-time", **HOLE | {"per_turn": "0.0399 mm"}, feeds="0.04 0.08 mm")


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (2 * (22 / 50 * 60 + 20), "the point was forgotten"),
        (2 * (23.00430 / 50 * 60 + 20), "the travel down to the work was forgotten"),
        (50.00516, "only one hole was counted"),
        (2 * 30.00516 + 20, "the handling was counted once"),
        (2 * 50.00516, ""),
    ],
)
def test_slips_of_the_time(seconds: float, words: str) -> None:
    assert slip("quill-time", seconds, 1e-2, **HOLE, holes="2", handling="20 s") == words


@given(st.integers(-40, 40), st.integers(-40, 40), st.integers(50, 400), st.integers(1, 150))
def test_drift_is_where_a_leaning_line_comes_out(side: int, front: int, span: int, travel: int) -> None:
    """A line square to the plane through the readings, followed down: how far aside it is after the travel."""
    found = worked(
        "quill-drift",
        side=f"{side / 1000} mm",
        front=f"{front / 1000} mm",
        span=f"{span} mm",
        travel=f"{travel} mm",
    )
    lean_x, lean_y = math.atan(side / 1000 / span), math.atan(front / 1000 / span)
    aside = complex(travel * math.tan(lean_x), travel * math.tan(lean_y))
    assert result(found, "drift") == pytest.approx(abs(aside), abs=1e-12)
    assert result(found, "drift") >= max(result(found, "x"), result(found, "y")) - 1e-12, "both together, never less"


def test_drift_worked_by_hand() -> None:
    """0.003 and 0.004 in over 10 in make 0.0005 in on each inch; 4 in of quill are 0.002 in."""
    found = worked("quill-drift", side="0.003 in", front="0.004 in", span="10 in", travel="4 in")
    assert result(found, "drift") == pytest.approx(0.002 * INCH)


@pytest.mark.parametrize(
    ("inches", "words"),
    [
        (0.0012, "only side to side was looked at"),
        (0.0016, "only front to back was looked at"),
        (0.0028, "both were only added"),
        (0.004, "half the span was taken"),
        (0.005, "the readings were taken for the drift"),
        (0.002, ""),
    ],
)
def test_slips_of_the_drift(inches: float, words: str) -> None:
    given = {"side": "0.003 in", "front": "0.004 in", "span": "10 in", "travel": "4 in"}
    assert slip("quill-drift", inches * INCH, 1e-6, **given) == words
