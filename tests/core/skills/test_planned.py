"""Plans of one's own, and dry runs, as evidence: so many parts, each once, from its first good one on."""

from __future__ import annotations

import pytest

from incudo.core.skills.evidence import Evidence, EvidenceKind
from incudo.core.skills.graph import DryRunParts, PlannedParts
from tests.core.skills.records import GRAPH, ago, book

(WANTED,) = (r.parts for r in GRAPH.get("plan-work").evidence if isinstance(r, PlannedParts))


def planned(part: str, days: float, *, passed: bool = True) -> Evidence:
    return Evidence(EvidenceKind.PLAN, part, ago(days), f"{part}, good", passed=passed)


@pytest.mark.parametrize(("parts", "enough"), [(WANTED - 1, False), (WANTED, True), (WANTED + 1, True)])
def test_so_many_parts_are_planned(parts: int, enough: bool) -> None:
    kept = book(evidence=[planned(f"part {n}", n) for n in range(parts)])
    (met,) = (m for m in kept.evidence(GRAPH.get("plan-work"), None) if m.kind == "plans")
    assert met.ok is enough
    assert f"{parts} of {WANTED}" in met.words


def test_a_part_counts_once_from_its_first_good_plan_on() -> None:
    tries = [planned("gauge", 9, passed=False), planned("gauge", 7), planned("plate", 5), planned("gauge", 2)]
    assert [(e.key, e.at) for e in book(evidence=tries).planned()] == [("gauge", ago(7)), ("plate", ago(5))]


@pytest.mark.parametrize(
    ("tries", "enough"), [([], False), ([False], False), ([False, True], True), ([True, True], True)]
)
def test_a_dry_run_without_a_slip_speaks_for_whoever_did_it(tries: list[bool], enough: bool) -> None:
    skill = GRAPH.get("trace-error")
    (wanted,) = (r.parts for r in skill.evidence if isinstance(r, DryRunParts))
    assert wanted == 1
    shown = [Evidence(EvidenceKind.DRY_RUN, "gauge", ago(9 - n), "", passed=ok) for n, ok in enumerate(tries)]
    (met,) = (m for m in book(evidence=shown).evidence(skill, None) if m.kind == "dry-runs")
    assert met.ok is enough
    assert f"{int(enough)} of 1" in met.words, "one part counts once"
