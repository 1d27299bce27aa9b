"""What a drawing asks: nominals, where metal is left, tolerances as they are written, proposals, beginnings."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.measuring.tolerance import Form
from incudo.core.measuring.verdict import Metal
from incudo.core.parts.features import kinds
from incudo.core.parts.features.asking import kinds_for, meant
from incudo.core.parts.features.frame import Frame
from incudo.core.parts.features.part import code_for, part_of, read_part, shaped
from incudo.core.parts.features.tolerances import read_tolerance
from incudo.core.parts.project import Symbol
from tests.core.parts.features.making import BAR, PLATE, changed, shipped_part


def asked(data: dict[str, Any], **one: Any) -> Any:
    made = {**data, "characteristics": [{"number": 1, "tolerance": "±0.1", **one}]}
    return part_of(read_part(made)).project.characteristics[0]


@pytest.mark.parametrize(
    ("of", "along", "nominal", "metal"),
    [
        (["left", "right"], None, "80", Metal.OUTSIDE),
        (["right", "left"], None, "80", Metal.OUTSIDE),
        (["bottom", "shoulder.floor"], None, "14", Metal.OUTSIDE),
        (["top", "shoulder.floor"], None, "6", Metal.INSIDE),
        (["left", "shoulder.wall"], None, "68", Metal.OUTSIDE),
        (["right", "shoulder.wall"], None, "12", Metal.INSIDE),
        (["key.front wall", "key.rear wall"], None, "6", Metal.INSIDE),
        (["front", "key.front wall"], None, "37", Metal.OUTSIDE),
        (["front", "key.rear wall"], None, "43", Metal.INSIDE),
        (["key.left end", "key.right end"], None, "30", Metal.INSIDE),
        (["left", "key.middle y"], None, None, None),
        (["front", "key.middle y"], None, "40", Metal.NONE),
        (["left", "bolt 1.axis"], "x", "48", Metal.NONE),
        (["bolt 1.axis", "bolt 2.axis"], "y", "22", Metal.NONE),
        (["well.corner", "bolt 1.axis"], "x", "14", Metal.NONE),
    ],
)
def test_distances_and_where_metal_is_left(of: list[str], along: str | None, nominal: str | None, metal: Metal) -> None:
    """Faces that look apart: too large leaves metal. Towards each other, or a depth: too small. An axis: neither."""
    if nominal is None:
        with pytest.raises(Refused):
            asked(PLATE, kind="distance", of=of, along=along)
        return
    c = asked(PLATE, kind="distance", of=of, along=along)
    assert (c.nominal, c.metal) == (nominal, metal)


def test_round_things_flats_and_forms() -> None:
    c = asked(PLATE, kind="radius", of=["well.corner"])
    assert (c.nominal, c.symbol, c.metal) == ("4", Symbol.RADIUS, Metal.INSIDE)
    c = asked(PLATE, kind="diameter", of=["bolt.countersink"])
    assert (c.nominal, c.symbol) == ("9", Symbol.DIAMETER)
    c = asked(BAR, kind="diameter", of=["round"])
    assert (c.nominal, c.metal) == ("20", Metal.OUTSIDE)
    c = asked(BAR, kind="distance", of=["bottom", "land.floor"])
    assert (c.nominal, c.metal) == ("16", Metal.OUTSIDE)
    c = asked(PLATE, kind="square", of=["front"], datum="A", tolerance="0.05")
    assert (c.nominal, c.symbol, c.difference) == ("0.05", Symbol.SQUARE, True)


def test_decimal_places_are_those_of_the_part_or_those_asked_for() -> None:
    data = changed(PLATE, "features.0.depth", "6.25")
    assert asked(data, kind="distance", of=["bottom", "shoulder.floor"]).nominal == "13.75"
    assert asked(data, kind="distance", of=["bottom", "shoulder.floor"], places=3).nominal == "13.750"
    with pytest.raises(Refused, match="without rounding"):
        asked(data, kind="distance", of=["bottom", "shoulder.floor"], places=1)


@pytest.mark.parametrize(
    ("text", "form", "first", "second"),
    [
        ("", Form.TITLE_BLOCK, None, None),
        ("±0.002", Form.PLUS_MINUS, "0.002", None),
        ("+-.002", Form.PLUS_MINUS, "0.002", None),
        ("+/- 0.1", Form.PLUS_MINUS, "0.1", None),
        ("+0.000 -0.004", Form.UNEQUAL, "0.000", "-0.004"),
        ("-0.004 / +0.000", Form.UNEQUAL, "0.000", "-0.004"),
        ("+0.2 \u22120.1", Form.UNEQUAL, "0.2", "-0.1"),
        ("6.50 to 6.58", Form.LIMITS, "6.50", "6.58"),
        ("6.50..6.58", Form.LIMITS, "6.50", "6.58"),
        ("max", Form.MAXIMUM, None, None),
        ("25 max", Form.MAXIMUM, None, None),
        ("MIN.", Form.MINIMUM, None, None),
        ("H7", Form.UNEQUAL, "0.021", "0.000"),
        ("g6", Form.UNEQUAL, "-0.007", "-0.020"),
        ("js7", Form.UNEQUAL, "0.0105", "-0.0105"),
    ],
)
def test_tolerances_as_a_machinist_writes_them(text: str, form: Form, first: str | None, second: str | None) -> None:
    """At 25 mm: H7 is 0 to 21 microns, g6 is -20 to -7, js7 half of 21 each way."""
    found = read_tolerance(text, "25", Unit.MM)
    assert (found.form, found.first, found.second) == (form, first, second)


@pytest.mark.parametrize("text", ["tight", "0.1", "0.2 0.1", "24 max", "Q7", "H4", "±", "+0.1", "--0.1"])
def test_what_cannot_be_read_says_how_to_write_it(text: str) -> None:
    with pytest.raises(Refused) as refused:
        read_tolerance(text, "25", Unit.MM)
    assert refused.value.errors[0].field == "tolerance"


def test_a_fit_in_inches_is_the_metric_one_turned() -> None:
    """H7 at 1 in (25.4 mm) is 21 microns: 0.00083 in."""
    found = read_tolerance("H7", "1.000", Unit.INCH)
    assert Fraction(found.first or "0") == Fraction("0.00083")


def test_what_is_meant_by_touching() -> None:
    frame = shaped(read_part(PLATE)).frame
    datums = {"A": "bottom"}

    def kind_of(*names: str) -> tuple[Any, ...]:
        found = meant(names, frame, datums, 7)
        assert found["number"] == 7
        return found["kind"], found.get("along"), found.get("datum")

    assert kind_of("left", "right") == ("distance", None, None)
    assert kind_of("left", "bolt 1.axis") == ("distance", None, None)
    assert kind_of("bolt 1.axis", "bolt 2.axis") == ("distance", "y", None)
    assert kind_of("bolt.bore") == ("diameter", None, None)
    assert kind_of("well.corner") == ("radius", None, None)
    assert kind_of("top") == ("parallel", None, "A")
    assert kind_of("front") == ("square", None, "A")
    assert kind_of("bottom") == ("flat", None, None)
    assert kind_of("edge.slope") == ("angle", None, None)
    for names in (("left", "top"), ("lid",), ("bolt 1.axis",), ("left", "edge.slope")):
        with pytest.raises(Refused):
            meant(names, frame, datums, 1)


def test_it_can_be_turned_into_another_kind() -> None:
    frame = shaped(read_part(PLATE)).frame
    datums = {"A": "bottom", "B": "left", "C": "front"}
    assert kinds_for(("bolt.bore",), frame) == ("diameter", "position", "runout", "finish")
    assert kinds_for(("top",), frame) == ("parallel", "square", "flat", "finish")
    assert kinds_for(("nothing",), frame) == ()
    made = meant(("bolt.bore",), frame, datums, 3, "position")
    assert made["of"] == ["bolt.bore", "left", "front"]
    assert meant(("top",), frame, datums, 3, "square")["datum"] == "B"
    assert meant(("top",), frame, {"A": "bottom"}, 3, "square")["datum"] == ""
    for names, kind, letters in (
        (("bolt.bore",), "thread", datums),
        (("top",), "distance", datums),
        (("bolt.bore",), "position", {"A": "bottom", "B": "left"}),
    ):
        with pytest.raises(Refused):
            meant(names, frame, letters, 1, kind)


def test_proposals_follow_from_the_features() -> None:
    p = part_of(read_part(PLATE)).project
    assert p.operations == (
        "square-block",
        "mill-steps",
        "side-milling",
        "mill-slots",
        "mill-pockets",
        "drilling",
        "countersinking",
    )
    assert {"general-safety", "edge-finding", "measure-indicator"} <= set(p.needs)
    gives = {g.skill: g.characteristics for g in p.gives}
    assert gives["mill-steps"] == (2,)
    assert gives["drilling"] == (3, 4)
    assert gives["square-block"] == (1, 5)
    own = part_of(read_part({**PLATE, "operations": ["drilling"], "needs": [], "gives": []})).project
    assert (own.operations, own.needs, own.gives) == (("drilling",), (), ())


@pytest.mark.parametrize("unit", [Unit.INCH, Unit.MM])
@pytest.mark.parametrize("face", ["top", "front", "right", "bottom"])
@pytest.mark.parametrize("kind", [k.key for k in kinds.kinds() if "block" in k.on])
def test_every_kind_begins_with_numbers_that_can_be_made(unit: Unit, face: str, kind: str) -> None:
    body = {"shape": "block", "x": "3.000", "y": "2.000", "z": "1.000"} if unit is Unit.INCH else PLATE["body"]
    data = {**PLATE, "unit": unit, "body": body, "features": []}
    data["stock"] = {"form": "block", "x": "99", "y": "99", "z": "99"}
    frame = shaped(read_part(data)).frame
    feature = kinds.begin(kind, face, frame, "new")
    assert not shaped(read_part({**data, "features": [feature]})).faults
    spec = next(k for k in kinds.kinds() if k.key == kind)
    for field in (*spec.fields, *(f for g in spec.groups for v in g.variants[:1] for f in v.fields)):
        at: Any = feature
        for step in field.path.split("."):
            at = at[int(step)] if isinstance(at, list) else at[step]
        assert at is not None or field.empty, field.path


@pytest.mark.parametrize(
    ("unit", "x", "y", "middle"),
    [(Unit.INCH, "3.300", "2.137", ["1.625", "1.125"]), (Unit.MM, "63.3", "41.4", ["32", "21"])],
)
def test_a_feature_begins_in_the_middle_rounded_as_one_would_draw_it(
    unit: Unit, x: str, y: str, middle: list[str]
) -> None:
    body = {"shape": "block", "x": x, "y": y, "z": "1.000" if unit is Unit.INCH else "20"}
    data = {**PLATE, "unit": unit, "body": body, "features": []}
    frame = shaped(read_part({**data, "stock": {"form": "block", "x": "99", "y": "99", "z": "99"}})).frame
    hole, slot = (kinds.begin(kind, "top", frame, "new") for kind in ("hole", "slot"))
    assert hole["layout"]["at"] == middle
    assert slot["at"] == middle[1]


@settings(max_examples=60, deadline=None)
@given(st.text(max_size=90))
def test_a_code_is_always_a_key(name: str) -> None:
    read_part({**PLATE, "code": code_for(name)})


def test_names_do_not_collide() -> None:
    assert kinds.free_name("slot", set()) == "slot"
    assert kinds.free_name("slot", {"slot", "slot 2"}) == "slot 3"


def test_a_face_lights_up_only_as_far_as_later_features_have_left_it() -> None:
    """The first step's floor runs from 1.1 to the second step at 2.2, not to the end of the part at 3.2."""
    c = next(c for c in shipped_part("keel-step-gauge").project.characteristics if c.number == 4)
    assert {float(p[0]) for line in c.lights for p in line} == {1.1, 2.2}


