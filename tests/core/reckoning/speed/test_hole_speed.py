"""Drills, reamers, countersinks: what share of a drill's speed each takes."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.reckoning.bench import HOLE_TOOLS
from tests.core.reckoning.figures import names, result, slip, worked

SHARE = {"drill": 1, "reamer": 1 / 2, "countersink": 1 / 3}


@given(st.integers(5, 200), st.integers(1, 1000), st.sampled_from(sorted(SHARE)))
def test_its_rim_travels_its_share_of_a_drills_surface_speed(surface: int, tenths: int, tool: str) -> None:
    d = tenths / 10
    n = result(worked("hole-speed", surface=f"{surface}", diameter=f"{d}", tool=tool), "speed")
    assert math.pi * d / 1000 * n == pytest.approx(surface * SHARE[tool])


def test_a_reamer_is_slower_and_feeds_faster_than_a_drill() -> None:
    drill = worked("hole-speed", surface="28", diameter="10", feed="0.15")
    reamer = worked("hole-speed", surface="28", diameter="10", feed="0.15", tool="reamer")
    assert result(reamer, "speed") == pytest.approx(result(drill, "speed") / 2)
    assert result(reamer, "feed") == pytest.approx(2 * result(drill, "feed"))
    assert any("never turned backwards" in s for s in reamer.said)
    assert not any("never turned backwards" in s for s in drill.said)


def test_no_tool_is_faster_than_a_drill() -> None:
    assert all(share <= 1 for share, _ in HOLE_TOOLS.values())


def test_without_a_drills_feed_none_is_given() -> None:
    assert names(worked("hole-speed", surface="28", diameter="10")) == ["speed"]
    assert names(worked("hole-speed", surface="28", diameter="10", steps="300 800")) == ["step", "speed", "real"]


@pytest.mark.parametrize(
    ("tool", "answer", "words"),
    [
        ("reamer", 891.27, "the drill's own speed was taken"),
        ("reamer", 297.09, "a countersink's factor was taken"),
        ("reamer", 1400.0, "π was forgotten"),
        ("countersink", 445.63, "a reamer's factor was taken"),
        ("countersink", 594.18, "the radius was taken for the diameter"),
        ("drill", 891.27, ""),
    ],
)
def test_slips_by_hand(tool: str, answer: float, words: str) -> None:
    assert slip("hole-speed", answer, 0.01, surface="28", diameter="10", tool=tool) == words


def test_the_step_is_taken_from_the_tools_own_speed() -> None:
    """445.6 for the reamer: 400 is the highest step not above; a drill would run at 800."""
    steps = "100 200 400 800"
    assert result(worked("hole-speed", surface="28", diameter="10", tool="reamer", steps=steps), "step") == 400
    assert result(worked("hole-speed", surface="28", diameter="10", tool="drill", steps=steps), "step") == 800


@pytest.mark.parametrize(
    ("diameter", "stock"),
    [
        ("0.1", 0.01),
        ("0.5", 0.05),
        ("1", 0.1),
        ("3", 0.1),
        ("3.01", 0.2),
        ("10", 0.2),
        ("10.01", 0.3),
        ("20", 0.3),
        ("20.01", 0.4),
        ("30.01", 0.5),
    ],
)
def test_what_is_left_for_a_reamer(diameter: str, stock: float) -> None:
    found = worked("hole-speed", surface="28", diameter=diameter, tool="reamer")
    assert result(found, "stock") == pytest.approx(stock)
    assert result(found, "before") == pytest.approx(float(diameter) - stock)
    assert "stock" not in names(worked("hole-speed", surface="28", diameter=diameter, tool="drill"))
