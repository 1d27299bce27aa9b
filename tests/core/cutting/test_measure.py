"""A reading before the last pass: taken, questioned with what probably happened, or too late."""

from __future__ import annotations

from fractions import Fraction

import pytest

from incudo.core.cutting.measure import NEAR, USUAL, judge_reading
from incudo.core.cutting.step import Check
from incudo.core.kernel.quantity import Unit

F = Fraction
TURN = F(5)
#: A height of 20 ±0.1 mm, half a millimetre still on it, two and a half taken by the pass before.
HEIGHT = Check(3, "the height", "z", F("23"), F("20.5"), F(20), (F("19.9"), F("20.1")), falls=True)
#: The depth of a slot, 6 +0.1 −0, that grows while it is cut.
DEPTH = Check(7, "the depth", "z", F("3.5"), F("5.5"), F("6.05"), (F(6), F("6.1")), falls=False)
#: Nothing on the drawing goes there yet: how deep it is.
SO_FAR = Check(0, "how deep it is", "z", F(1), F(3), F("3.5"), None, falls=False)


@pytest.mark.parametrize(
    ("check", "reading", "left"),
    [
        (HEIGHT, "20.5", "0.5"),
        (HEIGHT, "20.58", "0.58"),
        (HEIGHT, "20.41", "0.41"),
        (DEPTH, "5.5", "0.55"),
        (DEPTH, "5.42", "0.63"),
        (SO_FAR, "2.93", "0.57"),
    ],
)
def test_what_is_left_goes_to_the_middle_of_the_limits(check: Check, reading: str, left: str) -> None:
    found = judge_reading(check, F(reading), TURN, Unit.MM)
    assert found.good
    assert found.left == F(left)
    assert f"{left}" in found.words


@pytest.mark.parametrize("check", [HEIGHT, DEPTH, SO_FAR])
@pytest.mark.parametrize("way", [1, -1])
def test_as_far_off_as_is_usual_and_a_little_more(check: Check, way: int) -> None:
    assert judge_reading(check, check.expected + way * USUAL, TURN, Unit.MM).good
    beyond = judge_reading(check, check.expected + way * (USUAL + F(1, 1000)), TURN, Unit.MM)
    assert not beyond.good
    assert not beyond.call


@pytest.mark.parametrize(
    ("reading", "words"),
    [
        (F("20.5") / F("25.4"), "inches read as millimetres"),
        (F("20.5") * F("25.4"), "millimetres read as inches"),
        (F(23), "has taken nothing"),
        (F("25.5"), "miscounted"),
        (F("22.1"), "chip"),
    ],
)
def test_a_reading_that_cannot_be_right_is_questioned(reading: Fraction, words: str) -> None:
    found = judge_reading(HEIGHT, reading, TURN, Unit.MM)
    assert not found.good
    assert words in found.words, found.words


@pytest.mark.parametrize("by", [F(0), NEAR, -NEAR])
def test_a_pass_that_took_twice_is_named(by: Fraction) -> None:
    check = Check(3, "", "z", F(22), F(21), F(20), (F("18"), F("20.1")), falls=True)
    assert "twice what was set" in judge_reading(check, F(20) + by, TURN, Unit.MM).words
    assert "twice" not in judge_reading(check, F(20) + NEAR + F(1, 1000), TURN, Unit.MM).words


@pytest.mark.parametrize(
    ("check", "inside", "outside"),
    [(HEIGHT, "19.9", "19.899"), (DEPTH, "6.1", "6.101"), (SO_FAR, "3.65", "3.651")],
)
def test_too_much_is_gone_beyond_the_limit_and_not_on_it(check: Check, inside: str, outside: str) -> None:
    assert not judge_reading(check, F(inside), TURN, Unit.MM).call
    late = judge_reading(check, F(outside), TURN, Unit.MM)
    assert late.call
    assert not late.good
    assert "call" in late.words


def test_nothing_is_left_where_it_is_to_size_already() -> None:
    found = judge_reading(
        Check(1, "", "z", F(11), F("10.1"), F(10), (F("9.9"), F("10.1")), falls=True), F("9.98"), TURN, Unit.MM
    )
    assert found.good
    assert found.left == 0
