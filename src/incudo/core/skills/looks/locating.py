"""Dials, finders and indicators at the machine. Lengths in mm of the drawing, angles in degrees."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Shape
from incudo.core.skills.looks.base import Drawn, Label, corners, turned


class Collar(Drawn):
    """The graduated collar of a handwheel at its index; ``turned``: which way the last movement went."""

    look: Literal["collar"]
    at: Annotated[float, Field(ge=0, lt=250)]
    divisions: Annotated[int, Field(ge=20, le=250)] = 100
    turned: Literal["up", "down", ""] = ""

    def shapes(self) -> Iterator[Shape]:
        yield p.box(Ink.CUTTER, -66, 0, 66, 34)
        first = math.ceil(self.at - 12)
        for i in range(first, first + 25):
            x = (i - self.at) * 5
            if abs(x) > 62:
                continue
            tall = 18 if i % 10 == 0 else 12 if i % 5 == 0 else 8
            yield p.line(Ink.SCRIBE, (x, 0), (x, tall))
            if i % 10 == 0:
                yield p.text((x, 25), str(i % self.divisions))
        yield p.box(Ink.WORK, -66, -26, 66, 0)
        yield p.line(Ink.CUT, (0, -20), (0, 0))
        if self.turned:
            # numbers that rise pass the index from right to left
            way = -1 if self.turned == "up" else 1
            yield p.arrow(Ink.ANSWER, (-28 * way, 44), (28 * way, 44))


class Finder(Drawn):
    """An edge finder beside the work, which lies on the right. ``gap``: between tip and edge; ``kicked``: how far the
    tip has gone off the axis; ``wobble``: how far it still swings to both sides.
    """

    look: Literal["finder"]
    gap: Annotated[float, Field(ge=0, le=20)] = 0
    kicked: Annotated[float, Field(ge=-8, le=8)] = 0
    wobble: Annotated[float, Field(ge=0, le=8)] = 0

    def shapes(self) -> Iterator[Shape]:
        r = 10.0
        edge = r + self.gap + max(self.wobble, 0) + max(self.kicked, 0)
        yield p.box(Ink.WORK, edge, -30, edge + 46, 4)
        yield p.box(Ink.CUTTER, -r, 10, r, 52)
        if self.wobble:
            for side in (-1, 1):
                x = side * self.wobble
                yield p.line(Ink.CUTTER, *corners(x - r, -18, x + r, 10), (x - r, -18), dashed=True)
        else:
            yield p.box(Ink.CUTTER, self.kicked - r, -18, self.kicked + r, 10)
        yield p.line(Ink.SCRIBE, (0, 60), (0, -26), dashed=True)


class Stylus(Drawn):
    """The stylus of a test indicator on a face, at an angle to it."""

    look: Literal["stylus"]
    angle: Annotated[float, Field(ge=0, le=75)]

    def shapes(self) -> Iterator[Shape]:
        yield p.box(Ink.WORK, -50, -16, 60, 0)
        ball = (0.0, 3.0)
        a = math.radians(self.angle)
        pivot = (ball[0] - 34 * math.cos(a), ball[1] + 34 * math.sin(a))
        yield p.line(Ink.CUTTER, ball, pivot)
        yield p.disc(Ink.CUT, ball, 3)
        body = corners(pivot[0] - 34, pivot[1] - 6, pivot[0] + 3, pivot[1] + 7)
        yield p.area(Ink.CUTTER, *turned(body, -self.angle, pivot))


class Sweep(Drawn):
    """Four readings of an indicator swept over a table, from above: rear, right, front, left."""

    look: Literal["sweep"]
    rear: Label
    right: Label
    front: Label
    left: Label

    def shapes(self) -> Iterator[Shape]:
        yield p.box(Ink.WORK, -80, -46, 80, 46)
        for y in (-24, 0, 24):
            yield p.line(Ink.SCRIBE, (-80, y), (80, y))
        yield p.ring(Ink.ANSWER, (0, 0), 30, dashed=True)
        yield p.cross((0, 0), 5)
        yield p.text((0, 37), self.rear)
        yield p.text((0, -38), self.front)
        yield p.text((54, 0), self.right)
        yield p.text((-54, 0), self.left)
