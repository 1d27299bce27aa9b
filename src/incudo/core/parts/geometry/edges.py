"""Which edges of a solid one sees from the front, the top or the right.

Every place where an edge could be (borders of boxes, outlines and ends of
round bodies, where a plane cuts a cylinder) is split where it crosses others;
then the columns of metal just beside each piece are compared. If
the surface met first differs, the edge is visible; if only something behind
it differs, it is hidden; if nothing differs, there is no edge. Surfaces that
run into each other smoothly make no edge.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import pairwise
from typing import NamedTuple

from incudo.core.parts.geometry.solid import Body, Box, Revolved, RoundedBox, Solid, Span, Wedge
from incudo.core.parts.project import ViewName

Flat = tuple[float, float]

#: Where on a piece one looks: not the middle, where a line may just touch a circle.
OFF_MIDDLE = 0.37


class View(NamedTuple):
    """Depth axis, horizontal and vertical axis, and whether one looks towards +depth."""

    depth: int
    across: int
    up: int
    towards_plus: bool


VIEWS = {
    ViewName.FRONT: View(1, 0, 2, True),
    ViewName.TOP: View(2, 0, 1, False),
    ViewName.RIGHT: View(0, 1, 2, False),
}


class Segment(NamedTuple):
    """A straight edge from one point to another, in the unit of the part."""

    a: Flat
    b: Flat


class Arc(NamedTuple):
    """Anticlockwise from ``start`` to ``end`` in radians."""

    centre: Flat
    radius: float
    start: float
    end: float


@dataclass(frozen=True)
class Edges:
    """What a view shows, in the view's own plane (across, up) and the project's unit."""

    visible: tuple[Segment | Arc, ...]
    hidden: tuple[Segment | Arc, ...]
    centre_lines: tuple[Segment, ...]


def edges_of(solid: Solid, name: ViewName) -> Edges:
    """The visible and hidden edges and the centre lines of one view."""
    view = VIEWS[name]
    low, high = solid.extent
    size = max(high[i] - low[i] for i in range(3))
    eye = _Eye(solid, view, size * 1e-5)
    segments, circles = _candidates(solid, view)
    found: dict[bool, list[Segment | Arc]] = {True: [], False: []}
    pieces = _unique(piece for s in segments for piece in _split(s, segments, circles))
    straight: dict[bool, list[Segment]] = {True: [], False: []}
    for piece in pieces:
        seen = eye.along(piece)
        if seen is not None:
            straight[seen].append(piece)
    for kind, lines in straight.items():
        found[kind].extend(_joined(lines))
    for centre, radius in circles:
        for kind, arcs in eye.around(centre, radius, segments, circles).items():
            found[kind].extend(arcs)
    return Edges(tuple(found[True]), tuple(found[False]), _centre_lines(solid, view, size))


class _Eye:
    """Looks at one solid along one axis and compares neighbouring columns."""

    def __init__(self, solid: Solid, view: View, step: float) -> None:
        self.solid, self.view, self.step = solid, view, step

    def column(self, across: float, up: float) -> list[Span]:
        at = [0.0, 0.0, 0.0]
        at[self.view.across], at[self.view.up] = across, up
        spans = self.solid.column(self.view.depth, (at[0], at[1], at[2]))
        return spans if self.view.towards_plus else spans[::-1]

    def compare(self, one: list[Span], two: list[Span]) -> bool | None:
        """True: visible edge between the columns; False: hidden; None: no edge."""
        if not one and not two:
            return None
        if bool(one) != bool(two):
            return True
        if not self._same(one[0], two[0], near=self.view.towards_plus):
            return True
        if len(one) != len(two):
            return False
        pairs = zip(one, two, strict=True)
        same = all(self._same(a, b, near=True) and self._same(a, b, near=False) for a, b in pairs)
        return None if same else False

    def _same(self, a: Span, b: Span, *, near: bool) -> bool:
        if near:
            return a.low_surface == b.low_surface or abs(a.low - b.low) < self.step * 1e-3
        return a.high_surface == b.high_surface or abs(a.high - b.high) < self.step * 1e-3

    def along(self, s: Segment) -> bool | None:
        dx, dy = s.b[0] - s.a[0], s.b[1] - s.a[1]
        length = math.hypot(dx, dy)
        nx, ny = -dy / length * self.step, dx / length * self.step
        mx, my = s.a[0] + dx * OFF_MIDDLE, s.a[1] + dy * OFF_MIDDLE
        return self.compare(self.column(mx + nx, my + ny), self.column(mx - nx, my - ny))

    def around(
        self,
        centre: Flat,
        radius: float,
        segments: list[Segment],
        circles: list[tuple[Flat, float]],
    ) -> dict[bool, list[Arc]]:
        """The arcs of one circle, joined where neighbours are of one kind."""
        angles = sorted(_crossings(centre, radius, segments, circles))
        if not angles:
            angles = [0.0]
        turns = list(zip(angles, [*angles[1:], angles[0] + math.tau], strict=True))
        kinds: list[tuple[bool | None, float, float]] = []
        for start, end in turns:
            if end - start < 1e-7:
                continue
            cos, sin = math.cos((start + end) / 2), math.sin((start + end) / 2)
            out = self.column(centre[0] + (radius + self.step) * cos, centre[1] + (radius + self.step) * sin)
            ins = self.column(centre[0] + (radius - self.step) * cos, centre[1] + (radius - self.step) * sin)
            kind = self.compare(out, ins)
            if kinds and kinds[-1][0] == kind:
                kinds[-1] = (kind, kinds[-1][1], end)
            else:
                kinds.append((kind, start, end))
        found: dict[bool, list[Arc]] = {True: [], False: []}
        for kind, start, end in kinds:
            if kind is not None:
                found[kind].append(Arc(centre, radius, start, end))
        return found


def _candidates(solid: Solid, view: View) -> tuple[list[Segment], list[tuple[Flat, float]]]:
    segments: list[Segment] = []
    circles: list[tuple[Flat, float]] = []
    for body in solid.bodies:
        match body:
            case Box():
                segments.extend(_rectangle(body, view))
            case RoundedBox():
                if body.axis == view.depth:
                    segments.extend(_straight_walls(body, view))
                    circles.extend((centre, body.radius) for centre in sorted(set(body.corners)))
                else:
                    segments.extend(_rectangle(body, view))
                    for centre in sorted(set(body.corners)):
                        ends = (body.low[body.axis], body.high[body.axis])
                        segments.extend(_round_creases(solid, _Round(body.axis, centre, ends, body.radius), view))
            case Wedge():
                segments.extend(_wedge(solid, body, view))
            case Revolved() if body.axis == view.depth:
                centre = (body.centre_on(view.across), body.centre_on(view.up))
                circles.extend((centre, r) for r in sorted({r for _, r in body.profile if r > 0}))
            case Revolved():
                segments.extend(_outline(body, view))
                for (t0, r0), (t1, r1) in pairwise(body.profile):
                    if r0 == r1:
                        segments.extend(_round_creases(solid, _Round(body.axis, body.centre, (t0, t1), r0), view))
                for other in solid.bodies:
                    if isinstance(other, Revolved):
                        segments.extend(_crossed(body, other, view))
    return segments, list(dict.fromkeys(circles))


def _rectangle(box: Box | RoundedBox, view: View) -> list[Segment]:
    return _frame((box.low[view.across], box.high[view.across]), (box.low[view.up], box.high[view.up]))


def _straight_walls(box: RoundedBox, view: View) -> list[Segment]:
    """The walls between the round corners, seen along the axis of the corners."""
    (x0, x1), (y0, y1) = ((box.low[i], box.high[i]) for i in (view.across, view.up))
    r, made = box.radius, []
    if x1 - x0 - 2 * r > 1e-9:
        made += [Segment((x0 + r, y), (x1 - r, y)) for y in (y0, y1)]
    if y1 - y0 - 2 * r > 1e-9:
        made += [Segment((x, y0 + r), (x, y1 - r)) for x in (x0, x1)]
    return made


def _frame(across: tuple[float, float], up: tuple[float, float]) -> list[Segment]:
    corners = [(across[0], up[0]), (across[1], up[0]), (across[1], up[1]), (across[0], up[1])]
    return [Segment(a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True)]


def flat_faces(body: Body) -> list[tuple[int, float]]:
    """The planes at right angles to an axis that bound a body: (axis, where)."""
    match body:
        case Box() | RoundedBox():
            return [(i, v) for i in range(3) for v in (body.low[i], body.high[i])]
        case Wedge():
            a, b = body.others
            return [(body.axis, body.ends[0]), (body.axis, body.ends[1]), (a, body.corner[0]), (b, body.corner[1])]
        case Revolved():
            return [(body.axis, t) for t, _ in body.profile]


def _wedge(solid: Solid, wedge: Wedge, view: View) -> list[Segment]:
    """A wedge's own edges, and where its slope meets planes and other slopes."""
    a, b = wedge.others
    tips = (wedge.corner[0] + wedge.legs[0], wedge.corner[1] + wedge.legs[1])
    if wedge.axis == view.depth:
        points = {a: (wedge.corner[0], tips[0], wedge.corner[0]), b: (wedge.corner[1], wedge.corner[1], tips[1])}
        flat = list(zip(points[view.across], points[view.up], strict=True))
        return [Segment(p, q) for p, q in zip(flat, flat[1:] + flat[:1], strict=True)]
    seen = a if a != view.depth else b
    where = dict(zip((a, b), zip(wedge.corner, tips, strict=True), strict=True))
    spans = {wedge.axis: wedge.ends, seen: where[seen]}
    made = _frame(spans[view.across], spans[view.up])
    for other in solid.bodies:
        for axis, level in flat_faces(other):
            if axis == view.depth:
                share = (level - where[axis][0]) / (where[axis][1] - where[axis][0])
                if 0 < share < 1:
                    at = where[seen][1] + (where[seen][0] - where[seen][1]) * share
                    ends = {wedge.axis: wedge.ends, seen: (at, at)}
                    made.append(
                        Segment((ends[view.across][0], ends[view.up][0]), (ends[view.across][1], ends[view.up][1]))
                    )
        if isinstance(other, Wedge) and other.axis not in (wedge.axis, view.depth):
            made.extend(_mitre(wedge, other, view))
    return made


