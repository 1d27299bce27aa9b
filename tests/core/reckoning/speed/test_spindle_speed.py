"""Spindle speed: what the rim of the cutter travels in a minute is the surface speed."""

from __future__ import annotations

import itertools
import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.reckoning import CALCULATIONS
from incudo.core.reckoning.speed.shared import step_at
from tests.core.reckoning.figures import names, read, result, slip, worked

STEPS = "100 150 225 340 510 765"


@given(st.integers(1, 1000), st.integers(1, 5000))
def test_the_rim_travels_the_surface_speed(surface: int, tenths: int) -> None:
    d = tenths / 10
    n = result(worked("spindle-speed", surface=f"{surface} m/min", diameter=f"{d} mm"), "speed")
    rim = sum(math.dist(*ends) for ends in _chords(d / 2)) * n / 1000
    assert rim == pytest.approx(surface, rel=1e-3)


def _chords(r: float, parts: int = 120) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """A circle as many short chords: its way round, found without π."""
    at = [(r * math.cos(2 * math.pi * i / parts), r * math.sin(2 * math.pi * i / parts)) for i in range(parts + 1)]
    return list(itertools.pairwise(at))


@pytest.mark.parametrize(
    ("surface", "diameter", "rpm"),
    [
        ("90 ft/min", "0.625 in", 550.04),
        ("100 ft/min", "0.125 in", 3055.8),
        ("300 ft/min", "3 in", 381.97),
        ("28 m/min", "16 mm", 557.04),
        ("28 m/min", "1 mm", 8912.7),
        ("1000 m/min", "500 mm", 636.62),
    ],
)
def test_hand_worked(surface: str, diameter: str, rpm: float) -> None:
    assert result(worked("spindle-speed", surface=surface, diameter=diameter), "speed") == pytest.approx(rpm, rel=1e-4)


def test_inch_and_metric_give_the_same_speed() -> None:
    inch = result(worked("spindle-speed", surface="100 ft/min", diameter="1 in"), "speed")
    metric = result(worked("spindle-speed", surface="30.48 m/min", diameter="25.4 mm"), "speed")
    assert inch == pytest.approx(metric, rel=1e-12)


@pytest.mark.parametrize(
    ("speed", "school", "step"),
    [
        ("225", "below", 225),
        ("224.9", "below", 150),
        ("339", "below", 225),
        ("225", "nearest", 225),
        # 340 lies at most a tenth above from 309.1 on, and is the nearer by ratio from √(225 · 340) = 276.6 on
        ("309", "nearest", 225),
        ("309.1", "nearest", 340),
        ("100", "below", 100),
        ("5000", "below", 765),
        ("5000", "nearest", 765),
    ],
)
def test_which_step_is_set(speed: str, school: str, step: int) -> None:
    steps = tuple(Fraction(x) for x in STEPS.split())
    assert step_at(Fraction(speed), steps, school) == step


def test_of_two_steps_equally_near_the_lower_is_set() -> None:
    """100 and 121 lie equally near 110 by ratio, and 121 is just a tenth above it."""
    assert step_at(Fraction(110), (Fraction(100), Fraction(121)), "nearest") == 100
    assert step_at(Fraction("110.01"), (Fraction(100), Fraction(121)), "nearest") == 121


def test_no_step_is_slow_enough() -> None:
    assert step_at(Fraction("99.9"), (Fraction(100),), "nearest") is None
    found = worked("spindle-speed", surface="20 m/min", diameter="80 mm", steps=STEPS)
    assert names(found) == ["speed"]
    assert found.said[0].startswith("The slowest speed, 100, is too fast for this cutter")


def test_the_surface_speed_at_the_step_that_is_set() -> None:
    found = worked("spindle-speed", surface="28 m/min", diameter="16 mm", steps=STEPS)
    assert names(found) == ["step", "speed", "real"]
    assert result(found, "step") == 510
    assert result(found, "real") == pytest.approx(math.pi * 0.016 * 510)
    assert result(found, "real") <= 28
    assert not found.said


def test_above_the_top_step_it_is_said_that_slower_is_safe() -> None:
    slow = worked("spindle-speed", surface="100 m/min", diameter="16 mm", steps=STEPS)
    assert result(slow, "step") == 765
    assert "no faster speed" in slow.said[0]
    just = worked("spindle-speed", surface="100 m/min", diameter="16 mm", steps=f"{STEPS} 1989")
    assert result(just, "step") == 1989
    assert "no faster speed" in just.said[0]
    higher = worked("spindle-speed", surface="100 m/min", diameter="16 mm", steps=f"{STEPS} 1989 2500")
    assert not higher.said


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (1114.08, "the radius was taken for the diameter"),
        (278.52, "the diameter was doubled"),
        (1750.0, "π was forgotten"),
        (14148.9, "inches were taken for millimetres"),
        (1827.6, "feet were taken for metres"),
        (169.79, "metres were taken for feet"),
        (557.04, ""),
        (600.0, ""),
    ],
)
def test_slips_by_hand(answer: float, words: str) -> None:
    assert slip("spindle-speed", answer, 0.1, surface="28 m/min", diameter="16 mm") == words


