"""A solid as columns: what a straight line parallel to an axis meets, in order.

Lengths are floats in the project's unit: this is for drawing only; nothing
here ever decides about a reading. Axes are 0, 1, 2 for x, y, z.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import NamedTuple

from incudo.core.kernel.quantity import sense
from incudo.core.parts import project as p

Surface = tuple[str, int, float]
Corner = tuple[float, float, float]
TINY = 1e-9


class Span(NamedTuple):
    """A stretch of a column, from ``low`` to ``high``, with the surfaces that end it."""

    low: float
    high: float
    low_surface: Surface
    high_surface: Surface


def plane(axis: int, at: float) -> Surface:
    """The identity of a plane at right angles to ``axis``: coplanar faces share it."""
    return ("plane", axis, round(at, 7))


@dataclass(frozen=True)
class Box:
    """An axis-aligned box."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]

    def column(self, axis: int, at: tuple[float, float, float]) -> Span | None:
        """Where the line through ``at`` along ``axis`` runs inside; ``None`` outside."""
        if any(not self.low[i] < at[i] < self.high[i] for i in range(3) if i != axis):
            return None
        a, b = self.low[axis], self.high[axis]
        return Span(a, b, plane(axis, a), plane(axis, b))


@dataclass(frozen=True)
class Revolved:
    """A body of revolution about an axis parallel to x, y or z.

    ``profile`` lists (position along the axis, radius) from the entry inwards;
    the radius never grows inwards (countersink, bore, drill point). ``centre``
    holds the other two coordinates in the order x, y, z.
    """

    key: int
    axis: int
    centre: tuple[float, float]
    profile: tuple[tuple[float, float], ...]

    @property
    def others(self) -> tuple[int, int]:
        """The other two axes."""
        a, b = (i for i in range(3) if i != self.axis)
        return a, b

    def centre_on(self, axis: int) -> float:
        """The coordinate of the axis of revolution along another axis."""
        return self.centre[self.others.index(axis)]

    def column(self, axis: int, at: tuple[float, float, float]) -> Span | None:
        """Where the line through ``at`` along ``axis`` runs inside; ``None`` outside."""
        return self._lengthwise(at) if axis == self.axis else self._crosswise(axis, at)

    def _lengthwise(self, at: tuple[float, float, float]) -> Span | None:
        a, b = self.others
        rho = math.hypot(at[a] - self.centre[0], at[b] - self.centre[1])
        start = self.profile[0][0]
        if rho >= self.profile[0][1]:
            return None
        end, surface = self.profile[-1][0], plane(self.axis, self.profile[-1][0])
        for i, ((t0, r0), (t1, r1)) in enumerate(zip(self.profile, self.profile[1:], strict=False)):
            if r1 <= rho < r0:
                if abs(t1 - t0) < TINY:
                    end, surface = t0, plane(self.axis, t0)
                else:
                    end = t0 + (t1 - t0) * (r0 - rho) / (r0 - r1)
                    surface = ("cone", self.key, float(i))
                break
        entry = plane(self.axis, start)
        if start < end:
            return Span(start, end, entry, surface)
        return Span(end, start, surface, entry)

    def _crosswise(self, axis: int, at: tuple[float, float, float]) -> Span | None:
        along = at[self.axis]
        (third,) = (i for i in range(3) if i not in (axis, self.axis))
        away = abs(at[third] - self.centre_on(third))
        for i, ((t0, r0), (t1, r1)) in enumerate(zip(self.profile, self.profile[1:], strict=False)):
            if min(t0, t1) < along < max(t0, t1):
                radius = r0 + (r1 - r0) * (along - t0) / (t1 - t0)
                if away >= radius:
                    return None
                half = math.sqrt(radius * radius - away * away)
                middle = self.centre_on(axis)
                surface = ("round", self.key, float(i))
                return Span(middle - half, middle + half, surface, surface)
        return None


