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
from incudo.store.kernel.database import cache_of
from incudo.store.skills import files
from incudo.store.skills import knowledge as knowledge_store


@lru_cache(maxsize=64)
def bank_of(content: str) -> Bank:
    """The parsed question bank of one version."""
    return read_bank(json.loads(content), shipped.sources())


def banks(w: Work) -> dict[str, tuple[Bank, int]]:
    """The newest version of every bank, with its number."""
    if "banks" not in w.memo:
        kept = cache_of(w.db)
        w.memo["bank versions"] = knowledge_store.newest_banks(w.db)
        for v in w.memo["bank versions"]:
            if v not in kept:
                kept[v] = bank_of(knowledge_store.bank(w.db, v[0], v[1]))
        w.memo["banks"] = {v[0]: (kept[v], v[1]) for v in w.memo["bank versions"]}
    found: dict[str, tuple[Bank, int]] = w.memo["banks"]
    return found


@lru_cache(maxsize=16)
def graph_of(content: str, bank_names: tuple[str, ...]) -> SkillGraph:
    """The parsed skill graph of one version."""
    return read_graph(json.loads(content), bank_names, RIGS, MAKERS)


def skill_graph(w: Work) -> SkillGraph:
    """The newest version of the shop's skill graph."""
    if "graph" not in w.memo:
        version, names, kept = files.newest_skill_file(w.db), tuple(banks(w)), cache_of(w.db)
        if (version, names) not in kept:
            kept[version, names] = graph_of(files.skill_file(w.db, version[0]), names)
        w.memo["graph version"], w.memo["graph"] = version, kept[version, names]
    graph: SkillGraph = w.memo["graph"]
    return graph


def basis_of_graph(w: Work) -> str:
    """The versions of the graph and of the banks that hold now, as text."""
    skill_graph(w)
    return repr((w.memo["graph version"], w.memo["bank versions"]))


def names_in_words(w: Work) -> dict[str, str]:
    """The names of question banks, rigs and exercises, as the core's reasons say them."""
    names = {key: bank.name for key, (bank, _) in banks(w).items()} | {r.id: r.name for r in RIGS.values()}
    return names | {name: CALCULATIONS[name].name for name in MAKERS if name not in names}
