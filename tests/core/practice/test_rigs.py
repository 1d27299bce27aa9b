"""Practice rigs: the physics against rotated points, replay, the practised hand, and what is badly played."""

from __future__ import annotations

import itertools
import math
import random
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import MOST_ACTIONS, Action, RigSetup, begin, do, play, practised, result
from incudo.core.practice.rigs.slide import a_slide
from incudo.core.practice.rigs.vise.rig import ViseRig
from incudo.core.practice.rigs.vise.state import ViseState
from incudo.core.setup.standard import HeadSchool, SetupRules, ViseSchool
from incudo.core.shop.machine import Axis

seeds = st.text("abcdefgh0123456789", min_size=1, max_size=8)
METRIC = SetupRules(unit=Unit.MM, head_rise="0.025", head_span="150", vise_rise="0.013")
setups = st.builds(
    lambda rules, head, vise: RigSetup(
        rules=rules.model_copy(update={"head_school": head, "vise_school": vise}), unit=rules.unit
    ),
    st.sampled_from((SetupRules(), METRIC)),
    st.sampled_from(tuple(HeadSchool)),
    st.sampled_from(tuple(ViseSchool)),
)


def act(do_: str, on: str = "", way: str = "", by: float = 0) -> Action:
    return Action(do=do_, on=on, way=way, by=by)


@pytest.mark.sweep(6)
@pytest.mark.parametrize(("rig", "level"), [(r, x.number) for r in RIGS for x in RIGS[r].levels])
@given(setup=setups, seed=seeds)
@settings(max_examples=25)
def test_a_practised_hand_reaches_the_standard_with_what_is_offered(
    rig: str, level: int, setup: RigSetup, seed: str
) -> None:
    """At every rig, level, school and unit: each thing that is advised can be pressed, and the end is to standard."""
    rules = RIGS[rig]
    s = begin(rules, setup, level, seed)
    while not s.finished:
        assert s.count < MOST_ACTIONS
        advice = rules.advice(s)
        if advice.action.do != "finish":
            offered = [c for c in rules.controls(s) if c.action == advice.action]
            assert offered, advice
            assert not offered[0].closed, advice
        do(rules, s, advice.action)
        rules.scene(s)
    found = result(rules, s)
    assert found.passed, found.reasons
    assert found.practised == len(s.passes)
    assert not s.faults


@given(
    rig=st.sampled_from(tuple(RIGS)),
    level=st.integers(1, 3),
    seed=seeds,
    picks=st.lists(st.integers(0, 10_000), max_size=40),
)
@settings(max_examples=60)
def test_any_run_is_replayed_exactly_and_whatever_is_offered_is_taken(
    rig: str, level: int, seed: str, picks: list[int]
) -> None:
    rules, setup = RIGS[rig], RigSetup()
    s = begin(rules, setup, level, seed)
    done: list[Action] = []
    for n in picks:
        offered = [c.action for c in rules.controls(s) if not c.closed]
        if not offered:
            break
        done.append(offered[n % len(offered)])
        do(rules, s, done[-1])
    again = play(rules, setup, level, seed, done)
    assert again == s
    assert rules.scene(again) == rules.scene(s)
    result(rules, s)


def test_what_is_no_action_is_refused_in_words() -> None:
    for rig, rules in RIGS.items():
        s = begin(rules, RigSetup(), 1, rig)
        with pytest.raises(Refused, match="is not an action"):
            do(rules, s, act("dance"))
        do(rules, s, act("finish"))
        with pytest.raises(Refused, match="finished"):
            do(rules, s, act("touch"))
        with pytest.raises(Refused, match="level"):
            begin(rules, RigSetup(), 9, rig)


def test_a_wrench_takes_the_bolts_of_this_levels_axes_only() -> None:
    rules = RIGS["head"]
    s = begin(rules, RigSetup(), 1, "head")
    with pytest.raises(Refused, match="a bolt of this head"):
        do(rules, s, act("wrench", "nod-left", "tighter"))
    for on, way in (("top-left", "sideways"), ("table", "tighter")):
        with pytest.raises(Refused, match="a bolt of this head"):
            do(rules, s, act("wrench", on, way))


