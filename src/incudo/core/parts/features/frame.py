"""The body of a part and the names of what is on it: flat faces, axes, round walls, slopes.

Numbers are exact decimals in the part's unit, as they were typed: 0 to the left end, the front and the bottom of a
block, and the axis of a bar. Axes are 0, 1, 2 for x, y, z; ``out`` is the way that a face looks.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import LengthUnit, Unit
from incudo.core.kernel.say import say, together
from incudo.core.parts.project import Block, BoxCut, Hole, RoundBar, WedgeCut

Span = tuple[Decimal, Decimal]
Spans = tuple[Span, Span, Span]
Spot = tuple[Decimal, Decimal, Decimal]
Cut = BoxCut | Hole | WedgeCut
Body = Annotated[Block | RoundBar, Field(discriminator="shape")]
AxisName = Literal["x", "y", "z"]

#: The faces of a body: (axis, way it looks).
SIDES: dict[str, tuple[int, int]] = {
    "left": (0, -1),
    "right": (0, 1),
    "front": (1, -1),
    "rear": (1, 1),
    "bottom": (2, -1),
    "top": (2, 1),
}
#: What the two sides of each axis are called, low and high.
SIDES_OF = (("left", "right"), ("front", "rear"), ("bottom", "top"))


def side_words() -> dict[str, str]:
    """The faces of a body in words."""
    return {
        "left": say("left end"),
        "right": say("right end"),
        "front": say("front"),
        "rear": say("rear"),
        "bottom": say("bottom"),
        "top": say("top"),
    }


@dataclass(frozen=True)
class Plane:
    """A flat face, or with ``out`` 0 a middle plane; ``spans`` say how far it reaches."""

    name: str
    words: str
    axis: int
    at: Decimal
    out: int
    spans: Spans
    feature: str = ""


@dataclass(frozen=True)
class Axle:
    """The axis of something round: it runs along ``axis`` through ``centre``."""

    name: str
    words: str
    axis: int
    centre: Spot
    feature: str = ""


@dataclass(frozen=True)
class RoundWall:
    """A round wall, seen as a circle along ``axis``; ``inside`` for holes; a radius only for corners.

    ``thread`` is what a tapped hole's is called.
    """

    name: str
    words: str
    axis: int
    centre: Spot
    diameter: Decimal
    inside: bool = True
    corner: bool = False
    feature: str = ""
    thread: str = ""


@dataclass(frozen=True)
class Slope:
    """A face at an angle to ``face``; it runs along ``axis``, along which it is seen as a line between ``ends``."""

    name: str
    words: str
    axis: int
    face: str
    angle: Decimal
    ends: tuple[Spot, Spot]
    feature: str = ""

    @property
    def middle(self) -> Spot:
        """The middle of the line that it is seen as."""
        a, b = self.ends
        return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2


Named = Plane | Axle | RoundWall | Slope


@dataclass(frozen=True)
class Built:
    """What a feature takes away and what can be named on it."""

    cuts: tuple[Cut, ...]
    named: tuple[Named, ...]


@dataclass
class Frame:
    """The body, and all that is named on it so far."""

    unit: LengthUnit
    spans: Spans
    bar: bool
    named: dict[str, Named] = field(default_factory=dict)

    @classmethod
    def of(cls, body: Block | RoundBar, unit: Unit) -> Frame:
        """The frame of a bare body. Raises ``Refused`` for a size that is not above 0."""
        for name in ("x", "y", "z") if isinstance(body, Block) else ("diameter", "length"):
            size(getattr(body, name), f"body.{name}")
        nought = Decimal(0)
        if isinstance(body, Block):
            spans: Spans = ((nought, Decimal(body.x)), (nought, Decimal(body.y)), (nought, Decimal(body.z)))
        else:
            half = Decimal(body.diameter) / 2
            spans = ((nought, Decimal(body.length)), (-half, half), (-half, half))
        frame = cls(unit, spans, isinstance(body, RoundBar))
        words = side_words()
        for name, (axis, out) in SIDES.items():
            at = spans[axis][out > 0]
            reach = list(spans)
            reach[axis] = (at, at)
            if frame.bar and axis != 0:
                reach[3 - axis] = (nought, nought)
            frame.add(Plane(name, words[name], axis, at, out, (reach[0], reach[1], reach[2])))
        if isinstance(body, RoundBar):
            frame.add(Axle("axis", say("axis of the bar"), 0, (nought, nought, nought)))
            wall = RoundWall(
                "round", say("bar"), 0, (spans[0][1], nought, nought), Decimal(body.diameter), inside=False
            )
            frame.add(wall)
        return frame

    def add(self, *named: Named) -> None:
        """Keep what a feature has put there."""
        self.named.update((n.name, n) for n in named)

    @property
    def faces(self) -> tuple[Plane, ...]:
        """The flat faces that something can be cut from."""
        return tuple(n for n in self.named.values() if isinstance(n, Plane) and n.out)

    def plane(self, name: str, at: str) -> Plane:
        """The flat face of this name. Raises ``Refused`` at field ``at``."""
        found = self.named.get(name)
        if isinstance(found, Plane) and found.out:
            return found
        faces = together((f.name for f in self.faces), ", ")
        raise Refused.of(at, name, say("must be a flat face of this part: {faces}", faces=faces))

    def thickness(self, face: Plane) -> Decimal:
        """From a face through to the other side of the body."""
        low, high = self.spans[face.axis]
        return face.at - low if face.out > 0 else high - face.at

    def depth(self, text: str, face: Plane, at: str) -> Decimal:
        """A depth from a face that leaves metal below it. Raises ``Refused`` at field ``at``."""
        value, most = size(text, at), self.thickness(face)
        if value >= most:
            bound = say("must be less than {most}: nothing would be left below it", most=sized(most, self.unit))
            raise Refused.of(at, text, bound)
        return value

    def inwards(self, face: Plane, depth: Decimal | None) -> Span:
        """From a face into the metal, or through to the other side."""
        end = face.at - face.out * (self.thickness(face) if depth is None else depth)
        return min(end, face.at), max(end, face.at)


def size(text: str, at: str) -> Decimal:
    """A number that must be above 0. Raises ``Refused`` at field ``at``."""
    value = Decimal(text)
    if value <= 0:
        raise Refused.of(at, text, say("must be above 0"))
    return value


def sized(value: Decimal, unit: Unit) -> str:
    """A length with its unit."""
    return f"{text_of(value)} {unit}"


def text_of(value: Decimal) -> str:
    """A decimal as a file writes it, with its places; at most six, and no minus nought."""
    if -int(value.as_tuple().exponent) > 6:
        value = value.quantize(Decimal("0.000001")).normalize()
    return format(value if value else abs(value), "f")


def others(axis: int) -> tuple[int, int]:
    """The other two axes, in the order x, y, z."""
    a, b = (i for i in range(3) if i != axis)
    return a, b


def box_cut(name: str, spans: dict[int, Span], rounded: tuple[int, Decimal] | None = None) -> BoxCut:
    """A box from its spans by axis; ``rounded`` is the axis of the round corners and their radius."""
    made = {"xyz"[i]: (text_of(low), text_of(high)) for i, (low, high) in spans.items()}
    corners = {"axis": "xyz"[rounded[0]], "radius": text_of(rounded[1])} if rounded else None
    return BoxCut.model_validate({"shape": "box", "name": name, **made, "rounded": corners})
