"""From the drawing's tolerance to limits."""

from __future__ import annotations

from datetime import date
from fractions import Fraction

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.instrument import Instrument, Measure, Suitability
from incudo.core.measuring.tolerance import Form, Limits, Tolerance

BLOCK = {2: Length("0.010", Unit.INCH), 3: Length("0.005", Unit.INCH)}


def inch(text: str) -> Length:
    return Length(text, Unit.INCH)


def limits(form: Form, nominal: str, first: str | None = None, second: str | None = None) -> Limits:
    ends = (None if x is None else inch(x) for x in (first, second))
    return Tolerance(form, *ends).limits(inch(nominal), BLOCK)


def texts(found: Limits) -> tuple[str, str]:
    low = "open" if found.lower is None else found.text(found.lower)
    high = "open" if found.upper is None else found.text(found.upper)
    return low, high


@pytest.mark.parametrize(
    ("form", "nominal", "first", "second", "low", "high"),
    [
        (Form.PLUS_MINUS, "0.750", "0.003", None, "0.747", "0.753"),
        (Form.UNEQUAL, "0.250", "0.000", "-0.004", "0.246", "0.250"),
        (Form.UNEQUAL, "12.4", "0.2", "0.0", "12.4", "12.6"),
        (Form.UNEQUAL, "1.000", "0.006", "0.002", "1.002", "1.006"),
        (Form.LIMITS, "12", "12.00", "12.10", "12.00", "12.10"),
        (Form.MAXIMUM, "0.002", None, None, "open", "0.002"),
        (Form.MINIMUM, "6.5", None, None, "6.5", "open"),
        (Form.TITLE_BLOCK, "2.50", None, None, "2.490", "2.510"),
        (Form.TITLE_BLOCK, "2.500", None, None, "2.495", "2.505"),
    ],
)
def test_every_form(form: Form, nominal: str, first: str, second: str, low: str, high: str) -> None:
    assert texts(limits(form, nominal, first, second)) == (low, high)


@pytest.mark.parametrize(
    ("form", "nominal", "first", "second", "words"),
    [
        (Form.LIMITS, "1", "1.1", "1.0", "lower limit must lie below"),
        (Form.LIMITS, "1", "1.0", "1.0", "lower limit must lie below"),
        (Form.PLUS_MINUS, "1", "0", None, "lower limit must lie below"),
        (Form.PLUS_MINUS, "1", "-0.1", None, "must not be negative"),
        (Form.PLUS_MINUS, "1", None, None, "missing"),
        (Form.UNEQUAL, "1", "0.1", None, "missing"),
        (Form.UNEQUAL, "1", "-0.1", "0.1", "lower limit must lie below"),
        (Form.TITLE_BLOCK, "2.5000", None, None, "decimal places only: 2, 3"),
    ],
)
def test_contradictions_are_refused(form: Form, nominal: str, first: str, second: str, words: str) -> None:
    with pytest.raises(Refused, match=words):
        limits(form, nominal, first, second)


def test_width_and_aim() -> None:
    both = limits(Form.UNEQUAL, "0.250", "0.000", "-0.004")
    assert both.width == inch("0.004").mm
    assert both.aim == inch("0.248").mm
    alone = limits(Form.MAXIMUM, "0.002")
    assert alone.width == inch("0.002").mm, "a lone maximum counts from 0"
    assert alone.aim is None
    assert limits(Form.MINIMUM, "0.002").width is None


def tool(u: str, *, indicator: bool = False, least: str = "0", most: str = "6") -> Instrument:
    return Instrument(
        name="Caliper",
        least=inch(least),
        most=inch(most),
        measures=Measure.DIFFERENCE if indicator else Measure.SIZE,
        resolution=inch("0.0005"),
        uncertainty=inch(u),
        zero_error=inch("0"),
        due=date(2026, 6, 1),
    )


@pytest.mark.parametrize(
    ("u", "suits"),
    [
        ("0.0006", Suitability.IDEAL),
        ("0.00061", Suitability.ALLOWED),
        ("0.0015", Suitability.ALLOWED),
        ("0.00151", Suitability.COARSE),
        ("0.003", Suitability.COARSE),
        ("0.0031", Suitability.USELESS),
    ],
)
def test_suitability_by_share_of_the_width(u: str, suits: Suitability) -> None:
    width_006 = limits(Form.PLUS_MINUS, "1.000", "0.003")
    assert tool(u).suitability(width_006, Measure.SIZE) is suits


def test_what_cannot_span_or_is_of_the_other_sort_is_unfit() -> None:
    size = limits(Form.PLUS_MINUS, "1.000", "0.003")
    assert tool("0.0002", most="1.002").suitability(size, Measure.SIZE) is Suitability.UNFIT
    assert tool("0.0002", most="1.003").suitability(size, Measure.SIZE) is Suitability.IDEAL
    assert tool("0.0002", indicator=True).suitability(size, Measure.SIZE) is Suitability.UNFIT
    assert tool("0.0002").suitability(size, Measure.DIFFERENCE) is Suitability.UNFIT
    lone = limits(Form.MINIMUM, "0.5")
    assert tool("0.1").suitability(lone, Measure.SIZE) is Suitability.IDEAL


def test_least_width_is_where_allowed_begins() -> None:
    assert tool("0.0015").least_width == Fraction(4 * 15, 10_000) * Unit.INCH.in_mm


def test_overdue_and_tagged_out_decide_nothing() -> None:
    good = tool("0.0015")
    assert good.cannot_decide(date(2026, 6, 1)) == "", "the day it is due it still decides"
    assert "since 1 June 2026" in good.cannot_decide(date(2026, 6, 2))
    dropped = Instrument(**{**good.__dict__, "tagged_out": "dropped"})
    assert "dropped" in dropped.cannot_decide(date(2026, 1, 1))
