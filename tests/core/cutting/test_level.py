"""A level arbor: what is planned for it and what is not, its run card, and the dry run of that.

Where the cutter has to stand is taken from the part and the width of the cutter here, not from the card.
"""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.cutting.card import run_card
from incudo.core.cutting.dry.causes import Code
from incudo.core.cutting.dry.dry_run import DryRun, with_slip
from incudo.core.cutting.dry.slips import slips
from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.cutting.trouble import signs
from incudo.core.locating.climb import Milling
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.planning.course import Course
from incudo.core.planning.feed import feed_of
from incudo.core.planning.file import HeldIn, OperationKind
from incudo.core.planning.gripping import grip_of
from incudo.core.planning.judge import judge
from incudo.core.planning.own import own_plan
from incudo.core.planning.picture import frame_of
from incudo.core.planning.piece import piece_of
from incudo.core.planning.rules.base import FaultWeight
from incudo.core.planning.settle import _between_walls, path_of, run_in
from incudo.core.planning.shop import PlanShop
from incudo.core.planning.strapping import HIGH
from incudo.core.setup.holding import CLEARANCE
from incudo.core.shop.cutter import Cutter, CutterKind
from tests.core.cutting.test_worker import rings_of, where_cut, work_through
from tests.core.planning import shops
from tests.core.planning.spoiling import Spoil, adds, holds, own, sets

F = Fraction
Op = OperationKind
JOBS = [
    ("tee", "skua"),
    ("ledge", "skua"),
    ("keel-step-gauge", "whimbrel"),
    ("tide-block", "whimbrel"),
    ("slip-pad", "skua"),
]


def course_of(part: str, machine: str, *spoils: Spoil, **shop: Any) -> Course:
    plan = own(machine, part)
    for spoil in spoils:
        plan = spoil(plan)
    return Course(shops.piece(part), plan, replace(shops.on(machine, part), **shop))


def rings(machine: str, course: Course) -> Any:
    return rings_of(machine, course.piece.part.file.material, F(1, 9), turned=False, rising=True)


def heavy(course: Course) -> dict[str, str]:
    return {f.code: f.words for f in judge(course) if f.weight is not FaultWeight.COSTS}


@pytest.mark.parametrize(("part", "machine"), JOBS)
def test_its_own_plan_has_a_card_that_comes_to_every_place(part: str, machine: str) -> None:
    course = course_of(part, machine)
    assert heavy(course) == {}
    assert all(s.cutter is None or s.cutter.on_arbor for s in course.stages)
    dials = rings(machine, course)
    steps = run_card(course, dials, {})
    stood = work_through(steps, dials, F(70))
    fine = max(float(r.dial.division) for r in dials.values()) / 4 + 1e-3
    for stage in course.stages:
        mine = [s for s in steps if s.operation == stage.operation.id]
        if stage.kind in (Op.FACE, Op.STEP, Op.SLOT):
            where_cut(stage, stood[mine[-1].id], fine)
            assert frame_of(course, stage, course.settled[stage.index], large=True).cutter


@pytest.mark.parametrize(("part", "machine"), JOBS)
def test_every_cut_covers_its_width_and_no_more_and_is_clear_at_both_ends(part: str, machine: str) -> None:
    course = course_of(part, machine)
    seen = 0
    for stage in course.stages:
        if stage.cutter is None:
            continue
        path, half = course.settled[stage.index].path, float(stage.cutter.width) / 2
        (x0, x1), (y0, y1) = stage.from_above or ((0, 0), (0, 0))
        lanes = sorted({y for _, y in path})
        assert lanes[0] - half <= y0 + 1e-6
        assert lanes[-1] + half >= y1 - 1e-6
        assert all(b - a <= 2 * half + 1e-6 for a, b in pairwise(lanes)), "nothing left between"
        for out, wall, edge in ((-1, y0, lanes[0] - half), (1, y1, lanes[-1] + half)):
            if not stage.is_open(1, out):
                assert edge == pytest.approx(wall, abs=1e-6), "a wall is touched and not cut"
        # at full depth the circle of the cutter is beside the work before it is fed in, and after
        radius, deep = float(stage.cutter.real) / 2, float(stage.sizes[3])
        chord = math.sqrt(radius**2 - (radius - deep) ** 2)
        assert min(x for x, _ in path) <= x0 - chord
        assert max(x for x, _ in path) >= x1 + chord
        seen += 1
    assert seen


