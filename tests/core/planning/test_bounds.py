"""Each number a rule of planning decides by, from both sides: what is just allowed, and what is just too much."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from fractions import Fraction
from math import ceil, floor
from typing import Any

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.planning import limits
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import drill_band, fitting, too_slow, unfit, why_not_there
from incudo.core.planning.file import HeldIn, OperationKind, Plan, read_plan
from incudo.core.planning.judge import judge
from incudo.core.planning.piece import Piece, piece_of
from incudo.core.planning.rules.datum import STOP_REPEATS, chain
from incudo.core.planning.settle import Settled
from incudo.core.planning.shop import CribCutter, PlanShop, VisePlace, cuts_to_middle
from incudo.core.planning.stages import Stage
from incudo.core.setup.holding import JawVise
from incudo.core.shop.cutter import Cutter, CutterKind
from incudo.core.shop.machine import Axis
from tests.core.planning import shops
from tests.core.planning.spoiling import Spoil, both, holds, own, sets, which

F, Op, K = Fraction, OperationKind, CutterKind
KEEL, TIDE, CLEAT, SHEAVE, ANCHOR = "keel-step-gauge", "tide-block", "cleat-base", "sheave-housing", "anchor-cheek"
BILGE, PAD, PIN = "bilge-strainer", "slip-pad", "shackle-pin"


def course(machine: str, part: str, *spoils: Spoil, shop: PlanShop | None = None) -> Course:
    """Incudo's own plan of a part, changed, on a machine."""
    return Course(shops.piece(part), both(*spoils)(own(machine, part)), shop or shops.on(machine, part))


def codes(c: Course) -> set[str]:
    return {f.code for f in judge(c)}


def settled(c: Course, kind: str, of: str = "") -> tuple[Stage, Settled]:
    """The first operation of a kind with its numbers."""
    op = which(c.plan, kind, of)
    return next((s, n) for s, n in c.each() if s.operation.id == op.id)


def text(mm: Fraction, unit: Any, *, up: bool, places: int = 4) -> str:
    """A length as it is entered, rounded up or down in its last place."""
    scaled = mm / unit.in_mm * 10**places
    return f"{(ceil(scaled) if up else floor(scaled)) / 10**places:.{places}f}"


# ---- speed and feed


@pytest.mark.parametrize(("machine", "part", "kind"), [("petrel", KEEL, "step"), ("gannet", ANCHOR, "drill")])
def test_a_speed_is_fast_above_eleven_tenths_burns_above_half_as_much_again_and_is_slow_below_two_fifths(
    machine: str, part: str, kind: str
) -> None:
    wanted = settled(course(machine, part), kind)[1].wanted
    assert wanted

    def said(speed: int) -> set[str]:
        return codes(course(machine, part, sets(kind, "", speed=speed))) & {"fast", "burns", "slow"}

    assert said(floor(wanted * F(11, 10))) == set()
    assert said(floor(wanted * F(11, 10)) + 1) == {"fast"}
    assert said(floor(wanted * F(3, 2))) == {"fast"}
    assert said(floor(wanted * F(3, 2)) + 1) == {"burns"}
    assert said(ceil(wanted * F(2, 5))) == set()
    assert said(ceil(wanted * F(2, 5)) - 1) == {"slow"}


def test_a_speed_that_stands_on_the_machine_is_no_fault_and_the_next_number_is() -> None:
    steps = shops.on("petrel", KEEL).machine.spindle.steps
    at = settled(course("petrel", KEEL), "step")[1].speed
    assert at in steps
    assert "no-such-speed" not in codes(course("petrel", KEEL, sets("step", "", speed=int(at))))
    assert "no-such-speed" in codes(course("petrel", KEEL, sets("step", "", speed=int(at) + 1)))


