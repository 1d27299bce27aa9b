"""The steps of a milling operation: touch, set, one pass after the other, measured before the last.

The cutter comes to every place across while it is clear of the work; in a pocket it goes straight.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from incudo.core.cutting.at_work import AtWork
from incudo.core.cutting.measure import check_of
from incudo.core.cutting.slides import Go
from incudo.core.cutting.step import Check, RunStep, StepKind, Zero
from incudo.core.kernel.quantity import Unit, in_places
from incudo.core.kernel.say import capital, say
from incudo.core.locating.climb import Milling
from incudo.core.parts.holds import Hold
from incudo.core.planning.feed import TABLE, conventional, feed_of, looks
from incudo.core.planning.file import KEPT, OperationKind
from incudo.core.planning.limits import MEASURING, OVERLAP
from incudo.core.planning.piece import exact
from incudo.core.planning.settle import Settled, opens_sideways
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.cuts.shared import passes
from incudo.core.reckoning.inputs import shown
from incudo.core.shop.machine import Way

_TABLE_WORDS = {
    Way.LEFT: say("table to the left"),
    Way.RIGHT: say("table to the right"),
    Way.TOWARDS: say("table towards you"),
    Way.AWAY: say("table away from you"),
}


@dataclass(frozen=True)
class _Cut:
    """One pass: how far it goes along the axis that is set, and what is set beside it."""

    axis: str
    place: Fraction
    takes: Fraction


def steps(work: AtWork, stage: Stage, n: Settled) -> Iterator[RunStep]:
    """The steps of one milling operation."""
    if stage.cutter is not None and stage.cutter.on_arbor:
        yield from work.cutter_in(stage)
        yield from work.sided(stage, stage.cutter.width)
    else:
        for axis in ("x", "y"):
            yield from work.found(stage, axis)
        yield from work.cutter_in(stage)
    if stage.cutter is None or not stage.taken:
        yield work.set_up(stage, n, say("Nothing is left to cut here: see the plan."))
        return
    if stage.kind is OperationKind.SIDE:
        yield from _side(work, stage, n)
    elif stage.kind in (OperationKind.ANGLE, OperationKind.CHAMFER):
        yield from _to_size(work, stage, n)
    else:
        yield from _down(work, stage, n)


def _down(work: AtWork, stage: Stage, n: Settled) -> Iterator[RunStep]:
    """Passes one below the other."""
    spans = stage.spans(2)
    assert spans is not None and stage.cutter is not None  # noqa: S101, PT018 (something is taken, with a cutter)
    begins = exact(spans[1])
    if stage.kind is OperationKind.FACE:
        what = say("the highest place of {face}", face=work.course.words(stage))
        yield from work.touched(stage, begins, what, f"{stage.operation.id} rough", stage.faces[0])
    else:
        top, what = work.top_of(stage)
        name = stage.operation.z
        yield from work.touched(stage, top, what, name or stage.holding.up, stage.holding.up if name == KEPT else name)
    feed, way = _feed(work, stage, n)
    over: tuple[str, ...] = ()
    if stage.kind is OperationKind.FACE and stage.cutter.on_arbor and n.across == 1:
        over = (say("Set the table so that the cutter reaches over the work from front to rear."),)
    yield work.set_up(stage, n, *over, *feed)
    depths = n.depths or (exact(spans[1] - spans[0]),)
    cuts, at = [], begins
    for d in depths:
        at -= d
        cuts.append(_Cut("z", at, d))
    check = check_of(work.course, stage, 2, depths) if n.measure else None
    yield from _passes(work, stage, n, cuts, check, way)


def _to_size(work: AtWork, stage: Stage, n: Settled) -> Iterator[RunStep]:
    """What no dial tells: a slope or an edge is cut until it measures what the drawing says."""
    yield work.set_up(stage, n)
    slope = stage.kind is OperationKind.ANGLE
    do = (
        say("Head or work set over to the angle first, and tried with a protractor.")
        if slope
        else say("Along the edge, a little deeper each time."),
        say("Light passes, until it measures what the drawing says."),
    )
    yield RunStep(
        id=f"{stage.operation.id}.pass-1",
        kind=StepKind.PASS,
        holding=stage.holding.id,
        operation=stage.operation.id,
        title=work.title(stage),
        do=do,
        why=(say("Measure after each pass."),),
        cautions=(say("Stop the spindle and wait until it has stopped before you measure."),),
        seconds=n.seconds,
    )


def _side(work: AtWork, stage: Stage, n: Settled) -> Iterator[RunStep]:
    """Passes one beside the other, each at full height: an end milled by the side of the cutter."""
    assert stage.cutter is not None  # noqa: S101 (asked by the caller)
    slab = stage.piece.slabs[stage.faces[0]]
    number = stage.place.along(slab.axis)
    out, axis = stage.place.signs[number] * slab.out, "xyz"[number]
    radius = stage.cutter.real / 2
    rough = exact(stage.block[out > 0][number])
    if not getattr(stage.operation, axis) and axis in work.slides.of:
        # the first end: nothing is true yet to count from, the cutter touches the end itself
        work.zeros[axis] = f"{stage.operation.id} rough"
        work.slides.of[axis].set_zero(rough + out * radius, -out)
        yield RunStep(
            id=f"{stage.operation.id}.touch",
            kind=StepKind.ZERO,
            holding=stage.holding.id,
            operation=stage.operation.id,
            title=say("Zero along {axis}: touch the end", axis=axis.upper()),
            zero=Zero(axis, rough + out * radius, -out, stage.faces[0], "side"),
            do=(
                say(
                    "Approach slowly until it just marks the end. Set the {axis} dial to 0.",
                    axis=axis.upper(),
                ),
                *work.readout_too(axis),
            ),
            why=(say("The end is rough: use this zero for these passes only."),),
            cautions=(say("Spindle running: feed by hand, other hand near the stop."),),
            seconds=Fraction(MEASURING),
        )
    feed, way = _feed(work, stage, n)
    spans = stage.spans(number) or (0.0, 0.0)
    amount = exact(spans[1] - spans[0])
    low = say("Set the end of the cutter below the lower edge, clear of everything else.")
    yield work.set_up(stage, n, *feed, low)
    takes = passes(amount, n.width or amount, n.finish) if amount else ()
    cuts, left = [], amount
    wall = rough - out * amount
    for d in takes:
        left -= d
        cuts.append(_Cut(axis, wall + out * (radius + left), d))
    check = check_of(work.course, stage, number, takes) if n.measure else None
    yield from _passes(work, stage, n, cuts, check, way)


def _passes(
    work: AtWork, stage: Stage, n: Settled, cuts: list[_Cut], check: Check | None, way: str
) -> Iterator[RunStep]:
    lanes = _lanes(stage, n) if stage.kind is not OperationKind.SIDE else []
    each = n.seconds / len(cuts) if cuts else Fraction(0)
    shift = Fraction(0)
    for number, cut in enumerate(cuts, 1):
        last = number == len(cuts)
        if last and number > 1 and check is not None:
            asks = f"{stage.operation.id}.measure"
            yield _measure(work, stage, asks, check)
            reading = work.readings.get(asks)
            if reading is not None:
                # what is left, instead of what should have been
                shift = check.left(reading) - cut.takes
        yield _pass(work, stage, cut, (number, len(cuts)), shift if last else Fraction(0), lanes, way, n.across, each)


def _measure(work: AtWork, stage: Stage, ident: str, check: Check) -> RunStep:
    length = work.length
    do = [
        say(
            "Stop the spindle. Measure {what}: {expected} is expected.",
            what=check.words,
            expected=length(check.expected),
        )
    ]
    if check.limits:
        low, high = check.limits
        do.append(say("Limits {low} to {high}.", low=length(low), high=length(high)))
    return RunStep(
        id=ident,
        kind=StepKind.MEASURE,
        holding=stage.holding.id,
        operation=stage.operation.id,
        title=say("Measure now"),
        do=tuple(do),
        why=(say("What the dial says was taken and what is gone are two things."),),
        cautions=(say("Wait until the spindle has stopped. Remove burrs and chips first."),),
        check=check,
        seconds=Fraction(MEASURING),
    )


def _pass(
    work: AtWork,
    stage: Stage,
    cut: _Cut,
    of: tuple[int, int],
    shift: Fraction,
    lanes: list[dict[str, Fraction]],
    way: str,
    beside: int,
    seconds: Fraction,
) -> RunStep:
    """One pass, ``beside`` cuts side by side; ``shift`` is how much more comes off than was planned, as measured."""
    number, count = of
    numbers = work.course.settled[stage.index]
    closed = not opens_sideways(stage)
    do: list[str] = []
    deeper = -1 if cut.axis == "z" else -looks(stage, cut.axis)
    go: list[Go] = []

    def to(axis: str, place: Fraction, *, straight: bool = False) -> None:
        slide = work.slides.of.get(axis)
        found = slide.go(axis, place, straight=straight) if slide else None
        if found is not None:
            go.append(found)

    for n, lane in enumerate(lanes or [{}]):
        for axis, place in lane.items():
            # in a pocket the cutter stands in metal, but for its very first place; beside a wall the last one counts
            straight = (n > 0 or number > 1) if closed else n < len(lanes) - 1
            to(axis, place, straight=straight)
        if n == 0:
            # down where it is clear of the work, in a pocket at the first corner
            to(cut.axis, cut.place + deeper * shift, straight=number < count)
    title = say("Pass {number} of {count}", number=number, count=count) if count > 1 else say("The pass")
    if count > 1 and number == count:
        title = say("Last pass")
    takes = cut.takes + shift
    do.append(
        say("Depth of cut {takes}.", takes=work.length(takes))
        if cut.axis == "z"
        else say("{takes} off the side.", takes=work.length(takes))
    )
    do.append(way)
    if len(lanes) > 1:
        do.append(
            say("Corner by corner, from the middle outwards.")
            if closed
            else say("{count} cuts side by side, each from the same end.", count=len(lanes))
        )
    elif stage.kind is OperationKind.FACE and beside > 1:
        do.append(say("{count} cuts side by side, each over the edge of the one before.", count=beside))
    why = (
        [say("Set everything clear of the work, then feed in.")] if not closed else [say("Feed down slowly, then on.")]
    )
    if takes <= 0:
        do = [say("Nothing left to take: it is to size.")]
        go, why = [], []
    for axis in work.slides.of:
        if axis in runs_free(stage):
            work.slides.of[axis].lost()
    return RunStep(
        id=f"{stage.operation.id}.pass-{number}",
        kind=StepKind.PASS,
        holding=stage.holding.id,
        operation=stage.operation.id,
        title=title,
        do=tuple(do),
        go=tuple(go),
        why=tuple(why),
        per_turn=None if numbers.by_power else numbers.per_turn,
        holds=(
            *((Hold.FIRST_FEED,) if numbers.by_power else ()),
            *((Hold.LAST_PASS,) if number == count else ()),
        ),
        cautions=(say("Stop the spindle before you brush chips away. Never reach over a running cutter."),),
        seconds=seconds,
    )


def runs_free(stage: Stage) -> tuple[str, ...]:
    """The axis along which it is fed clear through the work, not counted by anybody."""
    if not opens_sideways(stage):
        return ()
    return ("xy"[stage.sizes[0]],)


def _lanes(stage: Stage, n: Settled) -> list[dict[str, Fraction]]:
    """Where the cutter's axis has to stand for each cut of a pass, by machine axis; nothing for what is faced."""
    if stage.kind is OperationKind.FACE or stage.cutter is None:
        return []
    if not opens_sideways(stage):
        return _rings(stage)
    run = stage.sizes[0]
    across = "xy"[1 - run]
    return [{across: exact(one[1 - run])} for one, _ in list(pairwise(n.path))[::2]]


