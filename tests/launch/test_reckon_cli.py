"""The reckoner on the command line: an answer, or fields and bounds as JSON, and never a traceback."""

from __future__ import annotations

import io
import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.launch import reckon

TEXTS = st.one_of(
    st.text(max_size=10), st.integers().map(str), st.floats().map(str), st.sampled_from(["1", "0.5", "-3"])
)
VALUES = st.one_of(
    TEXTS,
    st.none(),
    st.integers(),
    st.lists(TEXTS, max_size=2),
    st.fixed_dictionaries({"value": TEXTS, "unit": st.one_of(TEXTS, st.sampled_from(["in", "mm", "ft/min", "°"]))}),
)


def run(name: str, text: str, *, listed: bool = False) -> tuple[int, Any]:
    out = io.StringIO()
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("sys.stdin", io.StringIO(text))
        patch.setattr("sys.stdout", out)
        code = reckon.main(name, listed=listed, as_json=True)
    return code, json.loads(out.getvalue())


@pytest.mark.sweep(9)
@pytest.mark.parametrize("name", CALCULATIONS)
@given(data=st.data())
def test_any_input_gives_an_answer_or_names_its_fields(name: str, data: st.DataObject) -> None:
    known = [i.name for i in CALCULATIONS[name].inputs]
    asked = data.draw(st.dictionaries(st.sampled_from([*known, "hope"]), VALUES, max_size=8))
    code, answer = run(name, json.dumps(asked))
    if code == 0:
        assert answer["results"][0]["label"]
        return
    assert code == 2
    fields = {e["field"].partition(".")[0] for e in answer["errors"]}
    assert fields <= {*known, "hope"}
    assert all(e["bound"] for e in answer["errors"])
    assert "hope" in fields or "hope" not in asked


@given(st.text(max_size=60))
def test_what_is_no_json_is_said_so(text: str) -> None:
    code, answer = run("edge", text)
    assert code == 2 or isinstance(json.loads(text), dict)
    assert "results" in answer or answer["errors"]


def test_the_list_says_inputs_units_bounds_and_what_is_an_exercise() -> None:
    code, listed = run("", "", listed=True)
    assert code == 0
    assert [c["id"] for c in listed] == list(CALCULATIONS)
    assert {c["id"] for c in listed if c["exercise"]} == set(MAKERS)
    speed = listed[0]["inputs"][0]
    assert speed["units"] == ["m/min", "ft/min"]
    assert speed["bounds"]["m/min"] == "must be more than 0 and at most 1000 m/min"
    table = reckon._table(listed)
    assert "spindle-speed (also an exercise): From the cutting speed" in table
    assert all(c in table for c in CALCULATIONS)
    assert "(else 0.2 in or 5 mm)" in table, "a default is what it is in each unit"
