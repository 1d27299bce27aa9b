"""Saw lists: everything is cut, nothing is longer than its bar, and no cheaper way is found by trying all."""

from __future__ import annotations

import itertools
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.parts.sawing import MOST_PIECES, saw


def cheapest(pieces: list[int], bars: list[int], kerf: int) -> int | None:
    """The least bar that can be opened, by trying every way to give each piece a bar."""
    best = None
    for way in itertools.product(range(len(bars)), repeat=len(pieces)):
        used = [0] * len(bars)
        for piece, bar in zip(pieces, way, strict=True):
            used[bar] += piece + kerf
        if all(u <= b + kerf for u, b in zip(used, bars, strict=True)):
            opened = sum(b for u, b in zip(used, bars, strict=True) if u)
            best = opened if best is None else min(best, opened)
    return best


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.integers(20, 60), min_size=1, max_size=5),
    st.lists(st.integers(30, 150), min_size=1, max_size=3),
    st.integers(0, 4),
)
def test_no_way_opens_less_bar(pieces: list[int], bars: list[int], kerf: int) -> None:
    want = cheapest(pieces, bars, kerf)
    if want is None:
        with pytest.raises(Refused):
            saw([Fraction(p) for p in pieces], [Fraction(b) for b in bars], Fraction(kerf), Unit.MM)
        return
    found = saw([Fraction(p) for p in pieces], [Fraction(b) for b in bars], Fraction(kerf), Unit.MM)
    assert sum(bars[x.bar] for x in found) == want
    assert sorted(p for x in found for p in x.pieces) == sorted(pieces)
    for x in found:
        used = sum(x.pieces) + kerf * len(x.pieces)
        assert used <= bars[x.bar] + kerf
        assert x.left == max(bars[x.bar] - used, 0)
        assert list(x.pieces) == sorted(x.pieces, reverse=True)


def test_the_last_piece_may_end_at_the_bar_s_end() -> None:
    """Three of 90 with two cuts of 2 between them are 274; 273 do not do."""
    assert len(saw([Fraction(90)] * 3, [Fraction(274)], Fraction(2), Unit.MM)) == 1
    with pytest.raises(Refused, match="276 mm"):
        saw([Fraction(90)] * 3, [Fraction(273)], Fraction(2), Unit.MM)


@pytest.mark.parametrize(
    ("pieces", "bars", "kerf", "field"),
    [
        ([], [100], 2, "pieces"),
        ([10] * (MOST_PIECES + 1), [1000], 2, "pieces"),
        ([10], [], 2, "bars"),
        ([10], [100] * 31, 2, "bars"),
        ([10], [100, 0], 2, "bars.1"),
        ([10], [100], -1, "kerf"),
        ([101], [100, 90], 2, "bars"),
    ],
)
def test_what_cannot_be_sawn(pieces: list[int], bars: list[int], kerf: int, field: str) -> None:
    with pytest.raises(Refused) as refused:
        saw([Fraction(p) for p in pieces], [Fraction(b) for b in bars], Fraction(kerf), Unit.MM)
    assert refused.value.errors[0].field == field
