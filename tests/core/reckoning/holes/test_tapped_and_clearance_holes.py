"""Tap drills, blind depths, clearance holes, drill points and countersinks: by the geometry of the section."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import INCH, names, result, slip, worked

#: Height of the sharp sixty-degree triangle over its pitch; a full thread is five eighths of it on each side.
SHARP = math.sqrt(3) / 2


@pytest.mark.parametrize(
    ("diameter", "pitch", "percent", "hole"),
    [("6", "1", "75", 5.026), ("10", "1.5", "75", 8.539), ("3", "0.5", "75", 2.513), ("12", "1.75", "60", 10.636)],
)
def test_a_thread_of_so_many_percent_leaves_that_height(diameter: str, pitch: str, percent: str, hole: float) -> None:
    """100 % of a thread is 2 · 5/8 · √3/2 · P = 1.0825 P on the diameter; trade practice calls 1.299 P all of it."""
    found = result(worked("tap-drill", diameter=diameter, pitch=pitch, percent=percent), "hole")
    assert found == pytest.approx(hole, abs=1e-3)
    height = float(diameter) - found
    assert height / (1.5 * SHARP * float(pitch)) == pytest.approx(float(percent) / 100, rel=1e-3)


@pytest.mark.parametrize(
    ("tap", "inches"),
    [("cutting", 0.25 - 0.01299 * 75 / 20), ("forming", 0.25 - 0.0068 * 75 / 20)],
)
def test_in_inches_by_the_threads_per_inch(tap: str, inches: float) -> None:
    found = worked("tap-drill", diameter="0.25 in", pitch="0.05 in", tap=tap)
    assert result(found, "hole") / INCH == pytest.approx(inches, abs=5e-5)


@pytest.mark.parametrize(
    ("drills", "taken", "percent"),
    [
        # 50 % is 5.350, 83 % is 4.922
        ("4.9 5.4", None, 0),
        ("4.93 5.4", 4.93, 82.4),
        ("4.9 5.34", 5.34, 50.8),
        ("4.95 5.1", 5.1, 69.3),
        ("5.0 5.05", 5.05, 73.1),
    ],
)
def test_no_drill_is_taken_that_strips_or_breaks(drills: str, taken: float | None, percent: float) -> None:
    given = {"diameter": "6", "pitch": "1", "percent": "75", "drills": drills}
    if taken is None:
        with pytest.raises(Refused, match=r"drills.*none of these drills leaves 50 to 83 % of thread"):
            worked("tap-drill", **given)
        return
    found = worked("tap-drill", **given)
    assert result(found, "drill") == taken
    assert result(found, "percent") == pytest.approx(percent, abs=0.05)


def test_of_two_drills_as_near_the_larger_is_taken() -> None:
    """At a pitch of 0.7698 and 60 % the hole is 5.4: 5.35 and 5.45 lie as far from it."""
    found = worked("tap-drill", diameter="6", pitch="0.7698", percent="60", drills="5.35 5.45")
    assert result(found, "hole") == pytest.approx(5.4)
    assert result(found, "drill") == 5.45


def test_the_threads_own_series_comes_before_a_nearer_drill_of_another() -> None:
    found = worked("tap-drill", diameter="6", pitch="1", percent="75", drills="5.2", others="5.03")
    assert result(found, "drill") == pytest.approx(5.2)
    other = worked("tap-drill", diameter="6", pitch="1", percent="75", drills="5.9", others="5.03")
    assert result(other, "drill") == pytest.approx(5.03)
    assert "None of the thread's own series is usable" in other.said[-1]


def test_a_pitch_that_leaves_no_hole_is_refused() -> None:
    with pytest.raises(Refused, match=r"pitch.*must leave a hole"):
        worked("tap-drill", diameter="1", pitch="1.1", percent="75")


@pytest.mark.parametrize(("percent", "taken"), [("40", True), ("39.9", False), ("83", True), ("83.1", False)])
def test_the_percent_that_can_be_asked_for(percent: str, taken: bool) -> None:
    if taken:
        worked("tap-drill", diameter="6", pitch="1", percent=percent)
        return
    with pytest.raises(Refused, match="percent"):
        worked("tap-drill", diameter="6", pitch="1", percent=percent)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (5.0, "the pitch was taken off in full"),
        (5.49, "a forming tap's hole"),
        (4.0515, "twice the pitch was taken off"),
        (6.0, "the thread's own diameter was drilled"),
        (5.0257, ""),
    ],
)
def test_slips_of_a_tap_drill(answer: float, words: str) -> None:
    assert slip("tap-drill", answer, 1e-4, diameter="6", pitch="1", percent="75") == words


def test_a_blind_hole_holds_thread_lead_chips_and_the_point() -> None:
    found = worked("blind-depth", thread="12", pitch="1.5", lead="4", room="2", drill="8.5")
    assert result(found, "full") == 12 + 6 + 2
    point = result(found, "tip") - result(found, "full")
    # 118° between its edges: 59° to its axis
    assert math.degrees(math.atan2(8.5 / 2, point)) == pytest.approx(59)
    inch = worked("blind-depth", thread="0.5 in", pitch="0.05 in", drill="0.201 in")
    assert result(inch, "full") / INCH == pytest.approx(0.5 + 0.2 + 0.08)
    half = worked("blind-depth", thread="12", pitch="1", lead="2.5", drill="5")
    assert result(half, "full") == pytest.approx(16.5)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (14.0, "the lead was forgotten"),
        (18.0, "the room for chips was forgotten"),
        (22.554, "the point was counted into the full diameter"),
        (17.446, "the point was taken off"),
        (20.0, ""),
    ],
)
def test_slips_of_a_blind_hole(answer: float, words: str) -> None:
    assert slip("blind-depth", answer, 1e-3, thread="12", pitch="1.5", room="2", drill="8.5") == words


@pytest.mark.parametrize(
    ("given", "hole"),
    [
        ({"diameter": "10", "fit": "close"}, 10.5),
        ({"diameter": "10", "fit": "free"}, 11),
        ({"diameter": "6", "fit": "close", "close": "6.4", "free": "6.6"}, 6.4),
        ({"diameter": "6", "fit": "free", "close": "6.4", "free": "6.6"}, 6.6),
        ({"diameter": "0.25 in", "fit": "close", "close": "0.257 in"}, 0.257 * INCH),
    ],
)
def test_the_table_comes_before_the_rule_of_thumb(given: dict[str, str], hole: float) -> None:
    found = worked("clearance-drill", **given)
    assert result(found, "hole") == pytest.approx(hole)
    assert bool(found.said) == ("close" not in given)


@pytest.mark.parametrize(
    ("drills", "taken"),
    [("6.3 6.4 6.6", 6.4), ("6.395 6.5", 6.5), ("6.399 6.5", 6.5), ("6.6", 6.6)],
)
def test_a_clearance_drill_is_never_smaller_than_the_hole(drills: str, taken: float) -> None:
    assert result(worked("clearance-drill", diameter="6", close="6.4", drills=drills), "drill") == taken


def test_where_no_drill_is_large_enough_it_is_said() -> None:
    with pytest.raises(Refused, match=r"drills.*none is as large as the hole, 6\.4 mm"):
        worked("clearance-drill", diameter="6", close="6.4", drills="5 6.399")
    with pytest.raises(Refused, match=r"close.*must be more than the thread, 6 mm"):
        worked("clearance-drill", diameter="6", close="6")


def test_slips_of_a_clearance_hole() -> None:
    given = {"diameter": "6", "close": "6.4", "free": "6.6"}
    assert slip("clearance-drill", 6.0, **given) == "the screw's own diameter was drilled"
    assert slip("clearance-drill", 6.6, **given) == "close and free were mixed up"
    assert slip("clearance-drill", 6.4, **given) == ""


@given(st.integers(1, 1000), st.integers(10, 170))
def test_a_drills_point_is_a_cone_of_its_angle(tenths: int, angle: int) -> None:
    d = tenths / 10
    point = result(worked("drill-point", diameter=f"{d}", angle=str(angle)), "length")
    assert 2 * math.degrees(math.atan2(d / 2, point)) == pytest.approx(angle)


@pytest.mark.parametrize(("angle", "taken"), [("10", True), ("9.9", False), ("170", True), ("170.1", False)])
def test_angles_that_can_be(angle: str, taken: bool) -> None:
    if taken:
        worked("drill-point", diameter="10", angle=angle)
        return
    with pytest.raises(Refused, match=r"angle.*at least 10 and at most 170 °"):
        worked("drill-point", diameter="10", angle=angle)


def test_the_depth_to_the_tip_and_what_lies_below() -> None:
    bare = worked("drill-point", diameter="10")
    assert names(bare) == ["length"]
    assert bare.said == ()
    deep = worked("drill-point", diameter="10", deep="20", through="1")
    assert result(deep, "tip") == pytest.approx(20 + 3.0043 + 1, abs=1e-4)
    assert deep.said == ("What lies under the hole? Parallels, vise, table.",)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (6.0086, "the diameter was taken for the radius"),
        (2.6585, "the whole angle was taken"),
        (3.3333, "a third of the diameter was taken, whatever the angle"),
        (3.0043, ""),
    ],
)
def test_slips_of_a_point(answer: float, words: str) -> None:
    assert slip("drill-point", answer, 1e-3, diameter="10", angle="118") == words


@given(st.integers(20, 90), st.integers(1, 19), st.sampled_from((60, 82, 90, 100, 120)))
def test_a_countersink_opens_to_its_diameter(wide: int, hole: int, angle: int) -> None:
    depth = result(worked("countersink-depth", wide=str(wide), hole=str(hole), angle=str(angle)), "depth")
    assert hole + 2 * depth * math.tan(math.radians(angle / 2)) == pytest.approx(wide)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (4.0, "the half was forgotten"),
        (4.5, "the hole was forgotten"),
        (2.3007, "82° and 90° were mixed up"),
        (2.0, ""),
    ],
)
def test_slips_of_a_countersink(answer: float, words: str) -> None:
    assert slip("countersink-depth", answer, 1e-3, wide="9", hole="5", angle="90") == words


def test_a_countersink_is_wider_than_its_hole() -> None:
    with pytest.raises(Refused, match="wide"):
        worked("countersink-depth", wide="5", hole="5")
