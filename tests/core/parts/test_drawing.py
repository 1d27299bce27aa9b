"""Views computed from geometry: which edges are seen, which are hidden, what the sheet shows."""

from __future__ import annotations

import math
import xml.etree.ElementTree as ET
from pathlib import Path
from typing import Any

import pytest
import yaml
from hypothesis import given, settings
from hypothesis import strategies as st

from incudo.core.parts.drawing import lay_out, render, render_outline
from incudo.core.parts.drawing.marks import Balloon, Words
from incudo.core.parts.geometry.edges import Arc, Edges, Segment, edges_of
from incudo.core.parts.geometry.solid import Box, Revolved, Solid, solid_of
from incudo.core.parts.project import Project, ViewName, read_project
from tests.paths import VERSION_1

SHIPPED = sorted(VERSION_1.glob("*.yaml"))
SVG = "{http://www.w3.org/2000/svg}"


def shipped(file: Path) -> Project:
    return read_project(yaml.safe_load(file.read_text()))


def box(x: tuple[float, float], y: tuple[float, float], z: tuple[float, float]) -> Box:
    return Box((x[0], y[0], z[0]), (x[1], y[1], z[1]))


BLOCK = box((0, 4), (0, 2), (0, 3))


def through(key: int, x: float, y: float, r: float) -> Revolved:
    return Revolved(key, 2, (x, y), ((3.0, r), (0.0, r)))


def straight(lines: tuple[Segment | Arc, ...]) -> set[tuple[tuple[float, float], tuple[float, float]]]:
    return {
        tuple(sorted((tuple(round(v, 4) for v in s.a), tuple(round(v, 4) for v in s.b))))  # type: ignore[misc]
        for s in lines
        if isinstance(s, Segment)
    }


def length(lines: tuple[Segment | Arc, ...]) -> float:
    return sum(math.dist(s.a, s.b) if isinstance(s, Segment) else s.radius * (s.end - s.start) for s in lines)


def view(cuts: list[Box | Revolved], name: ViewName, base: Box | Revolved = BLOCK) -> Edges:
    return edges_of(Solid(base, tuple(cuts)), name)


def test_a_plain_block_is_a_rectangle_in_every_view() -> None:
    for name, (w, h) in {ViewName.FRONT: (4, 3), ViewName.TOP: (4, 2), ViewName.RIGHT: (2, 3)}.items():
        found = view([], name)
        assert straight(found.visible) == {
            ((0, 0), (w, 0)),
            ((0, h), (w, h)),
            ((0, 0), (0, h)),
            ((w, 0), (w, h)),
        }
        assert not found.hidden
        assert not found.centre_lines


def test_a_step_shows_its_edge_from_above_and_from_its_side_only() -> None:
    step = box((2, 4), (0, 2), (2, 3))
    top = view([step], ViewName.TOP)
    assert ((2, 0), (2, 2)) in straight(top.visible)
    front = view([step], ViewName.FRONT)
    assert ((2, 2), (4, 2)) in straight(front.visible)
    assert ((2, 2), (2, 3)) in straight(front.visible)
    assert ((2, 3), (4, 3)) not in straight(front.visible), "the metal there is gone"
    right = view([step], ViewName.RIGHT)
    assert ((0, 2), (2, 2)) in straight(right.visible)
    assert not front.hidden


def test_a_slot_that_stops_inside_is_hidden_from_the_front() -> None:
    pocket = box((1, 3), (0.5, 1.5), (1, 3))
    front = view([pocket], ViewName.FRONT)
    assert straight(front.hidden) == {((1, 1), (1, 3)), ((3, 1), (3, 3)), ((1, 1), (3, 1))}
    top = view([pocket], ViewName.TOP)
    assert length(top.visible) == pytest.approx(2 * (4 + 2) + 2 * (2 + 1))
    assert not top.hidden


def test_a_slot_open_to_the_front_is_seen_and_one_behind_a_wall_is_not() -> None:
    open_slot = box((1, 3), (0, 1), (2, 3))
    assert ((1, 2), (3, 2)) in straight(view([open_slot], ViewName.FRONT).visible)
    behind = box((1, 3), (1, 2), (2, 3))
    found = view([behind], ViewName.FRONT)
    assert ((1, 2), (3, 2)) in straight(found.hidden)
    assert ((1, 2), (3, 2)) not in straight(found.visible)


