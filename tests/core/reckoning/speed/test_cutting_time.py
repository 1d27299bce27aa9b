"""Time of a side cut: held against a cutter that is moved step by step."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import result, slip, worked

CUT = {"length": "100", "diameter": "20", "engaged": "5", "overrun": "10", "passes": "3", "feed": "120"}


def touches(x: float, d: float, ae: float) -> bool:
    """Whether a cutter whose middle stands ``x`` before the block's corner touches the strip it is to take off."""
    # the strip is ae wide, its outer side at the height at which the cutter's side runs
    top = -d / 2 + ae
    nearest = (0.0, min(max(0.0, -1e6), top))
    return math.hypot(x - nearest[0], nearest[1]) < d / 2 - 1e-9


@given(st.integers(4, 60), st.integers(1, 100), st.integers(10, 300), st.integers(1, 5))
def test_the_first_touch_is_where_it_is_reckoned(d: int, percent: int, long: int, passes: int) -> None:
    ae = d * percent / 100
    found = result(
        worked(
            "cutting-time",
            length=str(long),
            diameter=str(d),
            engaged=f"{ae:.3f}",
            overrun="0",
            passes=str(passes),
            feed="60",
        ),
        "time",
    )
    before = found / passes - long  # 60 mm/min is a millimetre a second
    assert touches(before - 0.01, d, round(ae, 3))
    assert not touches(before + 0.01, d, round(ae, 3))


@pytest.mark.parametrize(
    ("given", "seconds"),
    [
        (CUT, 3 * (100 + math.sqrt(75) + 10) / 2),
        (CUT | {"engaged": "10"}, 180),
        (CUT | {"engaged": "20"}, 180),
        (CUT | {"engaged": "10", "handling": "45 s"}, 225),
        (CUT | {"engaged": "10", "handling": "1.5 min"}, 270),
        (CUT | {"engaged": "10", "passes": "1", "overrun": "0"}, 55),
    ],
)
def test_hand_worked(given: dict[str, str], seconds: float) -> None:
    assert result(worked("cutting-time", **given), "time") == pytest.approx(seconds)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (140.0, "a pass was forgotten"),
        (80.0, "only one pass was counted"),
        (170.0, "approach and overrun were forgotten"),
        (180.0, "the handling was forgotten"),
        (240.0, "the handling was counted with every pass"),
        (200.0, ""),
    ],
)
def test_slips_by_hand(answer: float, words: str) -> None:
    assert slip("cutting-time", answer, 0.5, **(CUT | {"engaged": "10", "handling": "20 s"})) == words


def test_more_than_the_whole_cutter_cannot_be_engaged() -> None:
    with pytest.raises(Refused, match="engaged"):
        worked("cutting-time", **(CUT | {"engaged": "20.1"}))
