"""Where straps stand, by points of metal and of the cutter's way, and whether two of them find room."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import pytest

from incudo.core.kernel.quantity import Length, Unit
from incudo.core.planning import strapping as straps
from incudo.core.planning.course import Course
from incudo.core.planning.file import HeldIn, OperationKind
from incudo.core.planning.judge import judge
from incudo.core.planning.settle import path_of
from incudo.core.planning.stages import Stage
from incudo.core.planning.strapping import strapping
from incudo.core.setup.holding import CLEARANCE
from tests.core.planning import shops
from tests.core.planning.spoiling import own

NOT_HERE = (OperationKind.FACE, OperationKind.SIDE)
SHEAVE, FAIRLEAD, PAD, KEEL, CHEEK = (
    "sheave-housing", "fairlead-plate", "mast-step-pad", "keel-step-gauge", "anchor-cheek",
)  # fmt: skip


def on_the_table(part: str, holding: str, machine: str = "gannet", count: int = 2) -> tuple[Course, list[Stage]]:
    """Incudo's own plan with one holding under straps, without its facing."""
    plan = own(machine, part)
    (h,) = (x for x in plan.holdings if x.id == holding)
    kept = tuple(o for o in h.operations if o.kind not in NOT_HERE)
    strapped = h.model_copy(update={"operations": kept, "held": HeldIn.STRAPS, "straps": count})
    changed = plan.model_copy(update={"holdings": tuple(strapped if x is h else x for x in plan.holdings)})
    c = Course(shops.piece(part), changed, shops.on(machine, part))
    return c, [s for s in c.stages if s.holding.id == holding]


@pytest.mark.parametrize(
    ("kit", "taken"),
    [(("80", "52", "100"), "52"), (("80", "51.9", "100"), "80"), (("30", "45"), "45"), (("160",), "160")],
)
def test_the_shortest_strap_is_taken_that_has_room_behind_the_work(kit: tuple[str, ...], taken: str) -> None:
    """For its stud and heel; in the picture it is as long as it is in the shop."""
    c, stages = on_the_table(FAIRLEAD, "h2")
    c = replace(c, shop=replace(c.shop, straps=tuple(Length(x, Unit.MM) for x in kit)), memo={})
    found = strapping(c, stages)
    assert found.long.text == taken
    for p in found.places:
        x0, y0, x1, y1 = p.strap
        assert (x1 - x0, y1 - y0)[p.axis] == pytest.approx(float(taken))


@pytest.mark.parametrize("width", ["10", "25", "45"])
def test_a_strap_is_as_wide_as_it_is_in_the_shop(width: str) -> None:
    """The wider it is, the further from the ends it stands: the whole of its nose lies on the edge."""
    c, stages = on_the_table(FAIRLEAD, "h2")
    c = replace(c, shop=replace(c.shop, strap_width=Fraction(width)), memo={})
    found = strapping(c, stages)
    (low, high), wide = (found.low, found.high), float(width)
    assert found.places
    for p in found.places:
        x0, y0, x1, y1 = p.strap
        assert (x1 - x0, y1 - y0)[1 - p.axis] == pytest.approx(wide)
        assert wide / 2 - 1e-6 <= p.along <= (high[1 - p.axis] - low[1 - p.axis]) - wide / 2 + 1e-6


def grid(box: tuple[float, float, float, float]) -> list[tuple[float, float]]:
    x0, y0, x1, y1 = box
    shares = [n / 8 for n in range(9)]
    return [(x0 + (x1 - x0) * a, y0 + (y1 - y0) * b) for a in shares for b in shares]


def away(point: tuple[float, float], path: tuple[tuple[float, float], ...], drilled: bool) -> float:
    """How far a point is from the way of the cutter's axis."""
    if drilled or len(path) == 1:
        return min(math.dist(point, p) for p in path)
    found = []
    for (ax, ay), (bx, by) in pairwise(path):
        long = (bx - ax) ** 2 + (by - ay) ** 2
        t = ((point[0] - ax) * (bx - ax) + (point[1] - ay) * (by - ay)) / long if long else 0.0
        t = min(1.0, max(0.0, t))
        found.append(math.dist(point, (ax + t * (bx - ax), ay + t * (by - ay))))
    return min(found)


@pytest.mark.parametrize(
    ("part", "holding"), [(SHEAVE, "h2"), (SHEAVE, "h3"), (FAIRLEAD, "h2"), (FAIRLEAD, "h3"), (PAD, "h3")]
)
def test_straps_stand_on_metal_that_stays_and_in_no_cutters_way(part: str, holding: str) -> None:
    c, stages = on_the_table(part, holding)
    places = strapping(c, stages).places
    assert len(places) == 2
    low, high = stages[0].block_at_start
    longest = max(high[0] - low[0], high[1] - low[1])
    assert math.dist(places[0].middle, places[1].middle) >= longest / 2
    lying = stages[-1].place.solid(stages[-1].after)
    for p in places:
        bare = 0
        for x, y in grid(p.nose):
            inside = (min(max(x, low[0] + 0.01), high[0] - 0.01), min(max(y, low[1] + 0.01), high[1] - 0.01), high[2])
            bare += not any(m.high > high[2] - 0.01 for m in lying.column(2, inside))
        assert bare <= 8, "the nose lies on metal"
        for s in stages:
            if s.cutter is None or not s.taken:
                continue
            room = float(s.cutter.real / 2 + CLEARANCE)
            path, drilled = path_of(s, s.cutter.real), bool(s.hole_spots())
            for point in grid(p.strap):
                assert away(point, path, drilled) > room - 0.05, (s.operation.id, point)


@pytest.mark.parametrize(
    ("part", "holding", "count", "found"),
    [
        (SHEAVE, "h3", 2, ""),
        (FAIRLEAD, "h3", 2, ""),
        (CHEEK, "h2", 2, "one strap finds room, on the"),
        (KEEL, "h5", 2, "no strap finds room"),
        (KEEL, "h5", 1, ""),
    ],
)
def test_two_straps_find_room_or_it_is_said(part: str, holding: str, count: int, found: str) -> None:
    c, _ = on_the_table(part, holding, count=count)
    said = [f.words for f in judge(c) if f.code == "strap-in-way"]
    assert [found in w for w in said] == ([True] if found else [])


def test_a_holder_that_comes_as_low_as_a_strap_needs_more_room() -> None:
    c, stages = on_the_table(SHEAVE, "h3")
    cutter = stages[0].cutter
    assert cutter is not None
    top = stages[0].block_at_start[1][2]
    floor = stages[0].floor
    assert floor is not None
    high = Fraction(top - floor) + Fraction(straps.HIGH)

    def reaching(out: Fraction) -> float:
        long = cutter.model_copy(update={"stickout": str(float(out / cutter.unit.in_mm))})
        changed = replace(stages[0], cutter=long)
        (ring, *_) = strapping(c, [changed]).way
        return max(y for _, y in ring) - min(y for _, y in ring)

    assert reaching(high - Fraction(1, 10)) > reaching(high + Fraction(1, 10))