def test_a_stepless_spindle_has_every_speed_of_its_ranges_with_both_ends() -> None:
    there = shops.on("petrel", KEEL)
    spindle = there.machine.spindle.model_copy(update={"steps": (), "ranges": ((60, 500), (600, 4200))})
    there = replace(there, machine=there.machine.model_copy(update={"spindle": spindle}))
    for speed, has in ((60, True), (59, False), (500, True), (501, False), (599, False), (600, True)):
        found = codes(course("petrel", KEEL, sets("step", "", speed=speed), shop=there))
        assert ("no-such-speed" in found) is not has, speed


@pytest.mark.parametrize(
    ("part", "kind", "code", "end", "share", "beyond"),
    [
        (ANCHOR, "pocket", "breaks-teeth", 1, F(1), 1),
        (BILGE, "drill", "breaks-teeth", 1, F(1), 1),
        (ANCHOR, "pocket", "rubs", 0, F(1, 2), -1),
        (BILGE, "drill", "rubs", 0, F(1, 2), -1),
    ],
)
def test_a_chip_is_judged_by_the_band_of_its_cutter(
    part: str, kind: str, code: str, end: int, share: Fraction, beyond: int
) -> None:
    """Above the band teeth break; below half of its low end they rub."""
    stage, n = settled(course("gannet", part), kind)
    assert n.band
    assert n.speed
    assert n.chip
    assert n.feed
    teeth = n.feed / (n.speed * n.chip)
    at = n.band[end] * share * n.speed * teeth
    unit = stage.piece.unit
    allowed = text(at, unit, up=beyond < 0)
    past = f"{float(allowed) + beyond * 0.01:.4f}"
    assert code not in codes(course("gannet", part, sets(kind, "", feed=allowed)))
    assert code in codes(course("gannet", part, sets(kind, "", feed=past)))


def test_the_motor_decides_what_is_too_much_for_it() -> None:
    c = course("petrel", KEEL)
    most = max(n.watts for _, n in c.milled if n.watts)
    for watts, too_much in ((ceil(most), False), (floor(most), True)):
        there = shops.on("petrel", KEEL)
        spindle = there.machine.spindle.model_copy(update={"watts": watts})
        there = replace(there, machine=there.machine.model_copy(update={"spindle": spindle}))
        assert ("power" in codes(course("petrel", KEEL, shop=there))) is too_much


def test_a_cutter_is_too_large_for_a_machine_that_does_not_go_slow_enough() -> None:
    there = shops.on("petrel", TIDE)
    big = there.crib["Shell mill 2 in"].cutter
    said = too_slow(_spindle(there, 2000, 4000), big)
    most = int(said.split("for it: ")[1].split(" ")[0])
    assert too_slow(_spindle(there, most - 1, 4000), big) == ""
    assert f"{most + 1} rpm, is too fast" in too_slow(_spindle(there, most + 1, 4000), big)
    tap = next(c.cutter for c in there.crib.values() if c.cutter.kind is K.TAP)
    assert too_slow(_spindle(there, 4000), tap) == "", "a tap is turned by hand"


def _spindle(s: PlanShop, *steps: int) -> PlanShop:
    spindle = s.machine.spindle.model_copy(update={"steps": steps, "ranges": ()})
    return replace(s, machine=s.machine.model_copy(update={"spindle": spindle}))


# ---- one pass


def cutter(kind: CutterKind, diameter: str, **more: Any) -> Cutter:
    """A cutter in mm as the crib's register has it."""
    rows = [c.cutter for c in shops.crib().values() if c.cutter.kind is kind]
    row = rows[0].model_dump()
    return Cutter.model_validate(
        {
            **row,
            "unit": "mm",
            "diameter": diameter,
            "measured": None,
            "length": None,
            "stickout": None,
            "name": "Made up",
            **more,
        }
    )


