"""What the options of a question of judgement look like: setups, dials, needles, chips, drawn from a few values.

Each look is a small class that a bank's file names by ``look``; lengths are mm of the drawing, angles degrees.
Nothing here says which option is right.
"""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from incudo.core.kernel import picture as p
from incudo.core.kernel.fields import Strict
from incudo.core.kernel.picture import Ink, Picture, Shape, Spot

JAW_HIGH = 40.0
"""Height of a vise's jaws above its bed, in every drawing."""

_Label = Annotated[str, Field(max_length=24)]


def _turned(spots: tuple[Spot, ...], degrees: float, about: Spot = (0.0, 0.0)) -> tuple[Spot, ...]:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    x0, y0 = float(about[0]), float(about[1])
    found = []
    for x, y in spots:
        dx, dy = float(x) - x0, float(y) - y0
        found.append((x0 + dx * c - dy * s, y0 + dx * s + dy * c))
    return tuple(found)


def _corners(left: float, low: float, right: float, high: float) -> tuple[Spot, ...]:
    return (left, low), (right, low), (right, high), (left, high)


class _Look(Strict, ABC):
    """A drawing made of a few values."""

    @abstractmethod
    def shapes(self) -> Iterator[Shape]:
        """What is drawn, from the rear to the front."""

    def picture(self, words: str) -> Picture:
        """The drawing, and what it shows in words."""
        return Picture(words, tuple(self.shapes()))


class Vise(_Look):
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
            Ink.WORK, *_turned(_corners(-half, foot, half, foot + self.high), self.tilt, (-half, foot + self.high / 2))
        )
        if self.rod:
            yield p.disc(Ink.ANSWER, (half + gap / 2, JAW_HIGH - min(self.grip, 24) / 2), gap / 2)
        if self.seat == "chip":
            yield p.area(Ink.CUT, (half - 7, foot), (half + 1, foot), (half - 2, foot + 4))
        if self.cut is not None:
            y = JAW_HIGH + self.cut
            yield p.line(Ink.CUT, (-half - 8, y), (half + 8, y), dashed=True)


class Jaws(_Look):
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
        yield p.area(Ink.CUTTER, *_turned(_corners(-60, -half - 18, 60, -half), skew, (self.at, -half)))
        yield p.box(Ink.WORK, self.at - self.long / 2, -half, self.at + self.long / 2, half)
        if self.packed:
            yield p.box(Ink.ANSWER, -self.at - 9, -half, -self.at + 9, half)
        if self.stop:
            end = self.at - self.long / 2
            yield p.box(Ink.ANSWER, end - 6, -4, end, 4)
        yield p.box(Ink.CUTTER, -7, -half - 42, 7, -half - 22)


class Needle(_Look):
    """The face of an indicator whose needle moves between two divisions of ``turn``; ``division`` says what one is."""

    look: Literal["needle"]
    low: Annotated[float, Field(ge=-100, le=200)]
    high: Annotated[float, Field(ge=-100, le=200)]
    turn: Annotated[int, Field(ge=10, le=200)] = 40
    division: _Label

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


class Collar(_Look):
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


class Thimble(_Look):
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


class Caliper(_Look):
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
            yield p.area(Ink.CUTTER, *_turned(_corners(*jaw), self.tilt))

    def _touching(self, low: float) -> tuple[float, float]:
        """Where the jaws touch the bar, along the caliper's own beam."""
        c, s = math.cos(math.radians(self.tilt)), math.sin(math.radians(self.tilt))
        ends = {side: (8.0, (low + side * 20 * s) / c) for side in (-1, 1)}
        found = {side: [side * 20 * c + y * s for y in ends[side]] for side in (-1, 1)}
        return min(found[-1]), max(found[1])


class Cut(_Look):
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


class Chips(_Look):
    """What comes off the cutter, and its colour in words."""

    look: Literal["chips"]
    form: Literal["commas", "ribbon", "nest", "dust", "flakes"]
    colour: _Label = ""

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


class Clamp(_Look):
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


class Held(_Look):
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


class Finder(_Look):
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
                yield p.line(Ink.CUTTER, *_corners(x - r, -18, x + r, 10), (x - r, -18), dashed=True)
        else:
            yield p.box(Ink.CUTTER, self.kicked - r, -18, self.kicked + r, 10)
        yield p.line(Ink.SCRIBE, (0, 60), (0, -26), dashed=True)


class Stylus(_Look):
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
        body = _corners(pivot[0] - 34, pivot[1] - 6, pivot[0] + 3, pivot[1] + 7)
        yield p.area(Ink.CUTTER, *_turned(body, -self.angle, pivot))


class Point(_Look):
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


class Tap(_Look):
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
        yield p.area(Ink.CUTTER, *_turned(outline, self.tilt))
        for y in range(-14, 22, 5):
            yield p.line(Ink.SCRIBE, *_turned(((-8.0, float(y)), (8.0, y + 3.0)), self.tilt))
        if self.guided:
            yield p.area(Ink.ANSWER, (-8, 62), (8, 62), (8, 76), (-8, 76))
            yield p.area(Ink.ANSWER, (-8, 62), (8, 62), (0, 51))


class Zone(_Look):
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


class Square(_Look):
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
            work = _turned(work, -5)
        shift = -max(float(x) for x, _ in work)
        yield p.area(Ink.WORK, *((float(x) + shift, float(y)) for x, y in work))
        if self.burr:
            x, y = float(work[0][0]) + shift, float(work[0][1])
            yield p.area(Ink.CUT, (x, y), (x + 7, y), (x + 3, 0))
        yield p.box(Ink.CUTTER, 0, 0, 9, 62)
        yield p.box(Ink.CUTTER, 0, 0, 46, 12)


class Sweep(_Look):
    """Four readings of an indicator swept over a table, from above: rear, right, front, left."""

    look: Literal["sweep"]
    rear: _Label
    right: _Label
    front: _Label
    left: _Label

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


Look = Annotated[
    Vise
    | Jaws
    | Needle
    | Collar
    | Thimble
    | Caliper
    | Cut
    | Chips
    | Clamp
    | Held
    | Finder
    | Stylus
    | Point
    | Tap
    | Zone
    | Square
    | Sweep,
    Field(discriminator="look"),
]
