"""Dimension lines, leaders and datum flags, each with the balloon of its characteristic."""

from __future__ import annotations

import math
from collections.abc import Callable

from incudo.core.measuring.tolerance import Form
from incudo.core.parts.drawing.marks import Arrow, Balloon, Curve, Frame, Glyph, Group, Mark, Spot, Stroke, Words
from incudo.core.parts.drawing.placed import Placed
from incudo.core.parts.project import (
    Basic,
    Characteristic,
    LeaderPlace,
    LinearPlace,
    Method,
    Project,
    Side,
    Symbol,
    ViewName,
)

BALLOON = 12.0
NOMINAL = 9.6
SMALL = 8.9
GAP = 5.0
ARROW = 9.0


def reach(project: Project, view: ViewName, side: Side, border: tuple[int, float]) -> list[float]:
    """How far the leaders that start on one border of a view stick out over it.

    ``border`` is its axis and coordinate; a leader from inside the view is taken to stay in it.
    """
    axis, level = border
    found = [0.0]
    for c in project.characteristics:
        if not isinstance(c.place, LeaderPlace) or c.place.view is not view:
            continue
        if abs(float(c.place.at[axis]) - level) < 1e-9:
            right, up = c.place.reach
            width = Tag(project, c, str).width
            out = {Side.LEFT: -right, Side.RIGHT: right, Side.ABOVE: up, Side.BELOW: -up}[side]
            sideways = side in (Side.LEFT, Side.RIGHT)
            if out > 0:
                found.append(out + (width if sideways else 20.0))
    return found


def dimension(project: Project, c: Characteristic, placed: Placed, speak: Callable[[str], str]) -> Group:
    """All marks of one characteristic."""
    tag = Tag(project, c, speak)
    marks: list[Mark] = []
    if isinstance(c.place, LinearPlace):
        marks = _linear(c.place, tag, placed)
    elif isinstance(c.place, LeaderPlace):
        marks = _leader(c.place, tag, placed)
    lights = tuple(Stroke("lit-edge", (placed.point(a), placed.point(b))) for a, b in c.lights)
    return Group(tuple(marks), c.number, label(project, c, speak), lights)


def label(project: Project, c: Characteristic, speak: Callable[[str], str]) -> str:
    """A characteristic in words, for who does not see it."""
    upper, lower = project.tolerance_words(c)
    return f"{c.number}, {c.name}, {c.callout or c.nominal} {speak(upper)} {speak(lower)}".strip()


#: Room for the M of a bonus in its circle, and around the text of a cell of a frame.
BONUS, CELL = 20.0, 10.0


