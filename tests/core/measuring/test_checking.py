"""A gauge on blocks: what is still sure, what has moved, and what is no check at all."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.checking import GaugeBlock, GaugeChecked, check, check_due, sizes_for
from incudo.core.measuring.instrument import MEASURES, Instrument, Measure

DAY = date(2026, 9, 8)


def gauge(like: str) -> Instrument:
    k = next(k for k in shipped.gauge_kinds() if k.id == like)
    least, most, resolution, sure = (Length(x, Unit(k.unit)) for x in (k.least, k.most, k.resolution, k.uncertainty))
    zero = Length("0", Unit(k.unit))
    return Instrument(k.name, least, most, MEASURES.get(k.kind, Measure.SIZE), resolution, sure, zero, DAY)


MICROMETER = gauge("micrometer-1")
SURE = Length("0.00002", Unit.INCH)
KINDS = [k.id for k in shipped.gauge_kinds() if not gauge(k.id).answers]


def blocks(*read: tuple[str, str]) -> list[GaugeBlock]:
    """Blocks in inches, each with its readings."""
    return [GaugeBlock(Length(s, Unit.INCH), tuple(Length(r, Unit.INCH) for r in rs.split())) for s, rs in read]


def of(*read: tuple[str, str], sure: Length = SURE, tool: Instrument = MICROMETER) -> GaugeChecked:
    return check(tool, blocks(*read), sure)


def test_a_zero_that_moved_is_taken_off_everywhere() -> None:
    found = of(("0", "0.0003"), ("0.5", "0.5003 0.5004"), ("1", "1.0002 1.0003"))
    assert found.zero_error == Length("0.0003", Unit.INCH)
    inch = Fraction(254, 10)
    assert [p.left / inch for p in found.points] == [0, Fraction(5, 100_000), -Fraction(5, 100_000)]
    # half of what two readings differ by, and what is left
    assert found.seen / inch == Fraction(1, 10_000)
    assert found.holds
    assert "Zero error 0.0003 in" in found.said[1]


@pytest.mark.parametrize(
    ("last", "holds"), [("1.0002", True), ("1.00021", False), ("0.9998", True), ("0.99979", False)]
)
def test_it_holds_up_to_what_it_says_and_no_further(last: str, holds: bool) -> None:
    found = of(("0", "0"), ("0.5", "0.5"), ("1", last))
    assert found.holds is holds
    assert ("Within its uncertainty of ±0.0002 in" in found.said[0]) is holds
    if not holds:
        assert "an uncertainty of ±0.00025 in." in found.said[0]
        better = replace(MICROMETER, uncertainty=Length("0.00025", Unit.INCH))
        assert of(("0", "0"), ("0.5", "0.5"), ("1", last), tool=better).holds


@pytest.mark.parametrize(("readings", "uneasy"), [("0.4999 0.5001", False), ("0.4999 0.50011", True)])
def test_readings_that_differ_are_said(readings: str, uneasy: bool) -> None:
    found = of(("0", "0"), ("0.5", readings), ("1", "1"))
    assert any("Readings at 0.5 in differ" in x for x in found.said) is uneasy


@pytest.mark.parametrize(
    ("read", "sure", "field"),
    [
        ((("0", "0"), ("1", "1")), "0.00002", "blocks"),
        (tuple((f"0.{n:02}", "0.5") for n in range(87, 100)), "0.00002", "blocks"),
        ((("0", "0"), ("0.5", "0.5"), ("1.02", "1.02")), "0.00002", "blocks.2.size"),
        ((("0", "0"), ("0.5", ""), ("1", "1")), "0.00002", "blocks.1.readings"),
        ((("0", "0"), ("0.5", "1 1 1 1 1 1"), ("1", "1")), "0.00002", "blocks.1.readings"),
        ((("0", "0"), ("1", "1"), ("1.0", "1")), "0.00002", "blocks"),
        ((("0", "0"), ("0.25", "0.25"), ("0.504", "0.504")), "0.00002", "blocks"),
        ((("0", "0"), ("0.5", "0.5"), ("1", "1")), "0.000051", "blocks_sure"),
        ((("0", "0"), ("0.5", "0.5"), ("1", "1")), "0", "blocks_sure"),
    ],
)
def test_what_says_too_little_is_refused_at_its_field(read: tuple[tuple[str, str], ...], sure: str, field: str) -> None:
    with pytest.raises(Refused) as refused:
        of(*read, sure=Length(sure, Unit.INCH))
    assert [e.field for e in refused.value.errors] == [field]


def test_what_just_suffices_is_taken() -> None:
    assert of(("0", "0"), ("0.25", "0.25"), ("0.505", "0.505"), sure=Length("0.00005", Unit.INCH)).holds


def test_what_answers_yes_or_no_has_nothing_to_read() -> None:
    finish = gauge("finish")
    assert sizes_for(finish) == ()
    with pytest.raises(Refused, match="answers yes or no"):
        check(finish, [], SURE)


@pytest.mark.parametrize("kind", KINDS)
def test_the_blocks_that_are_proposed_are_enough_for_a_check(kind: str) -> None:
    tool = gauge(kind)
    sizes = sizes_for(tool)
    unit = tool.least.unit
    read = [GaugeBlock(Length(s, unit), (Length(s, unit),)) for s in sizes]
    assert check(tool, read, Length("0.0000001", unit)).holds
    exact = [Fraction(s) for s in sizes]
    assert exact == sorted(exact)
    # they end at different places of a turn
    turns = {Unit.INCH: Fraction(1, 40), Unit.MM: Fraction(1, 2), Unit.DEGREE: Fraction(1)}[unit]
    if tool.most.exact > 10 * turns and unit is not Unit.DEGREE:
        assert len({s % turns for s in exact}) > 1


@pytest.mark.parametrize(
    ("kind", "sizes"),
    [
        ("micrometer-25", ("0", "5.3", "10.6", "15.2", "25")),
        ("caliper-mm", ("0", "32", "63.6", "91", "150")),
    ],
)
def test_blocks_are_proposed_all_over_and_at_different_places_of_a_turn(kind: str, sizes: tuple[str, ...]) -> None:
    assert sizes_for(gauge(kind)) == sizes


@given(st.lists(st.integers(-30, 30), min_size=3, max_size=3), st.integers(-200, 200))
def test_a_zero_that_moved_changes_nothing_else(errors: list[int], moved: int) -> None:
    """Readings that are all off by the same are judged like readings that are off by nothing."""

    def read(by: int) -> GaugeChecked:
        sizes = (Fraction(0), Fraction(1, 2), Fraction(1))
        return of(
            *((str(float(s)), f"{float(s) + (e + by) / 100_000:.5f}") for s, e in zip(sizes, errors, strict=True))
        )

    still, off = read(0), read(moved * 5)
    assert [p.left for p in still.points] == [p.left for p in off.points]
    assert still.holds is off.holds
    assert off.zero_error.mm - still.zero_error.mm == Fraction(moved * 5, 100_000) * Fraction(254, 10)


def test_sizes_grow_from_one_block_to_the_next() -> None:
    for kind in KINDS:
        assert all(float(a) < float(b) for a, b in pairwise(sizes_for(gauge(kind))))


@pytest.mark.parametrize(
    ("due", "fine"),
    [(DAY, False), (date(2026, 9, 9), True), (date(2031, 9, 7), True), (date(2031, 9, 8), False)],
)
def test_the_next_check_is_ahead_and_not_too_far(due: date, fine: bool) -> None:
    if fine:
        check_due(due, DAY)
        return
    with pytest.raises(Refused, match="due"):
        check_due(due, DAY)
