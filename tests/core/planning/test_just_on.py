"""What bounds of the judge decide just on them: a plan that lies on one is sound, a hair beyond it is not."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

import pytest

from incudo.core.parts.geometry.solid import Box
from incudo.core.planning.changes import must_follow
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import _size
from incudo.core.planning.file import HeldIn, OperationKind
from incudo.core.planning.judge import judge
from incudo.core.planning.kinds import DRILLING
from incudo.core.planning.piece import exact
from incudo.core.planning.rules import cut, cutter, datum, reaching, seating
from incudo.core.planning.rules.holding import grips
from incudo.core.planning.shop import PlanShop, VisePlace
from incudo.core.planning.stages import Stage, _leaving
from incudo.core.reckoning.holes.shared import point_length
from incudo.core.shop.cutter import CutterKind
from tests.core.planning import shops
from tests.core.planning.spoiling import Spoil, adds, holds, moves, own, sets, splits, which

KEEL, CLEAT = "keel-step-gauge", "cleat-base"
HAIR = Fraction(1, 10**6)
#: Lays the bound of a rule so far beyond what a plan has there.
Lay = Callable[[pytest.MonkeyPatch, Course, Fraction], None]


def _faster(patch: pytest.MonkeyPatch, course: Course, room: Fraction) -> None:
    patch.setattr(cutter, "BURNS", max(speed / wanted for _, speed, wanted in cutter._faster(course)) + room)


def _slower(patch: pytest.MonkeyPatch, course: Course, room: Fraction) -> None:
    patch.setattr(cutter, "LEAST_SPEED", min(speed / wanted for _, speed, wanted in cutter._faster(course)) - room)


def _play(patch: pytest.MonkeyPatch, course: Course, room: Fraction) -> None:
    runs = next(n.run for _, n in course.milled if n.direction == "climb")
    patch.setattr(cut, "MOST_LOST", course.shop.backlash("xy"[runs]) + room)


def _backlash(patch: pytest.MonkeyPatch, _course: Course, room: Fraction) -> None:
    patch.setattr(PlanShop, "backlash", lambda _self, _axis: -room)


def _travel(patch: pytest.MonkeyPatch, course: Course, room: Fraction) -> None:
    def across(axis: int) -> Fraction:
        along = [[p[axis] for s, n in course.each() if s.holding.id == h.id for p in n.path] for h, _ in course.held]
        return max(Fraction(max(a) - min(a)).limit_denominator(1000) for a in along if a)

    reach = [across(0), across(1)]
    patch.setattr(PlanShop, "travel", lambda _self, axis: reach[axis] + room)


def _wall(patch: pytest.MonkeyPatch, course: Course, room: Fraction) -> None:
    walls = [seating._wall(s) for s, _ in course.milled if s.taken]
    patch.setattr(seating, "MOST_WALL", 1000)
    patch.setattr(seating, "LEAST_WALL", Fraction(min(w for w in walls if w is not None)) - room)


def _errors(patch: pytest.MonkeyPatch, _course: Course, room: Fraction) -> None:
    patch.setattr(datum, "chain", lambda *_: Fraction(1, 10))
    asked = datum.drawing_datums
    patch.setattr(datum, "drawing_datums", lambda *a: [(w, n, Fraction(1, 10) + room) for w, n, _ in asked(*a)])


@pytest.mark.parametrize(
    ("code", "part", "spoil", "lay"),
    [
        ("burns", KEEL, sets("step", "first step", speed=2400), _faster),
        ("slow", KEEL, sets("step", "first step", speed=60), _slower),
        ("climb", KEEL, sets("step", "first step", direction="climb"), _play),
        ("other-side", KEEL, sets("step", "first step", approach="high"), _backlash),
        ("travel", KEEL, None, _travel),
        ("thin-wall", KEEL, None, _wall),
        ("other-datum", KEEL, sets("step", "second step", x="right"), _errors),
    ],
)
def test_just_on_the_bound_nothing_is_said(
    monkeypatch: pytest.MonkeyPatch, code: str, part: str, spoil: Spoil | None, lay: Lay
) -> None:
    plan = own("petrel", part)
    course = Course(shops.piece(part), spoil(plan) if spoil else plan, shops.on("petrel", part))
    for room, said in ((Fraction(0), False), (-HAIR, True)):
        with monkeypatch.context() as patch:
            lay(patch, course, room)
            assert (code in {f.code for f in judge(course)}) is said, room


@pytest.mark.parametrize("part", [CLEAT, "fairlead-plate", "mast-step-pad"])
def test_each_tool_goes_as_deep_as_the_quill_travels(monkeypatch: pytest.MonkeyPatch, part: str) -> None:
    """A drill that comes through goes on by its point; other tools, and what stays in the work, do not."""
    course = Course(shops.piece(part), own("petrel", part), shops.on("petrel", part))
    travel = course.shop.machine.length(course.shop.machine.quill_travel).mm
    tried = 0
    for s in course.stages:
        spans = s.spans(2)
        if s.kind not in DRILLING or s.cutter is None or spans is None:
            continue
        through = s.through and s.kind is OperationKind.DRILL
        point = point_length(s.cutter.real, Fraction(s.cutter.angle or 118)) if through else 0
        for room, said in ((Fraction(0), False), (-HAIR, True)):
            with monkeypatch.context() as patch:
                patch.setattr(reaching, "CLEAR", travel - exact(spans[1] - spans[0]) - point - room)
                short = {f.operation for f in judge(course) if f.code == "quill-short"}
            assert (s.operation.id in short) is said, (s.operation.id, room)
        tried += 1
    assert tried >= 2


def course_on(machine: str, part: str, *spoils: Spoil, **shop: Any) -> Course:
    plan = own(machine, part)
    for spoil in spoils:
        plan = spoil(plan)
    return Course(shops.piece(part), plan, replace(shops.on(machine, part), **shop))


def codes(course: Course) -> set[str]:
    return {f.code for f in judge(course)}


def test_what_is_done_twice_to_a_hole_is_not_in_the_wrong_order() -> None:
    hasp = shops.piece("hasp")
    plan = own("gannet", "hasp")
    one = which(plan, OperationKind.DRILL)
    assert not must_follow(hasp, one, one.model_copy(update={"id": "again"}))
    twice = course_on("gannet", "hasp", adds(OperationKind.DRILL, "eye", OperationKind.DRILL, "eye", cutter=one.cutter))
    assert "hole-order" not in codes(twice)


@pytest.mark.parametrize("there", [True, False])
def test_a_zero_on_a_rough_face_is_cured_by_facing_in_this_holding(there: bool) -> None:
    """The step first, with its zero on the sawn top; the top is faced after it, or in another holding."""
    spoils = [moves(OperationKind.STEP, "first step", OperationKind.FACE, "top"), sets("step", "first step", z="top")]
    course = course_on("petrel", KEEL, *spoils)
    stage = next(s for s in course.stages if "first step" in s.operation.of)
    assert not stage.true("top")
    if not there:
        apart = splits(1 + [h.id for h in course.plan.holdings].index(stage.holding.id), OperationKind.FACE, "top")
        course = course_on("petrel", KEEL, *spoils, apart)
        stage = next(s for s in course.stages if "first step" in s.operation.of)
    words, fix = datum._fix(course, stage, "z")
    assert words == "Face it first."
    assert (fix is not None) is there


def test_a_readout_does_not_care_from_which_side_it_is_come_to() -> None:
    plain = course_on("petrel", KEEL, sets("step", "first step", approach="high"))
    assert "other-side" in codes(plain)
    scales = plain.shop.machine.model_copy(update={"readout": ("x", "y")})
    measured = replace(plain, shop=replace(plain.shop, machine=scales), memo={})
    assert "other-side" not in codes(measured)


@pytest.mark.parametrize(("more", "goes"), [(Fraction(0), True), (-HAIR, False)])
def test_a_vise_takes_what_it_opens_to(more: Fraction, goes: bool) -> None:
    course = course_on("petrel", KEEL)
    wide = max(grip.work.across for _, _, grip in grips(course))
    small, large = (
        VisePlace(name, replace(course.shop.vises[0].jaws, opening=opening))
        for name, opening in (("small", wide + more), ("large", wide))
    )
    found = [f for f in judge(course_on("petrel", KEEL, vises=(small, large))) if f.code == "opening"]
    assert (found == []) is goes
    assert all("large" in f.cure for f in found)


def test_what_lies_on_parallels_as_high_as_the_jaws_is_not_gripped_at_all() -> None:
    course = course_on("petrel", KEEL)
    high = min(p.height for p in course.shop.drawer)
    shallow = tuple(VisePlace(v.name, replace(v.jaws, depth=high)) for v in course.shop.vises)
    held = [holds(n, parallels=f"{float(high):g} mm") for n in range(1, 1 + len(course.held))]
    assert "grip-gone" not in codes(course_on("petrel", KEEL, *held, vises=shallow))


@pytest.mark.parametrize(
    ("kind", "part", "asked", "more", "code"),
    [
        (OperationKind.COUNTERSINK, "fairlead-plate", "countersink", -HAIR, "sink-angle"),
        (OperationKind.COUNTERBORE, "lantern-foot", "counterbore", HAIR, "bore-size"),
    ],
)
def test_a_tool_for_the_mouth_of_a_hole_just_fits(
    kind: OperationKind, part: str, asked: str, more: Fraction, code: str
) -> None:
    course = course_on("petrel", part)
    stage = next(s for s in course.stages if s.kind is kind)
    (hole,) = stage.features
    wide = Fraction(getattr(hole, asked).diameter) * course.piece.unit.in_mm
    just = wide if kind is OperationKind.COUNTERSINK else wide + Fraction(15, 100)
    assert stage.cutter is not None
    for off, said in ((Fraction(0), False), (more, True)):
        tool = Tool(stage.cutter.kind, just + off, stage.cutter.angle)
        found = {u.code for u in _size(course.piece, kind, hole, tool)}  # type: ignore[arg-type]
        assert (code in found) is said, off


@dataclass
class Tool:
    """As much of a cutter as its size is judged by."""

    kind: CutterKind
    real: Fraction
    angle: str | None


def test_what_is_left_on_purpose_needs_no_finishing_pass() -> None:
    full = sets("step", "first step", finish="0")
    assert "no-finish" in codes(course_on("petrel", KEEL, full))
    assert "no-finish" not in codes(course_on("petrel", KEEL, full, sets("step", "first step", leave="0.5")))


def test_a_cut_that_leaves_metal_leaves_none_at_the_side_of_the_stock() -> None:
    piece = shops.piece(KEEL)
    (low, high), inside = piece.stock.extent, (piece.stock.extent[1][0] / 2, *piece.stock.extent[1][1:])
    body = _leaving(piece, Box(low, inside), 1.0)
    assert isinstance(body, Box)
    assert (body.low, body.high) == (low, (inside[0] - 1, *high[1:]))


def test_a_soft_bar_is_asked_for_in_a_vise_only(monkeypatch: pytest.MonkeyPatch) -> None:
    plan = holds(2, held=HeldIn.STRAPS, soft_bar=False)(holds(1, soft_bar=False)(own("petrel", KEEL)))
    monkeypatch.setattr(Stage, "true_at_start", lambda _self, _face: False)
    course = Course(shops.piece(KEEL), plan, shops.on("petrel", KEEL))
    asked = [h for h, stages in course.held if stages and h.held is HeldIn.VISE and not h.soft_bar]
    assert [hit.where for hit in seating.no_soft_bar(course)] == asked
    assert asked, "and strapped holdings are not among them"
