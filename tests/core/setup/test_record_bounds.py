"""Records of head and vise: what comes next, on both sides of every bound; needles through an angled lever."""

from __future__ import annotations

import math
import re
from datetime import timedelta
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH, Length, Unit
from incudo.core.setup.effect import Effect, Job, head_effects, vise_effects
from incudo.core.setup.guide import vise_words
from incudo.core.setup.jaw import JawSweep, bring_to_pivot, jumped, lever_factor
from incudo.core.setup.record import (
    Do,
    HeadPass,
    Kept,
    SetupKind,
    Stand,
    VisePass,
    counting,
    head_next,
    in_standard,
    pivot_learnt,
    standing,
    vise_next,
)
from incudo.core.setup.standard import SetupRules, Slope, ViseSchool
from incudo.core.setup.tram import HeadAxis, Sweep, lean
from tests.core.skills.records import ago

RULES = SetupRules()
JAW, HALF_THOU = Fraction(150), Length("0.0005", Unit.INCH)
STANDARD = Fraction("0.0127")
HAIR = Fraction(1, 10**6)


def jaw(rise: Fraction | str, travel: Fraction | int = 120) -> JawSweep:
    half = Fraction(travel) / 2
    return JawSweep(-half, half, Fraction(0), Fraction(rise))


def passed(rise: Fraction | str, *, tight: bool, travel: Fraction | int = 120) -> VisePass:
    return VisePass(jaw(rise, travel), tight)


def nxt(*passes: VisePass, school: ViseSchool = ViseSchool.PIVOT) -> Do:
    return vise_next(passes, school, JAW, STANDARD, Fraction(-95), "right").do


# ── the vise ──────────────────────────────────────────────────────────────


def test_a_jaw_is_true_up_to_the_standard_over_its_whole_length() -> None:
    """0.0127 over the jaw of 150 is 0.01016 over the 120 that were run."""
    at = STANDARD * 120 / 150
    assert in_standard(jaw(at), JAW, STANDARD)
    assert in_standard(jaw(-at), JAW, STANDARD)
    assert not in_standard(jaw(at + HAIR), JAW, STANDARD)
    assert not in_standard(jaw(-at - HAIR), JAW, STANDARD)


def test_read_bring_tighten_read_again_accept() -> None:
    assert nxt() is Do.READ
    assert nxt(passed("0.1", tight=False)) is Do.ADJUST
    assert nxt(passed("0.1", tight=False), passed("0.005", tight=False)) is Do.TIGHTEN
    assert nxt(passed("0.005", tight=False), passed("0.005", tight=True)) is Do.ACCEPT
    assert nxt(passed("0.005", tight=True), passed("0.005", tight=False)) is Do.TIGHTEN
    assert nxt(passed("0.005", tight=False), passed("0.1", tight=True)) is Do.ADJUST


def test_the_last_sweep_runs_over_three_quarters_of_the_jaw() -> None:
    full, short = Fraction("112.5"), Fraction("112.5") - HAIR
    assert nxt(passed("0.001", tight=True, travel=full)) is Do.ACCEPT
    found = vise_next([passed("0.001", tight=True, travel=short)], ViseSchool.PIVOT, JAW, STANDARD, Fraction(0), "left")
    assert (found.do, found.short) == (Do.READ, True)


def test_a_jump_on_tightening_means_dirt() -> None:
    """More than the standard allows over the run, between the loose sweep and the tight one."""
    allowed = STANDARD * 120 / 150
    before = jaw("0.002")
    assert not jumped(before, jaw(Fraction("0.002") + allowed), allowed)
    assert jumped(before, jaw(Fraction("0.002") + allowed + HAIR), allowed)
    loose, tight = passed("0.002", tight=False), passed(Fraction("0.002") + allowed * 2, tight=True)
    found = vise_next([loose, tight], ViseSchool.PIVOT, JAW, STANDARD, Fraction(-95), "right")
    assert found.jumped
    said = vise_words(found, tight.sweep, ViseSchool.PIVOT, "x", HALF_THOU, Fraction(-95), Fraction(1))
    assert "dirt lies underneath" in said.lines[0]
    # between two tight sweeps nothing was tightened
    again = vise_next([tight, tight], ViseSchool.PIVOT, JAW, STANDARD, Fraction(-95), "right")
    assert not again.jumped


