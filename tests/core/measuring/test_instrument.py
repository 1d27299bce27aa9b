"""Which instrument suits, which may decide, which is offered."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest

from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.instrument import Instrument, Measure, Suitability, grade, offered
from incudo.core.measuring.tolerance import Form, Tolerance

TODAY = date(2026, 11, 27)
LIMITS = Tolerance(Form.PLUS_MINUS, Length("0.05", Unit.MM)).limits(Length("20.00", Unit.MM), {})


def tool(u: str, unit: Unit = Unit.MM, *, due: date = TODAY, indicator: bool = False, most: str = "150") -> Instrument:
    return Instrument(
        name=f"tool {u}",
        least=Length("0", unit),
        most=Length(most, unit),
        measures=Measure.DIFFERENCE if indicator else Measure.SIZE,
        resolution=Length("0.01", unit),
        uncertainty=Length(u, unit),
        zero_error=Length("0", unit),
        due=due,
    )


@pytest.mark.parametrize(
    ("u", "suits"),
    [
        ("0.01", Suitability.IDEAL),
        ("0.0101", Suitability.ALLOWED),
        ("0.025", Suitability.ALLOWED),
        ("0.0251", Suitability.COARSE),
        ("0.05", Suitability.COARSE),
        ("0.0501", Suitability.USELESS),
    ],
)
def test_a_tenth_is_ideal_a_quarter_allowed_half_the_end(u: str, suits: Suitability) -> None:
    """Width 0.1 mm: both sides of every bound."""
    assert grade(Fraction(u), Fraction("0.1")) is suits
    assert tool(u).suitability(LIMITS, Measure.SIZE) is suits


def test_an_indicator_measures_differences_and_nothing_else() -> None:
    dial = tool("0.005", indicator=True)
    assert dial.suitability(LIMITS, Measure.SIZE) is Suitability.UNFIT
    assert dial.suitability(LIMITS, Measure.DIFFERENCE) is Suitability.IDEAL
    assert tool("0.005").suitability(LIMITS, Measure.DIFFERENCE) is Suitability.UNFIT


@pytest.mark.parametrize(("most", "fits"), [("20.04", False), ("20.05", True)])
def test_it_must_span_the_upper_limit(most: str, fits: bool) -> None:
    assert (tool("0.005", most=most).suitability(LIMITS, Measure.SIZE) is not Suitability.UNFIT) is fits


def test_it_decides_on_the_day_its_check_is_due_and_not_after() -> None:
    due = tool("0.01", due=TODAY)
    assert due.cannot_decide(TODAY) == ""
    assert "overdue" in due.cannot_decide(TODAY + timedelta(days=1))
    assert "tagged out: dropped" in replace(due, tagged_out="dropped").cannot_decide(TODAY)


def test_the_best_that_may_decide_is_offered() -> None:
    tools = {"caliper": tool("0.03"), "micrometer": tool("0.004"), "old": tool("0.001", due=TODAY - timedelta(days=1))}
    assert offered(tools, LIMITS, Unit.MM, TODAY, Measure.SIZE) == "micrometer"
    tools["micrometer"] = replace(tools["micrometer"], tagged_out="dropped")
    assert offered(tools, LIMITS, Unit.MM, TODAY, Measure.SIZE) == "caliper"


def test_of_two_alike_the_drawings_unit_is_offered() -> None:
    inch = replace(tool("0.0001", Unit.INCH, most="2"), uncertainty=Length("0.0001", Unit.INCH))
    tools = {"inch": inch, "metric": tool("0.004")}
    assert offered(tools, LIMITS, Unit.MM, TODAY, Measure.SIZE) == "metric"
    assert offered(tools, LIMITS, Unit.INCH, TODAY, Measure.SIZE) == "inch"


def test_where_none_may_decide_one_is_offered_all_the_same_and_none_without_any() -> None:
    late = tool("0.01", due=TODAY - timedelta(days=9))
    assert offered({"late": late}, LIMITS, Unit.MM, TODAY, Measure.SIZE) == "late"
    assert offered({}, LIMITS, Unit.MM, TODAY, Measure.SIZE) is None


@pytest.mark.parametrize(
    ("value", "shows"),
    [("0.000", True), ("1.000", True), ("1.010", True), ("1.0101", False), ("-0.0001", False)],
)
def test_an_instrument_shows_its_span_and_no_more(value: str, shows: bool) -> None:
    micrometer = Instrument(
        name="micrometer",
        least=Length("0", Unit.INCH),
        most=Length("1.01", Unit.INCH),
        measures=Measure.SIZE,
        resolution=Length("0.0001", Unit.INCH),
        uncertainty=Length("0.0001", Unit.INCH),
        zero_error=Length("0", Unit.INCH),
        due=date(2027, 1, 1),
    )
    assert micrometer.can_show(Length(value, Unit.INCH)) is shows


@pytest.mark.parametrize(
    ("measures", "asked", "may"),
    [
        (Measure.SIZE, Measure.SIZE, True),
        (Measure.SIZE, Measure.DIFFERENCE, True),
        (Measure.DIFFERENCE, Measure.SIZE, True),
        (Measure.ANGLE, Measure.ANGLE, True),
        (Measure.ANGLE, Measure.SIZE, False),
        (Measure.SIZE, Measure.ANGLE, False),
        (Measure.THREAD, Measure.SIZE, False),
        (Measure.DIFFERENCE, Measure.FINISH, False),
    ],
)
def test_sizes_and_differences_stand_in_for_each_other_and_nothing_else(
    measures: Measure, asked: Measure, may: bool
) -> None:
    assert replace(tool("0.01"), measures=measures).may_read(asked) is may