@pytest.mark.parametrize(
    ("kind", "of", "diameter", "soft", "hard"),
    [
        (Op.SLOT, K.END_MILL, "10", F(5), F(5, 2)),
        (Op.STEP, K.END_MILL, "3", F(3, 2), F(3, 4)),
        (Op.POCKET, K.ROUGHING, "16", F(16), F(8)),
        (Op.FACE, K.FLY, "40", F(1), F(1, 2)),
        (Op.FACE, K.SHELL, "50", F(5, 2), F(3, 2)),
        (Op.FACE, K.FACE, "80", F(5, 2), F(3, 2)),
        (Op.FACE, K.END_MILL, "20", F(5, 2), F(3, 2)),
        (Op.FACE, K.END_MILL, "4", F(2), F(1)),
        (Op.SIDE, K.END_MILL, "16", F(48), F(48)),
    ],
)
def test_how_deep_one_pass_goes(kind: Op, of: K, diameter: str, soft: Fraction, hard: Fraction) -> None:
    """Half the diameter in soft metal, a quarter in hard; facing by its cutter; an end at full height."""
    made = cutter(of, diameter)
    assert limits.depth_limit(kind, made, True) == soft
    assert limits.depth_limit(kind, made, False) == hard


def test_how_wide_one_pass_is_and_how_long_a_cutter_cuts() -> None:
    mill = cutter(K.END_MILL, "16")
    assert limits.width_limit(Op.SIDE, mill) == 4
    assert limits.width_limit(Op.STEP, mill) == 12
    assert limits.flute(mill) == 48, "three diameters, where the register does not say"
    assert limits.flute(cutter(K.END_MILL, "16", length="32")) == 32
    assert limits.flute(cutter(K.DRILL, "6")) == 58
    assert limits.flute(cutter(K.END_MILL, "1", unit="in", length="1.5")) == F("38.1")


@pytest.mark.parametrize(
    ("machine", "part", "kind", "of", "field", "code"),
    [
        ("petrel", KEEL, "step", "first step", "depth", "too-deep"),
        ("gannet", ANCHOR, "pocket", "window", "depth", "too-deep"),
        ("petrel", TIDE, "side", "left", "width", "too-wide-pass"),
        ("gannet", SHEAVE, "side", "left", "width", "too-wide-pass"),
    ],
)
def test_a_pass_may_be_as_large_as_the_limit(
    machine: str, part: str, kind: str, of: str, field: str, code: str
) -> None:
    c = course(machine, part)
    stage, _ = settled(c, kind, of)
    assert stage.cutter
    most = (
        limits.depth_limit(stage.kind, stage.cutter, c.shop.soft)
        if field == "depth"
        else limits.width_limit(stage.kind, stage.cutter)
    )
    at = text(most, stage.piece.unit, up=False, places=6)
    past = text(most + F(1, 1000), stage.piece.unit, up=True, places=6)
    assert code not in codes(course(machine, part, sets(kind, of, **{field: at})))
    assert code in codes(course(machine, part, sets(kind, of, **{field: past})))


# ---- a part made for the purpose


def made(features: Iterable[dict[str, Any]] = (), x: str = "60", y: str = "40", z: str = "20", **more: Any) -> Piece:
    """A block with these features; with none named a step on the left, 30 x 8."""
    asked = more.pop("asked", [])
    file = {
        "format": "incudo-project/2",
        "name": "Bollard",
        "code": "bollard",
        "unit": "mm",
        "material": "aluminium alloy",
        "body": {"shape": "block", "x": x, "y": y, "z": z},
        "stock": {"form": "flat", "x": str(F(x) + 4), "y": str(F(y) + 4), "z": str(F(z) + 2)},
        "title_block": {0: "0.5", 1: "0.2", 2: "0.05"},
        "features": [{"kind": "step", "name": "ledge", "face": "top", "side": "left", "length": "30", "depth": "8"}]
        if not features
        else list(features),
        "characteristics": [
            {"number": 1, "kind": "distance", "of": ["left", "right"], "tolerance": "±0.2"},
            *asked,
        ],
        **more,
    }
    return piece_of(part_of(read_part(file)))


def own_of(piece: Piece, shop: PlanShop) -> Plan:
    from incudo.core.planning.own import own_plan

    found = own_plan(piece, shop)
    assert found.plan is not None, found.reasons
    return found.plan


