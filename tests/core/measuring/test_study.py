"""Repeated readings taken apart: against a printed example, by made-up people and gauges, and at the bounds."""

from __future__ import annotations

import random
from fractions import Fraction
from itertools import pairwise
from statistics import mean

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.measuring.study import StudyFit, analyse, order

#: An example that is printed in many books: three people, ten parts, three readings each, one line a round.
PRINTED = {
    "A": (
        "0.29 -0.56 1.34 0.47 -0.80 0.02 0.59 -0.31 2.26 -1.36",
        "0.41 -0.68 1.17 0.50 -0.92 -0.11 0.75 -0.20 1.99 -1.25",
        "0.64 -0.58 1.27 0.64 -0.84 -0.21 0.66 -0.17 2.01 -1.31",
    ),
    "B": (
        "0.08 -0.47 1.19 0.01 -0.56 -0.20 0.47 -0.63 1.80 -1.68",
        "0.25 -1.22 0.94 1.03 -1.20 0.22 0.55 0.08 2.12 -1.62",
        "0.07 -0.68 1.34 0.20 -1.28 0.06 0.83 -0.34 2.19 -1.50",
    ),
    "C": (
        "0.04 -1.38 0.88 0.14 -1.46 -0.29 0.02 -0.46 1.77 -1.49",
        "-0.11 -1.13 1.09 0.20 -1.07 -0.67 0.01 -0.56 1.45 -1.77",
        "-0.15 -0.96 0.67 0.11 -1.45 -0.49 0.21 -0.49 1.87 -2.16",
    ),
}
READINGS = {
    p: [[Fraction(x) for x in part] for part in zip(*(r.split() for r in rs), strict=True)] for p, rs in PRINTED.items()
}


def made(
    people: int, parts: int, repeats: int, *, gauge: float, bias: float, part: float, seed: int
) -> dict[str, list[list[Fraction]]]:
    """Readings of people with biases, of parts that differ, with a gauge that scatters; all in mm."""
    r = random.Random(seed)
    sizes = [r.gauss(0, part) for _ in range(parts)]
    return {
        str(p): [
            [Fraction(x + off + r.gauss(0, gauge)).limit_denominator(10**9) for _ in range(repeats)] for x in sizes
        ]
        for p, off in ((p, r.gauss(0, bias)) for p in range(people))
    }


def test_the_printed_example_comes_out_as_it_is_printed() -> None:
    found = analyse(READINGS)
    assert found.pooled
    assert found.gauge == pytest.approx(0.199933, abs=1e-6)
    assert found.people == pytest.approx(0.226838, abs=1e-6)
    assert found.both == pytest.approx(0.302373, abs=2e-6)
    assert found.parts == pytest.approx(1.042327, abs=1e-6)
    assert found.kinds == 4
    assert sum(found.of_spread()) == pytest.approx(1)
    assert (found.biases["A"] > 0, found.biases["C"] < 0) == (True, True), "A reads high, C reads low"


def test_what_it_was_made_of_is_found_again() -> None:
    """From the other direction: many made-up studies, their mean against the spreads they were made with."""
    many = [analyse(made(6, 10, 3, gauge=0.004, bias=0.008, part=0.05, seed=s)) for s in range(60)]
    assert mean(x.gauge**2 for x in many) == pytest.approx(0.004**2, rel=0.1)
    assert mean(x.people**2 for x in many) == pytest.approx(0.008**2, rel=0.3)
    assert mean(x.parts**2 for x in many) == pytest.approx(0.05**2, rel=0.3)


def test_somebody_who_reads_one_kind_of_part_otherwise_counts_to_the_people() -> None:
    readings = made(3, 4, 2, gauge=0.001, bias=0, part=0.05, seed=1)
    before = analyse(readings)
    readings["2"][0] = [x + Fraction(1, 20) for x in readings["2"][0]]
    after = analyse(readings)
    assert not after.pooled
    assert after.people > 10 * before.people
    assert after.gauge == pytest.approx(before.gauge, rel=1)


