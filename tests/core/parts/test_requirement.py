"""What is read of each kind of requirement, what one reading says alone, and when two people agree."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

import pytest

from incudo.core.measuring.instrument import Measure
from incudo.core.measuring.verdict import Measured, School, Verdict
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.marks import Frame, Words
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.parts.project import Characteristic, Project
from incudo.core.parts.requirement import GO, NO_GO, Reading, agreed, alone, elements, found
from tests.core.parts.features.making import PLATE, faults

M6 = {"designation": "M6", "diameter": "6", "pitch": "1"}
TAPPED = {
    "kind": "hole", "name": "tap", "layout": {"layout": "single", "at": ["64", "12"]}, "made": "tapped",
    "diameter": "5", "thread": M6,
}  # fmt: skip
FILE: dict[str, Any] = {
    **PLATE,
    "features": [*PLATE["features"], TAPPED],
    "datums": [{"letter": k, "face": f} for k, f in (("A", "bottom"), ("B", "left"), ("C", "front"))],
}
ASKED: dict[str, dict[str, Any]] = {
    "position": {"kind": "position", "of": ["bolt 1.axis", "left", "front"], "tolerance": "0.25"},
    "bonus": {"kind": "position", "of": ["bolt 1.axis", "left", "front"], "tolerance": "ø.25 M"},
    "runout": {"kind": "runout", "of": ["bolt.bore"], "datum": "A", "tolerance": "0.05"},
    "thread": {"kind": "thread", "of": ["tap.bore"], "tolerance": "6h"},
    "angle": {"kind": "angle", "of": ["edge.slope"], "tolerance": "±0.5"},
    "finish": {"kind": "finish", "of": ["top"], "tolerance": "Ra 1.6"},
    "flat": {"kind": "flat", "of": ["bottom"], "tolerance": "0.05", "readings": 4},
    "size": {"kind": "diameter", "of": ["bolt.bore"], "tolerance": "+0.1 -0.0"},
}


def asking(*kinds: str, **more: Any) -> dict[str, Any]:
    """The plate with these requirements, the last one changed."""
    asked = [{"number": n, **ASKED[k]} for n, k in enumerate(kinds, start=1)]
    asked[-1] |= more
    return {**FILE, "characteristics": asked}


def made(*kinds: str, **more: Any) -> tuple[Project, Characteristic]:
    p = part_of(read_part(asking(*kinds, **more))).project
    return p, p.characteristics[-1]


def read(element: str, value: str, u: str = "0.01") -> Reading:
    return Reading(element, Measured(Fraction(value), Fraction(u), Fraction(1, 100)))


def test_what_is_read_of_each() -> None:
    def read_of(*kinds: str) -> list[tuple[str, Measure, bool]]:
        p, c = made(*kinds)
        return [(e.key, e.measure, e.is_asked) for e in elements(p, c)]

    assert read_of("position") == [("x", Measure.SIZE, False), ("y", Measure.SIZE, False)]
    assert read_of("size", "bonus")[2] == ("size", Measure.SIZE, False)
    assert read_of("runout") == [("", Measure.DIFFERENCE, False)]
    assert read_of("flat") == [("", Measure.DIFFERENCE, False)]
    assert read_of("thread") == [(GO, Measure.THREAD, True), (NO_GO, Measure.THREAD, True)]
    assert read_of("angle") == [("", Measure.ANGLE, False)]
    assert read_of("finish") == [("look", Measure.FINISH, True)]


def test_what_follows_from_the_part() -> None:
    _, c = made("size", "bonus")
    assert [b.nominal for b in c.basics] == ["48", "8"]
    assert (c.datum, c.nominal, c.bonus) == ("BC", "0.25", ("5", "5.1"))
    p, c = made("angle")
    limits = p.limits(c)
    assert (limits.lower, limits.upper) == (Fraction("44.5"), Fraction("45.5"))
    assert made("thread")[1].callout == "M6 6H"
    assert made("finish")[1].callout == "Ra 1.6 µm"
    assert [p.width(c) for p, c in (made("angle"), made("thread"), made("finish"))] == [None] * 3


@pytest.mark.parametrize(
    ("data", "field"),
    [
        (asking("position", of=["bolt 1.axis", "left"]), "of"),
        (asking("position", of=["bolt 1.axis", "left", "right"]), "of.2"),
        (asking("position", of=["bolt 1.axis", "left", "bottom"]), "of.2"),
        (asking("position", of=["bolt 1.axis", "left", "rear"]), "of.2"),
        (asking("position", of=["top", "left", "front"]), "of.0"),
        (asking("position", of=["well.corner", "left", "front"]), "of.0"),
        (asking("position", tolerance="wide"), "tolerance"),
        (asking("position", tolerance="0"), "tolerance"),
        (asking("bonus"), "tolerance"),
        (asking("runout", datum=""), "datum"),
        (asking("runout", of=["well.corner"]), "of.0"),
        (asking("runout", tolerance="±0.1"), "tolerance"),
        (asking("thread", of=["bolt.bore"]), "of.0"),
        (asking("thread", tolerance="tight"), "tolerance"),
        (asking("angle", of=["top"]), "of.0"),
        (asking("angle", tolerance=""), "tolerance"),
        (asking("angle", tolerance="H7"), "tolerance"),
        (asking("finish", tolerance="1.7"), "tolerance"),
        (asking("finish", of=["edge.slope"]), "of.0"),
        (asking("flat", readings=3), "readings"),
    ],
)
def test_what_cannot_be_asked_is_refused_there(data: dict[str, Any], field: str) -> None:
    assert f"characteristics.0.{field}" in faults(data)


def test_judged_from_all_its_readings() -> None:
    p, c = made("position")
    both = [read("x", "48.06"), read("y", "8.06")]
    assert found(p, c, both, School.GUARD_BAND).judgement.verdict is Verdict.IN
    assert found(p, c, both[:1], School.GUARD_BAND).judgement.verdict is Verdict.NOT_MEASURED
    assert alone(p, c, both[0], School.GUARD_BAND) is Verdict.NOT_MEASURED
    p, c = made("angle")
    assert found(p, c, [read("", "45.3", "0.1")], School.GUARD_BAND).judgement.verdict is Verdict.IN
    assert found(p, c, [read("", "45.45", "0.1")], School.GUARD_BAND).judgement.verdict is Verdict.TOO_CLOSE
    assert found(p, c, [read("", "44.39", "0.1")], School.GUARD_BAND).judgement.verdict is Verdict.OUT
    p, c = made("thread")
    go, no_go = Reading(GO, answer=True), Reading(NO_GO, answer=False)
    assert found(p, c, [go, no_go], School.BARE_LIMITS).judgement.verdict is Verdict.IN
    assert [alone(p, c, r, School.BARE_LIMITS) for r in (go, no_go)] == [Verdict.IN, Verdict.IN]
    assert alone(p, c, Reading(NO_GO, answer=True), School.BARE_LIMITS) is Verdict.METAL_GONE


def test_the_size_for_the_bonus_is_judged_alone() -> None:
    p, c = made("size", "bonus")
    assert alone(p, c, read("size", "5.05"), School.GUARD_BAND) is Verdict.IN
    assert alone(p, c, read("size", "4.98"), School.GUARD_BAND) is Verdict.METAL_LEFT
    assert alone(p, c, read("size", "5.12"), School.GUARD_BAND) is Verdict.METAL_GONE


def test_two_people_agree_on_each_axis_not_on_the_diameter() -> None:
    """The same distance from the middle, on opposite sides: the same diameter, and no agreement."""
    p, c = made("position")
    mine = [read("x", "48.06"), read("y", "8.00")]
    theirs = [read("x", "47.94"), read("y", "8.00")]
    assert agreed(p, c, mine, theirs, School.GUARD_BAND) is False
    assert agreed(p, c, mine, [read("x", "48.07"), read("y", "8.00")], School.GUARD_BAND) is True
    assert agreed(p, c, mine, theirs[1:], School.GUARD_BAND) is None
    p, c = made("thread")
    right = [Reading(GO, answer=True), Reading(NO_GO, answer=False)]
    assert agreed(p, c, right, right, School.GUARD_BAND) is True
    assert agreed(p, c, right, [Reading(NO_GO, answer=True)], School.GUARD_BAND) is False
    assert agreed(p, c, right, right[:1], School.GUARD_BAND) is None


def test_the_drawing_gives_a_position_its_frame_and_boxed_sizes() -> None:
    p, _ = made("size", "bonus")
    drawing, _ = found_sheet(p)
    texts = [m.text for g in drawing.groups for m in g.marks if isinstance(m, Words)]
    assert "48" in texts
    assert "8" in texts
    assert "M" in texts
    assert "ø0.25" in texts
    # each letter at its face, and in the frame
    assert (texts.count("B"), texts.count("C")) == (2, 2)
    boxes = [m for g in drawing.groups for m in g.marks if isinstance(m, Frame) and m.height == 22]
    # two sizes, three letters
    assert len(boxes) == 5
    # what the drawing asks for with a tolerance is not boxed too
    asked = {"number": 9, "kind": "distance", "of": ["left", "bolt 1.axis"], "along": "x", "tolerance": "±0.1"}
    data = asking("position")
    data["characteristics"].append(asked)
    assert [b.nominal for b in part_of(read_part(data)).project.basics] == ["8"]