def ledge(tolerance: str) -> Piece:
    return made(asked=[{"number": 2, "kind": "distance", "of": ["ledge.floor", "bottom"], "tolerance": tolerance}])


@pytest.mark.parametrize(("code", "spoil"), [("no-finish", {"finish": "0"}), ("no-measure", {"measure": False})])
def test_a_last_pass_and_a_measurement_are_asked_for_limits_below_a_quarter(code: str, spoil: dict[str, Any]) -> None:
    for tolerance, wanted in (("±0.125", False), ("±0.12", True)):
        piece, there = ledge(tolerance), shops.on("gannet", ANCHOR)
        plan = sets("step", "ledge", **spoil)(own_of(piece, there))
        assert (code in codes(Course(piece, plan, there))) is wanted, tolerance


def test_a_climb_cut_is_heavy_above_a_quarter_where_the_screw_has_more_than_a_tenth_of_play() -> None:
    def said(play: str, width: str) -> bool:
        there = shops.on("gannet", ANCHOR)
        handles = tuple(
            h.model_copy(update={"backlash": play}) if h.axis in (Axis.X, Axis.Y) else h for h in there.machine.handles
        )
        there = replace(there, machine=there.machine.model_copy(update={"handles": handles}))
        return "climb" in codes(course("gannet", ANCHOR, sets("side", "", direction="climb", width=width), shop=there))

    assert said("0.11", "0.26")
    assert not said("0.1", "0.26")
    assert not said("0.11", "0.25")


def test_four_flutes_are_too_many_in_soft_metal_and_three_are_not() -> None:
    for teeth, many in ((3, False), (4, True)):
        there = shops.on("petrel", CLEAT)
        name = settled(course("petrel", CLEAT), "pocket")[0].operation.cutter
        crib = {k: c if k != name else replace(c, cutter=_teeth(c.cutter, teeth)) for k, c in there.crib.items()}
        found = codes(course("petrel", CLEAT, shop=replace(there, crib=crib)))
        assert ("flutes" in found) is many
        assert cuts_to_middle(crib[name].cutter) is not many


def _teeth(c: Cutter, teeth: int) -> Cutter:
    return c.model_copy(update={"teeth": teeth, "name": "Made up"})


# ---- which cutter


@pytest.mark.parametrize(
    ("code", "kind", "feature", "teeth"),
    [
        # with chips all round it two flutes, in any metal; beside a wall in hard metal four
        ("fairlead-plate", Op.SLOT, "slot", 2),
        ("mast-step-pad", Op.SLOT, "mast slot", 2),
        (CLEAT, Op.POCKET, "foot pocket", 2),
        (ANCHOR, Op.POCKET, "window", 2),
        (KEEL, Op.STEP, "first step", 4),
    ],
)
def test_how_many_flutes_one_reaches_for(code: str, kind: Op, feature: str, teeth: int) -> None:
    piece, shop = shops.piece(code), shops.on("petrel", code)
    best, other = fitting(piece, shop, kind, piece.features[feature])[:2]
    assert (best.teeth, best.real == other.real, other.teeth != teeth) == (teeth, True, True)


def test_a_step_in_soft_metal_is_cut_with_two_flutes_where_there_are_both() -> None:
    piece = shops.piece("fairlead-plate")
    shop = shops.without(shops.on("petrel", "fairlead-plate"), "End mill 16 mm, 4 flutes")
    best, other = fitting(piece, shop, Op.STEP, piece.features["rail step"])[:2]
    assert shop.soft
    assert (best.name, other.name) == ("End mill 12 mm, 2 flutes", "End mill 12 mm, 4 flutes")


def _why(piece: Piece, kind: Op, feature: str, made_up: Cutter, deep: Fraction | None = None) -> set[str]:
    there = shops.on("gannet", ANCHOR)
    return {u.code for u in unfit(piece, there, kind, piece.features[feature], made_up, deep)}


