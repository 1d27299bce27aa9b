"""The pace of a shop: a median of its own runs, from three on."""

from __future__ import annotations

from fractions import Fraction

import pytest

from incudo.core.planning.pace import FROM, HOLDING, Pace, Taken, here, paces, runs


@pytest.mark.parametrize(("count", "known"), [(FROM - 1, False), (FROM, True)])
def test_one_or_two_runs_may_be_anything(count: int, known: bool) -> None:
    found = paces([Taken("drill", 60, 90)] * count)
    assert found == ({"drill": Pace(Fraction(3, 2), count)} if known else {})


def test_the_middle_of_the_runs_counts_for_each_kind_of_work() -> None:
    times = [Taken("face", 100, t) for t in (110, 900, 130)] + [Taken(HOLDING, 600, t) for t in (600, 660, 540, 720)]
    assert paces(times) == {"face": Pace(Fraction(13, 10), 3), HOLDING: Pace(Fraction(21, 20), 4)}
    assert paces([Taken("face", 0, 50)] * 5) == {}, "of what nothing was reckoned nothing is learned"


def test_what_is_not_known_stays_as_reckoned() -> None:
    known = {"face": Pace(Fraction(2), 3)}
    assert [here(known, work, Fraction(50)) for work in ("face", "drill")] == [100, 50]
    assert runs(known, ["face", "face", "drill"]) == 3