def _mitre(one: Wedge, two: Wedge, view: View) -> list[Segment]:
    """Where the slopes of two wedges that run across each other meet, seen along the axis that neither runs along."""

    def depths(w: Wedge) -> tuple[float, float]:
        i = w.others.index(view.depth)
        low, high = sorted((w.corner[i], w.corner[i] + w.legs[i]))
        return low, high

    (l0, h0), (l1, h1) = depths(one), depths(two)
    low, high = max(l0, l1), min(h0, h1)
    if low >= high:
        return []
    points = []
    for depth in (low, high):
        # each slope gives the coordinate along the axis that the other wedge runs along
        at = {two.axis: one.slope(two.axis, depth), one.axis: two.slope(one.axis, depth)}
        points.append((at[view.across], at[view.up]))
    return [Segment(points[0], points[1])]


def _placed(body: Revolved, view: View, along: float, away: float) -> Flat:
    """A point in the view: ``along`` the body's axis, ``away`` from it at right angles."""
    if body.axis == view.across:
        return along, body.centre_on(view.up) + away
    return body.centre_on(view.across) + away, along


def _outline(body: Revolved, view: View) -> list[Segment]:
    made = []
    for (t0, r0), (t1, r1) in pairwise(body.profile):
        for sign in (1, -1):
            a, b = _placed(body, view, t0, sign * r0), _placed(body, view, t1, sign * r1)
            if a != b:
                made.append(Segment(a, b))
    for t, r in body.profile:
        if r > 0:
            made.append(Segment(_placed(body, view, t, -r), _placed(body, view, t, r)))
    return made


