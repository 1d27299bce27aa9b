"""The ladder that is shipped: what each skill rests on and by what it is shown, held line by line."""

from __future__ import annotations

import pytest

from incudo import shipped
from incudo.core.practice.exercise import MAKERS
from incudo.core.practice.rigs import RIGS
from incudo.core.skills.graph import Demonstration, ExerciseStandard, Knowledge, RigStandard, Skill
from tests.core.skills.records import GRAPH

SKILLS = pytest.mark.parametrize("skill", GRAPH.skills, ids=lambda s: s.id)
#: What can only be seen done at a machine: there is no rig, exercise, question or part for it.
SEEN_ALONE = {"wrench", "machine-familiarisation", "machine-care", "deburr", "measure-depth"}


@pytest.mark.parametrize(
    ("skill", "needs"),
    [
        ("facing", {"dials", "holders", "change-cutter", "parallels", "speed-feed"}),
        ("hand-tapping", {"countersinking", "drilling"}),
        ("reaming", {"gauges", "drilling", "measure-micrometer"}),
        ("drilling", {"change-cutter", "parallels", "dials", "machine-familiarisation"}),
        ("mill-slots", {"align-vise", "edge-finding", "square-block"}),
        ("boring", {"square-head", "clamp-table", "centre-bore"}),
        ("align-vise", {"lift-vise", "measure-indicator", "wrench"}),
        ("mill-pockets", {"mill-slots", "side-milling", "align-vise"}),
        ("change-cutter", {"general-safety", "wrench"}),
    ],
)
def test_what_a_skill_rests_on(skill: str, needs: set[str]) -> None:
    assert needs <= set(GRAPH.before(skill))


@pytest.mark.parametrize("skill", ["square-head", "align-vise", "holders", "clamp-table", "gauges"])
def test_nothing_that_is_taught_leads_nowhere(skill: str) -> None:
    assert [s.id for s in GRAPH.skills if skill in GRAPH.before(s.id)], f"something rests on {skill}"


@SKILLS
def test_every_operation_rests_on_safety_and_on_the_machine_it_is_done_at(skill: Skill) -> None:
    if not skill.operation:
        return
    assert "general-safety" in GRAPH.before(skill.id)
    assert skill.critical or skill.signed_by == "instructor" or skill.id in {"countersinking"}, skill.id


@SKILLS
def test_a_skill_is_shown_by_more_than_being_seen_where_there_is_more(skill: Skill) -> None:
    kinds = {type(e) for e in skill.evidence}
    assert (kinds == {Demonstration}) == (skill.id in SEEN_ALONE)


@SKILLS
def test_its_evidence_exists(skill: Skill) -> None:
    for e in skill.evidence:
        match e:
            case Knowledge():
                assert e.bank in shipped.banks()
            case RigStandard():
                assert e.level in {x.number for x in RIGS[e.rig].levels}
            case ExerciseStandard():
                assert e.calculation in MAKERS


@SKILLS
def test_its_words_say_they_of_people_and_name_no_tool_in_two_ways(skill: Skill) -> None:
    said = [skill.name, *skill.shown, *skill.mistakes, *(x for c in skill.cautions for x in (c.happens, c.do))]
    words = {w.strip(".,;:?!\"'()").lower() for text in said for w in text.split()}
    assert not words & {"he", "his", "him", "himself", "spanner", "spanners"}
    assert len(set(skill.shown)) == len(skill.shown)
    assert set(skill.critical) | set(skill.refresher) <= set(range(1, len(skill.shown) + 1))


@pytest.mark.parametrize("bank", shipped.banks())
def test_every_bank_is_asked_by_a_skill(bank: str) -> None:
    assert [s.id for s in GRAPH.skills for e in s.evidence if isinstance(e, Knowledge) and e.bank == bank]


def test_every_rig_is_evidence_for_something() -> None:
    assert {e.rig for s in GRAPH.skills for e in s.evidence if isinstance(e, RigStandard)} == set(RIGS)
