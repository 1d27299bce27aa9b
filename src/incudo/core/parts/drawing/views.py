"""What a view shows of the solid itself: its edges, centre lines and threads; and the part as one would hold it."""

from __future__ import annotations

from incudo.core.measuring.verdict import Metal
from incudo.core.parts.drawing.marks import Curve, Drawing, Group, Mark, Stroke
from incudo.core.parts.drawing.placed import Placed
from incudo.core.parts.geometry.edges import Arc, Edges, Segment, View
from incudo.core.parts.geometry.isometric import isometric
from incudo.core.parts.geometry.solid import Solid, solid_of
from incudo.core.parts.project import Hole, PointedPlace, Project, Symbol

#: The corner below left of a view's outline, and its size, in the project's unit.
Extent = tuple[tuple[float, float], tuple[float, float]]


def outline_only(project: Project) -> Drawing:
    """Just the part as one would hold it, for a thumbnail."""
    marks = held(solid_of(project), (10.0, 10.0), (220.0, 120.0))
    return Drawing(240, 140, project.name, (Group(marks),))


def held(solid: Solid, at: tuple[float, float], room: tuple[float, float]) -> tuple[Mark, ...]:
    """The isometric view in the middle of a field of the sheet."""
    lines = isometric(solid)
    xs, ys = ([p[i] for s in lines for p in s] for i in (0, 1))
    wide, tall = max(xs) - min(xs), max(ys) - min(ys)
    scale = min(room[0] / wide, room[1] / tall)
    left, top = at[0] + (room[0] - wide * scale) / 2, at[1] + (room[1] - tall * scale) / 2

    def spot(p: tuple[float, float]) -> tuple[float, float]:
        return left + (p[0] - min(xs)) * scale, top + (max(ys) - p[1]) * scale

    return tuple(Stroke("held", (spot(s.a), spot(s.b))) for s in lines)


def box_of(solid: Solid, view: View) -> Extent:
    """Where the outline of a solid lies in a view."""
    low, high = solid.extent
    a, b = view.across, view.up
    return (low[a], low[b]), (high[a] - low[a], high[b] - low[b])


def outline(placed: Placed, edges: Edges) -> tuple[Stroke | Curve, ...]:
    """Hidden and visible edges and centre lines of a view."""
    made: list[Stroke | Curve] = []
    for kind, lines in (("hidden", edges.hidden), ("visible", edges.visible)):
        made.extend(_drawn(placed, kind, line) for line in lines)
    made.extend(_drawn(placed, "centre", line) for line in edges.centre_lines)
    return tuple(made)


def _drawn(placed: Placed, kind: str, line: Segment | Arc) -> Stroke | Curve:
    if isinstance(line, Segment):
        return Stroke(kind, (placed.flat(*line.a), placed.flat(*line.b)))
    centre, radius = placed.flat(*line.centre), line.radius * placed.scale
    if line.end - line.start > 6.2831:
        return Curve(kind, centre, radius)
    return Curve(kind, centre, radius, line.start, line.end)


def threads(project: Project, placed: Placed) -> tuple[Mark, ...]:
    """The thin three-quarter circle of a tapped hole seen from its end, and the circles that are asked for."""
    made: list[Mark] = []
    for c in project.characteristics:
        is_circle = c.metal is Metal.NONE and c.symbol is Symbol.DIAMETER
        if is_circle and isinstance(c.place, PointedPlace) and "xyz".index(c.place.axis) == placed.view.depth:
            made.append(Curve("centre", placed.point(c.place.at), float(c.place.radius) * placed.scale))
    for cut in project.cuts:
        if not isinstance(cut, Hole) or cut.thread is None:
            continue
        if "xyz".index(cut.axis) == placed.view.depth:
            centre = placed.flat(float(cut.at[0]), float(cut.at[1]))
            radius = float(cut.thread) / 2 * placed.scale
            made.append(Curve("thread", centre, radius, 0.2, 4.9))
    return tuple(made)