class _Round(NamedTuple):
    """A stretch of a round wall: its axis, its centre in the other two coordinates, from where to where, its radius."""

    axis: int
    centre: tuple[float, float]
    ends: tuple[float, float]
    radius: float

    def centre_on(self, axis: int) -> float:
        return self.centre[[i for i in range(3) if i != self.axis].index(axis)]


def _round_creases(solid: Solid, wall: _Round, view: View) -> list[Segment]:
    """Where a round wall that is seen from the side meets planes that face the viewer."""
    middle = wall.centre_on(view.depth)
    sideways = view.up if wall.axis == view.across else view.across
    made: list[Segment] = []
    for level in {v for other in solid.bodies for axis, v in flat_faces(other) if axis == view.depth}:
        if abs(level - middle) < wall.radius:
            half = math.sqrt(wall.radius**2 - (level - middle) ** 2)
            for away in (half, -half):
                at = wall.centre_on(sideways) + away
                ends = [(t, at) if wall.axis == view.across else (at, t) for t in wall.ends]
                made.append(Segment(ends[0], ends[1]))
    return made


def _crossed(body: Revolved, other: Revolved, view: View) -> list[Segment]:
    """Where a round body seen from the side meets a thinner one that runs across it."""
    if other is body or other.axis in (body.axis, view.depth):
        return []
    radius = max(r for _, r in body.profile)
    small = max(r for _, r in other.profile)
    if small < radius and abs(other.centre_on(view.depth) - body.centre_on(view.depth)) < 1e-9:
        return _saddle(body, other, view, radius, small)
    return []


def _saddle(body: Revolved, other: Revolved, view: View, radius: float, small: float) -> list[Segment]:
    """The curve that a cross hole leaves on a bar, seen at right angles to both axes."""
    at = other.centre_on(body.axis)
    steps = 64
    made: list[Segment] = []
    for sign in (1, -1):
        points = []
        for i in range(steps + 1):
            du = small * (2 * i / steps - 1)
            away = sign * math.sqrt(radius**2 - small**2 + du**2)
            points.append(_placed(body, view, at + du, away))
        made.extend(Segment(a, b) for a, b in pairwise(points))
    return made


