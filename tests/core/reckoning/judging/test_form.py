"""Flatness, parallelism, squareness, and a guarded position: both sides of every limit."""

from __future__ import annotations

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.reckoning.judging.shared import held
from tests.core.reckoning.figures import result, slip, worked

KINDS = ("flatness", "parallelism", "squareness")


@given(st.lists(st.integers(-900, 900), min_size=3, max_size=20), st.integers(-100, 100), st.sampled_from(KINDS))
def test_the_spread_does_not_depend_on_where_the_dial_was_set(hundredths: list[int], zero: int, of: str) -> None:
    def spread(shift: int) -> float:
        readings = " ".join(f"{(x + shift) / 100:.2f}" for x in hundredths) + " mm"
        return result(worked("form", of=of, readings=readings, tolerance="0.05 mm"), "spread")

    assert spread(0) == pytest.approx(spread(zero), abs=1e-12)
    assert spread(0) == pytest.approx((max(hundredths) - min(hundredths)) / 100, abs=1e-12)


@pytest.mark.parametrize(
    ("spread", "unsure", "words"),
    [
        ("0.05", "0", "It is within the tolerance."),
        ("0.051", "0", "It is out."),
        ("0.046", "0.004", "It is within the tolerance."),
        ("0.047", "0.004", "It is too close to call"),
        ("0.054", "0.004", "It is too close to call"),
        ("0.055", "0.004", "It is out."),
        ("0.001", "0.06", "It is too close to call"),
    ],
)
@pytest.mark.parametrize("of", KINDS)
def test_a_spread_is_held_against_its_tolerance(of: str, spread: str, unsure: str, words: str) -> None:
    given = {"of": of, "readings": f"0 {spread} 0.0005 mm", "tolerance": "0.05 mm", "uncertainty": f"{unsure} mm"}
    said = worked("form", **given).said
    assert said[0].startswith(words)
    assert len(said) == 2, "and how it was read is said"


@pytest.mark.parametrize(("readings", "taken"), [("0 0.1", False), ("0 0.1 0.05", True)])
def test_two_readings_say_nothing_about_a_face(readings: str, taken: bool) -> None:
    given = {"readings": f"{readings} mm", "tolerance": "0.2 mm"}
    if taken:
        assert worked("form", **given)
        return
    with pytest.raises(Refused, match="readings: must be at least 3 readings"):
        worked("form", **given)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (0.09, "the largest reading was taken by itself"),
        (0.06, "half the spread was taken"),
        (0.02, "only the first and the last were looked at"),
        (0.12, ""),
    ],
)
def test_slips_of_form(answer: float, words: str) -> None:
    assert slip("form", answer, readings="0.03 0.09 -0.03 0.05 mm", tolerance="0.1 mm") == words


@given(st.integers(-30, 30), st.integers(-30, 30), st.integers(1, 60), st.integers(0, 20), st.integers(0, 20))
def test_a_guarded_position(dx: int, dy: int, tolerance: int, ux: int, uy: int) -> None:
    """In hundredths: in within T − U, out beyond T + U, and between the two nobody says."""
    found = worked(
        "position",
        dx=f"{dx / 100} mm",
        dy=f"{dy / 100} mm",
        tolerance=f"{tolerance / 100} mm",
        ux=f"{ux / 1000} mm",
        uy=f"{uy / 1000} mm",
    )
    off, unsure = 2 * math.hypot(dx, dy) / 100, 2 * math.hypot(ux, uy) / 1000
    gaps = [abs(off - tolerance / 100 + s * unsure) for s in (-1, 1)]
    if min(gaps) < 1e-9 and unsure:
        return  # on the line, to the precision of a root
    words = "within" if off <= tolerance / 100 - unsure else "out." if off > tolerance / 100 + unsure else "too close"
    assert words in found.said[0]


@pytest.mark.parametrize(
    ("error", "most", "unsure", "words"),
    [
        (4, 5, 1, "within"),
        (4.0001, 5, 1, "too close"),
        (6, 5, 1, "too close"),
        (6.0001, 5, 1, "is out"),
        (5, 5, 0, "within"),
        (5.0001, 5, 0, "is out"),
        (0, 1, 1, "within"),
        (0, 1, 1.0001, "too close"),
    ],
)
def test_the_guard_itself(error: float, most: float, unsure: float, words: str) -> None:
    squared, most_, unsure_ = Fraction(str(error)) ** 2, Fraction(str(most)), Fraction(str(unsure))
    assert words in held(squared, most_, unsure_, "It")