@given(st.integers(200, 6000), st.integers(200, 2500))
def test_a_slot_of_any_width_has_nothing_left_between_its_passes(wide: int, diameter: int) -> None:
    """In hundredths of a mm, for a cutter that stands as well as for one on an arbor."""
    w, d = max(wide, diameter + 5) / 100, diameter / 100
    inner = _between_walls(w, d)
    assert (w - d) / (inner + 1) <= d * 0.75 + 1e-9
    assert inner == 1 or (w - d) / inner > d * 0.75


def test_a_wide_slot_is_cut_by_a_narrow_cutter_pass_beside_pass() -> None:
    """40 wide with a cutter of 10: both walls last, and never more than three quarters of it between."""
    course = course_of("tee", "skua")
    stage = next(s for s in course.stages if s.kind is Op.SLOT)
    front = stage.block[0][1]
    stage.__dict__["_spans"] = (stage.spans(0), (front + 5, front + 45), stage.spans(2))
    lanes = [y - front for _, y in path_of(stage, F(10))[::2]]
    assert lanes[-2:] == [10.0, 40.0]
    assert lanes[:-2] == pytest.approx([17.5, 25, 32.5])


@pytest.mark.parametrize(
    ("direction", "table", "kind"), [("", "right", Milling.CONVENTIONAL), ("climb", "left", Milling.CLIMB)]
)
def test_its_teeth_come_up_out_of_the_work_in_a_conventional_cut(direction: str, table: str, kind: Milling) -> None:
    """Seen from the front it turns as a clock does: its lowest teeth go left, against a table that goes right."""
    course = course_of("tee", "skua", sets("slot", "keel slot", direction=direction))
    stage = next(s for s in course.stages if s.kind is Op.SLOT)
    n = course.settled[stage.index]
    assert feed_of(stage, n.direction)[2] is kind
    steps = [s for s in run_card(course, rings("skua", course), {}) if s.operation == stage.operation.id]
    assert any(f"table to the {table}" in line for s in steps if s.kind is StepKind.PASS for line in s.do)
    # 0.2 mm of play in X: 5.75 mm in one pass is no light cut
    worn = [h.model_copy(update={"backlash": "0.2"}) for h in course.shop.machine.handles]
    machine = course.shop.machine.model_copy(update={"handles": tuple(worn)})
    assert ("climb" in heavy(replace(course, shop=replace(course.shop, machine=machine), memo={}))) is bool(direction)


def steps_of(course: Course, machine: str, kind: StepKind) -> list[RunStep]:
    return [s for s in run_card(course, rings(machine, course), {}) if s.kind is kind]


def test_the_card_says_how_it_is_put_on_and_how_its_side_is_touched() -> None:
    course = course_of("tee", "skua")
    cutter = steps_of(course, "skua", StepKind.CUTTER)[0]
    assert "on the arbor with its outer support" in cutter.do[0]
    assert any("spindle turns clockwise" in line for line in cutter.do)
    assert any("support goes on before the arbor nut" in c for c in cutter.cautions)
    zeros = [s for s in steps_of(course, "skua", StepKind.ZERO) if s.zero and s.zero.axis == "y"]
    slot = next(s for s in course.stages if s.kind is Op.SLOT)
    first = next(s for s in zeros if s.operation == slot.operation.id)
    assert first.zero is not None
    # the rear of the work lies at the fixed jaw; the cutter of 10 stands 5 beyond it
    assert float(first.zero.place) == slot.block[1][1] + 5
    assert (first.zero.side, first.zero.by) == (-1, "side")
    assert any("isolated" in c for c in first.cautions)
    sets_up = steps_of(course, "skua", StepKind.SET)
    assert any("reaches over the work" in line for line in sets_up[0].do)
    assert all("Locked while it cuts: Y, Z." in s.do for s in sets_up)
    cures = {s.id: " ".join(cure for _, cure in s.causes) for s in signs(course, None)}
    assert "Close to the column" in cures["chatter"]
    assert "Clean the collars" in cures["knock"]
    standing = signs(course_of("tee", "gannet"), None)
    assert all("collars" not in cure for s in standing for _, cure in s.causes)


