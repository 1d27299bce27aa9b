"""How far a cutter must stand out of its holder: against columns of metal under a disc, and both sides of its bound."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import pytest

from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind, Plan
from incudo.core.planning.judge import judge
from incudo.core.planning.kinds import MILLING
from incudo.core.planning.rules.reaching import standings_out
from incudo.core.planning.settle import path_of
from incudo.core.planning.shop import PlanShop
from incudo.core.planning.stages import Stage
from incudo.core.setup.holding import CLEARANCE
from tests.core.planning import shops
from tests.core.planning.spoiling import own, which

SHORT, LONG = "End mill 8 mm, 2 flutes", "End mill 8 mm, 2 flutes, long"


def _course(machine: str, code: str, plan: Plan | None = None, shop: PlanShop | None = None) -> Course:
    return Course(shops.piece(code), plan or own(machine, code), shop or shops.on(machine, code))


def _highest(stage: Stage, radius: float) -> float:
    """How high metal reaches under a disc that goes the cutter's way, looked at point by point."""
    assert stage.cutter is not None
    lying = stage.place.solid(stage.after)
    way = path_of(stage, stage.cutter.real)
    ends = list(pairwise(way)) if stage.kind in MILLING and len(way) > 1 else [(p, p) for p in way]
    spots = {
        (
            round(a[0] + (b[0] - a[0]) * i / 24 + r * math.cos(t), 2),
            round(a[1] + (b[1] - a[1]) * i / 24 + r * math.sin(t), 2),
        )
        for a, b in ends
        for i in range(25 if a != b else 1)
        for r in (0.0, radius * 0.5, radius * 0.98)
        for t in (2 * math.pi * k / 24 for k in range(24))
    }
    return max((m.high for x, y in spots for m in lying.column(2, (x, y, 0.0))), default=-math.inf)


@pytest.mark.parametrize(
    ("machine", "code"),
    [("gannet", "ledge"), ("petrel", "keel-step-gauge"), ("petrel", "fairlead-plate"), ("petrel", "tiller-key-shaft")],
)
def test_what_stands_beside_a_cut_is_found_from_another_direction(machine: str, code: str) -> None:
    course = _course(machine, code)
    looked = 0
    for stage, wanted in standings_out(course):
        if stage.kind not in MILLING or stage.floor is None or wanted.what != "the work":
            continue
        nose = course.shop.nose(stage.cutter.holder if stage.cutter else "")
        assert nose is not None
        rises = max(_highest(stage, float(nose) / 2) - stage.floor, 0.0)
        assert math.isclose(float(wanted.least - CLEARANCE), rises, abs_tol=0.3)
        looked += 1
    assert looked


def test_a_wall_beside_a_groove_asks_for_the_long_cutter() -> None:
    plan = own("gannet", "ledge")
    groove = which(plan, OperationKind.SLOT, "groove")
    assert groove.cutter == LONG
    wall = next(w for s, w in standings_out(_course("gannet", "ledge")) if s.operation.id == groove.id)
    # 26 of wall, 4 of groove, a sixteenth of an inch
    assert wall.least == 30 + CLEARANCE
    assert wall.what == "the work"


def _standing(shop: PlanShop, name: str, out: Fraction) -> PlanShop:
    """A shop in which a cutter stands so far out of its holder, mm."""
    there = shop.crib[name]
    cutter = there.cutter.model_copy(update={"stickout": f"{float(out):.4f}"})
    return replace(shop, crib={**shop.crib, name: replace(there, cutter=cutter)})


def _codes(course: Course) -> list[str]:
    return [f.code for f in judge(course)]


@pytest.mark.parametrize(("more", "said"), [("0", False), ("-0.001", True), ("0.001", False)])
def test_its_bound_has_two_sides(more: str, said: bool) -> None:
    plan = change.operation(which(own("gannet", "ledge"), OperationKind.SLOT, "groove").id, cutter=SHORT)(
        own("gannet", "ledge")
    )
    shop = _standing(shops.on("gannet", "ledge"), SHORT, 30 + CLEARANCE + Fraction(more))
    assert ("holder-low" in _codes(_course("gannet", "ledge", plan, shop))) is said


def test_a_narrow_holder_clears_the_wall_and_an_unknown_one_says_nothing() -> None:
    plan = change.operation(which(own("gannet", "ledge"), OperationKind.SLOT, "groove").id, cutter=SHORT)(
        own("gannet", "ledge")
    )
    shop = shops.on("gannet", "ledge")
    assert "holder-low" in _codes(_course("gannet", "ledge", plan, shop))
    # the wall begins 10 mm from the middle of the groove
    for wide, said in (("19.9", False), ("20.2", True)):
        narrow = replace(shop, noses={"collet": Fraction(wide)})
        assert ("holder-low" in _codes(_course("gannet", "ledge", plan, narrow))) is said
    unknown = shop.crib[SHORT].cutter.model_copy(update={"stickout": None})
    nothing = replace(shop, crib={**shop.crib, SHORT: replace(shop.crib[SHORT], cutter=unknown)})
    assert "holder-low" not in _codes(_course("gannet", "ledge", plan, nothing))


def test_a_plate_between_high_jaws_is_drilled_with_a_long_reach() -> None:
    """On low parallels the plate lies far below the jaws: what has to clear is the jaws, not the work."""
    plan = own("petrel", "bilge-strainer")
    drilled = which(plan, OperationKind.DRILL, "drains")
    holding = next(h for h, o in plan.each() if o.id == drilled.id)
    low = change.holding(holding.id, parallels="0.500 in")(plan)

    def least(p: Plan) -> Fraction:
        wanted = next(
            w for s, w in standings_out(_course("petrel", "bilge-strainer", p)) if s.operation.id == drilled.id
        )
        assert wanted.what == "the jaws"
        return wanted.least

    # Incudo's own plan takes the highest pair that still grips: 1.5 in
    assert least(low) - least(plan) == Fraction("25.4")