# ── the vise rig ──────────────────────────────────────────────────────────

VISE = RIGS["vise"]


def corners(s: ViseState) -> list[tuple[float, float]]:
    """Two points of the face, and one of the body, as they lie on the table."""
    c, n = math.cos(s.angle), math.sin(s.angle)
    return [(s.x + x * c - y * n, s.y + x * n + y * c) for x, y in ((-70, 0), (70, 0), (0, -50))]


@given(st.lists(st.tuples(st.floats(-120, 120), st.floats(-100, 0), st.floats(-0.01, 0.01)), max_size=12))
def test_the_vise_turns_as_a_rigid_body(turns: list[tuple[float, float, float]]) -> None:
    """Its points keep their distances, and a point that is turned about stays where it is."""
    s = ViseState(RigSetup(), 1, "x")
    for x, y, angle in turns:
        before = corners(s)
        held = math.dist((x, y), before[0])
        s.turn((x, y), angle)
        assert math.dist((x, y), corners(s)[0]) == pytest.approx(held, abs=1e-9)
        turned = [
            (
                x + (p[0] - x) * math.cos(angle) - (p[1] - y) * math.sin(angle),
                y + (p[0] - x) * math.sin(angle) + (p[1] - y) * math.cos(angle),
            )
            for p in before
        ]
        for a, b in zip(corners(s), turned, strict=True):
            assert math.dist(a, b) < 1e-9
    for p in corners(s)[:2]:
        assert s.face(p[0]) == pytest.approx(p[1], abs=1e-9)


def test_tapping_the_loose_end_turns_the_vise_about_the_snug_bolt() -> None:
    s = begin(VISE, RigSetup(), 1, "pivot")
    for a in (act("wrench", "right", "looser"), act("wrench", "right", "looser"), act("wrench", "left", "looser")):
        do(VISE, s, a)
    held = [math.dist(s.bolt("left"), p) for p in corners(s)]
    before = s.off
    do(VISE, s, act("tap", "right", "towards" if s.angle > 0 else "away", 2))
    assert [math.dist(s.bolt("left"), p) for p in corners(s)] == pytest.approx(held)
    assert s.off != before


def test_the_needle_rests_at_contact_and_stops_at_the_end_of_its_travel() -> None:
    s = begin(VISE, RigSetup(), 2, "far")
    do(VISE, s, act("run", "left"))
    do(VISE, s, act("touch"))
    do(VISE, s, act("run", "right"))
    readings = [r for _, r in s.motion]
    assert len(readings) > 20
    assert s.warned
    flat = [r for r in readings if r == readings[-1]]
    assert len(flat) > 3, "the needle stands still beyond its travel"
    assert all(abs(a - b) < 0.2 for a, b in itertools.pairwise(readings)), "it moves without a leap"


def played(rig: str, *actions: Action, level: int = 1, seed: str = "bad") -> Any:
    s = play(RIGS[rig], RigSetup(), level, seed, [*actions, act("finish")])
    return s, result(RIGS[rig], s)


def test_hitting_the_moving_jaw_ends_the_standard_and_says_why() -> None:
    s, found = played("vise", act("tap", "moving", "away", 2))
    assert any(f.critical and "moving jaw" in f.words for f in s.faults)
    assert any("moving jaw" in r for r in found.reasons)
    assert not found.passed


def test_running_off_the_end_loses_the_reading() -> None:
    s, _ = played("vise", act("run", "left"), act("touch"), act("run", by=95))
    assert "ran off the end" in s.faults[0].words
    assert not s.touched


def test_a_vise_that_was_not_read_again_is_not_to_standard() -> None:
    rules = RIGS["vise"]
    s = begin(rules, RigSetup(), 1, "once")
    while not s.tight or s.changed is False:
        do(rules, s, rules.advice(s).action)
    do(rules, s, act("finish"))
    assert any("not read again" in r for r in result(rules, s).reasons)