def _split(s: Segment, segments: list[Segment], circles: list[tuple[Flat, float]]) -> Iterable[Segment]:
    dx, dy = s.b[0] - s.a[0], s.b[1] - s.a[1]
    length2 = dx * dx + dy * dy
    cuts = {0.0, 1.0}
    for o in segments:
        ex, ey = o.b[0] - o.a[0], o.b[1] - o.a[1]
        cross = dx * ey - dy * ex
        ox, oy = o.a[0] - s.a[0], o.a[1] - s.a[1]
        if abs(cross) > 1e-12:
            t, u = (ox * ey - oy * ex) / cross, (ox * dy - oy * dx) / cross
            if -1e-9 <= u <= 1 + 1e-9:
                cuts.add(t)
        elif abs(ox * dy - oy * dx) < 1e-9 * math.sqrt(length2):
            for end in (o.a, o.b):
                cuts.add(((end[0] - s.a[0]) * dx + (end[1] - s.a[1]) * dy) / length2)
    for (cx, cy), r in circles:
        fx, fy = s.a[0] - cx, s.a[1] - cy
        half = fx * dx + fy * dy
        root = half * half - length2 * (fx * fx + fy * fy - r * r)
        if root > 0:
            cuts.update((-half + sign * math.sqrt(root)) / length2 for sign in (1, -1))
    inside = sorted(t for t in cuts if 0 <= t <= 1)
    for t0, t1 in pairwise(inside):
        if (t1 - t0) ** 2 * length2 > 1e-14:
            yield Segment((s.a[0] + t0 * dx, s.a[1] + t0 * dy), (s.a[0] + t1 * dx, s.a[1] + t1 * dy))


def _crossings(centre: Flat, radius: float, segments: list[Segment], circles: list[tuple[Flat, float]]) -> set[float]:
    angles: set[float] = set()
    cx, cy = centre
    for s in segments:
        dx, dy = s.b[0] - s.a[0], s.b[1] - s.a[1]
        fx, fy = s.a[0] - cx, s.a[1] - cy
        a, half = dx * dx + dy * dy, fx * dx + fy * dy
        root = half * half - a * (fx * fx + fy * fy - radius * radius)
        if root >= -1e-9 * a * radius * radius:
            for t in ((-half + sign * math.sqrt(max(root, 0.0))) / a for sign in (1, -1)):
                if -1e-9 <= t <= 1 + 1e-9:
                    angles.add(_angle(fx + t * dx, fy + t * dy))
    for (ox, oy), other in circles:
        gap = math.hypot(ox - cx, oy - cy)
        if abs(radius - other) < gap < radius + other:
            towards = math.atan2(oy - cy, ox - cx)
            swing = math.acos((radius**2 + gap**2 - other**2) / (2 * radius * gap))
            angles.update(_angle(math.cos(a), math.sin(a)) for a in (towards - swing, towards + swing))
    return angles


def _angle(x: float, y: float) -> float:
    return round(math.atan2(y, x) % math.tau, 10)


def _unique(pieces: Iterable[Segment]) -> list[Segment]:
    seen: dict[tuple[Flat, Flat], Segment] = {}
    for piece in pieces:
        a, b = sorted((round(x, 7), round(y, 7)) for x, y in piece)
        seen.setdefault((a, b), Segment(a, b))
    return list(seen.values())


def _joined(lines: list[Segment]) -> list[Segment]:
    """Join pieces that continue each other in a straight line."""
    joined: list[Segment] = []
    for s in sorted(lines, key=lambda s: (_slope(s), s.a)):
        for i, o in enumerate(joined):
            if o.b == s.a and abs(_slope(o) - _slope(s)) < 1e-6:
                joined[i] = Segment(o.a, s.b)
                break
        else:
            joined.append(s)
    return joined


def _slope(s: Segment) -> float:
    return round(math.atan2(s.b[1] - s.a[1], s.b[0] - s.a[0]), 6)


def _centre_lines(solid: Solid, view: View, size: float) -> tuple[Segment, ...]:
    made: list[Segment] = []
    over = size * 0.025
    for body in solid.bodies:
        if not isinstance(body, Revolved):
            continue
        radius = max(r for _, r in body.profile) + over
        if body.axis == view.depth:
            x, y = body.centre_on(view.across), body.centre_on(view.up)
            made.append(Segment((x - radius, y), (x + radius, y)))
            made.append(Segment((x, y - radius), (x, y + radius)))
        else:
            t0, t1 = sorted((body.profile[0][0], body.profile[-1][0]))
            made.append(Segment(_placed(body, view, t0 - over, 0), _placed(body, view, t1 + over, 0)))
    return tuple(made)
