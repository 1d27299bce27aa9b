"""Verdict, suitability, agreement, position, growth: both sides of every bound."""

from __future__ import annotations

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.reckoning.judging.shared import held
from tests.core.reckoning.figures import result, slip, worked

LIMITS = {"lower": "9.9", "upper": "10.1"}


@pytest.mark.parametrize(
    ("reading", "unsure", "word"),
    [
        ("10.05", "0.05", "in"),
        ("10.0501", "0.05", "too close to call"),
        ("10.15", "0.05", "too close to call"),
        ("10.1501", "0.05", "out"),
        ("9.95", "0.05", "in"),
        ("9.9499", "0.05", "too close to call"),
        ("9.85", "0.05", "too close to call"),
        ("9.8499", "0.05", "out"),
        ("10.1", "0", "in"),
        ("10.1001", "0", "out"),
        # an instrument as coarse as the limits are wide can call nothing in
        ("10", "0.1", "in"),
        ("10", "0.1001", "too close to call"),
    ],
)
def test_guarded_by_the_uncertainty(reading: str, unsure: str, word: str) -> None:
    found = worked("verdict", reading=reading, unsure=unsure, **LIMITS)
    assert found.answer.word == word
    assert bool(found.said) == (word == "too close to call")


@pytest.mark.parametrize(("reading", "word"), [("10.1", "in"), ("10.1001", "out"), ("9.9", "in"), ("9.8999", "out")])
def test_on_bare_limits_a_reading_on_the_limit_is_in(reading: str, word: str) -> None:
    assert worked("verdict", reading=reading, unsure="0.05", school="bare limits", **LIMITS).answer.word == word


def test_the_zero_error_is_taken_off() -> None:
    """An instrument that shows 0.02 when closed reads 0.02 too much."""
    assert result(worked("verdict", reading="10.02", zero="0.02", unsure="0", **LIMITS), "value") == pytest.approx(10)
    assert result(worked("verdict", reading="9.98", zero="-0.02", unsure="0", **LIMITS), "value") == pytest.approx(10)


def test_slips_of_a_verdict() -> None:
    close = {"reading": "10.09", "unsure": "0.05", **LIMITS}
    assert slip("verdict", 0, **close) == "the uncertainty was forgotten"
    zeroed = {"reading": "10.14", "zero": "0.1", "unsure": "0.02", **LIMITS}
    assert slip("verdict", 1, **zeroed) in ("the zero error was forgotten", "the zero error was added")
    assert slip("verdict", 0, **zeroed) == ""


@pytest.mark.parametrize(
    ("unsure", "width", "word"),
    [
        ("0.01", "0.1", "ideal"),
        ("0.0101", "0.1", "allowed"),
        ("0.025", "0.1", "allowed"),
        ("0.0251", "0.1", "too coarse"),
        ("0.0499", "0.1", "too coarse"),
        ("0.0501", "0.1", "far too coarse: nothing could be called in"),
    ],
)
def test_how_an_instrument_suits(unsure: str, width: str, word: str) -> None:
    found = worked("suitability", unsure=unsure, width=width)
    assert found.answer.word == word
    assert result(found, "least") == pytest.approx(4 * float(unsure))
    assert result(found, "ideal") == pytest.approx(10 * float(unsure))


@pytest.mark.parametrize(
    ("second", "word"),
    [("10.05", "agree"), ("9.95", "agree"), ("10.0501", "do not agree"), ("9.9499", "do not agree")],
)
def test_two_people_may_differ_by_the_root_of_the_squares(second: str, word: str) -> None:
    given = {"first": "10", "unsure1": "0.03", "second": second, "unsure2": "0.04"}
    found = worked("agreement", **given)
    assert found.answer.word == word
    assert result(found, "allowed") == pytest.approx(0.05)


def test_adding_the_uncertainties_is_named() -> None:
    given = {"first": "10", "unsure1": "0.03", "second": "10.06", "unsure2": "0.04"}
    assert slip("agreement", 0, **given) == "the uncertainties were added, not taken as the root of their squares"
    apart = given | {"second": "10.04"}
    assert slip("agreement", 1, **apart) == "only the first one's uncertainty was counted"


@given(st.integers(-100, 100), st.integers(-100, 100), st.integers(1, 300))
def test_a_position_is_in_when_its_middle_lies_in_the_zone(dx: int, dy: int, tolerance: int) -> None:
    found = worked("position", dx=f"{dx / 100}", dy=f"{dy / 100}", tolerance=f"{tolerance / 100}")
    inside = dx * dx + dy * dy <= tolerance * tolerance / 4
    said = held(Fraction(0 if inside else 2), Fraction(1), Fraction(0), say("Its position"))
    assert found.said == (together((said,), ""),)
    assert result(found, "position") == pytest.approx(2 * math.hypot(dx, dy) / 100)