HOLES = """
- {kind: hole, name: plain, layout: {layout: single, at: ["10", "10"]}, diameter: "6"}
- {kind: hole, name: dowel, layout: {layout: single, at: ["10", "30"]}, diameter: "8", made: reamed}
- {kind: hole, name: bush, layout: {layout: single, at: ["45", "20"]}, diameter: "20", made: bored}
"""


def holes() -> Piece:
    import yaml

    return made(features=yaml.safe_load(HOLES))


@pytest.mark.parametrize(
    ("kind", "feature", "of", "allowed", "past", "code"),
    [
        (Op.DRILL, "plain", K.DRILL, "6.06", "6.07", "drill-size"),
        (Op.DRILL, "plain", K.DRILL, "5.94", "5.93", "drill-size"),
        (Op.DRILL, "bush", K.DRILL, "19.7", "19.71", "drill-size"),
        (Op.DRILL, "bush", K.DRILL, "4", "3.99", "drill-size"),
        (Op.REAM, "dowel", K.REAMER, "8.01", "8.02", "reamer-size"),
        (Op.REAM, "dowel", K.REAMER, "7.99", "7.98", "reamer-size"),
    ],
)
def test_a_tool_of_holes_may_be_off_by_so_much(
    kind: Op, feature: str, of: K, allowed: str, past: str, code: str
) -> None:
    piece = holes()
    assert code not in _why(piece, kind, feature, cutter(of, allowed))
    assert code in _why(piece, kind, feature, cutter(of, past))


def test_a_hole_to_be_reamed_is_drilled_within_half_and_five_halves_of_the_usual_stock() -> None:
    low, high = drill_band(F(8), "reamed")
    assert 0 < 8 - high < F(1, 4), "something is left, and a reamer does not drill"
    assert 8 - low == 5 * (8 - high)
    assert drill_band(F(8), "drilled") == (F("7.94"), F("8.06"))
    assert drill_band(F(20), "bored") == (F(4), F("19.7"))


def test_a_slot_and_a_corner_take_a_cutter_up_to_their_own_size() -> None:
    piece = made(
        features=[
            {"kind": "slot", "name": "groove", "face": "top", "along": "x", "at": "20", "width": "10", "depth": "6"},
            {
                "kind": "pocket",
                "name": "well",
                "face": "bottom",
                "at": ["30", "20"],
                "size": ["40", "24"],
                "radius": "5",
                "depth": "4",
            },
        ]
    )
    assert "too-wide" not in _why(piece, Op.SLOT, "groove", cutter(K.END_MILL, "10.02"))
    assert "too-wide" in _why(piece, Op.SLOT, "groove", cutter(K.END_MILL, "10.03"))
    assert "corner" not in _why(piece, Op.POCKET, "well", cutter(K.END_MILL, "10.04"))
    assert "corner" in _why(piece, Op.POCKET, "well", cutter(K.END_MILL, "10.06"))


def test_a_cutter_reaches_as_deep_as_it_cuts() -> None:
    piece, mill = made(), cutter(K.END_MILL, "8", length="20")
    assert "flute-short" not in _why(piece, Op.STEP, "ledge", mill, F(20))
    assert "flute-short" in _why(piece, Op.STEP, "ledge", mill, F("20.01"))


def test_why_a_cutter_of_the_crib_is_not_to_be_had() -> None:
    mill = cutter(K.END_MILL, "8").model_copy(update={"owned": 1})
    assert why_not_there(CribCutter(mill, 1), "it") == ""
    assert why_not_there(CribCutter(mill, 0), "it") == "Every it is out."
    assert why_not_there(CribCutter(mill, 1, "chipped"), "it") == "it is tagged: chipped."
    assert why_not_there(CribCutter(mill.model_copy(update={"owned": 0}), 0), "it") == "The crib has no it."
    assert why_not_there(None, "it") == "The crib has no it."


