"""Cutter at a side, in a pocket, at a slot's end: what the cutter leaves is what was wanted, by a polygon library."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import LineString, Point, box

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import INCH, result, slip, worked

SIDES = {"left": -1, "right": 1, "front": -1, "rear": 1}


@given(st.integers(-500, 500), st.integers(1, 3000), st.sampled_from(sorted(SIDES)), st.integers(0, 100))
def test_the_cutter_leaves_the_edge_and_what_is_left_on(edge: int, tenths: int, side: str, leave: int) -> None:
    d, on = tenths / 10, leave / 100
    found = worked("cutter-at-edge", edge=str(edge), diameter=f"{d}", cutter=side, leave=f"{on}")
    axis, sign = result(found, "axis"), SIDES[side]
    # the side of the cutter that faces the work stands at the edge, moved out by what is left on
    assert axis - sign * d / 2 == pytest.approx(edge + sign * on)


@pytest.mark.parametrize(
    ("given", "axis"),
    [
        ({"edge": "2 in", "diameter": "0.5 in", "cutter": "right", "leave": "0.01 in"}, 2.26 * INCH),
        ({"edge": "2 in", "diameter": "0.5 in", "cutter": "left", "leave": "0.01 in"}, 1.74 * INCH),
        ({"edge": "0", "diameter": "1", "cutter": "front"}, -0.5),
        ({"edge": "-10", "diameter": "63", "cutter": "rear"}, 21.5),
    ],
)
def test_a_side_by_hand(given: dict[str, str], axis: float) -> None:
    assert result(worked("cutter-at-edge", **given), "axis") == pytest.approx(axis)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (50.25, "the cutter's radius was forgotten"),
        (62.25, "the whole diameter was taken"),
        (43.75, "the radius was taken to the wrong side"),
        (56.0, "what is left on was forgotten"),
        (56.25, ""),
        (51.0, ""),
    ],
)
def test_slips_at_a_side(answer: float, words: str) -> None:
    assert slip("cutter-at-edge", answer, edge="50", diameter="12", cutter="right", leave="0.25") == words


@given(st.integers(10, 200), st.integers(10, 200), st.integers(1, 200), st.integers(0, 200))
def test_a_pocket_is_cut_to_its_walls(x: int, y: int, d: int, leave: int) -> None:
    on = leave / 100
    given = {"x": str(x), "y": str(y), "diameter": str(d), "leave": f"{on}"}
    if d + 2 * on > min(x, y):
        with pytest.raises(Refused, match="diameter"):
            worked("pocket", **given)
        return
    found = worked("pocket", **given)
    a, b = result(found, "x"), result(found, "y")
    path = LineString([(-a, -b), (a, -b), (a, b), (-a, b), (-a, -b)])
    cut = path.buffer(d / 2, quad_segs=64)
    assert cut.bounds == pytest.approx((-x / 2 + on, -y / 2 + on, x / 2 - on, y / 2 - on))
    assert box(-x / 2, -y / 2, x / 2, y / 2).buffer(1e-6).contains(cut)


def test_a_cutter_that_leaves_a_larger_corner_than_is_wanted_is_refused() -> None:
    """A corner radius of 5 takes a cutter of 10; 10.1 would leave its own."""
    assert result(worked("pocket", x="60", y="40", diameter="10", corner="5"), "x") == 25
    with pytest.raises(Refused, match="leaves its own radius in the corners: at most 10 mm"):
        worked("pocket", x="60", y="40", diameter="10.1", corner="5")
    assert worked("pocket", x="60", y="40", diameter="30", corner="0").results


def test_a_pocket_just_wide_enough_is_one_straight_cut() -> None:
    found = worked("pocket", x="60", y="10.5", diameter="10", leave="0.25")
    assert result(found, "y") == 0
    with pytest.raises(Refused, match=r"must fit the pocket with what is left on, 9\.98 mm"):
        worked("pocket", x="60", y="10.48", diameter="10", leave="0.25")


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (29.5, "the cutter's radius was forgotten"),
        (19.5, "the whole diameter was taken off"),
        (54.5, "the half of the size was forgotten"),
        (25.0, "what is left on was forgotten"),
        (24.5, ""),
    ],
)
def test_slips_in_a_pocket(answer: float, words: str) -> None:
    assert slip("pocket", answer, x="60", y="40", diameter="10", leave="0.5") == words


@given(st.integers(-20, 20), st.integers(1, 200), st.integers(1, 40), st.booleans())
def test_a_slot_ends_where_the_drawing_means(start: int, length: int, d: int, centre: bool) -> None:
    given = {"start": str(start), "length": str(length), "diameter": str(d)}
    given["ends"] = "centre of the end" if centre else "tangent of the end"
    end = length if centre else length - d / 2
    if end <= start:
        with pytest.raises(Refused, match=r"length.*must end beyond the axis"):
            worked("slot-end", **given)
        return
    found = worked("slot-end", **given)
    cut = LineString([(start, 0), (result(found, "end"), 0)]).buffer(d / 2, quad_segs=64)
    assert cut.bounds[2] == pytest.approx(length + d / 2 if centre else length)
    assert result(found, "way") == pytest.approx(end - start)
    # the centre of the round end lies half a cutter before its tangent
    assert cut.contains(Point(end, 0))


@pytest.mark.parametrize(
    ("ends", "answer", "words"),
    [
        ("tangent of the end", 100.0, "the tangent was taken for the centre"),
        ("centre of the end", 95.0, "the centre was taken for the tangent"),
        ("tangent of the end", 90.0, "the whole diameter was taken off"),
        ("tangent of the end", 105.0, "the radius was added"),
        ("tangent of the end", 95.0, ""),
    ],
)
def test_slips_at_a_slots_end(ends: str, answer: float, words: str) -> None:
    assert slip("slot-end", answer, length="100", diameter="10", ends=ends) == words


@given(st.integers(-20, 20), st.integers(1, 200), st.integers(1, 40), st.booleans())
def test_a_slot_is_as_long_over_all_as_the_drawing_says(start: int, length: int, d: int, tangent: bool) -> None:
    given = {"start": str(start), "length": str(length), "diameter": str(d), "ends": "overall length"}
    given["first"] = "tangent of the first end" if tangent else "centre of the first end"
    if length <= d:
        with pytest.raises(Refused, match="must end beyond the axis"):
            worked("slot-end", **given)
        return
    found = worked("slot-end", **given)
    cut = LineString([(result(found, "begin"), 0), (result(found, "end"), 0)]).buffer(d / 2, quad_segs=64)
    assert cut.bounds[2] - cut.bounds[0] == pytest.approx(length)
    assert cut.bounds[0] == pytest.approx(start if tangent else start - d / 2)
    assert result(found, "overall") == pytest.approx(length)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (85.0, "the first end's tangent was taken for its centre"),
        (83.0, "the overall length was taken for the place of the end"),
        (90.0, ""),
    ],
)
def test_slips_at_a_slots_first_end(answer: float, words: str) -> None:
    """From 7 on, 88 over all, with a cutter of 10: the axis runs from 12 to 90."""
    given = {"start": "7", "length": "88", "diameter": "10", "first": "tangent of the first end"}
    assert slip("slot-end", answer, **given, ends="overall length") == words


@pytest.mark.parametrize(("aim", "left"), [("19.95", 0.55), ("20.05", 0.45), ("20", 0.5), ("", 0.5)])
def test_another_aim_than_the_middle(aim: str, left: float) -> None:
    given = {"measured": "20.5", "lower": "19.95", "upper": "20.05", "limit": "1", "finish": "0.2"}
    found = worked("replan", **given, **({"aim": aim} if aim else {}))
    assert found.answer.value == pytest.approx(left)
    assert found.steps[0].formula == ("as chosen" if aim else "middle of the limits")


@pytest.mark.parametrize("aim", ["19.949", "20.051"])
def test_an_aim_outside_of_the_limits_is_refused(aim: str) -> None:
    with pytest.raises(Refused, match=r"aim: must lie within the limits, 19\.95 to 20\.05 mm"):
        worked("replan", measured="20.5", lower="19.95", upper="20.05", limit="1", finish="0.2", aim=aim)