@pytest.mark.parametrize(("part", "machine"), JOBS)
def test_who_does_what_the_card_says_gets_a_good_part_and_a_slip_is_named(part: str, machine: str) -> None:
    course = course_of(part, machine)
    plain = DryRun(course, rings(machine, course))
    good = DryRun(course, plain.rings, cards=plain.cards).finish()
    assert not good.causes
    out = good.came_out()
    assert out
    assert all(c.good for c in out)
    seen: dict[Code, int] = {}
    for slip in slips(course, plain.steps, plain.slides):
        seen[slip.code] = seen.get(slip.code, 0) + 1
        if seen[slip.code] > 2:
            continue
        run = with_slip(plain, slip)
        assert (run.causes[0].step, run.causes[0].code) == (slip.step, slip.code)
        assert all(any(x.step == slip.step for x in c.causes) for c in run.came_out() if not c.good), slip
    assert {Code.CHIP, Code.JAW, Code.RING_SLIPPED, Code.NOT_TURNED, Code.MISCOUNTED} <= set(seen)
    assert not {Code.HEAD, Code.PULLED, Code.HALF_TIP} & set(seen)


def test_a_wider_cutter_than_the_card_says_is_named_by_its_width() -> None:
    course = course_of("ledge", "skua")
    plain = DryRun(course, rings("skua", course))
    slip = next(s for s in slips(course, plain.steps, plain.slides) if s.code is Code.CUTTER)
    stage = next(s for s in course.stages if slip.step.startswith(f"{s.operation.id}."))
    assert stage.cutter is not None
    assert slip.hands.wide in {F(6), F(8), F(10), F(12), F(16), F(20)} - {stage.cutter.width}
    assert with_slip(plain, slip).causes[0].code is Code.CUTTER


# ── what goes wrong ───────────────────────────────────────────────────────


def test_each_spindle_has_cutters_of_its_own() -> None:
    mill = "End mill 10 mm, 2 flutes"
    level = course_of("tee", "skua", sets("slot", "keel slot", cutter=mill))
    assert mill in level.shop.crib
    assert "drives what sits on its arbor" in heavy(level)["other-spindle"]
    standing = replace(shops.on("gannet", "tee"), crib={**shops.crib(), **shops.arbor()})
    plan = own("gannet", "tee")
    wrong = sets("slot", "keel slot", cutter="Side and face cutter 100 mm, 10 mm wide")(plan)
    assert "Gannet has none" in heavy(Course(shops.piece("tee"), wrong, standing))["other-spindle"]


def test_what_comes_down_from_above_is_for_another_machine() -> None:
    course = course_of("slip-pad", "skua", adds("side", "left", "face", "top", cutter="End mill 16 mm, 4 flutes"))
    assert {"horizontal"} == {c for c in heavy(course) if c in ("horizontal", "other-spindle", "no-cutter")}
    drilled = own_plan(shops.piece("hasp"), shops.on("skua", "hasp"))
    assert drilled.plan is None
    assert drilled.reasons[:2] == (
        "Spot, eye: no cutter comes from above on Skua.",
        "Drill, eye: no cutter comes from above on Skua.",
    )


def test_a_cut_runs_along_x_from_end_to_end() -> None:
    course = course_of("tee", "skua")
    held = next(h for h, stages in course.held if any(s.kind is Op.SLOT for s in stages))
    turned = holds(1 + course.plan.holdings.index(held), fixed="left")
    assert "across-arbor" in heavy(course_of("tee", "skua", turned))
    closed = {
        "kind": "slot",
        "name": "key",
        "face": "top",
        "along": "x",
        "at": "25",
        "width": "10",
        "depth": "4",
        "end": "50",
    }
    part = piece_of(part_of(read_part(shops.own_part("razor", closed) | {"features": [closed]})))
    assert own_plan(part, shops.on("skua", "razor")).plan is None