class Tag:
    """The balloon with the symbol, the nominal and its tolerance; of a boxed size its number in a box alone."""

    def __init__(self, project: Project, of: Characteristic | Basic, speak: Callable[[str], str]) -> None:
        self.number = None if isinstance(of, Basic) else of.number
        self.framed, self.bonus = False, False
        self.symbol, self.datums, upper, lower = Symbol.NONE, "", "", ""
        self.text = of.nominal
        if not isinstance(of, Basic):
            self.framed, self.bonus, self.symbol = of.framed, of.bonus is not None, of.symbol
            self.datums = of.datum if of.framed else ""
            upper, lower = ("", "") if self.framed else map(speak, project.tolerance_words(of))
            self.text = self._text(of)
        self.upper, self.lower = upper, lower
        self.boxed = self.number is None
        self.lead = 0.0 if self.boxed else 2 * BALLOON + GAP
        glyph = 20.0 if self.symbol is not Symbol.NONE else 0.0
        self.value_width = sum(self._cells()) if self.framed else glyph + len(self.text) * NOMINAL
        self.tolerance_width = max(len(upper), len(lower)) * SMALL
        tail = GAP + self.tolerance_width if self.tolerance_width else 0.0
        self.width = self.lead + self.value_width + tail + (10 if self.boxed else 0)

    def _cells(self) -> list[float]:
        """The widths of the cells of a frame: the symbol's, the tolerance's, one for each datum."""
        return [24.0, len(self.text) * NOMINAL + CELL + (BONUS if self.bonus else 0), *(24.0 for _ in self.datums)]

    def _text(self, c: Characteristic) -> str:
        if self.framed:
            return f"ø{c.nominal}" if c.symbol is Symbol.POSITION else c.nominal
        if c.tolerance.form is Form.LIMITS:
            return ""
        return c.callout or (f"{c.nominal}°" if c.method is Method.ANGLE else c.nominal)

    def in_row(self, x: float, y: float) -> list[Mark]:
        """Everything in one row that starts at x and is centred on y."""
        marks = self._balloon(x, y)
        left = x + self.lead
        marks += self._value(left, y)
        left += self.value_width + GAP
        if self.lower:
            marks.append(Words("tolerance", (left, y - 3), self.upper))
            marks.append(Words("tolerance", (left, y + 12), self.lower))
        elif self.upper:
            marks.append(Words("tolerance", (left, y + 5), self.upper))
        return marks

    def stacked(self, x: float, y: float, floor: float) -> list[Mark]:
        """Balloon and value in a row, the tolerance below the value, all above ``floor``."""
        lines = [line for line in (self.upper, self.lower) if line]
        first = 20 if self.text else 2
        top = min(y - len(lines) * 8, floor - 6 - first - 16 * (len(lines) - 1)) if lines else y
        return self.stacked_at(x, top)

    def stacked_at(self, x: float, top: float) -> list[Mark]:
        """Balloon and value in a row with its middle at ``top``, the tolerance below the value."""
        lines = [line for line in (self.upper, self.lower) if line]
        first = 20 if self.text else 2
        marks = self._balloon(x, top)
        left = x + self.lead
        marks += self._value(left, top)
        for i, line in enumerate(lines):
            marks.append(Words("tolerance", (left, top + first + 16 * i), line))
        return marks

    @property
    def below(self) -> float:
        """How far a stack reaches below the middle of its first row."""
        lines = [line for line in (self.upper, self.lower) if line]
        return max(14.0, (20 if self.text else 2) + 16 * (len(lines) - 1) + 5) if lines else 14.0

    @property
    def stacked_width(self) -> float:
        """Width in mm on paper: lead, the wider of value and tolerance, and the box around a basic size."""
        return self.lead + max(self.value_width, self.tolerance_width) + (10 if self.boxed else 0)

    def _balloon(self, x: float, y: float) -> list[Mark]:
        return [] if self.number is None else [Balloon((x + BALLOON, y), self.number)]

    def _value(self, x: float, y: float) -> list[Mark]:
        if self.framed:
            return self._frame(x, y)
        marks: list[Mark] = []
        inset = 5.0 if self.boxed else 0.0
        if self.boxed:
            marks.append(Frame("control", (x, y - 11), self.value_width + 10, 22))
        glyph = 0.0
        if self.symbol is not Symbol.NONE:
            marks.append(Glyph((x, y - 7), self.symbol.value))
            glyph = 20.0
        marks.append(Words("nominal", (x + inset + glyph, y + 5.5), self.text))
        return marks

    def _frame(self, x: float, y: float) -> list[Mark]:
        """Symbol, tolerance and datums, each in its cell."""
        marks: list[Mark] = [
            Frame("control", (x, y - 13), self.value_width, 26),
            Glyph((x + 5, y - 7), self.symbol.value),
        ]
        left = x
        for wide, text in zip(self._cells(), ("", self.text, *self.datums), strict=True):
            if text:
                marks.append(Stroke("control", ((left, y - 13), (left, y + 13))))
                room = wide - (BONUS if self.bonus and text == self.text else 0)
                marks.append(Words("nominal", (left + room / 2, y + 5.5), text, "middle"))
            left += wide
        if self.bonus:
            at = x + sum(self._cells()[:2]) - BONUS / 2 - 2
            marks += [Curve("control", (at, y), 8.5), Words("tolerance", (at, y + 4.5), "M", "middle")]
        return marks


def _linear(place: LinearPlace, tag: Tag, placed: Placed) -> list[Mark]:
    a, b = placed.point(place.start), placed.point(place.end)
    at = placed.lane(place.side, place.lane)
    if place.side in (Side.LEFT, Side.RIGHT):
        return upright(a, b, at, tag, place.side)
    return level(a, b, at, tag)