def test_a_through_hole_is_a_circle_above_and_two_hidden_lines_in_front() -> None:
    top = view([through(1, 1, 1, 0.5)], ViewName.TOP)
    circles = [a for a in top.visible if isinstance(a, Arc)]
    assert sum(a.end - a.start for a in circles) == pytest.approx(math.tau)
    assert {a.radius for a in circles} == {0.5}
    front = view([through(1, 1, 1, 0.5)], ViewName.FRONT)
    assert straight(front.hidden) == {((0.5, 0), (0.5, 3)), ((1.5, 0), (1.5, 3))}
    assert len(front.centre_lines) == 1
    assert len(top.centre_lines) == 2


def test_a_blind_hole_from_below_is_hidden_from_above() -> None:
    blind = Revolved(1, 2, (1, 1), ((0.0, 0.5), (1.0, 0.5), (1.3, 0.0)))
    top = view([blind], ViewName.TOP)
    assert not [a for a in top.visible if isinstance(a, Arc)]
    assert length(tuple(a for a in top.hidden if isinstance(a, Arc))) == pytest.approx(math.tau * 0.5)
    front = view([blind], ViewName.FRONT)
    assert ((0.5, 1), (1.5, 1)) in straight(front.hidden), "where the drill's full diameter ends"
    assert ((0.5, 1), (1, 1.3)) in straight(front.hidden), "the drill point"


def test_a_countersink_shows_both_circles() -> None:
    sunk = Revolved(1, 2, (1, 1), ((3.0, 0.9), (2.6, 0.5), (0.0, 0.5)))
    radii = {a.radius for a in view([sunk], ViewName.TOP).visible if isinstance(a, Arc)}
    assert radii == {0.5, 0.9}


def test_round_slot_ends_run_into_the_walls_without_an_edge() -> None:
    cuts = [box((1, 3), (0.5, 1.5), (0, 3)), through(1, 1, 1, 0.5), through(2, 3, 1, 0.5)]
    top = view(cuts, ViewName.TOP)
    inner = length(top.visible) - 2 * (4 + 2)
    assert inner == pytest.approx(2 * 2 + math.tau * 0.5, rel=1e-3)
    assert not top.hidden


BAR = Revolved(0, 0, (0.0, 0.0), ((0.0, 2.0), (10.0, 2.0)))


def test_a_bar_is_a_rectangle_and_a_circle() -> None:
    front = view([], ViewName.FRONT, BAR)
    assert straight(front.visible) == {
        ((0, -2), (10, -2)),
        ((0, 2), (10, 2)),
        ((0, -2), (0, 2)),
        ((10, -2), (10, 2)),
    }
    end = view([], ViewName.RIGHT, BAR)
    assert length(end.visible) == pytest.approx(math.tau * 2)


def test_a_flat_on_a_bar_is_as_wide_as_the_chord() -> None:
    flat = box((0, 3), (-2, 2), (1.2, 2))
    half = math.sqrt(2**2 - 1.2**2)
    top = straight(view([flat], ViewName.TOP, BAR).visible)
    assert ((0, pytest.approx(-half, abs=1e-3)), (3, pytest.approx(-half, abs=1e-3))) in [
        ((a[0], a[1]), (b[0], b[1])) for a, b in top
    ]
    assert ((0, 1.2), (3, 1.2)) in straight(view([flat], ViewName.FRONT, BAR).visible)
    assert not [a for a in straight(view([flat], ViewName.FRONT, BAR).visible) if a == ((0, 2), (3, 2))]


def test_a_cross_hole_dips_where_it_leaves_the_bar() -> None:
    """Seen at right angles to both axes the outline sinks to sqrt(R² - r²) over the hole."""
    hole = Revolved(1, 2, (5.0, 0.0), ((2.0, 1.0), (-2.0, 1.0)))
    front = view([hole], ViewName.FRONT, BAR)
    over = [s for s in front.visible if isinstance(s, Segment) and 4 < s.a[0] < 6 and s.a[1] > 0]
    assert min(s.a[1] for s in over) == pytest.approx(math.sqrt(3), abs=1e-3)
    covered = sum(abs(s.b[0] - s.a[0]) for s in over)
    assert covered == pytest.approx(2, abs=0.05), "without a gap"


