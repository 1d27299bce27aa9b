"""The demo's machines with the demo's crib, as a plan asks for them; the shipped parts with their stock."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from importlib import resources

import yaml

from incudo import shipped
from incudo.core.kernel.quantity import Length
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.planning.piece import Piece, piece_of
from incudo.core.planning.shop import CribCutter, PlanShop, VisePlace, material_of
from incudo.core.setup.holding import JawVise, ParallelPair
from incudo.core.shop.cutter import Cutter
from incudo.core.shop.machine import Parallels, Vise, read_holding, read_machine
from incudo.core.shop.table import read

MACHINES = ("petrel", "fulmar", "gannet", "dunlin")
#: The vise that stands on each machine.
ON = {"petrel": "vise-6", "fulmar": "vise-6", "gannet": "vise-160", "dunlin": "vise-4"}


def _equipment(name: str) -> str:
    return resources.files("incudo.demo").joinpath("equipment", name).read_text(encoding="utf-8")


@cache
def crib() -> dict[str, CribCutter]:
    """Every cutter of the demo's crib, all of them there."""
    rows = [line.row for line in read(Cutter, _equipment("cutters.csv")) if line.row]
    return {c.name: CribCutter(c, c.owned) for c in rows}


@cache
def shop(machine: str, material: str) -> PlanShop:
    """A demo machine, for a part of this material."""
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
    return PlanShop(
        name=machine.capitalize(),
        machine=read_machine(yaml.safe_load(_equipment("machines.yaml"))[machine]),
        vises=(vises[ON[machine]],),
        drawer=drawer,
        crib=crib(),
        holders=shipped.holders(),
        threads=shipped.threads(),
        stock=material_of(material, shipped.materials()),
    )


@cache
def piece(code: str) -> Piece:
    """A shipped part with its stock."""
    return piece_of(part_of(read_part(shipped.parts()[code])))


def on(machine: str, code: str) -> PlanShop:
    """A demo machine for a shipped part."""
    return shop(machine, piece(code).part.file.material)


def without(s: PlanShop, *names: str) -> PlanShop:
    """The same shop with all of these cutters out."""
    return replace(s, crib={k: replace(c, left=0) if k in names else c for k, c in s.crib.items()})
