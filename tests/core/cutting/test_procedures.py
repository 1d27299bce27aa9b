"""Every step of every card: its unit, side, locks and caution; each procedure says what a hand does there, in order."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from functools import cache
from typing import Any

import pytest
import yaml

from incudo.core.cutting.card import run_card
from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.parts.holds import Hold
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.file import HeldIn, OperationKind
from incudo.core.planning.own import own_plan
from incudo.core.planning.picture import frame_of
from incudo.core.planning.piece import piece_of
from incudo.core.planning.stages import Stage
from tests.core.cutting.test_worker import PARTS, looked_at, rings_of
from tests.core.planning import shops
from tests.core.planning.shops import MACHINES
from tests.core.planning.spoiling import own, which

F = Fraction
Op = OperationKind
#: A length always stands with its unit.
LENGTH = re.compile(r"\d+\.\d+(?! ?(mm|in|s|m/min|°|/|\d))")


def card_of(course: Course, machine: str) -> tuple[RunStep, ...]:
    rings = rings_of(machine, course.piece.part.file.material, F(1, 9), turned=False, rising=True)
    return run_card(course, rings, {})


@cache
def cards() -> tuple[tuple[str, Course, tuple[RunStep, ...]], ...]:
    """Every shipped part, each on the next machine."""
    found = []
    for number, part in enumerate(PARTS):
        machine = MACHINES[number % len(MACHINES)]
        course = looked_at(part, machine)
        found.append((machine, course, card_of(course, machine)))
    return tuple(found)


def every(*kinds: StepKind) -> Iterator[tuple[Course, Stage | None, RunStep]]:
    for _, course, steps in cards():
        by_id = {s.operation.id: s for s in course.stages}
        for step in steps:
            if not kinds or step.kind in kinds:
                yield course, by_id.get(step.operation), step


@pytest.mark.parametrize("part", PARTS)
def test_the_picture_shows_the_table_going_as_the_card_says(part: str) -> None:
    """A feed the other way would be a climb cut: with play in the screw it pulls the work in."""
    seen = 0
    for machine in MACHINES:
        course = looked_at(part, machine)
        steps = card_of(course, machine)
        for stage, n in course.each():
            last = [s for s in steps if s.operation == stage.operation.id and s.kind is StepKind.PASS][-1:]
            told = [line for s in last for line in s.do if line.startswith("Feed: ")]
            if told and not (stage.kind is Op.SLOT and n.across > 1):
                table = frame_of(course, stage, n, large=True).table
                for side in ("left", "right"):
                    table = table.replace(f"table {side}", f"table to the {side}")
                assert told[0].startswith(f"Feed: {table}"), (machine, stage.operation)
                seen += 1
    assert seen or part in ("shackle-pin", "tiller-key-shaft")


def said(step: RunStep) -> list[str]:
    return [*step.do, *step.why, *step.cautions, *(t for g in step.go for t in g.told)]


@pytest.mark.long
def test_every_sentence_is_one_and_every_length_has_its_unit() -> None:
    for _, _, step in every():
        for words in said(step):
            assert words.endswith((".", "?")) or step.kind is StepKind.CUTTER, (step.id, words)
            assert not LENGTH.search(words), (step.id, words)
        for go in step.go:
            assert go.reading.endswith((" mm", " in")), step.id


def test_no_step_at_the_machine_is_without_its_caution() -> None:
    for _, _, step in every():
        assert step.cautions, step.id
        assert step.title


def test_each_turning_says_the_way_and_what_the_dial_shows_then() -> None:
    for _, _, step in every(StepKind.PASS, StepKind.HOLE):
        for go in step.go:
            assert len(go.legs) >= 1
            assert go.told[0].startswith(("Turn clockwise", "Turn anticlockwise"))
            assert go.told[-1] == f"Then the dial shows {go.reading}.", step.id
            ways = [t.split(":")[0] for t in go.told if t.startswith("Turn ")]
            assert ways == [f"Turn {leg.turning.value}" for leg in go.legs]


def test_a_readout_is_set_to_0_wherever_its_dial_is() -> None:
    """Passes say what the readout shows: it must have been set where the dial was, from the first end on."""
    told = 0
    for course, _, step in every(StepKind.ZERO):
        assert step.zero
        shows = {r.lower() for r in course.shop.machine.readout}
        if step.zero.by != "stop" and step.zero.axis in shows:
            told += 1
            assert f"Set the readout to 0 there as well: {step.zero.axis.upper()}." in step.do, step
        elif step.zero.axis not in shows:
            assert not any("readout" in line for line in step.do)
    assert told > 20


def test_a_spot_is_told_by_the_hole_or_by_a_narrower_spot_drill() -> None:
    found = {
        bool(words.endswith(" mm.") and "spot drill" in words)
        for _, stage, step in every(StepKind.SET, StepKind.HOLE)
        for words in step.do
        if words.startswith("Spot until the mark is")
    }
    assert found == {True, False}
    c = looked_at("sheave-housing", "gannet")
    spots = [s for s in c.stages if s.kind is Op.SPOT]
    words = [w for x in card_of(c, "gannet") for w in x.do if x.operation in {s.operation.id for s in spots}]
    assert "Spot until the mark is nearly as wide as the spot drill, 10.00 mm." in words
    assert "Spot until the mark is a little smaller than the hole, 6.6 mm." in words


def test_what_does_not_feed_is_locked_while_it_cuts() -> None:
    for _, stage, step in every(StepKind.SET):
        assert stage is not None
        locked = next((d for d in step.do if d.startswith("Locked while it cuts: ")), "")
        axes = set(re.findall(r"\b[XYZ]\b", locked.partition(": ")[2]))
        if stage.kind in (Op.SPOT, Op.DRILL, Op.REAM, Op.BORE, Op.TAP, Op.COUNTERSINK, Op.COUNTERBORE):
            assert axes == {"X", "Y"}, step.id
        elif stage.kind is Op.POCKET:
            assert axes == {"Z"}, step.id
        elif stage.cutter is not None:
            assert "Z" in axes, step.id
            assert len(axes) == 2, step.id


def test_a_spindle_with_belts_or_gears_is_isolated_before_they_are_changed() -> None:
    for course, stage, step in every(StepKind.SET):
        assert stage is not None
        spindle = course.shop.machine.spindle
        belts = bool(spindle.steps) and not spindle.changes_running
        speed = any(d.startswith("Spindle ") and "rpm" in d for d in step.do)
        assert ("Isolate the spindle before you change belt or gears." in step.do) is (belts and speed), step.id


def test_a_step_is_titled_by_what_is_done_on_what_and_names_nothing_twice() -> None:
    titles = {step.title for _, _, step in every(StepKind.SET)}
    for course, stage, step in every(StepKind.SET):
        assert stage is not None
        assert course.words(stage) in step.title
        assert step.title.count(course.words(stage)) == 1, step.title
    assert {"Drill: bolt holes", "Mill the step: first step", "Mill the slot"} <= titles


def test_a_variable_speed_that_is_set_at_rest_has_no_belt_to_change() -> None:
    course = looked_at("keel-step-gauge", "petrel")
    spindle = course.shop.machine.spindle.model_copy(
        update={"steps": (), "ranges": ((100, 3000),), "changes_running": False}
    )
    shop = replace(course.shop, machine=course.shop.machine.model_copy(update={"spindle": spindle}))
    for step in card_of(Course(course.piece, course.plan, shop), "petrel"):
        assert "Isolate the spindle before you change belt or gears." not in step.do


def test_the_spindle_starts_once_in_an_operation_and_never_with_a_tap() -> None:
    for _, course, steps in cards():
        for stage in course.stages:
            mine = [s for s in steps if s.operation == stage.operation.id]
            starts = [s for s in mine if s.starts]
            turning = stage.kind not in (Op.TAP, Op.DEBURR, Op.MEASURE) and stage.cutter is not None
            assert len(starts) == turning, stage.operation.id
            for s in starts:
                assert s.skill
                assert Hold.FIRST_START in s.holds
            if stage.kind is Op.TAP:
                assert any("Spindle off and isolated" in d for s in mine for d in s.do)


def test_the_last_pass_waits_and_is_measured_before() -> None:
    for _, course, steps in cards():
        for stage in course.stages:
            cuts = [s for s in steps if s.operation == stage.operation.id and s.kind is StepKind.PASS]
            held = [s for s in cuts if Hold.LAST_PASS in s.holds]
            if stage.kind in (Op.CHAMFER, Op.ANGLE) or not cuts:
                continue
            assert held == cuts[-1:], stage.operation.id
            measured = [n for n, s in enumerate(steps) if s.id == f"{stage.operation.id}.measure"]
            for n in measured:
                assert steps[n + 1].id == cuts[-1].id
                assert len(cuts) > 1


def test_with_power_feed_the_first_feed_waits_by_hand_a_turn_has_its_time() -> None:
    powered = by_hand = 0
    for course, stage, step in every(StepKind.PASS):
        assert stage is not None
        n = course.settled[stage.index]
        if not n.feed or stage.kind in (Op.CHAMFER, Op.ANGLE):
            continue
        assert (Hold.FIRST_FEED in step.holds) is n.by_power
        assert (step.per_turn is None) is n.by_power
        powered, by_hand = powered + n.by_power, by_hand + (not n.by_power)
    assert powered
    assert by_hand


def test_the_work_is_told_as_it_is_held() -> None:
    held = set()
    for course, _, step in every(StepKind.HOLD):
        h = next(h for h in course.plan.holdings if f"{h.id}.hold" == step.id)
        held.add(h.held)
        if h.held is HeldIn.V_BLOCK:
            assert step.do[0].startswith("In the V-block, ")
        elif h.held is HeldIn.STRAPS:
            assert "strap clamps" in step.do[0]
        else:
            assert step.do[0].endswith("to the fixed jaw.")
            assert any("parallels" in d for d in step.do)
            assert any("soft round bar" in d.lower() for d in step.do) is h.soft_bar
        assert any("work stop" in d for d in step.do) is bool(h.stop)
        assert any("sticks out" in d for d in step.do) is (h.held is HeldIn.VISE and float(h.out) > 0)
    assert held >= {HeldIn.VISE, HeldIn.V_BLOCK}


def test_a_reground_cutter_says_what_it_measures() -> None:
    course = looked_at("keel-step-gauge", "petrel")
    name = next(s.operation.cutter for s in course.stages if s.kind is Op.STEP)
    for measured, told in ((None, False), ("0.615", True)):
        crib = dict(course.shop.crib)
        crib[name] = replace(crib[name], cutter=crib[name].cutter.model_copy(update={"measured": measured}))
        there = Course(course.piece, course.plan, replace(course.shop, crib=crib))
        step = next(s for s in card_of(there, "petrel") if s.kind is StepKind.CUTTER and name in s.do[0])
        assert ("It measures 0.615 in." in step.do) is told


# ---- holes: a plate with one of each


def plate(holes: str, material: str = "aluminium alloy", z: str = "16") -> Course:
    file: dict[str, Any] = {
        "format": "incudo-project/2",
        "name": "Bitt",
        "code": "bitt",
        "unit": "mm",
        "material": material,
        "body": {"shape": "block", "x": "80", "y": "50", "z": z},
        "stock": {"form": "flat", "x": "84", "y": "54", "z": str(int(z) + 2)},
        "title_block": {0: "0.5", 1: "0.2", 2: "0.05"},
        "features": yaml.safe_load(holes),
        "characteristics": [{"number": 1, "kind": "distance", "of": ["left", "right"], "tolerance": "±0.2"}],
    }
    piece = piece_of(part_of(read_part(file)))
    there = shops.shop("gannet", material)
    found = own_plan(piece, there)
    assert found.plan is not None, found.reasons
    return Course(piece, found.plan, there)


def at_hole(course: Course, kind: Op) -> list[str]:
    """The sentences at the first hole of an operation."""
    op = next(o.id for _, o in course.plan.each() if o.kind is kind)
    step = next(s for s in card_of(course, "gannet") if s.operation == op and s.kind is StepKind.HOLE)
    return list(step.do)


def hole(diameter: str, **more: str) -> str:
    extra = "".join(f", {k}: {v}" for k, v in more.items())
    return f'[{{kind: hole, name: eye, layout: {{layout: single, at: ["40", "25"]}}, diameter: "{diameter}"{extra}}}]'


def test_a_drill_pecks_below_three_diameters() -> None:
    # the plate is held with its other face rough still: 16 and what is left of the stock
    deep = at_hole(plate(hole("5")), Op.DRILL)
    assert deep[0] == "Through."
    count = int(deep[1].split(" times")[0].rsplit(" ", 1)[1])
    assert deep[1] == f"Peck: about 5.00 mm at a time, out of the hole in between, {count} times."
    assert count in (4, 5)
    assert deep[-1].startswith("Ease off the feed as the point breaks through")
    assert not any(d.startswith("Peck") for d in at_hole(plate(hole("8")), Op.DRILL))


@pytest.mark.parametrize(("depth", "tip", "pecks"), [("16.19", "17.99", False), ("16.2", "18.00", True)])
def test_a_blind_hole_is_as_deep_as_its_tip(depth: str, tip: str, pecks: bool) -> None:
    """A point of 118° on 6 mm is 1.803 mm long: with it the hole passes three diameters sooner."""
    told = at_hole(plate(hole("6", depth=f'"{depth}"', tip='"118"'), z="40"), Op.DRILL)
    assert told[0] == f"{tip} mm deep, to the tip."
    assert any(d.startswith("Peck") for d in told) is pecks
    assert not any("breaks through" in d for d in told)


def test_a_reamer_goes_through_and_out_while_it_turns_the_same_way() -> None:
    through = at_hole(plate(hole("8", made="reamed")), Op.REAM)
    assert through[0] == "Through, in one go and out again while it turns the same way."
    assert "Never run a reamer backwards" in through[1]


@pytest.mark.parametrize(("made", "chips"), [("cutting", True), ("forming", False)])
def test_a_tap_that_forms_goes_in_one_go(made: str, chips: bool) -> None:
    course = looked_at("cleat-base", "petrel")
    stage = next(s for s in course.stages if s.kind is Op.TAP)
    name = stage.operation.cutter
    crib = dict(course.shop.crib)
    crib[name] = replace(crib[name], cutter=crib[name].cutter.model_copy(update={"tap": made}))
    there = Course(course.piece, course.plan, replace(course.shop, crib=crib))
    step = next(s for s in card_of(there, "petrel") if s.operation == stage.operation.id and s.kind is StepKind.HOLE)
    assert any("so that the chip breaks" in d for d in step.do) is chips
    assert any("it makes no chips" in d for d in step.do) is not chips
    assert step.do[0].startswith("Guide the tap")
    assert "stop, back out, look" in step.do[-1]
    # through holes have no bottom to keep away from
    assert not any("before the bottom" in d for d in step.do)


def test_many_holes_are_counted_and_share_the_time() -> None:
    course = looked_at("cleat-base", "petrel")
    stage = next(s for s in course.stages if s.kind is Op.DRILL)
    mine = [s for s in card_of(course, "petrel") if s.operation == stage.operation.id and s.kind is StepKind.HOLE]
    assert [s.title.rsplit(", ", 1)[1] for s in mine] == [f"{n} of 4" for n in (1, 2, 3, 4)]
    assert sum(s.seconds for s in mine) == course.settled[stage.index].seconds
    spoken = {c for s in mine for c in s.cautions}
    assert "Check that nothing is below where it comes out." in spoken


def test_a_bore_is_set_by_the_heads_dial_and_swings() -> None:
    course = looked_at("sheave-housing", "gannet")
    stage = next(s for s in course.stages if s.kind is Op.BORE)
    mine = [s for s in card_of(course, "gannet") if s.operation == stage.operation.id]
    (step,) = (s for s in mine if s.kind is StepKind.HOLE)
    assert step.do[0] == "To 26 mm, by the head's own dial, a little each time."
    assert "goes through twice" in step.do[1]
    assert any("swings" in c for c in step.cautions)


def test_a_counterbore_goes_to_the_middle_of_its_limits_and_sets_the_stop() -> None:
    course = looked_at("sheave-housing", "gannet")
    stage = next(s for s in course.stages if s.kind is Op.COUNTERBORE)
    step = next(s for s in card_of(course, "gannet") if s.operation == stage.operation.id and s.kind is StepKind.HOLE)
    assert step.do == ("6.50 mm deep, from the face; set the quill stop.",)


# ---- what stands is not done again, what is lost is found again


def test_a_cutter_that_is_in_stays_in_and_z_is_touched_with_each() -> None:
    for _, course, steps in cards():
        cutter, touched = "", ""
        names = {s.operation.id: s.operation.cutter for s in course.stages}
        for step in steps:
            if step.kind is StepKind.CUTTER:
                assert names[step.operation] != cutter, step.id
                cutter, touched = names[step.operation], ""
            elif step.kind is StepKind.HOLD:
                touched = ""
            elif step.zero is not None and step.zero.axis == "z":
                touched = cutter
            elif step.kind is StepKind.PASS and any(g.axis == "z" for g in step.go):
                assert touched == cutter == names[step.operation], step.id


def test_after_the_work_is_put_in_anew_every_zero_is_found_before_it_is_counted_from() -> None:
    for _, _, steps in cards():
        found: set[str] = set()
        for step in steps:
            if step.kind is StepKind.HOLD:
                found = set()
            if step.zero is not None:
                found.add(step.zero.axis)
            for go in step.go:
                assert go.axis in found, step.id


def test_an_operation_without_a_cutter_says_to_see_the_plan() -> None:
    course = looked_at("keel-step-gauge", "petrel")
    op = next(o for _, o in course.plan.each() if o.kind is Op.STEP)
    without = Course(course.piece, change.operation(op.id, cutter="")(course.plan), course.shop)
    mine = [s for s in card_of(without, "petrel") if s.operation == op.id]
    assert any("see the plan" in d for s in mine for d in s.do)
    assert not any(s.kind is StepKind.PASS for s in mine)


def test_where_a_wall_stands_beside_the_cut_the_card_says_the_least_stick_out() -> None:
    """Of a cutter whose flutes are shorter than the wall beside it; of one with long flutes nothing is said."""
    plan, shop = own("gannet", "ledge"), shops.on("gannet", "ledge")
    groove = which(plan, Op.SLOT, "groove")
    short = change.operation(groove.id, cutter="End mill 8 mm, 2 flutes")(plan)
    for made, told in ((plan, []), (short, ["32"])):
        steps = card_of(Course(shops.piece("ledge"), made, shop), "gannet")
        (fitted,) = (s for s in steps if s.kind is StepKind.CUTTER and s.operation == groove.id)
        said_of = [w for w in fitted.do if w.startswith("Stick-out at least")]
        assert [w.split()[3] for w in said_of] == told
    # one cutter for several operations is set out once, as far as the deepest of them needs
    first = next(o for _, o in plan.each() if o.cutter and o.kind is Op.STEP)
    both = change.operation(first.id, cutter="End mill 8 mm, 2 flutes")(short)
    steps = card_of(Course(shops.piece("ledge"), both, shop), "gannet")
    (fitted,) = (s for s in steps if s.kind is StepKind.CUTTER and s.operation == first.id)
    assert any(w.startswith("Stick-out at least 32 mm,") for w in fitted.do)
