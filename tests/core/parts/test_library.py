"""What a shop starts with: skills, questions, pictures; and how a bad file is refused."""

from __future__ import annotations

import copy
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.practice.rigs import RIGS
from incudo.core.reckoning import MAKERS
from incudo.core.skills.graph import read_graph
from incudo.core.skills.picture_of_graph import BOX_HEIGHT, BOX_WIDTH, lay_out
from incudo.core.skills.questions import Term, draw, judge_answer, next_try, present, read_bank, score, solve
from tests.core.skills.records import BANKS, GRAPH, ago

SOURCES = shipped.sources()
QUESTIONS = [
    (b, q.spoken(SOURCES) if isinstance(q, Term) else q) for b in shipped.banks().values() for q in b.questions
]


def test_the_shipped_graph_covers_the_work_and_hangs_together() -> None:
    assert 35 <= len(GRAPH.skills) <= 50
    assert [s.id for s in GRAPH.opening] == ["machine-familiarisation"]
    assert sum(s.operation for s in GRAPH.skills) >= 10
    for s in GRAPH.skills:
        assert s.shown, s.id
        assert s.mistakes, s.id
        if s.group == "safety" or (s.opens_machine and s.demonstrated):
            assert s.critical, f"{s.id}: something must stop a demonstration"
        assert set(s.refresher) <= set(range(1, len(s.shown) + 1))
        if s.demonstrated and (s.lapses.after_days or s.lapses.absence_days):
            assert 0 < len(s.points(refresher=True)) < len(s.points()), f"{s.id}: a refresher is shorter"


EMPTY = ("be careful", "caution", "pay attention", "take care", "as appropriate", "where necessary")


def test_no_caution_is_empty_wording() -> None:
    """Each says what can happen and what to do, in words of its own."""
    seen: set[str] = set()
    for s in GRAPH.skills:
        for c in s.cautions:
            for words in (c.happens, c.do):
                assert len(words.split()) >= 4, f"{s.id}: {words}"
                assert not any(e in words.lower() for e in EMPTY), f"{s.id}: {words}"
            assert c.happens not in seen, f"{s.id} repeats: {c.happens}"
            seen.add(c.happens)


def test_at_least_120_distinct_questions_of_every_kind() -> None:
    assert len({q.text for _, q in QUESTIONS}) == len(QUESTIONS) >= 120
    every = ("choose", "order", "point", "spot", "number", "judge", "term")
    kinds = {k: sum(q.kind == k for _, q in QUESTIONS) for k in every}
    assert all(n >= 4 for n in kinds.values()), kinds
    assert kinds["judge"] >= 60
    for b, q in QUESTIONS:
        assert len(q.why.split()) >= 4, f"{b.bank} {q.id}"
        assert len(q.otherwise.split()) >= 3, f"{b.bank} {q.id}"
    asked = {q.part for _, q in QUESTIONS if q.kind == "point" and q.picture == "knee-mill"}
    assert {"head", "quill", "column", "knee", "saddle", "table", "drawbar", "base"} <= asked


@settings(max_examples=60)
@given(st.sampled_from(QUESTIONS), st.text(max_size=8))
def test_each_question_has_exactly_one_answer_that_is_right(pair: Any, seed: str) -> None:
    _, q = pair
    shown = present(q, seed, SOURCES)
    places, number = solve(q, seed, SOURCES)
    assert judge_answer(q, seed, SOURCES, places, number).right
    count = max(len(shown.options), len(shown.areas))
    if q.kind == "order":
        assert not judge_answer(q, seed, SOURCES, places[::-1], "").right
        assert list(places) != sorted(places), "never shown in the right order"
    elif count:
        for other in range(count):
            if (other,) != places:
                assert not judge_answer(q, seed, SOURCES, (other,), "").right
    else:
        assert not judge_answer(q, seed, SOURCES, (), "-1").right
    told = repr((shown.options, shown.areas, shown.lines))
    assert q.why not in told
    assert q.otherwise not in told


