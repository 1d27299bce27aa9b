"""The demo's machines with the demo's crib, as a plan asks for them; the shipped parts with their stock."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from importlib import resources
from typing import Any

import yaml

from incudo import shipped
from incudo.core.kernel.quantity import Length
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.planning.piece import Piece, piece_of
from incudo.core.planning.shop import CribCutter, PlanShop, VBlockPlace, VisePlace, material_of
from incudo.core.setup.holding import JawVise, ParallelPair
from incudo.core.shop.cutter import Cutter
from incudo.core.shop.machine import Machine, read_machine
from incudo.core.shop.table import read
from incudo.core.shop.workholding import Clamps, Parallels, VBlocks, Vise, read_holding

MACHINES = ("petrel", "fulmar", "gannet", "dunlin")
#: The vise that stands on each machine.
ON = {
    "petrel": "vise-6", "fulmar": "vise-6", "gannet": "vise-160", "dunlin": "vise-4",
    "skua": "vise-160", "whimbrel": "vise-6",
}  # fmt: skip
#: Machines with a level arbor, by how they are entered; the demo's shop has none.
LEVEL = {"skua": "horizontal-metric", "whimbrel": "horizontal-inch"}
#: What sits on it: kind, diameter, width and teeth.
ARBOR = [
    *(("plain milling cutter", d, w, t) for d, w, t in ((63, 70, 8), (80, 100, 10))),
    *(("side and face cutter", d, w, 20) for d, w in ((80, 6), (100, 8), (100, 10), (125, 12), (125, 16), (125, 20))),
]


def _equipment(name: str) -> str:
    return resources.files("incudo.demo").joinpath("equipment", name).read_text(encoding="utf-8")


@cache
def crib() -> dict[str, CribCutter]:
    """Every cutter of the demo's crib, all of them there."""
    rows = [line.row for line in read(Cutter, _equipment("cutters.csv")) if line.row]
    return {c.name: CribCutter(c, c.owned) for c in rows}


@cache
def arbor() -> dict[str, CribCutter]:
    """Cutters for a level arbor, in mm."""
    made = {}
    for kind, diameter, width, teeth in ARBOR:
        name = f"{kind.capitalize()} {diameter} mm, {width} mm wide"
        of = {"diameter": str(diameter), "length": str(width), "teeth": teeth, "holder": "arbor-support"}
        made[name] = CribCutter(Cutter.model_validate({"name": name, "kind": kind, "unit": "mm", "owned": 1, **of}), 1)
    return made


def _machine(name: str) -> Machine:
    if name not in LEVEL:
        return read_machine(yaml.safe_load(_equipment("machines.yaml"))[name])
    return next(k.spec for k in shipped.machine_kinds() if k.id == LEVEL[name])


@cache
def shop(machine: str, material: str) -> PlanShop:
    """A demo machine, or one with a level arbor, for a part of this material."""
    workholding = {k: read_holding(v["of"]) for k, v in yaml.safe_load(_equipment("workholding.yaml")).items()}
    drawer = tuple(
        ParallelPair(*(Length(x, d.unit).mm for x in (p.height, p.thickness, p.length)))
        for d in workholding.values()
        if isinstance(d, Parallels)
        for p in d.pairs
    )
    vises = {
        k: VisePlace(k, JawVise(*(Length(x, v.unit).mm for x in (v.jaw, v.depth, v.opening))))
        for k, v in workholding.items()
        if isinstance(v, Vise)
    }
    v_blocks = tuple(
        VBlockPlace(k, *(Length(x, v.unit).mm for x in (v.least, v.most)))
        for k, v in workholding.items()
        if isinstance(v, VBlocks)
    )
    straps = tuple(Length(x, c.unit) for c in workholding.values() if isinstance(c, Clamps) for x in c.straps)
    return PlanShop(
        name=machine.capitalize(),
        machine=_machine(machine),
        vises=(vises[ON[machine]],),
        drawer=drawer,
        crib={**crib(), **(arbor() if machine in LEVEL else {})},
        v_blocks=v_blocks,
        straps=straps,
        holders=shipped.holders(),
        threads=shipped.threads(),
        stock=material_of(material, shipped.materials()),
    )


