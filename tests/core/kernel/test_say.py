"""Sentences keep their template and their values, read as English, and are spoken at the edge."""

from __future__ import annotations

import copy
import json
import pickle
import re
from datetime import UTC, date, datetime
from enum import StrEnum

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Conflict, FieldError, NotPermitted, Refused, shorten
from incudo.core.kernel.say import (
    Sentence,
    as_json,
    capital,
    from_json,
    packed,
    say,
    say_many,
    spoken,
    together,
    unpacked,
)
from tests.core.said import told


class Loud:
    """A language of capitals that counts in threes and writes numbers in words."""

    def template(self, english: str) -> str:
        return {"Lower the {part} {by}": "{by}! The {part} down"}.get(
            english, re.sub(r"[^{}]+(?![^{]*\})", lambda m: m[0].upper(), english)
        )

    def counted(self, one: str, many: str, count: int) -> str:
        return f"THREES: {many}" if count == 3 else one

    def known(self, text: str) -> str:
        return text.upper() if text == "knee" else text

    def value(self, value: object) -> str:
        return f"<{value}>"


def test_a_sentence_reads_as_english_and_keeps_what_it_is_made_of() -> None:
    said = say("Lower the {part} {by}", part="knee", by="0.25 in")
    assert said == "Lower the knee 0.25 in"
    assert isinstance(said, Sentence)
    assert (said.template, dict(said.values)) == ("Lower the {part} {by}", {"part": "knee", "by": "0.25 in"})


def test_another_language_has_its_own_order_and_its_own_numbers() -> None:
    said = say("Lower the {part} {by}", part="knee", by=say("{n} turns", n=3))
    assert spoken(said, Loud()) == "<3> TURNS! The KNEE down"


def test_what_people_wrote_is_said_as_they_wrote_it() -> None:
    assert spoken("a note with {braces}", Loud()) == "a note with {braces}"
    assert spoken(say("{who}: {note}", who="Orla", note="{x} and knee"), Loud()) == "Orla: {x} and knee"


class _Part(StrEnum):
    KNEE = "knee"


def test_a_code_is_never_said() -> None:
    assert spoken("knee", Loud()) == "KNEE"
    assert spoken(_Part.KNEE, Loud()) is _Part.KNEE


@pytest.mark.parametrize(("count", "english", "loud"), [(0, "0 turns", "<0> turn"), (1, "1 turn", "<1> turn")])
def test_what_is_counted_has_a_plural(count: int, english: str, loud: str) -> None:
    said = say_many("{count} turn", "{count} turns", count)
    assert (said, spoken(said, Loud())) == (english, loud)


def test_three_are_counted_as_this_language_counts_them() -> None:
    assert spoken(say_many("{count} turn", "{count} turns", 3), Loud()) == "THREES: <3> turns"


def test_sentences_stand_together_and_empty_ones_are_left_out() -> None:
    both = together((say("Stop."), "", say("Clean {n}.", n=2)), " · ")
    assert both == "Stop. · Clean 2."
    assert spoken(both, Loud()) == "STOP. · CLEAN <2>."
    assert together(()) == ""


@pytest.mark.parametrize(
    ("said", "begun"),
    [
        (say("the table"), "The table"),
        (say("{what} goes", what="table"), "Table goes"),
        (say("{what} goes", what=say("the knee")), "The knee goes"),
        ("plain", "Plain"),
        ("", ""),
    ],
)
def test_a_sentence_begins_with_a_capital(said: str, begun: str) -> None:
    assert capital(said) == begun


def test_days_are_written_in_words_and_kept_as_days() -> None:
    said = say("lapses on {day}, seen {at}", day=date(2026, 7, 1), at=datetime(2026, 7, 2, 9, 5, tzinfo=UTC))
    assert said == "lapses on 1 July 2026, seen 2 July 2026, 09:05"
    again = unpacked(packed(said))
    assert again == said
    assert isinstance(again, Sentence)
    assert again.values["day"] == date(2026, 7, 1)


TEXTS = st.text(st.characters(codec="utf-8", exclude_characters="{}", exclude_categories=("Cs", "Cc")), max_size=20)
SENTENCES = st.recursive(
    st.builds(lambda a, v: say(f"{a} {{value}}", value=v), TEXTS, TEXTS | st.integers(-9999, 9999)),
    lambda inner: st.builds(lambda a, x: say(f"{a}: {{first}}, {{other}}", first=x, other=a), TEXTS, inner),
    max_leaves=4,
)


@given(SENTENCES)
def test_a_kept_sentence_comes_back_as_it_was(said: str) -> None:
    for again in (unpacked(packed(said)), pickle.loads(pickle.dumps(said)), copy.deepcopy(said)):  # noqa: S301
        assert again == said
        assert spoken(again, Loud()) == spoken(said, Loud())
    data = {"words": [said, "plain", 3, None], "more": {"x": (said,)}}
    again = from_json(json.loads(json.dumps(as_json(data))))
    assert again["words"] == [said, "plain", 3, None]
    assert spoken(again["more"]["x"][0], Loud()) == spoken(said, Loud())


@given(TEXTS)
def test_a_plain_text_is_kept_as_it_is(text: str) -> None:
    assert unpacked(packed(text)) == text


@pytest.mark.parametrize(
    "typed", ['{"say": 1}', '{"say": "x {y}", "with": {}}', '{"say": ', '{"say": "{x}", "with": {"x": 1}}']
)
def test_what_somebody_types_to_look_like_a_kept_sentence_comes_back_as_typed(typed: str) -> None:
    assert unpacked(packed(typed)) == typed


def test_a_value_that_is_not_given_is_a_mistake_of_the_program() -> None:
    with pytest.raises(KeyError):
        say("Lower the {part}")


def test_errors_can_still_be_spoken() -> None:
    error = Refused(FieldError("depth", "", say("must be at most {most}", most=4)), FieldError("x", "9", "odd"))
    assert str(error) == "depth: must be at most 4 (given: nothing); x: odd (given: 9)"
    assert str(Conflict(say("Twice."))) == Conflict(say("Twice.")).words == "Twice."
    assert str(NotPermitted(say("No."), say("Not yet."))) == "No. Not yet."
    assert Conflict().words == ""


@pytest.mark.parametrize(("length", "said"), [(60, "x" * 60), (61, "x" * 60 + "… (61 characters)")])
def test_a_long_value_is_repeated_in_short(length: int, said: str) -> None:
    assert shorten("x" * length) == said


def test_a_sum_of_sentences_is_still_spoken() -> None:
    """However it is put together, each part keeps its template and its values."""
    both = say("{n} of {of} right", n=9, of=10) + say(", {count} wrong", count=1)
    assert both == "9 of 10 right, 1 wrong"
    assert told(both) == (9, 10, 1)
    assert told("before " + say("{n} after", n=2)) == ("before ", 2)
    both += say(" ({why})", why="late")
    assert told(both) == (9, 10, 1, "late")
