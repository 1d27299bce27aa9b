"""Features that an end mill makes: step, flat, slot, pocket.

Each says what it takes away (``build``) and refuses what cannot be made at the number that is wrong.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Literal

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import Num, Strict
from incudo.core.kernel.say import say
from incudo.core.parts.features.frame import (
    SIDES_OF,
    AxisName,
    Axle,
    Built,
    Frame,
    Named,
    Plane,
    RoundWall,
    Span,
    Spans,
    box_cut,
    others,
    size,
    sized,
)
from incudo.core.parts.features.naming import FeatureName

#: An end mill reaches about so many of its diameters down a wall before it bends too far to cut it true.
#: Rule of thumb: what is deeper than this in a corner is made by other means than milling by hand.
MOST_REACH = 6


class Step(Strict):
    """A shoulder along one side: open at a face and at a side, as long as the part is wide there."""

    kind: Literal["step"]
    name: FeatureName
    face: str = "top"
    side: str = "right"
    length: Num
    depth: Num

    def build(self, frame: Frame) -> Built:
        """Raises ``Refused`` for a side that is not beside the face and for more than there is."""
        face, side = frame.plane(self.face, "face"), frame.plane(self.side, "side")
        if side.axis == face.axis:
            raise Refused.of(
                "side", self.side, say("must be a face beside {face}, not across from it", face=face.words)
            )
        depth = frame.depth(self.depth, face, "depth")
        length, most = size(self.length, "length"), frame.thickness(side)
        if length >= most:
            bound = say("must be less than {most}: the whole face would be gone", most=sized(most, frame.unit))
            raise Refused.of("length", self.length, bound)
        (third,) = (i for i in range(3) if i not in (face.axis, side.axis))
        down, along = frame.inwards(face, depth), frame.inwards(side, length)
        spans = {face.axis: down, side.axis: along, third: frame.spans[third]}
        floor_at, wall_at = face.at - face.out * depth, side.at - side.out * length
        floor = Plane(
            f"{self.name}.floor",
            say("floor of {name}", name=self.name),
            face.axis,
            floor_at,
            face.out,
            _spans(spans, face.axis, floor_at),
            self.name,
        )
        wall = Plane(
            f"{self.name}.wall",
            say("wall of {name}", name=self.name),
            side.axis,
            wall_at,
            side.out,
            _spans(spans, side.axis, wall_at),
            self.name,
        )
        return Built((box_cut(self.name, spans),), (floor, wall))


class Flat(Strict):
    """A flat on a bar; ``across`` is from the flat to the opposite side, ``length`` from one end."""

    kind: Literal["flat"]
    name: FeatureName
    face: Literal["top", "bottom", "front", "rear"] = "top"
    end: Literal["left", "right"] = "left"
    length: Num | None = None
    across: Num

    def build(self, frame: Frame) -> Built:
        """Raises ``Refused`` on a block, and for a flat that takes nothing or all."""
        if not frame.bar:
            raise Refused.of("face", self.face, say("a flat is cut on a bar; on a block it is a step"))
        face, side = frame.plane(self.face, "face"), frame.plane(self.end, "end")
        across, most = size(self.across, "across"), frame.thickness(face)
        if across >= most:
            bound = say("must be less than the diameter, {most}", most=sized(most, frame.unit))
            raise Refused.of("across", self.across, bound)
        length, whole = None, frame.thickness(side)
        if self.length is not None:
            length = size(self.length, "length")
            if length >= whole:
                bound = say(
                    "must be less than the bar, {most}; leave it empty for all of it", most=sized(whole, frame.unit)
                )
                raise Refused.of("length", self.length, bound)
        depth = most - across
        third = 3 - face.axis
        spans = {face.axis: frame.inwards(face, depth), 0: frame.inwards(side, length), third: frame.spans[third]}
        at = face.at - face.out * depth
        half = (across * (most - across)).sqrt()
        reach = dict(spans)
        reach[third] = (-half, half)
        named: list[Named] = [
            Plane(
                f"{self.name}.floor",
                say("{name}", name=self.name),
                face.axis,
                at,
                face.out,
                _spans(reach, face.axis, at),
                self.name,
            )
        ]
        if length is not None:
            end = side.at - side.out * length
            named.append(
                Plane(
                    f"{self.name}.wall",
                    say("end of {name}", name=self.name),
                    0,
                    end,
                    side.out,
                    _spans(reach, 0, end),
                    self.name,
                )
            )
        return Built((box_cut(self.name, spans),), tuple(named))


class Slot(Strict):
    """A slot along one axis; an end that is not given runs out, one that is given is round by the cutter.

    ``at`` is the middle across, ``start`` and ``end`` are where the round ends reach to.
    """

    kind: Literal["slot"]
    name: FeatureName
    face: str = "top"
    along: AxisName = "x"
    at: Num
    width: Num
    depth: Num | None = None
    start: Num | None = None
    end: Num | None = None

    def build(self, frame: Frame) -> Built:
        """Raises ``Refused`` for a slot that runs out sideways, has no length or leaves nothing below it."""
        face, along = frame.plane(self.face, "face"), "xyz".index(self.along)
        if along == face.axis:
            raise Refused.of("along", self.along, say("must be an axis in the face {face}", face=face.words))
        (cross,) = (i for i in range(3) if i not in (face.axis, along))
        width = size(self.width, "width")
        depth = None if self.depth is None else frame.depth(self.depth, face, "depth")
        middle = Decimal(self.at)
        walls = middle - width / 2, middle + width / 2
        _inside(frame, cross, walls, "at", self.at, say("it runs out over this side: make it a step"))
        start, end, reach = self._ends(frame, along, width)
        spans: dict[int, Span] = {face.axis: frame.inwards(face, depth), cross: walls, along: (start, end)}
        closed = self.start is not None or self.end is not None
        cut = box_cut(self.name, {**spans, along: reach}, (face.axis, width / 2) if closed else None)
        named = [*_walls(self.name, spans, cross), *_floor(self.name, face, spans, depth)]
        for given, name, at, into in ((self.start, 0, start, 1), (self.end, 1, end, -1)):
            if given is not None:
                which = SIDES_OF[along][name]
                words = say("{which} end of {name}", which=which, name=self.name)
                named.append(
                    Plane(f"{self.name}.{which} end", words, along, at, into, _spans(spans, along, at), self.name)
                )
                centre = [Decimal(0)] * 3
                centre[along], centre[cross], centre[face.axis] = at + into * width / 2, middle, face.at
                words = say("centre of the {which} end of {name}", which=which, name=self.name)
                spot = (centre[0], centre[1], centre[2])
                named.append(Axle(f"{self.name}.{which} centre", words, face.axis, spot, self.name))
        return Built((cut,), tuple(named))

    def _ends(self, frame: Frame, along: int, width: Decimal) -> tuple[Decimal, Decimal, Span]:
        """Where it begins and ends, and how far the cut itself reaches: past the part where it runs out."""
        low, high = frame.spans[along]
        start = low if self.start is None else Decimal(self.start)
        end = high if self.end is None else Decimal(self.end)
        for text, at, name in ((self.start, start, "start"), (self.end, end, "end")):
            if text is not None and not low < at < high:
                bound = say(
                    "must lie inside the part, between {low} and {high}; leave it empty where the slot runs out",
                    low=sized(low, frame.unit),
                    high=sized(high, frame.unit),
                )
                raise Refused.of(name, text, bound)
        least = width if self.start is not None and self.end is not None else width / 2
        if end - start < least:
            bound = say(
                "leaves the slot {long} long, less than its round end needs", long=sized(end - start, frame.unit)
            )
            raise Refused.of(*(("start", self.start) if self.end is None else ("end", self.end)), bound)
        closed = self.start is not None or self.end is not None
        over = width / 2 if closed else Decimal(0)
        return start, end, (start - (over if self.start is None else 0), end + (over if self.end is None else 0))


class Pocket(Strict):
    """A pocket with round corners; ``at`` is its middle and ``size`` its length and width, in the order x, y, z."""

    kind: Literal["pocket"]
    name: FeatureName
    face: str = "top"
    at: tuple[Num, Num]
    size: tuple[Num, Num]
    radius: Num
    depth: Num | None = None

    def build(self, frame: Frame) -> Built:
        """Raises ``Refused`` for a pocket that runs out, and for corners that no end mill makes."""
        face = frame.plane(self.face, "face")
        axes = others(face.axis)
        depth = None if self.depth is None else frame.depth(self.depth, face, "depth")
        spans: dict[int, Span] = {face.axis: frame.inwards(face, depth)}
        for n, axis in enumerate(axes):
            half = size(self.size[n], f"size.{n}") / 2
            middle = Decimal(self.at[n])
            spans[axis] = (middle - half, middle + half)
            _inside(
                frame,
                axis,
                spans[axis],
                f"at.{n}",
                self.at[n],
                say("it runs out over this side: make it a slot or a step"),
            )
        radius = self._corner(frame, min(b - a for a, b in (spans[i] for i in axes)), spans[face.axis])
        named = [*_walls(self.name, spans, axes[0]), *_walls(self.name, spans, axes[1])]
        named += _floor(self.name, face, spans, depth)
        centre = [Decimal(0)] * 3
        centre[face.axis] = face.at
        for axis in axes:
            centre[axis] = spans[axis][1] - radius
        words = say("corner of {name}", name=self.name)
        spot = (centre[0], centre[1], centre[2])
        named.append(RoundWall(f"{self.name}.corner", words, face.axis, spot, 2 * radius, True, True, self.name))
        return Built((box_cut(self.name, spans, (face.axis, radius)),), tuple(named))

    def _corner(self, frame: Frame, narrow: Decimal, down: Span) -> Decimal:
        radius = size(self.radius, "radius")
        if 2 * radius > narrow:
            bound = say("must be at most {most}, half the narrow side", most=sized(narrow / 2, frame.unit))
            raise Refused.of("radius", self.radius, bound)
        deep = down[1] - down[0]
        if deep > MOST_REACH * 2 * radius:
            least = deep / (2 * MOST_REACH)
            bound = say(
                "must be at least {least}: no end mill of this radius cuts a wall {deep} deep",
                least=sized(least.quantize(Decimal("0.001")), frame.unit),
                deep=sized(deep, frame.unit),
            )
            raise Refused.of("radius", self.radius, bound)
        return radius


def _spans(spans: dict[int, Span], axis: int, at: Decimal) -> Spans:
    made = dict(spans)
    made[axis] = (at, at)
    return made[0], made[1], made[2]


def _inside(frame: Frame, axis: int, span: Span, at: str, text: str, why: str) -> None:
    low, high = frame.spans[axis]
    for value, name in ((span[0], SIDES_OF[axis][0]), (span[1], SIDES_OF[axis][1])):
        if not low < value < high:
            words = say(
                "brings its {side} wall to {value}, which is not inside the part ({low} to {high}): {why}",
                side=name,
                value=sized(value, frame.unit),
                low=low,
                high=high,
                why=why,
            )
            raise Refused.of(at, text, words)


def _walls(name: str, spans: dict[int, Span], axis: int) -> list[Named]:
    """The two walls across from each other, and the middle between them."""
    made: list[Named] = []
    for n, at in enumerate(spans[axis]):
        which = SIDES_OF[axis][n]
        words = say("{which} wall of {name}", which=which, name=name)
        made.append(Plane(f"{name}.{which} wall", words, axis, at, 1 - 2 * n, _spans(spans, axis, at), name))
    middle = sum(spans[axis], Decimal(0)) / 2
    words = say("middle of {name} along {axis}", name=name, axis="XYZ"[axis])
    made.append(Plane(f"{name}.middle {'xyz'[axis]}", words, axis, middle, 0, _spans(spans, axis, middle), name))
    return made


def _floor(name: str, face: Plane, spans: dict[int, Span], depth: Decimal | None) -> list[Named]:
    if depth is None:
        return []
    at = face.at - face.out * depth
    return [
        Plane(
            f"{name}.floor",
            say("floor of {name}", name=name),
            face.axis,
            at,
            face.out,
            _spans(spans, face.axis, at),
            name,
        )
    ]
