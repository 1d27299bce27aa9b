"""A part made up by chance, and the small shop that it is planned in."""

from __future__ import annotations

import random
from decimal import Decimal
from functools import cache
from typing import Any, NamedTuple

from incudo.core.kernel.quantity import Length, LengthUnit, Unit
from incudo.core.kernel.say import say
from incudo.core.parts.features.frame import text_of
from incudo.core.parts.features.part import Part, part_of, read_part
from incudo.core.planning.shop import CribCutter, PlanShop, VBlockPlace, VisePlace
from incudo.core.setup.holding import JawVise, ParallelPair
from incudo.core.shop.cutter import Cutter, Holder, Thread
from incudo.core.shop.machine import Machine, read_machine
from incudo.core.shop.material import Material, Range, Stock


class _Sizes(NamedTuple):
    """What a made-up part may measure."""

    x: tuple[str, ...]
    y: tuple[str, ...]
    z: tuple[str, ...]
    long: tuple[str, ...]
    deep: tuple[str, ...]
    wide: tuple[str, ...]
    wall: tuple[str, ...]
    hole: tuple[str, ...]
    apart: tuple[str, ...]
    reamed: str
    through: str
    sink: str
    angle: str
    tapped: str
    thread: tuple[str, str, str]
    fine: str
    middle: str
    fit: str
    block: dict[int, str]


_MM = _Sizes(
    ("60", "66", "72", "80"), ("40", "44", "50"), ("16", "18", "20"), 
    ("11", "12", "14"), ("4", "5", "6"), ("8", "10", "12"), ("30", "31", "32"), ("10", "11", "12"), ("8", "9"),
    "8", "6.6", "12.4", "90", "5", ("M6", "6", "1"), "0.05", "0.10", "+0.03 -0",
    {0: "0.5", 1: "0.2", 2: "0.05"},
)  # fmt: skip
_INCH = _Sizes(
    ("2.500", "2.750", "3.000"), ("1.750", "1.875", "2.000"), ("0.625", "0.700", "0.750"),
    ("0.450", "0.500", "0.550"), ("0.150", "0.200", "0.250"), ("0.375", "0.500"), ("1.200", "1.250", "1.300"),
    ("0.400", "0.450"), ("0.350", "0.375"),
    "0.3125", "0.2656", "0.500", "82", "0.201", ("1/4-20", "0.25", "20"), "0.002", "0.004", "+0.001 -0",
    {1: "0.030", 2: "0.010", 3: "0.005"},
)  # fmt: skip


def made_up(chance: random.Random, unit: LengthUnit) -> Part:
    """A squared block that gets a step, a slot and two holes, with its drawing; another for each chance."""
    s = _MM if unit is Unit.MM else _INCH
    x, y, z, long, deep, wide, wall, first, apart = (
        Decimal(chance.choice(c)) for c in (s.x, s.y, s.z, s.long, s.deep, s.wide, s.wall, s.hole, s.apart)
    )
    sunk = Decimal(chance.choice(s.deep))
    holes = _holes(s, first, first + apart, first, y - first)
    if chance.random() < 0.5:
        holes[0]["layout"]["at"], holes[1]["layout"]["at"] = holes[1]["layout"]["at"], holes[0]["layout"]["at"]
    return part_of(
        read_part(
            {
                "format": "incudo-project/2",
                "code": "made-up",
                "name": say("Made-up block"),
                "unit": unit,
                "material": "aluminium",
                "stock": {"form": "flat", "x": text_of(x), "y": text_of(y), "z": text_of(z), "sawn": []},
                "body": {"shape": "block", "x": text_of(x), "y": text_of(y), "z": text_of(z)},
                "features": [
                    {"kind": "step", "name": "step", "side": "right", "length": text_of(long), "depth": text_of(deep)},
                    {
                        "kind": "slot",
                        "name": "slot",
                        "along": "y",
                        "at": text_of(wall + wide / 2),
                        "width": text_of(wide),
                        "depth": text_of(sunk),
                    },
                    *holes,
                ],
                "title_block": s.block,
                "datums": [
                    {"letter": "A", "face": "bottom"},
                    {"letter": "B", "face": "left"},
                    {"letter": "C", "face": "front"},
                ],
                "characteristics": _asked(s, chance),
            }
        )
    )


def _holes(s: _Sizes, x1: Decimal, x2: Decimal, y1: Decimal, y2: Decimal) -> list[dict[str, Any]]:
    designation, diameter, pitch = s.thread
    return [
        {
            "kind": "hole",
            "name": "pin hole",
            "layout": {"layout": "single", "at": [text_of(x1), text_of(y1)]},
            "made": "reamed",
            "diameter": s.reamed,
        },
        {
            "kind": "hole",
            "name": "screw hole",
            "layout": {"layout": "single", "at": [text_of(x2), text_of(y2)]},
            "made": "tapped",
            "diameter": s.tapped,
            "thread": {"designation": designation, "diameter": diameter, "pitch": pitch},
            "countersink": {"diameter": s.sink, "angle": s.angle},
        },
    ]


