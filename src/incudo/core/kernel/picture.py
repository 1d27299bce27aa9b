"""Pictures of what a calculation computes: shapes in true proportion, y upwards, drawn by the interface as they are."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

Number = Fraction | float
Spot = tuple[Number, Number]


class Ink(StrEnum):
    """What a shape stands for; it decides how it is drawn."""

    WORK = "work"
    CUTTER = "cutter"
    CUT = "cut"
    SCRIBE = "scribe"
    ANSWER = "answer"


class Stroke(StrEnum):
    """How the points of a shape are joined. SIZE is a dimension between two points, ARROW ends in a head."""

    AREA = "area"
    LINE = "line"
    DASHED = "dashed"
    ARROW = "arrow"
    SIZE = "size"
    TEXT = "text"


@dataclass(frozen=True)
class Shape:
    """One shape. ``text`` stands at a size or a text."""

    stroke: Stroke
    ink: Ink
    points: tuple[tuple[float, float], ...]
    text: str = ""


@dataclass(frozen=True)
class Picture:
    """Shapes from the rear to the front, and the same in words. A picture that is ``free`` is no view of a thing:
    its width and height may be stretched apart.
    """

    words: str
    shapes: tuple[Shape, ...]
    free: bool = False


def _points(spots: Iterable[Spot]) -> tuple[tuple[float, float], ...]:
    return tuple((float(x), float(y)) for x, y in spots)


def area(ink: Ink, *spots: Spot) -> Shape:
    """A filled outline."""
    return Shape(Stroke.AREA, ink, _points(spots))


def box(ink: Ink, left: Number, low: Number, right: Number, high: Number) -> Shape:
    """A filled rectangle."""
    return area(ink, (left, low), (right, low), (right, high), (left, high))


def line(ink: Ink, *spots: Spot, dashed: bool = False) -> Shape:
    """A line through spots."""
    return Shape(Stroke.DASHED if dashed else Stroke.LINE, ink, _points(spots))


def arrow(ink: Ink, *spots: Spot) -> Shape:
    """A line that ends in a head."""
    return Shape(Stroke.ARROW, ink, _points(spots))


def size(start: Spot, end: Spot, text: str, ink: Ink = Ink.SCRIBE) -> Shape:
    """A dimension between two spots."""
    return Shape(Stroke.SIZE, ink, _points((start, end)), text)


def text(at: Spot, words: str, ink: Ink = Ink.SCRIBE) -> Shape:
    """Words at a spot."""
    return Shape(Stroke.TEXT, ink, _points((at,)), words)


def arc(middle: Spot, radius: Number, first: float, last: float, steps: int = 48) -> tuple[tuple[float, float], ...]:
    """Points on an arc from one angle to another, in degrees anticlockwise from the right."""
    x, y, r = float(middle[0]), float(middle[1]), float(radius)
    angles = (math.radians(first + (last - first) * i / steps) for i in range(steps + 1))
    return tuple((x + r * math.cos(a), y + r * math.sin(a)) for a in angles)


def disc(ink: Ink, middle: Spot, radius: Number) -> Shape:
    """A filled circle."""
    return area(ink, *arc(middle, radius, 0, 360))


def ring(ink: Ink, middle: Spot, radius: Number, *, dashed: bool = False) -> Shape:
    """A circle's line."""
    return line(ink, *arc(middle, radius, 0, 360), dashed=dashed)


def rotation(middle: Spot, radius: Number, *, clockwise: bool = True) -> Shape:
    """Which way a cutter turns, seen from above."""
    first, last = (160, 20) if clockwise else (20, 160)
    return arrow(Ink.CUTTER, *arc(middle, float(radius) * 0.62, first, last, 16))


def cutter(middle: Spot, diameter: Number, teeth: int = 0) -> tuple[Shape, ...]:
    """A cutter seen from above with its rotation, and its teeth where they are known."""
    x, y, r = float(middle[0]), float(middle[1]), float(diameter) / 2
    marks = []
    for i in range(min(teeth, 24)):
        a = math.radians(90 + 360 * i / teeth)
        spots = ((x + f * r * math.cos(a), y + f * r * math.sin(a)) for f in (0.78, 1.0))
        marks.append(line(Ink.CUTTER, *spots))
    return (disc(Ink.CUTTER, middle, r), *marks, rotation(middle, r), cross(middle, r * 0.2))


def steps(top: float, most: int) -> Iterator[tuple[str, float]]:
    """The values of an axis from 0 up to ``top``: one, two or five times a power of ten apart, at most ``most``."""
    raw = top / most
    power = math.floor(math.log10(raw))
    round_ = [s * 10.0**power for s in (1, 2, 5, 10)]
    step = next(s for s in round_ if s >= raw * 0.999)
    if step > top:
        step = max(s for s in round_ if s <= top)
    places = max(0, -math.floor(math.log10(step) + 1e-9))
    for i in range(1, math.floor(top / step + 1e-6) + 1):
        yield f"{i * step:.{places}f}", i * step


def cross(middle: Spot, arm: Number) -> Shape:
    """A small cross."""
    x, y, a = float(middle[0]), float(middle[1]), float(arm)
    return line(Ink.SCRIBE, (x - a, y), (x + a, y), (x, y), (x, y - a), (x, y + a))


def drill(ink: Ink, x: Number, tip: Number, diameter: Number, top: Number, point: Number = 118) -> Shape:
    """A drill (or the hole it leaves) from the side, its tip at a height."""
    r = float(diameter) / 2
    rise = r / math.tan(math.radians(float(point) / 2))
    x, tip, top = float(x), float(tip), float(top)
    return area(ink, (x, tip), (x + r, tip + rise), (x + r, top), (x - r, top), (x - r, tip + rise))
