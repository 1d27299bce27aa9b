"""Every bound of holding work in a vise, on both sides of it. All in mm."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import LENGTHS, MM_PER_INCH, Unit
from incudo.core.setup.holding import (
    Cut,
    Drilled,
    Held,
    JawVise,
    ParallelPair,
    Strap,
    Weight,
    Work,
    grip_wanted,
    hold,
    stop_words,
)

F = Fraction
VISE = JawVise(jaw=F(150), depth=F(45), opening=F(120))
#: The hair by which a bound is passed.
HAIR = F(1, 1000)


ACROSS, ALONG, HEIGHT, PAIR = F(50), F(80), F(40), F(20)


def held(
    across: Fraction = ACROSS,
    along: Fraction = ALONG,
    height: Fraction = HEIGHT,
    pair: Fraction | None = PAIR,
    *cuts: Cut,
) -> Held:
    parallels = None if pair is None else ParallelPair(pair, F(6), F(150))
    return hold(Work(across, along, height), VISE, parallels, cuts)


def said(h: Held, about: str) -> list[Weight]:
    return [s.weight for s in h.said if s.about == about]


@pytest.mark.parametrize(
    ("height", "wanted"),
    [
        (F(4), F(4)),
        (F("6.35"), F("6.35")),
        (F(19), F("6.35")),
        (3 * MM_PER_INCH / 4, MM_PER_INCH / 4),
        (F(20), F(20) / 3),
        (F(60), F(20)),
    ],
)
def test_a_third_of_the_height_or_a_quarter_inch_is_gripped(height: Fraction, wanted: Fraction) -> None:
    assert grip_wanted(height) == wanted


@given(st.fractions(F(1, 10), F(300)))
def test_never_more_than_the_height_is_wanted_and_more_for_higher_work(height: Fraction) -> None:
    assert 0 < grip_wanted(height) <= height
    assert grip_wanted(height) <= grip_wanted(height * 2)


@pytest.mark.parametrize(("across", "hits"), [(F(120), []), (F(120) + HAIR, [Weight.HITS])])
def test_work_must_go_between_the_jaws(across: Fraction, hits: list[Weight]) -> None:
    assert said(held(across=across), "opening") == hits


@pytest.mark.parametrize(("across", "hits"), [(F(12), []), (F(12) - HAIR, [Weight.HITS])])
def test_both_parallels_must_go_under_it(across: Fraction, hits: list[Weight]) -> None:
    assert said(held(across=across), "parallel") == hits


@pytest.mark.parametrize(
    ("along", "weight"),
    [
        (F(50) - HAIR, [Weight.NOTE]),
        (F(50), []),
        (F(300), []),
        (F(300) + HAIR, [Weight.WEAK]),
    ],
)
def test_short_work_skews_the_jaw_and_long_work_springs(along: Fraction, weight: list[Weight]) -> None:
    """From a third of the jaws to twice their length nothing is said."""
    assert said(held(along=along), "jaw") == weight


@pytest.mark.parametrize(
    ("pair", "weak"),
    [(F(45) - F(40) / 3, []), (F(45) - F(40) / 3 + HAIR, [Weight.WEAK])],
)
def test_too_little_in_the_jaws_is_weak(pair: Fraction, weak: list[Weight]) -> None:
    assert said(held(pair=pair), "grip") == weak


@pytest.mark.parametrize(
    ("floor", "weight"),
    [
        (F(25) - HAIR, [Weight.HITS]),
        (F(25), [Weight.WEAK]),
        (F(25) + MM_PER_INCH / 16 - HAIR, [Weight.WEAK]),
        (F(25) + MM_PER_INCH / 16, []),
    ],
)
def test_a_cut_that_runs_out_keeps_a_sixteenth_above_the_jaws(floor: Fraction, weight: list[Weight]) -> None:
    """Parallels of 20 under it: the jaws' top is 25 above the work's bottom."""
    step = Cut("Step", F(0), F(20), floor)
    assert said(held(ACROSS, ALONG, HEIGHT, PAIR, step), "jaw") == weight


@pytest.mark.parametrize(("near", "far", "meets"), [(F(0), F(20), True), (HAIR, F(20), False), (F(30), F(50), True)])
def test_only_a_cut_that_reaches_a_side_meets_a_jaw(near: Fraction, far: Fraction, meets: bool) -> None:
    pocket = Cut("Pocket", near, far, F(10))
    assert bool(said(held(ACROSS, ALONG, HEIGHT, PAIR, pocket), "jaw")) is meets


def test_without_parallels_it_stands_on_the_bed() -> None:
    on_bed = held(pair=None)
    assert on_bed.proud == F(40) - F(45)
    assert on_bed.grip == F(40), "never more than the work is high"
    assert on_bed.good


@given(st.fractions(F(5), F(100)), st.fractions(F(10), F(250)), st.fractions(F(5), F(100)), st.fractions(F(3), F(44)))
def test_what_stands_proud_and_what_is_gripped_make_the_height(
    across: Fraction, along: Fraction, height: Fraction, pair: Fraction
) -> None:
    """From an independent direction: above the jaws plus inside them is all of it, where it comes up to them."""
    h = held(across, along, height, pair)
    if pair + height >= VISE.depth:
        assert h.proud + h.grip == height
    else:
        assert h.proud < 0
        assert h.grip == height


@pytest.mark.parametrize("unit", LENGTHS)
def test_the_words_are_in_the_unit_asked_for_and_nothing_else_changes(unit: Unit) -> None:
    work, pair = Work(F(50), F(80), F(40)), ParallelPair(F(42), F(6), F(150))
    one, other = hold(work, VISE, pair, unit=unit), hold(work, VISE, pair, unit=unit.other)
    assert [s.weight for s in one.said] == [s.weight for s in other.said]
    assert f" {unit}" in one.said[0].words


@pytest.mark.parametrize(("floor", "taken"), [(HEIGHT - HAIR, True), (HEIGHT, False), (HEIGHT + 5, False)])
def test_a_cut_has_its_floor_below_the_top_of_the_work(floor: Fraction, taken: bool) -> None:
    cut = Cut("Step", F(0), F(10), floor)
    if taken:
        assert held(ACROSS, ALONG, HEIGHT, PAIR, cut)
        return
    with pytest.raises(Refused, match=r"Step\.floor.*must lie below the top of the work, 40\.00 mm"):
        held(ACROSS, ALONG, HEIGHT, PAIR, cut)


@pytest.mark.parametrize(
    ("a", "c", "rise", "said"),
    [
        (F(20), F(20), F(0), []),
        (F(20) + HAIR, F(20), F(0), ["bolt"]),
        (F(20), F(60), F(4), []),
        (F(20), F(60), F(4) + HAIR, ["heel"]),
        (F(20), F(60), -HAIR, ["heel"]),
    ],
)
def test_where_a_straps_bolt_and_heel_stand(a: Fraction, c: Fraction, rise: Fraction, said: list[str]) -> None:
    """Half of the bolt's force on the work at least; the heel up to a twentieth of the strap higher, never lower."""
    assert [s.about for s in Strap(a, c, rise).said()] == said


