"""Passes as one says them."""

from __future__ import annotations

from fractions import Fraction

import pytest

from incudo.app.planning.looking import _passes
from incudo.core.planning.course import Course
from incudo.core.planning.settle import Settled
from tests.core.planning import shops
from tests.core.planning.spoiling import own

HALF, TENTH = Fraction(1, 2), Fraction(1, 10)
PAD = "slip-pad"


@pytest.mark.parametrize(
    ("depths", "finish", "said"),
    [
        ((HALF,), Fraction(0), "0.50 mm"),
        ((TENTH,), TENTH, "0.10 mm"),
        ((HALF, TENTH), TENTH, "0.50 + finish 0.10 mm"),
        ((HALF, HALF, TENTH), TENTH, "2 × 0.50 + finish 0.10 mm"),
        ((HALF, TENTH), Fraction(0), "0.50 · 0.10 mm"),
        ((TENTH, HALF), TENTH, "0.10 · 0.50 mm"),
    ],
)
def test_like_ones_together_and_the_finishing_one_by_name(
    depths: tuple[Fraction, ...], finish: Fraction, said: str
) -> None:
    course = Course(shops.piece(PAD), own("gannet", PAD), shops.on("gannet", PAD))
    assert _passes(course, Settled(depths=depths, finish=finish)) == said
