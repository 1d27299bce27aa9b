"""Gauges, and what they show. Lengths in mm of the drawing, angles in degrees."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Shape, Spot
from incudo.core.skills.looks.base import Drawn, Label, corners, turned


class Needle(Drawn):
    """The face of an indicator whose needle moves between two divisions of ``turn``; ``division`` says what one is."""

    look: Literal["needle"]
    low: Annotated[float, Field(ge=-100, le=200)]
    high: Annotated[float, Field(ge=-100, le=200)]
    turn: Annotated[int, Field(ge=10, le=200)] = 40
    division: Label

    def _at(self, value: float, radius: float) -> Spot:
        a = math.radians(90 - 360 * value / self.turn)
        return radius * math.cos(a), radius * math.sin(a)

    def shapes(self) -> Iterator[Shape]:
        yield p.disc(Ink.WORK, (0, 0), 50)
        yield p.ring(Ink.SCRIBE, (0, 0), 50)
        for i in range(self.turn):
            tall = 9 if i % 10 == 0 else 6 if i % 5 == 0 else 3
            yield p.line(Ink.SCRIBE, self._at(i, 50 - tall), self._at(i, 50))
            if i % 10 == 0:
                yield p.text(self._at(i, 33), str(i))
        if self.high != self.low:
            first, last = 90 - 360 * self.low / self.turn, 90 - 360 * self.high / self.turn
            yield p.line(Ink.ANSWER, *p.arc((0, 0), 44, first, last))
            yield p.line(Ink.CUTTER, (0, 0), self._at(self.low, 42), dashed=True)
        yield p.line(Ink.CUT, (0, 0), self._at(self.high, 44))
        yield p.disc(Ink.CUT, (0, 0), 2.5)
        yield p.text((0, -60), self.division)


class Thimble(Drawn):
    """Sleeve and thimble of an outside micrometer at a reading."""

    look: Literal["thimble"]
    unit: Literal["in", "mm"]
    reading: Annotated[float, Field(ge=0, le=24.99)]

    def shapes(self) -> Iterator[Shape]:
        step, per_turn = (0.025, 25) if self.unit == "in" else (0.5, 50)
        scale = 6 / step if self.unit == "in" else 4 / step
        edge = self.reading * scale
        start = max(0.0, edge - 92)
        yield p.box(Ink.WORK, -6, -20, edge - start, 20)
        yield p.line(Ink.SCRIBE, (-6, 0), (edge - start, 0))
        for i in range(int(self.reading / step + 1e-9) + 1):
            x = i * step * scale - start
            if x < 0:
                continue
            whole = i % 4 == 0 if self.unit == "in" else i % 2 == 0
            yield p.line(Ink.SCRIBE, (x, 0), (x, 12 if whole else -8 if self.unit == "mm" else 7))
            if self.unit == "in" and whole:
                yield p.text((x, 15.5), str(i // 4 % 10))
            if self.unit == "mm" and i % 10 == 0:
                yield p.text((x, 15.5), str(i // 2))
        x = edge - start
        yield p.area(Ink.CUTTER, (x, -24), (x + 8, -30), (x + 46, -30), (x + 46, 30), (x + 8, 30), (x, 24))
        on = self.reading / step % 1 * per_turn
        for i in range(math.ceil(on - 4.5), math.floor(on + 4.5) + 1):
            y = (i - on) * 5.4
            long = 14 if i % 5 == 0 else 8
            yield p.line(Ink.SCRIBE, (x, y), (x + long, y))
            if i % 5 == 0:
                yield p.text((x + 25, y), str(i % per_turn))


class Caliper(Drawn):
    """A caliper over a bar, ``tilt`` off square to it, its jaws so far over the work."""

    look: Literal["caliper"]
    tilt: Annotated[float, Field(ge=-20, le=20)] = 0
    bite: Annotated[float, Field(ge=2, le=34)] = 30
    burr: bool = False

    def shapes(self) -> Iterator[Shape]:
        low, top = 8 - self.bite, 8 - self.bite + 46
        left, right = self._touching(low)
        yield p.box(Ink.WORK, -20, -30, 20, 8)
        if self.burr:
            yield p.area(Ink.CUT, (20, 8), (25, 13), (20, 3))
        right += 5 if self.burr else 0
        for jaw in ((left - 9, low, left, top), (right, low, right + 9, top), (left - 9, top, right + 40, top + 11)):
            yield p.area(Ink.CUTTER, *turned(corners(*jaw), self.tilt))

    def _touching(self, low: float) -> tuple[float, float]:
        """Where the jaws touch the bar, along the caliper's own beam."""
        c, s = math.cos(math.radians(self.tilt)), math.sin(math.radians(self.tilt))
        ends = {side: (8.0, (low + side * 20 * s) / c) for side in (-1, 1)}
        found = {side: [side * 20 * c + y * s for y in ends[side]] for side in (-1, 1)}
        return min(found[-1]), max(found[1])


class Zone(Drawn):
    """A tolerance on a line, a reading on it, and how far the reading is sure."""

    look: Literal["zone"]
    low: Annotated[float, Field(ge=0, le=1000)]
    high: Annotated[float, Field(ge=0, le=1000)]
    reading: Annotated[float, Field(ge=0, le=1000)]
    sure: Annotated[float, Field(ge=0, le=1000)]
    places: Annotated[int, Field(ge=0, le=4)] = 3

    def shapes(self) -> Iterator[Shape]:
        wide = (self.high - self.low) or 1.0

        def at(v: float) -> float:
            return (v - self.low) / wide * 80 - 40

        yield p.box(Ink.WORK, -40, 0, 40, 16)
        yield p.line(Ink.SCRIBE, (-84, 0), (84, 0))
        yield p.text((-40, -12), f"{self.low:.{self.places}f}")
        yield p.text((40, -12), f"{self.high:.{self.places}f}")
        x, half = at(self.reading), self.sure / wide * 80
        yield p.line(Ink.ANSWER, (x - half, 30), (x + half, 30), (x + half, 27), (x + half, 33))
        yield p.line(Ink.ANSWER, (x - half, 27), (x - half, 33))
        yield p.line(Ink.CUT, (x, 0), (x, 36))
        yield p.text((x, 44), f"{self.reading:.{self.places}f}")


class Square(Drawn):
    """A square against the work, which leans so far; light comes through above or below. ``burr``: one at its foot."""

    look: Literal["square"]
    lean: Annotated[float, Field(ge=-8, le=8)] = 0
    burr: bool = False
    high: Annotated[float, Field(ge=10, le=60)] = 44

    def shapes(self) -> Iterator[Shape]:
        yield p.box(Ink.SCRIBE, -80, -8, 60, 0)
        over = self.high * math.tan(math.radians(self.lean))
        work: tuple[Spot, ...] = ((-56, 0), (0, 0), (over, self.high), (-56, self.high))
        if self.burr:
            work = turned(work, -5)
        shift = -max(float(x) for x, _ in work)
        yield p.area(Ink.WORK, *((float(x) + shift, float(y)) for x, y in work))
        if self.burr:
            x, y = float(work[0][0]) + shift, float(work[0][1])
            yield p.area(Ink.CUT, (x, y), (x + 7, y), (x + 3, 0))
        yield p.box(Ink.CUTTER, 0, 0, 9, 62)
        yield p.box(Ink.CUTTER, 0, 0, 46, 12)