@pytest.mark.parametrize("bank", BANKS)
@settings(max_examples=25)
@given(st.text(max_size=8))
def test_a_draw_is_repeatable_and_never_leaves_the_critical_out(bank: str, seed: str) -> None:
    b = shipped.banks()[bank]
    names = draw(b, seed)
    assert names == draw(b, seed)
    assert len(set(names)) == len(names) == b.draw
    critical = sum(q.critical for q in b.live)
    assert sum(b.get(n).critical for n in names) >= min(critical, (b.draw + 1) // 2)


def test_one_critical_question_wrong_fails_however_good_the_rest() -> None:
    b = shipped.banks()["at-the-machine"]
    critical = next(q.id for q in b.live if q.critical)
    answers = {q.id: True for q in b.live}
    assert score(b, answers).passed
    failed = score(b, answers | {critical: False})
    assert (failed.passed, failed.critical_wrong) == (False, 1)
    plain = [q.id for q in b.live if not q.critical]
    assert score(b, answers | {plain[0]: False}).passed, "one slip beside the critical ones is allowed"


def test_the_wait_between_tries_grows_up_to_a_day() -> None:
    tries = [ago(9), ago(8), ago(7)]
    waits = []
    for n in (1, 2, 3, 20):
        at = next_try((tries * 7)[:n])
        assert at is not None
        waits.append((at - max((tries * 7)[:n])).total_seconds() / 60)
    assert waits == [10, 20, 40, 24 * 60]
    assert next_try([]) is None


@pytest.mark.parametrize(("typed", "right"), [("12", True), ("12,0", True), ("11.99", False), ("x", None), ("", None)])
def test_numbers_are_typed_with_point_or_comma(typed: str, right: bool | None) -> None:
    bank = {
        "format": "incudo-questions/1", "bank": "b", "name": "Bank", "draw": 1, "pass_percent": 80,
        "questions": [{
            "id": "q", "kind": "number", "text": "How many?", "unit": "mm", "low": "12", "high": "13",
            "why": "because it is so", "otherwise": "it would not fit",
        }],
    }  # fmt: skip
    q = read_bank(bank, SOURCES).questions[0]
    if right is None:
        with pytest.raises(Refused, match="number"):
            judge_answer(q, "s", SOURCES, (), typed)
    else:
        assert judge_answer(q, "s", SOURCES, (), typed).right is right


def changed(**skill: Any) -> dict[str, Any]:
    """The shipped file with the skill "dials" changed."""
    data = copy.deepcopy(shipped.skill_data())
    next(s for s in data["skills"] if s["id"] == "dials").update(skill)
    return data


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (changed(prerequisites=["edge-finding"]), "circle"),
        (changed(prerequisites=["ghost"]), "not in the graph"),
        (changed(group="ghost"), "not one of the groups"),
        (changed(id="readout"), "appears twice"),
        (changed(evidence=[{"kind": "knowledge", "bank": "ghost"}]), "no such question bank"),
        (changed(evidence=[{"kind": "rig", "rig": "ghost"}]), "no such rig"),
        (changed(evidence=[{"kind": "exercise", "calculation": "ghost"}]), "no such exercise"),
        (changed(evidence=[{"kind": "skills", "of": ["edge-finding"], "count": 1}]), "never be reached"),
        (changed(critical=[99]), "number of a point"),
        (changed(cautions=[]), "cautions"),
        (changed(colour="red"), "colour"),
        ({"format": "incudo-skills/2"}, "skills"),
    ],
)
def test_bad_graphs_are_refused_in_words(data: Any, words: str) -> None:
    with pytest.raises(Refused, match=words):
        read_graph(data, BANKS, RIGS, MAKERS)


def test_the_picture_shows_every_skill_once_and_runs_left_to_right() -> None:
    picture = lay_out(GRAPH)
    at = {b.skill: b for b in picture.boxes}
    assert set(at) == {s.id for s in GRAPH.skills}
    assert len({(b.x, b.y) for b in picture.boxes}) == len(picture.boxes)
    for b in picture.boxes:
        assert 0 <= b.x <= picture.width - BOX_WIDTH
        assert 0 <= b.y <= picture.height - BOX_HEIGHT
    for s in GRAPH.skills:
        assert all(at[p].x < at[s.id].x for p in s.prerequisites)
    drawn = {(x.before, x.after) for x in picture.links}
    reach: dict[str, set[str]] = {}
    for s in sorted(GRAPH.skills, key=lambda s: at[s.id].x):
        reach[s.id] = {b for b, a in drawn if a == s.id}
        reach[s.id] |= {x for b in reach[s.id] for x in reach[b]}
        assert reach[s.id] == GRAPH.before(s.id), "the lines that are left out are implied by others"
