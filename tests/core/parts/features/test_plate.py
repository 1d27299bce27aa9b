"""A plate from a DXF outline: what becomes a feature, what is listed and left out."""

from __future__ import annotations

import io
import math
from typing import Any

import pytest
from ezdxf.filemanagement import new

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.parts.features.beginning import begin_plate
from incudo.core.parts.features.part import read_part, shaped
from incudo.core.parts.features.plate import plate_of
from incudo.core.parts.geometry.sections import volume
from tests.core.parts.features.making import PLATE

QUARTER = math.tan(math.pi / 8)
OUTLINE = [(100, 50), (180, 50), (180, 100), (100, 100)]


def dxf(units: int = 4, outline: bool = True) -> tuple[Any, Any]:
    file = new("R2010")
    file.header["$INSUNITS"] = units
    space = file.modelspace()
    if outline:
        space.add_lwpolyline(OUTLINE, close=True, dxfattribs={"layer": "CUT"})
    return file, space


def text_of(file: Any) -> str:
    out = io.StringIO()
    file.write(out)
    return out.getvalue()


def slot(x0: float, x1: float, y: float, r: float) -> list[tuple[float, float, float]]:
    return [(x0, y - r, 0), (x1, y - r, 1), (x1, y + r, 0), (x0, y + r, 1)]


def window(x0: float, y0: float, x1: float, y1: float, r: float) -> list[tuple[float, float, float]]:
    b = QUARTER
    return [
        (x0 + r, y0, 0), (x1 - r, y0, b), (x1, y0 + r, 0), (x1, y1 - r, b),
        (x1 - r, y1, 0), (x0 + r, y1, b), (x0, y1 - r, 0), (x0, y0 + r, b),
    ]  # fmt: skip


def test_rectangle_circle_slot_and_window_become_features() -> None:
    """All from the outline's left front corner; the metal left is that of the plate less its openings."""
    file, space = dxf()
    space.add_circle((112, 60), 3)
    space.add_lwpolyline(slot(130, 150, 90, 4), format="xyb", close=True)
    space.add_lwpolyline(window(120, 60, 150, 80, 5), format="xyb", close=True)
    found = plate_of(text_of(file), "8")
    assert found.left_out == ()
    assert (found.data["x"], found.data["y"], found.data["z"], found.data["unit"]) == ("80", "50", "8", Unit.MM)
    by_kind = {f["kind"]: f for f in found.data["features"]}
    assert (by_kind["hole"]["layout"]["at"], by_kind["hole"]["diameter"]) == (["12", "10"], "6")
    assert {k: by_kind["slot"][k] for k in ("along", "at", "width", "start", "end")} == {
        "along": "x", "at": "40", "width": "8", "start": "26", "end": "54",
    }  # fmt: skip
    pocket = by_kind["pocket"]
    assert (pocket["at"], pocket["size"], pocket["radius"]) == (["35", "20"], ["30", "20"], "5")
    body = {"shape": "block", "x": "80", "y": "50", "z": "8"}
    shape = shaped(read_part({**PLATE, "body": body, "features": found.data["features"]}))
    assert shape.faults == ()
    area = 80 * 50 - math.pi * 9 - (20 * 8 + math.pi * 16) - (30 * 20 - (4 - math.pi) * 25)
    assert volume(shape.solid) == pytest.approx(8 * area, rel=1e-4)


def test_lines_and_arcs_that_follow_each_other_are_an_outline() -> None:
    """In any order and either way round; the file is in inches."""
    file, space = dxf(units=1, outline=False)
    for a, b in (((0, 0), (3, 0)), ((3, 2), (3, 0)), ((3, 2), (0, 2)), ((0, 0), (0, 2))):
        space.add_line(a, b)
    space.add_arc((2, 1), 0.25, 270, 90)
    space.add_line((1, 0.75), (2, 0.75))
    space.add_arc((1, 1), 0.25, 90, 270)
    space.add_line((2, 1.25), (1, 1.25))
    found = plate_of(text_of(file), "0.5")
    assert found.left_out == ()
    assert (found.data["unit"], found.data["x"], found.data["y"]) == (Unit.INCH, "3", "2")
    (one,) = found.data["features"]
    assert (one["kind"], one["at"], one["width"], one["start"], one["end"]) == ("slot", "1", "0.5", "0.75", "2.25")