@dataclass(frozen=True)
class RoundedBox:
    """A box whose four edges along ``axis`` are round: what an end mill leaves of a slot or a pocket.

    ``radius`` is at most half the smaller of the other two sizes; then the ends are half circles.
    """

    key: int
    low: Corner
    high: Corner
    axis: int
    radius: float

    @property
    def others(self) -> tuple[int, int]:
        """The other two axes."""
        a, b = (i for i in range(3) if i != self.axis)
        return a, b

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """The centres of the four rounded edges, in the other two coordinates."""
        a, b = self.others
        r = self.radius
        return tuple((x, y) for x in (self.low[a] + r, self.high[a] - r) for y in (self.low[b] + r, self.high[b] - r))

    def narrowed(self, axis: int, away: float) -> tuple[float, float] | None:
        """From where to where it reaches along ``axis`` (across its own) where the third coordinate is ``away``."""
        (third,) = (i for i in range(3) if i not in (axis, self.axis))
        if not self.low[third] < away < self.high[third]:
            return None
        over = max(self.low[third] + self.radius - away, away - self.high[third] + self.radius, 0.0)
        less = self.radius - math.sqrt(max(self.radius**2 - over**2, 0.0)) if over else 0.0
        return self.low[axis] + less, self.high[axis] - less

    def column(self, axis: int, at: Corner) -> Span | None:
        """Where the line through ``at`` along ``axis`` runs inside; ``None`` outside."""
        a, b = self.others
        if axis == self.axis:
            reach = self.narrowed(a, at[b])
            if reach is None or not reach[0] < at[a] < reach[1]:
                return None
            low, high = self.low[axis], self.high[axis]
            return Span(low, high, plane(axis, low), plane(axis, high))
        if not self.low[self.axis] < at[self.axis] < self.high[self.axis]:
            return None
        reach = self.narrowed(axis, at[b if axis == a else a])
        if reach is None:
            return None
        surfaces = (
            plane(axis, value) if abs(value - wall) < TINY else ("corner", self.key, float(side))
            for side, value, wall in ((0, reach[0], self.low[axis]), (1, reach[1], self.high[axis]))
        )
        return Span(*reach, *surfaces)


@dataclass(frozen=True)
class Wedge:
    """A right-angled triangle drawn out along ``axis``: a chamfer, or a face at an angle.

    ``corner`` is where the right angle lies and ``legs`` how far it reaches from there, with signs, in the
    other two coordinates in the order x, y, z.
    """

    key: int
    axis: int
    ends: tuple[float, float]
    corner: tuple[float, float]
    legs: tuple[float, float]

    @property
    def others(self) -> tuple[int, int]:
        """The other two axes."""
        a, b = (i for i in range(3) if i != self.axis)
        return a, b

    def slope(self, axis: int, at: float) -> float:
        """Where its slope lies along one leg's axis, where the other leg's coordinate is ``at``."""
        here, there = (0, 1) if axis == self.others[0] else (1, 0)
        return self.corner[here] + self.legs[here] * (1 - (at - self.corner[there]) / self.legs[there])

    def reach(self, axis: int, at: float) -> tuple[float, float] | None:
        """From where to where it reaches along one of its legs where the other coordinate is ``at``."""
        here, there = (0, 1) if axis == self.others[0] else (1, 0)
        if not 0 < (at - self.corner[there]) / self.legs[there] < 1:
            return None
        end = self.slope(axis, at)
        return min(self.corner[here], end), max(self.corner[here], end)

    def column(self, axis: int, at: Corner) -> Span | None:
        """Where the line through ``at`` along ``axis`` runs inside; ``None`` outside."""
        a, b = self.others
        if axis == self.axis:
            found = self.reach(a, at[b])
            if found is None or not found[0] < at[a] < found[1]:
                return None
            return Span(*self.ends, plane(axis, self.ends[0]), plane(axis, self.ends[1]))
        if not self.ends[0] < at[self.axis] < self.ends[1]:
            return None
        found = self.reach(axis, at[b if axis == a else a])
        if found is None:
            return None
        corner, slope = plane(axis, self.corner[self.others.index(axis)]), ("slope", self.key, 0.0)
        growing = sense(self.legs[self.others.index(axis)]) == 1
        return Span(*found, *((corner, slope) if growing else (slope, corner)))


Body = Box | RoundedBox | Wedge | Revolved


