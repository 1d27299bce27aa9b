"""Which cutter of the crib does an operation, which not and why, and which one would reach for. Lengths in mm."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.quantity import Unit, in_places
from incudo.core.kernel.say import say
from incudo.core.parts.features.file import Feature
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.features.milled import Flat, Pocket, Slot, Step
from incudo.core.planning.file import OperationKind
from incudo.core.planning.kinds import CUTTERS
from incudo.core.planning.limits import flute
from incudo.core.planning.piece import Piece
from incudo.core.planning.shop import CribCutter, PlanShop
from incudo.core.reckoning.speed.hole_speed import reaming_stock
from incudo.core.reckoning.speed.shared import step_at, turns, within
from incudo.core.setup.holding import CLEARANCE
from incudo.core.shop.cutter import Cutter, CutterKind

C = CutterKind
#: How far a drill, and a reamer, may be off the hole's own size.
DRILL_OFF, REAMER_OFF = Fraction(6, 100), Fraction(1, 100)
#: How far an end mill may be over a slot's width or a corner's radius.
MILL_OFF = Fraction(2, 100)
#: A boring bar needs so much room in the hole that it begins in, and leaves so much to be bored.
BAR_ROOM, LEAST_BORED = Fraction(1, 2), Fraction(3, 10)
#: One reaches for an end mill of about this diameter to mill steps and ends.
USUAL_MILL = Fraction(16)
#: Below so many watts a machine is faced with a fly cutter, not with a shell mill.
SMALL_MOTOR = 700


@dataclass(frozen=True)
class Unfit:
    """Why a cutter does not do, with the code of the rule that says it."""

    code: str
    words: str


def deep_of(piece: Piece, kind: OperationKind, feature: Feature | None, face: str = "") -> Fraction:
    """How deep an operation goes, measured along the spindle as it is usually held."""
    mm = piece.unit.in_mm
    if kind is OperationKind.SIDE:
        slab = piece.slabs[face]
        low, high = piece.stock.extent
        return min(Fraction(high[i] - low[i]).limit_denominator(1000) for i in range(3) if i != slab.axis)
    match feature:
        case Step() if not piece.bar:
            return Fraction(min(feature.depth, feature.length, key=Fraction)) * mm
        case Flat():
            bottom, top = piece.part.frame.spans[2]
            return (Fraction(top - bottom) - Fraction(feature.across)) * mm
        case Slot() | Pocket() | HoleFeature():
            if feature.depth is not None:
                return Fraction(feature.depth) * mm
            plane = piece.part.frame.plane(feature.face, "face")
            return Fraction(piece.part.frame.thickness(plane)) * mm
    return Fraction(0)


def unfit(
    piece: Piece,
    shop: PlanShop,
    kind: OperationKind,
    feature: Feature | None,
    cutter: Cutter,
    deep: Fraction | None = None,
) -> Iterator[Unfit]:
    """Everything that speaks against a cutter for an operation, the plainest first."""
    if cutter.kind not in CUTTERS.get(kind, ()):
        yield Unfit("wrong-cutter", say("This kind of cutter does not do it: {kind}.", kind=cutter.kind.value))
        return
    if cutter.on_arbor is not shop.level:
        yield Unfit(
            "other-spindle",
            say("It sits on a level arbor, and {machine} has none.", machine=shop.name)
            if cutter.on_arbor
            else say("{machine} drives what sits on its arbor: a plain, or a side and face cutter.", machine=shop.name),
        )
        return
    yield from _size(piece, kind, feature, cutter)
    reach = flute(cutter)
    wanted = deep if deep is not None else deep_of(piece, kind, feature)
    if cutter.on_arbor:
        free = shop.under_arbor(cutter)
        if kind is not OperationKind.FACE and wanted + CLEARANCE > free:
            words = say(
                "It stands out {free} below its collars, and {wanted} are needed: the arbor comes down on the work.",
                free=_len(free, piece.unit),
                wanted=_len(wanted + CLEARANCE, piece.unit),
            )
            yield Unfit("arbor-low", words)
    elif (
        kind
        not in (
            OperationKind.FACE,
            OperationKind.SPOT,
            OperationKind.TAP,
            OperationKind.COUNTERSINK,
            OperationKind.BORE,
            OperationKind.CHAMFER,
        )
        and wanted > reach
    ):
        words = say(
            "It cuts {reach} of its length, and {wanted} are needed: the shank rubs on the wall.",
            reach=_len(reach, piece.unit),
            wanted=_len(wanted, piece.unit),
        )
        yield Unfit("flute-short", words)
    slow = too_slow(shop, cutter)
    if slow:
        yield Unfit("too-fast", slow)


def _len(mm: Fraction, unit: Unit) -> str:
    return f"{in_places(mm / unit.in_mm, 3 if unit is Unit.INCH else 2)} {unit}"


def too_slow(shop: PlanShop, cutter: Cutter) -> str:
    """Why a cutter is too large for this machine: its slowest speed is faster than the cutter stands. Empty if not."""
    key = "too slow", cutter.name
    if key not in shop.memo:
        shop.memo[key] = _too_slow(shop, cutter)
    return shop.memo[key]  # type: ignore[return-value]


def _too_slow(shop: PlanShop, cutter: Cutter) -> str:
    found = shop.bench(cutter).range
    if found is None:
        return ""
    speed = turns(Fraction(found.v_high), cutter.real)
    spindle = shop.machine.spindle
    steps = tuple(Fraction(s) for s in spindle.steps)
    ranges = tuple(Fraction(x) for pair in sorted(spindle.ranges) for x in pair)
    real = step_at(speed, steps, "below") if steps else within(speed, ranges)
    if real is not None:
        return ""
    lowest = min(steps or ranges)
    return say(
        "The slowest speed of {machine}, {lowest} rpm, is too fast for it: {most} rpm at most.",
        machine=shop.name,
        lowest=lowest,
        most=round(speed),
    )


def _size(piece: Piece, kind: OperationKind, feature: Feature | None, cutter: Cutter) -> Iterator[Unfit]:
    mm, real, unit = piece.unit.in_mm, cutter.real, piece.unit
    if kind is OperationKind.CHAMFER and Fraction(cutter.angle or 0) != (45 if cutter.kind is C.ANGLE else 90):
        yield Unfit("wrong-cutter", say("It cuts {angle}°, and a chamfer has 45° to each face.", angle=cutter.angle))
    match feature:
        case Slot() if kind is OperationKind.SLOT and cutter.width > Fraction(feature.width) * mm + MILL_OFF:
            words = say("It is wider than the slot, {width}.", width=_len(Fraction(feature.width) * mm, unit))
            yield Unfit("too-wide", words)
        case Pocket() if kind is OperationKind.POCKET and real / 2 > Fraction(feature.radius) * mm + MILL_OFF:
            words = say(
                "Its radius, {radius}, is larger than the corner's, {corner}.",
                radius=_len(real / 2, unit),
                corner=_len(Fraction(feature.radius) * mm, unit),
            )
            yield Unfit("corner", words)
        case HoleFeature():
            yield from _hole_size(piece, kind, feature, cutter)


def _hole_size(piece: Piece, kind: OperationKind, hole: HoleFeature, cutter: Cutter) -> Iterator[Unfit]:
    mm, real, unit = piece.unit.in_mm, cutter.real, piece.unit
    size = Fraction(hole.diameter) * mm
    match kind:
        case OperationKind.DRILL:
            low, high = drill_band(size, hole.made)
            if not low <= real <= high:
                words = say(
                    "It drills {real}; {low} to {high} is wanted here.",
                    real=_len(real, unit),
                    low=_len(low, unit),
                    high=_len(high, unit),
                )
                yield Unfit("drill-size", words)
        case OperationKind.REAM if abs(real - size) > REAMER_OFF:
            yield Unfit(
                "reamer-size", say("It reams {real}, not {size}.", real=_len(real, unit), size=_len(size, unit))
            )
        case OperationKind.TAP if hole.thread and cutter.thread != hole.thread.designation:
            yield Unfit("tap-size", say("It cuts {one}, not {two}.", one=cutter.thread, two=hole.thread.designation))
        case OperationKind.COUNTERSINK if hole.countersink:
            if Fraction(cutter.angle or 0) != Fraction(hole.countersink.angle):
                words = say("It has {one}°, and {two}° is asked for.", one=cutter.angle, two=hole.countersink.angle)
                yield Unfit("sink-angle", words)
            elif real < Fraction(hole.countersink.diameter) * mm:
                yield Unfit("sink-angle", say("It is smaller than the countersink is wide."))
        case OperationKind.COUNTERBORE if hole.counterbore:
            wide = Fraction(hole.counterbore.diameter) * mm
            if abs(real - wide) > Fraction(15, 100):
                words = say("It cuts {real} wide, not {wide}.", real=_len(real, unit), wide=_len(wide, unit))
                yield Unfit("bore-size", words)


def drill_band(size: Fraction, made: str) -> tuple[Fraction, Fraction]:
    """From which diameter to which a hole is drilled, by what comes after it, mm."""
    if made == "reamed":
        stock = reaming_stock(size)
        return size - stock * Fraction(5, 2), size - stock / 2
    if made == "bored":
        return size / 5, size - LEAST_BORED
    return size - DRILL_OFF, size + DRILL_OFF


def why_not_there(found: CribCutter | None, name: str) -> str:
    """Why a cutter cannot be taken from the crib; empty when it can."""
    if found is None:
        return say("The crib has no {name}.", name=name)
    if found.tagged:
        return say("{name} is tagged: {why}.", name=name, why=found.tagged)
    if not found.cutter.owned:
        return say("The crib has no {name}.", name=name)
    if found.left < 1:
        return say("Every {name} is out.", name=name)
    return found.unheld


def fitting(
    piece: Piece,
    shop: PlanShop,
    kind: OperationKind,
    feature: Feature | None,
    face: str = "",
    deep: Fraction | None = None,
) -> list[Cutter]:
    """The cutters of the crib that do an operation and are there, the one that one would reach for first."""
    deep = deep if deep is not None else deep_of(piece, kind, feature, face)
    key = id(piece), kind, feature.name if feature else "", deep
    if key not in shop.memo:
        # the piece is kept with the answer, so that its id is not given to another one
        shop.memo[key] = piece, _fitting(piece, shop, kind, feature, deep)
    return list(shop.memo[key][1])  # type: ignore[index]


def _fitting(
    piece: Piece, shop: PlanShop, kind: OperationKind, feature: Feature | None, deep: Fraction
) -> list[Cutter]:
    found = [
        c.cutter
        for k in CUTTERS.get(kind, ())
        for c in shop.by_kind.get(k, ())
        if not why_not_there(c, c.cutter.name) and not any(unfit(piece, shop, kind, feature, c.cutter, deep))
    ]
    return sorted(found, key=lambda c: _rank(piece, shop, kind, feature, c))


def best_cutter(
    piece: Piece, shop: PlanShop, kind: OperationKind, feature: Feature | None, face: str = ""
) -> Cutter | None:
    """The cutter that one would reach for; none when the crib has none that does."""
    return next(iter(fitting(piece, shop, kind, feature, face)), None)


def _across(piece: Piece, feature: Feature | None) -> Fraction:
    """How wide a cut over the work is at most."""
    if isinstance(feature, Step) and not piece.bar:
        return Fraction(max(feature.depth, feature.length, key=Fraction)) * piece.unit.in_mm
    low, high = piece.stock.extent
    return Fraction(min(high[i] - low[i] for i in range(3))).limit_denominator(1000)


def _rank(piece: Piece, shop: PlanShop, kind: OperationKind, feature: Feature | None, c: Cutter) -> tuple[object, ...]:
    order = list(CUTTERS[kind])
    if kind is OperationKind.FACE:
        order = [C.FLY, C.SHELL, C.FACE] if shop.machine.spindle.watts < SMALL_MOTOR else [C.SHELL, C.FLY, C.FACE]
        order += [C.END_MILL, C.ROUGHING, C.PLAIN, C.SIDE_AND_FACE]
    wanted_teeth = 2 if shop.soft or kind in (OperationKind.SLOT, OperationKind.POCKET) else 4
    reground = c.measured is not None
    made_of = c.made_of.value != "high-speed steel"
    other_unit = c.unit is not piece.unit
    first = order.index(c.kind)
    size: Fraction
    match feature:
        case Slot() if kind is OperationKind.SLOT:
            size = abs(Fraction(feature.width) * piece.unit.in_mm - c.width)
        case Pocket() if kind is OperationKind.POCKET:
            size = abs(2 * Fraction(feature.radius) * piece.unit.in_mm - c.real)
        case HoleFeature() if kind is OperationKind.DRILL:
            low, high = drill_band(Fraction(feature.diameter) * piece.unit.in_mm, feature.made)
            aim = high if feature.made == "bored" else (low + high) / 2
            size = abs(aim - c.real)
        case HoleFeature() if kind is OperationKind.COUNTERBORE and feature.counterbore:
            size = abs(Fraction(feature.counterbore.diameter) * piece.unit.in_mm - c.real)
        case _ if c.on_arbor:
            # wide enough to take it in one cut, and no larger than it must be
            size = max(_across(piece, feature) - c.width, Fraction(0)) * 10 + c.real / 100
        case _:
            size = abs(USUAL_MILL - c.real) if kind is not OperationKind.SPOT else c.real
    return first, made_of, reground, other_unit, round(float(size), 2), abs(c.teeth - wanted_teeth), c.name
