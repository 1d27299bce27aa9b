"""The holding rig: played as a practised hand would, and each thing done badly is named."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, RigSetup, begin, do
from incudo.core.practice.rigs.hold.state import BOLTS, HEELS, HoldState

RULES = RIGS["hold"]


def played(level: int, seed: str, *, leave_out: str = "") -> HoldState:
    """A run by the rig's own advice; what is ``leave_out`` is taken back before the cutter is tried."""
    s: HoldState = begin(RULES, RigSetup(), level, seed)
    for _ in range(30):
        action = RULES.advice(s).action
        if action.do in ("try", "finish"):
            break
        do(RULES, s, action)
    if leave_out:
        undo(s, leave_out)
    do(RULES, s, Action(do="try"))
    return s


def undo(s: HoldState, what: str) -> None:
    other = {"left": "right", "right": "left"}
    match what:
        case "second":
            do(RULES, s, Action(do="second"))
            do(RULES, s, Action(do="tighten"))
        case "strap":
            do(RULES, s, Action(do="strap", on=other[s.strap_side]))
            do(RULES, s, Action(do="tighten"))
        case "stop":
            do(RULES, s, Action(do="stop", on=other[s.stop]))
        case "bolt" | "heel":
            do(RULES, s, Action(do=what, on="far" if what == "bolt" else "lower"))
            do(RULES, s, Action(do="tighten"))
        case "tight":
            do(RULES, s, Action(do="bolt", on="near") if s.strapped else Action(do="bar"))
        case "tap" | "slips":
            do(RULES, s, Action(do="tighten"))
            if what == "slips":
                do(RULES, s, Action(do="tap"))
        case "bar":
            do(RULES, s, Action(do="bar"))
            for again in ("tighten", "tap", "slips"):
                do(RULES, s, Action(do=again))


@given(st.integers(1, 3), st.integers(0, 300))
def test_whatever_is_drawn_can_be_held(level: int, seed: int) -> None:
    s = played(level, f"draw {seed}")
    assert s.said == "Nothing is in the way and it is held well."
    assert s.passes[-1].words == "good"


@pytest.mark.parametrize(
    ("level", "left_out", "words"),
    [
        (3, "second", "One strap lets the work turn about its bolt"),
        (3, "strap", "the cutter meets the strap"),
        (3, "bolt", "Only 25 % of the bolt's force holds the work"),
        (3, "heel", "The heel is lower than the work"),
        (3, "tight", "The straps are not tight"),
        (1, "stop", "the cutter meets the stop"),
        (1, "tight", "The vise is not tight"),
        (1, "tap", "Tightening lifts the work off its seat"),
        (1, "slips", "Nobody tried the paper slips"),
        (1, "bar", "the round bar only lessens the grip"),
        (2, "bar", "turns the work off the fixed jaw"),
    ],
)
@pytest.mark.parametrize("seed", ["a", "b", "c"])
def test_what_is_left_out_is_named(level: int, left_out: str, words: str, seed: str) -> None:
    s = played(level, seed, leave_out=left_out)
    assert s.passes[-1].words != "good"
    assert any(words in x.words for x in s.said_all()), [x.words for x in s.said_all()]
    do(RULES, s, Action(do="finish"))
    reasons, truth = RULES.judge(s)
    assert any(words in r for r in reasons)
    assert truth == "The cut was not safe to make."


def test_one_strap_is_not_held_well_and_two_are() -> None:
    s = played(3, "straps")
    assert s.second
    assert s.passes[-1].cells[0] == "two straps, Bolt close to the work"
    do(RULES, s, Action(do="second"))
    assert not s.second
    assert not s.tight, "what was changed is tightened again"


def test_changing_what_it_stands_on_loosens_all_that_was_done() -> None:
    s = played(1, "a")
    assert s.tight
    do(RULES, s, Action(do="bed"))
    assert not s.tight
    assert not s.tapped
    assert not s.tried
    do(RULES, s, Action(do="tap"))
    assert s.said == "Nothing holds it: tighten first."
    assert not s.tapped
    do(RULES, s, Action(do="slips"))
    assert "can be pulled" in s.said


@pytest.mark.parametrize(
    "action",
    [
        Action(do="fly"),
        Action(do="pair", by=99),
        Action(do="pair", by=-1),
        Action(do="stop", on="top"),
        Action(do="bolt", on="nowhere"),
        Action(do="heel", on="nowhere"),
        Action(do="strap", on="middle"),
    ],
)
def test_what_is_no_action_is_refused_and_changes_nothing(action: Action) -> None:
    s: HoldState = begin(RULES, RigSetup(), 3, "x")
    before = RULES.scene(s)
    with pytest.raises(Refused, match="is not an action of the holding rig"):
        do(RULES, s, action)
    assert RULES.scene(s) == before


@pytest.mark.parametrize("level", [1, 2, 3])
def test_every_action_has_one_control_and_one_name(level: int) -> None:
    for seed in range(40):
        s: HoldState = begin(RULES, RigSetup(), level, f"controls {seed}")
        controls = RULES.controls(s)
        assert len({c.label for c in controls}) == len(controls)
        for c in controls:
            again: HoldState = begin(RULES, RigSetup(), level, f"controls {seed}")
            do(RULES, again, c.action)


def in_a_vise() -> HoldState:
    """A case that is held in the vise, ready to be tightened."""
    for n in range(50):
        s: HoldState = begin(RULES, RigSetup(), 1, f"vise {n}")
        if not s.strapped:
            return s
    raise AssertionError("no case of fifty is held in the vise")


def test_slips_hold_only_what_was_tightened_and_tapped_down() -> None:
    s = in_a_vise()
    for before, holds in (((), False), (("tighten",), False), (("tighten", "tap"), True), (("tap",), False)):
        s.tight = s.tapped = s.tried = False
        for each in before:
            do(RULES, s, Action(do=each))
        do(RULES, s, Action(do="slips"))
        assert s.tried is holds, before
        assert ("seated" in s.said and "not" not in s.said) is holds


def test_a_tap_seats_nothing_that_is_loose_and_tightening_anew_undoes_it() -> None:
    s = in_a_vise()
    s.tight = False
    do(RULES, s, Action(do="tap"))
    assert not s.tapped
    for each in ("tighten", "tap", "slips", "tighten"):
        do(RULES, s, Action(do=each))
    assert (s.tight, s.tapped, s.tried) == (True, False, False)


def test_the_bolt_places_lie_on_one_strap_and_the_heels_on_both_sides_of_right() -> None:
    assert {work + heel for work, heel in BOLTS.values()} == {80}
    assert [k for k, (work, heel) in BOLTS.items() if work < heel] == ["near"]
    assert HEELS["lower"] < 0 < HEELS["hair-higher"] <= 1.5
    assert HEELS["much-higher"] >= 8 * HEELS["hair-higher"]


@pytest.mark.parametrize(
    ("level", "holes", "rough", "strapped"), [(1, 0, False, False), (2, 1, True, False), (3, 1, False, True)]
)
def test_what_each_level_asks_to_be_held_for(level: int, holes: int, rough: bool, strapped: bool) -> None:
    for seed in ("a", "b", "c"):
        s: HoldState = begin(RULES, RigSetup(), level, seed)
        assert (len(s.holes), s.rough, s.strapped) == (holes, rough, strapped)
        assert ("a through hole" in RULES.task(s)) is bool(holes)
