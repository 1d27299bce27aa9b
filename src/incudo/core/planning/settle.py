"""What Incudo fills in for an operation: speed, feed, passes, entry, direction, locks, path, time; with working.

Asked of the calculations of the reckoner, so that nothing is worked out twice. Lengths in mm, feeds in mm a minute,
times in seconds.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from math import ceil

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.working import Step
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.geometry.sections import reach
from incudo.core.parts.geometry.solid import Revolved
from incudo.core.planning import limits
from incudo.core.planning.feed import conventional, feed_of
from incudo.core.planning.file import OperationKind
from incudo.core.planning.kinds import DRILLING, MILLING
from incudo.core.planning.piece import TINY
from incudo.core.planning.shop import PlanShop, cuts_to_middle, mm
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.bench import SHARE_OF_DRILL
from incudo.core.reckoning.calculation import Outcome
from incudo.core.reckoning.cuts.shared import passes
from incudo.core.reckoning.holes import quill_time
from incudo.core.reckoning.holes.shared import visits
from incudo.core.reckoning.inputs import Values
from incudo.core.reckoning.speed import chip_thinning, cutting_time, spindle_speed, table_feed
from incudo.core.reckoning.speed.power import CALCULATION as POWER
from incudo.core.shop.cutter import Cutter, CutterKind
from incudo.core.shop.machine import Axis

#: What is cut on both sides at once, or over its whole width: no way is the better one.
_EITHER_WAY = (OperationKind.FACE, OperationKind.SLOT)
#: A reamer goes about twice as fast as a drill, the other tools of holes as fast.
FEED_OF_DRILL = {CutterKind.REAMER: Fraction(2)}


@dataclass(frozen=True)
class Settled:
    """The numbers of one operation. ``wanted`` is the reckoned speed, ``lowest`` that of the machine when it is too
    fast; ``chip`` per tooth, for holes per turn, with its band. ``across`` is how many passes lie beside each other.
    """

    speed: Fraction | None = None
    wanted: Fraction | None = None
    too_fast: Fraction | None = None
    feed: Fraction | None = None
    chip: Fraction | None = None
    band: tuple[Fraction, Fraction] | None = None
    by_power: bool = False
    per_turn: Fraction | None = None
    depths: tuple[Fraction, ...] = ()
    across: int = 1
    width: Fraction = Fraction(0)
    finish: Fraction = Fraction(0)
    direction: str = ""
    entry: str = ""
    lock: tuple[str, ...] = ()
    measure: bool = False
    run: int = 0
    path: tuple[tuple[float, float], ...] = ()
    watts: Fraction | None = None
    seconds: Fraction = Fraction(0)
    working: Mapping[str, tuple[Step, ...]] = field(default_factory=dict)


def settle(stage: Stage, shop: PlanShop) -> Settled:
    """All numbers of one operation."""
    op = stage.operation
    if op.kind is OperationKind.DEBURR:
        return Settled(seconds=Fraction(limits.DEBURRING))
    if op.kind is OperationKind.MEASURE:
        return Settled(seconds=Fraction(limits.MEASURING))
    cutter = stage.cutter
    if cutter is None:
        return Settled(path=path_of(stage, Fraction(0)))
    return _milled(stage, shop, cutter) if op.kind in MILLING else _holed(stage, shop, cutter)


def _school(shop: PlanShop) -> dict[str, object]:
    spindle = shop.machine.spindle
    merged = tuple(Fraction(x) for pair in sorted(spindle.ranges) for x in pair)
    return {
        "steps": tuple(Fraction(s) for s in spindle.steps),
        "ranges": merged,
        "school": "nearest" if shop.nearest else "below",
    }


def _speed(
    stage: Stage, shop: PlanShop, cutter: Cutter, diameter: Fraction
) -> tuple[Outcome | None, dict[str, object]]:
    """The spindle speed of the reckoner, and the named parts of ``Settled`` that follow."""
    found = shop.bench(cutter).range
    if found is None:
        return None, {}
    share = SHARE_OF_DRILL.get(cutter.kind, Fraction(1))
    surface = Fraction(found.v_low) * share
    values = Values({"surface": surface, "diameter": diameter, **_school(shop)}, shop.machine.unit)  # type: ignore[dict-item]
    outcome = spindle_speed.CALCULATION.work(values)
    by_name = {o.name: o.value for o in outcome.results}
    wanted, step = by_name["speed"], by_name.get("step")
    given = stage.operation.speed
    lowest = _lowest(shop) if step is None else None
    speed = Fraction(given) if given is not None else step
    return outcome, {"wanted": wanted, "speed": speed or None, "too_fast": lowest}


def _set_to(made: Mapping[str, object]) -> Fraction | None:
    """The speed among the named parts, none where the machine has none that is slow enough."""
    speed = made.get("speed")
    return speed if isinstance(speed, Fraction) else None


def _lowest(shop: PlanShop) -> Fraction:
    spindle = shop.machine.spindle
    return Fraction(spindle.steps[0] if spindle.steps else min(r[0] for r in spindle.ranges))


def _milled(stage: Stage, shop: PlanShop, cutter: Cutter) -> Settled:
    op, unit = stage.operation, stage.piece.unit
    outcome, made = _speed(stage, shop, cutter, cutter.real)
    arbor = cutter.on_arbor
    working: dict[str, tuple[Step, ...]] = {}
    if outcome:
        working["speed"] = outcome.steps
    run, along, across, down = stage.sizes
    depth = mm(op.depth, unit) if op.depth else limits.depth_limit(op.kind, cutter, shop.soft)
    width = mm(op.width, unit) if op.width else limits.width_limit(op.kind, cutter)
    finish = mm(op.finish, unit) if op.finish is not None else limits.FINISH[unit]
    if op.leave and mm(op.leave, unit):
        finish = Fraction(0)
    depths: tuple[Fraction, ...] = ()
    if down and depth:
        depths = passes(down, depth, finish) if op.kind is not OperationKind.SIDE else (down,)
    lanes = _lanes(op.kind, cutter.width, width, across)
    beside = op.kind in (OperationKind.SIDE, OperationKind.STEP, OperationKind.POCKET)
    engaged = min(width if beside else across, cutter.width)
    # how far its circle is in the metal: sideways, below an arbor downwards
    inside = max(depths, default=Fraction(0)) if arbor else engaged
    chip = shop.chip(cutter)
    thin: tuple[Step, ...] = ()
    if chip and (beside or arbor):
        chip, thin = _thinned(cutter, inside, chip, shop.machine.unit)
    feed, feed_made = _feed(stage, shop, cutter, _set_to(made), chip, run, thin)
    made |= feed_made
    seconds = Fraction(0)
    if feed and depths:
        values = Values(
            {
                "length": max(along, Fraction(1)),
                "diameter": cutter.real,
                "engaged": max(min(inside, cutter.real), Fraction(1, 10)),
                "overrun": limits.CLEAR + (run_in(stage, cutter) if arbor else cutter.real / 2),
                "passes": Fraction(len(depths) * lanes),
                "feed": feed,
                "handling": Fraction(limits.PASS * len(depths) * lanes),
            },
            shop.machine.unit,
        )
        time = cutting_time.CALCULATION.work(values)
        seconds = time.answer.value
        working["time"] = time.steps
    if feed and depths:
        made["watts"] = _power(shop, engaged, max(depths), feed, working)
    made["working"] = working | dict(made.pop("feed_working", {}))  # type: ignore[call-overload]
    return Settled(
        **made,  # type: ignore[arg-type]
        depths=depths,
        across=lanes,
        width=width,
        finish=finish,
        direction=direction_of(stage, cutter),
        entry=op.entry or _entry(stage, cutter),
        lock=op.lock if op.lock is not None else locks(stage, run),
        measure=op.measure if op.measure is not None else not op.leave,
        run=run,
        path=way_over(stage, cutter),
        seconds=seconds,
    )


def run_in(stage: Stage, cutter: Cutter) -> Fraction:
    """How far before the work a cutter on an arbor is clear of it at full depth, mm: √(d · (D − d))."""
    return cutting_time.approach(cutter.real, min(stage.sizes[3], cutter.real))


def _thinned(
    cutter: Cutter, engaged: Fraction, chip: tuple[Fraction, Fraction], unit: Unit
) -> tuple[tuple[Fraction, Fraction], tuple[Step, ...]]:
    """The feed per tooth that gives chips of that thickness where less than half the cutter is in, with its working."""
    given = {"diameter": cutter.real, "engaged": max(engaged, Fraction(1, 10)), "chip": chip[0]}
    found = chip_thinning.CALCULATION.work(Values(given, unit))
    more = found.answer.value / chip[0]
    return (chip[0] * more, chip[1] * more), found.steps if more > 1 else ()


def _power(
    shop: PlanShop, engaged: Fraction, deep: Fraction, feed: Fraction, working: dict[str, tuple[Step, ...]]
) -> Fraction:
    values = Values(
        {
            "engaged": engaged,
            "deep": deep,
            "feed": feed,
            "unit_power": Fraction(shop.stock.material.unit_power),
            "efficiency": Fraction(80),
            "motor": Fraction(shop.machine.spindle.watts),
        },
        shop.machine.unit,
    )
    found = POWER.work(values)
    working["power"] = found.steps
    return found.answer.value


def _feed(
    stage: Stage,
    shop: PlanShop,
    cutter: Cutter,
    speed: Fraction | None,
    chip: tuple[Fraction, Fraction] | None,
    run: int,
    thin: tuple[Step, ...],
) -> tuple[Fraction | None, dict[str, object]]:
    if not speed or chip is None:
        return None, {}
    teeth = Fraction(cutter.teeth or (6 if cutter.kind is CutterKind.COUNTERSINK else 2))
    axis = "xy"[run]
    handle = shop.handles.get(Axis(axis))
    per_turn = mm(handle.per_turn, handle.unit) if handle else Fraction(5)
    machine = shop.machine
    offered: tuple[Fraction, ...] = ()
    if axis in machine.power_feed:
        offered = tuple(mm(f, machine.unit) for f in machine.power_feeds)
    values = Values(
        {"speed": speed, "teeth": teeth, "chip": chip[0], "per_turn": per_turn, "feeds": offered, "reckoned": None},
        machine.unit,
    )
    found = table_feed.CALCULATION.work(values)
    by_name = {o.name: o.value for o in found.results}
    feed = by_name.get("step", by_name["feed"])
    if stage.operation.feed is not None:
        feed = mm(stage.operation.feed, machine.unit)
    made: dict[str, object] = {
        "feed": feed,
        "chip": feed / (speed * teeth),
        "band": chip,
        "by_power": axis in machine.power_feed,
        "per_turn": 60 * per_turn / feed if feed else None,
        "feed_working": {"feed": (*thin, *found.steps)},
    }
    return feed, made


def _holed(stage: Stage, shop: PlanShop, cutter: Cutter) -> Settled:
    op = stage.operation
    holes = len(stage.hole_spots())
    hole = next(f for f in stage.features if isinstance(f, HoleFeature))
    k = stage.piece.unit.in_mm
    deep = _hole_depth(stage, hole)
    locked = op.lock if op.lock is not None else ("x", "y")
    path = way_over(stage, cutter)
    if op.kind is OperationKind.TAP:
        pitch = hole.thread.pitch_mm(stage.piece.unit) if hole.thread else Fraction(1)
        turns = deep / pitch * 2
        seconds = holes * (turns * limits.TAP_TURN + 2 * limits.HOLE)
        speed = Fraction(op.speed) if op.speed else None
        return Settled(speed=speed, lock=locked, path=path, seconds=seconds)
    diameter = Fraction(hole.diameter) * k if op.kind is OperationKind.BORE else cutter.real
    outcome, made = (
        _bore_speed(stage, shop, diameter) if op.kind is OperationKind.BORE else _speed(stage, shop, cutter, diameter)
    )
    working: dict[str, tuple[Step, ...]] = {"speed": outcome.steps} if outcome else {}
    speed = _set_to(made)
    chip = shop.chip(cutter) if op.kind is not OperationKind.BORE else (limits.BORING_FEED, limits.BORING_FEED * 2)
    more = FEED_OF_DRILL.get(cutter.kind, Fraction(1))
    seconds = Fraction(0)
    if speed and chip:
        band = chip[0] * more, chip[1] * more
        per_turn = band[0]
        if op.feed is not None:
            per_turn = mm(op.feed, shop.machine.unit) / speed
        offered = tuple(mm(f, shop.machine.unit) for f in shop.machine.quill_feeds)
        if op.feed is not None or not any(f <= per_turn for f in offered):
            offered = ()
        values = Values(
            {
                "diameter": diameter,
                "depth": deep,
                "angle": cutter.point,
                "speed": speed,
                "per_turn": per_turn,
                "feeds": offered,
                "approach": limits.CLEAR,
                "holes": Fraction(holes),
                "handling": Fraction(limits.HOLE),
            },
            shop.machine.unit,
        )
        found = quill_time.CALCULATION.work(values)
        by_name = {o.name: o.value for o in found.results}
        real = by_name["per_turn"]
        rounds = _bore_passes(stage, hole) if op.kind is OperationKind.BORE else 1
        seconds = by_name["time"] * rounds
        working["time"] = found.steps
        made |= {"feed": real * speed, "chip": real, "band": band, "by_power": bool(offered)}
    return Settled(
        **made,  # type: ignore[arg-type]
        lock=locked,
        measure=op.measure if op.measure is not None else True,
        path=path,
        run=2,
        seconds=seconds,
        working=working,
    )


def _bore_speed(stage: Stage, shop: PlanShop, diameter: Fraction) -> tuple[Outcome | None, dict[str, object]]:
    """Boring goes by the hole's diameter at the low end of a drill's speed: the offset bar unbalances the head."""
    drill = next((c.cutter for c in shop.crib.values() if c.cutter.kind is CutterKind.DRILL), None)
    return _speed(stage, shop, drill, diameter) if drill else (None, {})


def _bore_passes(stage: Stage, hole: HoleFeature) -> int:
    k = stage.piece.unit.in_mm
    size = Fraction(hole.diameter) * k
    bores = [b for b in stage.taken if isinstance(b, Revolved)]
    before = (c for c in stage.before.cuts if isinstance(c, Revolved) and any(_all_through(c, b) for b in bores))
    drilled = max((2 * Fraction(r) for c in before for _, r in c.profile if 2 * r < size), default=Fraction(0))
    left = max(Fraction(hole.diameter) * k - drilled, Fraction(0))
    return max(1, ceil(left / limits.BORING_PASS))


def _all_through(c: Revolved, bore: Revolved) -> bool:
    """Whether a cut lies about the axis of a bore and goes as deep; a spot does not."""
    if (c.axis, c.centre) != (bore.axis, bore.centre):
        return False
    (low, high), (lo, hi) = reach(c, c.axis), reach(bore, bore.axis)
    return low <= lo + TINY and hi <= high + TINY


def _hole_depth(stage: Stage, hole: HoleFeature) -> Fraction:
    """How deep the quill goes, at full diameter."""
    k = stage.piece.unit.in_mm
    match stage.kind:
        case OperationKind.SPOT:
            wide = Fraction(hole.diameter) * k
            return min(wide, stage.cutter.real if stage.cutter else wide) / 2
        case OperationKind.COUNTERSINK if hole.countersink:
            return (Fraction(hole.countersink.diameter) - Fraction(hole.diameter)) * k / 2
        case OperationKind.COUNTERBORE if hole.counterbore:
            return Fraction(hole.counterbore.depth) * k
    if hole.depth is not None:
        return Fraction(hole.depth) * k
    low, high = stage.block[0][2], stage.block[1][2]
    return Fraction(high - low).limit_denominator(10_000)


def opens_sideways(stage: Stage) -> bool:
    """Whether a cutter can come in from outside."""
    return any(stage.is_open(a, o) for a in (0, 1) for o in (-1, 1))


def _whole(stage: Stage, along: int) -> bool:
    return stage.is_open(along, -1) and stage.is_open(along, 1)


def runs_through(stage: Stage) -> bool:
    """Whether a cut goes along X from one end of the work to the other, as a cutter on an arbor must."""
    return stage.sizes[0] == 0 and _whole(stage, 0)


def _lanes(kind: OperationKind, diameter: Fraction, width: Fraction, across: Fraction) -> int:
    if width <= 0 or across <= 0:
        return 1
    match kind:
        case OperationKind.SLOT:
            narrow = across <= diameter * Fraction(101, 100)
            return 1 if narrow else 2 + _between_walls(float(across), float(diameter))
        case OperationKind.POCKET:
            return 1 + max(0, ceil((across - diameter) / width))
        case OperationKind.CHAMFER | OperationKind.ANGLE:
            return 1
    return max(1, ceil(across / width))


def _entry(stage: Stage, cutter: Cutter) -> str:
    if opens_sideways(stage):
        return "outside"
    return "plunge" if cuts_to_middle(cutter) else "hole"


def locks(stage: Stage, run: int) -> tuple[str, ...]:
    """The axes that do not move while it cuts."""
    if stage.kind is OperationKind.POCKET:
        return ("z",)
    return tuple(a for i, a in enumerate("xyz") if i != run)


def way_over(stage: Stage, cutter: Cutter) -> tuple[tuple[float, float], ...]:
    """The way of a cutter over the work: of its axis, on an arbor of its middle."""
    return path_of(stage, cutter.width, run_in(stage, cutter) if cutter.on_arbor else None)


def direction_of(stage: Stage, cutter: Cutter) -> str:
    """Conventional or climb, as the plan says or as is usual; empty where no way is the better one."""
    either = stage.kind in _EITHER_WAY and not cutter.on_arbor
    return stage.operation.direction or ("" if either else "conventional")


def path_of(stage: Stage, diameter: Fraction, run: Fraction | None = None) -> tuple[tuple[float, float], ...]:
    """The way of the cutter's axis over the work, in machine X and Y: for holes from one to the next.

    ``diameter`` is how wide it cuts; ``run`` how far before open ends it begins but for a little, half of it without.
    Passes beside each other all go the way that the table feeds.
    """
    if stage.kind in DRILLING:
        found = [(Fraction(x), Fraction(y)) for x, y, _ in stage.hole_spots()]
        return tuple((float(found[i][0]), float(found[i][1])) for i in visits(found))
    if stage.from_above is None:
        return ()
    x, y = stage.from_above
    r = float(diameter) / 2
    over = float(limits.CLEAR) + (r if run is None else float(run))
    if stage.kind is OperationKind.POCKET or (stage.kind is OperationKind.SLOT and not opens_sideways(stage)):
        lo, hi = (x[0] + r, y[0] + r), (x[1] - r, y[1] - r)
        if lo[0] > hi[0] or lo[1] > hi[1]:
            return ((sum(x) / 2, sum(y) / 2),)
        return (lo, (hi[0], lo[1]), hi, (lo[0], hi[1]), lo)
    along = stage.sizes[0]
    span, side = (x, y) if along == 0 else (y, x)
    begin = span[0] - over if stage.is_open(along, -1) else span[0] + r
    end = span[1] + over if stage.is_open(along, 1) else span[1] - r
    lanes = _path_lanes(stage, 1 - along, side, float(diameter), 1.0 if run is not None else float(limits.OVERLAP))
    _, sign, kind = feed_of(stage, direction_of(stage, stage.cutter) if stage.cutter else "")
    ways = [sign] * len(lanes)
    if stage.kind is OperationKind.SLOT and kind is None and len(lanes) > 1 and _whole(stage, along):
        ways[-2:] = conventional(along)
    ends = {1: (begin, end), -1: (end, begin)}
    points = [(e, at) if along == 0 else (at, e) for at, way in zip(lanes, ways, strict=True) for e in ends[way]]
    return tuple(points)


def _path_lanes(stage: Stage, axis: int, side: tuple[float, float], d: float, share: float) -> list[float]:
    """Where the axis of the cutter lies across its run, pass beside pass, each taking a share of its width at most; the
    last is the one at the wall.
    """
    low, high = stage.is_open(axis, -1), stage.is_open(axis, 1)
    wide, r = side[1] - side[0], d / 2
    if stage.kind is OperationKind.SIDE:
        slab = stage.piece.slabs[stage.faces[0]] if stage.faces else None
        out = stage.place.signs[axis] * slab.out if slab else 1
        return [side[0] + r] if out > 0 else [side[1] - r]
    if low and high:
        count = max(1, ceil(wide / max(d * share, TINY))) if d else 1
        step = wide / count
        return [side[0] + step * (i + 0.5) for i in range(count)]
    if low or high:
        wall = side[0] if high else side[1]
        out = 1 if high else -1
        count = max(1, ceil(wide / max(d * share, TINY))) if d else 1
        return (
            [wall + out * (r + (wide - min(wide, d)) * (1 - i / max(count - 1, 1))) for i in range(count)]
            if (count > 1)
            else [wall + out * r]
        )
    middle = (side[0] + side[1]) / 2
    if wide <= d * 1.01:
        return [middle]
    inner = _between_walls(wide, d)
    step = (wide - d) / (inner + 1)
    return [*(side[0] + r + step * (i + 1) for i in range(inner)), side[0] + r, side[1] - r]


def _between_walls(wide: float, d: float) -> int:
    """How many passes a slot takes besides those along its walls, so that nothing is left standing between them."""
    return max(1, ceil((wide - d) / max(d * float(limits.OVERLAP), TINY)) - 1)


__all__ = ["Refused", "Settled", "Unit", "locks", "opens_sideways", "path_of", "settle"]
