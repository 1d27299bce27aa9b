"""Plans with one fault each, made on purpose: found, named with its code, and nothing else of weight beside it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction

import pytest

from incudo.core.planning.file import HeldIn
from incudo.core.planning.judge import RULES, judged
from incudo.core.planning.rules.base import FaultWeight
from incudo.core.planning.shop import PlanShop, VBlockPlace, VisePlace
from incudo.core.setup.holding import JawVise, ParallelPair
from tests.core.planning import shops
from tests.core.planning.spoiling import (
    Spoil,
    adds,
    both,
    drops,
    holds,
    late,
    moves,
    own,
    puts_last,
    sets,
    splits,
    undeburred,
)

Shop = Callable[[PlanShop], PlanShop]


def _thick(s: PlanShop) -> PlanShop:
    return replace(
        s,
        drawer=(
            *s.drawer,
            ParallelPair(Fraction(35), Fraction(22), Fraction(150)),
        ),
    )


def _narrow(s: PlanShop) -> PlanShop:
    jaws = s.vises[0].jaws
    return replace(s, vises=(VisePlace("narrow", JawVise(jaws.jaw, jaws.depth, Fraction(5))),))


def _machine(**changes: object) -> Shop:
    return lambda s: replace(s, machine=s.machine.model_copy(update=changes))


def _tagged(name: str) -> Shop:
    return lambda s: replace(s, crib={**s.crib, name: replace(s.crib[name], tagged="chipped corner")})


def _blocks(least: str = "0.25", most: str = "2") -> Shop:
    """A V-block for bars from and to so many inches."""
    sizes = (Fraction(least) * Fraction("25.4"), Fraction(most) * Fraction("25.4"))
    return lambda s: replace(s, v_blocks=(VBlockPlace("one", *sizes),))


def _spindle(*steps: int) -> Shop:
    def change(s: PlanShop) -> PlanShop:
        spindle = s.machine.spindle.model_copy(update={"steps": steps, "ranges": ()})
        return replace(s, machine=s.machine.model_copy(update={"spindle": spindle}))

    return change


def _fixed_head(s: PlanShop) -> PlanShop:
    head = s.machine.head.model_copy(update={"tilt": False})
    return replace(s, machine=s.machine.model_copy(update={"head": head}))


KEEL, TIDE, SHEAVE, FAIR, CLEAT = "keel-step-gauge", "tide-block", "sheave-housing", "fairlead-plate", "cleat-base"
ANCHOR, MAST, RAIL, LANTERN, THOLE = "anchor-cheek", "mast-step-pad", "oar-rack-rail", "lantern-foot", "thole-block"
PIN, SHAFT, BILGE, PAD = "shackle-pin", "tiller-key-shaft", "bilge-strainer", "slip-pad"

#: Code, machine, part, what is spoilt, and for a fault of the shop what is otherwise there.
CASES: list[tuple[str, str, str, Spoil, Shop | None]] = [
    ("no-vise", "petrel", TIDE, holds(1, vise="Vise 3 in"), None),
    ("no-pair", "petrel", KEEL, holds(4, parallels="0.333 in"), None),
    ("grip-short", "petrel", TIDE, holds(1, parallels="1.5 in"), None),
    ("grip-short", "gannet", SHEAVE, holds(1, parallels="1.5 in"), None),
    ("grip-short", "petrel", PAD, holds(2, parallels="1.5 in"), None),
    ("hits-jaw", "petrel", KEEL, holds(4, parallels="1 in"), None),
    ("hits-jaw", "petrel", TIDE, holds(4, parallels="bed"), None),
    ("hits-bed", "petrel", PIN, holds(1, parallels="bed"), None),
    ("hits-parallel", "gannet", SHEAVE, holds(2, parallels="35 mm"), _thick),
    ("opening", "petrel", KEEL, holds(1), _narrow),
    ("overhang", "petrel", KEEL, holds(4, out="2.5", spacer=True), None),
    ("end-inside", "petrel", TIDE, holds(2, out="0"), None),
    ("end-inside", "gannet", ANCHOR, holds(3, out="1"), None),
    (
        "end-not-square",
        "petrel",
        KEEL,
        both(
            drops("side", "left"),
            adds("side", "left", "face", "bottom", cutter="End mill 5/8 in, 4 flutes"),
            holds(1, out="0.212"),
        ),
        None,
    ),
    ("stop-in-way", "petrel", KEEL, holds(2, stop="right"), None),
    ("rough-at-fixed-jaw", "gannet", BILGE, holds(3, fixed="right"), None),
    ("rough-at-fixed-jaw", "petrel", BILGE, holds(3, fixed="right"), None),
    ("no-soft-bar", "petrel", KEEL, holds(1, soft_bar=False), None),
    ("no-soft-bar", "gannet", SHEAVE, holds(2, soft_bar=False), None),
    ("no-soft-bar", "fulmar", LANTERN, holds(3, soft_bar=False), None),
    ("round-in-jaws", "petrel", SHAFT, holds(2, held=HeldIn.VISE), None),
    ("no-straps", "gannet", BILGE, holds(2, held=HeldIn.STRAPS), lambda s: replace(s, straps=())),
    ("no-v-block", "petrel", SHAFT, holds(1), lambda s: replace(s, v_blocks=())),
    ("no-v-block", "fulmar", SHAFT, holds(1), _blocks(most="0.99")),
    ("no-v-block", "fulmar", SHAFT, holds(1), _blocks(least="1.01")),
    ("one-strap", "gannet", BILGE, holds(2, held=HeldIn.STRAPS, straps=1), None),
    ("strap-in-way", "petrel", PAD, holds(2, held=HeldIn.STRAPS), None),
    ("strap-in-way", "gannet", BILGE, holds(2, held=HeldIn.STRAPS), None),
    ("off-middle", "petrel", KEEL, holds(2, out="0.5"), None),
    ("off-middle", "gannet", ANCHOR, holds(2, out="60"), None),
    ("travel", "petrel", KEEL, holds(1), _machine(travel=("3", "11", "15"))),
    ("head", "gannet", ANCHOR, holds(1), _fixed_head),
    ("no-zero", "petrel", KEEL, sets("step", "first step", x=""), None),
    ("no-zero", "petrel", FAIR, sets("slot", "slot", y=""), None),
    ("no-zero", "gannet", SHEAVE, sets("drill", "bolts", x=""), None),
    ("no-zero", "petrel", CLEAT, sets("pocket", "foot pocket", z=""), None),
    ("no-zero", "petrel", SHAFT, sets("slot", "keyway", z="left"), None),
    ("zero-on-rough", "gannet", SHEAVE, sets("spot", "bore", x="right"), None),
    ("zero-on-rough", "petrel", MAST, sets("drill", "bolts", y="front"), None),
    ("zero-on-rough", "petrel", KEEL, puts_last("face", "top"), None),
    ("zero-not-made", "petrel", FAIR, moves("spot", "front hole", "spot", "rear hole"), None),
    ("zero-not-made", "petrel", KEEL, sets("step", "first step", x="second step.wall"), None),
    ("zero-lost", "petrel", KEEL, sets("step", "first step", x="kept"), None),
    ("zero-lost", "gannet", SHEAVE, sets("spot", "bore", y="kept"), None),
    ("zero-lost", "petrel", MAST, sets("slot", "wedge slot", y="kept"), None),
    ("zero-cut-away", "petrel", KEEL, both(sets("face", "top", z="top"), sets("step", "first step", z="kept")), None),
    (
        "zero-cut-away",
        "petrel",
        CLEAT,
        both(sets("face", "top", z="top"), sets("pocket", "foot pocket", z="kept")),
        None,
    ),
    ("no-stop", "petrel", KEEL, both(sets("step", "first step", x="stop"), holds(4, stop="")), None),
    ("other-side", "petrel", KEEL, sets("step", "first step", approach="high"), None),
    ("other-side", "dunlin", LANTERN, sets("drill", "wire", approach="high"), None),
    ("other-datum", "petrel", KEEL, sets("step", "second step", x="right"), None),
    ("other-datum", "fulmar", KEEL, sets("step", "first step", x="right"), None),
    ("other-datum", "petrel", PIN, sets("drill", "cross hole", x="right"), None),
    ("hole-order", "petrel", CLEAT, moves("tap", "bolt holes", "drill", "bolt holes"), None),
    ("hole-order", "petrel", RAIL, moves("ream", "pegs", "drill", "pegs"), None),
    ("hole-order", "petrel", FAIR, moves("countersink", "rear hole", "drill", "rear hole"), None),
    ("hole-order", "fulmar", LANTERN, moves("counterbore", "feet", "drill", "feet"), None),
    ("hole-order", "petrel", MAST, moves("drill", "bolts", "spot", "bolts"), None),
    ("step-missing", "petrel", RAIL, drops("spot", "pegs"), None),
    ("step-missing", "gannet", THOLE, drops("drill", "pins"), None),
    ("step-missing", "petrel", CLEAT, drops("drill", "bolt holes"), None),
    ("no-deburr", "petrel", KEEL, undeburred(3), None),
    ("no-deburr", "gannet", ANCHOR, undeburred(2), None),
    ("no-deburr", "petrel", SHAFT, undeburred(1), None),
    ("no-deburr", "petrel", PAD, undeburred(1), None),
    (
        "finish-first",
        "petrel",
        KEEL,
        adds(
            "step",
            "second step",
            "step",
            "second step",
            leave="0.010",
            cutter="End mill 5/8 in, 4 flutes",
            x="left",
            z="top",
        ),
        None,
    ),
    ("never-finished", "petrel", KEEL, sets("step", "second step", leave="0.010"), None),
    ("never-finished", "petrel", CLEAT, sets("pocket", "foot pocket", leave="0.3"), None),
    ("buried", "petrel", KEEL, moves("step", "second step", "step", "first step"), None),
    ("face-late", "petrel", FAIR, puts_last("face", "top"), None),
    ("face-late", "petrel", RAIL, puts_last("face", "top"), None),
    ("missing", "petrel", CLEAT, drops("tap", "bolt holes"), None),
    ("missing", "gannet", ANCHOR, drops("pocket", "window"), None),
    ("missing", "petrel", FAIR, drops("countersink", "front hole"), None),
    ("missing", "petrel", CLEAT, drops("chamfer", "rear chamfer"), None),
    ("missing", "gannet", SHEAVE, drops("face", "rear"), None),
    ("no-cutter", "petrel", KEEL, sets("step", "first step", cutter=""), None),
    ("no-cutter", "fulmar", LANTERN, sets("drill", "wire", cutter=""), None),
    ("not-in-crib", "petrel", KEEL, sets("step", "first step", cutter="End mill 22 mm"), None),
    ("not-in-crib", "gannet", SHEAVE, holds(1), lambda s: shops.without(s, "Drill 6.6 mm")),
    ("not-in-crib", "petrel", TIDE, holds(1), _tagged("Shell mill 2 in")),
    ("wrong-cutter", "petrel", KEEL, sets("step", "first step", cutter="Drill 1/2 in"), None),
    ("wrong-cutter", "petrel", CLEAT, sets("chamfer", "front chamfer", cutter="Countersink 0.625 in, 60°"), None),
    ("too-wide", "petrel", MAST, sets("slot", "wedge slot", cutter="End mill 5/16 in, 2 flutes"), None),
    ("too-wide", "petrel", SHAFT, sets("slot", "keyway", cutter="End mill 3/8 in, 2 flutes"), None),
    ("corner", "petrel", CLEAT, sets("pocket", "foot pocket", cutter="End mill 12 mm, 2 flutes"), None),
    ("corner", "gannet", ANCHOR, sets("pocket", "window", cutter="End mill 5/8 in, 2 flutes"), None),
    ("flute-short", "gannet", THOLE, sets("slot", "lash slot", cutter="End mill 8 mm, 2 flutes"), None),
    ("flute-short", "petrel", TIDE, sets("side", "left", cutter="End mill 1/4 in, 4 flutes"), None),
    ("drill-size", "petrel", CLEAT, sets("drill", "bolt holes", cutter="Drill 8.0 mm"), None),
    ("drill-size", "petrel", RAIL, sets("drill", "pegs", cutter="Drill 1/4 in"), None),
    ("drill-size", "gannet", BILGE, sets("drill", "drains", cutter="Drill 5.5 mm"), None),
    ("reamer-size", "gannet", ANCHOR, sets("ream", "axle hole", cutter="Reamer 12 mm"), None),
    ("tap-size", "petrel", CLEAT, sets("tap", "bolt holes", cutter="Tap M8x1"), None),
    ("tap-size", "petrel", MAST, sets("tap", "bolts", cutter="Tap M10"), None),
    ("sink-angle", "petrel", FAIR, sets("countersink", "rear hole", cutter="Countersink 0.5 in, 82°"), None),
    ("sink-angle", "petrel", RAIL, sets("countersink", "screws", cutter="Countersink 16.5 mm, 90°"), None),
    ("bore-size", "gannet", SHEAVE, sets("counterbore", "bolts", cutter="Counterbore for 1/4 in screws"), None),
    ("too-fast", "petrel", TIDE, holds(1), _spindle(600, 1200)),
    (
        "no-way-in",
        "petrel",
        CLEAT,
        sets("pocket", "foot pocket", cutter="End mill 10 mm, 4 flutes", entry="plunge"),
        None,
    ),
    ("entry-closed", "petrel", CLEAT, sets("pocket", "foot pocket", entry="outside"), None),
    ("entry-closed", "petrel", SHAFT, sets("slot", "keyway", entry="hole"), None),
    ("wrong-holder", "petrel", KEEL, sets("step", "first step", holder="chuck"), None),
    ("wrong-holder", "gannet", SHEAVE, sets("bore", "bore", holder="chuck"), None),
    (
        "creeps-out",
        "petrel",
        KEEL,
        sets("step", "second step", cutter="Roughing end mill 3/4 in", holder="collet"),
        None,
    ),
    ("holder-low", "gannet", "ledge", sets("slot", "groove", cutter="End mill 8 mm, 2 flutes"), None),
    ("bar-too-thick", "gannet", SHEAVE, sets("drill", "bore", cutter="Drill 9.5 mm"), None),
    ("burns", "petrel", KEEL, sets("step", "first step", speed=2400), None),
    ("burns", "gannet", ANCHOR, sets("drill", "axle hole", speed=2000), None),
    ("breaks-teeth", "petrel", SHAFT, sets("slot", "keyway", feed="20"), None),
    ("breaks-teeth", "gannet", BILGE, sets("drill", "drains", feed="900"), None),
    ("climb", "petrel", KEEL, sets("step", "first step", direction="climb"), None),
    ("climb", "petrel", CLEAT, sets("pocket", "foot pocket", direction="climb"), None),
    ("too-deep", "petrel", KEEL, sets("step", "first step", depth="0.3"), None),
    ("too-deep", "gannet", ANCHOR, sets("pocket", "window", depth="9"), None),
    ("too-wide-pass", "petrel", TIDE, sets("side", "left", width="0.25"), None),
    ("no-finish", "petrel", KEEL, sets("step", "first step", finish="0"), None),
    ("no-finish", "gannet", PAD, sets("face", "top", finish="0"), None),
    ("no-measure", "petrel", KEEL, sets("step", "second step", measure=False), None),
    ("no-measure", "gannet", PAD, sets("face", "top", measure=False), None),
    ("set-in-work", "petrel", MAST, sets("slot", "mast slot", clear=False), None),
    ("unlocked", "petrel", KEEL, sets("step", "first step", lock=("z",)), None),
    ("unlocked", "gannet", SHEAVE, sets("bore", "bore", lock=("x",)), None),
    ("moving-locked", "petrel", KEEL, sets("step", "first step", lock=("x", "y", "z")), None),
    ("tap-under-power", "petrel", CLEAT, sets("tap", "bolt holes", speed=90), None),
    ("breakthrough", "gannet", BILGE, sets("drill", "drains", easing=False), None),
    ("grip-gone", "petrel", "tee", late("slot", "keel slot", "bottom", "rear", y="front", z="bottom"), None),
    ("squeezed", "gannet", "hollow", late("slot", "top slot", "top", "rear", y="rear", z="top"), None),
    ("breaks-out", "gannet", "hasp", moves("slot", "tongue", "spot", "eye"), None),
    ("two-holdings", "gannet", "twin", splits(2, "drill", "pin two"), None),
    ("undubbed", "petrel", FAIR, sets("drill", "rear hole", dubbed=False), None),
    ("undubbed", "gannet", THOLE, sets("drill", "pins", dubbed=False), None),
]


def _heavy(machine: str, code: str, spoil: Spoil, shop: Shop | None) -> set[str]:
    s = shops.on(machine, code)
    found = judged(shops.piece(code), spoil(own(machine, code)), shop(s) if shop else s)
    return {f.code for f in found if f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS)}


@pytest.mark.parametrize(("code", "machine", "part", "spoil", "shop"), CASES, ids=[f"{c[0]}-{c[2]}" for c in CASES])
def test_each_fault_is_named_and_nothing_else(
    code: str, machine: str, part: str, spoil: Spoil, shop: Shop | None
) -> None:
    assert _heavy(machine, part, spoil, shop) == {code}


@pytest.mark.sweep(42)
@pytest.mark.parametrize(("code", "machine", "part", "spoil", "shop"), CASES, ids=[f"{c[0]}-{c[2]}" for c in CASES])
def test_its_button_takes_it_away_and_brings_nothing(
    code: str, machine: str, part: str, spoil: Spoil, shop: Shop | None
) -> None:
    """A cure that Incudo offers is one: afterwards there is less of it and no other fault of weight."""
    there = shops.on(machine, part)
    there = shop(there) if shop else there
    piece, plan = shops.piece(part), spoil(own(machine, part))
    for _ in range(8):
        heavy = [f for f in judged(piece, plan, there) if f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS)]
        fix = next((f.fix for f in heavy if f.fix), None)
        if fix is None:
            break
        plan = fix(plan)
        after = [f for f in judged(piece, plan, there) if f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS)]
        assert {f.code for f in after} <= {code}
        assert len(after) < len(heavy)
    assert bool(heavy) == (code in WITHOUT_BUTTON)


@pytest.mark.parametrize("at", [0, 2, 3])
def test_a_holding_too_many_goes_into_the_one_before_and_leaves_the_others_alone(at: int) -> None:
    machine, part = "petrel", "keel-step-gauge"
    piece, there, plan = shops.piece(part), shops.on(machine, part), own(machine, part)
    h = plan.holdings[at]
    first = h.model_copy(update={"operations": h.operations[:1]})
    again = h.model_copy(update={"id": "again", "operations": h.operations[1:]})
    split = plan.model_copy(update={"holdings": (*plan.holdings[:at], first, again, *plan.holdings[at + 1 :])})
    (found,) = (f for f in judged(piece, split, there) if f.code == "one-holding-more")
    assert found.holding == "again"
    assert found.fix is not None
    assert found.fix(split) == plan


#: Faults that only a person can decide how to cure.
WITHOUT_BUTTON = {
    "end-not-square",
    "grip-gone",
    "head",
    "missing",
    "no-v-block",
    "no-vise",
    "opening",
    "squeezed",
    "travel",
    "two-holdings",
}


ON_A_LEVEL_ARBOR = {"horizontal", "other-spindle", "across-arbor", "arbor-low", "arbor-meets"}


def test_faults_stand_on_all_subjects_and_many_parts() -> None:
    spoilt = {c[0] for c in CASES}
    assert len(CASES) >= 80
    assert len({c[2] for c in CASES}) >= 10
    heavy = {r.code for rules in RULES.values() for r in rules if r.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS)}
    # a wall is thin in any plan of its part: such a part is refused (test_own.py); what goes wrong on a level arbor
    # has tests of its own (test_level.py)
    assert heavy - spoilt == {"thin-wall", *ON_A_LEVEL_ARBOR}


def test_a_face_that_something_is_left_on_is_still_as_sawn() -> None:
    shop, piece = shops.on("petrel", FAIR), shops.piece(FAIR)
    left = sets("face", "top", leave="0.5")(own("petrel", FAIR))
    said = {f.code: f.words for f in judged(piece, left, shop)}
    assert "Still as sawn or rolled: top." in said["missing"]
    assert "missing" not in {f.code for f in judged(piece, own("petrel", FAIR), shop)}