_BLOCKS = {"mm": {"x": "80", "y": "50", "z": "20"}, "in": {"x": "3", "y": "2", "z": "1"}}


@pytest.mark.parametrize(
    ("unit", "group", "variant", "begun"),
    [
        # a countersink twice as wide as the hole, of the angle that screws of the unit have
        ("in", "countersink", "countersink", {"countersink": {"diameter": "0.50", "angle": "82"}, "counterbore": None}),
        ("mm", "countersink", "countersink", {"countersink": {"diameter": "12", "angle": "90"}, "counterbore": None}),
        # a counterbore for a cap screw: its head is about 1.6 times as wide, and as high as it is thick
        ("in", "counterbore", "counterbore", {"counterbore": {"diameter": "0.400", "depth": "0.25"}}),
        ("mm", "counterbore", "counterbore", {"counterbore": {"diameter": "10", "depth": "6"}}),
        ("mm", "counterbore", "", {"counterbore": None, "made": "drilled"}),
        ("mm", "thread", "thread", {"made": "tapped"}),
    ],
)
def test_what_a_hole_is_given_to_begin_with_follows_its_diameter(
    unit: str, group: str, variant: str, begun: dict[str, object]
) -> None:
    hole = {"diameter": {"in": "0.25", "mm": "6"}[unit], "made": "drilled", "countersink": "old"}
    made = kinds.vary(hole, group, variant, _block(unit))
    assert {k: made[k] for k in begun} == begun