def test_a_chip_makes_a_tightened_jaw_jump_until_it_is_cleaned_away() -> None:
    rules = RIGS["vise"]
    s = next(x for n in range(40) if (x := begin(rules, RigSetup(), 3, f"chip{n}")).chip)
    while not s.finished:
        was = s.angle
        do(rules, s, rules.advice(s).action)
        if s.chip and s.tight and s.said.endswith("tight."):
            assert abs(s.angle - was) * s.setup.jaw > 0.02
    assert not s.chip
    assert result(rules, s).passed


def test_a_steel_hammer_and_far_too_many_passes_are_told() -> None:
    rules = RIGS["vise"]
    s = practised(rules, RigSetup(), 1, "again")
    s.finished = False
    do(rules, s, act("hammer", "steel"))
    for _ in range(6):
        do(rules, s, act("wrench", "right", "looser"))
        do(rules, s, act("tap", "right", "away", 1))
        do(rules, s, act("wrench", "right", "tighter"))
        for end in ("left", "right"):
            do(rules, s, act("run", end))
    assert any("steel hammer" in f.words for f in s.faults)
    assert any("a practised hand needs" in r for r in result(rules, s).reasons)


@pytest.mark.parametrize(
    ("unit", "divisions"), [(Unit.INCH, {Fraction(254, 10_000)}), (Unit.MM, {Fraction(2, 100), Fraction(5, 100)})]
)
def test_a_handle_by_chance_is_one_that_there_is(unit: Unit, divisions: set[Fraction]) -> None:
    """A division is a thousandth of an inch, or two or five hundredths of a millimetre; screws have some play."""
    dials = [a_slide(random.Random(n), unit, Axis.X).dial for n in range(200)]
    assert {d.turn / d.graduations for d in dials} == divisions
    for d in dials:
        assert Fraction(9, 100) < d.backlash < Fraction(73, 100)
        assert (d.backlash / (d.turn / d.graduations / 2)).denominator == 1
    plays = sorted(d.backlash for d in dials)
    assert plays[0] < Fraction(15, 100)
    assert plays[-1] > Fraction(65, 100)


# ── the head rig ──────────────────────────────────────────────────────────


def test_swinging_a_spindle_that_could_start_ends_the_standard() -> None:
    s, found = played("head", act("swing", "left"))
    assert s.faults[0].critical
    assert any("isolate" in r for r in found.reasons)


def test_two_loose_bolts_let_the_head_swing() -> None:
    slack = [act("wrench", b, "looser") for b in ("top-left", "top-right") for _ in range(3)]
    s, found = played("head", act("isolate"), *slack)
    assert abs(s.tilt) > 0.002
    assert any("swung over" in r for r in found.reasons)


def test_the_tip_drops_into_a_slot_unless_parallels_bridge_it() -> None:
    rules = RIGS["head"]
    s = begin(rules, RigSetup(), 2, "slot")
    for a in (act("isolate"), act("swing", "left"), act("touch"), act("swing", s.slot)):
        do(rules, s, a)
    assert not s.down
    assert "T-slot" in s.faults[0].words
    do(rules, s, act("parallels"))
    do(rules, s, act("touch"))
    assert s.down


def test_a_screw_binds_while_its_bolts_hold() -> None:
    rules = RIGS["head"]
    s = begin(rules, RigSetup(), 1, "bind")
    before = s.tilt
    do(rules, s, act("screw", "tilt", "clockwise", 3))
    assert s.tilt == before
    assert s.warned


def test_a_tilt_is_read_at_the_sides_and_a_nod_at_front_and_rear() -> None:
    s = begin(RIGS["head"], RigSetup(), 1, "places")
    s.burr, s.slot, s.clamped, s.parallels, s.base, s.zero = "", "", True, False, 0.4, 0.0

    def read(tilt: float, nod: float) -> dict[str, float]:
        s.tilt, s.nod = tilt, nod
        return {place: round(s.reading(place) - 0.4, 6) for place in ("left", "right", "front", "rear")}

    # the tip goes round at 100 mm
    assert read(0.001, 0.0) == {"left": -0.1, "right": 0.1, "front": 0.0, "rear": 0.0}
    assert read(0.0, 0.002) == {"left": 0.0, "right": 0.0, "front": -0.2, "rear": 0.2}


