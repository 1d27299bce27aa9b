"""Records of students for the tests of skills: what was signed, withdrawn, passed, when."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from incudo import shipped
from incudo.core.skills.evidence import Act, ActKind, Evidence, EvidenceKind, Record
from incudo.core.skills.graph import Knowledge, SkillGraph
from incudo.core.skills.standing import Book

NOW = datetime(2026, 11, 24, 18, 0, tzinfo=UTC)
GRAPH: SkillGraph = shipped.graph()
BANKS = sorted({r.bank for s in GRAPH.skills for r in s.evidence if isinstance(r, Knowledge)})
MACHINES = ("petrel", "gannet")


def ago(days: float) -> datetime:
    return NOW - timedelta(days=days)


def act(kind: ActKind, skill: str, machine: str | None = None, days: float = 10, words: str = "") -> Act:
    return Act(kind, skill, machine, ago(days), "Mara Haldane", words)


def signed(skill: str, machine: str | None = None, days: float = 10) -> Act:
    return act(ActKind.SIGN_OFF, skill, machine, days)


def withdrawn(skill: str, machine: str | None = None, days: float = 1) -> Act:
    return act(ActKind.WITHDRAWAL, skill, machine, days, "reached over the cutter")


def inspected(skill: str, days: float = 5) -> Evidence:
    return Evidence(EvidenceKind.INSPECTED, skill, ago(days), "Tide block")


def checked(bank: str, days: float = 20, *, passed: bool = True) -> Evidence:
    return Evidence(EvidenceKind.KNOWLEDGE, bank, ago(days), "all right", passed=passed)


def reached(rig: str, days: float = 20, level: int = 1) -> Evidence:
    return Evidence(EvidenceKind.RIG, rig, ago(days), level=level)


def upto(*names: str, days: float = 10, machine: str = "petrel") -> tuple[Act, ...]:
    """The named skills and all that they rest on, signed on one day."""
    wanted = {b for n in names for b in (*GRAPH.before(n), n)}
    return tuple(signed(s.id, machine if s.per_machine else None, days) for s in GRAPH.skills if s.id in wanted)


def book(*acts: Act, evidence: Iterable[Evidence] = (), now: datetime = NOW, presence: Iterable[datetime] = ()) -> Book:
    return Book(GRAPH, Record(tuple(acts), tuple(evidence), tuple(presence)), now)