@given(st.integers(2, 6), st.integers(3, 6), st.integers(2, 3), st.integers(0, 10_000), st.fractions(-5, 5))
def test_neither_where_zero_is_nor_who_comes_first_matters(
    people: int, parts: int, repeats: int, seed: int, shift: Fraction
) -> None:
    readings = made(people, parts, repeats, gauge=0.01, bias=0.01, part=0.02, seed=seed)
    found = analyse(readings)
    moved = {p: [[x + shift for x in row] for row in reversed(rows)] for p, rows in reversed(list(readings.items()))}
    again = analyse(moved)
    for name in ("gauge", "people", "both", "parts"):
        assert getattr(found, name) == pytest.approx(getattr(again, name), abs=1e-12)
        assert getattr(found, name) >= 0
    assert found.both**2 == pytest.approx(found.gauge**2 + found.people**2)


def test_equal_readings_have_no_spread() -> None:
    found = analyse({p: [[Fraction(n)] * 2 for n in range(3)] for p in "ab"}, Fraction(1))
    assert (found.gauge, found.people, found.both, found.kinds, found.fit) == (0, 0, 0, None, StudyFit.GOOD)
    same = analyse({p: [[Fraction(1)] * 2 for _ in range(3)] for p in "ab"})
    assert same.of_spread() == (0, 0)


@pytest.mark.parametrize(
    ("share", "fit"),
    [("0.0999", StudyFit.GOOD), ("0.1001", StudyFit.USABLE), ("0.2999", StudyFit.USABLE), ("0.3001", StudyFit.UNFIT)],
)
def test_the_thresholds_on_both_sides(share: str, fit: StudyFit) -> None:
    both = analyse(READINGS).both
    found = analyse(READINGS, Fraction(6 * both / float(share)))
    assert found.share == pytest.approx(float(share))
    assert found.fit is fit


@pytest.mark.parametrize(
    ("people", "parts", "repeats", "field"),
    [
        (1, 3, 2, "people"),
        (13, 3, 2, "people"),
        (2, 2, 2, "parts"),
        (2, 11, 2, "parts"),
        (2, 3, 1, "repeats"),
        (2, 3, 4, "repeats"),
    ],
)
def test_too_few_and_too_many_are_refused_at_their_field(people: int, parts: int, repeats: int, field: str) -> None:
    with pytest.raises(Refused) as refused:
        analyse({str(p): [[Fraction(0)] * repeats] * parts for p in range(people)})
    assert refused.value.errors[0].field == field


@pytest.mark.parametrize(("people", "parts", "repeats"), [(2, 3, 2), (12, 10, 3)])
def test_the_fewest_and_the_most_are_taken(people: int, parts: int, repeats: int) -> None:
    analyse({str(p): [[Fraction(0)] * repeats] * parts for p in range(people)})


def test_what_is_not_complete_and_a_width_of_nothing_are_refused() -> None:
    rows = [[Fraction(0)] * 2] * 3
    with pytest.raises(Refused, match="complete"):
        analyse({"a": rows, "b": [*rows[:2], [Fraction(0)]]})
    with pytest.raises(Refused, match="width"):
        analyse({"a": rows, "b": rows}, Fraction(0))


@given(st.text(max_size=8), st.text(max_size=8), st.integers(3, 10), st.integers(2, 3))
def test_the_order_has_every_part_in_every_round_and_none_twice_in_a_row(
    study: str, person: str, parts: int, repeats: int
) -> None:
    found = order(study, person, parts, repeats)
    assert found == order(study, person, parts, repeats)
    for turn in range(repeats):
        assert sorted(found[turn * parts : (turn + 1) * parts]) == list(range(1, parts + 1))
    assert all(a != b for a, b in pairwise(found))


def test_people_read_in_orders_of_their_own() -> None:
    assert len({order("study", p, 8, 2) for p in "abcdef"}) > 4
