"""Holes: one or a pattern of like ones, drilled, reamed, bored or tapped, counterbored or countersunk."""

from __future__ import annotations

import math
from decimal import Decimal
from fractions import Fraction
from itertools import combinations, product
from typing import Annotated, Literal

from pydantic import Field

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import Num, Strict, Word
from incudo.core.kernel.quantity import Length, Unit, in_places
from incudo.core.kernel.say import say
from incudo.core.parts.features.frame import (
    Axle,
    Built,
    Frame,
    Named,
    Plane,
    RoundWall,
    Spot,
    others,
    size,
    sized,
    text_of,
)
from incudo.core.parts.features.naming import FeatureName
from incudo.core.parts.project import AXES, Counterbore, Countersink, Hole
from incudo.core.shop.tapping import LEAST_THREAD, MOST_THREAD, PER_PERCENT, percent_of

#: Most holes of one feature.
MOST = 36


class Single(Strict):
    """One hole."""

    layout: Literal["single"] = "single"
    at: tuple[Num, Num]


class Row(Strict):
    """Holes in a row along one axis; ``at`` is the first, ``pitch`` may be negative."""

    layout: Literal["row"]
    at: tuple[Num, Num]
    along: Literal["x", "y", "z"]
    count: Annotated[int, Field(ge=2, le=MOST)]
    pitch: Num


class Grid(Strict):
    """Rows of holes both ways; ``at`` is the first, counts and pitches in the order x, y, z."""

    layout: Literal["grid"]
    at: tuple[Num, Num]
    counts: tuple[Annotated[int, Field(ge=2, le=12)], Annotated[int, Field(ge=2, le=12)]]
    pitches: tuple[Num, Num]


class Circle(Strict):
    """Holes on a bolt circle; ``start`` is the first one's angle in degrees, from the first axis towards the second."""

    layout: Literal["circle"]
    at: tuple[Num, Num]
    diameter: Num
    count: Annotated[int, Field(ge=2, le=MOST)]
    start: Num = "0"


Layout = Annotated[Single | Row | Grid | Circle, Field(discriminator="layout")]


class ThreadSpec(Strict):
    """A thread as it is called, with its outside diameter and its pitch (inch: threads per inch)."""

    designation: Word
    diameter: Num
    pitch: Num
    depth: Num | None = None

    def pitch_mm(self, unit: Unit) -> Fraction:
        """The pitch in mm. Raises ``Refused`` for one that is not above 0."""
        size(self.diameter, "thread.diameter")
        size(self.pitch, "thread.pitch")
        return Length(self.pitch, unit).mm if unit is Unit.MM else unit.in_mm / Fraction(self.pitch)


