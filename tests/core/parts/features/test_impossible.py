"""What cannot be made is refused at the number that is wrong, and what just can be is not."""

from __future__ import annotations

from typing import Any

import pytest

from tests.core.parts.features.making import BAR, PLATE, changed, faults


def with_feature(**feature: Any) -> dict[str, Any]:
    """The bare plate with one feature."""
    return {**PLATE, "features": [feature], "characteristics": PLATE["characteristics"][:1]}


def hole(**more: Any) -> dict[str, Any]:
    layout = more.pop("layout", {"layout": "single", "at": ["40", "25"]})
    return with_feature(kind="hole", name="h", layout=layout, **{"diameter": "6", **more})


def circle(**more: Any) -> dict[str, Any]:
    return hole(layout={"layout": "circle", "at": ["40", "25"], "diameter": "30", "count": 6, **more})


M8 = {"designation": "M8", "diameter": "8", "pitch": "1.25"}


#: A file, and the one field at which it is refused.
def asks(kind: str, *of: str, **more: Any) -> dict[str, Any]:
    """The plate, with three faces that have a letter, and one other requirement."""
    letters = [{"letter": n, "face": f} for n, f in zip("ABC", ("bottom", "left", "front"), strict=True)]
    asked = {"number": 5, "kind": kind, "of": list(of), "tolerance": "0.05", **more}
    return {**PLATE, "datums": letters, "characteristics": [*PLATE["characteristics"][:4], asked]}