def _rings(stage: Stage) -> list[dict[str, Fraction]]:
    """A pocket or a closed slot, corner by corner: from the middle outwards, the last way round along the walls."""
    if stage.from_above is None or stage.cutter is None:
        return []
    x, y = stage.from_above
    r, step = float(stage.cutter.real) / 2, float(stage.cutter.real * OVERLAP)
    middle = (x[0] + x[1]) / 2, (y[0] + y[1]) / 2
    half = max((x[1] - x[0]) / 2 - r, 0.0), max((y[1] - y[0]) / 2 - r, 0.0)
    inwards = 0.0
    rings: list[tuple[float, float]] = []
    while min(half[0] - inwards, half[1] - inwards) > 0 or not rings:
        rings.append((max(half[0] - inwards, 0.0), max(half[1] - inwards, 0.0)))
        inwards += step
    corners: list[dict[str, Fraction]] = []
    for hx, hy in reversed(rings):
        turn = ((-hx, -hy), (hx, -hy), (hx, hy), (-hx, hy), (-hx, -hy))
        corners += [{"x": exact(middle[0] + a), "y": exact(middle[1] + b)} for a, b in turn]
    return corners


def _feed(work: AtWork, stage: Stage, n: Settled) -> tuple[tuple[str, ...], str]:
    """How it is fed: lines for the setting, and the sentence of each pass."""
    said = []
    unit = work.course.shop.machine.unit
    if n.feed:
        rate = f"{in_places(n.feed / unit.in_mm, 1 if unit is Unit.INCH else 0)} {unit}/min"
        if n.by_power:
            said.append(say("Feed {rate}.", rate=rate))
        elif n.per_turn:
            said.append(say("By hand: {seconds} s for each turn of the handle.", seconds=shown(n.per_turn, 1)))
    if not opens_sideways(stage):
        return tuple(said), say("From corner to corner, the last way round along the walls.")
    run, sign, real = feed_of(stage, n.direction)
    table = _TABLE_WORDS[TABLE[run, sign]]
    if stage.kind is OperationKind.SLOT and n.across > 1 and real is None:
        # along the walls one after the other: conventional runs the other way at the second
        ways = [_TABLE_WORDS[TABLE[run, s]] for s in conventional(run)]
        said.append(say("Along the walls: {one}, then {two}.", one=ways[0], two=ways[1]))
        return tuple(said), say("Through the middle first, {table}, until the cutter is clear.", table=table)
    if real is None:
        return tuple(said), say("Feed: {table}, until the cutter is clear.", table=table)
    words = say("conventional") if real is Milling.CONVENTIONAL else say("climb")
    said.append(say("{words} cut: {table}.", words=capital(words), table=table))
    return tuple(said), say("Feed: {table}, until the cutter is clear.", table=table)
