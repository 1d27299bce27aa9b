"""What bounds of the judge decide just on them: a plan that lies on one is sound, a hair beyond it is not."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

import pytest

from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind
from incudo.core.planning.judge import judge
from incudo.core.planning.kinds import DRILLING
from incudo.core.planning.piece import exact
from incudo.core.planning.rules import cut, cutter, datum, reaching, seating
from incudo.core.planning.shop import PlanShop
from incudo.core.reckoning.holes.shared import point_length
from tests.core.planning import shops
from tests.core.planning.spoiling import Spoil, own, sets

KEEL, CLEAT, ANCHOR = "keel-step-gauge", "cleat-base", "anchor-shoe"
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