def just_so(s: PlanShop, name: str, diameter: F) -> PlanShop:
    """The same shop with one cutter of another diameter."""
    one = s.crib[name]
    made = one.cutter.model_copy(update={"diameter": str(float(diameter)), "measured": None})
    return replace(s, crib={**s.crib, name: replace(one, cutter=made)})


@pytest.mark.parametrize("more", [0, -1])
def test_collars_clear_what_stands_beside_the_cut(more: int) -> None:
    """A slot 6 deep, a sixteenth of an inch of room and collars of 38 mm: 53.175 mm across."""
    course = course_of("tee", "skua")
    slot = next(s for s in course.stages if s.kind is Op.SLOT)
    size = 38 + 2 * (6 + CLEARANCE) + F(more, 1000)
    found = heavy(replace(course, shop=just_so(course.shop, slot.operation.cutter, size), memo={}))
    assert ("arbor-low" in found) is bool(more)


def test_collars_are_forty_wide_where_nobody_says_how_it_is_held() -> None:
    shop, cutter = (
        shops.on("skua", "tee"),
        Cutter.model_validate(
            {
                "name": "one",
                "kind": "side and face cutter",
                "unit": "mm",
                "diameter": "100",
                "length": "8",
                "owned": 1,
                "teeth": 20,
            }
        ),
    )
    assert shop.under_arbor(cutter) == 30
    assert shop.under_arbor(cutter.model_copy(update={"holder": "arbor-support"})) == 31


@pytest.mark.parametrize("more", [0, -1])
def test_collars_clear_the_jaws_and_never_a_strap(more: int) -> None:
    course = course_of("tee", "skua")
    h, stages = next((h, s) for h, s in course.held if s and s[0].kind is Op.FACE and len(s) == 2)
    grip, floor = grip_of(course, h, stages), stages[0].floor
    assert grip is not None
    assert floor is not None
    above = F(floor).limit_denominator(1000) - F(stages[0].block_at_start[0][2]).limit_denominator(1000) - grip.top
    size = 38 + 2 * (CLEARANCE - above) + F(more, 1000)
    there = just_so(course.shop, stages[0].operation.cutter, size)
    found = {f.holding for f in judge(replace(course, shop=there, memo={})) if f.code == "arbor-meets"}
    assert (h.id in found) is bool(more)
    strapped = course_of("slip-pad", "skua", holds(2, held=HeldIn.STRAPS))
    assert "the straps" in heavy(strapped)["arbor-meets"]
    assert HIGH > 30


def test_an_arbor_cutter_says_how_wide_it_is_and_has_no_stick_out() -> None:
    row = {"name": "one", "kind": "side and face cutter", "unit": "mm", "diameter": "100", "owned": 1, "teeth": 20}
    made = Cutter.model_validate({**row, "length": "12"})
    assert (made.on_arbor, made.width, made.real) == (True, 12, 100)
    for wrong in ({}, {"length": "12", "stickout": "40"}, {"length": "12", "teeth": 7}):
        with pytest.raises(ValueError, match=r"length|stickout|teeth"):
            Cutter.model_validate({**row, **wrong})
    mill = Cutter.model_validate({**row, "kind": "end mill", "diameter": "10", "teeth": 4, "length": "22"})
    assert (mill.on_arbor, mill.width) == (False, 10)


def test_how_deep_and_how_wide_it_goes_in_one_pass() -> None:
    course = course_of("tee", "skua")
    for s, n in course.milled:
        assert s.cutter is not None
        most = F(4) if s.cutter.kind is CutterKind.PLAIN else s.cutter.width
        assert max(n.depths) <= most
        assert n.direction == "conventional"
        # the run-in of a circle, from the other side: it is that far from the middle at that depth
        radius, deep = s.cutter.real / 2, s.sizes[3]
        assert float(run_in(s, s.cutter)) ** 2 == pytest.approx(float(radius**2 - (radius - deep) ** 2), rel=1e-6)
