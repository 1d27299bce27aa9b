"""How what is read from files and forms is refused: by place, by value, by bound."""

from __future__ import annotations

import re
import uuid
from datetime import date
from pathlib import Path
from typing import Annotated, Any, Literal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import AwareDatetime, Field, StringConstraints

import incudo
from incudo.core.kernel.errors import Refused, shorten
from incudo.core.kernel.fields import PATTERNS, Key, Num, Strict, Word, parsed, read_model


class Inner(Strict):
    size: Num


class Outer(Strict):
    key: Key
    name: Word
    parts: tuple[Inner, ...] = ()


GOOD: dict[str, Any] = {"key": "tide-block", "name": "Tide block", "parts": [{"size": "0.250"}]}


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"key": "Tide block"}, "key", "small letters and digits with hyphens"),
        ({"key": "-tide"}, "key", "small letters and digits with hyphens"),
        ({"key": "x" * 61}, "key", "at most 60"),
        ({"name": "   "}, "name", "must not be empty"),
        ({"name": "x" * 81}, "name", "at most 80"),
        ({"parts": [{"size": 0.25}]}, "parts.0.size", "write numbers as text"),
        ({"parts": [{"size": "0,25"}]}, "parts.0.size", "decimal point"),
        ({"parts": [{"size": "x"}]}, "parts.0.size", "plain number"),
        ({"parts": [{}]}, "parts.0.size", "is missing"),
        ({"colour": "red"}, "colour", "is not a known field"),
    ],
)
def test_what_cannot_be_names_its_place(change: dict[str, Any], field: str, words: str) -> None:
    with pytest.raises(Refused) as caught:
        read_model(Outer, GOOD | change)
    (error,) = caught.value.errors
    assert error.field == field
    assert words in error.bound


def test_every_fault_is_named_at_once() -> None:
    with pytest.raises(Refused) as caught:
        read_model(Outer, {"key": "A", "name": "", "parts": [{"size": 1}, {"size": "2"}, {"size": "z"}]})
    assert [e.field for e in caught.value.errors] == ["key", "name", "parts.0.size", "parts.2.size"]


@pytest.mark.parametrize("data", [None, 7, "text", [], True])
def test_what_is_no_object_is_refused_as_a_whole(data: Any) -> None:
    with pytest.raises(Refused) as caught:
        read_model(Outer, data, "part")
    assert caught.value.errors[0].field == "part"


@pytest.mark.parametrize(("count", "taken"), [(10, True), (11, False)])
def test_a_text_is_read_up_to_its_length(count: int, taken: bool) -> None:
    text = '"' + "x" * (count - 2) + '"'
    if taken:
        assert parsed(text, most=10) == "x" * 8
        return
    with pytest.raises(Refused, match="at most 10 characters"):
        parsed(text, most=10)


@pytest.mark.parametrize("text", ["", "{", "{'a': 1}", "[" * 30, "nul"])
def test_what_is_no_json_says_so(text: str) -> None:
    with pytest.raises(Refused, match="is not JSON"):
        parsed(text)


@given(st.text(max_size=400))
def test_no_value_that_is_shown_back_is_long(text: str) -> None:
    assert len(shorten(text)) <= 200


class Slot(Strict):
    kind: Literal["slot"]


class Hole(Strict):
    kind: Literal["hole"]


class Every(Strict):
    """One of each."""

    whole: Annotated[int, Field(ge=1, lt=10)] = 1
    number: Annotated[float, Field(gt=0, le=5)] = 1
    yes: bool = True
    id: uuid.UUID | None = None
    day: date | None = None
    at: AwareDatetime | None = None
    words: Annotated[str, StringConstraints(min_length=3)] = "abc"
    way: Literal["up", "down", "in"] = "up"
    pair: Annotated[tuple[int, ...], Field(min_length=2, max_length=3)] = (1, 2)
    inner: Inner | None = None
    named: dict[str, int] = Field(default_factory=dict)
    cut: Annotated[Slot | Hole, Field(discriminator="kind")] = Field(default_factory=lambda: Slot(kind="slot"))


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"whole": 0}, "whole", "must be at least 1"),
        ({"whole": 10}, "whole", "must be less than 10"),
        ({"whole": 1.5}, "whole", "must be a whole number"),
        ({"whole": "one"}, "whole", "must be a whole number"),
        ({"number": 0}, "number", "must be more than 0.0"),
        ({"number": 6}, "number", "must be at most 5.0"),
        ({"number": "many"}, "number", "must be a number"),
        ({"yes": "perhaps"}, "yes", "must be true or false"),
        ({"id": "7"}, "id", "must be an id: 32 hexadecimal digits"),
        ({"day": "yesterday"}, "day", "must be a date such as 2026-11-24"),
        ({"at": "noon"}, "at", "must be a date and time such as 2026-11-24T18:30:00Z"),
        (
            {"at": "2026-11-24T18:30:00"},
            "at",
            "must be a date and time with its zone, such as 2026-11-24T18:30:00Z",
        ),
        ({"words": "ab"}, "words", "must have at least 3 characters"),
        ({"words": 7}, "words", "must be text"),
        ({"way": "left"}, "way", "must be one of: up, down, in"),
        ({"pair": [1]}, "pair", "must have at least 2 entries"),
        ({"pair": [1, 2, 3, 4]}, "pair", "must have at most 3 entries"),
        ({"pair": ["x", 2]}, "pair.0", "must be a whole number"),
        ({"pair": "both"}, "pair", "must be a list"),
        ({"inner": 7}, "inner", "must be an object with named fields"),
        ({"named": []}, "named", "must be an object with named fields"),
        ({"cut": {"kind": "boss"}}, "cut", "kind must be one of: slot, hole"),
        ({"cut": {}}, "cut", "kind is missing"),
    ],
)
def test_every_bound_is_said_in_words_of_the_shop(change: dict[str, Any], field: str, words: str) -> None:
    with pytest.raises(Refused) as caught:
        read_model(Every, change)
    assert [(e.field, e.bound) for e in caught.value.errors] == [(field, words)]


def test_every_pattern_has_its_words() -> None:
    source = "".join(p.read_text(encoding="utf-8") for p in Path(incudo.__file__).parent.rglob("*.py"))
    patterns = set(re.findall(r'pattern=r?"([^"]+)"', source))
    assert len(patterns) > 5
    assert patterns == set(PATTERNS)
