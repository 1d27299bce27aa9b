"""Project files: what is refused, and where the error points."""

from __future__ import annotations

import copy
from typing import Any

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.parts.project import read_project

GOOD: dict[str, Any] = {
    "format": "incudo-project/1",
    "code": "test-block",
    "name": "Test block",
    "unit": "in",
    "material": "steel",
    "stock": "bar",
    "solid": {"shape": "block", "x": "2.000", "y": "1.000", "z": "1.000"},
    "views": ["front", "top"],
    "title_block": {"3": "0.005"},
    "characteristics": [
        {
            "number": 1,
            "name": "Length",
            "nominal": "2.000",
            "tolerance": {"form": "title_block"},
            "metal": "outside",
            "place": {
                "kind": "linear",
                "view": "front",
                "start": ["0", "0", "0"],
                "end": ["2.000", "0", "0"],
                "side": "below",
            },
        }
    ],
    "needs": ["general-safety"],
    "gives": [{"skill": "square-block", "characteristics": [1]}],
}


def changed(path: str, value: Any) -> dict[str, Any]:
    data = copy.deepcopy(GOOD)
    at: Any = data
    *way, last = path.split(".")
    for step in way:
        at = at[int(step)] if step.isdigit() else at[step]
    if isinstance(at, list):
        at[int(last)] = value
    else:
        at[last] = value
    return data


def test_a_good_file_is_read_and_keeps_its_texts() -> None:
    project = read_project(GOOD)
    assert project.characteristics[0].nominal == "2.000"
    assert read_project(project.model_dump(mode="json")) == project


ENDS = {"start": "1", "end": "0", "diameter": "0.5"}
HOLE = {"shape": "hole", "name": "h", "axis": "z", "at": ["1", "1"], **ENDS}
EMPTY_BOX = {"shape": "box", "name": "b", "x": ["1", "1"], "y": ["0", "1"], "z": ["0", "1"]}


@pytest.mark.parametrize(
    ("path", "value", "field", "bound"),
    [
        ("format", "other/1", "format", "incudo-project/1"),
        ("code", "Bad Code!", "code", "small letters and digits with hyphens"),
        ("name", "", "name", "must not be empty"),
        ("name", "x" * 81, "name", "at most 80 characters"),
        ("unit", "cubit", "unit", "in, mm"),
        ("solid.x", 2.0, "solid", "write numbers as text"),
        ("solid.x", "two", "solid", "plain number"),
        ("solid.x", "1e999", "solid", "plain number"),
        ("solid.x", "0", "", "every size must be above 0"),
        ("solid.x", "-1", "", "every size must be above 0"),
        ("solid.shape", "sphere", "solid", "block"),
        ("views", [], "views", "at least 1"),
        ("views", ["back"], "views.0", "front"),
        ("characteristics", [], "characteristics", "at least 1"),
        ("characteristics.0.number", 0, "characteristics.0.number", "at least 1"),
        ("characteristics.0.number", 100, "characteristics.0.number", "at most 99"),
        ("characteristics.0.tolerance.form", "guess", "characteristics.0.tolerance.form", "plus_minus"),
        ("characteristics.0.tolerance", {"form": "plus_minus"}, "", "a value is missing"),
        ("characteristics.0.nominal", "2.0", "", "decimal places only: 3"),
        ("characteristics.0.metal", "some", "characteristics.0.metal", "outside"),
        ("characteristics.0.readings", 0, "characteristics.0.readings", "at least 1"),
        ("characteristics.0.place.view", "right", "", "the view right is not drawn"),
        ("characteristics.0.place.lane", 9, "characteristics.0.place", "at most 6"),
        ("gives.0.characteristics", [7], "", "there is no characteristic 7"),
        ("cuts", [{**HOLE, "diameter": "0"}], "", "the diameter must be above 0"),
        ("cuts", [{**HOLE, "end": "1"}], "", "start and end must differ"),
        ("cuts", [{**HOLE, "tip_angle": "180"}], "", "between 0 and 180 degrees"),
        ("cuts", [{**HOLE, "countersink": {"diameter": "0.5", "angle": "90"}}], "", "wider than the hole"),
        (
            "cuts",
            [EMPTY_BOX],
            "",
            "must be below",
        ),
        ("surprise", 1, "surprise", "is not a known field"),
    ],
)
def test_faults_point_at_their_place(path: str, value: Any, field: str, bound: str) -> None:
    with pytest.raises(Refused) as refused:
        read_project(changed(path, value))
    assert any(e.field.startswith(field) and bound in e.bound for e in refused.value.errors), str(refused.value)


def test_all_faults_come_at_once() -> None:
    data = changed("name", "")
    data["unit"] = "cubit"
    data["stock"] = ""
    with pytest.raises(Refused) as refused:
        read_project(data)
    assert {e.field for e in refused.value.errors} == {"name", "unit", "stock"}


def test_a_number_may_stand_only_once() -> None:
    data = copy.deepcopy(GOOD)
    data["characteristics"] *= 2
    with pytest.raises(Refused, match="only once"):
        read_project(data)


@pytest.mark.parametrize("nonsense", [None, [], "text", 7, {"format": None}])
def test_nonsense_is_refused_and_never_breaks(nonsense: Any) -> None:
    with pytest.raises(Refused):
        read_project(nonsense)
