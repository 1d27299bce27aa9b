"""The part after every operation: what is there before, what is taken, which faces are milled by then.

Lengths in mm as floats, in the part's axes; ``Stage.place`` turns them to the machine's.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.file import Feature
from incudo.core.parts.features.frame import SIDES
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.geometry.sections import reach
from incudo.core.parts.geometry.solid import Body, Box, Corner, Revolved, RoundedBox, Solid
from incudo.core.planning.file import OperationKind, Plan, PlanHolding, PlanOperation
from incudo.core.planning.kinds import DRILLING, kind_words, stages_of
from incudo.core.planning.piece import BEYOND, TINY, Piece
from incudo.core.planning.place import Place
from incudo.core.planning.shop import PlanShop, mm
from incudo.core.shop.cutter import Cutter, CutterKind

#: A spot reaches so much of the hole's radius, so that the hole leaves nothing of it; or of its own.
SPOT_SHARE = 0.9

#: Where one looks across a cut for metal beside it, as shares of its length.
_SHARES = (0.02, 0.25, 0.5, 0.75, 0.98)


@dataclass(frozen=True)
class Stage:
    """One operation with the part before it.

    ``faced`` are the faces of the body that are milled by then, ``made`` what was done on each feature, in order,
    with what it left; ``start`` is the part as it was put into this holding, ``faced_at_start`` its milled faces then.
    """

    index: int
    holding: PlanHolding
    operation: PlanOperation
    place: Place
    piece: Piece
    before: Solid
    start: Solid
    taken: tuple[Body, ...]
    faced: frozenset[str]
    faced_at_start: frozenset[str]
    made: Mapping[str, tuple[tuple[OperationKind, float], ...]]
    cutter: Cutter | None

    @property
    def kind(self) -> OperationKind:
        """What kind of operation it is."""
        return self.operation.kind

    @cached_property
    def after(self) -> Solid:
        """The part when it is done."""
        return Solid(self.before.base, (*self.before.cuts, *self.taken)) if self.taken else self.before

    @property
    def features(self) -> tuple[Feature, ...]:
        """The features that it works on."""
        return tuple(self.piece.features[n] for n in self.operation.of if n in self.piece.features)

    @property
    def faces(self) -> tuple[str, ...]:
        """The faces of the body that it works on."""
        return tuple(n for n in self.operation.of if n in SIDES)

    def true(self, face: str) -> bool:
        """Whether a face of the body is milled, or needs no milling."""
        return face in self.faced or face not in self.piece.raw

    def true_at_start(self, face: str) -> bool:
        """The same when the work was put into this holding."""
        return face in self.faced_at_start or face not in self.piece.raw

    @cached_property
    def lying(self) -> tuple[Body, ...]:
        """What is taken, in machine axes."""
        return tuple(self.place.body(b) for b in self.taken)

    @cached_property
    def block(self) -> tuple[Corner, Corner]:
        """The box around the work in machine axes, as far as its faces are milled."""
        return self._box(self.faced)

    @cached_property
    def block_at_start(self) -> tuple[Corner, Corner]:
        """The same when it was put in."""
        return self._box(self.faced_at_start)

    def _box(self, faced: frozenset[str]) -> tuple[Corner, Corner]:
        low, high = [0.0] * 3, [0.0] * 3
        extent = self.piece.stock.extent
        for axis in range(3):
            for face, (a, out) in SIDES.items():
                if a == axis:
                    slab = self.piece.slabs[face]
                    at = extent[out > 0][axis]
                    if face in self.piece.raw:
                        at = slab.at if face in faced else slab.stock_at
                    (low if out < 0 else high)[axis] = at
        return self.place._corners((low[0], low[1], low[2]), (high[0], high[1], high[2]))

    @cached_property
    def floor(self) -> float | None:
        """The lowest place that the cutter's full width comes to, in machine Z; none without a cut."""
        lows = [reach(b, 2)[0] for b in self.lying]
        bottom = self.block[0][2]
        return max(min(lows), bottom) if lows else None

    def spans(self, axis: int) -> tuple[float, float] | None:
        """From where to where it takes metal along a machine axis, inside of the work."""
        return self._spans[axis] if self._spans else None

    @property
    def from_above(self) -> tuple[tuple[float, float], tuple[float, float]] | None:
        """The same along X and along Y; none where it takes nothing."""
        return self._spans[:2] if self._spans else None  # type: ignore[return-value]

    @cached_property
    def _spans(self) -> tuple[tuple[float, float], ...]:
        if not self.lying:
            return ()
        made = []
        for axis in range(3):
            found = [reach(b, axis) for b in self.lying]
            low, high = min(a for a, _ in found), max(b for _, b in found)
            made.append((max(low, self.block[0][axis]), min(high, self.block[1][axis])))
        return tuple(made)

    @cached_property
    def sizes(self) -> tuple[int, Fraction, Fraction, Fraction]:
        """The axis that a milling cut runs along (0 X, 1 Y), its length, its width across, and how far it goes down."""
        if not self._spans:
            return 0, Fraction(0), Fraction(0), Fraction(0)
        lengths = [Fraction(max(high - low, 0.0)).limit_denominator(10_000) for low, high in self._spans]
        whole = [self.block[1][i] - self.block[0][i] for i in range(2)]
        runs = [i for i in range(2) if float(lengths[i]) >= whole[i] - TINY]
        run = runs[0] if len(runs) == 1 else (0 if lengths[0] >= lengths[1] else 1)
        if self.cutter is not None and self.cutter.on_arbor and 0 in runs:
            # the arbor lies along Y
            run = 0
        return run, lengths[run], lengths[1 - run], lengths[2]

    def is_open(self, axis: int, out: int) -> bool:
        """Whether a cut reaches the side of the work there, or what was milled away before; along machine X or Y."""
        return (axis, out) in self._open

    @cached_property
    def _open(self) -> frozenset[tuple[int, int]]:
        return frozenset((a, o) for a in (0, 1) for o in (-1, 1) if self._spans and self._clear(a, o))

    def _clear(self, axis: int, out: int) -> bool:
        at, edge = self._spans[axis][out > 0], self.block[out > 0][axis]
        if abs(at - edge) < TINY:
            return True
        if not self.before.cuts:
            return False
        # the cutter may stand out there with its whole width: nowhere may metal be left in its way
        wide = float(self.cutter.real) if self.cutter else TINY
        steps = [s for s in (TINY, wide / 2, wide) if s < abs(edge - at)]
        across, down = self._spans[1 - axis], self._spans[2]
        lying = self.place.solid(self.before)
        for step in steps:
            for share in _SHARES:
                spot = [0.0, 0.0, down[1]]
                spot[axis], spot[1 - axis] = at + out * step, across[0] + share * (across[1] - across[0])
                metal = lying.column(2, (spot[0], spot[1], spot[2]))
                if any(m.low < down[1] - TINY and m.high > down[0] + TINY for m in metal):
                    return False
        return True

    @property
    def through(self) -> bool:
        """Whether it comes out at the bottom of the work."""
        lows = [reach(b, 2)[0] for b in self.lying]
        return bool(lows) and min(lows) <= self.block[0][2] + TINY

    def hole_spots(self) -> list[Corner]:
        """The middles of the holes that it works on, in machine axes."""
        return [self.place.spot(s) for f in self.features if isinstance(f, HoleFeature) for s in spots(self.piece, f)]


