"""Exercises: questions that this shop could ask, answers held against what can be set, slips named as what they are."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.practice.exercise import ask, check, given_lines, solution, words_of
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.reckoning.calculation import wrong_answer
from incudo.core.reckoning.inputs import UNITS
from incudo.core.reckoning.question import ShopFacts
from incudo.demo.setting import cutter_entries, machine_entries

FACTS = ShopFacts(machine_entries(), shipped.materials(), cutter_entries(), shipped.threads())
SEEDS = st.integers(0, 10**6).map(str)


def typed(value: Fraction, kind: object, unit: str) -> str:
    one = next(u[unit] for k, u in UNITS.items() if k is kind)
    return f"{float(value / one):.6f}"


@pytest.mark.parametrize("name", MAKERS)
@settings(max_examples=15)
@given(seed=SEEDS)
def test_a_question_tells_right_answers_slips_and_guesses_apart(name: str, seed: str) -> None:
    q, c = ask(name, seed, FACTS), CALCULATIONS[name]
    assert ask(name, seed, FACTS) == q
    values = c.read(q.given)
    right = c.work(values)
    answer = right.answer
    text = answer.word or typed(answer.value, answer.kind, q.unit)
    found = check(q, text, q.unit)
    assert found.right
    assert not found.slip
    assert found.answer == solution(q, "", "")[0]
    assert given_lines(q)
    wrongs = {s.words: w for s in c.slips if (w := wrong_answer(c, s, values, right)) is not None}
    seen = 0
    for wrong in wrongs.values():
        if abs(wrong - answer.value) <= 2 * q.near or abs(wrong) > 900_000:
            continue
        text = words_of(q)[int(wrong)] if answer.words else typed(wrong, answer.kind, q.unit)
        said = check(q, text, q.unit)
        assert not said.right
        # another slip may come just as near; what is named leads there too
        assert abs(wrongs[said.slip] - wrong) <= q.near + Fraction(1, 1000)
        assert said.working
        seen += 1
    assert seen
    if not answer.words:
        guess = answer.value * 3 + 17 * q.near + 1
        if all(abs(guess - w) > q.near for w in wrongs.values()):
            said = check(q, typed(guess, answer.kind, q.unit), q.unit)
            assert (said.right, said.slip, said.working) == (False, "", right.steps)


def test_the_working_begins_where_the_slip_leads_away() -> None:
    """A wrong surface speed goes wrong in the first line; a step rounded up only in the last ones."""
    c = CALCULATIONS["spindle-speed"]
    values = c.read({"surface": "24", "diameter": "12", "steps": "90 145 230 370 590 940"})
    radius = next(s for s in c.slips if "radius" in s.words)
    assert c.working_from(values, radius)[0].what == "rpm"
    up = next(s for s in c.slips if "rounded up" in s.words)
    assert [s.what for s in c.working_from(values, up)] == ["cutting speed at that step"]
    feed = CALCULATIONS["middle"]
    values = feed.read({"low": "10", "high": "60", "tip": "10", "by": "dial", "backlash": "0.1"})
    mean = next(s for s in feed.slips if "mean of both dials" in s.words)
    assert feed.working_from(values, mean)[0].what == "true span"


def test_an_answer_in_another_unit_is_right_too_and_nonsense_is_refused() -> None:
    q = ask("drill-point", "7", FACTS)
    c = CALCULATIONS["drill-point"]
    value = c.work(c.read(q.given)).answer.value
    for unit in ("in", "mm"):
        assert check(q, typed(value, c.work(c.read(q.given)).answer.kind, unit), unit).right
    for text, unit, words in (
        ("much", "in", "plain number"),
        ("", "in", "plain number"),
        ("1", "ell", "must be one of"),
    ):
        with pytest.raises(Refused, match=words):
            check(q, text, unit)
    with pytest.raises(Refused, match="climb, conventional"):
        check(ask("climb", "1", FACTS), "both", "")


def test_a_title_block_question_does_not_give_the_places_away() -> None:
    q = ask("title-block", "3", FACTS)
    assert not any("places as written" in label for label, _ in given_lines(q))


def test_a_shop_without_what_is_asked_says_so() -> None:
    with pytest.raises(Refused, match="must be one of"):
        ask("guess", "1", FACTS)
    with pytest.raises(Refused, match="no machine"):
        ask("climb", "1", replace(FACTS, machines={}))
    with pytest.raises(Refused, match="no tap"):
        ask("tap-drill", "1", replace(FACTS, cutters=()))
    assert ask("climb", "1", replace(FACTS, cutters=(), stocks=()))


def test_questions_differ_from_seed_to_seed() -> None:
    for name in ("spindle-speed", "dial-move", "fit"):
        assert len({str(ask(name, str(n), FACTS)) for n in range(20)}) >= 10
