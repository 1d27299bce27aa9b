"""Bounds of the run card and of the dry run, just on them; and what a card rarely has to say."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest

from incudo.core.cutting import holes
from incudo.core.cutting.at_work import AtWork
from incudo.core.cutting.card import run_card
from incudo.core.cutting.dry.causes import Cause, Code, Off
from incudo.core.cutting.dry.slips import slips
from incudo.core.cutting.dry.workpiece import Workpiece
from incudo.core.cutting.measure import USUAL, judge_reading
from incudo.core.cutting.slides import Slides
from incudo.core.cutting.step import Check, StepKind
from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.planning.course import Course
from incudo.core.planning.file import STOP, OperationKind, Plan
from incudo.core.planning.gripping import grip_of
from incudo.core.planning.shop import VisePlace
from incudo.core.shop.machine import Axis
from tests.core.cutting.test_dry_run import run_of
from tests.core.cutting.test_procedures import card_of
from tests.core.planning import shops
from tests.core.planning.spoiling import own

F = Fraction
HAIR = F(1, 10**9)
FINE = F(1, 80)
KEEL, CLEAT = "keel-step-gauge", "cleat-base"


def cause(size: F) -> Cause:
    return Cause("o1.pass-1", Code.BESIDE, "x", size, "", Unit.MM)


def test_what_a_dial_cannot_set_anyway_is_laid_to_nobody() -> None:
    one = cause(F(1))
    before = Off(F(1), (one,))
    assert before.then(FINE, FINE, None) == Off(FINE)
    assert before.then(FINE + HAIR, FINE, None) == Off(FINE + HAIR, (one,))
    # an act that takes another one back, but for what the dial cannot set
    assert before.then(F(2), FINE, cause(-1 + FINE)) == Off(F(2))
    two = cause(-1 + FINE + HAIR)
    assert before.then(F(2), FINE, two) == Off(F(2), (one, two))


@pytest.mark.parametrize(("more", "named"), [(F(0), True), (HAIR, False)])
def test_a_slip_of_the_unit_is_named_as_far_off_as_a_reading_usually_is(more: F, named: bool) -> None:
    check = Check(3, "the height", "z", F("23"), F("20.5"), F(20), (F("19.9"), F("20.1")), falls=True)
    read = (check.expected + USUAL + more) / MM_PER_INCH
    assert ("millimetres read as inches" in judge_reading(check, read * MM_PER_INCH**2, F(5), Unit.MM).words) is named
    assert ("inches read as millimetres" in judge_reading(check, read, F(5), Unit.MM).words) is named


def course_of(part: str, machine: str, plan: Plan | None = None, **shop: Any) -> Course:
    return Course(shops.piece(part), plan or own(machine, part), replace(shops.on(machine, part), **shop))


@pytest.mark.parametrize(("stop", "at", "side"), [("left", 0, 1), ("right", 1, -1)])
def test_a_zero_at_the_stop_stays_where_the_work_lies_against_it(stop: str, at: int, side: int) -> None:
    plan = own("petrel", CLEAT)
    holding = next(h for h in plan.holdings if any(o.kind is OperationKind.DRILL for o in h.operations))
    held = holding.model_copy(
        update={"stop": stop, "operations": tuple(o.model_copy(update={"x": STOP}) for o in holding.operations)}
    )
    plan = plan.model_copy(update={"holdings": tuple(held if h.id == held.id else h for h in plan.holdings)})
    course = course_of(CLEAT, "petrel", plan)
    found = [s for s in card_of(course, "petrel") if s.holding == held.id and s.zero and s.zero.axis == "x"]
    assert [s.do for s in found] == [("The X zero stays at the stop. Check that no chip is behind the work.",)], (
        "one zero for all of them"
    )
    zero, stage = found[0].zero, next(s for s in course.stages if s.holding.id == held.id)
    assert zero is not None
    assert (float(zero.place), zero.side, zero.by) == (stage.block_at_start[at][0], side, "stop")
    assert zero.on == stage.place.face_at(0, -side)


def bare(course: Course, depth: F) -> tuple[VisePlace, ...]:
    return tuple(VisePlace(v.name, replace(v.jaws, depth=depth)) for v in course.shop.vises)


@pytest.mark.parametrize(("more", "above"), [(F(0), False), (F(1), True)])
def test_work_that_is_level_with_the_jaws_stands_nowhere_above_them(more: F, above: bool) -> None:
    plan = own("petrel", KEEL)
    first = plan.holdings[0].model_copy(update={"parallels": "bed"})
    plan = plan.model_copy(update={"holdings": (first, *plan.holdings[1:])})
    course = course_of(KEEL, "petrel", plan)
    grip = grip_of(course, *course.held[0])
    assert grip is not None
    lying = course_of(KEEL, "petrel", plan, vises=bare(course, grip.work.height - more))
    held = next(s for s in card_of(lying, "petrel") if s.kind is StepKind.HOLD)
    assert any("above the jaws" in line for line in held.do) is above


@pytest.mark.parametrize(("wide", "words"), [("3", "nearly as wide as the spot drill"), ("6", "a little smaller")])
def test_a_spot_is_as_wide_as_its_drill_or_a_little_less_than_the_hole(wide: str, words: str) -> None:
    course = course_of("hasp", "gannet")
    stage = next(s for s in course.stages if s.kind is OperationKind.SPOT)
    assert stage.cutter is not None
    spot = replace(stage, cutter=stage.cutter.model_copy(update={"diameter": wide, "measured": None}))
    hole = next(f for f in stage.features if isinstance(f, HoleFeature))
    assert hole.diameter == "6"
    (line,) = holes._how(AtWork(course, Slides(), {}), spot, hole)
    assert words in line


@pytest.mark.parametrize(("deep", "pecks"), [(F(18), 0), (F(18) + HAIR, 4)])
def test_a_hole_of_three_diameters_is_drilled_in_one_go(deep: F, pecks: int) -> None:
    course = course_of("hasp", "gannet")
    stage = next(s for s in course.stages if s.kind is OperationKind.DRILL)
    found = list(holes._pecks(AtWork(course, Slides(), {}), stage, deep, F(6)))
    assert [line for line in found if f"{pecks} times" in line] == found
    assert len(found) == bool(pecks)


@pytest.mark.parametrize(("reading", "title"), [("22.86", "Nothing left to take"), ("22.87", "Depth of cut")])
def test_what_is_to_size_before_the_last_pass_is_left_alone(reading: str, title: str) -> None:
    """The first step of the Keel step gauge is 0.900 in over its bottom: 22.86 mm."""
    plain = run_of(KEEL, "petrel")
    measure = next(s for s in plain.steps if s.check and s.check.aim == F("22.86"))
    steps = run_card(plain.course, plain.rings, {measure.id: F(reading)})
    after = next(s for n, s in enumerate(steps) if steps[n - 1].id == measure.id)
    assert after.do[0].startswith(title)
    assert bool(after.go) is (reading != "22.86")


@pytest.mark.parametrize(("more", "creeps"), [(F(0), False), (HAIR, True)])
def test_a_table_creeps_by_more_than_a_division_or_nobody_sees_it(more: F, creeps: bool) -> None:
    plain = run_of(KEEL, "petrel")
    rings = {
        a: replace(r, dial=replace(r.dial, backlash=r.dial.division + more)) if a in (Axis.X, Axis.Y) else r
        for a, r in plain.rings.items()
    }
    found = slips(plain.course, run_card(plain.course, rings, {}), Slides.on(rings))
    assert any(s.code is Code.CREPT for s in found) is creeps


def test_the_middle_of_a_slot_lies_between_its_walls() -> None:
    course = course_of("razor", "gannet", Plan())
    part = Workpiece(course)
    walls = [n.name for n in course.piece.part.frame.named.values() if n.feature == "slot one" and "wall" in n.name]
    assert len(walls) == 2
    one = cause(F("0.2"))
    part.deep |= {walls[0]: Off(F("0.2"), (one,)), walls[1]: Off(F(0))}
    middle = next(n for n in course.piece.part.frame.named if n.startswith("slot one.") and "middle" in n)
    sign = part.shift(walls[0], 1).mm / F("0.2")
    assert abs(sign) == 1
    assert part.shift(middle, 1) == Off(sign * F("0.1"), (one,))
    assert part.shift(middle, 0) == Off()