def spots(piece: Piece, hole: HoleFeature) -> list[Corner]:
    """Where the holes of a feature are, mm."""
    frame, k = piece.part.frame, float(piece.unit.in_mm)
    found = hole.spots(frame, frame.plane(hole.face, "face"))
    return [(float(a) * k, float(b) * k, float(c) * k) for a, b, c in found]


def walk(piece: Piece, plan: Plan, shop: PlanShop) -> tuple[Stage, ...]:
    """The stages of a plan. Raises ``Refused`` for what is not on this part, each at its place."""
    check_names(piece, plan)
    solid, faced = piece.stock, frozenset[str]()
    made: dict[str, tuple[tuple[OperationKind, float], ...]] = {}
    stages: list[Stage] = []
    for holding in plan.holdings:
        place = Place.of(holding.up, holding.fixed)
        start, faced_then = solid, faced
        for op in holding.operations:
            taken = take(piece, op, shop, len(solid.cuts), holding)
            stage = Stage(
                len(stages),
                holding,
                op,
                place,
                piece,
                solid,
                start,
                taken,
                faced,
                faced_then,
                dict(made),
                shop.cutter(op.cutter),
            )
            stages.append(stage)
            solid = Solid(solid.base, (*_without(solid.cuts, taken), *taken))
            left = float(mm(op.leave, piece.unit)) if op.leave else 0.0
            if op.kind in (OperationKind.FACE, OperationKind.SIDE) and not left:
                faced |= set(stage.faces)
            for f in stage.features:
                made[f.name] = (*made.get(f.name, ()), (op.kind, left))
    return tuple(stages)


def _without(cuts: tuple[Body, ...], taken: tuple[Body, ...]) -> tuple[Body, ...]:
    """Earlier cuts but those that a wider one about the same axis has swallowed."""
    wider = [b for b in taken if isinstance(b, Revolved)]
    if not wider:
        return cuts
    return tuple(c for c in cuts if not (isinstance(c, Revolved) and any(_swallowed(c, b) for b in wider)))


def _swallowed(c: Revolved, b: Revolved) -> bool:
    if c.axis != b.axis or math.dist(c.centre, b.centre) > TINY:
        return False
    (low, high), (lo, hi) = reach(b, b.axis), reach(c, c.axis)
    widest = max(r for _, r in c.profile)
    narrow = min((r for _, r in b.profile if r), default=0.0)
    return low <= lo + TINY and hi <= high + TINY and widest <= narrow + TINY and b.profile[-1][1] > 0


