"""What a shop starts with: skill graph, question banks, pictures, tables of the trade, as readable text files.

Only files and their parsing live here; the rules are in ``incudo.core``.
"""

from __future__ import annotations

from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any, TypeVar

import yaml

from incudo.core.measuring.kinds import GaugeKind, read_gauge_kind
from incudo.core.practice.rigs import RIGS
from incudo.core.reckoning import MAKERS
from incudo.core.shop.cutter import Drill, Holder, Thread
from incudo.core.shop.kinds import HoldingKind, MachineKind, read_holding_kind, read_machine_kind
from incudo.core.shop.material import Material, Range, Stock
from incudo.core.shop.table import Row, read
from incudo.core.skills.glossary import Glossary, read_glossary
from incudo.core.skills.graph import SkillGraph, read_graph
from incudo.core.skills.pictures import Picture, read_picture
from incudo.core.skills.questions import Bank, Sources, read_bank

__all__ = [
    "banks",
    "drills",
    "gauge_kinds",
    "glossary",
    "graph",
    "holders",
    "holding_kinds",
    "machine_kinds",
    "materials",
    "parts",
    "pictures",
    "read_yaml",
    "skill_data",
    "sources",
    "spellings",
    "texts",
    "threads",
]

_HERE = resources.files("incudo.shipped")
R = TypeVar("R", bound=Row)


def read_yaml(text: str) -> Any:
    """What a YAML text says, read by the library's own compiled parser where it has one: ten times as fast."""
    return yaml.load(text, Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader))  # noqa: S506 (both are safe)


def _load(file: Traversable) -> Any:
    return read_yaml(file.read_text(encoding="utf-8"))


def _folder(name: str) -> list[Any]:
    files = sorted(_HERE.joinpath(name).iterdir(), key=lambda f: f.name)
    return [_load(f) for f in files if f.name.endswith(".yaml")]


@cache
def pictures() -> dict[str, Picture]:
    """Our own drawings to point at, by name."""
    found = [read_picture(data) for data in _folder("pictures")]
    return {p.picture: p for p in found}


@cache
def parts() -> dict[str, Any]:
    """The practice parts, as their files say them, by code."""
    return {data["code"]: data for data in _folder("parts")}


@cache
def machine_kinds() -> tuple[MachineKind, ...]:
    """Kinds of machine that one is entered like."""
    return tuple(read_machine_kind(data) for data in _load(_HERE.joinpath("machine-kinds.yaml")))


@cache
def holding_kinds() -> tuple[HoldingKind, ...]:
    """Kinds of workholding with usual sizes."""
    return tuple(read_holding_kind(data) for data in _load(_HERE.joinpath("holding-kinds.yaml")))


@cache
def gauge_kinds() -> tuple[GaugeKind, ...]:
    """Kinds of gauge with their usual ranges and uncertainties."""
    return tuple(read_gauge_kind(data) for data in _load(_HERE.joinpath("gauge-kinds.yaml")))


@cache
def banks() -> dict[str, Bank]:
    """The shipped question banks, by name."""
    found = [read_bank(data, sources()) for data in _folder("questions")]
    return {b.bank: b for b in found}


@cache
def sources() -> Sources:
    """What questions are made from."""
    return Sources(pictures(), glossary())


@cache
def glossary() -> Glossary:
    """The words of the trade."""
    return read_glossary(_load(_HERE.joinpath("glossary.yaml")))


@cache
def spellings() -> dict[str, dict[str, str]]:
    """By the name of a spelling, the words that it writes otherwise than they stand in the texts."""
    found: dict[str, dict[str, str]] = _load(_HERE.joinpath("spelling.yaml"))
    return found


@cache
def skill_data() -> Any:
    """The shipped skill graph as it stands in its file."""
    return _load(_HERE.joinpath("skills.yaml"))


@cache
def graph() -> SkillGraph:
    """The shipped skill graph."""
    return read_graph(skill_data(), banks(), RIGS, MAKERS)


@cache
def texts() -> frozenset[str]:
    """Every text that people read in what a shop starts with: skills, questions, pictures, names of the tables."""
    found: set[str] = set()
    for data in (skill_data(), *_folder("questions"), *_folder("pictures")):
        _gather(data, found)
    for row in (*_table(Material, "materials"), *holders().values()):
        _gather([getattr(row, k, "") for k in ("name", "fluid", "cautions", "note", "source")], found)
    found |= {str(r.source) for r in _table(Range, "ranges")}
    found |= {text for k in machine_kinds() for text in (k.name, k.about)}
    found |= {k.name for k in gauge_kinds()} | {k.name for k in holding_kinds()}
    return frozenset(found)


def _gather(data: Any, found: set[str]) -> None:
    """Sentences and names; keys of the files are single words in small letters and are none."""
    if isinstance(data, dict):
        for value in data.values():
            _gather(value, found)
    elif isinstance(data, (list, tuple)):
        for value in data:
            _gather(value, found)
    elif isinstance(data, str) and (" " in data or data[:1].isupper()):
        found.add(" ".join(data.split()) if "\n" in data else data)


def _table(model: type[R], name: str) -> tuple[R, ...]:
    """Every row of a table of ours. Raises ``ValueError`` naming the line for one that cannot be."""
    lines = read(model, _HERE.joinpath("tables", f"{name}.csv").read_text(encoding="utf-8"))
    if bad := [line for line in lines if line.row is None]:
        raise ValueError(f"{name}.csv, line {bad[0].number}: {bad[0].errors}")
    return tuple(line.row for line in lines if line.row)


@cache
def threads() -> dict[str, Thread]:
    """The standard threads, by designation."""
    return {x.designation: x for x in _table(Thread, "threads")}


@cache
def drills() -> tuple[Drill, ...]:
    """The four series of drills, in order."""
    return _table(Drill, "drills")


@cache
def holders() -> dict[str, Holder]:
    """Ways to hold a cutter, by key."""
    return {x.key: x for x in _table(Holder, "holders")}


@cache
def materials() -> tuple[Stock, ...]:
    """Materials of a teaching shop with how fast they are cut."""
    ranges = _table(Range, "ranges")
    return tuple(
        Stock(material=m, ranges=tuple(r for r in ranges if r.material == m.key)) for m in _table(Material, "materials")
    )
