"""Work and cutters as they are held. Lengths in mm of the drawing, angles in degrees."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Shape
from incudo.core.skills.looks.base import Drawn, corners, turned

JAW_HIGH = 40.0
"""Height of a vise's jaws above its bed, in every drawing."""


class Vise(Drawn):
    """Work in a vise, looked at along the jaws; the fixed jaw is on the left.

    ``grip``: how much of the work is below the top of the jaws. ``cut``: how far above the jaws the finished top
    lies (below them when negative).
    """

    look: Literal["vise"]
    wide: Annotated[float, Field(ge=5, le=80)] = 44
    high: Annotated[float, Field(ge=5, le=90)] = 40
    grip: Annotated[float, Field(ge=0, le=JAW_HIGH)] = 24
    seat: Literal["parallels", "bed", "air", "chip", "one"] = "parallels"
    rod: bool = False
    tilt: Annotated[float, Field(ge=-12, le=12)] = 0
    cut: Annotated[float, Field(ge=-30, le=60)] | None = None

    def shapes(self) -> Iterator[Shape]:
        half, foot = self.wide / 2, JAW_HIGH - self.grip
        gap = 7.0 if self.rod else 0.0
        yield p.box(Ink.CUTTER, -half - 34, -14, half + gap + 34, 0)
        yield p.box(Ink.CUTTER, -half - 22, 0, -half, JAW_HIGH)
        yield p.box(Ink.CUTTER, half + gap, 0, half + gap + 22, JAW_HIGH)
        if self.seat in ("parallels", "chip", "one") and foot > 0:
            yield p.box(Ink.ANSWER, -half, 0, -half + 6, foot)
            if self.seat != "one":
                yield p.box(Ink.ANSWER, half - 6, 0, half, foot)
        yield p.area(
            Ink.WORK, *turned(corners(-half, foot, half, foot + self.high), self.tilt, (-half, foot + self.high / 2))
        )
        if self.rod:
            yield p.disc(Ink.ANSWER, (half + gap / 2, JAW_HIGH - min(self.grip, 24) / 2), gap / 2)
        if self.seat == "chip":
            yield p.area(Ink.CUT, (half - 7, foot), (half + 1, foot), (half - 2, foot + 4))
        if self.cut is not None:
            y = JAW_HIGH + self.cut
            yield p.line(Ink.CUT, (-half - 8, y), (half + 8, y), dashed=True)


class Jaws(Drawn):
    """A vise from above with work ``at`` so far from its middle; ``packed``: a piece of like width at the other end."""

    look: Literal["jaws"]
    at: Annotated[float, Field(ge=-45, le=45)] = 0
    long: Annotated[float, Field(ge=5, le=140)] = 40
    wide: Annotated[float, Field(ge=5, le=60)] = 26
    packed: bool = False
    stop: bool = False

    def shapes(self) -> Iterator[Shape]:
        half = self.wide / 2
        skew = 0.0 if self.packed or abs(self.at) < 20 else math.copysign(5.0, self.at)
        yield p.box(Ink.CUTTER, -60, half, 60, half + 18)
        yield p.area(Ink.CUTTER, *turned(corners(-60, -half - 18, 60, -half), skew, (self.at, -half)))
        yield p.box(Ink.WORK, self.at - self.long / 2, -half, self.at + self.long / 2, half)
        if self.packed:
            yield p.box(Ink.ANSWER, -self.at - 9, -half, -self.at + 9, half)
        if self.stop:
            end = self.at - self.long / 2
            yield p.box(Ink.ANSWER, end - 6, -4, end, 4)
        yield p.box(Ink.CUTTER, -7, -half - 42, 7, -half - 22)


class Clamp(Drawn):
    """A strap clamp on a table: its heel on a block, its bolt ``bolt`` of the way from work to block."""

    look: Literal["clamp"]
    heel: Literal["high", "level", "low"] = "level"
    bolt: Annotated[float, Field(ge=0.1, le=0.9)] = 0.3
    bite: Annotated[float, Field(ge=1, le=24)] = 14
    under: Literal["table", "air"] = "table"

    def shapes(self) -> Iterator[Shape]:
        high = 26.0
        heel = high + {"high": 7.0, "level": 0.0, "low": -9.0}[self.heel]
        yield p.box(Ink.CUTTER, -66, -14, 76, 0)
        if self.under == "table":
            yield p.box(Ink.WORK, -60, 0, 0, high)
        else:
            yield p.box(Ink.WORK, -60, high - 10, 0, high)
            yield p.box(Ink.ANSWER, -58, 0, -46, high - 10)
        yield p.box(Ink.ANSWER, 52, 0, 66, heel)
        slope = (heel - high) / (60 + self.bite)
        left, right = -self.bite, 68.0

        def at(x: float) -> float:
            return high + (x + self.bite) * slope

        yield p.area(Ink.CUTTER, (left, at(left)), (right, at(right)), (right, at(right) + 9), (left, at(left) + 9))
        x = 58 * self.bolt
        yield p.box(Ink.SCRIBE, x - 2.5, 0, x + 2.5, at(x))
        yield p.box(Ink.SCRIBE, x - 7, at(x) + 9, x + 7, at(x) + 17)


class Held(Drawn):
    """A cutter in its collet: so much of the shank gripped, so much below the nose, so much of it fluted."""

    look: Literal["held"]
    gripped: Annotated[float, Field(ge=2, le=40)] = 30
    out: Annotated[float, Field(ge=6, le=90)] = 32
    flutes: Annotated[float, Field(ge=4, le=90)] = 24
    thick: Annotated[float, Field(ge=3, le=30)] = 14

    def shapes(self) -> Iterator[Shape]:
        r = self.thick / 2
        yield p.area(Ink.CUTTER, (-26, 44), (26, 44), (26, 10), (18, 0), (-18, 0), (-26, 10))
        yield p.line(Ink.SCRIBE, (-r, 0), (-r, self.gripped), (r, self.gripped), (r, 0), dashed=True)
        yield p.box(Ink.WORK, -r, -self.out, r, 0)
        top = min(self.flutes - self.out, self.gripped)
        step = self.thick * 0.8
        y = -self.out
        while y + step <= top + 0.01:
            dashed = y >= 0
            yield p.line(Ink.SCRIBE, (-r, y), (r, y + step), dashed=dashed)
            y += step
