"""Lengths: exact, as written, refused with field and bound."""

from __future__ import annotations

from decimal import Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit, in_places, number, plain, settable

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
        ("394", "in", "value", "between -393.7 and 393.7 in"),
        ("9" * 5_000_000, "mm", "value", "at most 40 characters"),
        ("0" * 40 + "1", "mm", "value", "at most 40 characters"),
        ("0" * 40, "furlong", "value.unit", "one of: in, mm"),
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


@pytest.mark.parametrize(
    ("text", "unit", "shown"),
    [
        ("0.250", Unit.INCH, "6.35"),
        ("0.2500", Unit.INCH, "6.350"),
        ("1", Unit.INCH, "25"),
        ("6.35", Unit.MM, "0.2500"),
        ("6.3", Unit.MM, "0.248"),
        ("25", Unit.MM, "0.98"),
    ],
)
def test_the_other_unit_keeps_about_as_many_places(text: str, unit: Unit, shown: str) -> None:
    """One place of an inch is worth one and a half of a millimetre: one less to mm, two more to inches."""
    assert Length(text, unit).shown_in(unit.other) == shown


@pytest.mark.parametrize(
    ("mm", "division", "halves", "text"),
    [
        ("0.2413", Length("0.001", Unit.INCH), True, "0.0095"),
        ("0.254", Length("0.001", Unit.INCH), True, "0.010"),
        ("0.2413", Length("0.001", Unit.INCH), False, "0.010"),
        ("0.025", Length("0.02", Unit.MM), True, "0.02"),
        ("0.035", Length("0.02", Unit.MM), True, "0.04"),
        ("0.029", Length("0.02", Unit.MM), True, "0.030"),
        ("-0.01", Length("0.02", Unit.MM), True, "-0.010"),
        ("0", Length("0.02", Unit.MM), True, "0.00"),
    ],
)
def test_what_can_be_set_on_a_dial(mm: str, division: Length, halves: bool, text: str) -> None:
    assert settable(Fraction(mm), division, halves=halves).text == text


@given(st.integers(-(10**7), 10**7), st.sampled_from(("0.0005", "0.001", "0.02", "0.05", "0.025")), st.booleans())
def test_what_is_set_lies_within_half_a_step(units: int, division: str, halves: bool) -> None:
    value, step = Fraction(units, 10**5), Length(division, Unit.MM)
    found = settable(value, step, halves=halves)
    grain = step.exact / (2 if halves else 1)
    assert abs(found.mm - value) <= grain / 2
    assert found.mm % grain == 0


@pytest.mark.parametrize(
    ("value", "unit", "taken"),
    [
        ("10000", "mm", True),
        ("10000.000001", "mm", False),
        ("-10000", "mm", True),
        ("-10000.1", "mm", False),
        ("393.700787", "in", True),
        ("393.7008", "in", False),
    ],
)
def test_no_length_is_beyond_ten_metres(value: str, unit: str, taken: bool) -> None:
    if taken:
        assert Length.parse(value, unit)
        return
    with pytest.raises(Refused, match=f"must lie between -.* and .* {unit}"):
        Length.parse(value, unit)


@pytest.mark.parametrize(
    ("text", "taken"), [("1." + "0" * 6, True), ("1." + "0" * 7, False), ("0" * 6, True), ("0" * 7, False)]
)
def test_how_many_figures_a_number_has(text: str, taken: bool) -> None:
    if taken:
        assert number(text, "x") == text
        return
    with pytest.raises(Refused, match="x"):
        number(text, "x")
