"""Three hundred random legal parts: drawing, numbers, volume and files agree with the solid."""

from __future__ import annotations

import io
import itertools
import json
import math
import random

import pytest
from ezdxf.filemanagement import read as read_dxf

from incudo.core.parts.drawing.dxf import dxf_of
from incudo.core.parts.drawing.fields import Rect, crosses, fields_of, lines_of
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.holes import tabled
from incudo.core.parts.drawing.marks import Balloon, Drawing, Group, Stroke, Words
from incudo.core.parts.drawing.placed import Placed, Projection
from incudo.core.parts.features.frame import Axle, Plane, RoundWall
from incudo.core.parts.features.part import Part, part_of, read_part
from incudo.core.parts.geometry.edges import Arc, Segment, edges_of
from incudo.core.parts.geometry.sections import volume
from incudo.core.parts.project import Side
from tests.core.parts.features.making import SHIPPED, random_part, shipped_part

SEEDS = range(300)
#: So full that a flag of a datum finds no place.
CROWDED = (259,)
GROUPS = [list(SEEDS[i : i + 10]) for i in range(0, 300, 10)]


def no_overlap(drawing: Drawing) -> None:
    """No text on another, no dimension line across another or through a text."""
    texts = [(n, f) for n, g in enumerate(drawing.groups) for f in fields_of(g.marks)]
    for (a, one), (b, two) in itertools.combinations(texts, 2):
        assert a == b or not one.meets(two), (drawing.groups[a].label, drawing.groups[b].label)
    lines = [(n, x) for n, g in enumerate(drawing.groups) for x in lines_of(g.marks, "dimension")]
    for (a, line), (b, other) in itertools.combinations(lines, 2):
        assert a == b or not crosses(line, other), (drawing.groups[a].label, drawing.groups[b].label)


def held_apart(drawing: Drawing, views: tuple[Placed, ...]) -> None:
    """Views, and the part as one would hold it, lie on no text of another and on each other."""
    lines = [p for g in drawing.groups for m in g.marks if isinstance(m, Stroke) and m.kind == "held" for p in m.points]
    xs, ys = zip(*lines, strict=True)
    held = Rect(min(xs), min(ys), max(xs), max(ys))
    boxes = [Rect(v.edge(Side.LEFT), v.edge(Side.ABOVE), v.edge(Side.RIGHT), v.edge(Side.BELOW)) for v in views]
    for one, two in itertools.combinations((held, *boxes), 2):
        assert not one.meets(two)
    assert not [f for g in drawing.groups for f in fields_of(g.marks) if f.meets(held)]
    assert held.left >= 0
    assert held.right <= drawing.width


def numbers_of(groups: tuple[Group, ...]) -> list[int]:
    return sorted(m.number for g in groups for m in g.marks if isinstance(m, Balloon))


@pytest.mark.sweep(4)
@pytest.mark.parametrize("seeds", GROUPS, ids=lambda s: f"{s[0]}-{s[-1]}")
def test_every_requirement_has_its_place_and_none_lies_on_another(seeds: list[int]) -> None:
    for seed in seeds:
        part = random_part(seed)
        drawing, views = found_sheet(part.project, projection=list(Projection)[seed % 2])
        assert numbers_of(drawing.groups) == sorted(c.number for c in part.project.characteristics), seed
        no_overlap(drawing)
        held_apart(drawing, views)
        marks = [h.mark for h in tabled(part.project)]
        texts = [m.text for g in drawing.groups for m in g.marks if isinstance(m, Words)]
        assert [m for m in marks if texts.count(m) != 2] == [], "each once at its hole and once in the table"
        flags = [m.text for g in drawing.groups for m in g.marks if isinstance(m, Words) and m.kind == "datum"]
        assert sorted(flags) == [d.letter for d in part.project.datums] or seed in CROWDED, seed
        # the file says the same again
        again = part_of(read_part(json.loads(json.dumps(part.file.model_dump(mode="json")))))
        assert again.project == part.project


@pytest.mark.parametrize("code", SHIPPED)
def test_the_shipped_drawings_are_as_clean(code: str) -> None:
    drawing, _ = found_sheet(shipped_part(code).project)
    no_overlap(drawing)
    assert drawing.width < 860


def face_on_solid(part: Part, face: Plane) -> bool:
    """Whether columns through the solid really end on a face, with the metal on its inner side."""
    a, b = (i for i in range(3) if i != face.axis)
    draw = random.Random(7)
    for _ in range(400):
        at = [0.0, 0.0, 0.0]
        for i in (a, b):
            low, high = map(float, face.spans[i])
            at[i] = draw.uniform(low, high) if low < high else low
        for s in part.solid.column(face.axis, (at[0], at[1], at[2])):
            end = s.high if face.out > 0 else s.low
            if abs(end - float(face.at)) < 1e-4:
                return True
    return False


