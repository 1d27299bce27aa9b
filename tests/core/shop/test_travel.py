"""Whether a part lies within a table's travel, one way round or the other."""

from __future__ import annotations

from fractions import Fraction

import pytest

from incudo.demo.setting import machine_entries


@pytest.mark.parametrize(
    ("over", "reaches"),
    [((0, 0), True), ((1, 0), False), ((0, 1), False), ((-1, -1), True)],
)
def test_a_part_as_large_as_the_travel_fits_and_none_larger(over: tuple[int, int], reaches: bool) -> None:
    mill = machine_entries()["petrel"]
    x, y = (mill.length(t).mm for t in mill.travel[:2])
    one, two = x + Fraction(over[0], 1000), y + Fraction(over[1], 1000)
    assert mill.reaches(one, two) is reaches
    assert mill.reaches(two, one) is reaches