@dataclass(frozen=True)
class Solid:
    """A base body with others taken away."""

    base: Box | Revolved
    cuts: tuple[Body, ...]

    @property
    def bodies(self) -> tuple[Body, ...]:
        """What the part is made from, first the body that the others are taken out of."""
        return (self.base, *self.cuts)

    @property
    def extent(self) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        """The low and high corner of the box around the base body."""
        if isinstance(self.base, Box):
            return self.base.low, self.base.high
        along, radius = [t for t, _ in self.base.profile], max(r for _, r in self.base.profile)
        low, high = [0.0] * 3, [0.0] * 3
        low[self.base.axis], high[self.base.axis] = min(along), max(along)
        for axis in self.base.others:
            middle = self.base.centre_on(axis)
            low[axis], high[axis] = middle - radius, middle + radius
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])

    def column(self, axis: int, at: tuple[float, float, float]) -> list[Span]:
        """The stretches of metal along the line through ``at``, low to high."""
        first = self.base.column(axis, at)
        spans = [first] if first else []
        for cut in self.cuts:
            gone = cut.column(axis, at)
            if gone:
                spans = [rest for s in spans for rest in _without(s, gone)]
        return spans


def _without(s: Span, gone: Span) -> list[Span]:
    if gone.high <= s.low or gone.low >= s.high:
        return [s]
    rest = []
    if gone.low - s.low > TINY:
        rest.append(Span(s.low, gone.low, s.low_surface, gone.low_surface))
    if s.high - gone.high > TINY:
        rest.append(Span(gone.high, s.high, gone.high_surface, s.high_surface))
    return rest


def _box(x: tuple[str, str], y: tuple[str, str], z: tuple[str, str]) -> Box:
    return Box((float(x[0]), float(y[0]), float(z[0])), (float(x[1]), float(y[1]), float(z[1])))


def _hole(key: int, hole: p.Hole) -> Revolved:
    start, end, radius = float(hole.start), float(hole.end), float(hole.diameter) / 2
    inwards = float(sense(end - start))
    profile = [(start, radius)]
    if hole.countersink:
        wide = float(hole.countersink.diameter) / 2
        deep = (wide - radius) / math.tan(math.radians(float(hole.countersink.angle) / 2))
        profile = [(start, wide), (start + inwards * deep, radius)]
    if hole.counterbore:
        wide, floor = float(hole.counterbore.diameter) / 2, start + inwards * float(hole.counterbore.depth)
        profile = [(start, wide), (floor, wide), (floor, radius)]
    profile.append((end, radius))
    if hole.tip_angle:
        point = radius / math.tan(math.radians(float(hole.tip_angle) / 2))
        profile.append((end + inwards * point, 0.0))
    centre = (float(hole.at[0]), float(hole.at[1]))
    return Revolved(key, "xyz".index(hole.axis), centre, tuple(profile))


def body_of(body: p.Block | p.RoundBar) -> Solid:
    """A bare body as a solid."""
    if isinstance(body, p.Block):
        return Solid(_box(("0", body.x), ("0", body.y), ("0", body.z)), ())
    radius, length = float(body.diameter) / 2, float(body.length)
    return Solid(Revolved(0, 0, (0.0, 0.0), ((0.0, radius), (length, radius))), ())


def bodies_of(cuts: Iterable[p.BoxCut | p.Hole | p.WedgeCut], before: int = 0) -> tuple[Body, ...]:
    """What cuts remove; each is told from others by its place in the whole list, ``before`` and on."""
    return tuple(_body(i, cut) for i, cut in enumerate(cuts, start=before + 1))


def solid_of(project: p.Project) -> Solid:
    """The solid that a project file describes."""
    return Solid(body_of(project.solid).base, bodies_of(project.cuts))


def _body(key: int, cut: p.BoxCut | p.Hole | p.WedgeCut) -> Body:
    match cut:
        case p.Hole():
            return _hole(key, cut)
        case p.WedgeCut():
            (c0, c1), (l0, l1) = cut.corner, cut.legs
            ends = float(cut.ends[0]), float(cut.ends[1])
            return Wedge(key, "xyz".index(cut.axis), ends, (float(c0), float(c1)), (float(l0), float(l1)))
        case p.BoxCut():
            box = _box(cut.x, cut.y, cut.z)
            if cut.rounded is None:
                return box
            return RoundedBox(key, box.low, box.high, "xyz".index(cut.rounded.axis), float(cut.rounded.radius))