def test_a_small_motor_faces_with_a_fly_cutter() -> None:
    def first(watts: int) -> CutterKind:
        there = shops.on("petrel", TIDE)
        spindle = there.machine.spindle.model_copy(update={"watts": watts})
        there = replace(there, machine=there.machine.model_copy(update={"spindle": spindle}))
        return fitting(shops.piece(TIDE), there, Op.FACE, None, "top")[0].kind

    assert first(699) is K.FLY
    assert first(700) is K.SHELL


# ---- the quill, the bar


def _quill(travel: str) -> PlanShop:
    there = shops.on("gannet", BILGE)
    return replace(there, machine=there.machine.model_copy(update={"quill_travel": travel}))


def test_the_quill_reaches_what_it_travels() -> None:
    said = next(f for f in judge(course("gannet", BILGE, shop=_quill("5"))) if f.code == "quill-short")
    deepest = max(
        F(f.words.split("goes ")[1].split(" ")[0])
        for f in judge(course("gannet", BILGE, shop=_quill("5")))
        if f.code == "quill-short"
    )
    assert said.weight == "costs"
    assert "quill-short" not in codes(course("gannet", BILGE, shop=_quill(f"{float(deepest) + 0.01:.2f}")))
    assert "quill-short" in codes(course("gannet", BILGE, shop=_quill(f"{float(deepest) - 0.02:.2f}")))


def test_only_what_the_quill_feeds_is_too_deep_for_it_and_only_where_there_is_a_quill() -> None:
    tiny = course("gannet", BILGE, shop=_quill("0.1"))
    milled = {s.operation.id for s in tiny.stages if s.kind in (Op.FACE, Op.SIDE, Op.STEP, Op.POCKET)}
    hit = {f.operation for f in judge(tiny) if f.code == "quill-short"}
    assert hit
    assert milled
    assert not hit & milled
    assert "quill-short" not in codes(course("gannet", BILGE, shop=_quill("0")))


def test_a_bar_needs_half_a_millimetre_of_room() -> None:
    there = shops.on("gannet", SHEAVE)
    drill = settled(course("gannet", SHEAVE), "drill", "bore")[0].cutter
    assert drill

    def bars(diameter: Fraction) -> PlanShop:
        thin = {
            k: replace(c, cutter=c.cutter.model_copy(update={"diameter": f"{float(diameter):.2f}", "unit": Unit.MM}))
            for k, c in there.crib.items()
            if c.cutter.kind is K.BAR
        }
        return replace(there, crib={**there.crib, **thin})

    assert "bar-too-thick" not in codes(course("gannet", SHEAVE, shop=bars(drill.real - F(1, 2))))
    assert "bar-too-thick" in codes(course("gannet", SHEAVE, shop=bars(drill.real - F(49, 100))))


# ---- how it is held


def _out(c: Course, n: int, mm: Fraction, *, up: bool) -> dict[str, str]:
    return {"out": text(mm, c.piece.unit, up=up)}


def test_an_end_stands_out_by_what_comes_off_and_a_little_more() -> None:
    plan = own("petrel", TIDE)
    n = next(i for i, h in enumerate(plan.holdings, 1) if any(o.kind is Op.SIDE for o in h.operations))
    (finding,) = {f.words for f in judge(course("petrel", TIDE, holds(n, out="0"))) if f.code == "end-inside"}
    least = float(finding.split("jaws, and ")[1].split(" ")[0])
    assert "end-inside" not in codes(course("petrel", TIDE, holds(n, out=f"{least + 0.001:.4f}")))
    assert "end-inside" in codes(course("petrel", TIDE, holds(n, out=f"{least - 0.001:.4f}")))


def test_work_at_the_end_of_the_jaws_needs_half_of_them_or_a_spacer() -> None:
    there = shops.on("petrel", KEEL)
    jaws = there.vises[0].jaws

    def said(jaw: Fraction, **more: Any) -> bool:
        vise = VisePlace(there.vises[0].name, JawVise(jaw, jaws.depth, jaws.opening))
        c = course("petrel", KEEL, holds(2, out="0.5", **more), shop=replace(there, vises=(vise,)))
        return "off-middle" in codes(c)

    along = _along("petrel", KEEL, 2)
    inside = along - F("12.7")
    assert not said(2 * inside)
    assert said(2 * inside + F(1, 10))
    assert not said(2 * inside + F(1, 10), spacer=True)


