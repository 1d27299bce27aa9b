"""Sections through a solid as polygons, the area of one, the volume of the whole.

Floats in the project's unit, like the solid itself: for pictures, areas and volumes, never for a verdict.
Polygons are shapely's; an arc is a polyline of ``STEPS`` pieces for each quarter turn.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import lru_cache
from itertools import pairwise

from shapely import Point, Polygon, box, unary_union
from shapely.geometry.base import BaseGeometry

from incudo.core.parts.geometry.solid import Body, Box, Revolved, RoundedBox, Solid, Wedge

#: Pieces of a quarter turn.
STEPS = 16
#: Places in each layer where its area is taken; the rule is exact for layers whose area does not change.
NODES = 24
#: Sections and volumes remembered: a search for a plan asks for those of the same few bodies thousands of times.
REMEMBERED = 4096


@lru_cache(REMEMBERED)
def section(solid: Solid, axis: int, at: float, steps: int = STEPS) -> BaseGeometry:
    """The metal in the plane at right angles to ``axis`` at ``at``, in the other two coordinates as they come."""
    metal = section_of(solid.base, axis, at, steps)
    gone = [cut for c in solid.cuts if not (cut := section_of(c, axis, at, steps)).is_empty]
    return metal.difference(unary_union(gone)) if gone else metal


@lru_cache(REMEMBERED)
def section_of(body: Body, axis: int, at: float, steps: int = STEPS) -> BaseGeometry:
    """One body in a plane at right angles to ``axis``; empty where it does not reach."""
    a, b = (i for i in range(3) if i != axis)
    match body:
        case Box():
            inside = body.low[axis] < at < body.high[axis]
            return box(body.low[a], body.low[b], body.high[a], body.high[b]) if inside else Polygon()
        case RoundedBox():
            return _rounded(body, axis, at, steps)
        case Wedge():
            return _wedge(body, axis, at)
        case Revolved():
            return _turned(body, axis, at, steps)


def _rounded(body: RoundedBox, axis: int, at: float, steps: int) -> BaseGeometry:
    a, b = (i for i in range(3) if i != axis)
    if axis == body.axis:
        if not body.low[axis] < at < body.high[axis]:
            return Polygon()
        r = body.radius
        inner = box(body.low[a] + r, body.low[b] + r, body.high[a] - r, body.high[b] - r)
        if inner.area == 0:
            inner = inner.boundary if inner.length else Point(body.low[a] + r, body.low[b] + r)
        return inner.buffer(_fair(r, steps), quad_segs=steps)
    wide = a if b == body.axis else b
    reach = body.narrowed(wide, at)
    if reach is None:
        return Polygon()
    spans = {wide: reach, body.axis: (body.low[body.axis], body.high[body.axis])}
    return box(spans[a][0], spans[b][0], spans[a][1], spans[b][1])


def _wedge(body: Wedge, axis: int, at: float) -> BaseGeometry:
    if axis == body.axis:
        if not body.ends[0] < at < body.ends[1]:
            return Polygon()
        (x, y), (dx, dy) = body.corner, body.legs
        return Polygon([(x, y), (x + dx, y), (x, y + dy)])
    wide = next(i for i in body.others if i != axis)
    reach = body.reach(wide, at)
    if reach is None:
        return Polygon()
    a, b = (i for i in range(3) if i != axis)
    spans = {wide: reach, body.axis: body.ends}
    return box(spans[a][0], spans[b][0], spans[a][1], spans[b][1])


def _turned(body: Revolved, axis: int, at: float, steps: int) -> BaseGeometry:
    if axis == body.axis:
        for (t0, r0), (t1, r1) in pairwise(body.profile):
            if min(t0, t1) < at < max(t0, t1):
                radius = r0 + (r1 - r0) * (at - t0) / (t1 - t0)
                return Point(body.centre).buffer(_fair(radius, steps), quad_segs=steps)
        return Polygon()
    away = abs(at - body.centre_on(axis))
    (other,) = (i for i in range(3) if i not in (axis, body.axis))
    middle = body.centre_on(other)
    side: list[tuple[float, float]] = []
    for (t0, r0), (t1, r1) in pairwise(body.profile):
        pieces = 1 if r0 == r1 else steps
        for i in range(pieces + 1):
            radius = r0 + (r1 - r0) * i / pieces
            if radius > away:
                side.append((t0 + (t1 - t0) * i / pieces, math.sqrt(radius**2 - away**2)))
    if len(side) < 2:
        return Polygon()
    outline = [(t, middle + w) for t, w in side] + [(t, middle - w) for t, w in reversed(side)]
    if body.axis > other:
        outline = [(w, t) for t, w in outline]
    return Polygon(outline).buffer(0)


def _fair(radius: float, steps: int) -> float:
    """The radius at which a polygon of so many pieces has the area of the circle."""
    piece = math.tau / (4 * steps)
    return radius * math.sqrt(piece / math.sin(piece))


def levels(solid: Solid, axis: int) -> list[float]:
    """Where along ``axis`` the section may change its shape, from low to high, inside the solid."""
    low, high = solid.extent[0][axis], solid.extent[1][axis]
    found = {low, high}
    for body in solid.bodies:
        found.update(v for v in _changes(body, axis) if low < v < high)
    return sorted(found)


def reach(body: Body, axis: int) -> tuple[float, float]:
    """From where to where a body reaches along an axis."""
    found = sorted(_changes(body, axis))
    return found[0], found[-1]


def _changes(body: Body, axis: int) -> Iterable[float]:
    match body:
        case Box():
            return body.low[axis], body.high[axis]
        case RoundedBox():
            r = 0.0 if axis == body.axis else body.radius
            return body.low[axis], body.low[axis] + r, body.high[axis] - r, body.high[axis]
        case Wedge():
            if axis == body.axis:
                return body.ends
            i = body.others.index(axis)
            return body.corner[i], body.corner[i] + body.legs[i]
        case Revolved():
            if axis == body.axis:
                return (t for t, _ in body.profile)
            return (body.centre_on(axis) + s * r for _, r in body.profile for s in (1, -1))


@lru_cache(REMEMBERED)
def volume(solid: Solid) -> float:
    """The volume in cubic units: sections integrated layer by layer.

    Exact where a layer's section does not change along z and its circles stand alone; elsewhere within about
    1 in 100,000 (arcs are polygons of 256 pieces with the circle's area; between layers the midpoint rule in the
    angle, which takes the square roots at the ends of round walls).
    """
    total = 0.0
    for low, high in pairwise(levels(solid, 2)):
        if high - low < 1e-12:
            continue
        looks = [section(solid, 2, low + (high - low) * share, 64).area for share in (0.05, 0.5, 0.81)]
        if max(looks) - min(looks) <= 1e-9 * max(looks):
            total += looks[0] * (high - low)
        else:
            total += _integrated(solid, low, high)
    return total


def _integrated(solid: Solid, low: float, high: float) -> float:
    middle, half, total = (low + high) / 2, (high - low) / 2, 0.0
    for i in range(NODES):
        angle = math.pi * (i + 0.5) / NODES
        weight = half * math.sin(angle) * math.pi / NODES
        total += section(solid, 2, middle - half * math.cos(angle), 64).area * weight * _norm()
    return total


def _norm() -> float:
    """Makes the weights of a layer sum up to its height."""
    return 2 / sum(math.sin(math.pi * (i + 0.5) / NODES) * math.pi / NODES for i in range(NODES))