HOLE = {"dx": "0.06", "dy": "0.08", "tolerance": "0.15", "bonus": "hole", "limit": "10.0", "other": "10.1"}
PIN = HOLE | {"bonus": "pin", "limit": "10.1", "other": "10.0"}


@pytest.mark.parametrize(
    ("given", "actual", "allowed", "said"),
    [
        (HOLE, "10.05", 0.2, "Its position is within the tolerance."),
        (HOLE, "10.049", 0.199, "Its position is out."),
        (HOLE, "10.1", 0.25, "Its position is within the tolerance."),
        (PIN, "10.05", 0.2, "Its position is within the tolerance."),
        (PIN, "10.051", 0.199, "Its position is out."),
        (PIN, "10.0", 0.25, "Its position is within the tolerance."),
        (HOLE, "10.101", 0.15, "The size itself is out: 10.101 against 10 to 10.1 mm. Its position is out."),
        (HOLE, "9.999", 0.15, "The size itself is out: 9.999 against 10 to 10.1 mm. Its position is out."),
        (PIN, "9.999", 0.15, "The size itself is out: 9.999 against 10 to 10.1 mm. Its position is out."),
        (HOLE | {"dx": "0.01", "dy": "0"}, "10.5", 0.15,
         "The size itself is out: 10.5 against 10 to 10.1 mm. Its position is within the tolerance."),
    ],
)  # fmt: skip
def test_a_bonus_is_earned_only_by_a_size_that_is_in(
    given: dict[str, str], actual: str, allowed: float, said: str
) -> None:
    found = worked("position", actual=actual, **given)
    assert result(found, "allowed") == pytest.approx(allowed)
    assert found.said == (said,)


def test_a_bonus_needs_both_limits_of_the_size() -> None:
    without = {k: v for k, v in HOLE.items() if k != "other"}
    with pytest.raises(Refused, match=r"other.*is missing"):
        worked("position", actual="10.05", **without)
    with pytest.raises(Refused, match=r"other.*must be more than 10 mm"):
        worked("position", actual="10.05", **(HOLE | {"other": "10.0"}))
    with pytest.raises(Refused, match=r"other.*must be less than 10\.1 mm"):
        worked("position", actual="10.05", **(PIN | {"other": "10.1"}))


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (0.05, "the radius was taken for the diameter"),
        (0.14, "both errors were only added"),
        (0.06, "one error was forgotten"),
        (0.1, ""),
    ],
)
def test_slips_of_a_position(answer: float, words: str) -> None:
    assert slip("position", answer, dx="0.03", dy="-0.04", tolerance="0.1") == words


@given(st.integers(10, 1000), st.integers(1, 200), st.integers(-40, 150))
def test_work_that_cools_shrinks_to_what_it_is_at_twenty(length: int, millionths: int, warmer: int) -> None:
    found = worked("growth", length=str(length), micro=str(millionths), warmer=f"{warmer} °C")
    cool = result(found, "cool")
    assert cool * (1 + millionths / 1e6 * warmer) == pytest.approx(length)
    assert result(found, "growth") == pytest.approx(length - cool)


@pytest.mark.parametrize("micro", ["11.5", "10.5", "16.5", "23.5", "1", "200"])
def test_every_expansion_that_materials_have_is_taken(micro: str) -> None:
    assert result(worked("growth", length="100", micro=micro, warmer="10 °C"), "growth") == pytest.approx(
        float(micro) / 1000, rel=3e-3
    )


@pytest.mark.parametrize(("micro", "words"), [("0.9", "at least 1"), ("200.1", "at most 200")])
def test_expansions_that_cannot_be(micro: str, words: str) -> None:
    with pytest.raises(Refused, match=rf"micro.*{words}"):
        worked("growth", length="100", micro=micro, warmer="10 °C")


def test_slips_of_growth() -> None:
    given = {"length": "100", "micro": "12", "warmer": "18 °F"}
    assert slip("growth", 0.0216, 1e-4, **given) == "°F were taken for °C"
    assert slip("growth", 0.1199, 1e-4, **given) == "a power of ten was lost"
    assert slip("growth", 0.012, 1e-4, **given) == ""


@pytest.mark.parametrize(
    ("field", "value", "taken"),
    [("tolerance", "50", True), ("tolerance", "50.01", False), ("tolerance", "0", False), ("dx", "50", True),
     ("dx", "50.01", False), ("dx", "-50", True), ("dx", "-50.01", False)],
)  # fmt: skip
def test_bounds_of_a_position(field: str, value: str, taken: bool) -> None:
    given = {"dx": "0.03", "dy": "-0.04", "tolerance": "0.1"} | {field: value}
    if taken:
        assert worked("position", **given).results
        return
    with pytest.raises(Refused, match=field):
        worked("position", **given)
