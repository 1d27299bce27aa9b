"""The rigs of finding: what each mistake does to the true place, and that the reason for it is named."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.locating.climb import Milling, milling
from incudo.core.locating.dial import Turning
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, RigSetup, State, begin, do, practised, result
from incudo.core.practice.rigs.bore import BoreState
from incudo.core.practice.rigs.edge.advice import approach
from incudo.core.practice.rigs.edge.state import EdgeState
from incudo.core.practice.rigs.handle import HandleState
from incudo.core.practice.rigs.quiz import QuizState
from incudo.core.practice.rigs.reading import ReadingPicture
from incudo.core.practice.rigs.slide import Slide
from incudo.core.shop.machine import Way

F = Fraction
seeds = st.text("abcdefgh0123456789", min_size=1, max_size=8)
METRIC = RigSetup(unit=Unit.MM)


def act(do_: str, on: str = "", way: str = "", by: float = 0) -> Action:
    return Action(do=do_, on=on, way=way, by=by)


def follow(rig: str, s: State, until: str) -> None:
    """The rig's own advice until it says to do this."""
    while True:
        a = RIGS[rig].advice(s).action
        if a.do == until:
            return
        do(RIGS[rig], s, a)


def turn_to(rig: str, s: State, slide: Slide, screw: Fraction) -> None:
    """Straight to a screw place, without a thought for the slack."""
    while slide.screw != screw:
        by = screw - slide.screw
        do(RIGS[rig], s, slide.press(1 if by > 0 else -1, abs(by)))


# ── the handle ────────────────────────────────────────────────────────────


@given(seeds)
def test_a_place_come_to_from_the_wrong_side_is_off_by_the_backlash(seed: str) -> None:
    s = begin(RIGS["handle"], METRIC, 2, seed)
    assert isinstance(s, HandleState)
    for _ in range(3):
        target = s.target
        assert target is not None
        turn_to("handle", s, s.slide, target)
        do(RIGS["handle"], s, act("here"))
    do(RIGS["handle"], s, act("finish"))
    second = s.stood[1] - s.places[1]
    assert abs(second - s.slide.dial.backlash) <= s.slide.dial.division / 4
    if s.slide.dial.backlash > s.slide.dial.division * 2:
        found = result(RIGS["handle"], s)
        assert not found.passed
        assert "slack not taken up" in " ".join(found.reasons)


@given(seeds)
def test_a_lost_turn_is_called_a_lost_turn(seed: str) -> None:
    s = begin(RIGS["handle"], METRIC, 1, seed)
    assert isinstance(s, HandleState)
    assert s.target is not None
    turn_to("handle", s, s.slide, s.target + s.slide.dial.turn)
    do(RIGS["handle"], s, act("here"))
    do(RIGS["handle"], s, act("finish"))
    reasons = " ".join(result(RIGS["handle"], s).reasons)
    assert "1 whole turn miscounted" in reasons
    assert "2 of 3 places were missed" in reasons


def test_half_a_division_off_is_as_near_as_a_dial_is_set() -> None:
    s = begin(RIGS["handle"], METRIC, 1, "near")
    place = s.places[0]
    near = s.slide.dial.division / 2
    for off, good in ((near, True), (-near, True), (near + Fraction(1, 1000), False)):
        s.stood = [place + off]
        (found,) = RIGS["handle"]._stood(s)[:1]
        assert found.good is good, off


def test_what_the_table_truly_did_is_hidden_until_the_end() -> None:
    s = begin(RIGS["handle"], RigSetup(), 2, "hidden")
    follow("handle", s, "here")
    do(RIGS["handle"], s, act("here"))
    assert RIGS["handle"].scene(s).stood == ()
    assert RIGS["handle"].scene(s).readout == ""
    do(RIGS["handle"], s, act("finish"))
    assert RIGS["handle"].scene(s).stood[0].good


