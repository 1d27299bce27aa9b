"""Plans of people's different tastes: sound ones are left alone. And the limits of rules, on both sides."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction

import pytest

from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind, Plan, PlanOperation
from incudo.core.planning.judge import judged, sound
from incudo.core.planning.limits import depth_limit, width_limit
from incudo.core.planning.place import Place
from incudo.core.planning.rules.base import FaultWeight
from incudo.core.planning.settle import settle
from incudo.core.shop.cutter import Cutter
from tests.core.planning import shops
from tests.core.planning.spoiling import Spoil, adds, both, drops, holds, own, sets, splits

KEEL, TIDE, SHEAVE, FAIR, CLEAT = "keel-step-gauge", "tide-block", "sheave-housing", "fairlead-plate", "cleat-base"
ANCHOR, MAST, RAIL, LANTERN, THOLE = "anchor-cheek", "mast-step-pad", "oar-rack-rail", "lantern-foot", "thole-block"
PIN, SHAFT, BILGE, PAD = "shackle-pin", "tiller-key-shaft", "bilge-strainer", "slip-pad"

#: Machine, part, and a taste in which people differ.
TASTES: list[tuple[str, str, str, Spoil]] = [
    ("a smaller cutter", "petrel", KEEL, sets("step", "first step", cutter="End mill 1/2 in, 4 flutes")),
    ("a larger cutter", "petrel", KEEL, sets("step", "second step", cutter="End mill 3/4 in, 4 flutes")),
    ("two flutes in steel", "petrel", KEEL, sets("step", "first step", cutter="End mill 5/8 in, 2 flutes")),
    ("a slower step", "petrel", KEEL, sets("step", "first step", speed=230)),
    ("light passes", "petrel", KEEL, sets("step", "first step", depth="0.040")),
    ("more left for the finish", "petrel", KEEL, sets("step", "first step", finish="0.020")),
    ("the work stop as zero", "petrel", KEEL, sets("step", "first step", x="stop")),
    ("one zero for both steps", "petrel", KEEL, sets("step", "second step", x="kept", z="kept")),
    (
        "both from the high side",
        "petrel",
        KEEL,
        both(holds(4, found="high"), sets("step", "first step", approach="high")),
    ),
    ("no climbing, said", "petrel", KEEL, sets("step", "first step", direction="conventional")),
    ("measured as a step of its own", "petrel", KEEL, adds("measure", "", "step", "first step")),
    ("deburred twice", "petrel", KEEL, adds("deburr", "", "face", "top")),
    (
        "roughed and finished apart",
        "petrel",
        KEEL,
        adds("step", "first step", "face", "top", leave="0.010", cutter="End mill 5/8 in, 4 flutes", x="left", z="top"),
    ),
    ("all locked that does not move", "petrel", KEEL, sets("step", "first step", lock=("x", "z"))),
    ("fly cutter for the faces", "petrel", TIDE, sets("face", "top", cutter="Fly cutter 2 1/2 in swing")),
    ("end mill for the faces", "petrel", TIDE, sets("face", "top", cutter="End mill 3/4 in, 4 flutes")),
    ("a little more out", "petrel", TIDE, holds(2, out="0.250")),
    ("no stop", "petrel", TIDE, holds(1, stop="")),
    ("a soft bar too many", "petrel", TIDE, holds(4, soft_bar=True)),
    ("an end in lighter passes", "petrel", TIDE, sets("side", "left", width="0.050")),
    ("pocket with a small cutter", "petrel", CLEAT, sets("pocket", "foot pocket", cutter="End mill 8 mm, 2 flutes")),
    ("pocket by a ramp", "petrel", CLEAT, sets("pocket", "foot pocket", entry="ramp")),
    ("chamfer by the spot drill", "petrel", CLEAT, sets("chamfer", "front chamfer", cutter="Spot drill 3/8 in, 90°")),
    ("slot by a narrower cutter", "petrel", FAIR, sets("slot", "slot", cutter="End mill 10 mm, 2 flutes")),
    ("centre drill to spot", "petrel", FAIR, sets("spot", "rear hole", cutter="Centre drill No. 3")),
    ("slower drill", "gannet", BILGE, sets("drill", "drains", speed=710)),
    ("drill by hand feed", "gannet", BILGE, sets("drill", "drains", feed="60")),
    ("another pre-drill", "gannet", ANCHOR, sets("drill", "axle hole", cutter="Drill 15.5 mm")),
    ("climb where the screw is tight", "gannet", SHEAVE, sets("side", "left", direction="climb")),
    ("climb for a light cut", "petrel", TIDE, sets("side", "left", direction="climb", width="0.009")),
    ("spotted with another angle", "fulmar", LANTERN, sets("spot", "feet", cutter="Spot drill 10 mm, 120°")),
    (
        "counterbore with four flutes",
        "fulmar",
        LANTERN,
        sets("counterbore", "feet", cutter="End mill 3/8 in, 4 flutes"),
    ),
    ("keyway by a ramp", "petrel", SHAFT, sets("slot", "keyway", entry="ramp")),
    ("the same reamer, its own holder", "gannet", ANCHOR, sets("ream", "axle hole", holder="chuck")),
]


@pytest.mark.parametrize(("taste", "machine", "part", "change_it"), TASTES, ids=[t[0] for t in TASTES])
def test_sound_plans_are_left_alone(taste: str, machine: str, part: str, change_it: Spoil) -> None:
    plan = change_it(own(machine, part))
    assert plan != own(machine, part) or taste in ("another pre-drill",)
    found = judged(shops.piece(part), plan, shops.on(machine, part))
    assert [f.code for f in found if f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS)] == []


def test_there_are_enough_tastes() -> None:
    assert len(TASTES) >= 30


#: Findings of the third weight: what costs time or finish.
COSTLY: list[tuple[str, str, str, Spoil]] = [
    ("one-holding-more", "petrel", KEEL, splits(4, "step", "second step")),
    ("cuts-air", "petrel", KEEL, adds("step", "first step", "step", "first step", cutter="End mill 5/8 in, 4 flutes",
        x="left", z="top")),
    ("fast", "petrel", KEEL, sets("step", "first step", speed=590)),
    ("slow", "petrel", KEEL, sets("step", "first step", speed=145)),
    ("no-such-speed", "petrel", KEEL, sets("step", "first step", speed=400)),
    ("rubs", "petrel", KEEL, sets("step", "first step", feed="0.5")),
    ("flutes", "gannet", CLEAT, sets("pocket", "foot pocket", cutter="End mill 10 mm, 4 flutes", entry="hole")),
]  # fmt: skip


@pytest.mark.parametrize(("code", "machine", "part", "spoil"), COSTLY, ids=[c[0] for c in COSTLY])
def test_what_costs_time_is_said_and_is_no_fault(code: str, machine: str, part: str, spoil: Spoil) -> None:
    found = judged(shops.piece(part), spoil(own(machine, part)), shops.on(machine, part))
    assert code in {f.code for f in found if f.weight is FaultWeight.COSTS}


def test_a_cutter_that_comes_back_costs_a_change() -> None:
    plan = own("petrel", RAIL)
    ream = next(o for _, o in plan.each() if o.kind is OperationKind.REAM)
    drill = next(o for _, o in plan.each() if o.kind is OperationKind.DRILL and o.of == ("screws",))
    apart = change.moved(drill.id, ream.id, after=True)(
        change.operation(
            drill.id,
            cutter=next(o.cutter for _, o in plan.each() if o.of == ("pegs",) and o.kind is OperationKind.DRILL),
        )(plan)
    )
    found = judged(shops.piece(RAIL), apart, shops.on("petrel", RAIL))
    assert "one-change-more" in {f.code for f in found}


def test_who_must_stand_beside_is_said_and_is_no_fault() -> None:
    shop = replace(shops.on("petrel", KEEL), beside={"mill-steps": "Milling steps is not signed yet."})
    found = judged(shops.piece(KEEL), own("petrel", KEEL), shop)
    (person,) = [f for f in found if f.weight is FaultWeight.PERSON]
    assert person.words == "Milling steps is not signed yet."
    assert sound(found)


# ── limits, on both sides ─────────────────────────────────────────────────


def _codes(part: str, plan: Plan, machine: str = "petrel") -> set[str]:
    return {f.code for f in judged(shops.piece(part), plan, shops.on(machine, part))}


@pytest.mark.parametrize(("code", "inside", "outside"), [
    # a quarter of 5/8 in is 0.15625 in steel
    ("too-deep", sets("step", "first step", depth="0.156"), sets("step", "first step", depth="0.157")),
    ("too-wide-pass", sets("side", "left", width="0.156"), sets("side", "left", width="0.157")),
    # reckoned are 481 rpm: a tenth more, and half as much again
    ("fast", sets("step", "first step", speed=529), sets("step", "first step", speed=530)),
    ("burns", sets("step", "first step", speed=721), sets("step", "first step", speed=722)),
    # all that comes off the end and a sixteenth more: 0.0875 + 0.0625 in
    ("end-inside", holds(2, out="0.150"), holds(2, out="0.149")),
    ("off-middle", holds(2, out="0.375"), holds(2, out="0.376")),
])  # fmt: skip
def test_a_limit_holds_on_both_sides(code: str, inside: Spoil, outside: Spoil) -> None:
    plan = own("petrel", KEEL)
    assert code not in _codes(KEEL, inside(plan))
    assert code in _codes(KEEL, outside(plan))


@pytest.mark.parametrize(("travel", "short"), [("14.96", False), ("14.95", True)])
def test_the_quill_reaches_to_the_end_of_the_point(travel: str, short: bool) -> None:
    """Ten of plate, one still on its bottom, two clear above; a 6.5 mm point of 118° goes 1.953 mm on."""
    shop = shops.on("gannet", FAIR)
    little = replace(shop, machine=shop.machine.model_copy(update={"quill_travel": travel}))
    plan = own("gannet", FAIR)
    drills = {o.id for _, o in plan.each() if o.kind is OperationKind.DRILL and o.cutter == "Drill 6.5 mm"}
    found = {f.operation for f in judged(shops.piece(FAIR), plan, little) if f.code == "quill-short"}
    assert bool(drills & found) is short


def test_a_climb_cut_is_refused_from_the_play_on_that_is_taught() -> None:
    part, plan = KEEL, sets("step", "first step", direction="climb")(own("petrel", KEEL))
    shop = shops.on("petrel", part)

    def with_play(text: str) -> set[str]:
        handles = tuple(h.model_copy(update={"backlash": text}) if h.axis == "y" else h for h in shop.machine.handles)
        other = replace(shop, machine=shop.machine.model_copy(update={"handles": handles}))
        return {f.code for f in judged(shops.piece(part), plan, other)}

    # a tenth of a millimetre is 0.0039 in
    assert "climb" not in with_play("0.0039")
    assert "climb" in with_play("0.0040")


def test_a_drawing_that_allows_more_wants_no_finishing_pass() -> None:
    # the steps allow 0.008 and 0.010 in, both below a quarter of a millimetre; the length of the fairlead slot more
    assert "no-finish" in _codes(KEEL, sets("step", "first step", finish="0")(own("petrel", KEEL)))
    assert "no-finish" not in _codes(FAIR, sets("side", "front", finish="0")(own("petrel", FAIR)))


# ── numbers from another direction ────────────────────────────────────────


def _settled(machine: str, part: str, kind: str, of: str):  # type: ignore[no-untyped-def]
    course = Course(shops.piece(part), own(machine, part), shops.on(machine, part))
    stage = next(s for s in course.stages if s.kind == kind and of in s.operation.of)
    return stage, settle(stage, course.shop)


def test_the_numbers_of_a_step_by_hand() -> None:
    stage, n = _settled("petrel", KEEL, "step", "first step")
    # 24 m/min on 15.875 mm: 1000 · 24 / (π · 15.875) = 481.2; the step below is 370
    assert (round(float(n.wanted), 1), n.speed) == (481.2, 370)
    # 0.3 in deep, 0.010 left for the finish, 0.15625 the most: 0.13375, 0.15625, 0.010
    assert [round(float(d) / 25.4, 5) for d in n.depths] == [0.13375, 0.15625, 0.01]
    # 2.1 in wide at three quarters of 5/8: five side by side
    assert n.across == 5
    assert (n.entry, n.lock, n.run) == ("outside", ("x", "z"), 1)
    # the cutter's axis of the last pass lies one radius beside the wall, 1.1 in from the left end
    assert round((n.path[-1][0] - float(Fraction("12.7")) * 0.625) / 25.4, 4) == 1.1
    # minutes: 15 passes of 0.9 + 0.3125 + 0.391 in at 3 in/min, ten seconds each for the hand
    way = 0.9 + 0.625 / 2 + (2 / 25.4 + 0.3125)
    feed = 370 * 4 * float(n.chip) / 25.4
    assert round(float(n.seconds)) == round(15 * way / feed * 60 + 150)
    assert not stage.through


def test_the_numbers_of_holes_by_hand() -> None:
    _, n = _settled("gannet", BILGE, "drill", "drains")
    # brass at the low end over 5 mm, in gannet's steps; 12 holes through 5 mm and the point, 15 s each for the hand
    assert n.speed in (1400, 2000, 2800)
    point = 2.5 / 1.664279
    one = (5 + point + 2) / (float(n.chip) * float(n.speed)) * 60
    assert round(float(n.seconds)) == round(12 * (one + 15))
    assert len(n.path) == 12
    assert n.path == tuple(sorted(n.path))


@pytest.mark.parametrize(
    ("up", "fixed"),
    [
        (u, f)
        for u in ("top", "left", "front")
        for f in ("rear", "bottom", "right")
        if {u, f} not in ({"left", "right"}, {"front", "rear"}, {"top", "bottom"})
    ],
)
def test_the_axes_of_the_machine_are_right_handed(up: str, fixed: str) -> None:
    place = Place.of(up, fixed)
    x, y, z = (place.spot((1.0, 0.0, 0.0)), place.spot((0.0, 1.0, 0.0)), place.spot((0.0, 0.0, 1.0)))
    det = x[0] * (y[1] * z[2] - y[2] * z[1]) - y[0] * (x[1] * z[2] - x[2] * z[1]) + z[0] * (x[1] * y[2] - x[2] * y[1])
    assert det == 1
    assert place.face_at(2, 1) == up
    assert place.face_at(1, 1) == fixed


@pytest.mark.parametrize("d", ["1.6", "3", "25"])
def test_limits_follow_the_diameter_at_both_ends_of_its_range(d: str) -> None:
    cutter = Cutter(name="x", kind="end mill", unit="mm", diameter=d, owned=1, teeth=2)
    kinds: tuple[Callable[[], Fraction], ...] = (
        lambda: depth_limit(OperationKind.SLOT, cutter, True), lambda: depth_limit(OperationKind.SLOT, cutter, False),
        lambda: width_limit(OperationKind.SIDE, cutter),
    )  # fmt: skip
    assert [k() / Fraction(d) for k in kinds] == [Fraction(1, 2), Fraction(1, 4), Fraction(1, 4)]


def test_an_operation_must_be_of_something() -> None:
    with pytest.raises(ValueError, match="must name what it makes"):
        PlanOperation(id="a", kind=OperationKind.STEP)
    assert drops("face", "top")(own("petrel", PAD)) != own("petrel", PAD)
