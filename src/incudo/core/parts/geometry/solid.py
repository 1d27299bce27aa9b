"""A solid as columns: what a straight line parallel to an axis meets, in order.

Lengths are floats in the project's unit: this is for drawing only; nothing
here ever decides about a reading. Axes are 0, 1, 2 for x, y, z.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

from incudo.core.parts import project as p

Surface = tuple[str, int, float]
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


Body = Box | Revolved


@dataclass(frozen=True)
class Solid:
    """A base body with others taken away."""

    base: Body
    cuts: tuple[Body, ...]

    @property
    def bodies(self) -> tuple[Body, ...]:
        return (self.base, *self.cuts)

    @property
    def extent(self) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        """The low and high corner of the box around the base body."""
        if isinstance(self.base, Box):
            return self.base.low, self.base.high
        length, radius = self.base.profile[-1][0], self.base.profile[0][1]
        return (0.0, -radius, -radius), (length, radius, radius)

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
    inwards = 1.0 if end > start else -1.0
    profile = [(start, radius)]
    if hole.countersink:
        wide = float(hole.countersink.diameter) / 2
        deep = (wide - radius) / math.tan(math.radians(float(hole.countersink.angle) / 2))
        profile = [(start, wide), (start + inwards * deep, radius)]
    profile.append((end, radius))
    if hole.tip_angle:
        point = radius / math.tan(math.radians(float(hole.tip_angle) / 2))
        profile.append((end + inwards * point, 0.0))
    centre = (float(hole.at[0]), float(hole.at[1]))
    return Revolved(key, "xyz".index(hole.axis), centre, tuple(profile))


def solid_of(project: p.Project) -> Solid:
    """The solid that a project file describes."""
    base: Body
    if isinstance(project.solid, p.Block):
        s = project.solid
        base = _box(("0", s.x), ("0", s.y), ("0", s.z))
    else:
        radius, length = float(project.solid.diameter) / 2, float(project.solid.length)
        base = Revolved(0, 0, (0.0, 0.0), ((0.0, radius), (length, radius)))
    cuts: list[Body] = []
    for i, cut in enumerate(project.cuts, start=1):
        cuts.append(_hole(i, cut) if isinstance(cut, p.Hole) else _box(cut.x, cut.y, cut.z))
    return Solid(base, tuple(cuts))