@given(seeds)
def test_somebody_leans_on_the_handle_and_a_careful_hand_comes_again(seed: str) -> None:
    s = begin(RIGS["handle"], RigSetup(), 3, seed)
    assert isinstance(s, HandleState)
    leaned = 0
    while not s.finished:
        do(RIGS["handle"], s, RIGS["handle"].advice(s).action)
        leaned += "leaned" in s.said
    assert leaned == 1
    assert all(abs(a - p) <= s.slide.dial.division / 4 for a, p in zip(s.stood, s.places, strict=True))


# ── the edge ──────────────────────────────────────────────────────────────


def edge_run(seed: str, level: int = 1) -> EdgeState:
    s = begin(RIGS["edge"], RigSetup(), level, seed)
    assert isinstance(s, EdgeState)
    return s


@given(seeds)
def test_half_the_tip_forgotten_is_named(seed: str) -> None:
    s = edge_run(seed)
    follow("edge", s, "raise")
    do(RIGS["edge"], s, act("zero"))
    do(RIGS["edge"], s, act("finish"))
    found = result(RIGS["edge"], s)
    assert not found.passed
    assert "half the tip was not taken off" in " ".join(found.reasons)
    assert s.zeroed is not None
    assert abs(abs(s.zeroed - s.edge) - s.half) <= s.slide.dial.division


@given(seeds)
def test_a_chuck_makes_it_kick_early_by_its_run_out(seed: str) -> None:
    s = edge_run(seed)
    while RIGS["edge"].advice(s).action.do in ("deburr", "finder"):
        do(RIGS["edge"], s, RIGS["edge"].advice(s).action)
    do(RIGS["edge"], s, act("holder", "chuck"))
    do(RIGS["edge"], s, act("speed", by=1000 if s.finder == "kick-in" else 600))
    s.holder = "collet"
    follow("edge", s, "raise")
    clean = s.touched[-1]
    s.touched, s.raised = [], False
    s.holder = "chuck"
    while not s.kicked or s.noted:
        do(RIGS["edge"], s, approach(s).action)
    assert abs(s.side * (clean - s.slide.screw) - s.runout) <= s.slide.dial.division


def test_a_burr_a_bent_tip_and_speed_are_faults_or_errors() -> None:
    s = edge_run("burr", 2)
    do(RIGS["edge"], s, act("finder", "kick-in"))
    do(RIGS["edge"], s, act("holder", "collet"))
    do(RIGS["edge"], s, act("speed", by=1000))
    do(RIGS["edge"], s, act("deburr"))
    assert "nowhere near" in s.faults[0].words
    s = edge_run("burr", 2)
    do(RIGS["edge"], s, act("finder", "kick-in"))
    do(RIGS["edge"], s, act("holder", "collet"))
    do(RIGS["edge"], s, act("speed", by=2000))
    assert "flies off" in s.faults[0].words
    do(RIGS["edge"], s, act("speed", by=1000))
    towards = s.slide.dial.turning(s.side)
    for _ in range(12):
        do(RIGS["edge"], s, act("turn", s.slide.axis, f"{towards}-turn"))
    assert "the tip is bent" in s.faults[-1].words
    assert not result(RIGS["edge"], s).passed


@pytest.mark.parametrize("seed", ["bend", "bend 2", "bend 3"])
def test_a_tip_is_bent_when_it_is_pushed_a_millimetre_and_a_half_into_the_work(seed: str) -> None:
    s = edge_run(seed)
    for a in (act("finder", "kick-in"), act("holder", "collet"), act("deburr"), act("speed", by=1000)):
        do(RIGS["edge"], s, a)
    towards, before = s.slide.dial.turning(s.side), Fraction(1)
    while not any("the tip is bent" in f.words for f in s.faults):
        before = s.gap(s.slide.at)
        do(RIGS["edge"], s, act("turn", s.slide.axis, f"{towards}-{'one' if before < -1 else 'ten'}"))
    assert s.gap(s.slide.at) < -Fraction(3, 2) <= before


