"""The numbers of every shipped plan from another direction: what is swept is cut; passes, times and needs add up."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from fractions import Fraction
from functools import cache
from itertools import pairwise
from typing import Any

import pytest
from shapely import LineString, box
from shapely.ops import unary_union

from incudo.core.kernel.errors import NotFound, Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.instrument import Instrument, Measure
from incudo.core.parts.geometry.solid import Revolved
from incudo.core.parts.requirement import elements
from incudo.core.planning import change, limits
from incudo.core.planning.compare import costs, differences, errors
from incudo.core.planning.course import LOCATING, Course, axes_needed
from incudo.core.planning.file import HeldIn, OperationKind, PlanOperation
from incudo.core.planning.kinds import DRILLING, HOLE_ORDER, MILLING, stages_of
from incudo.core.planning.needs import Need, needs, together_needed
from incudo.core.planning.offer import best_of, cutter_offers, emptied, offers, touched, with_operation
from incudo.core.planning.settle import Settled, settle
from incudo.core.planning.stages import Stage
from tests.core.planning import shops
from tests.core.planning.spoiling import both, holds, own, sets, which
from tests.core.planning.test_own import PARTS

F, Op = Fraction, OperationKind
KEEL, CLEAT, SHEAVE, RAIL = "keel-step-gauge", "cleat-base", "sheave-housing", "oar-rack-rail"


@cache
def course(machine: str, part: str) -> Course:
    return Course(shops.piece(part), own(machine, part), shops.on(machine, part))


def every(*kinds: OperationKind) -> Iterator[tuple[Course, Stage, Settled]]:
    """Each operation of these kinds of every shipped part, each on the next machine."""
    for number, part in enumerate(PARTS):
        c = course(shops.MACHINES[number % 4], part)
        for s, n in c.each(*kinds):
            yield c, s, n


# ---- passes


def test_passes_add_up_none_is_too_deep_and_the_last_is_the_finish() -> None:
    for c, s, n in every(Op.FACE, Op.STEP, Op.SLOT, Op.POCKET):
        if not s.taken or s.cutter is None:
            continue
        down = s.spans(2)
        assert down is not None
        assert abs(float(sum(n.depths)) - (down[1] - down[0])) < 1e-3, s.operation.id
        most = limits.depth_limit(s.kind, s.cutter, c.shop.soft)
        assert max(n.depths) <= max(most, n.finish)
        assert n.depths[-1] == n.finish or len(n.depths) == 1
        assert n.watts is None or n.watts > 0


def test_a_tenth_less_in_one_pass_is_never_fewer_passes() -> None:
    c = course("petrel", KEEL)
    stage = next(s for s, _ in c.each(Op.STEP))
    counts = []
    for depth in ("0.150", "0.100", "0.050", "0.025"):
        spoilt = Course(c.piece, sets("step", "", depth=depth)(c.plan), c.shop)
        n = spoilt.settled[stage.index]
        counts.append(len(n.depths))
        assert max(n.depths) <= F(depth) * F("25.4")
    assert counts == sorted(counts)
    assert counts[0] < counts[-1]


# ---- the way of the cutter


def test_the_cutter_comes_over_everything_that_is_cut_and_over_no_wall() -> None:
    """Its circle, drawn along the path, covers the cut; where a wall stands it does not pass it."""
    seen = set()
    for _, s, n in every(Op.STEP, Op.SLOT, Op.POCKET):
        x, y = s.spans(0), s.spans(1)
        if x is None or y is None or s.cutter is None or len(n.path) < 2:
            continue
        r = float(s.cutter.real) / 2
        lanes = [n.path] if len(n.path) % 2 else list(zip(n.path[::2], n.path[1::2], strict=True))
        swept = unary_union([LineString(p).buffer(r) for p in lanes])
        wanted = box(x[0], y[0], x[1], y[1])
        if len(n.path) % 2 == 0:
            # what rounds off at a closed end is the end's own; open ends are covered whole
            run = n.run
            closed = [not s.is_open(run, o) for o in (-1, 1)]
            inner = wanted.buffer(-1e-3) if not any(closed) else None
            if inner is not None:
                assert inner.difference(swept).area < 1e-3 * wanted.area, s.operation.id
        for axis, span in ((0, x), (1, y)):
            for out in (-1, 1):
                if s.is_open(axis, out):
                    continue
                reached = max(out * p[axis] for p in n.path) + r
                assert reached <= out * span[out > 0] + 2e-2, (s.operation.id, axis, out)
        seen.add(s.kind)
    assert seen == {Op.STEP, Op.SLOT, Op.POCKET}


def test_a_pass_begins_and_ends_clear_of_the_work() -> None:
    for _, s, n in every(Op.FACE, Op.STEP, Op.SLOT):
        if s.cutter is None or len(n.path) < 2 or s.kind is Op.POCKET:
            continue
        for out in (-1, 1):
            if s.is_open(n.run, out):
                far = max(out * p[n.run] for p in n.path)
                edge = out * s.block[out > 0][n.run]
                assert far >= edge + float(s.cutter.real) / 2 + float(limits.CLEAR) - 1e-3 or not _at_edge(s, n, out)


def _at_edge(s: Stage, n: Settled, out: int) -> bool:
    span = s.spans(n.run)
    return span is not None and abs(span[out > 0] - s.block[out > 0][n.run]) < 1e-6


def test_an_end_is_milled_with_the_whole_cutter_outside() -> None:
    for _, s, n in every(Op.SIDE):
        if not s.taken or s.cutter is None:
            continue
        slab = s.piece.slabs[s.faces[0]]
        axis = s.place.along(slab.axis)
        out = s.place.signs[axis] * slab.out
        wall = s.place.signs[axis] * slab.at
        for p in n.path:
            assert abs(out * (p[axis] - wall) - float(s.cutter.real) / 2) < 1e-3


def test_holes_are_visited_once_each() -> None:
    for _, s, n in every(*DRILLING):
        spots = sorted((round(x, 4), round(y, 4)) for x, y, _ in s.hole_spots())
        assert sorted((round(x, 4), round(y, 4)) for x, y in n.path) == spots


# ---- speed and feed


def test_the_speed_is_the_next_step_at_or_below_the_reckoned_one() -> None:
    for c, s, n in every():
        if n.wanted is None or s.kind is Op.TAP:
            continue
        spindle = c.shop.machine.spindle
        if n.too_fast is not None:
            assert n.wanted < n.too_fast
            continue
        assert n.speed is not None
        assert n.speed <= n.wanted + F(1, 2)
        if spindle.steps:
            assert n.speed in spindle.steps
            assert not any(n.speed < step <= n.wanted for step in spindle.steps)


@pytest.mark.parametrize(
    ("high", "nearest", "takes_high"), [("1.05", True, True), ("1.05", False, False), ("1.2", True, False)]
)
def test_the_nearest_school_goes_above_by_a_tenth_at_most(high: str, nearest: bool, takes_high: bool) -> None:
    c = course("petrel", KEEL)
    stage = next(s for s, _ in c.each(Op.STEP))
    wanted = c.settled[stage.index].wanted
    assert wanted
    steps = (round(wanted * F(8, 10)), round(wanted * F(high)))
    spindle = c.shop.machine.spindle.model_copy(update={"steps": steps, "ranges": ()})
    there = replace(c.shop, machine=c.shop.machine.model_copy(update={"spindle": spindle}), nearest=nearest)
    assert settle(stage, there).speed == steps[takes_high]


def test_the_chip_follows_from_feed_speed_and_teeth_and_lies_in_its_band() -> None:
    for _, s, n in every():
        if not n.feed or not n.chip or not n.band or s.cutter is None:
            continue
        teeth = 1 if s.kind in DRILLING else s.cutter.teeth or (6 if s.kind is Op.CHAMFER else 2)
        assert n.chip == n.feed / (n.speed or 1) / teeth, s.operation.id
        assert n.chip <= n.band[1], "never thicker than the band"


@pytest.mark.parametrize("share", ["0.9", "0.5", "0.25", "0.1", "0.02"])
def test_beside_a_wall_the_feed_makes_up_for_the_thin_chip(share: str) -> None:
    """Where less than half the cutter is in, a tooth meets the metal on the flank of its circle: the chip there, taken
    from two circles a tooth's feed apart, is as thick as is wanted; the feed is never more than twice as high.
    """
    c = course("petrel", KEEL)
    stage = next(s for s, _ in c.each(Op.STEP))
    d = stage.cutter.real if stage.cutter else F(0)
    width = F(share) * d
    narrow = Course(c.piece, sets("step", "", width=str(float(width / F("25.4"))))(c.plan), c.shop)
    n, wanted = settle(narrow.stages[stage.index], c.shop), c.shop.chip(stage.cutter)[0]  # type: ignore[arg-type, index]
    assert n.band is not None
    fz, r = float(n.band[0]), float(d / 2)
    x = (r**2 - (r - float(width)) ** 2) ** 0.5 if width < d / 2 else r
    thickest = r - ((x - fz) ** 2 + (r - float(width)) ** 2) ** 0.5 if width < d / 2 else fz
    raised = fz / float(wanted)
    assert 1 <= raised <= 2
    if raised < 2:
        assert thickest == pytest.approx(float(wanted), rel=0.01)
    else:
        assert thickest < float(wanted)
    said = [step.what for step in n.working["feed"]]
    assert any("share engaged" in words for words in said) == (width < d / 2)


def test_by_hand_a_turn_takes_as_long_as_its_way_at_that_feed() -> None:
    for c, s, n in every(*MILLING):
        if not n.feed or n.run > 1:
            continue
        handle = c.shop.handles["xy"[n.run]]  # type: ignore[index]
        turn = F(handle.per_turn) * handle.unit.in_mm
        assert n.per_turn == turn / n.feed * 60, s.operation.id
        assert n.by_power == ("xy"[n.run] in c.shop.machine.power_feed)


def test_what_is_given_stands_and_what_is_not_is_reckoned() -> None:
    c = course("petrel", KEEL)
    stage = next(s for s, _ in c.each(Op.STEP))
    given = sets("step", "", speed=230, feed="4", depth="0.05", width="0.2", finish="0.02", direction="climb",
                 entry="outside", lock=("z",), measure=False)  # fmt: skip
    n = settle(Course(c.piece, given(c.plan), c.shop).stages[stage.index], c.shop)
    assert (n.speed, n.feed, n.width, n.finish) == (230, F("101.6"), F("5.08"), F("0.508"))
    assert (n.direction, n.entry, n.lock, n.measure) == ("climb", "outside", ("z",), False)
    assert n.wanted == c.settled[stage.index].wanted


def test_what_is_left_for_later_is_neither_finished_nor_measured() -> None:
    c = course("petrel", KEEL)
    stage = next(s for s, _ in c.each(Op.STEP))
    n = settle(Course(c.piece, sets("step", "", leave="0.010")(c.plan), c.shop).stages[stage.index], c.shop)
    assert n.finish == 0
    assert not n.measure
    assert sum(n.depths) == sum(c.settled[stage.index].depths) - F("0.254")


# ---- time and cost


@pytest.mark.parametrize(("machine", "part"), [("petrel", KEEL), ("gannet", SHEAVE), ("fulmar", RAIL)])
def test_a_plan_costs_its_holdings_and_changes_of_cutter(machine: str, part: str) -> None:
    c = course(machine, part)
    tools = [s.operation.cutter for s in c.stages if s.operation.cutter]
    changes = 1 + sum(a != b for a, b in pairwise(tools))
    found = costs(c)
    assert (found.holdings, found.operations, found.changes) == (len(c.plan.holdings), len(c.stages), changes)


def test_a_bore_is_widened_from_the_hole_that_is_drilled_there_not_from_the_next_one() -> None:
    """26 mm after 15.5 mm, 1 mm on the diameter each time: eleven times; spot and bolts do not count."""
    c = course("gannet", SHEAVE)
    wanted = next(s for s in c.stages if s.kind is Op.BORE)
    drill = which(c.plan, Op.DRILL, "bore").id
    drilled = [
        replace(c, plan=change.operation(drill, cutter=f"Drill {d} mm")(c.plan)) for d in ("15.5", "10.5", "6.6")
    ]
    wide, middle, narrow = (x.settled[wanted.index].seconds for x in drilled)
    assert (middle - wide) / 5 == (narrow - wide) / 9 > 0, "11, 16 and 20 times"
    bolts = which(c.plan, Op.DRILL, "bolts").id
    later = replace(c, plan=change.moved(bolts, wanted.operation.id, after=True)(c.plan))
    assert next(n for s, n in later.each() if s.kind is Op.BORE).seconds == wide


def test_a_spot_is_no_wider_than_the_spot_drill() -> None:
    """10 mm at a bore of 26 mm; at bolts of 6.6 mm it stays inside the hole."""
    c = course("gannet", SHEAVE)
    for s, n in c.each():
        if s.kind is Op.SPOT:
            widest = max(2 * r for b in s.taken if isinstance(b, Revolved) for _, r in b.profile)
            hole = float(s.features[0].diameter)  # type: ignore[union-attr]
            assert widest == pytest.approx(0.9 * min(hole, 10))
            assert n.depths in ((), (F(min(hole, 10)) / 2,))


def test_deburring_measuring_and_tapping_have_their_time() -> None:
    for c, s, n in every(Op.DEBURR, Op.MEASURE, Op.TAP):
        if s.kind is Op.DEBURR:
            assert n.seconds == 120
        elif s.kind is Op.MEASURE:
            assert n.seconds == 90
        else:
            # in and out again at three seconds a turn, and half a minute for each hole
            (f,) = s.features
            pitch = f.thread.pitch_mm(c.piece.unit)  # type: ignore[union-attr]
            turns = 2 * (s.spans(2) or (0, 0))[1] / float(pitch) if s.spans(2) else 0
            assert n.seconds >= 30 * len(s.hole_spots()) + turns
            assert n.speed is None


def test_the_tightest_places_are_named_worst_first() -> None:
    for number, part in enumerate(PARTS):
        found = errors(course(shops.MACHINES[number % 4], part))
        assert len(found) <= 3
        assert [e.share for e in found] == sorted((e.share for e in found), reverse=True)
        assert all(e.error >= 2 * LOCATING or e.error > 0 for e in found)


def test_from_another_zero_a_place_is_known_worse() -> None:
    mine = course("petrel", KEEL)
    other = Course(mine.piece, sets("step", "second step", x="right")(mine.plan), mine.shop)
    one = {e.number: e.share for e in errors(mine)}
    two = {e.number: e.share for e in errors(other)}
    assert max(two.values()) > max(one.values())
    assert one[6] == 2 * LOCATING / F("0.254")


def test_what_two_plans_do_otherwise_is_said_both_ways() -> None:
    mine = course("petrel", KEEL)
    other = Course(
        mine.piece,
        both(sets("step", "first step", cutter="End mill 1/2 in, 4 flutes"), sets("step", "second step", x="right"))(
            mine.plan
        ),
        mine.shop,
    )
    assert differences(mine, mine) == ()
    said = differences(mine, other)
    assert any("End mill 5/8 in, 4 flutes; otherwise End mill 1/2 in, 4 flutes." in d for d in said)
    assert any("X from left end; otherwise from right end." in d for d in said)
    assert len(said) == len(differences(other, mine)) == 2
    step = which(mine.plan, "step", "second step").id
    less = Course(mine.piece, change.without(step)(mine.plan), mine.shop)
    assert [d for d in differences(mine, less) if d.endswith("only here.")]
    assert [d for d in differences(less, mine) if d.endswith("not here.")]


# ---- what is needed


def test_a_plan_needs_each_cutter_once_and_what_holds_the_work() -> None:
    for number, part in enumerate(PARTS):
        c = course(shops.MACHINES[number % 4], part)
        found = needs(c)
        cutters = [x.name for x in found if x.what == "cutter"]
        assert sorted(cutters) == sorted({s.operation.cutter for s in c.stages if s.operation.cutter})
        assert all(x.holder for x in found if x.what == "cutter")
        assert not any(x.short for x in found)
        held = {h.held for h in c.plan.holdings}
        assert any(x.name == "v-blocks" for x in found) is (HeldIn.V_BLOCK in held)
        assert any(x.name == "soft round bar" for x in found) is any(h.soft_bar for h in c.plan.holdings)


def test_straps_are_counted_and_a_cutter_that_is_out_is_short() -> None:
    c = course("gannet", "bilge-strainer")
    strapped = Course(c.piece, holds(2, held=HeldIn.STRAPS, straps=3)(c.plan), c.shop)
    (straps,) = (x for x in needs(strapped) if x.name == "strap clamps")
    assert (straps.left, straps.wanted) == (3, 3)
    name = next(s.operation.cutter for s in c.stages if s.kind is Op.DRILL)
    out = Course(c.piece, c.plan, shops.without(c.shop, name))
    (short,) = (x for x in needs(out) if x.short)
    assert short.name == name
    assert short.why_not == f"Every {name} is out."


def test_what_several_need_at_once_is_added_up_the_short_ones_first() -> None:
    def cutter(left: int) -> Need:
        return Need("cutter", "End mill", "collet", "rack", left, 1, "", counted=True)

    vise = Need("vise", "Vise 6 in", "", "", 1, 1, "")
    three = together_needed([(who, (vise, cutter(2))) for who in ("Orla", "Ines", "Orla")])
    assert [(x.need.name, x.need.wanted, x.need.short) for x in three] == [
        ("End mill", 3, True),
        ("Vise 6 in", 3, False),
    ]
    assert three[0].people == ("Orla", "Ines")
    assert not together_needed([("Orla", (cutter(2),)), ("Ines", (cutter(2),))])[0].need.short
    assert together_needed([]) == ()


def _micrometer(u: str, **change: Any) -> Instrument:
    inch = {
        k: Length(v, Unit.INCH)
        for k, v in (("least", "0"), ("most", "4"), ("resolution", "0.0001"), ("zero_error", "0"))
    }
    of = {"name": f"M {u}", "measures": Measure.SIZE, "due": date(2026, 12, 1), "uncertainty": Length(u, Unit.INCH)}
    return Instrument(**{**inch, **of, **change})


def test_a_plan_needs_its_stock_and_the_gauges_that_are_good_enough() -> None:
    c = course("petrel", KEEL)
    (stock,) = (x for x in needs(c) if x.what == "stock")
    assert stock.name == "flat bar 1.000 x 1.125, sawn 3.375 long (in), low-carbon steel"
    assert (stock.left, stock.wanted, stock.short) == (0, 0, False), "whether there is a bar is not known"
    assert not [x for x in needs(c) if x.what == "gauge"], "a shop that has entered none is not told that it lacks some"
    project = c.piece.part.project
    sizes = [e.limits for x in project.characteristics for e in elements(project, x) if e.measure is Measure.SIZE]
    narrow = min(x.width for x in sizes if x and x.width) / Unit.INCH.in_mm
    for u, enough in ((narrow / 4, True), (narrow / 4 + Fraction(1, 10**6), False)):
        fine = _micrometer(f"{float(u):.7f}")
        depth = _micrometer("0.0001", name="Depth", measures=Measure.DIFFERENCE)
        tooled = [x for x in needs(Course(c.piece, c.plan, replace(c.shop, gauges=(fine, depth)))) if x.what == "gauge"]
        lacking = [x for x in tooled if x.why_not]
        assert fine.name in {x.name for x in tooled if not x.why_not}
        assert bool([x for x in lacking if x.why_not == "No gauge of the shop is good enough."]) is not enough
        assert all(x.short for x in lacking)


# ---- what is offered


def test_what_is_touched_leads_to_its_feature() -> None:
    piece = shops.piece(KEEL)
    assert touched(piece, "top") == "top"
    assert touched(piece, "first step") == touched(piece, "first step.floor") == "first step"
    with pytest.raises(Refused, match="first step"):
        touched(piece, "mast")


def test_kinds_are_offered_where_they_can_be_cut() -> None:
    c = course("petrel", KEEL)
    up = next(h for h in c.plan.holdings if h.up == "top")
    (face,) = offers(c, up, "top")
    assert (face.kind, face.why_not) == (Op.FACE, "")
    (down,) = offers(c, up, "bottom")
    assert down.why_not == "It lies down in this holding."
    (end,) = offers(c, up, "left")
    assert end.kind is Op.SIDE
    (step,) = offers(c, up, "first step")
    assert (step.kind, step.why_not) == (Op.STEP, "")
    other = next(h for h in c.plan.holdings if h.up == "bottom")
    assert "up." in offers(c, other, "first step")[0].why_not


def test_cutters_that_do_it_come_first_the_others_with_their_reason() -> None:
    for part in (KEEL, CLEAT, RAIL):
        c = course("petrel", part)
        for f in c.piece.part.file.features:
            for kind in stages_of(f):
                found = cutter_offers(c.piece, c.shop, kind, f)
                reasons = [o.why_not for o in found]
                assert reasons == sorted(reasons, key=bool), "those that fit stand first"
                assert found[0].name == best_of(c, kind, f.name)
                assert sum(bool(r) for r in reasons) <= 12


def test_a_new_operation_stands_before_the_deburring() -> None:
    plan = own("petrel", KEEL)
    held = next(h for h in plan.holdings if h.operations[-1].kind is Op.DEBURR)
    made = with_operation(plan, held.id, Op.STEP, ["first step"], "")
    kinds = [o.kind for o in next(h for h in made.holdings if h.id == held.id).operations]
    assert kinds[-2:] == [Op.STEP, Op.DEBURR]
    made = with_operation(plan, held.id, Op.DEBURR, [], "")
    assert [o.kind for o in next(h for h in made.holdings if h.id == held.id).operations][-2:] == [Op.DEBURR] * 2
    with pytest.raises(Refused, match="no such holding"):
        with_operation(plan, "nowhere", Op.FACE, ["top"], "")


@pytest.mark.parametrize("gap", ["cutters", "speeds", "datums", "holdings", "order"])
def test_what_is_left_open_is_taken_out_and_nothing_else(gap: str) -> None:
    plan = both(sets("step", "", speed=230, feed="3", depth="0.1", holder="collet"))(own("petrel", KEEL))
    open_ = emptied(plan, [gap])
    ops, were = [o for _, o in open_.each()], [o for _, o in plan.each()]
    assert sorted(o.id for o in ops) == sorted(o.id for o in were)
    assert ([o.id for o in ops] == [o.id for o in were]) is (gap != "order")
    assert any(o.cutter for o in ops) is (gap != "cutters")
    assert any(o.speed for o in ops) is (gap not in ("cutters", "speeds"))
    assert any(o.x or o.z for o in ops) is (gap != "datums")
    assert any(h.stop or h.soft_bar or h.out != "0" for h in open_.holdings) is (gap != "holdings")
    assert emptied(plan, []) == plan


def test_a_zero_is_needed_where_the_cut_must_be_somewhere() -> None:
    for _, s, _ in every():
        axes = axes_needed(s)
        if s.kind is Op.FACE or s.kind is Op.TAP:
            assert axes == (), s.operation.id
        elif s.kind in (Op.DRILL, Op.SPOT, Op.BORE) and s.taken:
            assert axes[:2] == ("x", "y")
            assert ("z" in axes) is not (s.through or s.kind is Op.SPOT)
        elif s.kind is Op.STEP and s.taken and not s.piece.bar:
            assert len(set(axes) & {"x", "y"}) == 1
            assert "z" in axes


# ---- small changes


def test_a_change_is_a_new_plan_and_the_old_one_stays() -> None:
    plan = own("petrel", KEEL)
    before = plan.model_dump()
    ids = [o.id for _, o in plan.each()]
    moved = change.moved(ids[-2], ids[0])(plan)
    assert next(o.id for _, o in moved.each()) == ids[-2]
    assert sorted(o.id for _, o in moved.each()) == sorted(ids)
    one = change.without(*(o.id for o in plan.holdings[0].operations))(plan)
    assert len(one.holdings) == len(plan.holdings) - 1, "a holding without any goes with them"
    assert change.new_id(plan, "new") == "new"
    assert change.new_id(plan, ids[0]) == f"{ids[0]}-2"
    with pytest.raises(NotFound):
        change.find_operation(plan, "nowhere")
    new = PlanOperation(id="new", kind=Op.DEBURR)
    after = change.inserted(new, ids[0], after=True)(plan)
    assert [o.id for _, o in after.each()][:2] == [ids[0], "new"]
    assert plan.model_dump() == before


def test_the_steps_of_a_hole_stand_in_their_order_in_every_plan() -> None:
    done: dict[tuple[int, str], int] = {}
    for c, s, _ in every(*HOLE_ORDER):
        for f in s.features:
            at = HOLE_ORDER.index(s.kind)
            assert at >= done.get((id(c), f.name), -1), s.operation.id
            done[id(c), f.name] = at
    assert len(done) > 10
