"""What a cutter's entry may say, on both sides of every bound, and what does not fit the other tables."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import ValidationError

from incudo import shipped
from incudo.core.shop.cutter import (
    ANGLES,
    ON_ARBOR,
    TEETH,
    Cutter,
    CutterKind,
    Drill,
    Holder,
    Thread,
    implausible,
    out_of_order,
)
from incudo.core.shop.material import CutterMaterial, Material, Operation, Range, Stock, carbide_is_faster

K = CutterKind


def entry(kind: CutterKind, **more: Any) -> dict[str, Any]:
    """A good entry of a kind, as a line of the table says it."""
    found: dict[str, Any] = {"name": f"A {kind}", "kind": kind.value, "unit": "mm", "diameter": "10", "owned": 1}
    if kind in TEETH:
        found["teeth"] = TEETH[kind][0]
    if kind in ANGLES:
        found["angle"] = str(ANGLES[kind][0])
    if kind is K.TAP:
        found |= {"thread": "M10", "tap": "cutting"}
    if kind is K.HEAD:
        found["dial"] = "radius"
    if kind in ON_ARBOR:
        found["length"] = "12"
    return found | more


def refusal(data: dict[str, Any]) -> str:
    """What a table's line is told; empty when it is taken."""
    try:
        Cutter.model_validate(data)
    except ValidationError as error:
        return str(error.errors()[0]["msg"]).removeprefix("Value error, ")
    return ""


def test_a_drill_has_its_own_point_and_what_has_none_a_usual_one() -> None:
    drill = Cutter.model_validate(entry(K.DRILL, angle="135"))
    assert (drill.point, Cutter.model_validate(entry(K.END_MILL)).point) == (135, 118)


@pytest.mark.parametrize("kind", list(CutterKind))
def test_a_good_entry_of_every_kind_is_taken(kind: CutterKind) -> None:
    assert refusal(entry(kind)) == ""


#: How many teeth a shop's catalogue has of each kind.
COUNTED = {
    K.END_MILL: (2, 6),
    K.ROUGHING: (3, 6),
    K.BALL: (2, 4),
    K.SHELL: (4, 16),
    K.FACE: (2, 16),
    K.FLY: (1, 1),
    K.T_SLOT: (4, 12),
    K.DOVETAIL: (4, 16),
    K.ANGLE: (6, 20),
    K.DRILL: (2, 2),
    K.COUNTERSINK: (1, 6),
    K.REAMER: (4, 12),
}


@pytest.mark.parametrize("kind", list(COUNTED))
def test_teeth_between_the_fewest_and_the_most(kind: CutterKind) -> None:
    low, high = COUNTED[kind]
    assert refusal(entry(kind, teeth=low)) == ""
    assert refusal(entry(kind, teeth=high)) == ""
    assert refusal(entry(kind, teeth=low - 1)).startswith("teeth: must be")
    assert refusal(entry(kind, teeth=high + 1)).startswith("teeth: must be")


@pytest.mark.parametrize("kind", sorted(ANGLES))
def test_only_angles_that_there_are(kind: CutterKind) -> None:
    for angle in ANGLES[kind]:
        assert refusal(entry(kind, angle=str(angle))) == ""
        assert "angle" in refusal(entry(kind, angle=str(angle + 1)))
    assert "angle" in refusal(entry(kind, angle=None))


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"diameter": "0"}, "diameter"),
        ({"diameter": "300", "length": None}, ""),
        ({"diameter": "300.01"}, "at most 300 mm"),
        ({"measured": "8"}, ""),
        ({"measured": "7.99"}, "between 80 and 101 %"),
        ({"measured": "10.1"}, ""),
        ({"measured": "10.11"}, "between 80 and 101 %"),
        ({"length": "260"}, ""),
        ({"length": "260.1"}, "no more than is plausible"),
        ({"length": "0"}, "length"),
        ({"thread": "M10"}, "thread: a tap has one"),
        ({"dial": "radius"}, "dial: a boring head"),
    ],
)
def test_sizes_of_an_end_mill(change: dict[str, Any], words: str) -> None:
    said = refusal(entry(K.END_MILL, **change))
    assert (words in said) if words else said == ""


def test_a_tap_has_a_thread_and_says_how_it_forms_it_and_a_head_has_a_dial() -> None:
    assert "thread" in refusal(entry(K.TAP, thread=""))
    assert "cutting or forming" in refusal(entry(K.TAP, tap=""))
    assert refusal(entry(K.TAP, tap="forming")) == ""
    assert "dial" in refusal(entry(K.HEAD, dial=""))


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({}, ""),
        ({"thread": "M11"}, "is not in the table of threads"),
        ({"diameter": "10.01"}, ""),
        ({"diameter": "10.02"}, "M10 has 10 mm"),
        ({"holder": "ghost"}, "holder: must be one of"),
        ({"holder": "arbor"}, "does not hold this kind of cutter"),
    ],
)
def test_what_does_not_fit_the_other_tables(change: dict[str, Any], words: str) -> None:
    cutter = Cutter.model_validate(entry(K.TAP, **change))
    found = implausible(cutter, shipped.threads(), shipped.holders())
    assert (words in "; ".join(found)) if words else found == ()


M6 = {"designation": "M6", "series": "metric coarse", "unit": "mm", "diameter": "6", "pitch": "1", "close": "6.4",
      "free": "6.6"}  # fmt: skip


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"unit": "in"}, "series' own"),
        ({"pitch": "0"}, "pitch"),
        ({"pitch": "3"}, "less than half the diameter"),
        ({"pitch": "2.99"}, ""),
        ({"close": "6"}, "close"),
        ({"close": "6.01"}, ""),
        ({"close": "6.6"}, "close"),
        ({"free": "6.4"}, "close"),
    ],
)
def test_what_a_thread_may_be(change: dict[str, str], words: str) -> None:
    if not words:
        assert Thread.model_validate(M6 | change)
        return
    with pytest.raises(ValidationError, match=words):
        Thread.model_validate(M6 | change)