def test_a_wrong_speed_kicks_late() -> None:
    s = edge_run("late")
    follow("edge", s, "raise")
    right = s.touched[-1]
    slow = edge_run("late")
    for a in (act("deburr"), act("finder", "kick-in"), act("holder", "collet"), act("speed", by=300)):
        do(RIGS["edge"], slow, a)
    while not slow.kicked:
        do(RIGS["edge"], slow, act("turn", slow.slide.axis, f"{slow.slide.dial.turning(slow.side)}-one"))
    assert abs(slow.side * (slow.slide.screw - right) - slow.late) <= slow.slide.dial.division


# ── the bore ──────────────────────────────────────────────────────────────


@given(seeds, st.integers(1, 3))
def test_the_practised_hand_stands_central_and_needs_few_passes(seed: str, level: int) -> None:
    s = practised(RIGS["bore"], RigSetup(), level, seed)
    assert isinstance(s, BoreState)
    assert max(abs(v) for v in s.off) <= s.allowed + F("0.0064")
    assert len(s.passes) <= 4


def test_moving_the_wrong_way_doubles_the_error_and_is_not_to_standard() -> None:
    s = begin(RIGS["bore"], RigSetup(), 1, "wrong way")
    assert isinstance(s, BoreState)
    for a in ("isolate", "swing"):
        do(RIGS["bore"], s, act(a))
    before = s.passes[-1].off
    assert s.aim is not None
    for slide, aim in ((s.x, s.aim[0]), (s.y, s.aim[1])):
        by = slide.screw - aim
        turn_to("bore", s, slide, slide.screw + by - (slide.dial.backlash if by < 0 else 0))
    do(RIGS["bore"], s, act("swing"))
    assert s.passes[-1].off > before
    do(RIGS["bore"], s, act("zero"))
    do(RIGS["bore"], s, act("finish"))
    assert not result(RIGS["bore"], s).passed


def test_a_spindle_that_is_not_isolated_ends_the_standard() -> None:
    s = begin(RIGS["bore"], RigSetup(), 1, "live")
    do(RIGS["bore"], s, act("swing"))
    assert s.faults[0].critical


def test_far_off_the_needle_stands_at_its_end_until_it_is_centred_roughly() -> None:
    s = begin(RIGS["bore"], RigSetup(), 2, "far")
    assert isinstance(s, BoreState)
    do(RIGS["bore"], s, act("isolate"))
    do(RIGS["bore"], s, act("swing"))
    assert s.passes == []
    assert "end of its travel" in s.said
    do(RIGS["bore"], s, act("rough"))
    do(RIGS["bore"], s, act("swing"))
    assert len(s.passes) == 1


# ── questions ─────────────────────────────────────────────────────────────


@pytest.mark.parametrize("rotation", tuple(Turning))
@pytest.mark.parametrize("behind", [True, False])
@pytest.mark.parametrize("table", [Way.LEFT, Way.RIGHT])
def test_climb_is_when_the_tooth_goes_with_the_work(rotation: Turning, behind: bool, table: Way) -> None:
    """By the cross product: the tooth's velocity at the contact, against the work's."""
    spin = -1 if rotation is Turning.CLOCKWISE else 1
    contact_y = 1 if behind else -1
    tooth_x = -spin * contact_y
    work_x = 1 if table is Way.RIGHT else -1
    assert (milling(rotation, behind, table) is Milling.CLIMB) == (tooth_x * work_x > 0)


@given(st.sampled_from(("way", "reading")), st.integers(1, 3), seeds)
def test_questions_have_one_right_answer_and_a_wrong_one_is_explained(rig: str, level: int, seed: str) -> None:
    s = begin(RIGS[rig], METRIC, level, seed)
    assert isinstance(s, QuizState)
    for q in s.questions:
        labels = [o.label for o in q.options]
        assert len(set(labels)) == len(labels) >= 2
        wrong = next(o for o in q.options if o.id != q.right)
        do(RIGS[rig], s, act("answer", wrong.id))
        assert s.warned
        assert q.option(q.right).label in s.said
    assert not result(RIGS[rig], s).passed


