"""Turns of a tap by hand: one turn is one pitch deeper."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import result, slip, worked


@given(st.integers(1, 100), st.integers(2, 60), st.integers(1, 24))
def test_a_turn_is_a_pitch(thread: int, pitch: int, half_leads: int) -> None:
    p, lead = pitch / 10, half_leads / 2
    found = worked("tap-turns", thread=str(thread), pitch=str(p), lead=str(lead))
    deep = result(found, "deep")
    assert deep == pytest.approx(thread + lead * p)
    assert result(found, "turns") * p == pytest.approx(deep)


def test_a_lead_of_two_and_a_half_pitches_is_taken() -> None:
    assert result(worked("tap-turns", thread="10", pitch="1", lead="2.5"), "turns") == pytest.approx(12.5)


@pytest.mark.parametrize(("lead", "taken"), [("0", False), ("0.5", True), ("12", True), ("12.5", False)])
def test_bounds_of_the_lead(lead: str, taken: bool) -> None:
    if taken:
        worked("tap-turns", thread="10", pitch="1", lead=lead)
        return
    with pytest.raises(Refused, match="lead"):
        worked("tap-turns", thread="10", pitch="1", lead=lead)


def test_it_says_that_a_tap_is_turned_by_hand_and_can_shatter() -> None:
    said = " ".join(worked("tap-turns", thread="12", pitch="1.5").said)
    assert "By hand" in said
    assert "never under power" in said
    assert "Eye protection" in said


@pytest.mark.parametrize(
    ("answer", "words"),
    [(8.0, "the lead was forgotten"), (27.0, "the pitch was multiplied, not divided"), (12.0, ""), (11.0, "")],
)
def test_slips_by_hand(answer: float, words: str) -> None:
    assert slip("tap-turns", answer, 1e-6, thread="12", pitch="1.5") == words
