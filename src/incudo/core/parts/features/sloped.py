"""Features at an angle: a chamfer along an edge, and a face set over."""

from __future__ import annotations

import math
from decimal import Decimal
from typing import Literal

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import Num, Strict
from incudo.core.kernel.say import say
from incudo.core.parts.features.frame import Built, Frame, Plane, Slope, Span, size, sized, text_of
from incudo.core.parts.features.naming import FeatureName
from incudo.core.parts.project import AXES, WedgeCut


class Chamfer(Strict):
    """A chamfer of 45 degrees along the edge between two faces; ``size`` is measured along each of them."""

    kind: Literal["chamfer"]
    name: FeatureName
    face: str = "top"
    side: str = "left"
    size: Num

    def build(self, frame: Frame) -> Built:
        """Raises ``Refused`` for faces that have no edge together, and for more than either face has."""
        leg = size(self.size, "size")
        return _wedge(frame, self.name, (self.face, self.side), (leg, leg), ("size", "size"), Decimal(45))


class Angled(Strict):
    """A face at an angle: it begins ``length`` in from a side and falls away to it by ``angle`` degrees."""

    kind: Literal["angled"]
    name: FeatureName
    face: str = "top"
    side: str = "right"
    length: Num
    angle: Num

    def build(self, frame: Frame) -> Built:
        """Raises ``Refused`` for an angle out of reach of a tilted head or vise, and for more than there is."""
        along, angle = size(self.length, "length"), Decimal(self.angle)
        if not 1 <= angle <= 75:
            raise Refused.of("angle", self.angle, say("must lie between 1 and 75 degrees"))
        down = Decimal(str(round(float(along) * math.tan(math.radians(float(angle))), 5)))
        return _wedge(frame, self.name, (self.face, self.side), (down, along), ("angle", "length"), angle)


def _wedge(
    frame: Frame,
    name: str,
    faces: tuple[str, str],
    legs: tuple[Decimal, Decimal],
    fields: tuple[str, str],
    angle: Decimal,
) -> Built:
    """``legs`` are how far it reaches into the metal, away from each of the two faces."""
    face, side = frame.plane(faces[0], "face"), frame.plane(faces[1], "side")
    if face.axis == side.axis:
        raise Refused.of("side", faces[1], say("must be a face beside {face}: these two have no edge", face=face.words))
    if frame.bar and 0 not in (face.axis, side.axis):
        raise Refused.of("side", faces[1], say("a bar has no edge along its side"))
    if frame.bar and not face.feature and not side.feature:
        raise Refused.of("face", faces[0], say("the end of a bar is chamfered in a lathe, not on a mill"))
    for plane, leg, field in ((face, legs[0], fields[0]), (side, legs[1], fields[1])):
        most = frame.thickness(plane)
        if leg >= most:
            bound = say(
                "takes {leg} away from {face}, and there is {most}",
                leg=sized(leg, frame.unit),
                face=plane.words,
                most=sized(most, frame.unit),
            )
            raise Refused.of(field, text_of(leg), bound)
    (third,) = (i for i in range(3) if i not in (face.axis, side.axis))
    ends = _shared(face, side, third)
    if ends is None:
        raise Refused.of("side", faces[1], say("must touch {face}: these two have no edge", face=face.words))
    corner, into = {}, {}
    for plane, leg in ((face, legs[0]), (side, legs[1])):
        corner[plane.axis], into[plane.axis] = plane.at, -plane.out * leg
    a, b = sorted(corner)
    cut = WedgeCut(
        shape="wedge",
        name=name,
        axis=AXES[third],
        ends=(text_of(ends[0]), text_of(ends[1])),
        corner=(text_of(corner[a]), text_of(corner[b])),
        legs=(text_of(into[a]), text_of(into[b])),
    )
    tips = []
    for axis in (a, b):
        tip = [ends[0]] * 3
        tip[a], tip[b] = corner[a], corner[b]
        tip[axis] += into[axis]
        tips.append((tip[0], tip[1], tip[2]))
    slope = Slope(f"{name}.slope", say("{name}", name=name), third, face.name, angle, (tips[0], tips[1]), name)
    return Built((cut,), (slope,))


def _shared(face: Plane, side: Plane, third: int) -> Span | None:
    """How far two faces run beside each other, when each reaches as far as the other."""
    low = max(face.spans[third][0], side.spans[third][0])
    high = min(face.spans[third][1], side.spans[third][1])
    touch = side.at in face.spans[side.axis] and face.at in side.spans[face.axis]
    return (low, high) if high > low and touch else None
