"""The piece of stock and what each feature takes away of it. Lengths in mm as floats, in the part's axes.

Where the drawing does not say how the stock lies around the part: a face that is sawn takes all that is too much on
its axis, two alike share it.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from decimal import Decimal
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.parts.features.file import BlockStock, Feature
from incudo.core.parts.features.frame import SIDES, Frame
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.features.part import Part, allowances
from incudo.core.parts.geometry.solid import Body, Box, Corner, Revolved, RoundedBox, Solid, Wedge, bodies_of
from incudo.core.parts.project import RoundBar

#: So far a cut that runs out goes past the stock, mm.
BEYOND = 1.0
TINY = 1e-6


@dataclass(frozen=True)
class Slab:
    """What is to come off one face of the body: ``at`` is where the face ends up, ``much`` what is on it."""

    face: str
    axis: int
    out: int
    at: float
    much: float

    @property
    def stock_at(self) -> float:
        """Where the face of the stock lies, in mm on its axis."""
        return self.at + self.out * self.much


def exact(value: float) -> Fraction:
    """A length of a picture as a fraction that can be set: to a ten-thousandth of a millimetre."""
    return Fraction(round(value * 10_000), 10_000)


@dataclass(frozen=True)
class Piece:
    """A part with its stock.

    ``slabs`` are the faces of the body with what is on each (0 for one that is as the stock has it), ``raw`` those
    that have to be milled, ``takes`` what each feature takes away, as far as the stock reaches.
    """

    part: Part
    unit: Unit
    bar: bool
    stock: Solid
    slabs: dict[str, Slab]
    raw: frozenset[str]
    takes: dict[str, tuple[Body, ...]]
    ups: dict[str, frozenset[str]] = field(default_factory=dict)

    @property
    def spans(self) -> tuple[tuple[float, float], ...]:
        """The finished body along its axes."""
        mm = float(self.unit.in_mm)
        return tuple((float(a) * mm, float(b) * mm) for a, b in self.part.frame.spans)

    @property
    def across(self) -> Fraction:
        """How thick the stock is along Y, in mm: of a bar its diameter."""
        low, high = self.stock.extent
        return exact(high[1] - low[1])

    @property
    def features(self) -> dict[str, Feature]:
        """The features of the part by name."""
        return {f.name: f for f in self.part.file.features}

    @property
    def finished(self) -> Solid:
        """The part inside of its stock: what is left when all is done."""
        cuts = [self.slab(f) for f in sorted(self.raw)]
        return Solid(self.stock.base, (*cuts, *(b for name in self.features for b in self.takes[name])))

    def slab(self, face: str, leave: float = 0.0) -> Body:
        """What facing takes off, all but ``leave``."""
        s = self.slabs[face]
        low, high = (list(c) for c in self.stock.extent)
        for i in range(3):
            low[i], high[i] = low[i] - BEYOND, high[i] + BEYOND
        ends = sorted((s.at + s.out * leave, s.stock_at + s.out * BEYOND))
        low[s.axis], high[s.axis] = ends
        return Box((low[0], low[1], low[2]), (high[0], high[1], high[2]))

    def words(self, name: str) -> str:
        """A face, axis or feature as one says it."""
        named = self.part.frame.named.get(name)
        return named.words if named else name


def piece_of(part: Part) -> Piece:
    """A part with its stock. Raises ``Refused`` for a block from round stock, which is turned or squared elsewhere."""
    bar = isinstance(part.file.body, RoundBar)
    if not bar and not isinstance(part.file.stock, BlockStock):
        raise Refused.of(
            "stock", "round", say("must be a block: a block out of round stock is squared before it is planned here")
        )
    mm = float(part.file.unit.in_mm)
    slabs = _slabs(part, mm)
    raw = frozenset(f for f, s in slabs.items() if s.much > TINY)
    frame = Frame.of(part.file.body, part.file.unit)
    takes: dict[str, tuple[Body, ...]] = {}
    ups: dict[str, frozenset[str]] = {}
    piece = Piece(part, part.file.unit, bar, _stock(part, slabs, mm), slabs, raw, takes, ups)
    before = 0
    for feature in part.file.features:
        built = feature.build(frame)
        ups[feature.name] = _ups(feature, frame)
        bodies = bodies_of(built.cuts, before)
        before += len(bodies)
        frame.add(*built.named)
        takes[feature.name] = tuple(_to_stock(scaled(b, mm), piece) for b in bodies)
    return piece


def _slabs(part: Part, mm: float) -> dict[str, Slab]:
    found: dict[str, Slab] = {}
    file = part.file
    much = allowances(file)
    sawn = set(file.stock.sawn) if isinstance(file.stock, BlockStock) else {"left", "right"}
    bar = isinstance(file.body, RoundBar)
    for axis, names in enumerate((("left", "right"), ("front", "rear"), ("bottom", "top"))):
        too_much = much.get("length" if bar and axis == 0 else "diameter" if bar else "xyz"[axis], Decimal(0))
        taking = [n for n in names if n in sawn] or list(names)
        for n in names:
            low, high = part.frame.spans[axis]
            out = SIDES[n][1]
            share = float(too_much / len(taking)) * mm if n in taking and not (bar and axis) else 0.0
            found[n] = Slab(n, axis, out, float(high if out > 0 else low) * mm, share)
    return found


def _stock(part: Part, slabs: dict[str, Slab], mm: float) -> Solid:
    ends = slabs["left"].stock_at, slabs["right"].stock_at
    if isinstance(part.file.body, RoundBar):
        radius = float(part.file.body.diameter) / 2 * mm
        return Solid(Revolved(0, 0, (0.0, 0.0), ((ends[0], radius), (ends[1], radius))), ())
    low = ends[0], slabs["front"].stock_at, slabs["bottom"].stock_at
    high = ends[1], slabs["rear"].stock_at, slabs["top"].stock_at
    return Solid(Box(low, high), ())


def _face(frame: Frame, name: str) -> str:
    """The side of the body that a face looks to."""
    plane = frame.plane(name, "face")
    return next(n for n, side in SIDES.items() if side == (plane.axis, plane.out))


def _ups(feature: Feature, frame: Frame) -> frozenset[str]:
    """Which faces may look up while a feature is cut: its own; for a step or a chamfer its side as well; from behind
    for what goes through and has no mouth of its own.
    """
    own = _face(frame, feature.face)
    found = {own}
    if feature.kind in ("step", "chamfer"):
        found.add(_face(frame, feature.side))
    no_mouth = isinstance(feature, HoleFeature) and not (feature.countersink or feature.counterbore)
    if (no_mouth or feature.kind in ("slot", "pocket")) and getattr(feature, "depth", "") is None:
        plane = frame.plane(feature.face, "face")
        low, high = frame.spans[plane.axis]
        if plane.at in (low, high):
            axis, out = SIDES[own]
            found.add(next(n for n, side in SIDES.items() if side == (axis, -out)))
    return frozenset(found)


def scaled(body: Body, k: float) -> Body:
    """A body in another unit."""

    def corner(c: Corner) -> Corner:
        return c[0] * k, c[1] * k, c[2] * k

    match body:
        case Box():
            return Box(corner(body.low), corner(body.high))
        case RoundedBox():
            return replace(body, low=corner(body.low), high=corner(body.high), radius=body.radius * k)
        case Wedge():
            (a, b), (c, d), (e, f) = body.ends, body.corner, body.legs
            return replace(body, ends=(a * k, b * k), corner=(c * k, d * k), legs=(e * k, f * k))
        case Revolved():
            centre = body.centre[0] * k, body.centre[1] * k
            return replace(body, centre=centre, profile=tuple((t * k, r * k) for t, r in body.profile))


def _to_stock(body: Body, piece: Piece) -> Body:
    """Where a cut reaches the side of the body it goes on to past the stock."""
    spans, extent = piece.spans, piece.stock.extent
    low_end = [extent[0][i] - BEYOND for i in range(3)]
    high_end = [extent[1][i] + BEYOND for i in range(3)]
    match body:
        case Box() | RoundedBox():
            low, high = list(body.low), list(body.high)
            round_by = body.radius if isinstance(body, RoundedBox) else 0.0
            for i in range(3):
                past = round_by if isinstance(body, RoundedBox) and i != body.axis else 0.0
                if low[i] <= spans[i][0] + TINY:
                    low[i] = min(low[i], low_end[i] - past)
                if high[i] >= spans[i][1] - TINY:
                    high[i] = max(high[i], high_end[i] + past)
            return replace(body, low=(low[0], low[1], low[2]), high=(high[0], high[1], high[2]))
        case Wedge():
            ends = body.ends
            lo = low_end[body.axis] if ends[0] <= spans[body.axis][0] + TINY else ends[0]
            hi = high_end[body.axis] if ends[1] >= spans[body.axis][1] - TINY else ends[1]
            return replace(body, ends=(lo, hi))
        case Revolved():
            profile = list(body.profile)
            for n in (0, -1):
                t, r = profile[n]
                if t <= spans[body.axis][0] + TINY and r:
                    profile[n] = low_end[body.axis], r
                elif t >= spans[body.axis][1] - TINY and r:
                    profile[n] = high_end[body.axis], r
            if profile[0][0] != body.profile[0][0] and profile[0][1] != profile[1][1]:
                # a countersink begins at its face; above it the opening is as wide as there
                profile.insert(1, body.profile[0])
            return replace(body, profile=tuple(profile))