def test_a_tapped_hole_without_its_thread_is_a_drilled_one() -> None:
    tapped = {"diameter": "5", "made": "tapped", "thread": {"designation": "M6"}}
    assert kinds.vary(tapped, "thread", "", _block("mm")) == {"diameter": "5", "made": "drilled", "thread": None}
    # what is taken away beside the thread leaves it tapped
    assert kinds.vary(tapped, "countersink", "", _block("mm"))["made"] == "tapped"


@pytest.mark.parametrize(
    ("unit", "variant", "begun"),
    [
        ("mm", "row", {"along": "x", "count": 3, "pitch": "16"}),
        ("in", "row", {"along": "x", "count": 3, "pitch": "0.625"}),
        ("mm", "grid", {"counts": [2, 2], "pitches": ["24", "15"]}),
        ("in", "grid", {"counts": [2, 2], "pitches": ["0.875", "0.625"]}),
        ("mm", "circle", {"diameter": "25", "count": 4, "start": "0"}),
        ("in", "circle", {"diameter": "1.000", "count": 4, "start": "0"}),
        ("mm", "single", {}),
    ],
)
def test_holes_are_spread_over_the_face_they_are_in(unit: str, variant: str, begun: dict[str, object]) -> None:
    hole = {"face": "top", "diameter": "6", "layout": {"layout": "single", "at": ["40", "25"]}}
    made = kinds.vary(hole, "layout", variant, _block(unit))["layout"]
    assert made == {"layout": variant, "at": ["40", "25"], **begun}


def _block(unit: str) -> Frame:
    body = {"shape": "block", **_BLOCKS[unit]}
    return shaped(
        read_part({**PLATE, "unit": unit, "body": body, "features": [], "characteristics": [], "datums": []})
    ).frame
