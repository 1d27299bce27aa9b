"""Where marks lie on a sheet: the fields that texts cover, the pieces of lines, and what meets or crosses what."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple

from incudo.core.parts.drawing import dimension as dim
from incudo.core.parts.drawing.marks import Arrow, Balloon, Curve, Frame, Glyph, Group, Mark, Spot, Stroke, Words
from incudo.core.parts.drawing.placed import Placed

#: Room around a text.
AIR = 2.5
WIDE = {"nominal": dim.NOMINAL, "tolerance": dim.SMALL, "datum": 10.0, "note": 7.5}
TALL = {"nominal": 15.0, "tolerance": 12.0, "datum": 14.0, "note": 14.0}


class Rect(NamedTuple):
    """A rectangle on the sheet, in mm on paper."""

    left: float
    top: float
    right: float
    bottom: float

    def moved(self, x: float, y: float) -> Rect:
        """The same field somewhere else."""
        return Rect(self.left + x, self.top + y, self.right + x, self.bottom + y)

    def meets(self, o: Rect) -> bool:
        """Whether two fields overlap."""
        return self.left < o.right and o.left < self.right and self.top < o.bottom and o.top < self.bottom


Line = tuple[Spot, Spot]


def fields_of(marks: Iterable[Mark]) -> list[Rect]:
    """The fields that texts, balloons, frames and symbols cover."""
    made = []
    for m in marks:
        match m:
            case Words(kind, (x, y), text, anchor) if text:
                wide, tall = len(text) * WIDE[kind], TALL[kind]
                left = x - (wide / 2 if anchor == "middle" else wide if anchor == "end" else 0)
                made.append(Rect(left - AIR, y - tall + 2 - AIR, left + wide + AIR, y + 3 + AIR))
            case Balloon((x, y)):
                made.append(Rect(x - 12 - AIR, y - 12 - AIR, x + 12 + AIR, y + 12 + AIR))
            case Glyph((x, y)):
                made.append(Rect(x, y, x + 14, y + 14))
            case Frame(_, (x, y), width, height):
                made.append(Rect(x - AIR, y - AIR, x + width + AIR, y + height + AIR))
    return made


def lines_of(marks: Iterable[Mark], kind: str) -> list[Line]:
    """The straight pieces of one kind of line."""
    return [
        pair
        for m in marks
        if isinstance(m, Stroke) and m.kind == kind
        for pair in zip(m.points, m.points[1:], strict=False)
    ]


def crosses(one: Line, two: Line) -> bool:
    """Whether two pieces cross; touching at an end is no crossing."""
    (ax, ay), (bx, by) = one
    (cx, cy), (dx, dy) = two
    turn = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx)
    if abs(turn) < 1e-9:
        return _along(one, two)
    t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / turn
    u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / turn
    return 1e-6 < t < 1 - 1e-6 and 1e-6 < u < 1 - 1e-6


def _along(one: Line, two: Line) -> bool:
    """Whether two parallel pieces lie on each other."""
    (ax, ay), (bx, by) = one
    length = math.hypot(bx - ax, by - ay)
    if length < 1e-9:
        return False
    away = abs((bx - ax) * (two[0][1] - ay) - (by - ay) * (two[0][0] - ax)) / length
    if away > 1.5:
        return False
    at = sorted(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length for x, y in two)
    return at[1] > 1e-6 and at[0] < length - 1e-6


def through(line: Line, rect: Rect) -> bool:
    """Whether a piece runs through a field."""
    (ax, ay), (bx, by) = line
    if max(ax, bx) <= rect.left or min(ax, bx) >= rect.right or max(ay, by) <= rect.top or min(ay, by) >= rect.bottom:
        return False
    low, high = 0.0, 1.0
    for start, step, least, most in ((ax, bx - ax, rect.left, rect.right), (ay, by - ay, rect.top, rect.bottom)):
        if abs(step) < 1e-12:
            continue
        t0, t1 = sorted(((least - start) / step, (most - start) / step))
        low, high = max(low, t0), min(high, t1)
    return low < high


def around(texts: list[Rect], lines: Iterable[Line]) -> Rect:
    """The field around texts and lines, a little wider."""
    xs = [v for t in texts for v in (t.left, t.right)] + [p[0] for x in lines for p in x]
    ys = [v for t in texts for v in (t.top, t.bottom)] + [p[1] for x in lines for p in x]
    return Rect(min(xs) - 2, min(ys) - 2, max(xs) + 2, max(ys) + 2)


def touches(line: Line, field: Rect) -> bool:
    """Whether a line meets a field or lies in it, all in mm on paper."""
    (ax, ay), (bx, by) = line
    return not (
        (ax < field.left and bx < field.left)
        or (ax > field.right and bx > field.right)
        or (ay < field.top and by < field.top)
        or (ay > field.bottom and by > field.bottom)
    )


def extent(groups: Iterable[Group], view: Placed) -> Rect:
    """How far a view reaches with all that stands around it."""
    rects = [Rect(0, 0, *view.size)]
    for g in groups:
        rects += fields_of(g.marks)
        for m in g.marks:
            if isinstance(m, Stroke):
                rects += [Rect(x, y, x, y) for x, y in m.points]
            elif isinstance(m, Arrow):
                rects.append(Rect(*m.tip, *m.tip))
    return Rect(
        min(r.left for r in rects), min(r.top for r in rects), max(r.right for r in rects), max(r.bottom for r in rects)
    )


def moved(marks: Iterable[Mark], by: Spot) -> tuple[Mark, ...]:
    """Marks somewhere else on the sheet."""

    def at(p: Spot) -> Spot:
        return p[0] + by[0], p[1] + by[1]

    made: list[Mark] = []
    for m in marks:
        match m:
            case Stroke(kind, points):
                made.append(Stroke(kind, tuple(map(at, points))))
            case Curve(kind, centre, radius, start, end):
                made.append(Curve(kind, at(centre), radius, start, end))
            case Arrow(tip, angle):
                made.append(Arrow(at(tip), angle))
            case Words(kind, spot, text, anchor):
                made.append(Words(kind, at(spot), text, anchor))
            case Balloon(spot, number):
                made.append(Balloon(at(spot), number))
            case Glyph(spot, name):
                made.append(Glyph(at(spot), name))
            case Frame(kind, spot, width, height):
                made.append(Frame(kind, at(spot), width, height))
    return tuple(made)