def _asked(s: _Sizes, chance: random.Random) -> list[dict[str, Any]]:
    one_sided = chance.choice((f"+{s.middle} -{s.fine}", f"+0 -{s.middle}", f"+{s.middle} -0"))
    asked: tuple[tuple[tuple[str, ...], str, str], ...] = (
        (("left", "right"), "", ""),
        (("front", "rear"), "", ""),
        (("bottom", "top"), "", f"±{s.fine}"),
        (("bottom", "step.floor"), "", one_sided),
        (("left", "slot.left wall"), "", f"±{s.middle}"),
        (("slot.left wall", "slot.right wall"), "", f"+{s.fine} -0"),
        (("top", "slot.floor"), "", ""),
        (("left", "pin hole.axis"), "x", f"±{s.fine}"),
        (("front", "pin hole.axis"), "y", f"±{s.fine}"),
        (("left", "screw hole.axis"), "x", f"±{s.middle}"),
        (("front", "screw hole.axis"), "y", f"±{s.middle}"),
        (("left", "step.wall"), "", ""),
    )
    found: list[dict[str, Any]] = [
        {"number": n, "kind": "distance", "of": list(of), "along": along or None, "tolerance": tolerance}
        for n, (of, along, tolerance) in enumerate(asked, start=1)
    ]
    zone = {"kind": "position", "of": ["pin hole.axis", "left", "front"], "tolerance": s.middle}
    bore = {"kind": "diameter", "of": ["pin hole.bore"], "tolerance": s.fit}
    return [*found, *({"number": n, **more} for n, more in enumerate((zone, bore), start=len(found) + 1))]


_ALUMINIUM = Stock(
    material=Material(
        key="aluminium-wrought",
        name="Aluminium alloy",
        unit_power="16",
        expansion="23.5",
        fluid=say("soluble oil"),
    ),
    ranges=(
        Range.model_validate(
            {
                "material": "aluminium-wrought",
                "cutter": "high-speed steel",
                "operation": "milling",
                "v_low": "60",
                "v_high": "120",
                "chart": "3.2:0.013-0.025 6.4:0.034-0.066 12.7:0.075-0.125 25:0.12-0.2",
            }
        ),
        Range.model_validate(
            {
                "material": "aluminium-wrought",
                "cutter": "high-speed steel",
                "operation": "drilling",
                "v_low": "50",
                "v_high": "90",
                "chart": "1.6:0.016-0.034 6.4:0.085-0.168 12.7:0.16-0.28",
            }
        ),
    ),
)
_MILLED = ("end mill", "roughing end mill")
_HELD = (
    Holder(
        key="collet",
        name=say("Split collet"),
        kinds=(*_MILLED, "spot drill"),
        cautions=(say("Only the exact size."),),
        nose="50",
    ),
    Holder(
        key="chuck",
        name=say("Drill chuck"),
        kinds=("drill", "spot drill", "countersink", "reamer"),
        cautions=(say("The key comes out before the hand is off it."),),
        nose="50",
    ),
    Holder(
        key="end-mill-holder",
        name=say("End-mill holder"),
        kinds=_MILLED,
        cautions=(say("The screw on the flat."),),
        nose="45",
    ),
    Holder(key="tap-wrench", name=say("Tap wrench"), kinds=("tap",), cautions=(say("Never under power."),), nose="40"),
)


def _mill(size: str, unit: Unit, teeth: int, length: str, kind: str = "end mill") -> dict[str, Any]:
    name = say("Roughing end mill") if kind != "end mill" else say("End mill")
    words = say("{name} {size} {unit}, {teeth} flutes", name=name, size=size, unit=unit, teeth=teeth)
    held = "end-mill-holder" if kind != "end mill" else "collet"
    return {"name": words, "kind": kind, "diameter": size, "teeth": teeth, "length": length, "holder": held}


def _of(name: str, kind: str, size: str, **more: Any) -> dict[str, Any]:
    return {"name": name, "kind": kind, "diameter": size, "holder": "chuck", **more}