IMPOSSIBLE: dict[str, tuple[dict[str, Any], str]] = {
    "step as deep as the plate": (changed(PLATE, "features.0.depth", "20"), "features.0.depth"),
    "step of no depth": (changed(PLATE, "features.0.depth", "0"), "features.0.depth"),
    "step below nothing": (changed(PLATE, "features.0.depth", "-1"), "features.0.depth"),
    "step as long as the plate": (changed(PLATE, "features.0.length", "80"), "features.0.length"),
    "step at the opposite face": (changed(PLATE, "features.0.side", "bottom"), "features.0.side"),
    "step from no face": (changed(PLATE, "features.0.face", "lid"), "features.0.face"),
    "step not a number": (changed(PLATE, "features.0.depth", "six"), "features.0.step.depth"),
    "slot along its depth": (changed(PLATE, "features.1.along", "z"), "features.1.along"),
    "slot out at the side": (changed(PLATE, "features.1.at", "48"), "features.1.at"),
    "slot of no width": (changed(PLATE, "features.1.width", "0"), "features.1.width"),
    "slot through the floor": (changed(PLATE, "features.1.depth", "20"), "features.1.depth"),
    "slot that begins outside": (changed(PLATE, "features.1.start", "0"), "features.1.start"),
    "slot that ends outside": (changed(PLATE, "features.1.end", "80"), "features.1.end"),
    "slot shorter than its ends": (changed(PLATE, "features.1.end", "15.9"), "features.1.end"),
    "slot that ends before it begins": (changed(PLATE, "features.1.end", "5"), "features.1.end"),
    "slot that cuts the part in two": (
        with_feature(kind="slot", name="s", along="x", at="25", width="6"),
        "features.0.depth",
    ),
    "pocket out at the left": (changed(PLATE, "features.2.at", ["12", "18"]), "features.2.at.0"),
    "pocket out at the front": (changed(PLATE, "features.2.at", ["26", "8"]), "features.2.at.1"),
    "pocket of no size": (changed(PLATE, "features.2.size", ["0", "16"]), "features.2.size.0"),
    "pocket with sharp corners": (changed(PLATE, "features.2.radius", "0"), "features.2.radius"),
    "pocket rounder than it is wide": (changed(PLATE, "features.2.radius", "8.1"), "features.2.radius"),
    "corner that no cutter reaches": (
        with_feature(kind="pocket", name="p", at=["40", "25"], size=["30", "20"], radius="1", depth="12.1"),
        "features.0.radius",
    ),
    "pocket as deep as the plate": (changed(PLATE, "features.2.depth", "20"), "features.2.depth"),
    "hole out at the side": (hole(layout={"layout": "single", "at": ["3", "25"]}), "features.0.layout.at.0"),
    "hole out at the rear": (hole(layout={"layout": "single", "at": ["40", "47"]}), "features.0.layout.at.1"),
    "hole beside the part": (hole(layout={"layout": "single", "at": ["99", "25"]}), "features.0.layout.at.0"),
    "hole of no diameter": (hole(diameter="0"), "features.0.diameter"),
    "hole as deep as the plate": (hole(depth="20"), "features.0.depth"),
    "drill point through the bottom": (hole(depth="18.2"), "features.0.depth"),
    "drill point too blunt": (hole(depth="5", tip="151"), "features.0.tip"),
    "drill point too sharp": (hole(depth="5", tip="59"), "features.0.tip"),
    "row that runs out": (
        hole(layout={"layout": "row", "at": ["40", "25"], "along": "x", "count": 3, "pitch": "20"}),
        "features.0.layout.at.0",
    ),
    "row along its depth": (
        hole(layout={"layout": "row", "at": ["40", "25"], "along": "z", "count": 2, "pitch": "9"}),
        "features.0.layout.along",
    ),
    "row without pitch": (
        hole(layout={"layout": "row", "at": ["40", "25"], "along": "x", "count": 2, "pitch": "0"}),
        "features.0.layout.pitch",
    ),
    "row of holes in each other": (
        hole(layout={"layout": "row", "at": ["40", "25"], "along": "x", "count": 2, "pitch": "6"}),
        "features.0.layout.pitch",
    ),
    "row of one": (
        hole(layout={"layout": "row", "at": ["40", "25"], "along": "x", "count": 1, "pitch": "9"}),
        "features.0.hole.layout.row.count",
    ),
    "grid in each other": (
        hole(layout={"layout": "grid", "at": ["20", "15"], "counts": [2, 2], "pitches": ["20", "5"]}),
        "features.0.layout.pitches.0",
    ),
    "grid of too many": (
        hole(layout={"layout": "grid", "at": ["10", "10"], "counts": [12, 4], "pitches": ["5", "8"]}, diameter="2"),
        "features.0.layout.counts",
    ),
    "bolt circle wider than the plate": (circle(diameter="44", count=4), "features.0.layout.at.1"),
    "bolt circle of holes in each other": (circle(diameter="11"), "features.0.layout.diameter"),
    "bolt circle of nothing": (circle(diameter="0"), "features.0.layout.diameter"),
    "countersink narrower than its hole": (
        hole(countersink={"diameter": "6", "angle": "90"}),
        "features.0.countersink.diameter",
    ),
    "countersink too flat": (hole(countersink={"diameter": "9", "angle": "141"}), "features.0.countersink.angle"),
    "countersink deeper than its hole": (
        hole(depth="2", tip=None, countersink={"diameter": "12", "angle": "60"}),
        "features.0.countersink.diameter",
    ),
    "counterbore narrower than its hole": (
        hole(counterbore={"diameter": "6", "depth": "3"}),
        "features.0.counterbore.diameter",
    ),
    "counterbore as deep as its hole": (
        hole(depth="8", counterbore={"diameter": "9", "depth": "8"}),
        "features.0.counterbore.depth",
    ),
    "countersink and counterbore": (
        hole(countersink={"diameter": "9", "angle": "90"}, counterbore={"diameter": "9", "depth": "3"}),
        "features.0.counterbore",
    ),
    "tapped without a thread": (hole(made="tapped"), "features.0.thread"),
    "thread in a drilled hole": (hole(thread=M8), "features.0.thread"),
    "hole too small for its tap": (hole(made="tapped", diameter="6.65", thread=M8), "features.0.diameter"),
    "hole too large for its tap": (hole(made="tapped", diameter="7.19", thread=M8), "features.0.diameter"),
    "thread as deep as the drill": (
        hole(made="tapped", diameter="6.8", depth="12", thread={**M8, "depth": "12"}),
        "features.0.thread.depth",
    ),
    "hole in the step's air": (
        changed(PLATE, "features.3.layout.at", ["74", "8"]),
        "features.3.layout.at.0",
    ),
    "hole across the edge of a pocket": (changed(PLATE, "features.3.layout.at", ["37", "8"]), "features.3.layout.at.0"),
    "hole under metal": (
        {
            **PLATE,
            "features": [
                PLATE["features"][0],
                {
                    "kind": "hole", "name": "h", "face": "shoulder.floor", "diameter": "5",
                    "layout": {"layout": "single", "at": ["20", "20"]},
                },
            ],
            "characteristics": PLATE["characteristics"][:1],
        },
        "features.1.face",
    ),
    "feature in air": (
        {
            **PLATE,
            "features": [PLATE["features"][0], {**PLATE["features"][0], "name": "again", "length": "10", "depth": "5"}],
            "characteristics": PLATE["characteristics"][:1],
        },
        "features.1.face",
    ),
    "chamfer of nothing": (changed(PLATE, "features.4.size", "0"), "features.4.size"),
    "chamfer of all": (changed(PLATE, "features.4.size", "20"), "features.4.size"),
    "chamfer between opposite faces": (changed(PLATE, "features.4.side", "bottom"), "features.4.side"),
    "chamfer in a corner": (
        changed(changed(PLATE, "features.4.face", "shoulder.floor"), "features.4.side", "shoulder.wall"),
        "features.4.side",
    ),
    "angled face too steep": (
        with_feature(kind="angled", name="a", face="top", side="right", length="2", angle="76"),
        "features.0.angle",
    ),
    "angled face through the bottom": (
        with_feature(kind="angled", name="a", face="top", side="right", length="35", angle="30"),
        "features.0.angle",
    ),
    "flat on a block": (
        with_feature(kind="flat", name="f", face="top", end="left", length="10", across="15"),
        "features.0.face",
    ),
    "flat that takes nothing": (changed(BAR, "features.0.across", "20"), "features.0.across"),
    "flat longer than the bar": (changed(BAR, "features.0.length", "80"), "features.0.length"),
    "two of one name": (changed(PLATE, "features.1.name", "shoulder"), "features.1.name"),
    "name of a face": (changed(PLATE, "features.1.name", "top"), "features.1.name"),
    "name with a dot": (changed(PLATE, "features.1.name", "a.b"), "features.1.slot.name"),
    "stock smaller than the part": (changed(PLATE, "stock.x", "79"), "stock.x"),
    "sawn face without metal on it": (changed(PLATE, "stock.x", "80"), "stock.x"),
    "square bar that is not": (changed(PLATE, "stock.form", "square"), "stock.z"),
    "round part from flat bar": ({**BAR, "stock": PLATE["stock"]}, "stock.form"),
    "part of no size": (changed(PLATE, "body.z", "0"), "body.z"),
    "distance to nothing": (changed(PLATE, "characteristics.0.of", ["left", "lid"]), "characteristics.0.of.1"),
    "distance of one": (changed(PLATE, "characteristics.0.of", ["left"]), "characteristics.0.of"),
    "distance of the same place": (changed(PLATE, "characteristics.0.of", ["left", "left"]), "characteristics.0.of.1"),
    "distance without a way": (changed(PLATE, "characteristics.0.of", ["left", "top"]), "characteristics.0.of"),
    "distance to a slope": (changed(PLATE, "characteristics.0.of", ["left", "edge.slope"]), "characteristics.0.of.1"),
    "two axes without a direction": (
        changed(PLATE, "characteristics.0.of", ["bolt 1.axis", "well.corner"]),
        "characteristics.0.along",
    ),
    "face that was cut away": (
        {
            **PLATE,
            "features": [
                {"kind": "step", "name": "one", "face": "top", "side": "right", "length": "20", "depth": "6"},
                {"kind": "step", "name": "two", "face": "top", "side": "right", "length": "24", "depth": "9"},
            ],
            "characteristics": [{"number": 1, "kind": "distance", "of": ["bottom", "one.floor"]}],
        },
        "characteristics.0.of.1",
    ),
    "tolerance that says nothing": (
        changed(PLATE, "characteristics.1.tolerance", "tight"),
        "characteristics.1.tolerance",
    ),
    "deviations that cross": (changed(PLATE, "characteristics.1.tolerance", "15 to 14"), "characteristics.1.tolerance"),
    "one deviation without its sign": (
        changed(PLATE, "characteristics.1.tolerance", "+0.1 0.2"),
        "characteristics.1.tolerance",
    ),
    "bonus from a diameter without a lower limit": (
        changed(
            asks("position", "bolt.bore", "left", "front", tolerance="0.2 M"), "characteristics.3.tolerance", "max"
        ),
        "characteristics.4.tolerance",
    ),
    "title block without these places": (changed(PLATE, "body.x", "80.000"), "characteristics.0.tolerance"),
    "diameter of a face": (changed(PLATE, "characteristics.3.of", ["top"]), "characteristics.3.of.0"),
    "parallel to no datum": (changed(PLATE, "characteristics.4.datum", "B"), "characteristics.4.datum"),
    "parallel without a letter": (changed(PLATE, "characteristics.4.datum", ""), "characteristics.4.datum"),
    "flat against a datum": (changed(PLATE, "characteristics.4.kind", "flat"), "characteristics.4.datum"),
    **{
        f"{kind} of {', '.join(of)}": (asks(kind, *of, **more), f"characteristics.4.{field}")
        for kind, of, more, field in (
            ("flat", ("top", "left"), {}, "of.0"),
            ("flat", ("bolt 1.axis",), {}, "of.0"),
            ("flat", ("key.middle y",), {}, "of.0"),
            ("flat", ("top",), {"tolerance": "0"}, "tolerance"),
            ("thread", ("bolt.bore", "top"), {"tolerance": ""}, "of.0"),
            ("thread", ("top",), {"tolerance": ""}, "of.0"),
            ("thread", ("bolt.bore",), {"tolerance": ""}, "of.0"),
            ("position", ("top", "left", "front"), {}, "of.0"),
            ("position", ("key.left centre", "left", "front"), {}, "of.0"),
            ("position", ("bolt.countersink", "left", "front"), {}, "of.0"),
            ("position", ("bolt 1.axis", "left", "right"), {}, "of.2"),
            ("position", ("bolt 1.axis", "bottom", "left"), {}, "of.1"),
            ("position", ("bolt 1.axis", "key.middle y", "left"), {}, "of.1"),
            ("position", ("bolt 1.axis", "bolt 2.axis", "left"), {}, "of.1"),
            ("position", ("bolt 1.axis", "left", "front"), {"tolerance": "0"}, "tolerance"),
        )
    },
    "one number twice": (changed(PLATE, "characteristics.1.number", 1), "characteristics.1.number"),
    "one letter twice": (
        changed(PLATE, "datums", [{"letter": "A", "face": "bottom"}, {"letter": "A", "face": "left"}]),
        "datums.1.letter",
    ),
    "datum nowhere": (changed(PLATE, "datums", [{"letter": "A", "face": "lid"}]), "datums.0.face"),
    "nothing asked": (changed(PLATE, "characteristics", []), "characteristics"),
}  # fmt: skip


