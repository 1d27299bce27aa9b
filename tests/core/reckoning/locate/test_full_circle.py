"""A mill sunk into a bar: the flat against the bar cut by a polygon library, both sides of the least depth."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import result, slip, worked


@given(st.integers(10, 80), st.integers(2, 60), st.integers(0, 30))
def test_at_the_least_depth_the_flat_just_holds_the_circle(bar: int, mill: int, tenths: int) -> None:
    off = tenths / 10
    given = {"bar": f"{bar} mm", "mill": f"{mill} mm", "offset": f"{off} mm"}
    if mill + 2 * off >= bar:
        with pytest.raises(Refused, match="mill: must be less than the bar"):
            worked("full-circle", **given)
        return
    deep = result(worked("full-circle", **given), "deep")
    round_bar = Point(0, 0).buffer(bar / 2, quad_segs=4096)
    chord = LineString([(-bar, bar / 2 - deep), (bar, bar / 2 - deep)]).intersection(round_bar)
    assert chord.length == pytest.approx(mill + 2 * off, rel=1e-3)
    assert 0 < deep < bar / 2


@given(st.integers(10, 80), st.integers(1, 40))
def test_the_flat_at_a_depth(bar: int, tenths: int) -> None:
    depth = tenths / 10
    found = worked("full-circle", bar=f"{bar} mm", mill="2 mm", offset="0 mm", depth=f"{depth} mm")
    assert result(found, "chord") == pytest.approx(2 * math.sqrt((bar / 2) ** 2 - (bar / 2 - depth) ** 2))


@pytest.mark.parametrize(("depth", "full"), [("1.01", True), ("0.99", False)])
def test_both_sides_of_a_full_circle(depth: str, full: bool) -> None:
    """A bar of 26 and a flat of 10 (8 and 1 to each side): 13 − 12 = 1 mm."""
    found = worked("full-circle", bar="26 mm", mill="8 mm", offset="1 mm", depth=f"{depth} mm")
    assert result(found, "deep") == pytest.approx(1)
    assert found.said[0].startswith("It is a full circle" if full else "It runs out")


@pytest.mark.parametrize(("depth", "taken"), [("13", True), ("13.001", False)])
def test_never_beyond_the_middle(depth: str, taken: bool) -> None:
    given = {"bar": "26 mm", "mill": "8 mm", "offset": "1 mm", "depth": f"{depth} mm"}
    if taken:
        worked("full-circle", **given)
        return
    with pytest.raises(Refused, match="depth: must not be beyond the middle of the bar, 13 mm"):
        worked("full-circle", **given)


@pytest.mark.parametrize(
    ("deep", "words"),
    [
        (13 - math.sqrt(169 - 16), "the offset was forgotten"),
        (13 - math.sqrt(169 - 20.25), "the offset was counted once"),
        (26 - math.sqrt(676 - 25), "the bar's diameter was taken for its radius"),
        (13 - math.sqrt(169 - 100), "the whole flat was taken, not its half"),
        (1.0, ""),
    ],
)
def test_slips_of_a_full_circle(deep: float, words: str) -> None:
    assert slip("full-circle", deep, bar="26 mm", mill="8 mm", offset="1 mm") == words
