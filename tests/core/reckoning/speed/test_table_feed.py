"""Table feed: what all teeth of one minute take, each its chip."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import INCH, names, result, slip, worked


@given(st.integers(1, 60), st.integers(1, 12), st.integers(1, 40))
def test_every_tooth_of_a_minute_takes_its_chip(speed: int, teeth: int, hundredths: int) -> None:
    chip, way = hundredths / 100, 0.0
    for _turn in range(speed):
        for _tooth in range(teeth):
            way += chip
    found = worked("table-feed", speed=str(speed), teeth=str(teeth), chip=f"{chip} mm")
    assert result(found, "feed") == pytest.approx(way)


@pytest.mark.parametrize(
    ("given", "feed", "seconds"),
    [
        ({"speed": "500", "teeth": "4", "chip": "0.05 mm", "per_turn": "5 mm"}, 100, 3.0),
        ({"speed": "490", "teeth": "4", "chip": "0.0025 in", "per_turn": "0.2 in"}, 4.9 * INCH, 2.449),
        ({"speed": "3055", "teeth": "2", "chip": "0.0005 in", "per_turn": "0.1 in"}, 3.055 * INCH, 1.964),
        ({"speed": "80", "teeth": "1", "chip": "0.1 mm", "per_turn": "5 mm"}, 8, 37.5),
    ],
)
def test_hand_worked(given: dict[str, str], feed: float, seconds: float) -> None:
    found = worked("table-feed", **given)
    assert result(found, "feed") == pytest.approx(feed)
    assert result(found, "seconds") == pytest.approx(seconds, abs=1e-3)


def test_it_follows_the_speed_that_is_set_not_the_reckoned_one() -> None:
    found = worked("table-feed", speed="500", teeth="4", chip="0.05", reckoned="560")
    assert result(found, "feed") == 100
    assert "112 mm/min: 12 % too fast" in found.said[1]
    assert len(worked("table-feed", speed="500", teeth="4", chip="0.05").said) == 1


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (112.0, "the calculated speed was used, not the one that is set"),
        (25.0, "the teeth were forgotten"),
        (75.0, "one tooth was forgotten"),
        (125.0, "one tooth too many was counted"),
        (1000.0, "a place of the feed per tooth slipped"),
        (100.0 / INCH, "inches were taken for millimetres"),
        (100.0, ""),
        (90.0, ""),
    ],
)
def test_slips_by_hand(answer: float, words: str) -> None:
    assert slip("table-feed", answer, 0.01, speed="500", teeth="4", chip="0.05", reckoned="560") == words


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("teeth", "0", "at least 1"),
        ("teeth", "41", "at most 40"),
        ("teeth", "2.5", "whole number"),
        ("speed", "0", "more than 0"),
        ("speed", "20001", "at most 20000"),
        ("chip", "0 mm", "more than 0"),
        ("chip", "0.08 in", "at most 0.07874 in"),
    ],
)
def test_bounds(field: str, value: str, words: str) -> None:
    given = {"speed": "500", "teeth": "4", "chip": "0.05 mm"} | {field: value}
    with pytest.raises(Refused) as caught:
        worked("table-feed", **given)
    (error,) = caught.value.errors
    assert error.field == field
    assert words in error.bound


STEPS = "12 20 32 50 80 mm/min"


@pytest.mark.parametrize(
    ("feed", "step"), [("49.9", 32), ("50", 50), ("79.9", 50), ("80", 80), ("190", 80), ("12", 12)]
)
def test_the_power_feed_is_the_step_at_or_below(feed: str, step: float) -> None:
    """At 100 turns with one tooth, the feed per tooth in mm is the hundredth of the table feed."""
    chip = f"{float(feed) / 100:.4f} mm"
    found = worked("table-feed", speed="100", teeth="1", chip=chip, feeds=STEPS)
    assert result(found, "step") == pytest.approx(step)
    assert result(found, "chip") == pytest.approx(step / 100)
    assert result(found, "chip") <= float(feed) / 100 + 1e-12, "no tooth takes more than was wanted"


def test_below_the_lowest_power_feed_it_is_fed_by_hand() -> None:
    found = worked("table-feed", speed="100", teeth="1", chip="0.1199 mm", feeds=STEPS)
    assert names(found) == ["feed", "seconds"]
    assert any("12 mm/min, is too fast: feed by hand" in s for s in found.said)
    assert names(worked("table-feed", speed="100", teeth="1", chip="0.1199 mm")) == ["feed", "seconds"]