def _along(machine: str, part: str, n: int) -> Fraction:
    """How long the work of a holding is between the ends of the jaws, mm."""
    c = course(machine, part)
    low, high = next(s for h, stages in c.held if h.id == c.plan.holdings[n - 1].id for s in stages).block_at_start
    return F(round((high[0] - low[0]) * 10_000), 10_000)


def test_work_stands_out_up_to_one_and_a_half_times_its_height() -> None:
    c = course("petrel", KEEL)
    n = 4
    low, high = c.held[n - 1][1][0].block_at_start
    most = max(F(3, 2) * F(high[2] - low[2]), F(high[0] - low[0]) / 2)
    k = c.piece.unit.in_mm

    def said(out: Fraction) -> bool:
        return "overhang" in codes(course("petrel", KEEL, holds(n, out=f"{float(out / k):.4f}", spacer=True)))

    assert not said(most - F(1, 20))
    assert said(most + F(1, 20))


def test_two_straps_hold_and_one_does_not() -> None:
    for straps, wrong in ((2, False), (1, True)):
        assert ("one-strap" in codes(course("gannet", BILGE, holds(2, held=HeldIn.STRAPS, straps=straps)))) is wrong


def test_the_table_travels_as_far_as_the_cutter_goes() -> None:
    c = course("petrel", KEEL)
    need = max(
        max(p[0] for s, n in c.each() if s.holding.id == h.id for p in n.path)
        - min(p[0] for s, n in c.each() if s.holding.id == h.id for p in n.path)
        for h, _ in c.held
        if any(n.path for s, n in c.each() if s.holding.id == h.id)
    )
    k = c.piece.unit.in_mm

    def said(travel: Fraction) -> bool:
        there = c.shop
        _, y, z = there.machine.travel
        there = replace(
            there, machine=there.machine.model_copy(update={"travel": (text(travel, c.piece.unit, up=True), y, z)})
        )
        return "travel" in codes(course("petrel", KEEL, shop=there))

    assert not said(F(need) + k / 1000)
    assert said(F(need) - k / 1000)


def test_a_face_is_gripped_where_three_fifths_of_it_are_still_there() -> None:
    """A slot along the gripped side takes its metal away."""

    def said(width: str) -> bool:
        piece = made(
            features=[
                {
                    "kind": "pocket",
                    "name": "port",
                    "face": "front",
                    "at": ["30", "20"],
                    "size": [width, "30"],
                    "radius": "4",
                    "depth": "6",
                }
            ],
            x="60",
            y="40",
            z="40",
        )
        there = shops.on("gannet", ANCHOR)
        plan = own_of(piece, there)
        lying = [h for h in plan.holdings if any(o.kind is Op.POCKET for o in h.operations)]
        late = lying[-1].model_copy(update={"id": "late", "up": "right", "fixed": "rear", "operations": _burr()})
        return "grip-gone" in codes(Course(piece, plan.model_copy(update={"holdings": (*plan.holdings, late)}), there))

    assert not said("24")
    assert said("50")


def _burr() -> tuple[Any, ...]:
    from incudo.core.planning.file import PlanOperation

    return (PlanOperation(id="late-burr", kind=Op.DEBURR),)


# ---- where from


def test_a_chain_of_distances_counts_both_and_the_finding() -> None:
    c = course("petrel", KEEL)
    stage, _ = settled(c, "step", "second step")
    assert chain(c, stage, "stop", "left") == STOP_REPEATS
    # number 7 ties front and rear within 0.020 in; nothing on the drawing ties left and right
    assert chain(c, stage, "rear", "front") == F("0.508") + F("0.0127")
    assert chain(c, stage, "right", "left") == F(1, 2) + F("0.0127")
    # what was cut from the same zero in the same holding is as far off as two findings
    last = next(s for s in reversed(c.stages) if s.holding.id == stage.holding.id)
    assert chain(c, last, "left", "second step.wall") == 2 * F("0.0127")


