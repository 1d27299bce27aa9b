"""Edges, middles, bars, bores, heads and vises: against touches that are made by geometry."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from tests.core.reckoning.figures import INCH, result, slip, worked

#: On which side of the work the finder stands: the sign of the way to the edge.
TO_THE_EDGE = {"left": 1, "right": -1, "front": 1, "rear": -1}


@given(st.integers(-2000, 2000), st.integers(1, 500), st.sampled_from(sorted(TO_THE_EDGE)))
def test_a_tip_touches_half_its_diameter_before_the_edge(touch: int, tenths: int, side: str) -> None:
    tip = tenths / 10
    edge = result(worked("edge", touch=str(touch), tip=f"{tip}", side=side), "edge")
    assert abs(edge - touch) == pytest.approx(tip / 2)
    assert math.copysign(1, edge - touch) == TO_THE_EDGE[side]


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (10.0, "half the tip was forgotten"),
        (12.5, "half the tip was taken to the wrong side"),
        (5.0, "the whole tip was taken"),
        (7.5, ""),
    ],
)
def test_slips_of_an_edge(answer: float, words: str) -> None:
    assert slip("edge", answer, touch="10", tip="5", side="right") == words


@given(st.integers(-500, 500), st.integers(100, 900), st.integers(1, 99), st.booleans())
def test_the_middle_by_a_readout_lies_between_the_contacts(low: int, span: int, tip: int, slot: bool) -> None:
    of = "slot" if slot else "block"
    found = worked("middle", low=str(low), high=str(low + span), tip=f"{tip / 10}", of=of)
    width = result(found, "width")
    # the tip's middle stands outside of a block and inside of a slot
    assert width == pytest.approx(span + (tip / 10 if slot else -tip / 10))
    assert result(found, "middle") == pytest.approx(low + span / 2)


@given(st.integers(-50, 50), st.integers(20, 200), st.integers(0, 200), st.booleans())
def test_the_middle_by_a_dial_with_backlash(low: int, width: int, lost: int, slot: bool) -> None:
    """Touch both sides with a dial that lags; the middle is come to with rising numbers."""
    tip, play = 10.0, lost / 100
    first, second = (low + tip / 2, low + width - tip / 2) if slot else (low - tip / 2, low + width + tip / 2)
    # a block's low side is touched with rising numbers and its high side with falling ones; a slot the other way
    shown = (first - play, second) if slot else (first, second - play)
    given = {"low": f"{shown[0]:.4f}", "high": f"{shown[1]:.4f}", "tip": "10", "by": "dial", "backlash": f"{play}"}
    if shown[1] <= shown[0]:
        return
    found = worked("middle", of="slot" if slot else "block", **given)
    assert result(found, "width") == pytest.approx(width, abs=1e-3)
    assert result(found, "middle") == pytest.approx(low + width / 2, abs=1e-3)


def test_contacts_the_wrong_way_round_or_nearer_than_the_tip() -> None:
    with pytest.raises(Refused, match=r"high.*must be more than the low contact"):
        worked("middle", low="10", high="10")
    with pytest.raises(Refused, match="further from the low contact than the tip"):
        worked("middle", low="10", high="15", tip="5")
    assert result(worked("middle", low="10", high="15.1", tip="5"), "width") == pytest.approx(0.1)


@pytest.mark.parametrize(
    ("answer", "words"),
    [
        (35.0, "the mean of both dials was taken"),
        (25.0, "half the span was taken from 0"),
        (34.95, "the backlash was taken the wrong way"),
        (40.05, "the tip was taken into one side only"),
        (35.05, ""),
    ],
)
def test_slips_of_a_middle(answer: float, words: str) -> None:
    assert slip("middle", answer, low="10", high="60", tip="10", by="dial", backlash="0.1") == words


@pytest.mark.parametrize(
    ("face", "diameter", "jaw", "middle"),
    [("0", "30", "at the rear", -15), ("5", "30", "in front", 20), ("-2 in", "1 in", "at the rear", -2.5 * INCH)],
)
def test_a_bar_lies_half_its_diameter_from_the_jaw(face: str, diameter: str, jaw: str, middle: float) -> None:
    assert result(worked("bar-at-jaw", face=face, diameter=diameter, jaw=jaw), "middle") == pytest.approx(middle)


def test_slips_of_a_bar() -> None:
    assert slip("bar-at-jaw", -30, face="0", diameter="30") == "the whole diameter was taken"
    assert slip("bar-at-jaw", 15, face="0", diameter="30") == "it was taken to the wrong side"


@given(st.integers(-50, 50), st.integers(-50, 50), st.booleans())
def test_an_indicator_swept_round_a_bore_shows_how_far_the_spindle_is_off(dx: int, dy: int, boss: bool) -> None:
    """Hundredths of a mm: towards where the wall is near, the tip is pushed in more; at a boss it is the other side."""
    x, y, r = dx / 1000, dy / 1000, 20.0

    def push(angle: float) -> float:
        """How far the tip, at the end of an arm of the radius, is pushed in by the wall in this direction."""
        away = math.hypot(r * math.cos(angle) + x, r * math.sin(angle) + y) - r
        return -away if boss else away

    readings = {n: f"{push(a):.6f}" for n, a in zip(("east", "north", "west", "south"), _quarters(), strict=True)}
    found = worked("bore-centre", of="boss" if boss else "bore", **readings)
    # the spindle is at (x, y) from the centre and has to go back
    assert result(found, "x") == pytest.approx(-x, abs=1e-4)
    assert result(found, "y") == pytest.approx(-y, abs=1e-4)


def _quarters() -> tuple[float, ...]:
    return tuple(math.pi / 2 * i for i in range(4))


def test_slips_of_a_bore() -> None:
    given = {"east": "0.02", "west": "0.06", "north": "0", "south": "0"}
    assert slip("bore-centre", 0.04, **given) == "the half was forgotten"
    assert slip("bore-centre", -0.02, **given) == "it was taken the wrong way"
    assert slip("bore-centre", 0.02, **given) == ""


@given(st.integers(-50, 50), st.integers(100, 400), st.integers(20, 100), st.integers(1, 100), st.integers(1, 100))
def test_what_a_tilted_head_leaves(rise: int, span: int, d: int, percent: int, deep: int) -> None:
    """A tilted disc cuts an ellipse: its lowest points over the width that it really cuts."""
    tilt = math.atan2(rise / 100, span)
    w = d * percent / 100
    found = worked(
        "head-tilt",
        left="0",
        right=f"{rise / 100}",
        span=str(span),
        diameter=str(d),
        width=f"{w:.3f}",
        deep=str(deep),
    )
    r = d / 2
    hollow = (r - math.sqrt(max(r * r - w * w / 4, 0))) * abs(math.sin(tilt))
    assert result(found, "hollow") == pytest.approx(hollow, abs=1e-5)
    assert abs(result(found, "lean")) == pytest.approx(deep * abs(math.tan(tilt)), abs=1e-6)
    assert abs(result(found, "step")) == pytest.approx(w * abs(math.tan(tilt)), abs=1e-6)


@pytest.mark.parametrize(
    ("right", "words"), [("0.05", "leans right"), ("-0.05", "leans left"), ("0", "The head is square.")]
)
def test_which_way_the_head_leans(right: str, words: str) -> None:
    given = {"left": "0", "right": right, "span": "200", "diameter": "63", "width": "40", "deep": "30"}
    assert words in worked("head-tilt", **given).said[0]


@given(st.integers(-40, 40), st.integers(50, 300), st.integers(10, 200))
def test_a_vise_out_of_line_leaves_its_own_slope(rise: int, travel: int, part: int) -> None:
    found = worked("vise-taper", low="0", high=f"{rise / 100}", travel=str(travel), part=str(part))
    assert result(found, "taper") == pytest.approx(rise / 100 / travel * part)
    assert result(found, "angle") == pytest.approx(math.degrees(math.atan2(rise / 100, travel)))


def test_slips_of_a_vise() -> None:
    given = {"low": "0", "high": "0.09", "travel": "140", "part": "80"}
    assert slip("vise-taper", 0.09, **given) == "the whole difference was taken"
    assert slip("vise-taper", 0.1575, **given) == "the lengths were swapped"