@given(st.integers(0, 60), st.integers(-60, 60).filter(lambda n: abs(n) > 6), st.sampled_from((1, -1)), st.booleans())
def test_the_needle_is_brought_to_where_it_shows_the_true_jaw_through_an_angled_lever(
    degrees: int, hundredths: int, sense: int, left: bool
) -> None:
    """The needle shows the jaw's movement over the cosine; move the jaw as it should go, and read the needle."""
    cosine = math.cos(math.radians(degrees))
    factor = sense * Fraction(lever_factor(degrees)).limit_denominator(10**9)
    true = jaw(Fraction(hundredths, 100))
    pivot = Fraction(95 if left else -95)
    end = "left" if left else "right"
    found = vise_next([VisePass(true, tight=False)], ViseSchool.PIVOT, JAW, STANDARD, pivot, end)
    assert found.do is Do.ADJUST
    said = " ".join(vise_words(found, true, ViseSchool.PIVOT, "x", HALF_THOU, pivot, factor).lines)
    shows, to = (float(x) for x in re.findall(r"It shows (\S+) in: bring it to (\S+) in", said)[0])
    bring = bring_to_pivot(true, pivot, end)
    # to half a division of half a thou, as a needle is read
    near = 0.00013
    assert shows == pytest.approx(sense * float(bring.now / MM_PER_INCH) / cosine, abs=near)
    assert to == pytest.approx(sense * float(bring.to / MM_PER_INCH) / cosine, abs=near)
    rises = "has to rise" in said
    assert rises == ((to > shows) if to != shows else rises)


@pytest.mark.parametrize(("degrees", "taken"), [(0, True), (60, True), (60.01, False), (-0.01, False)])
def test_angles_of_a_lever_that_can_be(degrees: float, taken: bool) -> None:
    if taken:
        assert 0.5 <= lever_factor(degrees) + 1e-12 <= 1 + 1e-12
        return
    with pytest.raises(Refused, match="lever_degrees"):
        lever_factor(degrees)


# ── the head ──────────────────────────────────────────────────────────────


def swept(rise: str, axis: HeadAxis = HeadAxis.TILT, *, tight: bool) -> HeadPass:
    return HeadPass(Sweep(axis, Fraction(0), Fraction(rise), Fraction("152.4")), tight)


BOTH = (HeadAxis.TILT, HeadAxis.NOD)


def after(*passes: HeadPass) -> tuple[Do, HeadAxis, bool]:
    found = head_next(passes, BOTH, RULES.head, None)
    return found.do, found.axis, found.again


def test_both_axes_are_read_adjusted_tightened_and_read_again() -> None:
    tilt, nod = (swept("0.0254", a, tight=True) for a in BOTH)
    assert after() == (Do.READ, HeadAxis.TILT, False)
    assert after(tilt) == (Do.READ, HeadAxis.NOD, False)
    assert after(tilt, nod) == (Do.ACCEPT, HeadAxis.NOD, False)
    loose = swept("0.0254", HeadAxis.NOD, tight=False)
    assert after(tilt, loose) == (Do.TIGHTEN, HeadAxis.NOD, True)
    # an adjustment of the one takes the tight reading of the other away
    assert after(tilt, loose, nod) == (Do.READ, HeadAxis.TILT, True)
    assert after(tilt, loose, nod, tilt) == (Do.ACCEPT, HeadAxis.NOD, False)
    assert set(counting([tilt, loose, nod])) == {HeadAxis.NOD}


def test_a_head_is_square_up_to_the_standards_slope() -> None:
    """0.001 in over 6 in: over the same six inches just 0.0254 mm."""
    assert after(swept("0.0254", tight=True))[0] is Do.READ
    assert after(swept("0.0254001", tight=True))[0] is Do.ADJUST
    slope = Slope(Length("0.001", Unit.INCH), Length("6", Unit.INCH))
    assert slope.allows(Fraction("0.0508"), Fraction("304.8"))
    assert not slope.allows(Fraction("0.0508") + HAIR, Fraction("304.8"))
    assert slope.over(Fraction("304.8")) == Fraction("0.0508")


@given(st.integers(0, 400), st.integers(-50, 50).filter(bool), st.integers(-50, 50).filter(bool))
def test_a_nod_that_is_turned_tells_where_it_pivots(behind: int, before: int, turned: int) -> None:
    """Turn points about a pivot behind the spindle and read both stations before and after."""
    span = 200.0
    angle = turned / 1e5

    def reading(at: float, by: float) -> Fraction:
        """The height of a station at ``at`` before the spindle, after turning by an angle about the pivot."""
        return Fraction(at * before / 1e4 + (at + behind) * by)

    sweeps = [
        HeadPass(Sweep(HeadAxis.NOD, reading(span / 2, by), reading(-span / 2, by), Fraction(200)), tight=False)
        for by in (0.0, angle)
    ]
    found = pivot_learnt(sweeps)
    assert found is not None
    assert float(found) == pytest.approx(behind, abs=1e-6)


