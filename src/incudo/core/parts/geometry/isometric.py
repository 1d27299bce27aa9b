"""The edges of a solid that one sees from the right, the front and above, in isometric projection.

Edges in a plane are where the sections just on both sides of it differ; round walls add their outlines. What stands
in front is found with rays towards the viewer. Floats in the project's unit; for pictures only.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from itertools import pairwise

import numpy as np
from shapely import get_coordinates, line_merge
from shapely.geometry.base import BaseGeometry

from incudo.core.parts.geometry.edges import Segment, flat_faces
from incudo.core.parts.geometry.rays import metal_beyond
from incudo.core.parts.geometry.sections import reach, section
from incudo.core.parts.geometry.solid import Body, Corner, Revolved, RoundedBox, Solid, Wedge

#: Towards the viewer.
EYE: Corner = (1.0, -1.0, 1.0)
_ACROSS = 1 / math.sqrt(2)
_UP = 1 / math.sqrt(6)
#: Pieces of a quarter turn.
STEPS = 8
#: An edge is looked at in so many pieces over the size of the part.
PIECES = 40
#: Ends of what is hidden are found to so many halvings of a piece.
HALVINGS = 4


def flat(p: Corner) -> tuple[float, float]:
    """A point in the plane of the picture: to the right and up."""
    return (p[0] + p[1]) * _ACROSS, (2 * p[2] - p[0] + p[1]) * _UP


def isometric(solid: Solid) -> tuple[Segment, ...]:
    """The visible edges, in the plane of the picture."""
    low, high = solid.extent
    size = max(high[i] - low[i] for i in range(3))
    edges = _once(_edges(solid, size), size)
    counts = [max(1, math.ceil(math.dist(a, b) / size * PIECES)) for a, b in edges]
    shares = [[(i + 0.5) / n for i in range(n)] for n in counts]
    places = [_at(e, s) for e, row in zip(edges, shares, strict=True) for s in row]
    hidden = iter(_hidden(solid, places, size))
    turns: list[tuple[int, float, float]] = []
    pieces: list[list[float | int]] = []
    for n, row in enumerate(shares):
        states = [not next(hidden) for _ in row]
        ends: list[float | int] = [0.0] if states[0] else []
        for (one, was), (two, now) in pairwise(zip(row, states, strict=True)):
            if was != now:
                ends.append(len(turns))
                turns.append((n, one, two) if was else (n, two, one))
        pieces.append([*ends, 1.0] if states[-1] else ends)
    found = _turns(solid, edges, turns, size)
    seen: list[Segment] = []
    for edge, ends in zip(edges, pieces, strict=True):
        where = [e if isinstance(e, float) else found[e] for e in ends]
        for p, q in zip(where[::2], where[1::2], strict=True):
            seen.append(Segment(flat(_at(edge, p)), flat(_at(edge, q))))
    return tuple(seen)


def _once(edges: Iterable[tuple[Corner, Corner]], size: float) -> list[tuple[Corner, Corner]]:
    """Each edge once: where two planes meet, both have it."""
    found: dict[tuple[tuple[int, ...], ...], tuple[Corner, Corner]] = {}
    for edge in edges:
        key = tuple(sorted(tuple(round(v / size * 1e5) for v in end) for end in edge))
        found.setdefault(key, edge)
    return list(found.values())


def _at(edge: tuple[Corner, Corner], share: float) -> Corner:
    a, b = edge
    return a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share, a[2] + (b[2] - a[2]) * share


def _hidden(solid: Solid, places: list[Corner], size: float) -> list[bool]:
    if not places:
        return []
    return [bool(x) for x in metal_beyond(solid, np.array(places), EYE, size * 0.003)]


def _turns(
    solid: Solid, edges: list[tuple[Corner, Corner]], turns: list[tuple[int, float, float]], size: float
) -> list[float]:
    """Where edges pass out of sight, between a share that is seen and one that is hidden."""
    seen, gone = [t[1] for t in turns], [t[2] for t in turns]
    for _ in range(HALVINGS):
        middle = [(a + b) / 2 for a, b in zip(seen, gone, strict=True)]
        hidden = _hidden(solid, [_at(edges[t[0]], m) for t, m in zip(turns, middle, strict=True)], size)
        seen = [a if h else m for a, m, h in zip(seen, middle, hidden, strict=True)]
        gone = [m if h else b for b, m, h in zip(gone, middle, hidden, strict=True)]
    return [(a + b) / 2 for a, b in zip(seen, gone, strict=True)]


def _edges(solid: Solid, size: float) -> Iterator[tuple[Corner, Corner]]:
    tiny = size * 1e-6
    for axis in range(3):
        low, high = solid.extent[0][axis], solid.extent[1][axis]
        planes = {round(v, 7) for b in solid.bodies for i, v in flat_faces(b) if i == axis and low <= v <= high}
        for at in sorted(planes):
            under, over = (section(solid, axis, at + s * tiny, STEPS) for s in (-1, 1))
            yield from _lines(under.boundary.symmetric_difference(over.boundary), axis, at, size)
    for body in solid.bodies:
        yield from _outlines(solid, body, tiny * 100)
        if isinstance(body, Revolved):
            for other in solid.bodies:
                if isinstance(other, Revolved) and other.axis != body.axis:
                    yield from _saddle(body, other, tiny * 100)
    yield from _mitres(solid)


def _lines(found: BaseGeometry, axis: int, at: float, size: float) -> Iterator[tuple[Corner, Corner]]:
    merged = line_merge(found) if found.geom_type in ("MultiLineString", "LineString") else found
    for line in getattr(merged, "geoms", (merged,)):
        if line.geom_type != "LineString" or line.length < size * 1e-3:
            continue
        points = [_lifted(axis, at, float(x), float(y)) for x, y in get_coordinates(line.simplify(size * 1e-5))]
        yield from pairwise(points)


def _lifted(axis: int, at: float, x: float, y: float) -> Corner:
    made = [x, y]
    made.insert(axis, at)
    return made[0], made[1], made[2]


def _rounds(body: Body) -> Iterable[tuple[int, tuple[float, float], float, float, float]]:
    """Round walls of one radius: axis, centre, radius, from where to where."""
    if isinstance(body, RoundedBox):
        low, high = reach(body, body.axis)
        for centre in sorted(set(body.corners)):
            yield body.axis, centre, body.radius, low, high
    elif isinstance(body, Revolved):
        for (t0, r0), (t1, r1) in pairwise(body.profile):
            if r0 == r1:
                yield body.axis, body.centre, r0, min(t0, t1), max(t0, t1)


def _outlines(solid: Solid, body: Body, tiny: float) -> Iterator[tuple[Corner, Corner]]:
    """The lines where one looks along a round wall, as far as there is metal on one side of it only."""
    for axis, centre, radius, low, high in _rounds(body):
        a, b = (i for i in range(3) if i != axis)
        tangent = math.atan2(-EYE[a], EYE[b])
        for turn in (tangent, tangent + math.pi):
            x, y = math.cos(turn), math.sin(turn)
            at = centre[0] + radius * x, centre[1] + radius * y
            # one wall only: beside the line, inwards and outwards, metal differs
            for lo, hi in _where(
                solid, axis, (at[0] - tiny * x, at[1] - tiny * y), (at[0] + tiny * x, at[1] + tiny * y), low, high
            ):
                yield _lifted(axis, lo, *at), _lifted(axis, hi, *at)


def _where(
    solid: Solid, axis: int, one: tuple[float, float], two: tuple[float, float], low: float, high: float
) -> Iterator[tuple[float, float]]:
    columns = []
    for x, y in (one, two):
        columns.append([(s.low, s.high) for s in solid.column(axis, _lifted(axis, 0.0, x, y))])
    ends = sorted({low, high, *(min(max(v, low), high) for c in columns for s in c for v in s)})
    for lo, hi in pairwise(ends):
        middle = (lo + hi) / 2
        metal = [any(s[0] < middle < s[1] for s in c) for c in columns]
        if metal[0] != metal[1] and hi - lo > 1e-9:
            yield lo, hi


def _saddle(thin: Revolved, thick: Revolved, tiny: float) -> Iterator[tuple[Corner, Corner]]:
    """Where a thin round wall comes through a thicker one across it."""
    r, big = max(x for _, x in thin.profile), max(x for _, x in thick.profile)
    (third,) = (i for i in range(3) if i not in (thin.axis, thick.axis))
    if r >= big:
        return
    ends = reach(thin, thin.axis)
    for sign in (1, -1):
        points: list[Corner | None] = []
        for i in range(8 * STEPS + 1):
            turn = math.tau * i / (8 * STEPS)
            spot = [0.0, 0.0, 0.0]
            spot[thick.axis] = thin.centre_on(thick.axis) + r * math.cos(turn)
            spot[third] = thin.centre_on(third) + r * math.sin(turn)
            under = big**2 - (spot[third] - thick.centre_on(third)) ** 2
            spot[thin.axis] = thick.centre_on(thin.axis) + sign * math.sqrt(max(under, 0.0))
            inside = ends[0] - tiny < spot[thin.axis] < ends[1] + tiny
            points.append((spot[0], spot[1], spot[2]) if under > 0 and inside else None)
        for p, q in pairwise(points):
            if p and q:
                yield p, q


def _mitres(solid: Solid) -> Iterator[tuple[Corner, Corner]]:
    """Where the slopes of two wedges that run across each other meet."""
    wedges = [b for b in solid.bodies if isinstance(b, Wedge)]
    for n, one in enumerate(wedges):
        for two in wedges[n + 1 :]:
            if one.axis == two.axis:
                continue
            (depth,) = (i for i in range(3) if i not in (one.axis, two.axis))
            (l0, h0), (l1, h1) = (
                sorted(
                    (w.corner[w.others.index(depth)], w.corner[w.others.index(depth)] + w.legs[w.others.index(depth)])
                )
                for w in (one, two)
            )
            ends = []
            for at in (max(l0, l1), min(h0, h1)):
                spot = [at] * 3
                spot[two.axis], spot[one.axis] = one.slope(two.axis, at), two.slope(one.axis, at)
                ends.append((spot[0], spot[1], spot[2]))
            inside = all(w.ends[0] <= e[w.axis] <= w.ends[1] for w in (one, two) for e in ends)
            if max(l0, l1) < min(h0, h1) and inside:
                yield ends[0], ends[1]
