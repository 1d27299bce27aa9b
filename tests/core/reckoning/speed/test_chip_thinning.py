"""Chip thinning: held against the chip a turning tooth really leaves, by geometry."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import result, slip, worked


def thickest(d: float, ae: float, feed: float) -> float:
    """The thickest chip between two paths of a tooth, one feed apart, measured towards the middle of the second."""
    r, best = d / 2, 0.0
    for i in range(2001):
        # from where the tooth comes out of the uncut side, to the middle line
        height = r - ae + ae * i / 2000
        if abs(height) > r:
            continue
        x = math.sqrt(r * r - height * height)
        best = max(best, math.hypot(x + feed, height) - r)
    return best


@given(st.integers(4, 60), st.integers(1, 49), st.integers(1, 20))
def test_the_raised_feed_leaves_the_chip_that_was_wanted(d: int, percent: int, hundredths: int) -> None:
    chip, ae = hundredths / 1000, d * percent / 100
    found = result(worked("chip-thinning", diameter=str(d), engaged=f"{ae:.4f}", chip=f"{chip}"), "feed")
    assert chip <= found <= 2 * chip
    if found < 2 * chip * 0.9999:
        assert thickest(d, ae, found) == pytest.approx(chip, rel=0.03)
    else:
        assert thickest(d, ae, found) <= chip * 1.03


@pytest.mark.parametrize(
    ("engaged", "feed"),
    [("10", 0.06), ("10.01", 0.06), ("20", 0.06), ("9.99", 0.06), ("2", 0.1), ("5", 0.0692820), ("0.1", 0.12)],
)
def test_hand_worked(engaged: str, feed: float) -> None:
    assert result(worked("chip-thinning", diameter="20", engaged=engaged, chip="0.06"), "feed") == pytest.approx(
        feed, rel=1e-4
    )


def test_never_more_than_twice_and_then_it_is_said() -> None:
    """2 · √(k − k²) is a half at k = 0.067: less engaged, and the feed stays at twice."""
    above = worked("chip-thinning", diameter="100", engaged="6.8", chip="0.1")
    below = worked("chip-thinning", diameter="100", engaged="6.6", chip="0.1")
    assert result(above, "feed") < 0.2
    assert not above.said
    assert result(below, "feed") == pytest.approx(0.2)
    assert "more than twice" in below.said[0]


def test_no_more_than_the_whole_cutter_is_engaged() -> None:
    worked("chip-thinning", diameter="20", engaged="20", chip="0.06")
    with pytest.raises(Refused, match=r"engaged.*at most the diameter, 20 mm"):
        worked("chip-thinning", diameter="20", engaged="20.01", chip="0.06")


@pytest.mark.parametrize(
    ("answer", "words"),
    [(0.06, "nothing was raised"), (0.036, "it was lowered instead of raised"), (0.1, ""), (0.11, "")],
)
def test_slips_by_hand(answer: float, words: str) -> None:
    assert slip("chip-thinning", answer, 1e-4, diameter="20", engaged="2", chip="0.06") == words
