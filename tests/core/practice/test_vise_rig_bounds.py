"""The vise rig at its bounds: what holds, what slides, where the tip runs off, which way the needle goes."""

from __future__ import annotations

import itertools
from fractions import Fraction

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, RigSetup, begin, do
from incudo.core.practice.rigs.vise.advice import _tap
from incudo.core.practice.rigs.vise.state import FIRM, LOOSE, SNUG, TAPS, TIGHT, TRAVEL, ViseState
from incudo.core.setup.jaw import JawSweep
from incudo.core.setup.record import VisePass

VISE = RIGS["vise"]
GRIPS = {"loose": LOOSE, "snug": SNUG, "firm": FIRM, "tight": TIGHT}


def state(left: int, right: int, seed: str = "bounds") -> ViseState:
    s: ViseState = begin(VISE, RigSetup(), 1, seed)
    s.bolts = {"left": left, "right": right}
    return s


def tapped(left: int, right: int, strength: int, end: str = "right") -> tuple[float, str]:
    """How far the tapped end of the jaw moved, and what was said."""
    s = state(left, right)
    before = s.face(s.station(end))
    do(VISE, s, Action(do="tap", on=end, way="towards", by=strength))
    return s.face(s.station(end)) - before, s.said


@pytest.mark.parametrize(
    ("left", "right", "strength", "moves"),
    [
        (TIGHT, TIGHT, 3, False),
        (FIRM, FIRM, 1, False),
        (FIRM, FIRM, 2, False),
        (FIRM, FIRM, 3, True),
        (FIRM, TIGHT, 2, False),
        (FIRM, TIGHT, 3, True),
        (SNUG, TIGHT, 1, True),
        (SNUG, FIRM, 1, True),
        (SNUG, LOOSE, 1, True),
    ],
)
def test_when_bolts_hold_against_a_tap(left: int, right: int, strength: int, moves: bool) -> None:
    moved, said = tapped(left, right, strength)
    assert (said == "Nothing moves: the bolts hold.") is not moves
    assert (moved != 0) is moves


@pytest.mark.parametrize("strength", sorted(TAPS))
def test_a_tap_beside_a_snug_bolt_moves_about_what_its_name_says(strength: int) -> None:
    moved, _ = tapped(SNUG, LOOSE, strength)
    assert 0.7 * TAPS[strength] < abs(moved) < 1.3 * TAPS[strength]


def test_a_harder_tap_moves_more() -> None:
    moved = [abs(tapped(SNUG, LOOSE, n)[0]) for n in sorted(TAPS)]
    assert moved == sorted(moved)
    assert moved[0] * 3 < moved[1] < moved[2] / 3


def test_beside_the_snug_bolt_a_tap_hardly_moves_anything() -> None:
    loose, said_loose = tapped(SNUG, LOOSE, 2, "right")
    snug, said_snug = tapped(SNUG, LOOSE, 2, "left")
    assert abs(snug) < abs(loose) / 2
    assert "You tapped next to the snug bolt" in said_snug
    assert "You tapped next to" not in said_loose


def test_with_both_bolts_loose_it_slides_and_with_one_tight_it_creeps() -> None:
    assert "slides as well as it turns" in tapped(LOOSE, LOOSE, 1)[1]
    assert abs(tapped(LOOSE, LOOSE, 1)[0]) > 2 * abs(tapped(SNUG, LOOSE, 1)[0])
    crept, said = tapped(SNUG, TIGHT, 2)
    assert "it creeps" in said
    assert 0 < abs(crept) < abs(tapped(SNUG, LOOSE, 2)[0]) / 2


@pytest.mark.parametrize(("end", "way"), list(itertools.product(("left", "right"), ("towards", "away"))))
def test_towards_you_is_towards_you_at_either_end(end: str, way: str) -> None:
    s = state(LOOSE if end == "left" else SNUG, SNUG if end == "left" else LOOSE)
    before = s.face(s.station(end))
    do(VISE, s, Action(do="tap", on=end, way=way, by=2))
    # Y grows away from the person
    assert (s.face(s.station(end)) < before) == (way == "towards")


@pytest.mark.parametrize(
    ("by", "off", "refused"), [(80.1, False, False), (80.3, True, False), (110.1, True, False), (110.3, True, True)]
)
def test_the_tip_runs_off_just_beyond_the_jaw(by: float, off: bool, refused: bool) -> None:
    """A jaw of 152.4 ends at 76.2; four more and the tip drops; thirty more is beyond the table."""
    for side in (1, -1):
        s = state(FIRM, FIRM)
        do(VISE, s, Action(do="run", on="left"))
        do(VISE, s, Action(do="touch"))
        if refused:
            with pytest.raises(Refused, match=r"must lie between -110 and 110"):
                do(VISE, s, Action(do="run", by=side * by))
            return
        do(VISE, s, Action(do="run", by=side * by))
        assert any("ran off the end" in f.words for f in s.faults) is off
        assert s.touched is not off


