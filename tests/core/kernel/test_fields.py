"""How what is read from files and forms is refused: by place, by value, by bound."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused, shorten
from incudo.core.kernel.fields import Key, Num, Strict, Word, parsed, read_model


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
        ({"key": "Tide block"}, "key", "pattern"),
        ({"key": "-tide"}, "key", "pattern"),
        ({"key": "x" * 61}, "key", "at most 60"),
        ({"name": "   "}, "name", "at least 1"),
        ({"name": "x" * 81}, "name", "at most 80"),
        ({"parts": [{"size": 0.25}]}, "parts.0.size", "write numbers as text"),
        ({"parts": [{"size": "0,25"}]}, "parts.0.size", "decimal point"),
        ({"parts": [{"size": "x"}]}, "parts.0.size", "plain number"),
        ({"parts": [{}]}, "parts.0.size", "required"),
        ({"colour": "red"}, "colour", "not permitted"),
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