#: Parts with what no shipped one has.
OWN_PARTS = """
- code: tee
  body: {shape: block, x: "80", y: "50", z: "30"}
  stock: {form: flat, x: "84", y: "54", z: "32"}
  features:
    - {kind: slot, name: keel slot, face: bottom, along: x, at: "25", width: "10", depth: "6"}
    - {kind: step, name: front rail, face: top, side: front, length: "12", depth: "18"}
    - {kind: step, name: rear rail, face: top, side: rear, length: "12", depth: "18"}
- code: hollow
  body: {shape: block, x: "54", y: "50", z: "40"}
  stock: {form: flat, x: "58", y: "54", z: "42"}
  features:
    - {kind: slot, name: top slot, face: top, along: x, at: "25", width: "10", depth: "3"}
    - {kind: pocket, name: well, face: right, at: ["25", "20"], size: ["38", "26"], radius: "8", depth: "31"}
- code: hasp
  body: {shape: block, x: "60", y: "40", z: "16"}
  stock: {form: flat, x: "64", y: "44", z: "18"}
  features:
    - {kind: hole, name: eye, layout: {layout: single, at: ["36", "20"]}, diameter: "6"}
    - {kind: slot, name: tongue, face: top, along: y, at: "30", width: "10", depth: "6"}
- code: twin
  body: {shape: block, x: "60", y: "40", z: "16"}
  stock: {form: flat, x: "64", y: "44", z: "18"}
  features:
    - {kind: hole, name: pin one, layout: {layout: single, at: ["15", "20"]}, diameter: "6"}
    - {kind: hole, name: pin two, layout: {layout: single, at: ["45", "20"]}, diameter: "8"}
  asked: {number: 2, kind: distance, of: [pin one.axis, pin two.axis], along: x, tolerance: "±0.02"}
- code: ledge
  body: {shape: block, x: "60", y: "60", z: "44"}
  stock: {form: flat, x: "64", y: "64", z: "46"}
  features:
    - {kind: step, name: shelf, face: top, side: front, length: "30", depth: "26"}
    - {kind: slot, name: groove, face: shelf.floor, along: x, at: "20", width: "8", depth: "4"}
- code: razor
  body: {shape: block, x: "60", y: "40", z: "20"}
  stock: {form: flat, x: "64", y: "44", z: "22"}
  features:
    - {kind: slot, name: slot one, face: top, along: x, at: "15", width: "10", depth: "8"}
    - {kind: slot, name: slot two, face: top, along: x, at: "25.5", width: "10", depth: "8"}
"""


def _own_part(data: dict[str, Any]) -> Any:
    asked = [{"number": 1, "kind": "distance", "of": ["left", "right"], "tolerance": "±0.2"}]
    more = data.pop("asked", None)
    return {
        "format": "incudo-project/2",
        "name": data["code"].capitalize(),
        "unit": "mm",
        "material": "aluminium alloy",
        "title_block": {0: "0.5", 1: "0.2", 2: "0.05"},
        "characteristics": [*asked, *([more] if more else [])],
        **data,
    }


def own_part(code: str, *more: dict[str, str]) -> Any:
    """The file of one of our parts, with more features."""
    (data,) = (d for d in yaml.safe_load(OWN_PARTS) if d["code"] == code)
    return _own_part(data | {"features": [*data["features"], *more]})


def with_wall(thick: str, deep: str) -> Piece:
    """The part with two slots that leave a wall between them, so thick and so high, mm."""
    (data,) = (d for d in yaml.safe_load(OWN_PARTS) if d["code"] == "razor")
    one, two = data["features"]
    one["depth"] = two["depth"] = deep
    two["at"] = str(25 + float(thick))
    return piece_of(part_of(read_part(_own_part(data))))


@cache
def piece(code: str) -> Piece:
    """A shipped part, or one of ours, with its stock."""
    ours = {d["code"]: d for d in yaml.safe_load(OWN_PARTS)}
    return piece_of(part_of(read_part(_own_part(ours[code]) if code in ours else shipped.parts()[code])))


def on(machine: str, code: str) -> PlanShop:
    """A demo machine for a shipped part."""
    return shop(machine, piece(code).part.file.material)


def without(s: PlanShop, *names: str) -> PlanShop:
    """The same shop with all of these cutters out."""
    return replace(s, crib={k: replace(c, left=0) if k in names else c for k, c in s.crib.items()})
