"""Movements, positions and gauges: held against roots of eighty places, at both sides of every limit."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal, localcontext
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.gauged import compared, gauged
from incudo.core.measuring.several import held_square, movement, position, root
from incudo.core.measuring.tolerance import Form, Limits, Tolerance
from incudo.core.measuring.verdict import Measured, School, Verdict

GUARD, BARE = School.GUARD_BAND, School.BARE_LIMITS
ZONE = Tolerance(Form.MAXIMUM).limits(Length("0.25", Unit.MM), {})
BORE = Tolerance(Form.LIMITS, Length("8.00", Unit.MM), Length("8.10", Unit.MM)).limits(Length("8.05", Unit.MM), {})
values = st.fractions(min_value=0, max_value=3, max_denominator=10**5)


def read(*texts: str, u: str = "0.01") -> list[Measured]:
    return [Measured(Fraction(t), Fraction(u), Fraction(1, 100)) for t in texts]


def by_roots(error: Fraction, unsure: Fraction, allowed: Fraction) -> Verdict:
    """The same question with the roots drawn."""
    with localcontext() as c:
        c.prec = 80
        e, u = ((Decimal(x.numerator) / Decimal(x.denominator)).sqrt() for x in (error, unsure))
        a = Decimal(allowed.numerator) / Decimal(allowed.denominator)
        if e + u <= a:
            return Verdict.IN
        return Verdict.OUT if e - u > a else Verdict.TOO_CLOSE


@given(values, values, values)
def test_squares_decide_as_roots_would(error: Fraction, unsure: Fraction, allowed: Fraction) -> None:
    assert held_square(error, unsure, allowed, GUARD) is by_roots(error, unsure, allowed)
    assert (held_square(error, unsure, allowed, BARE) is Verdict.IN) == (error <= allowed**2)


@given(values, values)
def test_on_the_limit_and_a_hair_beside_it(size: Fraction, sure: Fraction) -> None:
    """Exact where the roots are whole: allowed = error + U is in, a hair less is not."""
    hair = Fraction(1, 10**12)
    assert held_square(size**2, sure**2, size + sure, GUARD) is Verdict.IN
    assert held_square(size**2, sure**2, size + sure - hair, GUARD) is not Verdict.IN
    if size - sure - hair >= 0:
        assert held_square(size**2, sure**2, size - sure, GUARD) is not Verdict.OUT
        assert held_square(size**2, sure**2, size - sure - hair, GUARD) is Verdict.OUT


@given(values)
def test_a_shown_root_is_never_short(square: Fraction) -> None:
    assert 0 <= root(square) ** 2 - square <= Fraction(4, 10**8)


def test_an_indicator_over_several_places() -> None:
    """0.04 of movement, each end sure to 0.005: the root of two times that is 0.00707."""
    limits = replace(ZONE, upper=Fraction("0.05"))
    places = read("0.10", "0.12", "0.14", "0.11", u="0.005")
    assert movement(places, limits, GUARD, 4).judgement.verdict is Verdict.IN
    assert movement(places, replace(limits, upper=Fraction("0.0471")), GUARD, 4).judgement.verdict is Verdict.IN
    assert movement(places, replace(limits, upper=Fraction("0.0470")), GUARD, 4).judgement.verdict is Verdict.TOO_CLOSE
    assert movement(places, replace(limits, upper=Fraction("0.0329")), GUARD, 4).judgement.verdict is Verdict.OUT
    assert movement(places, replace(limits, upper=Fraction("0.04")), BARE, 4).judgement.verdict is Verdict.IN
    assert movement(places, replace(limits, upper=Fraction("0.0399")), BARE, 4).judgement.verdict is Verdict.OUT


def test_it_is_not_in_before_every_place_is_read_but_may_be_out() -> None:
    limits = replace(ZONE, upper=Fraction("0.05"))
    begun = movement(read("0.10", "0.11", "0.12"), limits, GUARD, 4)
    assert (begun.judgement.verdict, begun.size and begun.size.x) == (Verdict.NOT_MEASURED, Fraction("0.02"))
    assert begun.ask_again
    assert movement(read("0.10", "0.20"), limits, GUARD, 4).judgement.verdict is Verdict.OUT
    assert movement([], limits, GUARD, 4).judgement.verdict is Verdict.NOT_MEASURED


def held_at(x: str, y: str, limits: Limits = ZONE, size: str | None = None, u: str = "0") -> Verdict:
    axes = {"x": (Fraction(20), read(x, u=u)), "y": (Fraction(10), read(y, u=u))}
    bonus = None if size is None else (BORE, read(size, u=u))
    return position(axes, limits, GUARD, bonus).judgement.verdict


def test_a_position_is_a_diameter() -> None:
    """3-4-5: off by 0.075 and 0.100 is 0.125 from the middle, 0.25 across; both errors alone would be in."""
    assert held_at("20.075", "10.100") is Verdict.IN
    assert held_at("19.925", "9.900") is Verdict.IN
    assert held_at("20.0751", "10.100") is Verdict.OUT
    assert held_at("20.125", "10.000") is Verdict.IN
    assert held_at("20.1251", "10.000") is Verdict.OUT


def test_a_position_is_as_unsure_as_both_its_readings() -> None:
    """U 0.01 each way: 2 · √(0.01² + 0.01²) is 0.0283."""
    assert held_at("20.110", "10.000", u="0.01") is Verdict.IN
    assert held_at("20.111", "10.000", u="0.01") is Verdict.TOO_CLOSE
    assert held_at("20.139", "10.000", u="0.01") is Verdict.TOO_CLOSE
    assert held_at("20.140", "10.000", u="0.01") is Verdict.OUT


def test_the_bonus_is_how_much_larger_than_the_smallest_the_hole_is() -> None:
    assert held_at("20.150", "10.000", size="8.05") is Verdict.IN
    assert held_at("20.1501", "10.000", size="8.05") is Verdict.OUT
    assert held_at("20.125", "10.000", size="8.00") is Verdict.IN
    # a hole that is too large, or too small, is out wherever it lies
    assert held_at("20.000", "10.000", size="8.11") is Verdict.OUT
    assert held_at("20.000", "10.000", size="7.99") is Verdict.OUT
    # a size that is too close to call leaves the position so
    assert held_at("20.000", "10.000", size="8.095", u="0.01") is Verdict.TOO_CLOSE


def test_it_is_not_measured_before_all_of_it_is() -> None:
    axes = {"x": (Fraction(20), read("20.0")), "y": (Fraction(10), [])}
    found = position(axes, ZONE, GUARD)
    assert (found.judgement.verdict, found.size) == (Verdict.NOT_MEASURED, None)
    assert "y" in found.ask_again
    axes["y"] = (Fraction(10), read("10.0"))
    assert position(axes, ZONE, GUARD, (BORE, [])).judgement.verdict is Verdict.NOT_MEASURED
    working = position(axes, ZONE, GUARD).judgement.working
    assert "√(4 · (0.01² + 0.01²))" in {s.put_in for s in working}, "with its numbers, and without a size nobody read"
    assert position(axes, ZONE, GUARD, (BORE, read("8.03"))).limits == replace(ZONE, upper=Fraction("0.28"))


@pytest.mark.parametrize(
    ("go", "no_go", "verdict"),
    [
        ([True], [False], Verdict.IN),
        ([False], [False], Verdict.METAL_LEFT),
        ([True], [True], Verdict.METAL_GONE),
        ([False], [True], Verdict.METAL_GONE),
        ([True, False], [False], Verdict.METAL_LEFT),
        ([True], [False, True], Verdict.METAL_GONE),
        ([True], [], Verdict.NOT_MEASURED),
        ([], [False], Verdict.NOT_MEASURED),
        ([], [], Verdict.NOT_MEASURED),
        ([], [True], Verdict.METAL_GONE),
    ],
)
def test_both_ends_of_a_thread_gauge(go: list[bool], no_go: list[bool], verdict: Verdict) -> None:
    assert gauged(go, no_go).judgement.verdict is verdict


def test_a_surface_beside_specimens() -> None:
    assert compared([]).judgement.verdict is Verdict.NOT_MEASURED
    assert compared([True, True]).judgement.verdict is Verdict.IN
    assert compared([True, False]).judgement.verdict is Verdict.OUT
