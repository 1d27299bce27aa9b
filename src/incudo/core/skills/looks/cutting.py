"""What cuts, and what comes off. Lengths in mm of the drawing, angles in degrees."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Shape, Spot
from incudo.core.skills.looks.base import Drawn, Label, turned


class Cut(Drawn):
    """A cut from above; the cutter turns clockwise, the arrow on the work shows where the table carries it.

    ``engaged``: which part of the diameter cuts.
    """

    look: Literal["cut"]
    work: Literal["below", "above"] = "below"
    moves: Literal["left", "right"] = "right"
    engaged: Annotated[float, Field(gt=0, le=1)] = 0.3
    teeth: Annotated[int, Field(ge=1, le=8)] = 4

    def shapes(self) -> Iterator[Shape]:
        r, up = 20.0, 1 if self.work == "above" else -1
        edge = up * r * (1 - 2 * self.engaged)
        far = up * (r + 34)
        cut = 1 if self.moves == "right" else -1  # what is cut already lies where the work moves to
        yield p.area(Ink.WORK, (-80, edge), (80, edge), (80, far), (-80, far))
        yield p.area(Ink.CUT, (0, edge), (80 * cut, edge), (80 * cut, up * r), (0, up * r))
        yield from p.cutter((0, 0), 2 * r, self.teeth)
        y = up * (r + 20)
        way = 1 if self.moves == "right" else -1
        yield p.arrow(Ink.ANSWER, (-26 * way, y), (26 * way, y))


class Chips(Drawn):
    """What comes off the cutter, and its colour in words."""

    look: Literal["chips"]
    form: Literal["commas", "ribbon", "nest", "dust", "flakes"]
    colour: Label = ""

    def shapes(self) -> Iterator[Shape]:
        yield p.line(Ink.SCRIBE, (-60, -2), (60, -2))
        if self.form == "commas":
            for i in range(7):
                x, y = -46 + 15 * i, 6 + 9 * (i % 3)
                yield p.line(Ink.WORK, *p.arc((x, y), 6, 200 + 35 * i, 430 + 35 * i, 14))
        elif self.form == "ribbon":
            spots = [(-54 + t * 1.1 + 9 * math.cos(t / 2.6), 14 + 9 * math.sin(t / 2.6)) for t in range(98)]
            yield p.line(Ink.WORK, *spots)
        elif self.form == "nest":
            for k in range(5):
                yield p.line(Ink.WORK, *p.arc((-6 + 4 * k, 18 + k % 3), 15 + 2 * k, 70 * k, 70 * k + 330, 40))
        elif self.form == "dust":
            for i in range(60):
                x, y = -50 + (i * 37) % 100, (i * 23) % 11
                yield p.box(Ink.WORK, x, y, x + 1.3, y + 1.3)
        else:
            for i in range(9):
                x, y = -50 + 12 * i, 3 + 8 * (i % 3)
                yield p.area(Ink.WORK, (x, y), (x + 8, y + 2), (x + 6, y + 6))
        if self.colour:
            yield p.text((0, 46), self.colour)


class Point(Drawn):
    """A drill above the work: the lengths of its lips, and what it meets there."""

    look: Literal["point"]
    left: Annotated[float, Field(ge=6, le=24)] = 14
    right: Annotated[float, Field(ge=6, le=24)] = 14
    meets: Literal["flat", "centre", "wide", "slope", "edge"] = "flat"

    def shapes(self) -> Iterator[Shape]:
        rise = math.tan(math.radians(31))  # a point of 118 degrees
        off = (self.right - self.left) / 2
        tip = 4.0 if self.meets != "slope" else 9.0
        corners = ((14.0, tip + (14 + off) * rise), (14.0, 62.0), (-14.0, 62.0), (-14.0, tip + (14 - off) * rise))
        yield p.area(Ink.CUTTER, (-off, tip), *corners)
        for y in (tip + 14, tip + 30):
            yield p.line(Ink.SCRIBE, (-14, y), (14, y + 14))
        if self.meets == "slope":
            yield p.area(Ink.WORK, (-50, -30), (50, -30), (50, 24), (-50, -12))
        elif self.meets == "edge":
            yield p.box(Ink.WORK, -50, -30, 2, 0)
        else:
            yield p.box(Ink.WORK, -50, -30, 50, 0)
        if self.meets in ("centre", "wide"):
            r, deep = (5.0, 4.0) if self.meets == "centre" else (20.0, 11.0)
            yield p.area(Ink.SCRIBE, (-r, 0), (r, 0), (0, -deep))


class Tap(Drawn):
    """A tap starting in a drilled hole: ``tilt`` off the hole, room left below it, chips in it or not."""

    look: Literal["tap"]
    tilt: Annotated[float, Field(ge=-15, le=15)] = 0
    room: Annotated[float, Field(ge=0, le=40)] = 24
    through: bool = False
    guided: bool = False
    chips: bool = False

    def shapes(self) -> Iterator[Shape]:
        deep = 70.0 if self.through else 20 + self.room
        yield p.box(Ink.WORK, -46, -70, 46, 0)
        yield p.box(Ink.SCRIBE, -9, -deep, 9, 0)
        if self.chips:
            for i in range(12):
                x, y = -8 + (i * 7) % 15, -deep + (i * 5) % 9
                yield p.box(Ink.CUT, x, y, x + 2.4, y + 1.6)
        body = ((-6.0, -20.0), (6.0, -20.0), (9.0, -8.0), (9.0, 22.0), (5.0, 26.0), (5.0, 52.0), (-5.0, 52.0))
        outline: tuple[Spot, ...] = (*body, (-5.0, 26.0), (-9.0, 22.0), (-9.0, -8.0))
        yield p.area(Ink.CUTTER, *turned(outline, self.tilt))
        for y in range(-14, 22, 5):
            yield p.line(Ink.SCRIBE, *turned(((-8.0, float(y)), (8.0, y + 3.0)), self.tilt))
        if self.guided:
            yield p.area(Ink.ANSWER, (-8, 62), (8, 62), (8, 76), (-8, 76))
            yield p.area(Ink.ANSWER, (-8, 62), (8, 62), (0, 51))
