"""Verdicts: exact, honest about uncertainty, with the metal on the right side."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.tolerance import Form, Limits, Tolerance
from incudo.core.measuring.verdict import (
    SEVERITY,
    Estimate,
    Measured,
    Metal,
    School,
    Spots,
    Verdict,
    agree,
    bar,
    combine,
    corrected,
    judge,
)
from tests.core.said import told

GUARD, BARE = School.GUARD_BAND, School.BARE_LIMITS


def limits(low: str, high: str, unit: Unit = Unit.INCH) -> Limits:
    tolerance = Tolerance(Form.LIMITS, Length(low, unit), Length(high, unit))
    return tolerance.limits(Length(high, unit), {})


def read(text: str, u: str = "0.0002", unit: Unit = Unit.INCH, resolution: str = "0.0001") -> Measured:
    return Measured(Length(text, unit).mm, Length(u, unit).mm, Length(resolution, unit).mm)


def verdict(text: str, metal: Metal = Metal.OUTSIDE, school: School = GUARD, u: str = "0.0002") -> Verdict:
    return judge(read(text, u), limits("0.246", "0.250"), metal, school, Unit.INCH).verdict


@pytest.mark.parametrize(
    ("text", "guarded", "bare"),
    [
        ("0.2485", Verdict.IN, Verdict.IN),
        ("0.2498", Verdict.IN, Verdict.IN),
        ("0.24981", Verdict.TOO_CLOSE, Verdict.IN),
        ("0.2500", Verdict.TOO_CLOSE, Verdict.IN),
        ("0.250001", Verdict.TOO_CLOSE, Verdict.METAL_LEFT),
        ("0.2502", Verdict.TOO_CLOSE, Verdict.METAL_LEFT),
        ("0.250201", Verdict.METAL_LEFT, Verdict.METAL_LEFT),
        ("0.2462", Verdict.IN, Verdict.IN),
        ("0.2461", Verdict.TOO_CLOSE, Verdict.IN),
        ("0.2460", Verdict.TOO_CLOSE, Verdict.IN),
        ("0.245999", Verdict.TOO_CLOSE, Verdict.METAL_GONE),
        ("0.2458", Verdict.TOO_CLOSE, Verdict.METAL_GONE),
        ("0.245799", Verdict.METAL_GONE, Verdict.METAL_GONE),
    ],
)
def test_both_schools_at_every_border(text: str, guarded: Verdict, bare: Verdict) -> None:
    assert verdict(text, school=GUARD) is guarded
    assert verdict(text, school=BARE) is bare


def test_the_metal_side_decides_the_word() -> None:
    assert verdict("0.260", Metal.OUTSIDE) is Verdict.METAL_LEFT
    assert verdict("0.260", Metal.INSIDE) is Verdict.METAL_GONE
    assert verdict("0.240", Metal.INSIDE) is Verdict.METAL_LEFT
    assert verdict("0.260", Metal.NONE) is Verdict.OUT


def test_inch_against_millimetre_limits_is_exact() -> None:
    """2.0000 in is 50.8 mm to the last digit: on the limit, so in."""
    mm = limits("50.0", "50.8", Unit.MM)
    on = judge(read("2.0000"), mm, Metal.OUTSIDE, BARE, Unit.INCH)
    assert on.verdict is Verdict.IN
    beyond = judge(read("2.000001"), mm, Metal.OUTSIDE, BARE, Unit.INCH)
    assert beyond.verdict is Verdict.METAL_LEFT
    assert any("25.4" in s.formula and "50.8 mm" in s.result for s in on.working)


def test_no_in_exists_when_u_is_more_than_half_the_width() -> None:
    for hundredth in range(2440, 2521):
        assert verdict(f"0.{hundredth}", u="0.0021") is not Verdict.IN


def test_single_sided_limits() -> None:
    most = Tolerance(Form.MAXIMUM).limits(Length("0.002", Unit.INCH), {})
    least = Tolerance(Form.MINIMUM).limits(Length("0.250", Unit.INCH), {})

    def of(text: str, lone: Limits, school: School = GUARD) -> Verdict:
        return judge(read(text), lone, Metal.NONE, school, Unit.INCH).verdict

    assert of("0", most) is Verdict.IN
    assert of("0.0018", most) is Verdict.IN
    assert of("0.0019", most) is Verdict.TOO_CLOSE
    assert of("0.0023", most) is Verdict.OUT
    assert of("0.002", most, BARE) is Verdict.IN
    assert of("9", least) is Verdict.IN
    assert of("0.2501", least) is Verdict.TOO_CLOSE
    assert of("0.2497", least) is Verdict.OUT


micro = st.integers(-3000, 3000).map(lambda n: Fraction(n, 1000))


@given(x=micro, u=st.integers(0, 400).map(lambda n: Fraction(n, 1000)), metal=st.sampled_from(Metal))
def test_a_guard_band_only_ever_says_less(x: Fraction, u: Fraction, metal: Metal) -> None:
    """In with a guard band is in without; out with it is out without."""
    found = limits("-1", "1", Unit.MM)
    m = Measured(x, u, Fraction(1, 1000))
    guarded = judge(m, found, metal, GUARD, Unit.MM).verdict
    bare = judge(m, found, metal, BARE, Unit.MM).verdict
    assert guarded in (bare, Verdict.TOO_CLOSE)
    if u == 0:
        assert guarded is bare


@given(x=micro, u=st.integers(0, 400).map(lambda n: Fraction(n, 1000)))
def test_mirrored_values_get_mirrored_verdicts(x: Fraction, u: Fraction) -> None:
    found = limits("-1", "1", Unit.MM)
    there = judge(Measured(x, u, u), found, Metal.OUTSIDE, GUARD, Unit.MM).verdict
    back = judge(Measured(-x, u, u), found, Metal.INSIDE, GUARD, Unit.MM).verdict
    assert there is back


@given(st.lists(micro, min_size=1, max_size=5), st.sampled_from(School))
def test_different_spots_are_as_good_as_the_worst(xs: list[Fraction], school: School) -> None:
    found = limits("-1", "1", Unit.MM)
    ms = [Measured(x, Fraction(1, 20), Fraction(1, 100)) for x in xs]
    alone = [judge(m, found, Metal.OUTSIDE, school, Unit.MM).verdict for m in ms]
    together = combine(ms, found, Metal.OUTSIDE, school, Spots.DIFFERENT, len(ms))
    assert together.judgement.verdict is min(alone, key=SEVERITY.index)
    assert together.size is not None
    assert together.size.x in xs


@given(st.lists(micro, min_size=1, max_size=5))
def test_the_same_spot_is_judged_by_its_mean(xs: list[Fraction]) -> None:
    found = limits("-1", "1", Unit.MM)
    ms = [Measured(x, Fraction(1, 20), Fraction(1, 100)) for x in xs]
    together = combine(ms, found, Metal.OUTSIDE, GUARD, Spots.SAME, len(ms))
    assert together.size is not None
    assert together.size.x == sum(xs) / len(xs)
    asks = max(xs) - min(xs) > Fraction(1, 20)
    assert bool(together.ask_again) is asks


def test_missing_readings_are_asked_for() -> None:
    found = limits("0.246", "0.250")
    none = combine([], found, Metal.OUTSIDE, GUARD, Spots.SAME, 2)
    assert none.judgement.verdict is Verdict.NOT_MEASURED
    one = combine([read("0.248")], found, Metal.OUTSIDE, GUARD, Spots.SAME, 2)
    assert one.ask_again == "one more reading wanted"
    assert one.judgement.verdict is Verdict.IN


def test_the_larger_uncertainty_of_two_instruments_counts() -> None:
    found = limits("0.246", "0.250")
    mixed = [read("0.2490", "0.0002"), read("0.2490", "0.0015")]
    together = combine(mixed, found, Metal.OUTSIDE, GUARD, Spots.SAME, 2)
    assert together.judgement.verdict is Verdict.TOO_CLOSE


def test_zero_error_comes_off_with_its_sign() -> None:
    x, steps = corrected(Length("0.2485", Unit.INCH), Length("-0.0003", Unit.INCH))
    assert x == Length("0.2488", Unit.INCH).mm
    assert steps[0].result == "0.2488 in"


def test_agreement_is_exact_at_its_border() -> None:
    """3, 4, 5: a difference of exactly 5 with U of 3 and 4 agrees; a hair more does not."""
    three, four, five = Fraction(3), Fraction(4), Fraction(5)
    assert agree(Estimate(Fraction(0), three), Estimate(five, four))
    assert not agree(Estimate(Fraction(0), three), Estimate(five + Fraction(1, 10**12), four))


@given(x1=micro, x2=micro, u1=micro, u2=micro)
def test_agreement_does_not_care_who_is_first(x1: Fraction, x2: Fraction, u1: Fraction, u2: Fraction) -> None:
    one, two = Estimate(x1, u1), Estimate(x2, u2)
    assert agree(one, two) == agree(two, one)


@pytest.mark.parametrize(
    ("text", "at", "off"),
    [
        ("0.246", 0.25, ""),
        ("0.250", 0.75, ""),
        ("0.248", 0.5, ""),
        ("0.253", 1.0, "0.003 in"),
        ("0.240", 0.0, "0.006 in"),
    ],
)
def test_places_on_the_tolerance_bar(text: str, at: float, off: str) -> None:
    m = read(text)
    placed = bar(m.x, m.u, limits("0.246", "0.250"))
    assert placed.at == pytest.approx(at)
    assert placed.off == off
    assert placed.sure == pytest.approx(0.025)


def test_the_sentence_names_the_limit_it_was_held_against() -> None:
    found = limits("0.246", "0.250")
    out = judge(read("0.2523"), found, Metal.OUTSIDE, GUARD, Unit.INCH)
    assert told(out.against) == ("0.0023", Unit.INCH, "above", "0.250")
    close = judge(read("0.2499"), found, Metal.OUTSIDE, GUARD, Unit.INCH)
    assert told(close.against) == ("0.0001", Unit.INCH, "under", "0.250", "0.0002", Unit.INCH)
    fine = judge(read("0.2485"), found, Metal.OUTSIDE, GUARD, Unit.INCH)
    assert told(fine.against) == ("0.0015", Unit.INCH, "under", "0.250", "0.0025", Unit.INCH, "above", "0.246")


def test_the_working_repeats_the_values_that_were_put_in() -> None:
    j = judge(read("0.2485"), limits("0.246", "0.250"), Metal.OUTSIDE, GUARD, Unit.INCH)
    guard = next(s for s in j.working if s.what == "Guard band")
    assert guard.put_in == "0.246 + 0.0002, 0.250 − 0.0002"
    assert guard.result == "0.2462 … 0.2498 in"
    assert j.working[-1].result == "in"
