"""Face mill and fly cutter: speed by the swing, the way of a centred pass by geometry."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import result, slip, worked

FACE = {"surface": "100 m/min", "diameter": "50", "teeth": "5", "chip": "0.1", "width": "40", "length": "100"}


@given(st.integers(20, 200), st.integers(1, 100))
def test_it_is_whole_when_the_rim_reaches_both_edges(d: int, percent: int) -> None:
    """Where the rim crosses the edges of the work its middle lies that much before the end of the work."""
    w = d * percent / 100
    found = worked("facing", **(FACE | {"diameter": str(d), "width": f"{w:.3f}"}))
    enter, r = result(found, "enter"), d / 2
    # with the cutter's front at the work's end plus the way to enter, the rim stands at the end along both edges
    middle = enter - r
    assert math.hypot(middle, w / 2) == pytest.approx(r, rel=1e-4)


@pytest.mark.parametrize(
    ("given", "seconds"),
    [
        ({}, 150 / (100_000 / math.pi / 50 * 0.5) * 60),
        ({"exit": "full"}, 110 / (100_000 / math.pi / 50 * 0.5) * 60),
        ({"teeth": "1", "exit": "full"}, 5 * 110 / (100_000 / math.pi / 50 * 0.5) * 60),
        ({"width": "50", "exit": "full"}, 125 / (100_000 / math.pi / 50 * 0.5) * 60),
    ],
)
def test_hand_worked(given: dict[str, str], seconds: float) -> None:
    assert result(worked("facing", **(FACE | given)), "time") == pytest.approx(seconds)


def test_work_wider_than_the_swing_is_faced_in_two_passes() -> None:
    worked("facing", **(FACE | {"width": "50"}))
    with pytest.raises(Refused, match=r"width.*face it in two passes"):
        worked("facing", **(FACE | {"width": "50.01"}))


def test_it_says_that_it_swings_wide() -> None:
    said = " ".join(worked("facing", **FACE).said)
    assert "swings wider than it looks" in said
    assert "start clear of the work" in said


@pytest.mark.parametrize(
    ("share", "words"),
    [
        (110 / 150, "the overrun was forgotten"),
        (100 / 150, "only the length of the work was counted"),
        (1 / 2, "the radius was taken for the diameter"),
        (5.0, "the teeth were forgotten"),
        (1.0, ""),
    ],
)
def test_slips_by_hand(share: float, words: str) -> None:
    right = result(worked("facing", **FACE), "time")
    assert slip("facing", right * share, 0.01, **FACE) == words


def test_the_table_follows_the_step_that_is_set_not_the_reckoned_speed() -> None:
    """637 reckoned, 500 set: 5 teeth at 0.1 mm are 250 mm a minute, not 318."""
    found = worked("facing", **FACE, steps="250 500 1000")
    assert result(found, "speed") == pytest.approx(636.6, abs=0.1)
    assert result(found, "step") == 500
    assert result(found, "feed") == pytest.approx(250)
    assert result(found, "time") == pytest.approx(150 / 250 * 60)
    wrong = 150 / 318.31 * 60
    assert (
        slip("facing", wrong, 0.01, **FACE, steps="250 500 1000")
        == "the calculated speed was used, not the one that is set"
    )
    assert result(worked("facing", **FACE), "feed") == pytest.approx(318.31, abs=0.01)
