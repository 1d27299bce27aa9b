"""Question banks: which questions come, what is presented, how each kind is judged, when a check is passed."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.skills.questions import Bank, Choose, draw, judge_answer, present, read_bank, score, solve
from tests.core.said import told

SOURCES = shipped.sources()
WHY = {"why": "because it is so", "otherwise": "it would not fit"}


def choose(
    name: str, *, right: tuple[str, ...] = ("yes",), wrong: tuple[str, ...] = ("no", "maybe"), **more: Any
) -> Any:
    return {"id": name, "kind": "choose", "text": "What now?", "right": right, "wrong": wrong, **WHY, **more}


def order(name: str, *steps: str, **more: Any) -> Any:
    return {"id": name, "kind": "order", "text": "Put it in order.", "steps": steps, **WHY, **more}


def number(name: str, low: str, high: str, **more: Any) -> Any:
    return {"id": name, "kind": "number", "text": "How many?", "unit": "mm", "low": low, "high": high, **WHY, **more}


def bank_of(*questions: Any, count: int = 1, percent: int = 80) -> Bank:
    head = {"format": "incudo-questions/1", "bank": "b", "name": "Bank", "draw": count, "pass_percent": percent}
    return read_bank({**head, "questions": questions}, SOURCES)


def many(critical: int, plain: int, count: int) -> Bank:
    of = [choose(f"c{n}", critical=True) for n in range(critical)] + [choose(f"p{n}") for n in range(plain)]
    return bank_of(*of, count=count)


# ── which come ────────────────────────────────────────────────────────────


@given(st.integers(0, 12), st.integers(0, 12), st.integers(1, 12), st.text(max_size=6), st.text(max_size=6))
def test_after_a_try_other_questions_come_as_far_as_there_are_any(
    critical: int, plain: int, count: int, seed: str, again: str
) -> None:
    if critical + plain < count:
        return
    bank = many(critical, plain, count)
    first = draw(bank, seed)
    second = draw(bank, again, first)
    assert len(set(second)) == count
    must = min(critical, (count + 1) // 2)
    asked = {q for q in second if bank.get(q).critical}
    assert len(asked) >= must
    fresh_critical = critical - sum(bank.get(q).critical for q in first)
    # what was asked comes again only where the new ones do not suffice
    repeated = set(first) & set(second)
    fresh = critical + plain - count
    if fresh >= count and fresh_critical >= must:
        assert not repeated
    if repeated:
        left = {q.id for q in bank.live} - set(first) - set(second)
        assert not left or all(bank.get(q).critical for q in repeated) or fresh_critical < must


def test_no_try_before_and_a_try_before_give_the_same_number() -> None:
    bank = many(2, 2, 4)
    assert sorted(draw(bank, "s", draw(bank, "s"))) == sorted(draw(bank, "s")) == ["c0", "c1", "p0", "p1"]


def test_retired_questions_do_not_come_but_can_still_be_judged() -> None:
    bank = bank_of(choose("old", retired=True), choose("new"))
    assert all(draw(bank, f"s{n}") == ("new",) for n in range(20))
    assert bank.get("old").retired
    with pytest.raises(Refused, match="no such question"):
        bank.get("ghost")


@pytest.mark.parametrize(
    ("critical", "plain", "count", "least"), [(9, 9, 9, 5), (9, 9, 8, 4), (1, 9, 6, 1), (0, 9, 6, 0)]
)
def test_at_least_half_are_critical_as_far_as_there_are_so_many(
    critical: int, plain: int, count: int, least: int
) -> None:
    bank = many(critical, plain, count)
    found = [sum(bank.get(q).critical for q in draw(bank, f"s{n}")) for n in range(60)]
    assert min(found) == least


# ── what is presented ─────────────────────────────────────────────────────


def test_one_right_answer_or_several_is_said() -> None:
    one, two = bank_of(choose("q")).questions[0], bank_of(choose("q", right=("yes", "indeed"))).questions[0]
    assert not present(one, "s", SOURCES).several
    assert present(two, "s", SOURCES).several


@given(st.text(max_size=8))
def test_an_order_is_never_shown_as_it_is_right(seed: str) -> None:
    q = bank_of(order("q", "one", "two", "three")).questions[0]
    assert present(q, seed, SOURCES).options != ("one", "two", "three")
    assert sorted(present(q, seed, SOURCES).options) == ["one", "three", "two"]


def test_options_come_in_every_order() -> None:
    q = bank_of(choose("q")).questions[0]
    assert len({present(q, f"s{n}", SOURCES).options for n in range(60)}) == 6


def test_a_number_is_asked_with_its_unit_and_without_its_band() -> None:
    q = bank_of(number("q", "12", "13")).questions[0]
    shown = present(q, "s", SOURCES)
    assert shown.unit == "mm"
    assert "12" not in repr(shown)


# ── how it is judged ──────────────────────────────────────────────────────


@pytest.mark.parametrize(
    ("typed", "right"),
    [
        ("12", True),
        ("13", True),
        ("13.000", True),
        ("11.999999", False),
        ("13.000001", False),
        ("+12.5", True),
        ("-12", False),
    ],
)
def test_both_ends_of_a_band_belong_to_it(typed: str, right: bool) -> None:
    q = bank_of(number("q", "12", "13")).questions[0]
    found = judge_answer(q, "s", SOURCES, (), typed)
    assert found.right is right
    assert found.words == "12 to 13 mm"
    exact = bank_of(number("q", "12", "12")).questions[0]
    assert judge_answer(exact, "s", SOURCES, (), "12").words == "12 mm"


@pytest.mark.parametrize("typed", ["", " ", "x", "1e3", "12345678", "1.1234567", "1 2", "1.2.3", "٣"])
def test_what_is_no_number_is_refused(typed: str) -> None:
    q = bank_of(number("q", "12", "13")).questions[0]
    with pytest.raises(Refused, match="number"):
        judge_answer(q, "s", SOURCES, (), typed)


def test_several_right_answers_must_all_be_chosen_and_no_other() -> None:
    q = bank_of(choose("q", right=("a", "b"), wrong=("c", "d"))).questions[0]
    right, _ = solve(q, "s", SOURCES)
    wrong = [p for p in range(4) if p not in right]
    assert judge_answer(q, "s", SOURCES, right, "").right
    assert judge_answer(q, "s", SOURCES, right[::-1], "").right
    for places in (right[:1], (*right, wrong[0]), (right[0], wrong[0]), tuple(range(4))):
        assert not judge_answer(q, "s", SOURCES, places, "").right
    assert judge_answer(q, "s", SOURCES, (0,), "").words == "a; b"


@pytest.mark.parametrize(
    ("places", "words"),
    [((), "choose at least one"), ((0, 0), "different places"), ((3,), "from 0 to 2"), ((-1,), "from 0 to 2")],
)
def test_choices_that_cannot_be(places: tuple[int, ...], words: str) -> None:
    q = bank_of(choose("q")).questions[0]
    with pytest.raises(Refused, match=words):
        judge_answer(q, "s", SOURCES, places, "")


def test_an_order_is_right_only_as_a_whole() -> None:
    q = bank_of(order("q", "one", "two", "three")).questions[0]
    right, _ = solve(q, "s", SOURCES)
    assert judge_answer(q, "s", SOURCES, right, "").right
    assert judge_answer(q, "s", SOURCES, right, "").words == "one → two → three"
    assert not judge_answer(q, "s", SOURCES, (right[1], right[0], right[2]), "").right
    with pytest.raises(Refused, match="put all 3 steps in order"):
        judge_answer(q, "s", SOURCES, right[:2], "")
    with pytest.raises(Refused, match="different places"):
        judge_answer(q, "s", SOURCES, (0, 0, 1), "")


# ── when it is passed ─────────────────────────────────────────────────────


@pytest.mark.parametrize(
    ("right", "of", "percent", "passed"),
    [
        (8, 10, 80, True),
        (7, 10, 80, False),
        (2, 3, 67, False),
        (2, 3, 66, True),
        (10, 10, 100, True),
        (9, 10, 100, False),
    ],
)
def test_a_check_is_passed_from_its_percentage_on(right: int, of: int, percent: int, passed: bool) -> None:
    bank = bank_of(*(choose(f"p{n}") for n in range(of)), count=of, percent=percent)
    found = score(bank, {f"p{n}": n < right for n in range(of)})
    assert found.passed is passed
    assert told(found.words) == (right, of)


def test_a_critical_one_wrong_is_said_and_fails() -> None:
    bank = many(1, 9, 10)
    answers = {q.id: True for q in bank.live}
    found = score(bank, answers | {"c0": False})
    assert (found.passed, found.critical_wrong) == (False, 1)
    assert told(found.words) == (9, 10, 1)
    assert not score(bank, {}).passed, "nothing answered is nothing passed"


# ── what a bank may be ────────────────────────────────────────────────────


@pytest.mark.parametrize(
    ("questions", "words"),
    [
        ([choose("q"), choose("q")], "appears twice"),
        ([choose("q", wrong=("no", "no"))], "every option may appear only once"),
        ([choose("q", right=("no",), wrong=("no",))], "every option may appear only once"),
        ([order("q", "one", "two", "one")], "every step may appear only once"),
        ([number("q", "13", "12")], "must not be above high, 12"),
        ([{"id": "q", "kind": "point", "text": "Touch it.", "picture": "ghost", "part": "x", **WHY}],
         "no such picture"),
        ([{"id": "q", "kind": "point", "text": "Touch it.", "picture": "knee-mill", "part": "ghost", **WHY}],
         "is not a region of knee-mill"),
        ([{"id": "q", "kind": "spot", "text": "What is wrong?", "picture": "knee-mill", "faults": ["knee"], **WHY}],
         "is not a region of knee-mill"),
        ([choose("q", retired=True)], "must be at most 0, the live questions"),
    ],
)  # fmt: skip
def test_a_bank_at_odds_with_itself_is_refused(questions: list[Any], words: str) -> None:
    with pytest.raises(Refused, match=words):
        bank_of(*questions)


def test_a_bank_draws_as_many_as_it_has_and_no_more() -> None:
    assert bank_of(choose("a"), choose("b"), count=2).draw == 2
    with pytest.raises(Refused, match="draw"):
        bank_of(choose("a"), choose("b"), count=3)


CHOICES = [(bank, q) for bank in shipped.banks().values() for q in bank.live if isinstance(q, Choose)]


def test_neither_the_longest_nor_the_shortest_option_gives_the_answer_away() -> None:
    right = [max(map(len, q.right)) for _, q in CHOICES]
    wrong = [list(map(len, q.wrong)) for _, q in CHOICES]
    longest = sum(r > max(w) for r, w in zip(right, wrong, strict=True))
    shortest = sum(r < min(w) for r, w in zip(right, wrong, strict=True))
    assert longest * 3 <= len(CHOICES)
    assert shortest * 3 <= len(CHOICES)


@pytest.mark.parametrize(("bank", "question"), CHOICES, ids=lambda x: getattr(x, "id", None))
def test_no_wrong_option_is_brushed_aside(bank: Bank, question: Choose) -> None:
    """Each is at least half as long as the right one, and there is something to choose from."""
    assert min(map(len, question.wrong)) * 2 >= max(map(len, question.right)), question.id
    assert len(question.wrong) >= 3


@pytest.mark.parametrize("bank", shipped.banks().values(), ids=lambda b: b.bank)
def test_a_bank_has_more_than_it_asks_and_says_they_of_people(bank: Bank) -> None:
    assert len(bank.live) >= 2 * bank.draw
    words = {w.strip(".,;:?!").lower() for q in bank.live for w in f"{q.text} {q.why} {q.otherwise}".split()}
    assert not words & {"he", "his", "him", "himself"}


@pytest.mark.parametrize("field", ["text", "why", "otherwise"])
def test_a_sentence_of_a_question_has_three_to_three_hundred_characters(field: str) -> None:
    for length, good in ((2, False), (3, True), (300, True), (301, False)):
        asked = {**choose("one"), field: "w" * length}
        if good:
            assert bank_of(asked).questions
        else:
            with pytest.raises(Refused) as refused:
                bank_of(asked)
            assert refused.value.errors[0].field.endswith(field)