@pytest.mark.sweep(6)
@pytest.mark.parametrize("seeds", GROUPS, ids=lambda s: f"{s[0]}-{s[-1]}")
def test_what_is_asked_is_the_distance_on_the_solid(seeds: list[int]) -> None:
    """The faces that a requirement names are where columns through the solid end; its nominal is what lies between."""
    for seed in seeds:
        part = random_part(seed)
        for asked, c in zip(part.file.characteristics, part.project.characteristics, strict=True):
            things = [part.frame.named[n] for n in asked.of]
            for t in things:
                if isinstance(t, Plane) and t.spans[0] != t.spans[1]:
                    assert face_on_solid(part, t) or part.frame.bar, (seed, t.name)
            if asked.kind == "distance":
                axis = "xyz".index(c.place.axis)  # type: ignore[union-attr]
                at = [
                    t.at if isinstance(t, Plane) else t.centre[axis]
                    for t in things
                    if isinstance(t, (Plane, Axle, RoundWall))
                ]
                assert float(c.nominal) == pytest.approx(float(abs(at[1] - at[0])), abs=1e-6)
            elif asked.kind == "position":
                hole, *faces = things
                assert isinstance(hole, (Axle, RoundWall))
                for face, basic in zip(faces, c.basics, strict=True):
                    assert isinstance(face, Plane)
                    assert float(basic.nominal) == pytest.approx(abs(float(hole.centre[face.axis] - face.at)))
            elif asked.kind == "diameter":
                assert round_on_solid(part, things[0], float(c.nominal) / 2), (seed, asked.of)


def round_on_solid(part: Part, wall: object, radius: float) -> bool:
    """Whether metal changes where a round wall of this radius should be; a bolt circle has no wall."""
    assert isinstance(wall, RoundWall)
    if wall.name.endswith(".circle"):
        return True
    a, b = (i for i in range(3) if i != wall.axis)
    for i in range(24):
        turn = math.tau * (i + 0.3) / 24
        ends = []
        for r in (radius * 0.998, radius * 1.002):
            at = [0.0, 0.0, 0.0]
            at[a], at[b] = float(wall.centre[a]) + r * math.cos(turn), float(wall.centre[b]) + r * math.sin(turn)
            ends.append(
                [(round(s.low, 4), round(s.high, 4)) for s in part.solid.column(wall.axis, (at[0], at[1], at[2]))]
            )
        if ends[0] != ends[1]:
            return True
    return False


@pytest.mark.sweep(20)
@pytest.mark.parametrize("seed", SEEDS[::6])
def test_the_volume_is_that_of_ten_thousand_columns(seed: int) -> None:
    """Columns at random places, their metal added up: within four standard errors."""
    part = random_part(seed)
    draw = random.Random(seed)
    (x0, y0, _), (x1, y1, _) = part.solid.extent
    found = []
    for _ in range(3000):
        at = (draw.uniform(x0, x1), draw.uniform(y0, y1), 0.0)
        found.append(sum(s.high - s.low for s in part.solid.column(2, at)))
    mean = sum(found) / len(found)
    spread = math.sqrt(sum((f - mean) ** 2 for f in found) / len(found) ** 2)
    area = (x1 - x0) * (y1 - y0)
    assert volume(part.solid) == pytest.approx(mean * area, abs=4 * spread * area + 1e-4 * mean * area)


@pytest.mark.sweep(10)
@pytest.mark.parametrize("seed", SEEDS[::12])
def test_a_dxf_read_back_is_the_part_in_its_own_size(seed: int) -> None:
    """The visible lines and arcs of all views, as long as the solid's own edges."""
    part = random_part(seed)
    space = read_dxf(io.StringIO(dxf_of(part.project))).modelspace()
    length = 0.0
    for e in space.query('LWPOLYLINE[layer=="VISIBLE"]'):
        points = [(p[0], p[1]) for p in e]
        length += sum(math.dist(a, b) for a, b in itertools.pairwise(points))
    for e in space.query('ARC[layer=="VISIBLE"]'):
        length += e.dxf.radius * math.radians((e.dxf.end_angle - e.dxf.start_angle) % 360 or 360)
    for e in space.query('CIRCLE[layer=="VISIBLE"]'):
        length += math.tau * e.dxf.radius
    drawing, views = found_sheet(part.project)
    want = 0.0
    for view in views:
        for line in edges_of(part.solid, view.name).visible:
            want += math.dist(line.a, line.b) if isinstance(line, Segment) else arc_length(line)
    assert length == pytest.approx(want, rel=1e-6)
    assert drawing.groups


def arc_length(arc: Arc) -> float:
    return arc.radius * (arc.end - arc.start)
