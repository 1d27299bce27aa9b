"""Incudo's own plans: for every shipped part and machine, sound, as short as any, or refused with the reason."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from itertools import combinations, pairwise, permutations

import pytest

from incudo import shipped
from incudo.core.cutting.pace import plan_time
from incudo.core.kernel.errors import Refused
from incudo.core.parts.geometry.sections import volume
from incudo.core.parts.geometry.solid import Solid
from incudo.core.planning.changes import grouped, must_follow
from incudo.core.planning.course import Course
from incudo.core.planning.file import OPPOSITE, HeldIn, OperationKind, Plan, PlanHolding, PlanOperation, read_plan
from incudo.core.planning.judge import RULES, judge, judged, sound
from incudo.core.planning.own import own_plan
from incudo.core.planning.rules.base import FaultWeight
from incudo.core.planning.shop import VBlockPlace
from tests.core.planning import shops
from tests.core.planning.spoiling import own

PARTS = tuple(shipped.parts())


@pytest.mark.sweep(10)
@pytest.mark.parametrize("machine", shops.MACHINES)
@pytest.mark.parametrize("code", PARTS)
def test_every_part_on_every_machine_has_a_sound_plan_or_a_reason(code: str, machine: str) -> None:
    piece, shop = shops.piece(code), shops.on(machine, code)
    found = own_plan(piece, shop)
    assert found.plan is not None, found.reasons
    course = Course(piece, found.plan, shop)
    assert sound(judge(course))
    assert found.reasons
    assert plan_time(course).minutes > 10
    # the part that comes out is the part of the drawing: what was taken away adds up to stock less part
    left = course.stages[-1].after
    per = float(piece.unit.in_mm) ** 3
    assert math.isclose(volume(left) / per, volume(piece.part.solid), rel_tol=2e-3)
    taken = [volume(s.before) - volume(s.after) for s in course.stages]
    assert all(t >= -1e-6 for t in taken)
    assert math.isclose(sum(taken), volume(piece.stock) - volume(left), rel_tol=2e-3)


def test_its_reasons_name_what_is_cut_on_what_and_nothing_that_goes_without_saying() -> None:
    said = own_plan(shops.piece("cleat-base"), shops.on("petrel", "cleat-base")).reasons
    assert any("Drill: bolt holes; Tap: bolt holes" in r for r in said), said
    assert not any(word in r for r in said for word in ("Spot", "Deburr", ": ;", ": ."))


def test_the_same_part_and_shop_give_the_same_plan() -> None:
    piece, shop = shops.piece("cleat-base"), shops.on("petrel", "cleat-base")
    assert own_plan(piece, shop) == own_plan(piece, shop)


def test_a_table_that_is_too_short_is_named() -> None:
    """A machine that could not move so far: every plan is refused, and the reason is the travel."""
    shop = shops.on("dunlin", "fairlead-plate")
    short = replace(shop, machine=shop.machine.model_copy(update={"travel": ("70", "60", "250")}))
    found = own_plan(shops.piece("fairlead-plate"), short)
    assert found.plan is None
    assert found.reasons[1] == "Dunlin travels 70.00 mm by 60.00 mm; the vise opens to 100.00 mm."


def test_where_the_travel_is_short_the_work_is_turned_or_a_smaller_cutter_taken() -> None:
    plan = own("dunlin", "keel-step-gauge")
    course = Course(shops.piece("keel-step-gauge"), plan, shops.on("dunlin", "keel-step-gauge"))
    for _, n in course.each():
        for axis in (0, 1):
            along = [p[axis] for p in n.path]
            assert max(along, default=0) - min(along, default=0) <= course.shop.travel(axis)


def test_a_wall_that_cannot_stand_is_refused_in_words() -> None:
    found = own_plan(shops.piece("razor"), shops.on("gannet", "razor"))
    assert found.plan is None
    assert "wall" in " ".join(found.reasons)


@pytest.mark.parametrize(
    ("thick", "deep", "stands"),
    [("1", "10", True), ("1", "10.2", False), ("0.8", "5", True), ("0.78", "5", False), ("1.2", "11.9", True)],
)
def test_a_wall_stands_when_it_is_thick_enough_and_not_too_high(thick: str, deep: str, stands: bool) -> None:
    """A 32nd of an inch at least, and at most ten times as high as thick."""
    found = own_plan(shops.with_wall(thick, deep), shops.on("gannet", "razor"))
    assert (found.plan is not None) is stands


def test_a_bar_needs_its_v_block() -> None:
    bare = replace(shops.on("petrel", "tiller-key-shaft"), v_blocks=())
    found = own_plan(shops.piece("tiller-key-shaft"), bare)
    assert found.plan is None
    assert "The shop has no V-block that takes a bar of 1 in." in found.reasons


def test_a_bar_lies_in_the_first_v_block_that_takes_it_bounds_included() -> None:
    blocks = (VBlockPlace("small", Fraction(6), Fraction(20)), VBlockPlace("large", Fraction(20), Fraction(50)))
    shop = replace(shops.on("petrel", "tiller-key-shaft"), v_blocks=blocks)
    found = [shop.v_block(Fraction(x)) for x in ("5.999", "6", "20", "20.001", "50", "50.001")]
    assert [f and f.name for f in found] == [None, "small", "small", "large", "large", None]


def test_what_the_crib_lacks_is_named_with_the_nearest_cutter() -> None:
    shop = shops.without(shops.on("petrel", "cleat-base"), "Tap M8")
    found = own_plan(shops.piece("cleat-base"), shop)
    assert found.plan is None
    assert found.reasons[0].startswith("Tap, bolt holes: the crib has no cutter for it.")


# ── as short as any ───────────────────────────────────────────────────────


def _holdings(code: str) -> Iterator[PlanHolding]:
    """Every way to hold a block: what looks up, what lies at the fixed jaw, standing out for an end or not."""
    piece = shops.piece(code)
    faces = list(OPPOSITE)
    for up in faces:
        for fixed in faces:
            if fixed in (up, OPPOSITE[up]):
                continue
            for out in ("0", "0.212" if piece.unit == "in" else "7.175"):
                yield PlanHolding(id="h", up=up, fixed=fixed, stop="", soft_bar=True, spacer=True, out=out)


def _fewest(code: str, machine: str, most: int) -> bool:
    """Whether a block can be made in so many holdings, tried all ways.

    A holding does what nobody can do better: its upper face, the ends that stand free of the jaws, and every feature
    that can be reached from above, which is taken to be held well enough. What is not found here is not to be had.
    """
    piece, shop = shops.piece(code), shops.on(machine, code)
    seen: set[tuple[frozenset[str], frozenset[str]]] = set()
    level: list[tuple[frozenset[str], frozenset[str], tuple[PlanHolding, ...]]] = [(frozenset(), frozenset(), ())]
    for n in range(most):
        following = []
        for done, reached, held in level:
            for h in _holdings(code):
                now = reached | {name for name in piece.features if h.up in piece.ups[name]}
                for of in [*_subsets(piece.raw - done, h), *([frozenset[str]()] if now != reached else [])]:
                    if (done | of, now) in seen:
                        continue
                    made = h.model_copy(update={"id": f"h{n}", "operations": _facing(n, of, h)})
                    plan = Plan(holdings=(*held, made))
                    heavy = {
                        f.code
                        for f in judged(piece, plan, shop, complete=False)
                        if f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS)
                    }
                    if heavy <= {"no-zero", "no-deburr", "other-datum"}:
                        seen.add((done | of, now))
                        following.append((done | of, now, plan.holdings))
        level = following
        if any(done == piece.raw and len(reached) == len(piece.features) for done, reached, _ in level):
            return True
    return False


def _subsets(left: frozenset[str], h: PlanHolding) -> Iterator[frozenset[str]]:
    """What can be done there: the upper face, ends with it, or ends alone."""
    ends = [f for f in left if f not in (h.up, OPPOSITE[h.up], h.fixed, OPPOSITE[h.fixed])] if h.out != "0" else []
    faces = [h.up] if h.up in left else []
    for chosen in ([*faces], *([*faces, e] for e in ends), [*faces, *ends]):
        if chosen:
            yield frozenset(chosen)


def _facing(n: int, of: frozenset[str], h: PlanHolding) -> tuple[PlanOperation, ...]:
    made = []
    for i, face in enumerate(sorted(of, key=lambda f: f != h.up)):
        kind = OperationKind.FACE if face == h.up else OperationKind.SIDE
        cutter = "Shell mill 2 in" if kind is OperationKind.FACE else "End mill 3/4 in, 2 flutes"
        made.append(PlanOperation(id=f"o{n}-{i}", kind=kind, of=(face,), cutter=cutter))
    return tuple(made)


#: The shipped blocks, none of more than six features.
BLOCKS = (
    "slip-pad",
    "anchor-cheek",
    "cleat-base",
    "fairlead-plate",
    "keel-step-gauge",
    "lantern-foot",
    "bilge-strainer",
    "mast-step-pad",
    "oar-rack-rail",
    "sheave-housing",
    "thole-block",
    "tide-block",
)


@pytest.mark.sweep(2)
@pytest.mark.parametrize("code", BLOCKS)
def test_no_way_of_making_a_block_needs_fewer_holdings(code: str) -> None:
    assert len(shops.piece(code).features) <= 6
    mine = own("petrel", code)
    assert not _fewest(code, "petrel", len(mine.holdings) - 1)


def test_the_search_of_all_ways_finds_what_there_is() -> None:
    assert _fewest("slip-pad", "petrel", 2)
    assert _fewest("bilge-strainer", "petrel", 4)


@pytest.mark.parametrize("machine", shops.MACHINES)
def test_no_way_of_making_a_bar_needs_fewer_holdings(machine: str) -> None:
    """One face looks up in a holding, whatever holds the bar: all sets of faces are tried that reach every feature."""
    bars = [code for code in PARTS if shops.piece(code).bar]
    assert len(bars) == 2
    for code in bars:
        ups = shops.piece(code).ups.values()
        assert len(ups) <= 6
        least = next(n for n in range(7) if any(all(set(c) & u for u in ups) for c in combinations(OPPOSITE, n)))
        assert len(own(machine, code).holdings) == least, code


@pytest.mark.parametrize(
    ("machine", "code"), [("petrel", "oar-rack-rail"), ("fulmar", "lantern-foot"), ("gannet", "twin")]
)
def test_no_order_of_a_holding_changes_cutters_less_often(machine: str, code: str) -> None:
    piece = shops.piece(code)
    for h in own(machine, code).holdings:
        ops = [o for o in h.operations if o.cutter][:7]
        best = _changes(grouped(piece, ops))
        for order in permutations(ops):
            if all(not must_follow(piece, one, two) for i, one in enumerate(order) for two in order[i + 1 :]):
                assert _changes(order) >= best


def _changes(ops: list[PlanOperation] | tuple[PlanOperation, ...]) -> int:
    return sum(1 for a, b in pairwise(ops) if a.cutter != b.cutter)


# ── the file ──────────────────────────────────────────────────────────────


def test_a_plan_is_its_file_out_and_in() -> None:
    plan = own("petrel", "fairlead-plate")
    assert read_plan(plan.model_dump(mode="json")) == plan


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"up": "top", "fixed": "bottom"}, "holdings.0"),
        ({"held": "magnet"}, "holdings.0.held"),
        ({"out": "far"}, "holdings.0.out"),
        ({"operations": [{"id": "a", "kind": "face"}]}, "holdings.0.operations.0"),
        ({"operations": [{"id": "a", "kind": "face", "of": ["top"], "speed": -1}]}, "holdings.0.operations.0.speed"),
        ({"operations": [{"id": "h", "kind": "face", "of": ["top"]}]}, "plan"),
    ],
)
def test_a_plan_that_cannot_be_read_is_refused_at_its_place(change: dict[str, object], field: str) -> None:
    held = {"id": "h", "up": "top", "fixed": "rear", **change}
    with pytest.raises(Refused) as refused:
        read_plan({"format": "incudo-plan/1", "holdings": [held]})
    assert refused.value.errors[0].field == field


def test_every_rule_has_its_code_once_and_its_reason() -> None:
    rules = [r for subject in RULES.values() for r in subject]
    assert len({r.code for r in rules}) == len(rules)
    assert all(r.title and len(r.why) > 20 for r in rules)


def test_a_removed_face_is_only_part_of_its_stock() -> None:
    """The piece has what comes off each side: sawn ends take all of it, two alike share it."""
    piece = shops.piece("keel-step-gauge")
    much = {f: round(s.much / 25.4, 4) for f, s in piece.slabs.items()}
    assert much == {"left": 0.0875, "right": 0.0875, "front": 0.05, "rear": 0.05, "bottom": 0.0625, "top": 0.0625}
    assert isinstance(piece.finished, Solid)
    assert HeldIn.VISE == "vise"
