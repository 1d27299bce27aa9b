"""JSON from outside: how much, how deep, which letters; both sides of each bound."""

from __future__ import annotations

import json
import time
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.wire import MOST_DEPTH, MOST_PARTS, read_json, unwritable, weigh

plain = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Cn")), max_size=20)
data = st.recursive(
    st.none() | st.booleans() | st.integers() | plain,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(plain, inner, max_size=4),
    max_leaves=25,
)


@given(data, st.booleans())
def test_what_can_be_kept_comes_in_as_it_is(value: Any, escaped: bool) -> None:
    assert read_json(json.dumps(value, ensure_ascii=escaped)) == value


@given(data)
def test_marks_inside_texts_do_not_count(value: Any) -> None:
    text = json.dumps({"text": '{[,:\\"' * 500, "more": value})
    weigh(text, most=2000)


@pytest.mark.parametrize("make", [lambda n: "[" * n + "]" * n, lambda n: '{"a":' * n + "1" + "}" * n])
def test_depth_has_a_bound(make: Any) -> None:
    read_json(make(MOST_DEPTH))
    with pytest.raises(Refused, match=f"more than {MOST_DEPTH} deep"):
        read_json(make(MOST_DEPTH + 1))


@pytest.mark.parametrize(
    ("make", "each"),
    [(lambda n: "[" + ",".join(["1"] * (n + 1)) + "]", 1), (lambda n: json.dumps({f"k{i}": 1 for i in range(n)}), 2)],
)
def test_the_number_of_values_has_a_bound(make: Any, each: int) -> None:
    """A name and its value are a colon, and a comma to the next."""
    most = MOST_PARTS // each
    read_json(make(most))
    with pytest.raises(Refused, match=f"at most {MOST_PARTS} values"):
        read_json(make(most + 1))


@pytest.mark.parametrize("letter", ["\x00", "\x08", "\x0b", "\x1f", "\x7f", "\ud800", "\ufffe", "\uffff"])
@pytest.mark.parametrize(
    ("shape", "place"),
    [
        (lambda x: x, "body"),
        (lambda x: {"name": x}, "name"),
        (lambda x: {"rows": [1, {"words": f"a{x}b"}]}, "rows.1.words"),
        (lambda x: {f"k{x}": 1}, "*"),
    ],
)
def test_letters_that_nothing_can_hold_are_refused_at_their_place(letter: str, shape: Any, place: str) -> None:
    with pytest.raises(Refused) as caught:
        read_json(json.dumps(shape(letter)))
    (error,) = caught.value.errors
    assert (error.field, error.bound) == (place, "must not have control characters")
    error.field.encode()


@pytest.mark.parametrize("letter", ["\t", "\n", "\r", " ", "\u00a0", "\u2028", "\ud83d\ude00", "ﬀ", "é"])
def test_other_letters_are_taken(letter: str) -> None:
    whole = letter.encode("utf-16", "surrogatepass").decode("utf-16")
    assert list(unwritable({"a": [whole]})) == []
    assert read_json(json.dumps({"a": whole})) == {"a": whole}


@pytest.mark.parametrize(
    "text", ['"' + '\\"' * 200_000, '"' * 400_001, '"\\', "\\" * 400_000, '{"a":"' + "x" * 400_000]
)
def test_texts_that_do_not_end_are_looked_at_once(text: str) -> None:
    """Looked at again from every letter they would take hours; the bound here is a hundred times what is needed."""
    began = time.process_time()
    weigh(text)
    assert time.process_time() - began < 20


@pytest.mark.parametrize("text", ["", "{", "nul", "[1 2]", "9" * 5000, '{"a": 1,}', "\ufeff{}"])
def test_what_is_no_json_is_said_with_its_field(text: str) -> None:
    with pytest.raises(Refused, match="is not JSON") as caught:
        read_json(text, "file")
    assert caught.value.errors[0].field == "file"