def test_rounding_up_to_the_next_step_is_named() -> None:
    values = {"surface": "25 m/min", "diameter": "16 mm", "steps": STEPS}
    assert slip("spindle-speed", 510, 0.5, **values) == "it was rounded up to the machine's next step"
    assert slip("spindle-speed", 340, 0.5, **values) == ""


def test_the_short_way_says_how_far_it_is_off() -> None:
    metric = worked("spindle-speed", surface="28 m/min", diameter="16 mm").steps[1]
    assert metric.formula == "320 · v / D"
    assert metric.result == "560 rpm, 0.5 % more"
    inch = worked("spindle-speed", surface="90 ft/min", diameter="0.625 in").steps[1]
    assert inch.formula == "4 · V / D"
    assert inch.result == "576 rpm, 4.7 % more"


def test_the_plot_needs_steps_and_stands_where_we_are() -> None:
    c = CALCULATIONS["spindle-speed"]
    assert c.plot is not None
    bare = read("spindle-speed", surface="28 m/min", diameter="16 mm")
    assert c.plot(bare, c.work(bare)) is None
    with_steps = read("spindle-speed", surface="28 m/min", diameter="16 mm", steps=STEPS)
    drawn = c.plot(with_steps, c.work(with_steps))
    assert drawn is not None
    assert any(s.text == "510 at 16 mm" for s in drawn.shapes)


@pytest.mark.parametrize(
    ("given", "field"),
    [
        ({"surface": "0 m/min", "diameter": "16 mm"}, "surface"),
        ({"surface": "1001 m/min", "diameter": "16 mm"}, "surface"),
        ({"surface": "28 m/min", "diameter": "500.1 mm"}, "diameter"),
        ({"surface": "28 m/min", "diameter": "16 mm", "steps": "100 100"}, "steps"),
        ({"surface": "28 m/min", "diameter": "16 mm", "steps": "200 100"}, "steps"),
        ({"surface": "28 m/min", "diameter": "16 mm", "steps": "0 100"}, "steps"),
        ({"surface": "28 m/min", "diameter": "16 mm", "steps": "100.5"}, "steps"),
    ],
)
def test_what_cannot_be_is_refused(given: dict[str, str], field: str) -> None:
    with pytest.raises(Refused) as caught:
        worked("spindle-speed", **given)
    assert [e.field for e in caught.value.errors] == [field]


@pytest.mark.parametrize(
    ("surface", "rpm"),
    [("20", 1273.2), ("40", 2546.5), ("3.14", 199.9), ("90", 4200), ("7.86", 500), ("8.5", 500), ("9.43", 600.3)],
)
def test_a_machine_with_ranges_is_set_within_them(surface: str, rpm: float) -> None:
    """60 to 500 and 600 to 4200 a minute: between the two it is set to the end of the lower one."""
    found = worked("spindle-speed", surface=surface, diameter="5", ranges="60 500 600 4200")
    assert found.answer.label == "speed to set"
    assert float(found.answer.value) == pytest.approx(rpm, rel=1e-3)


def test_the_ends_of_the_ranges_are_said() -> None:
    slow = worked("spindle-speed", surface="5", diameter="50", ranges="60 500 600 4200")
    assert names(slow) == ["speed"]
    assert "slowest speed, 60, is too fast" in slow.said[0]
    fast = worked("spindle-speed", surface="90", diameter="5", ranges="60 500 600 4200")
    assert "no faster speed" in fast.said[0]
    with pytest.raises(Refused, match=r"ranges.*must be pairs"):
        worked("spindle-speed", surface="20", diameter="5", ranges="60 500 600")


def test_a_machine_has_at_most_sixty_steps_each_of_five_digits() -> None:
    sixty = " ".join(str(100 + n) for n in range(60))
    found = worked("spindle-speed", surface="30 m/min", diameter="80 mm", steps=sixty)
    assert result(found, "step") == 119
    for wrong in (f"{sixty} 200", "100 100000", "100 99", "100 100", "0 100", "100 1e3"):
        with pytest.raises(Refused) as refused:
            worked("spindle-speed", surface="30 m/min", diameter="80 mm", steps=wrong)
        assert refused.value.errors[0].field == "steps"
    assert result(worked("spindle-speed", surface="30 m/min", diameter="80 mm", steps="1 99999"), "step") == 1