class HoleFeature(Strict):
    """A hole or a pattern of holes from a face; without a depth it goes through.

    ``diameter`` is the finished hole's; of a tapped one the tap drill's. ``tip`` is the drill point's angle in
    degrees, for a blind hole; none for a flat bottom.
    """

    kind: Literal["hole"]
    name: FeatureName
    face: str = "top"
    layout: Layout
    made: Literal["drilled", "reamed", "bored", "tapped"] = "drilled"
    diameter: Num
    depth: Num | None = None
    tip: Num | None = "118"
    thread: ThreadSpec | None = None
    countersink: Countersink | None = None
    counterbore: Counterbore | None = None

    def build(self, frame: Frame) -> Built:
        """Raises ``Refused`` for holes that break out at the side, run into each other or leave nothing below."""
        face = frame.plane(self.face, "face")
        diameter = size(self.diameter, "diameter")
        depth = None if self.depth is None else self._blind(frame, face, diameter)
        self._mouth(frame, face, diameter, depth)
        self._threaded(frame)
        spots = self.spots(frame, face)
        self._apart(frame, spots, face)
        down = frame.inwards(face, depth)
        start, end = (down[1], down[0]) if face.out > 0 else down
        cuts: list[Hole] = []
        named: list[Named] = []
        for n, spot in enumerate(spots, start=1):
            name = self.name if len(spots) == 1 else f"{self.name} {n}"
            a, b = others(face.axis)
            cuts.append(
                Hole(
                    shape="hole",
                    name=name,
                    axis=AXES[face.axis],
                    at=(text_of(spot[a]), text_of(spot[b])),
                    start=text_of(start),
                    end=text_of(end),
                    diameter=self.diameter,
                    tip_angle=self.tip if depth is not None and self.made in ("drilled", "tapped") else None,
                    countersink=self.countersink,
                    counterbore=self.counterbore,
                    thread=self.thread.diameter if self.thread else None,
                )
            )
            named.append(Axle(f"{name}.axis", say("axis of {name}", name=name), face.axis, spot, self.name))
        named += self._walls(face, spots[0], diameter, depth)
        return Built(tuple(cuts), tuple(named))

    def spots(self, frame: Frame, face: Plane) -> list[Spot]:
        """Where the holes are, in the plane of their face. Raises ``Refused`` for a pitch or circle of nothing."""
        a, b = others(face.axis)
        u, v = (Decimal(x) for x in self.layout.at)
        match self.layout:
            case Single():
                flat = [(u, v)]
            case Row(along=along, count=count, pitch=pitch):
                if "xyz".index(along) not in (a, b):
                    raise Refused.of("layout.along", along, say("must be an axis in the face {face}", face=face.words))
                step = _pitch(pitch, "layout.pitch")
                first = "xyz".index(along) == a
                flat = [(u + step * i, v) if first else (u, v + step * i) for i in range(count)]
            case Grid(counts=(n, m), pitches=pitches):
                p, q = (_pitch(x, f"layout.pitches.{i}") for i, x in enumerate(pitches))
                if n * m > MOST:
                    raise Refused.of("layout.counts", n * m, say("must be at most {most} holes together", most=MOST))
                flat = [(u + p * i, v + q * j) for j, i in product(range(m), range(n))]
            case Circle(diameter=d, count=count, start=start):
                radius = float(size(d, "layout.diameter")) / 2
                turn = [math.radians(float(start)) + math.tau * i / count for i in range(count)]
                flat = [(_near(u, radius * math.cos(t)), _near(v, radius * math.sin(t))) for t in turn]
        return [_spot(face, (x, y)) for x, y in flat]

    @property
    def widest(self) -> Decimal:
        """The diameter at the mouth, with its countersink or counterbore."""
        found = [Decimal(self.diameter)]
        found += [Decimal(x.diameter) for x in (self.countersink, self.counterbore) if x]
        return max(found)

    def _blind(self, frame: Frame, face: Plane, diameter: Decimal) -> Decimal:
        depth = frame.depth(self.depth or "", face, "depth")
        if self.tip is not None and self.made in ("drilled", "tapped"):
            angle = float(self.tip)
            if not 60 <= angle <= 150:
                raise Refused.of("tip", self.tip, say("must lie between 60 and 150 degrees"))
            point = Decimal(float(diameter) / 2 / math.tan(math.radians(angle / 2)))
            if depth + point >= frame.thickness(face):
                least = sized((frame.thickness(face) - point).quantize(Decimal("0.01")), frame.unit)
                raise Refused.of(
                    "depth",
                    self.depth,
                    say("must be less than {least}: the drill's point would break through", least=least),
                )
        return depth

    def _mouth(self, frame: Frame, face: Plane, diameter: Decimal, depth: Decimal | None) -> None:
        deep = frame.thickness(face) if depth is None else depth
        if self.countersink and self.counterbore:
            raise Refused.of(
                "counterbore", self.counterbore.diameter, say("cannot stand with a countersink in one hole")
            )
        if self.countersink:
            wide = size(self.countersink.diameter, "countersink.diameter")
            angle = float(self.countersink.angle)
            if not 40 <= angle <= 140:
                raise Refused.of(
                    "countersink.angle", self.countersink.angle, say("must lie between 40 and 140 degrees")
                )
            if wide <= diameter:
                raise Refused.of("countersink.diameter", self.countersink.diameter, say("must be wider than the hole"))
            if float(wide - diameter) / 2 / math.tan(math.radians(angle / 2)) >= float(deep):
                raise Refused.of("countersink.diameter", self.countersink.diameter, say("runs deeper than the hole"))
        if self.counterbore:
            wide = size(self.counterbore.diameter, "counterbore.diameter")
            if wide <= diameter:
                raise Refused.of("counterbore.diameter", self.counterbore.diameter, say("must be wider than the hole"))
            if size(self.counterbore.depth, "counterbore.depth") >= deep:
                bound = say("must be less than the hole's depth, {deep}", deep=sized(deep, frame.unit))
                raise Refused.of("counterbore.depth", self.counterbore.depth, bound)

    def _threaded(self, frame: Frame) -> None:
        if (self.made == "tapped") != (self.thread is not None):
            raise Refused.of("thread", self.made, say("belongs to a tapped hole, and to that only"))
        if self.thread is None:
            return
        outside = Length(self.thread.diameter, frame.unit).mm
        pitch = self.thread.pitch_mm(frame.unit)
        share = percent_of(outside, pitch, Length(self.diameter, frame.unit).mm, "cutting")
        if not LEAST_THREAD <= share <= MOST_THREAD:
            low, high = (outside - s * pitch / PER_PERCENT["cutting"] for s in (MOST_THREAD, LEAST_THREAD))
            bound = say(
                "must be {low} to {high} {unit} for {thread}: a larger hole strips, a smaller one breaks the tap",
                low=in_places(low / frame.unit.in_mm, 3),
                high=in_places(high / frame.unit.in_mm, 3),
                unit=frame.unit,
                thread=self.thread.designation,
            )
            raise Refused.of("diameter", self.diameter, bound)
        if self.thread.depth is not None:
            deep = size(self.thread.depth, "thread.depth")
            if self.depth is not None and deep >= Decimal(self.depth):
                raise Refused.of(
                    "thread.depth", self.thread.depth, say("must be less than the drilled depth: the tap has a lead")
                )

    def _apart(self, frame: Frame, spots: list[Spot], face: Plane) -> None:
        a, b = others(face.axis)
        radius = self.widest / 2
        for axis, n in ((a, 0), (b, 1)):
            low, high = frame.spans[axis]
            for spot in spots:
                if not low < spot[axis] - radius or not spot[axis] + radius < high:
                    bound = say(
                        "puts a hole {wide} wide at {at}, where it breaks out: it must lie between {low} and {high}",
                        wide=sized(self.widest, frame.unit),
                        at=text_of(spot[axis]),
                        low=text_of(low + radius),
                        high=text_of(high - radius),
                    )
                    raise Refused.of(f"layout.at.{n}", self.layout.at[n], bound)
        for one, two in combinations(spots, 2):
            gap = math.hypot(float(one[a] - two[a]), float(one[b] - two[b]))
            if gap <= float(self.widest):
                field = {"row": "layout.pitch", "grid": "layout.pitches.0", "circle": "layout.diameter"}[
                    self.layout.layout
                ]
                bound = say(
                    "brings the holes {gap} apart, and they are {wide} wide",
                    gap=sized(Decimal(str(round(gap, 4))), frame.unit),
                    wide=sized(self.widest, frame.unit),
                )
                raise Refused.of(field, round(gap, 4), bound)

    def _walls(self, face: Plane, spot: Spot, diameter: Decimal, depth: Decimal | None) -> list[Named]:
        name, axis = self.name, face.axis

        def wall(what: str, words: str, wide: Decimal, thread: str = "") -> RoundWall:
            return RoundWall(f"{name}.{what}", words, axis, spot, wide, feature=name, thread=thread)

        thread = self.thread.designation if self.thread else ""
        made: list[Named] = [wall("bore", say("{name}", name=name), diameter, thread)]
        if self.countersink:
            made.append(
                wall("countersink", say("countersink of {name}", name=name), Decimal(self.countersink.diameter))
            )
        if self.counterbore:
            made.append(
                wall("counterbore", say("counterbore of {name}", name=name), Decimal(self.counterbore.diameter))
            )
            made.append(
                self._level(
                    face,
                    spot,
                    "counterbore floor",
                    say("floor of the counterbore of {name}", name=name),
                    Decimal(self.counterbore.depth),
                    Decimal(self.counterbore.diameter),
                )
            )
        if depth is not None:
            made.append(self._level(face, spot, "floor", say("bottom of {name}", name=name), depth, diameter))
        if isinstance(self.layout, Circle):
            middle = _spot(face, (Decimal(self.layout.at[0]), Decimal(self.layout.at[1])))
            words = say("bolt circle of {name}", name=name)
            made.append(RoundWall(f"{name}.circle", words, axis, middle, Decimal(self.layout.diameter), feature=name))
            made.append(Axle(f"{name}.centre", say("centre of {name}", name=name), axis, middle, name))
        return made

    def _level(self, face: Plane, spot: Spot, what: str, words: str, depth: Decimal, wide: Decimal) -> Plane:
        at = face.at - face.out * depth
        spans = [(x - wide / 2, x + wide / 2) for x in spot]
        spans[face.axis] = (at, at)
        return Plane(f"{self.name}.{what}", words, face.axis, at, face.out, (spans[0], spans[1], spans[2]), self.name)


def _spot(face: Plane, flat: tuple[Decimal, Decimal]) -> Spot:
    made = [face.at] * 3
    for axis, value in zip(others(face.axis), flat, strict=True):
        made[axis] = value
    return made[0], made[1], made[2]


def _pitch(text: str, at: str) -> Decimal:
    value = Decimal(text)
    if value == 0:
        raise Refused.of(at, text, say("must not be 0"))
    return value


def _near(centre: Decimal, away: float) -> Decimal:
    """A place on a circle, to a ten-thousandth."""
    return centre + Decimal(str(round(away, 4)))