@pytest.mark.parametrize(
    ("row", "words"),
    [
        (("1/4", "fraction", "in", "0.25"), ""),
        (("1/4", "fraction", "in", "0.25005"), ""),
        (("1/4", "fraction", "in", "0.2501"), "as a decimal"),
        (("6.3", "metric", "mm", "6.3"), ""),
        (("6.3", "metric", "mm", "6.4"), "what the designation says"),
        (("6.3", "metric", "in", "6.3"), "must be mm for the metric series"),
        (("50", "metric", "mm", "50"), ""),
        (("51", "metric", "mm", "51"), "at most 50 mm"),
    ],
)
def test_what_a_drill_may_be(row: tuple[str, ...], words: str) -> None:
    data = dict(zip(("designation", "series", "unit", "diameter"), row, strict=True))
    if not words:
        assert Drill.model_validate(data)
        return
    with pytest.raises(ValidationError, match=words):
        Drill.model_validate(data)


def drill(series: str, designation: str, diameter: str) -> Drill:
    unit = "mm" if series == "metric" else "in"
    return Drill.model_validate({"designation": designation, "series": series, "unit": unit, "diameter": diameter})


def test_drills_rise_and_numbers_fall() -> None:
    assert out_of_order([drill("letter", "A", "0.234"), drill("letter", "B", "0.238")]) == ()
    assert out_of_order([drill("letter", "B", "0.238"), drill("letter", "A", "0.234")])
    assert out_of_order([drill("number", "1", "0.228"), drill("number", "2", "0.221")]) == ()
    assert out_of_order([drill("number", "2", "0.221"), drill("number", "1", "0.228")])
    assert out_of_order([drill("letter", "A", "0.234"), drill("letter", "A", "0.234")]), "nor twice the same"
    assert out_of_order([drill("letter", "Z", "0.413"), drill("metric", "1", "1")]) == (), "series stand apart"


def test_a_holder_says_what_it_holds_and_what_to_heed() -> None:
    good = next(iter(shipped.holders().values())).model_dump(mode="json")
    assert Holder.model_validate(good)
    with pytest.raises(ValidationError):
        Holder.model_validate(good | {"cautions": []})


BRASS = {"material": "brass", "cutter": "carbide", "operation": "milling", "v_low": "100", "v_high": "200",
         "chart": "10:0.05-0.1"}  # fmt: skip


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"v_low": "3", "v_high": "30"}, ""),
        ({"v_low": "2.9"}, "between 3 and 1000"),
        ({"v_low": "1000", "v_high": "1000"}, ""),
        ({"v_low": "1000.1", "v_high": "1001"}, "between 3 and 1000"),
        ({"v_high": "100"}, ""),
        ({"v_high": "99.9"}, "must not be less than v_low"),
        ({"v_high": "1000"}, ""),
        ({"v_high": "1000.1"}, "at most ten times v_low"),
    ],
)
def test_what_a_range_may_be(change: dict[str, str], words: str) -> None:
    if not words:
        assert Range.model_validate(BRASS | change)
        return
    with pytest.raises(ValidationError, match=words):
        Range.model_validate(BRASS | change)


@pytest.mark.parametrize(
    ("field", "value", "taken"),
    [
        ("unit_power", "1", True),
        ("unit_power", "0.9", False),
        ("unit_power", "200", True),
        ("unit_power", "200.1", False),
        ("expansion", "5", True),
        ("expansion", "4.9", False),
        ("expansion", "150", True),
        ("expansion", "150.1", False),
        ("cautions", "c" * 300 + "; " + "d" * 300, True),
        ("cautions", "c" * 301, False),
        ("note", "n" * 200, True),
        ("note", "n" * 201, False),
    ],
)
def test_what_a_material_may_be(field: str, value: str, taken: bool) -> None:
    good = shipped.materials()[0].material.model_dump(mode="json")
    if taken:
        assert Material.model_validate(good | {field: value})
        return
    with pytest.raises(ValidationError, match=field):
        Material.model_validate(good | {field: value})


@pytest.mark.parametrize(("carbide", "doubts"), [("20", 0), ("19.9", 1), ("50", 0)])
def test_carbide_that_begins_slower_is_doubted(carbide: str, doubts: int) -> None:
    stock: Stock = shipped.materials()[0]
    hss, fast = (stock.range_for(c, Operation.DRILLING) for c in CutterMaterial)
    assert hss
    assert fast
    ranges = (
        hss.model_copy(update={"v_low": "20"}),
        fast.model_copy(update={"v_low": carbide, "v_high": "60"}),
    )
    assert len(carbide_is_faster(ranges)) == doubts
    assert carbide_is_faster(ranges[:1]) == ()


#: What is sold, by its catalogue: points of drills, spotting drills, countersinks of both systems, dovetails, angles.
SOLD = {
    CutterKind.DRILL: {118, 120, 130, 135, 140},
    CutterKind.SPOT: {90, 120},
    CutterKind.CENTRE: {60},
    CutterKind.COUNTERSINK: {60, 82, 90, 100, 120},
    CutterKind.DOVETAIL: {45, 60},
    CutterKind.ANGLE: {45, 60, 90},
}


@pytest.mark.parametrize("kind", SOLD)
def test_an_angle_that_is_not_sold_is_a_slip_of_the_key(kind: CutterKind) -> None:
    assert set(ANGLES[kind]) == SOLD[kind]