@given(st.integers(1, 3), seeds)
def test_what_is_drawn_is_what_is_right(level: int, seed: str) -> None:
    s = begin(RIGS["reading"], RigSetup(), level, seed)
    assert isinstance(s, QuizState)
    for q in s.questions:
        p = q.picture
        assert isinstance(p, ReadingPicture)
        assert (
            q.option(q.right).label.split()[0]
            == f"{p.value:.{len(q.option(q.right).label.split()[0].partition('.')[2])}f}"
        )
        if p.kind == "indicator":
            in_mm = float(MM_PER_INCH) if p.unit is Unit.INCH else 1.0
            assert p.turns * 60 * p.step + p.needle / in_mm == pytest.approx(p.value)


def test_one_slip_is_borne_and_a_critical_one_is_not() -> None:
    s = begin(RIGS["way"], RigSetup(), 3, "slips")
    assert isinstance(s, QuizState)
    plain = next(i for i, q in enumerate(s.questions) if not q.critical)
    for i, q in enumerate(s.questions):
        wrong = next(o.id for o in q.options if o.id != q.right)
        do(RIGS["way"], s, act("answer", wrong if i == plain else q.right))
    do(RIGS["way"], s, act("finish"))
    assert result(RIGS["way"], s).passed
    t = begin(RIGS["way"], RigSetup(), 3, "slips")
    assert isinstance(t, QuizState)
    hard = next(i for i, q in enumerate(t.questions) if q.critical)
    for i, q in enumerate(t.questions):
        wrong = next(o.id for o in q.options if o.id != q.right)
        do(RIGS["way"], t, act("answer", wrong if i == hard else q.right))
    found = result(RIGS["way"], t)
    assert not found.passed
    assert "matters at the machine" in found.reasons[0]


@pytest.mark.parametrize("seed", ["one", "two", "three", "four"])
def test_the_handle_rig_goes_one_way_at_first_and_turns_back_later(seed: str) -> None:
    """Level 1: each place lies further on. From level 2 the second lies behind the first."""
    first, second = (begin(RIGS["handle"], RigSetup(), level, seed).places for level in (1, 2))
    assert list(first) == sorted(first)
    assert second[1] < second[0]


#: What each level brings in, with the step that it is read to, in its unit.
BRINGS = {
    1: {("dial caliper", "0.001"), ("micrometer, 0 to 1 in", "0.001"), ("micrometer, 0 to 25 mm", "0.01")},
    2: {("vernier caliper, 0.02 mm", "0.02"), ("micrometer with tenths", "0.0001"),
        ("depth micrometer, 0 to 1 in", "0.001")},
    3: {("dial indicator with a turn counter", "0.0005"), ("dial indicator with a turn counter", "0.01"),
        ("micrometer with thousandths", "0.001")},
}  # fmt: skip


@pytest.mark.parametrize("level", BRINGS)
def test_a_level_asks_for_what_it_brings_in_and_for_what_came_before(level: int) -> None:
    asked: set[tuple[str, str]] = set()
    for n in range(30):
        s = begin(RIGS["reading"], RigSetup(), level, f"level {n}")
        assert isinstance(s, QuizState)
        now = {(str(q.picture.name), f"{q.picture.step:g}") for q in s.questions}
        assert now >= BRINGS[level], "what the level brings in is asked for sure"
        for q in s.questions:
            steps = q.picture.value / q.picture.step
            assert steps == pytest.approx(round(steps)), "what is shown lies on a line"
            assert len(q.option(q.right).label.split()[0].partition(".")[2]) == len(f"{q.picture.step:g}") - 2
        asked |= now
    assert asked == set().union(*(BRINGS[n] for n in range(1, level + 1)))
