"""Power of a cut: metal a minute times what the metal takes, over what the drive loses."""

from __future__ import annotations

import pytest

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import result, slip, worked

CUT = {"engaged": "10", "deep": "2", "feed": "120 mm/min", "unit_power": "45"}


def test_hand_worked_in_metric_and_in_inches() -> None:
    """10 · 2 · 120 mm³ a minute are 2.4 cm³; at 45 W·min/cm³ 108 W; four fifths arrive: 135 W."""
    found = worked("power", **CUT)
    assert result(found, "removed") == pytest.approx(2.4)
    assert result(found, "motor") == pytest.approx(135)
    # 1 in³ a minute at 1 hp·min/in³ is 1 hp at the cutter
    inch = worked(
        "power", engaged="0.5 in", deep="0.25 in", feed="8 in/min", unit_power="1 hp·min/in³", efficiency="100"
    )
    assert result(inch, "motor") == pytest.approx(745.7)
    assert "1 in³/min" in inch.steps[0].result


@pytest.mark.parametrize(
    ("motor", "words"),
    [
        ("134.9 W", "Too much"),
        ("135 W", "Close to its limit"),
        ("168.74 W", "Close to its limit"),
        ("168.75 W", "80 % of the motor."),
        ("170 W", "79 % of the motor."),
        ("1 hp", "18 % of the motor."),
    ],
)
def test_the_motor_is_held_against_it(motor: str, words: str) -> None:
    (said,) = worked("power", **CUT, motor=motor).said
    assert words in said
    assert ("Too much" in said) == (words == "Too much")


def test_without_a_motor_nothing_is_judged() -> None:
    assert worked("power", **CUT).said == ()


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (108.0, "the efficiency was forgotten"),
        (86.4, "the efficiency was multiplied, not divided"),
        (13.5, "the width was forgotten"),
        (135.0, ""),
    ],
)
def test_slips_by_hand(answer: float, words: str) -> None:
    assert slip("power", answer, 0.01, **CUT) == words


@pytest.mark.parametrize(("efficiency", "taken"), [("20", True), ("19.9", False), ("100", True), ("100.1", False)])
def test_an_efficiency_that_cannot_be_is_refused(efficiency: str, taken: bool) -> None:
    if taken:
        assert worked("power", **CUT, efficiency=efficiency).results
        return
    with pytest.raises(Refused, match="efficiency"):
        worked("power", **CUT, efficiency=efficiency)