def test_a_turn_of_the_screw_moves_the_head_by_what_it_is_called() -> None:
    """Within a fifth, in radians: hands are not exact."""
    rules, nominal = RIGS["head"], (0.00005, 0.0003, 0.0018)
    for by, wanted in enumerate(nominal, 1):
        for n in range(10):
            s = begin(rules, RigSetup(), 1, f"turn {n}")
            for b in ("top-left", "top-right", "bottom-left", "bottom-right"):
                do(rules, s, act("wrench", b, "looser"))
                do(rules, s, act("wrench", b, "looser"))
            before = s.tilt
            do(rules, s, act("screw", "tilt", "clockwise", by))
            assert 0.8 * wanted <= s.tilt - before <= 1.2 * wanted


def test_a_tap_moves_the_head_less_the_tighter_it_is() -> None:
    rules = RIGS["head"]
    bolts = ("top-left", "top-right", "bottom-left", "bottom-right")
    moved = []
    for slack in (0, 1, 2):
        s = begin(rules, RigSetup(), 1, "tap")
        for b in bolts:
            for _ in range(slack):
                do(rules, s, act("wrench", b, "looser"))
        before = s.tilt
        do(rules, s, act("tap", "right"))
        moved.append(before - s.tilt)
    assert moved[0] == 0
    assert 0 < moved[1] < moved[2] < 0.0001


def test_the_needle_jumps_at_contact() -> None:
    for rig in ("vise", "head"):
        s = begin(RIGS[rig], RigSetup(), 1, "contact")
        do(RIGS[rig], s, act("touch"))
        readings = [r for _, r in s.motion]
        assert readings[0] == readings[1] == 0
        assert readings[4] > readings[5] > 0, "it leaps and falls back"
        assert readings[-1] == s.reading(s.table if rig == "vise" else s.at)


def test_a_level_hides_what_cannot_be_seen_at_a_machine() -> None:
    """From level 2 on nothing in the scene tells how far out it is, until the run is over."""
    for rig in ("vise", "head"):
        s = begin(RIGS[rig], RigSetup(), 2, "hidden")
        scene = RIGS[rig].scene(s).model_dump()
        assert not any(scene.get(k) for k in ("crooked", "lean", "bow"))
        do(RIGS[rig], s, act("finish"))
        scene = RIGS[rig].scene(s).model_dump()
        assert any(scene.get(k) for k in ("crooked", "lean", "bow"))


# ── the holding rig ───────────────────────────────────────────────────────


def test_a_stop_in_the_way_of_the_cutter_is_hit() -> None:
    rules = RIGS["hold"]
    s = begin(rules, RigSetup(), 1, "stop")
    do(rules, s, act("stop", s.runs_out))
    do(rules, s, act("try"))
    assert s.warned
    assert s.passes[-1].off > 0
    do(rules, s, act("finish"))
    assert any("meets the stop" in r for r in result(rules, s).reasons)


def test_all_rigs_have_one_shape() -> None:
    for rig, rules in RIGS.items():
        assert rules.id == rig
        s = begin(rules, RigSetup(), 1, "shape")
        labels = [c.label for c in rules.controls(s)]
        assert len(labels) == len(set(labels)), "a control is found by its label"
        assert rules.task(s)
        assert len(rules.levels) == 3
        assert rules.scene(s).rig == rig
    assert isinstance(VISE, ViseRig)


