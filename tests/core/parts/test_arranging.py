"""Finding places for dimensions: what lies on what, and that nothing asked for is ever missing."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest

from incudo.core.parts.drawing.fields import Rect, crosses, extent, fields_of, moved, through
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.holes import tabled
from incudo.core.parts.drawing.marks import Arrow, Balloon, Curve, Frame, Glyph, Mark, Stroke, Words
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.drawing.taken import crossed, meet, run_through
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.parts.project import Side, ViewName
from tests.core.parts.features.making import PLATE, changed, shipped_part
from tests.core.parts.features.test_random_parts import no_overlap


@pytest.mark.parametrize(
    ("one", "two", "cross"),
    [
        (((0, 0), (10, 0)), ((5, -5), (5, 5)), True),
        (((0, 0), (10, 0)), ((5, 0), (5, 5)), False),  # it ends on it
        (((0, 0), (10, 0)), ((11, -5), (11, 5)), False),
        (((0, 0), (10, 0)), ((5, 0), (15, 0)), True),  # one on the other
        (((0, 0), (10, 0)), ((10, 0), (15, 0)), False),  # one after the other
        (((0, 0), (10, 0)), ((0, 1), (10, 1)), True),  # too close to be told apart
        (((0, 0), (10, 0)), ((0, 2), (10, 2)), False),
        (((0, 0), (10, 10)), ((0, 10), (10, 0)), True),
    ],
)
def test_when_two_lines_cross(one: Any, two: Any, cross: bool) -> None:
    assert crosses(one, two) is cross
    assert crosses(two, one) is cross


@pytest.mark.parametrize(
    ("line", "inside"),
    [
        (((-5, 5), (15, 5)), True),
        (((5, 5), (6, 6)), True),
        (((-5, 0), (15, 0)), False),  # along its border
        (((-5, 12), (15, 12)), False),
        (((-1, 12), (12, -1)), True),
        (((9, 15), (15, 9)), False),  # past a corner
    ],
)
def test_when_a_line_runs_through_a_field(line: Any, inside: bool) -> None:
    assert through(line, Rect(0, 0, 10, 10)) is inside


def test_a_text_covers_its_letters_wherever_it_is_anchored() -> None:
    start, middle, end = (fields_of([Words("nominal", (100, 50), "12.50", a)])[0] for a in ("start", "middle", "end"))
    width = start.right - start.left
    assert middle.right - middle.left == pytest.approx(width)
    assert start.left < 100 < start.right
    assert (middle.left + middle.right) / 2 == pytest.approx(100)
    assert end.left < 100 < end.right + 0.1
    assert fields_of([Words("nominal", (0, 0), "")]) == []


def test_marks_move_together() -> None:
    marks: list[Mark] = [
        Stroke("dimension", ((0, 0), (5, 5))), Curve("visible", (1, 2), 3.0), Arrow((4, 4), 1.0),
        Words("note", (7, 8), "x"),
        Balloon((9, 9), 3), Glyph((1, 1), "flat"), Frame("control", (2, 2), 5, 6),
    ]  # fmt: skip
    assert moved(moved(marks, (10, -4)), (-10, 4)) == tuple(marks)
    assert moved(marks, (10, -4))[4] == Balloon((19, 5), 3)


def test_a_view_reaches_as_far_as_what_stands_around_it() -> None:
    _, views = found_sheet(shipped_part("tide-block").project)
    bare = extent((), views[0])
    assert (bare.left, bare.top) == (0, 0)
    assert bare.right == pytest.approx(views[0].size[0])


def test_thirty_requirements_all_stand_on_the_sheet() -> None:
    """Far more than a student part has: what finds no place is listed under the views, with its balloon."""
    holes = [
        {
            "kind": "hole", "name": f"h{n}", "diameter": "3",
            "layout": {"layout": "single", "at": [str(8 + 6 * n), str(8 + 3 * n)]},
        }
        for n in range(10)
    ]  # fmt: skip
    asked: list[dict[str, Any]] = []
    for n in range(10):
        asked += [
            {"kind": "distance", "of": ["left", f"h{n}.axis"], "along": "x"},
            {"kind": "distance", "of": ["front", f"h{n}.axis"], "along": "y"},
            {"kind": "diameter", "of": [f"h{n}.bore"]},
        ]
    numbered = [{"number": n, "tolerance": "±0.1", **a} for n, a in enumerate(asked, start=1)]
    drawing, _ = found_sheet(part_of(read_part({**PLATE, "features": holes, "characteristics": numbered})).project)
    balloons = [m.number for g in drawing.groups for m in g.marks if isinstance(m, Balloon)]
    assert sorted(balloons) == list(range(1, 31))
    assert {g.number for g in drawing.groups if g.number} == set(range(1, 31))


def test_the_views_stand_in_third_angle() -> None:
    """Top above front, right beside it, in line."""
    _, views = found_sheet(shipped_part("shackle-pin").project)
    at = {v.name: v for v in views}
    front, top, right = (at[n] for n in (ViewName.FRONT, ViewName.TOP, ViewName.RIGHT))
    assert top.origin[1] + top.size[1] < front.origin[1]
    assert top.origin[0] == pytest.approx(front.origin[0])
    assert right.origin[0] > front.origin[0] + front.size[0]
    assert right.origin[1] == pytest.approx(front.origin[1])


def test_more_than_six_holes_have_a_table() -> None:
    """Twenty-five in a grid, five tapped: like ones share a letter; each stands at its hole and in the table."""
    grid = {"layout": "grid", "at": ["10", "6"], "counts": [5, 5], "pitches": ["13", "7"]}
    tap = {"layout": "row", "at": ["10", "44"], "along": "x", "count": 5, "pitch": "13"}
    thread = {"designation": "M4", "diameter": "4", "pitch": "0.7"}
    holes = [
        {"kind": "hole", "name": "peg", "layout": grid, "diameter": "3"},
        {"kind": "hole", "name": "tap", "layout": tap, "made": "tapped", "diameter": "3.3", "thread": thread},
    ]
    file = {**PLATE, "features": holes, "characteristics": PLATE["characteristics"][:1]}
    project = part_of(read_part(file)).project
    found = tabled(project)
    assert [h.mark for h in found] == [*(f"A{n}" for n in range(1, 26)), *(f"B{n}" for n in range(1, 6))]
    assert (found[0].at, found[24].at, found[25].size) == (("10", "6"), ("62", "34"), "ø3.3, thread 4")
    drawing, _ = found_sheet(project)
    no_overlap(drawing)
    texts = [m for g in drawing.groups for m in g.marks if isinstance(m, Words)]
    assert {h.mark: sum(m.text == h.mark for m in texts) for h in found} == dict.fromkeys((h.mark for h in found), 2)
    assert max(m.at[0] + len(m.text) * 6 for m in texts) <= drawing.width
    six = {**file, "features": [changed(holes[1], "layout.count", 6)]}
    assert tabled(part_of(read_part(six)).project) == ()
    seven = {**file, "features": [changed(changed(holes[1], "layout.count", 7), "layout.pitch", "9")]}
    assert len(tabled(part_of(read_part(seven)).project)) == 7


def test_first_angle_puts_the_views_on_the_other_side() -> None:
    """Third: top view above the front, right view to its right; first: below it and to its left. Views are the same."""
    project = shipped_part("thole-block").project
    third, first = (
        {v.name: v for v in found_sheet(project, projection=projection)[1]}
        for projection in (Projection.THIRD, Projection.FIRST)
    )
    front, top, right = ViewName.FRONT, ViewName.TOP, ViewName.RIGHT
    assert third[top].edge(Side.BELOW) < third[front].edge(Side.ABOVE)
    assert third[right].edge(Side.LEFT) > third[front].edge(Side.RIGHT)
    assert first[top].edge(Side.ABOVE) > first[front].edge(Side.BELOW)
    assert first[right].edge(Side.RIGHT) < first[front].edge(Side.LEFT)
    for views in (third, first):
        assert views[top].edge(Side.LEFT) == views[front].edge(Side.LEFT)
        assert views[right].edge(Side.ABOVE) == views[front].edge(Side.ABOVE)
    drawing, _ = found_sheet(project, projection=Projection.FIRST)
    notes = [m.text for g in drawing.groups for m in g.marks if isinstance(m, Words)]
    assert "Front, top and right, first angle." in notes


def test_many_lines_and_texts_together_say_what_each_says_alone() -> None:
    draw = random.Random(11)

    def spot() -> tuple[float, float]:
        return round(draw.uniform(0, 40), 1), round(draw.uniform(0, 40), 1)

    lines = [(spot(), spot()) for _ in range(60)] + [((5.0, y), (30.0, y)) for y in (3.0, 9.0)]
    rects = []
    for _ in range(30):
        (ax, ay), (bx, by) = spot(), spot()
        rects.append(Rect(min(ax, bx), min(ay, by), max(ax, bx) + 1, max(ay, by) + 1))
    through_all = run_through(np.array(lines), np.array(rects))
    assert through_all.tolist() == [[through(x, r) for r in rects] for x in lines]
    others = lines[:25]
    assert crossed(np.array(lines[25:]), others).tolist() == [any(crosses(x, o) for o in others) for x in lines[25:]]
    groups = np.array(rects[:20]).reshape(10, 2, 4)
    on = [any(r.meets(o) for r in rects[2 * i : 2 * i + 2] for o in rects[20:]) for i in range(10)]
    assert meet(groups, rects[20:]).tolist() == on
    assert not meet(groups, []).any()
    assert not crossed(np.array(lines), []).any()