@given(st.integers(1, 200), st.integers(1, 200))
def test_a_straps_forces_balance(a: int, c: int) -> None:
    """Moments about the heel: the bolt's force at its arm equals the work's at the strap's whole length."""
    strap = Strap(F(a), F(c))
    assert strap.share * (a + c) == c


@pytest.mark.parametrize("name", ["work_arm", "heel_arm"])
def test_a_strap_has_both_arms(name: str) -> None:
    arms = {"work_arm": F(10), "heel_arm": F(10)} | {name: F(0)}
    with pytest.raises(Refused, match=name):
        Strap(**arms)


@pytest.mark.parametrize(
    ("left", "right", "words"),
    [
        ([], [], "Stop at the left."),
        ([], ["Step"], "Stop at the left, since Step runs out at the right."),
        (["Step"], [], "Stop at the right, since Step runs out at the left."),
        (["Step"], ["Slot"], "Cuts run out at both sides (Step, Slot)"),
        (["Step"], ["Step"], "Cuts run out at both sides (Step):"),
    ],
)
def test_where_the_work_stop_goes(left: list[str], right: list[str], words: str) -> None:
    assert stop_words(left, right).startswith(words)


@pytest.mark.parametrize(
    ("across", "meets"),
    [
        (F(6) + F(5) - HAIR, True),
        (F(6) + F(5), False),
        (F(25), False),
        (F(44) - F(5), False),
        (F(44) - F(5) + HAIR, True),
    ],
)
def test_a_drill_that_comes_out_beside_a_parallel_does_not_meet_it(across: Fraction, meets: bool) -> None:
    """Work of 50 on parallels of 6: a drill of 10 passes between them up to its own flank."""
    hole = Drilled("Hole", F(40), across, F(10), F(3), F(0))
    parallels = ParallelPair(PAIR, F(6), F(150))
    found = hold(Work(ACROSS, ALONG, HEIGHT), VISE, parallels, (), (hole,))
    assert bool(said(found, "parallel")) is meets
