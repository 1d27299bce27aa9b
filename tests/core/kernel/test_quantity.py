"""Lengths: exact, as written, refused with field and bound."""

from __future__ import annotations

from decimal import Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit, in_places, plain

texts = st.decimals(min_value=Decimal("0.000001"), max_value=Decimal(300), places=6).map(lambda d: f"{d:f}")


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("2.0000", "in", Fraction(508, 10)),
        (".5", "in", Fraction(127, 10)),
        ("1.", "mm", Fraction(1)),
        ("−0.004", "in", Fraction(-1016, 10000)),
        ("+0.010", "in", Fraction(254, 1000)),
        (" 0.000001 ", "in", Fraction(254, 10_000_000)),
    ],
)
def test_reads_what_people_write(text: str, unit: str, mm: Fraction) -> None:
    assert Length.parse(text, unit).mm == mm


@pytest.mark.parametrize(
    ("text", "unit", "field", "bound"),
    [
        ("", "in", "value", "plain number"),
        ("abc", "in", "value", "plain number"),
        ("1e999", "mm", "value", "plain number"),
        ("1e3", "mm", "value", "plain number"),
        ("NaN", "in", "value", "plain number"),
        ("inf", "in", "value", "plain number"),
        ("0x10", "in", "value", "plain number"),
        ("1/4", "in", "value", "plain number"),
        ("1 2", "in", "value", "plain number"),
        ("٣", "mm", "value", "plain number"),
        ("2,500", "in", "value", "decimal point, not a comma"),
        ("0.1234567", "in", "value", "at most 6 decimal places"),
        ("10000.1", "mm", "value", "between -10000 and 10000 mm"),
        ("394", "in", "value", "between -10000 and 10000 mm"),
        ("9" * 5_000_000, "mm", "value", "at most 40 characters"),
        ("1", "furlong", "value.unit", "one of: in, mm"),
        ("1", "", "value.unit", "one of: in, mm"),
        ("1", "IN", "value.unit", "one of: in, mm"),
    ],
)
def test_refuses_with_field_and_bound(text: str, unit: str, field: str, bound: str) -> None:
    with pytest.raises(Refused) as refused:
        Length.parse(text, unit)
    (error,) = refused.value.errors
    assert error.field == field
    assert bound in error.bound
    assert len(str(error)) < 250, "a long input is not thrown back at the person"


@given(texts)
def test_inch_and_back_is_exact(text: str) -> None:
    assert Length(text, Unit.INCH).mm / Unit.INCH.in_mm == Fraction(Decimal(text))


@given(texts, st.sampled_from(Unit))
def test_own_unit_is_shown_as_written(text: str, unit: Unit) -> None:
    assert Length(text, unit).shown_in(unit) == text


@given(texts, st.sampled_from(Unit))
def test_other_unit_is_near(text: str, unit: Unit) -> None:
    length = Length(text, unit)
    shown = Length(length.shown_in(unit.other), unit.other)
    step = Fraction(1, 10 ** len(shown.text.partition(".")[2])) * unit.other.in_mm
    assert abs(shown.mm - length.mm) <= step / 2


@pytest.mark.parametrize(
    ("value", "unit", "shown"),
    [
        (Fraction(254, 10), Unit.INCH, "1"),
        (Fraction(1), Unit.INCH, "0.03937008…"),
        (Fraction(1, 3), Unit.MM, "0.33333333…"),
        (Fraction(5, 2), Unit.MM, "2.5"),
    ],
)
def test_a_rounded_number_never_passes_for_an_exact_one(value: Fraction, unit: Unit, shown: str) -> None:
    assert plain(value, unit) == shown


def test_trailing_places_are_kept_where_asked() -> None:
    assert plain(Fraction(5, 2), Unit.MM, 3) == "2.500"
    assert in_places(Fraction(5, 1000), 2) == "0.00", "halves go to even"
    assert in_places(Fraction(15, 1000), 2) == "0.02"
