"""What a shop starts with: the skill graph, question banks and pictures, as readable text files.

Only files and their parsing live here; the rules are in ``incudo.core``.
"""

from __future__ import annotations

from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any

import yaml

from incudo.core.pictures import Picture, read_picture
from incudo.core.questions import Bank, read_bank
from incudo.core.rigs import RIGS
from incudo.core.skills import SkillGraph, read_graph

__all__ = ["banks", "graph", "pictures", "skill_data"]

_HERE = resources.files("incudo.shipped")


def _load(file: Traversable) -> Any:
    return yaml.safe_load(file.read_text(encoding="utf-8"))


def _folder(name: str) -> list[Any]:
    files = sorted(_HERE.joinpath(name).iterdir(), key=lambda f: f.name)
    return [_load(f) for f in files if f.name.endswith(".yaml")]


@cache
def pictures() -> dict[str, Picture]:
    """Our own drawings to point at, by name."""
    found = [read_picture(data) for data in _folder("pictures")]
    return {p.picture: p for p in found}


@cache
def banks() -> dict[str, Bank]:
    """The shipped question banks, by name."""
    found = [read_bank(data, pictures()) for data in _folder("questions")]
    return {b.bank: b for b in found}


@cache
def skill_data() -> Any:
    """The shipped skill graph as it stands in its file."""
    return _load(_HERE.joinpath("skills.yaml"))


@cache
def graph() -> SkillGraph:
    """The shipped skill graph."""
    return read_graph(skill_data(), banks(), RIGS)