def test_weights_stand_worst_first() -> None:
    found: Iterable[str] = [
        f.weight
        for f in judge(course("petrel", KEEL, sets("step", "first step", cutter="", finish="0"), holds(1, vise="?")))
    ]
    order = ["breaks", "spoils", "costs", "person"]
    assert list(found) == sorted(found, key=order.index)


def test_a_pad_for_steel_is_cut_half_as_deep() -> None:
    """Soft is what takes less than 25 W for a cubic centimetre a minute."""
    there = shops.on("gannet", PAD)
    for power, soft in (("24.9", True), ("25", False)):
        stock = there.stock.model_copy(
            update={"material": there.stock.material.model_copy(update={"unit_power": power})}
        )
        assert replace(there, stock=stock).soft is soft


def test_a_drill_grabs_in_brass_and_bronze_only() -> None:
    there = shops.on("gannet", PAD)
    for key, grabs in (("brass", True), ("bronze", True), ("aluminium", False), ("steel", False)):
        stock = there.stock.model_copy(update={"material": there.stock.material.model_copy(update={"key": key})})
        assert replace(there, stock=stock).grabs is grabs


def test_a_bar_wants_a_v_block_unless_it_stands_on_its_end() -> None:
    assert "round-in-jaws" in codes(course("petrel", PIN, holds(1, held=HeldIn.VISE)))
    assert "round-in-jaws" not in codes(course("petrel", PIN))


def test_a_cutter_keeps_a_sixteenth_of_an_inch_from_the_jaw_it_runs_out_over() -> None:
    low = holds(4, parallels="1 in")
    there = shops.on("petrel", KEEL)
    (vise,) = there.vises
    hits = [f for f in judge(course("petrel", KEEL, low)) if f.code == "hits-jaw"]
    below, hit = max(((F(f.words.split("goes ")[1].split(" ")[0]), f) for f in hits), key=lambda x: x[0])
    floor = vise.jaws.depth - below * Unit.INCH.in_mm  # over the bed: the lowest that a cutter goes

    def said(depth: Fraction) -> set[tuple[str, str]]:
        other = replace(there, vises=(VisePlace(vise.name, JawVise(vise.jaws.jaw, depth, vise.jaws.opening)),))
        found = judge(course("petrel", KEEL, low, shop=other))
        return {(f.code, f.operation) for f in found if f.code in ("near-jaw", "hits-jaw")}

    sixteenth, hair = F(1, 16) * Unit.INCH.in_mm, F(1, 100)
    assert said(floor - sixteenth - hair) == set()
    assert said(floor - sixteenth + hair) == {("near-jaw", hit.operation)}
    assert said(floor - hair) == {("near-jaw", hit.operation)}
    assert said(floor + hair) == {("hits-jaw", hit.operation)}
    # what is weak about the jaw whatever is cut (work far longer than it) is not said at every cut again
    short = replace(there, vises=(VisePlace(vise.name, JawVise(F(20), floor - hair, vise.jaws.opening)),))
    said_once = [f.operation for f in judge(course("petrel", KEEL, low, shop=short)) if f.code == "near-jaw"]
    assert said_once == [hit.operation]


def test_a_plan_has_at_most_twelve_holdings_of_at_most_forty_operations() -> None:
    def plan(holdings: int, operations: int) -> dict[str, Any]:
        made = [{"id": f"o{n}", "kind": "deburr", "of": []} for n in range(operations)]
        held = [{"id": f"h{n}", "up": "top", "fixed": "rear"} for n in range(holdings)]
        held[0]["operations"] = made  # type: ignore[assignment]
        return {"format": "incudo-plan/1", "holdings": held}

    assert len(read_plan(plan(12, 40)).holdings[0].operations) == 40
    for much in (plan(13, 1), plan(1, 41)):
        with pytest.raises(Refused):
            read_plan(much)
