"""The shop's skill graph and question banks as they stand now."""

from __future__ import annotations

import json
from functools import lru_cache

from incudo import shipped
from incudo.app.kernel.unit import Work
from incudo.core.practice.rigs import RIGS
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.skills.graph import SkillGraph, read_graph
from incudo.core.skills.questions import Bank, read_bank
from incudo.store.skills import files
from incudo.store.skills import knowledge as knowledge_store


@lru_cache(maxsize=64)
def bank_of(content: str) -> Bank:
    """The parsed question bank of one version."""
    return read_bank(json.loads(content), shipped.pictures())


def banks(w: Work) -> dict[str, tuple[Bank, int]]:
    """The newest version of every bank, with its number."""
    if "banks" not in w.memo:
        rows = knowledge_store.newest_banks(w.db)
        w.memo["banks"] = {r.bank: (bank_of(r.content), r.number) for r in rows}
    found: dict[str, tuple[Bank, int]] = w.memo["banks"]
    return found


@lru_cache(maxsize=16)
def graph_of(content: str, bank_names: tuple[str, ...]) -> SkillGraph:
    """The parsed skill graph of one version."""
    return read_graph(json.loads(content), bank_names, RIGS, MAKERS)


def skill_graph(w: Work) -> SkillGraph:
    """The newest version of the shop's skill graph."""
    if "graph" not in w.memo:
        w.memo["graph"] = graph_of(files.newest_skill_file(w.db), tuple(banks(w)))
    graph: SkillGraph = w.memo["graph"]
    return graph


def names_in_words(w: Work) -> dict[str, str]:
    """The names of question banks, rigs and exercises, as the core's reasons say them."""
    names = {key: bank.name for key, (bank, _) in banks(w).items()} | {r.id: r.name for r in RIGS.values()}
    return names | {name: CALCULATIONS[name].name for name in MAKERS if name not in names}