def check_names(piece: Piece, plan: Plan) -> None:
    """Raises ``Refused`` for operations on what is not on this part, or that do not make it."""
    faults: list[FieldError] = []
    words = kind_words()
    for i, h in enumerate(plan.holdings):
        for j, op in enumerate(h.operations):
            at = f"holdings.{i}.operations.{j}.of"
            for n, name in enumerate(op.of):
                feature = piece.features.get(name)
                if op.kind in (OperationKind.FACE, OperationKind.SIDE):
                    right = name in SIDES
                elif feature is None:
                    right = op.kind in (OperationKind.DEBURR, OperationKind.MEASURE)
                else:
                    right = op.kind in stages_of(feature) or op.kind in (OperationKind.DEBURR, OperationKind.MEASURE)
                if not right:
                    known = together((*SIDES, *piece.features), ", ")
                    bound = say("{kind} does not make this; there are: {known}", kind=words[op.kind], known=known)
                    faults.append(FieldError(f"{at}.{n}", name, bound))
    if faults:
        raise Refused(*faults)


def take(piece: Piece, op: PlanOperation, shop: PlanShop, before: int, holding: PlanHolding) -> tuple[Body, ...]:
    """What an operation takes away; numbered on from ``before``."""
    left = float(mm(op.leave, piece.unit)) if op.leave else 0.0
    if op.kind in (OperationKind.FACE, OperationKind.SIDE):
        return tuple(piece.slab(f, left) for f in op.of if f in piece.raw)
    found: list[Body] = []
    for name in op.of:
        feature = piece.features.get(name)
        if feature is None:
            continue
        if isinstance(feature, HoleFeature):
            found += _hole(piece, feature, op.kind, shop.cutter(op.cutter), before + len(found), holding)
        elif op.kind not in DRILLING:
            found += [_leaving(piece, b, left) for b in piece.takes[name]]
    return tuple(found)


def _leaving(piece: Piece, body: Body, left: float) -> Body:
    """A cut that leaves so much at its floor and its walls."""
    if not left or not isinstance(body, (Box, RoundedBox)):
        return body
    low, high = list(body.low), list(body.high)
    for i in range(3):
        if low[i] > piece.stock.extent[0][i]:
            low[i] += left
        if high[i] < piece.stock.extent[1][i]:
            high[i] -= left
    made = {"low": (low[0], low[1], low[2]), "high": (high[0], high[1], high[2])}
    if isinstance(body, Box):
        return Box(**made)
    return RoundedBox(body.key, axis=body.axis, radius=max(body.radius - left, TINY), **made)


def _hole(
    piece: Piece, hole: HoleFeature, kind: OperationKind, cutter: Cutter | None, before: int, holding: PlanHolding
) -> list[Body]:
    if kind not in DRILLING or kind is OperationKind.TAP:
        return []
    frame, k = piece.part.frame, float(piece.unit.in_mm)
    plane = frame.plane(hole.face, "face")
    axis, out = plane.axis, plane.out
    at = float(plane.at) * k
    low, high = piece.stock.extent[0][axis], piece.stock.extent[1][axis]
    start = high + BEYOND if out > 0 else low - BEYOND
    if not piece.spans[axis][0] + TINY < at < piece.spans[axis][1] - TINY:
        pass
    else:
        start = at
    end = (low - BEYOND if out > 0 else high + BEYOND) if hole.depth is None else at - out * float(hole.depth) * k
    if SIDES[holding.up] == (axis, -out):
        start, end, out = end, start, -out
    r = float(hole.diameter) * k / 2
    profile = _profile(hole, kind, cutter, (start, at, end, out, r, k))
    made: list[Body] = []
    for n, spot in enumerate(spots(piece, hole)):
        a, b = (i for i in range(3) if i != axis)
        made.append(Revolved(1000 + before + n, axis, (spot[a], spot[b]), profile))
    return made


def _profile(
    hole: HoleFeature, kind: OperationKind, cutter: Cutter | None, way: tuple[float, float, float, int, float, float]
) -> tuple[tuple[float, float], ...]:
    start, at, end, out, r, k = way
    match kind:
        case OperationKind.SPOT:
            # no wider than the spot drill itself
            wide = min(r, float(cutter.real) / 2 if cutter else r) * SPOT_SHARE
            return (start, wide), (at, wide), (at - out * wide, 0.0)
        case OperationKind.COUNTERSINK if hole.countersink:
            wide = float(hole.countersink.diameter) * k / 2
            deep = (wide - r) / math.tan(math.radians(float(hole.countersink.angle) / 2))
            return (start, wide), (at, wide), (at - out * deep, r)
        case OperationKind.COUNTERBORE if hole.counterbore:
            wide, floor = float(hole.counterbore.diameter) * k / 2, at - out * float(hole.counterbore.depth) * k
            return (start, wide), (floor, wide)
        case OperationKind.DRILL:
            wide = float(cutter.real) / 2 if cutter and cutter.kind is CutterKind.DRILL else r
            if hole.depth is None:
                return (start, wide), (end, wide)
            tip = wide / math.tan(math.radians(float(hole.tip or "118") / 2))
            if hole.made in ("drilled", "tapped") and hole.tip:
                return (start, wide), (end, wide), (end - out * tip, 0.0)
            # what is reamed or bored to a flat bottom is drilled until the point is there
            return (start, wide), (end + out * tip, wide), (end, 0.0)
    return (start, r), (end, r)