def upright(a: Spot, b: Spot, x: float, tag: Tag, side: Side, shift: int = 0) -> list[Mark]:
    """An upright dimension line at ``x`` between two spots, its text beside it: in its middle, above it, below it."""
    top, bottom = sorted((a[1], b[1]))
    marks: list[Mark] = [_extension(p, (x, p[1])) for p in (a, b)]
    marks += _arrowed((x, top), (x, bottom), math.pi / 2)
    left = x + 7 if side is Side.RIGHT else x - 7 - tag.stacked_width
    if shift:
        return marks + tag.stacked_at(left, top - 6 - tag.below if shift < 0 else bottom + 20)
    return marks + tag.stacked(left, (top + bottom) / 2, bottom)


def level(a: Spot, b: Spot, y: float, tag: Tag, shift: int = 0) -> list[Mark]:
    """A level dimension line at ``y`` between two spots, its text in it; when it is short, right or left of it."""
    left, right = sorted((a[0], b[0]))
    marks: list[Mark] = [_extension(p, (p[0], y)) for p in (a, b)]
    middle, half = (left + right) / 2, tag.width / 2 + 5
    if right - left > tag.width + 36:
        marks.append(Stroke("dimension", ((left, y), (middle - half, y))))
        marks.append(Stroke("dimension", ((middle + half, y), (right, y))))
        marks += [Arrow((left, y), math.pi), Arrow((right, y), 0.0)]
        return marks + tag.in_row(middle - half + 5, y)
    marks += _arrowed((left, y), (right, y), 0.0)
    beside = 20 if right - left < 3 * ARROW else 8
    return marks + tag.in_row(left - beside - tag.width if shift else right + beside, y)


def _arrowed(a: Spot, b: Spot, angle: float) -> list[Mark]:
    """A dimension line with its arrow heads, turned outside when it is short."""
    length = math.hypot(b[0] - a[0], b[1] - a[1])
    if length >= 3 * ARROW:
        return [Stroke("dimension", (a, b)), Arrow(a, angle + math.pi), Arrow(b, angle)]
    dx, dy = math.cos(angle) * 16, math.sin(angle) * 16
    ends = Stroke("dimension", ((a[0] - dx, a[1] - dy), (b[0] + dx, b[1] + dy)))
    return [ends, Arrow(a, angle), Arrow(b, angle + math.pi)]


def _extension(start: Spot, end: Spot) -> Stroke:
    """From a little off the part to a little beyond the dimension line."""
    length = math.hypot(end[0] - start[0], end[1] - start[1]) or 1.0
    ux, uy = (end[0] - start[0]) / length, (end[1] - start[1]) / length
    return Stroke("extension", ((start[0] + 4 * ux, start[1] + 4 * uy), (end[0] + 6 * ux, end[1] + 6 * uy)))


def _leader(place: LeaderPlace, tag: Tag, placed: Placed) -> list[Mark]:
    tip = placed.point(place.at)
    return leader(tip, (tip[0] + place.reach[0], tip[1] - place.reach[1]), tag)


def leader(tip: Spot, elbow: Spot, tag: Tag) -> list[Mark]:
    """A line from a spot to an elbow and a short shelf, with the text after it."""
    angle = math.atan2(tip[1] - elbow[1], tip[0] - elbow[0])
    rightwards = elbow[0] >= tip[0]
    shelf = (elbow[0] + (10 if rightwards else -10), elbow[1])
    left = shelf[0] + 4 if rightwards else shelf[0] - 4 - tag.width
    return [
        Stroke("dimension", (tip, elbow, shelf)),
        Arrow(tip, angle),
        *tag.in_row(left, elbow[1]),
    ]


def datum_flag(at: Spot, side: Side, letter: str, off: float = 13.0) -> tuple[Mark, ...]:
    """The framed letter of a datum, standing off its surface."""
    dx, dy = {
        Side.LEFT: (-1, 0),
        Side.RIGHT: (1, 0),
        Side.ABOVE: (0, -1),
        Side.BELOW: (0, 1),
    }[side]
    box = (at[0] + dx * (off + 11), at[1] + dy * (off + 11))
    return (
        Stroke("dimension", (at, (at[0] + dx * off, at[1] + dy * off))),
        Arrow(at, math.atan2(-dy, -dx)),
        Frame("control", (box[0] - 11, box[1] - 11), 22, 22),
        Words("datum", (box[0], box[1] + 5), letter, "middle"),
    )