@pytest.mark.parametrize(
    "action",
    [
        Action(do="tap", on="left", way="up", by=1),
        Action(do="tap", on="middle", way="towards", by=1),
        Action(do="tap", on="left", way="towards", by=4),
        Action(do="tap", on="left", way="towards", by=0),
    ],
)
def test_a_tap_has_an_end_a_way_and_a_strength(action: Action) -> None:
    with pytest.raises(Refused, match="tap left or right, towards or away, 1 to 3"):
        do(VISE, state(FIRM, FIRM), action)


def test_the_steel_hammer_is_named_and_the_soft_one_is_not() -> None:
    s = state(SNUG, LOOSE)
    do(VISE, s, Action(do="tap", on="right", way="towards", by=1))
    assert not s.faults
    do(VISE, s, Action(do="hammer", on="steel"))
    do(VISE, s, Action(do="tap", on="right", way="towards", by=1))
    assert any("steel hammer dents" in f.words for f in s.faults)


def test_the_needle_turns_as_the_lever_stands() -> None:
    """Pushed in by hand it goes one way; the reading of a jaw that comes nearer goes the same way."""
    for seed in ("one", "two", "three", "four", "five", "six"):
        s = state(SNUG, LOOSE, seed)
        do(VISE, s, Action(do="run", on="right"))
        do(VISE, s, Action(do="touch"))
        do(VISE, s, Action(do="push"))
        rises = "clockwise: the numbers rise" in s.said and "anticlockwise" not in s.said
        assert rises == (s.sense > 0)
        before = s.reading(s.table)
        assert before is not None
        do(VISE, s, Action(do="tap", on="right", way="towards", by=1))
        after = s.reading(s.table)
        assert after is not None
        if 0 < s.plunger(s.table) < TRAVEL:
            assert (after > before) == (s.sense > 0)


@pytest.mark.parametrize(
    ("bolts", "changed", "last", "again"),
    [
        # the last reading over the full length was with tight bolts, and nothing has moved since
        (TIGHT, False, True, False),
        (TIGHT, True, True, True),
        (TIGHT, False, False, True),
        (TIGHT, False, None, True),
        # whose bolts are loose has not come to that yet
        (FIRM, True, None, False),
        (FIRM, False, False, False),
    ],
)
def test_after_tightening_it_is_read_again(bolts: int, changed: bool, last: bool | None, again: bool) -> None:
    s = state(bolts, bolts)
    s.changed = changed
    s.sweeps = [] if last is None else [VisePass(JawSweep(Fraction(-75), Fraction(75), Fraction(0), Fraction(0)), last)]
    reasons, _ = VISE.judge(s)
    assert ("it was not read again over the full length after tightening" in reasons) is again
    assert ("the bolts are not tight" in reasons) is (bolts != TIGHT)


@pytest.mark.parametrize(
    ("rig", "action"),
    [
        ("vise", Action(do="wrench", on="left", way="round")),
        ("vise", Action(do="wrench", on="middle", way="tighter")),
        ("head", Action(do="screw", on="tilt", way="round", by=1)),
        ("head", Action(do="screw", on="tilt", way="clockwise", by=4)),
        ("head", Action(do="wrench", on="left", way="round")),
    ],
)
def test_what_no_hand_can_do_is_refused(rig: str, action: Action) -> None:
    s = begin(RIGS[rig], RigSetup(), 1, "bounds")
    with pytest.raises(Refused):
        do(RIGS[rig], s, action)


@pytest.mark.parametrize(("gap", "by"), [(0.06, 1), (0.061, 2), (-0.06, 1), (0.3, 2), (0.301, 3), (-0.3, 2)])
@pytest.mark.parametrize("pressed", [True, False])
def test_the_tap_advised_is_as_hard_as_the_gap_is_wide(
    gap: float, by: int, pressed: bool, monkeypatch: pytest.MonkeyPatch
) -> None:
    s = state(SNUG, LOOSE)
    monkeypatch.setattr(ViseState, "plunger", lambda _self, _x: TRAVEL / 2 if pressed else 0.0)
    advised = _tap(s, gap, 0.1, 0.0)
    assert advised.action == Action(
        do="tap", on="right", way="towards" if gap > 0 else "away", by=by if pressed else max(TAPS)
    )
    assert ("end of its travel" in advised.words) is not pressed