coordinate = st.integers(0, 6)
span = st.lists(coordinate, min_size=2, max_size=2, unique=True).map(lambda p: (min(p), max(p)))


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(span, span, span), max_size=4))
def test_cut_blocks_match_a_picture_made_of_cubes(cuts: list[Any]) -> None:
    """Against brute force: unit cubes, and the height at which one first meets metal."""
    solid = Solid(box((0, 6), (0, 6), (0, 6)), tuple(box(*c) for c in cuts))

    def full(x: int, y: int, z: int) -> bool:
        inside = all(0 <= v < 6 for v in (x, y, z))
        gone = any(all(s[0] <= v < s[1] for s, v in zip(c, (x, y, z), strict=True)) for c in cuts)
        return inside and not gone

    def first(x: int, y: int) -> int:
        return next((z for z in range(5, -1, -1) if full(x, y, z)), -1)

    want = 0
    for x in range(-1, 6):
        for y in range(6):
            want += first(x, y) != first(x + 1, y)
    for x in range(6):
        for y in range(-1, 6):
            want += first(x, y) != first(x, y + 1)
    assert length(edges_of(solid, ViewName.TOP).visible) == pytest.approx(want)


@pytest.mark.parametrize("file", SHIPPED, ids=lambda f: f.stem)
def test_shipped_parts_have_one_balloon_per_characteristic(file: Path) -> None:
    project = shipped(file)
    sheet = lay_out(project)
    balloons = [m.number for g in sheet.groups for m in g.marks if isinstance(m, Balloon)]
    assert sorted(balloons) == [c.number for c in project.characteristics]


@pytest.mark.parametrize("file", SHIPPED, ids=lambda f: f.stem)
def test_shipped_parts_stay_on_the_sheet(file: Path) -> None:
    root = ET.fromstring(render(lay_out(shipped(file))))  # noqa: S314 (our own text)
    width, height = (float(v) for v in root.attrib["viewBox"].split()[2:])
    assert width == 560
    assert height < 660
    for text in root.iter(f"{SVG}text"):
        x, y = float(text.attrib["x"]), float(text.attrib["y"])
        assert 0 <= x <= width - 5, text.text
        assert 0 < y <= height, text.text
    for path in root.iter(f"{SVG}circle"):
        assert 0 <= float(path.attrib["cx"]) <= width


@pytest.mark.parametrize("file", SHIPPED, ids=lambda f: f.stem)
def test_balloons_do_not_lie_on_each_other(file: Path) -> None:
    balloons = [m for g in lay_out(shipped(file)).groups for m in g.marks if isinstance(m, Balloon)]
    for i, a in enumerate(balloons):
        for b in balloons[i + 1 :]:
            assert math.dist(a.at, b.at) > 24, (a.number, b.number)


def test_third_angle_puts_the_top_view_above_the_front_and_right_beside_it() -> None:
    project = shipped(next(f for f in SHIPPED if f.stem == "shackle-pin"))
    sheet = lay_out(project)
    middle = {}
    for group, name in zip(sheet.groups[::2][:3], ("front", "top", "right"), strict=True):
        points = [p for m in group.marks for p in getattr(m, "points", ())]
        middle[name] = (sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points))
    assert middle["top"][1] < middle["front"][1]
    assert middle["right"][0] > middle["front"][0]


def test_the_drawing_says_its_unit_datums_and_default_tolerances() -> None:
    sheet = lay_out(shipped(next(f for f in SHIPPED if f.stem == "keel-step-gauge")))
    notes = " ".join(m.text for g in sheet.groups for m in g.marks if isinstance(m, Words) and m.kind == "note")
    assert "third angle" in notes
    assert "inches" in notes
    assert "A: bottom, B: left end" in notes
    assert "three places ±0.005" in notes


def test_names_in_a_project_cannot_break_out_of_the_svg() -> None:
    data = yaml.safe_load(SHIPPED[0].read_text())
    data["characteristics"][0]["name"] = "<script>alert(1)</script>"
    data["name"] = '"><script>'
    text = render(lay_out(read_project(data)))
    assert "<script>" not in text
    ET.fromstring(text)  # noqa: S314


def test_the_thumbnail_stands_alone() -> None:
    text = render_outline(shipped(SHIPPED[0]))
    assert "<style>" in text
    assert "<text" not in text


def test_solid_of_reads_every_kind_of_cut() -> None:
    solid = solid_of(shipped(next(f for f in SHIPPED if f.stem == "fairlead-plate")))
    assert len(solid.cuts) == 5
    assert solid.extent == ((0, 0, 0), (84, 52, 10))
    assert solid.column(2, (14, 38, 0)) == [], "through the hole one meets nothing"
    assert [(s.low, s.high) for s in solid.column(2, (5, 5, 0))] == [(0, 10)]
