"""Squaring a block by six faces: what lies where follows from the block and from what is true already."""

from __future__ import annotations

import pytest

from incudo.core.setup.holding import SQUARING, Squaring

OPPOSITE = {1: 4, 4: 1, 2: 3, 3: 2, 5: 6, 6: 5}


def test_each_face_is_cut_once_in_the_order_of_its_number() -> None:
    assert [s.number for s in SQUARING] == [s.up for s in SQUARING] == [1, 2, 3, 4, 5, 6]


@pytest.mark.parametrize("s", SQUARING, ids=lambda s: f"face {s.up}")
def test_what_lies_where(s: Squaring) -> None:
    # what is up and what is down are opposite faces, and so are what the two jaws hold
    assert s.down == OPPOSITE[s.up]
    assert s.moving == OPPOSITE[s.fixed]
    done = set(range(1, s.number))
    if done:
        # something true lies at the fixed jaw, for that is what makes the next face square
        assert s.fixed in done
    # a rough face at the moving jaw would turn the block: a soft bar stands between, as long as it is rough
    assert s.bar == (s.moving not in done)
    # the first end is set upright by a square, standing on a rough end; all others lie on parallels
    assert s.parallels == (s.up != 5)
    if s.up in (3, 4, 6):
        assert s.down in done, "parallel to what it lies on"