# ── how long a setup stands ───────────────────────────────────────────────

NOW = ago(0)


def stands(kept: Kept | None, *moved: timedelta, rules: SetupRules = RULES, who: str = "one") -> Stand:
    acts = [(NOW - m, "bumped") for m in moved]
    return standing(SetupKind.VISE, kept, acts, NOW, who, rules).state


@pytest.mark.parametrize(
    ("age", "state"),
    [
        (timedelta(hours=12), Stand.STANDS),
        (timedelta(hours=12, microseconds=1), Stand.REPEAT),
        (timedelta(0), Stand.STANDS),
    ],
)
def test_a_setup_stands_for_the_hours_of_the_shop(age: timedelta, state: Stand) -> None:
    assert stands(Kept(NOW - age, "one", good=True)) is state


def test_a_setup_stands_until_something_is_moved_or_another_works_with_it() -> None:
    kept = Kept(NOW - timedelta(hours=1), "one", good=True)
    assert stands(None) is Stand.NONE
    assert stands(kept, timedelta(hours=2)) is Stand.STANDS
    assert stands(kept, timedelta(minutes=59)) is Stand.REPEAT
    assert stands(kept, timedelta(hours=1)) is Stand.STANDS, "what was moved before it was accepted was set with it"
    assert stands(kept, who="other") is Stand.REPEAT
    assert stands(kept, who="other", rules=SetupRules(same_person=False)) is Stand.STANDS
    assert stands(Kept(kept.at, "one", good=False)) is Stand.REPEAT


# ── what it does to the part ──────────────────────────────────────────────

PLATE = Job("plate", Fraction(100), Fraction(60), Fraction(30), Fraction(20), Fraction(1, 10), "width")


@given(st.integers(-80, 80), st.integers(-80, 80))
def test_a_hole_leans_both_ways_at_once(tilt: int, nod: int) -> None:
    """A drill's axis is turned by both angles: how far its end lies beside its beginning, in space."""
    span = Fraction(200)
    sweeps = {a: Sweep(a, Fraction(0), Fraction(n, 100), span) for a, n in zip(BOTH, (tilt, nod), strict=True)}
    found = next(e for e in head_effects(sweeps, Fraction(50), PLATE, Unit.MM) if e.words.startswith("holes"))
    beside = math.hypot(30 * tilt / 100 / 200, 30 * nod / 100 / 200)
    assert found.mm == pytest.approx(beside)
    assert found.mm >= max(lean(s.angle, Fraction(30)) for s in sweeps.values()) - 1e-12


@pytest.mark.parametrize(
    ("share", "words"),
    [
        (None, ""),
        (0.0499, "next to nothing of what the drawing allows"),
        (0.05, "5 % of the narrowest limits"),
        (1.0, "100 % of the narrowest limits"),
        (1.01, "1.0 times the narrowest limits: this cannot be in"),
    ],
)
def test_how_much_of_the_drawing_an_effect_takes_up(share: float | None, words: str) -> None:
    assert Effect("x", 1.0, share).share_words == words


def test_a_vises_taper_over_the_job_or_over_the_jaw() -> None:
    sweep = jaw("0.06")
    over = [e.mm for e in vise_effects(sweep, PLATE, JAW, Unit.MM)]
    assert over == pytest.approx([0.05, 0.03])
    assert vise_effects(sweep, PLATE, JAW, Unit.MM)[0].share == pytest.approx(0.5)
    (bare,) = vise_effects(sweep, None, JAW, Unit.MM)
    assert bare.mm == pytest.approx(0.075)
    assert bare.share is None


@pytest.mark.parametrize(("rise", "fine"), [("0.3", True), ("0.301", False)])
def test_a_head_may_be_asked_to_stand_within_a_twentieth_of_its_span(rise: str, fine: bool) -> None:
    def ask() -> SetupRules:
        return SetupRules(head_rise=rise, head_span="6")

    if fine:
        assert ask().head_rise == rise
    else:
        with pytest.raises(ValueError, match="at most a twentieth"):
            ask()


@pytest.mark.parametrize("sign", [1, -1])
def test_readings_that_differ_by_the_span_are_no_sweep(sign: int) -> None:
    span = Fraction(150)
    assert Sweep(HeadAxis.TILT, Fraction(0), sign * (span - Fraction(1, 1000)), span).rise * sign < span
    with pytest.raises(Refused, match="less than the span"):
        Sweep(HeadAxis.TILT, Fraction(0), sign * span, span)
