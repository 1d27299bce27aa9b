"""A row of good tries: one rule wherever a row counts."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.skills.streak import streak_of


@pytest.mark.parametrize(
    ("tries", "now", "best"),
    [
        ([], 0, 0),
        ([True], 1, 1),
        ([False], 0, 0),
        ([True, True, False], 0, 2),
        ([True, True, False, True], 1, 2),
        ([True] * 10 + [False], 0, 10),
        ([False] + [True] * 3, 3, 3),
    ],
)
def test_a_row_is_counted_from_its_last_fault_and_remembered_at_its_longest(
    tries: list[bool], now: int, best: int
) -> None:
    row = streak_of(tries)
    assert (row.now, row.best) == (now, best)


def test_ten_right_and_one_wrong_are_ten() -> None:
    row = streak_of([True] * 10 + [False])
    assert row.reached(10)
    assert row.toward(10) == 10
    assert not row.reached(11)
    assert row.toward(11) == 0


@pytest.mark.parametrize(("good", "reached"), [(9, False), (10, True), (11, True)])
def test_a_row_is_reached_from_the_wanted_number_on(good: int, reached: bool) -> None:
    assert streak_of([True] * good).reached(10) is reached


@given(st.lists(st.booleans(), max_size=40), st.integers(1, 12))
def test_what_is_reached_stays_reached(tries: list[bool], wanted: int) -> None:
    """More tries never take a row away that was long enough, and never give one that was not."""
    found = [streak_of(tries[:n]).reached(wanted) for n in range(len(tries) + 1)]
    assert found == sorted(found)
    longest = max((len(run) for run in "".join("x" if t else " " for t in tries).split()), default=0)
    assert found[-1] is (longest >= wanted)