def test_the_plate_and_the_bar_themselves_can_be_made() -> None:
    assert faults(PLATE) == {}
    assert faults(BAR) == {}
    assert len(IMPOSSIBLE) >= 60


@pytest.mark.parametrize("name", IMPOSSIBLE, ids=lambda n: n.replace(" ", "-"))
def test_it_is_refused_at_its_number(name: str) -> None:
    data, field = IMPOSSIBLE[name]
    assert field in faults(data), faults(data)


@pytest.mark.parametrize(
    "data",
    [
        changed(PLATE, "features.0.depth", "19.9"),
        changed(PLATE, "features.2.radius", "7.9"),
        with_feature(kind="pocket", name="p", at=["40", "25"], size=["30", "20"], radius="1", depth="12"),
        hole(depth="18.1"),
        hole(depth="5", tip="150"),
        hole(depth="5", tip="60"),
        hole(layout={"layout": "row", "at": ["40", "25"], "along": "x", "count": 2, "pitch": "6.01"}),
        hole(made="tapped", diameter="6.66", thread=M8),
        hole(made="tapped", diameter="7.18", thread=M8),
        hole(made="tapped", diameter="6.8", thread={**M8, "depth": "12"}),
        circle(diameter="43.9", count=4),
        hole(layout={"layout": "grid", "at": ["10", "10"], "counts": [9, 4], "pitches": ["5", "8"]}, diameter="2"),
        hole(countersink={"diameter": "9", "angle": "140"}),
        changed(PLATE, "features.1.end", "16"),
        changed(PLATE, "stock.x", "80.1"),
        changed(BAR, "features.0.across", "19.9"),
        with_feature(kind="angled", name="a", face="top", side="right", length="2", angle="75"),
    ],
)
def test_just_inside_the_bound_it_is_made(data: dict[str, Any]) -> None:
    assert {k: v for k, v in faults(data).items() if not k.startswith("characteristics")} == {}


def test_a_fault_leaves_the_rest_of_the_part_standing() -> None:
    """One wrong number is said once, and what hangs on its feature is not said again."""
    found = faults(changed(changed(PLATE, "features.3.diameter", "0"), "features.0.depth", "20"))
    assert set(found) == {"features.3.diameter", "features.0.depth"}
