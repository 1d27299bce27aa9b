"""The part as one would hold it: what is drawn lies on edges of the solid and is seen from the corner."""

from __future__ import annotations

import math

import numpy as np
import pytest

from incudo.core.parts.geometry.edges import Segment
from incudo.core.parts.geometry.isometric import EYE, flat, isometric
from incudo.core.parts.geometry.rays import metal_beyond
from incudo.core.parts.geometry.solid import Box, Revolved, Solid, Wedge
from tests.core.parts.features.making import SHIPPED, random_part, shipped_part

BLOCK = Box((0.0, 0.0, 0.0), (4.0, 3.0, 2.0))


def length(lines: tuple[Segment, ...]) -> float:
    return sum(math.dist(s.a, s.b) for s in lines)


def drawn(*axes: float) -> float:
    """How long lines along an axis are in the picture, all together: each is shortened alike."""
    return sum(axes) * math.sqrt(2 / 3)


def test_a_block_shows_nine_of_its_twelve_edges() -> None:
    assert length(isometric(Solid(BLOCK, ()))) == pytest.approx(drawn(3 * 4, 3 * 3, 3 * 2), rel=1e-3)


def test_a_through_hole_shows_its_mouth_as_an_ellipse() -> None:
    """A circle of radius r seen from the corner: half axes r and r/√3; only part of its far rim is seen through it."""
    r = 0.6
    hole = Revolved(1, 2, (2.0, 1.5), ((2.0, r), (0.0, r)))
    more = length(isometric(Solid(BLOCK, (hole,)))) - drawn(12, 9, 6)
    a, b = r, r / math.sqrt(3)
    ellipse = math.pi * (3 * (a + b) - math.sqrt((3 * a + b) * (a + 3 * b)))
    assert ellipse * 0.98 < more < ellipse * 1.6


def test_what_is_behind_is_not_drawn() -> None:
    """A step at the rear of the left end and a hole in the bottom cannot be seen from the front, right and above."""
    below = Revolved(1, 2, (2.0, 1.5), ((0.0, 0.5), (1.0, 0.5)))
    assert length(isometric(Solid(BLOCK, (below,)))) == pytest.approx(drawn(12, 9, 6), rel=1e-3)


def test_a_chamfer_adds_its_two_edges() -> None:
    """Along the front of the top: the old edge goes, two new ones come, and the right end gets its slope."""
    wedge = Wedge(1, 0, (0.0, 4.0), (0.0, 2.0), (0.5, -0.5))
    plain, cut = (length(isometric(Solid(BLOCK, c))) for c in ((), (wedge,)))
    slope = math.dist(flat((4.0, 0.5, 2.0)), flat((4.0, 0.0, 1.5)))
    left = math.dist(flat((0.0, 0.5, 2.0)), flat((0.0, 0.0, 1.5)))
    gone = drawn(0.5) * 4
    assert cut - plain == pytest.approx(drawn(4) + slope + left - gone, rel=0.02)


@pytest.mark.parametrize("seed", range(0, 300, 60))
def test_rays_agree_with_columns(seed: int) -> None:
    """Whether metal is met on the way to the viewer, against many columns along the same ray."""
    solid = random_part(seed).solid
    low, high = (np.array(x) for x in solid.extent)
    size = float((high - low).max())
    places = np.random.default_rng(seed).uniform(low - 0.1 * size, high + 0.1 * size, (60, 3))
    met = metal_beyond(solid, places, EYE, 0.02 * size)
    for place, found in zip(places, met, strict=True):
        steps = np.arange(0, 2.4 * size, 0.004 * size)
        run = longest = 0.0
        for t in steps:
            at = place + t * np.array(EYE)
            inside = any(s.low < at[2] < s.high for s in solid.column(2, (at[0], at[1], 0.0)))
            run = run + 0.004 * size if inside else 0.0
            longest = max(longest, run)
        if abs(longest - 0.02 * size) > 0.009 * size:
            assert bool(found) == (longest > 0.02 * size), (seed, place)


@pytest.mark.parametrize("code", SHIPPED)
def test_every_shipped_part_fills_its_outline(code: str) -> None:
    """The picture is as wide and as high as the body's corners say, and has no line outside."""
    part = shipped_part(code)
    (x0, y0, z0), (x1, y1, z1) = part.solid.extent
    corners = [flat((x, y, z)) for x in (x0, x1) for y in (y0, y1) for z in (z0, z1)]
    points = [p for s in isometric(part.solid) for p in s]
    for i in (0, 1):
        low, high = min(c[i] for c in corners), max(c[i] for c in corners)
        close = 0.002 * (high - low)
        assert low - close <= min(p[i] for p in points)
        assert max(p[i] for p in points) <= high + close
        if not part.frame.bar:
            assert max(p[i] for p in points) - min(p[i] for p in points) > 0.75 * (high - low)