def _crib(unit: LengthUnit) -> list[dict[str, Any]]:
    if unit is Unit.MM:
        ends = [("6", 2, "13"), ("8", 2, "19"), ("10", 2, "22"), ("12", 2, "26"), ("16", 4, "32"), ("20", 4, "38")]
        drills = ("5.0", "5.5", "6.6", "7.8", "8.0")
        spot, sink, reamer, rough, long = "10", "16.5", "8", "16", "32"
    else:
        ends = [("0.25", 2, "0.5"), ("0.3125", 2, "0.75"), ("0.375", 2, "0.75"), ("0.5", 2, "1"), ("0.75", 4, "1.5")]
        drills = ("0.201", "0.2188", "0.2656", "0.3039", "0.3125")
        spot, sink, reamer, rough, long = "0.375", "0.625", "0.3125", "0.75", "1.5"
    s = _MM if unit is Unit.MM else _INCH
    return [
        *(_mill(a, unit, b, c) for a, b, c in ends),
        _mill(rough, unit, 4, long, kind="roughing end mill"),
        *(
            _of(say("Drill {size} {unit}", size=d, unit=unit), "drill", d, teeth=2, angle="118", length=_long(unit))
            for d in drills
        ),
        _of(
            say("Spot drill {size} {unit}, 90°", size=spot, unit=unit), "spot drill", spot, angle="90", holder="collet"
        ),
        _of(
            say("Countersink {size} {unit}, {angle}°", size=sink, unit=unit, angle=s.angle),
            "countersink",
            sink,
            teeth=3,
            angle=s.angle,
        ),
        _of(say("Reamer {size} {unit}", size=reamer, unit=unit), "reamer", reamer, teeth=6, length=_long(unit)),
        _of(
            say("Tap {thread}", thread=s.thread[0]),
            "tap",
            s.thread[1],
            thread=s.thread[0],
            tap="cutting",
            holder="tap-wrench",
        ),
    ]


def _long(unit: LengthUnit) -> str:
    return "60" if unit is Unit.MM else "2.4"


def _machine(unit: LengthUnit) -> Machine:
    mm = unit is Unit.MM
    table = ("1000", "230") if mm else ("42", "9")
    turns = [("x", "left end", "right", "5", "0.12"), ("y", "front", "away", "5", "0.08")]
    inches = [("x", "left end", "right", "0.200", "0.008"), ("y", "front", "away", "0.200", "0.006")]
    handles = [
        {"axis": a, "place": p, "clockwise": c, "unit": unit, "per_turn": t, "graduations": 200, "backlash": b}
        for a, p, c, t, b in (turns if mm else inches)
    ]
    fine = {"unit": unit, "per_turn": "2" if mm else "0.100", "graduations": 100}
    handles += [
        {"axis": "knee", "place": "front left", "clockwise": "up", **fine},
        {"axis": "quill", "place": "right of the head", "clockwise": "down", **fine},
    ]
    return read_machine(
        {
            "kind": "turret_knee",
            "make": "practice",
            "unit": unit,
            "head": {"tilt": True, "nod": {"behind": None}},
            "table": {"length": table[0], "width": table[1]},
            "travel": ["600", "300", "380"] if mm else ["24", "11", "15"],
            "spindle": {
                "taper": "collet taper",
                "watts": 1500,
                "steps": [90, 180, 350, 500, 710, 1000, 1400, 2000, 2800],
            },
            "quill_travel": "120" if mm else "5",
            "handles": handles,
            "power_feed": ["x"],
        }
    )


@cache
def small_shop(unit: LengthUnit) -> PlanShop:
    """The shop of these rigs: one knee mill, a vise, parallels and a drawer of cutters, in the shop's unit."""
    s = _MM if unit is Unit.MM else _INCH
    cutters = [Cutter.model_validate({"unit": unit, "owned": 2, **row}) for row in _crib(unit)]
    designation, diameter, pitch = s.thread
    clear = ("6.4", "6.6") if unit is Unit.MM else ("0.257", "0.266")
    thread = Thread(
        designation=designation,
        series="metric coarse" if unit is Unit.MM else "inch coarse",
        unit=unit,
        diameter=diameter,
        pitch=pitch,
        close=clear[0],
        free=clear[1],
    )
    heights = ("16", "20", "24", "28", "32") if unit is Unit.MM else ("0.625", "0.75", "0.875", "1", "1.25")
    thick, long = ("4", "150") if unit is Unit.MM else ("0.1875", "6")
    return PlanShop(
        name=say("Practice mill"),
        machine=_machine(unit),
        vises=(VisePlace(say("vise"), JawVise(*(Length(x, Unit.MM).mm for x in ("150", "36", "150")))),),
        drawer=tuple(ParallelPair(*(Length(x, unit).mm for x in (h, thick, long))) for h in heights),
        crib={c.name: CribCutter(c, 2) for c in cutters},
        holders={h.key: h for h in _HELD},
        v_blocks=(VBlockPlace(say("V-block"), Length("5", Unit.MM).mm, Length("100", Unit.MM).mm),),
        threads={designation: thread},
        stock=_ALUMINIUM,
    )