def test_what_the_head_rig_holds_against_a_run_that_looks_good() -> None:
    """Square by the needle, but with the knee free, a burr on the table, or without a second reading."""
    rules = RIGS["head"]
    s = practised(rules, RigSetup(), 3, "worn")
    assert result(rules, s).passed
    s.clamped = False
    assert any("knee is free" in r for r in result(rules, s).reasons)
    s.clamped, s.burr = True, "left"
    assert any("burr at the left" in r for r in result(rules, s).reasons)
    s.burr, s.finished = "", False
    do(rules, s, act("wrench", "top-left", "looser"))
    do(rules, s, act("wrench", "top-left", "tighter"))
    assert any("not read again after the last tightening" in r for r in result(rules, s).reasons)
    do(rules, s, act("wrench", "top-left", "looser"))
    assert any("bolts are not tight" in r for r in result(rules, s).reasons)


def test_bolts_drawn_up_one_after_the_other_pull_more_than_by_turns() -> None:
    rules = RIGS["vise"]
    moved: dict[str, list[float]] = {"alone": [], "by turns": []}
    for n in range(20):
        for way, offs in moved.items():
            s = begin(rules, RigSetup(), 2, f"pull{n}")
            for end in ("left", "right"):
                for _ in range(2):
                    do(rules, s, act("wrench", end, "looser"))
            before = s.angle
            order = ["left"] * 3 + ["right"] * 3 if way == "alone" else ["left", "right"] * 3
            for end in order:
                do(rules, s, act("wrench", end, "tighter"))
            assert s.tight
            offs.append(abs(s.angle - before))
    assert sum(moved["alone"]) > 4 * sum(moved["by turns"])


@pytest.mark.parametrize(("lag", "pulls"), [(0, 0.0), (1, 0.0015), (2, 0.014), (3, 0.04)])
def test_a_bolt_pulls_by_how_far_the_other_one_lags(lag: int, pulls: float) -> None:
    """As millimetres over the jaw, within three tenths; each end pulls its own way and by its own measure."""
    rules = RIGS["vise"]
    for n in range(10):
        s = begin(rules, RigSetup(), 2, f"lag {n}")
        s.chip, s.bolts = False, {"left": 3 - lag, "right": 2}
        before = s.angle
        do(rules, s, act("wrench", "right", "tighter"))
        moved, most = abs(s.angle - before) * s.setup.jaw, pulls * abs(s.pull["right"])
        assert 0.7 * most - 1e-9 <= moved <= 1.3 * most + 1e-9


def test_a_name_in_an_action_is_short() -> None:
    assert act("wrench", "l" * 40).on == "l" * 40
    with pytest.raises(ValueError, match="40"):
        act("wrench", "l" * 41)


def test_tapping_scatters_by_a_quarter_and_no_more() -> None:
    rules = RIGS["vise"]
    moves = set()
    for n in range(30):
        s = begin(rules, RigSetup(), 1, f"tap{n}")
        for a in (act("wrench", "right", "looser"), act("wrench", "right", "looser"), act("wrench", "left", "looser")):
            do(rules, s, a)
        end = 70.2
        before = s.face(end)
        do(rules, s, act("tap", "right", "away", 2))
        moves.add(round(abs(s.face(end) - before), 6))
    assert len(moves) > 20
    assert 0.05 * 0.7 < min(moves) < max(moves) < 0.05 * 1.3


def test_the_strap_is_judged_by_where_its_bolt_and_heel_stand() -> None:
    rules = RIGS["hold"]
    good = practised(rules, RigSetup(), 3, "strap")
    assert result(rules, good).passed
    good.finished = False
    for a, words in ((act("bolt", "far"), "bolt"), (act("heel", "lower"), "heel")):
        do(rules, good, a)
        do(rules, good, act("tighten"))
        assert any(words in r.lower() for r in result(rules, good).reasons), words


def test_a_rough_face_wants_the_round_bar_and_a_good_one_does_not() -> None:
    rules = RIGS["hold"]
    for level, wanted in ((1, False), (2, True)):
        s = practised(rules, RigSetup(), level, "bar")
        assert s.bar is wanted
        s.finished = False
        for a in (act("bar"), act("tighten"), act("tap"), act("slips")):
            do(rules, s, a)
        assert any("round bar" in r for r in result(rules, s).reasons)