def test_what_is_not_understood_is_listed_with_its_place() -> None:
    file, space = dxf()
    space.add_text("KEEL", dxfattribs={"layer": "WORDS", "insert": (5, 6)})
    space.add_lwpolyline([(120, 60), (130, 60), (130, 70), (120, 70)], close=True)
    space.add_lwpolyline([(150, 60), (160, 60), (155, 70)], close=True)
    space.add_line((0, 0), (9, 9))
    space.add_lwpolyline([(1, 1), (2, 2)])
    found = plate_of(text_of(file), "8")
    assert found.data["features"] == []
    said = {(o.what, o.at): str(o.why) for o in found.left_out}
    assert said["TEXT", (5, 6)] == "is no line, arc, circle or closed outline"
    assert said["outline", (120, 60)] == "has sharp corners inside: no cutter makes them"
    assert said["outline", (150, 60)] == "is no rectangle, slot or rounded rectangle"
    assert said["LINE", (0, 0)] == "is not part of a closed outline"
    assert said["LWPOLYLINE", (1, 1)] == "is not closed"
    assert next(o.layer for o in found.left_out if o.what == "TEXT") == "WORDS"


def test_what_is_nearly_a_slot_or_a_rounded_rectangle_is_neither() -> None:
    file, space = dxf()
    nearly = {
        "four sharp corners aslant": [(120, 60, 0), (130, 65, 0), (125, 75, 0), (115, 70, 0)],
        "ends that are no half circles": [(120, 60, 0), (140, 60, 0.3), (140, 68, 0), (120, 68, 0.3)],
        "an arc too many": [(120, 60, 0.1), (140, 60, 1), (140, 68, 0), (120, 68, 1)],
        "corners of two radii": [
            (122, 60, 0), (138, 60, QUARTER), (140, 62, 0), (140, 77, QUARTER),
            (137, 80, 0), (122, 80, QUARTER), (120, 78, 0), (120, 62, QUARTER),
        ],
    }  # fmt: skip
    for corners in nearly.values():
        space.add_lwpolyline(corners, format="xyb", close=True)
    space.add_line((110, 60), (110, 60))
    found = plate_of(text_of(file), "8")
    assert found.data["features"] == []
    assert sorted({str(o.why) for o in found.left_out}) == [
        "is no rectangle, slot or rounded rectangle",
        "is not part of a closed outline",
    ]
    assert len(found.left_out) == len(nearly) + 1


def test_without_units_it_is_asked_and_what_is_no_outline_is_refused() -> None:
    file, _ = dxf(units=0)
    with pytest.raises(Refused) as refused:
        plate_of(text_of(file), "8")
    assert refused.value.errors[0].field == "unit"
    assert plate_of(text_of(file), "8", Unit.INCH).data["unit"] is Unit.INCH
    empty, _ = dxf(outline=False)
    for text in (text_of(empty), "", "no file", "0\nSECTION\n", "\x00" * 50, "0\n" * 999):
        with pytest.raises(Refused) as refused:
            plate_of(text, "8", Unit.MM)
        assert refused.value.errors[0].field == "text"


def test_a_thickness_in_another_unit_than_the_file_s_is_not_guessed_at() -> None:
    """An outline in inches with a plate 8 mm thick must not become one of 8 inches."""
    file, _ = dxf(units=1)
    with pytest.raises(Refused, match="must be given in in, as the file is") as refused:
        begin_plate(text_of(file), "8", Unit.MM)
    assert refused.value.errors[0].field == "thickness"
    made, _ = begin_plate(text_of(file), "0.375", Unit.INCH)
    assert (made["unit"], made["body"]["z"], made["stock"]["z"]) == (Unit.INCH, "0.375", "0.500")
