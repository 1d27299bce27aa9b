"""What can be wrong with how the work is held."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from shapely import box

from incudo.core.kernel.quantity import MM_PER_INCH
from incudo.core.kernel.say import say
from incudo.core.parts.geometry.sections import section
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.file import OPPOSITE, HeldIn, OperationKind, PlanHolding
from incudo.core.planning.gripping import Grip, chosen, exact, grip_of, held_with, vise_of
from incudo.core.planning.kinds import MILLING
from incudo.core.planning.piece import TINY
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, rule
from incudo.core.planning.shop import pair_label
from incudo.core.planning.stages import Stage
from incudo.core.setup.holding import CLEARANCE, Held

RULES: Rules = []

#: The share of the gripped height that must still be there, and the least metal between the jaws. Rules of thumb.
LEAST_CONTACT, LEAST_BETWEEN = Fraction(3, 5), Fraction(1, 2)
#: Work stands above the jaws up to so many times its thickness, and out beside them up to so many times its height.
MOST_PROUD, MOST_OUT = 5, Fraction(3, 2)
#: A web or a wall thinner than this bends under the cut, and so does one this many times as high as it is thick.
LEAST_WALL, MOST_WALL = MM_PER_INCH / 32, 10


def grips(course: Course) -> Iterator[tuple[PlanHolding, tuple[Stage, ...], Grip]]:
    """Every holding in a vise."""
    for h, stages in course.held:
        if h.id not in course.memo:
            course.memo[h.id] = grip_of(course, h, stages)
        grip = course.memo[h.id]
        if isinstance(grip, Grip):
            yield h, stages, grip


def _better(course: Course, holding: PlanHolding, grip: Grip) -> tuple[Held, change.Fix] | None:
    """The best parallels, when they are free of what these meet."""
    cuts, holes = tuple(c for _, c in grip.cuts), tuple(h for _, h in grip.holes)
    best = chosen(grip.work, grip.vise.jaws, course.shop.drawer, cuts, holes, course.piece.unit)
    hits = any(s.weight == "hits" for s in best.said)
    if hits or best.grip < best.grip_wanted or best.pair == grip.pair:
        return None
    return best, change.holding(holding.id, parallels=pair_label(best.pair) if best.pair else "bed")


def _cure(course: Course, holding: PlanHolding, grip: Grip, otherwise: str) -> tuple[str, change.Fix | None]:
    better = _better(course, holding, grip)
    if better is None:
        return otherwise, None
    pair = better[0].pair
    if pair is None:
        return say("Set it on the bed of the vise."), better[1]
    return say("Use parallels {height}.", height=course.length(pair.height)), better[1]


@rule(
    RULES,
    "no-vise",
    FaultWeight.BREAKS,
    say("No such vise"),
    say("Work is held by something that stands in this shop."),
)
def no_vise(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        if h.held is HeldIn.VISE and stages and vise_of(course, h) is None:
            yield Hit(h, say("There is no vise {name} in this shop.", name=h.vise or say("at all")), say("Choose one."))


@rule(
    RULES,
    "grip-short",
    FaultWeight.BREAKS,
    say("Too little in the jaws"),
    say("A third of the height or a quarter of an inch, whichever is more: less, and the cut lifts the work out."),
)
def grip_short(course: Course) -> Iterator[Hit]:
    for h, _, grip in grips(course):
        held = held_with(course, grip)
        for said in held.said:
            if said.about == "grip":
                words, fix = _cure(course, h, grip, say("Set the work lower, or hold it another way."))
                yield Hit(h, said.words, words, fix)


@rule(
    RULES,
    "grip-gone",
    FaultWeight.BREAKS,
    say("Gripped where the metal is gone"),
    say("Jaws hold only where they touch: over a slot or a step there is nothing to hold."),
)
def grip_gone(course: Course) -> Iterator[Hit]:
    for h, stages, grip in grips(course):
        lying = stages[0].place.solid(stages[0].start)
        low, high = stages[0].block_at_start
        top = low[2] + float(min(grip.top, grip.work.height))
        if top <= low[2]:
            continue
        zone = box(low[0], low[2], high[0], top)
        for at, name in ((high[1] - 0.01, h.fixed), (low[1] + 0.01, stages[0].place.face_at(1, -1))):
            if stages[0].piece.bar:
                continue
            there = section(lying, 1, at).intersection(zone).area / zone.area
            if there < LEAST_CONTACT:
                words = say(
                    "Only {percent} % of the gripped face ({face}) is still there.",
                    percent=round(there * 100),
                    face=course.piece.words(name),
                )
                yield Hit(h, words, say("Grip other faces, or cut this holding's work before that metal is gone."))
                break


@rule(
    RULES,
    "hits-jaw",
    FaultWeight.BREAKS,
    say("The cutter meets the jaw"),
    say("A cut that runs out over a jaw must end above it."),
)
def hits_jaw(course: Course) -> Iterator[Hit]:
    yield from _hits(course, "jaw", say("Set the work higher, or turn it so that the cut runs out beside the jaws."))


@rule(
    RULES,
    "hits-parallel",
    FaultWeight.BREAKS,
    say("The tool comes out into a parallel"),
    say("Under a hole that goes through there must be nothing: the drill breaks, the parallel is spoilt."),
)
def hits_parallel(course: Course) -> Iterator[Hit]:
    yield from _hits(course, "parallel", say("Move the parallels apart, use thinner ones, or take them out."))


@rule(
    RULES,
    "hits-bed",
    FaultWeight.BREAKS,
    say("The tool comes out into the vise"),
    say("A drill goes on by its point and a little more: that much room there must be below."),
)
def hits_bed(course: Course) -> Iterator[Hit]:
    yield from _hits(course, "bed", say("Set the work on higher parallels."))
    for h, stages in course.held:
        if h.held is HeldIn.V_BLOCK and h.parallels == "bed":
            for s in stages:
                if s.through and s.hole_spots() and s.kind is OperationKind.DRILL:
                    words = say("The drill comes out of the V-block into the bed of the vise.")
                    yield Hit(s, words, say("Set the V-block on parallels."), change.holding(h.id, parallels=""))


def _hits(course: Course, about: str, otherwise: str) -> Iterator[Hit]:
    for h, stages, grip in grips(course):
        for s in stages:
            held = held_with(course, grip, [s])
            for said in held.said:
                if said.about == about and said.weight == "hits":
                    words, fix = _cure(course, h, grip, otherwise)
                    yield Hit(s, said.words, words, fix)
                    break


@rule(
    RULES,
    "near-jaw",
    FaultWeight.COSTS,
    say("Very close to the jaw"),
    say("A sixteenth of an inch between cutter and jaw forgives a chip, a burr and a hand that is not sure."),
)
def near_jaw(course: Course) -> Iterator[Hit]:
    for h, stages, grip in grips(course):
        for s in stages:
            anyhow = held_with(course, grip).said
            for said in held_with(course, grip, [s]).said:
                if said.about == "jaw" and said.weight == "weak" and said not in anyhow:
                    words, fix = _cure(course, h, grip, say("Set the work a little higher if the grip allows it."))
                    yield Hit(s, said.words, words, fix)


@rule(
    RULES,
    "opening",
    FaultWeight.BREAKS,
    say("Does not go into the vise"),
    say("Work wider than the vise opens is held another way."),
)
def opening(course: Course) -> Iterator[Hit]:
    for h, _, grip in grips(course):
        for said in held_with(course, grip).said:
            if said.about in ("opening", "parallel"):
                fitting = next((v for v in course.shop.vises if v.jaws.opening >= grip.work.across), None)
                fix = change.holding(h.id, vise=fitting.name) if fitting and said.about == "opening" else None
                cure = say("Use {vise}.", vise=fitting.name) if fix and fitting else say("Turn it, or clamp it down.")
                yield Hit(h, said.words, cure, fix)


@rule(
    RULES,
    "overhang",
    FaultWeight.SPOILS,
    say("Stands out too far"),
    say("What stands far out of the jaws springs away from the cutter and chatters."),
)
def overhang(course: Course) -> Iterator[Hit]:
    for h, stages, grip in grips(course):
        out = Fraction(h.out) * course.piece.unit.in_mm
        proud = grip.work.height - grip.top
        thin = min(grip.work.across, grip.work.along)
        if out > MOST_OUT * grip.work.height and out > grip.work.along / 2:
            words = say(
                "{out} stand out beyond the jaws, and the work is {high} high.",
                out=course.length(out),
                high=course.length(grip.work.height),
            )
            least = max((_slab(s) for s in stages if s.kind is OperationKind.SIDE), default=Fraction(0)) + 2 * CLEARANCE
            text = _text(course, least)
            cure = say("Let only {least} stand out.", least=course.length(least))
            yield Hit(h, words, cure, change.holding(h.id, out=text))
        elif proud > MOST_PROUD * thin:
            words = say(
                "It stands {proud} above the jaws and is {thin} thick: it bends away from the cut.",
                proud=course.length(proud),
                thin=course.length(thin),
            )
            yield Hit(h, words, say("Lay it down, or let less of it stand up."))
        elif any(x.about == "jaw" and x.weight == "weak" for x in held_with(course, grip).said):
            words = say(
                "The work is {long} long and the jaws are {jaw}: its ends spring.",
                long=course.length(grip.work.along),
                jaw=course.length(grip.vise.jaws.jaw),
            )
            yield Hit(h, words, say("Support the ends, or clamp it to the table."))


def _slab(stage: Stage) -> Fraction:
    return max((exact(stage.piece.slabs[f].much) for f in stage.faces), default=Fraction(0))


def _text(course: Course, mm: Fraction) -> str:
    return f"{float(mm / course.piece.unit.in_mm):.3f}"


@rule(
    RULES,
    "end-inside",
    FaultWeight.BREAKS,
    say("The end lies between the jaws"),
    say("An end that is milled by the side of the cutter stands out beyond the jaws, all that comes off and more."),
)
def end_inside(course: Course) -> Iterator[Hit]:
    for h, stages, grip in grips(course):
        for s in stages:
            if s.kind is not OperationKind.SIDE or not s.faces:
                continue
            slab = s.piece.slabs[s.faces[0]]
            axis = s.place.along(slab.axis)
            if axis != 0:
                words = say("{face} lies against a jaw.", face=course.piece.words(s.faces[0]))
                yield Hit(s, words, say("Turn the work so that this end looks to the right."))
                continue
            right = s.place.face_at(0, 1) == s.faces[0]
            out = Fraction(h.out) * course.piece.unit.in_mm
            free = out if right else grip.work.along - out - grip.vise.jaws.jaw
            least = _slab(s) + CLEARANCE
            if free < least:
                words = say(
                    "{free} of {face} stand out beyond the jaws, and {least} are needed.",
                    free=course.length(max(free, Fraction(0))),
                    face=course.piece.words(s.faces[0]),
                    least=course.length(least),
                )
                text = _text(course, least + CLEARANCE)
                cure = say("Let it stand out {least} at the right.", least=f"{text} {course.piece.unit}")
                yield Hit(s, words, cure, change.holding(h.id, out=text) if right else None)


@rule(
    RULES,
    "end-not-square",
    FaultWeight.SPOILS,
    say("An end milled from a rough face"),
    say("With a rough face at the fixed jaw an end becomes square to that, and to nothing on the part."),
)
def end_not_square(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.SIDE):
        if s.taken and not s.piece.bar and not s.true_at_start(s.holding.fixed):
            words = say("{face} at the fixed jaw is still rough.", face=course.piece.words(s.holding.fixed))
            yield Hit(s, words, say("Mill the ends when a milled face lies at the fixed jaw."))


@rule(
    RULES,
    "stop-in-way",
    FaultWeight.BREAKS,
    say("The cutter meets the work stop"),
    say("A stop at an end that is milled stands in the cutter's way."),
)
def stop_in_way(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.SIDE):
        side = {"left": -1, "right": 1}.get(s.holding.stop)
        if side and any(s.place.face_at(0, side) == f for f in s.faces):
            other = "left" if s.holding.stop == "right" else "right"
            words = say("The stop is at the {side}, where the cutter comes by.", side=s.holding.stop)
            yield Hit(
                s, words, say("Put the stop at the {side}.", side=other), change.holding(s.holding.id, stop=other)
            )


@rule(
    RULES,
    "rough-at-fixed-jaw",
    FaultWeight.SPOILS,
    say("A rough face at the fixed jaw"),
    say("The fixed jaw is what the cut becomes square to: the best face goes there."),
)
def rough_at_fixed_jaw(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        if not stages or h.held is not HeldIn.VISE or stages[0].piece.bar:
            continue
        s = stages[0]
        beside = [s.place.face_at(1, -1), s.place.face_at(0, 1), s.place.face_at(0, -1)]
        true = [f for f in beside if s.true_at_start(f)]
        if not s.true_at_start(h.fixed) and true:
            words = say(
                "{face} is still rough, and {other} is milled.",
                face=course.piece.words(h.fixed),
                other=course.piece.words(true[0]),
            )
            cure = say("Put {other} against the fixed jaw.", other=course.piece.words(true[0]))
            rough_then = not s.true_at_start(OPPOSITE[true[0]])
            yield Hit(h, words, cure, change.holding(h.id, fixed=true[0], soft_bar=rough_then))


@rule(
    RULES,
    "no-soft-bar",
    FaultWeight.SPOILS,
    say("No round bar at a rough face"),
    say(
        "Two faces that are not parallel pull the work away from the fixed jaw: "
        "a soft round bar at the moving jaw lets the good face seat."
    ),
)
def no_soft_bar(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        if not stages or h.held is not HeldIn.VISE or stages[0].piece.bar or h.soft_bar:
            continue
        s = stages[0]
        moving = s.place.face_at(1, -1)
        if not s.true_at_start(moving):
            words = say("{face} at the moving jaw is still rough.", face=course.piece.words(moving))
            yield Hit(h, words, say("Put a soft round bar between them."), change.holding(h.id, soft_bar=True))


@rule(
    RULES,
    "round-in-jaws",
    FaultWeight.BREAKS,
    say("Round work without a V-block"),
    say("Flat jaws touch a bar along one line each: it rolls under the cut."),
)
def round_in_jaws(course: Course) -> Iterator[Hit]:
    if not course.piece.bar:
        return
    for h, stages in course.held:
        if stages and h.held is HeldIn.VISE and h.up not in ("left", "right"):
            yield Hit(
                h,
                say("The bar is held by flat jaws alone."),
                say("Hold it in a V-block."),
                change.holding(h.id, held=HeldIn.V_BLOCK),
            )


@rule(
    RULES,
    "one-strap",
    FaultWeight.BREAKS,
    say("One strap alone"),
    say("Work under one strap turns about it."),
)
def one_strap(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        if stages and h.held is HeldIn.STRAPS and h.straps < 2:
            words = say("{count} strap holds the work: it turns about it.", count=h.straps)
            yield Hit(h, words, say("Clamp it with two."), change.holding(h.id, straps=2))


@rule(
    RULES,
    "strap-in-way",
    FaultWeight.BREAKS,
    say("The cutter meets a strap"),
    say("Straps lie on the top: what is faced there is cut with the straps somewhere else."),
)
def strap_in_way(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.FACE):
        if s.holding.held is HeldIn.STRAPS and s.taken:
            words = say("The straps lie on {face}, which is faced here.", face=course.words(s))
            yield Hit(s, words, say("Face it in the vise, or move the straps between two halves of the face."))


@rule(
    RULES,
    "off-middle",
    FaultWeight.SPOILS,
    say("At one end of the jaws"),
    say("Short work at one end of the jaws skews the moving jaw, and is held at one corner."),
)
def off_middle(course: Course) -> Iterator[Hit]:
    for h, _, grip in grips(course):
        out = Fraction(h.out) * course.piece.unit.in_mm
        inside = grip.work.along - out
        if out > 0 and not h.spacer and inside < grip.vise.jaws.jaw / 2:
            words = say(
                "{inside} of the work are in jaws {jaw} long, at their end.",
                inside=course.length(inside),
                jaw=course.length(grip.vise.jaws.jaw),
            )
            cure = say("Put a piece of the same width at the other end of the jaws.")
            yield Hit(h, words, cure, change.holding(h.id, spacer=True))


@rule(
    RULES,
    "squeezed",
    FaultWeight.SPOILS,
    say("Jaws squeeze a thin wall"),
    say("A hollow between the jaws closes when they are tightened and springs open after the cut."),
)
def squeezed(course: Course) -> Iterator[Hit]:
    for h, stages, grip in grips(course):
        low, high = stages[0].block_at_start
        middle = low[2] + float(min(grip.top, grip.work.height)) / 2
        lying = stages[0].place.solid(stages[0].start)
        metal = section(lying, 2, middle)
        wide = high[1] - low[1]
        # each line from jaw to jaw must find metal for more than half of its way, or the jaws have firm metal beside it
        cuts = [box(x, low[1], x + (high[0] - low[0]) / 12, high[1]) for x in _steps(low[0], high[0], 12)]
        weak = sum(metal.intersection(c).area < float(LEAST_BETWEEN) * c.area for c in cuts)
        if weak > len(cuts) / 2:
            words = say(
                "Between the jaws, over {wide}, less than half is metal.",
                wide=course.length(wide),
            )
            yield Hit(h, words, say("Grip it the other way, or cut the hollow after this."))


def _steps(low: float, high: float, count: int) -> list[float]:
    return [low + (high - low) * i / count for i in range(count)]


@rule(
    RULES,
    "thin-wall",
    FaultWeight.SPOILS,
    say("A wall too thin to stand"),
    say("A thin high wall bends away from the cutter and is left too thick, or breaks off."),
)
def thin_wall(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(*MILLING):
        if s.kind in (OperationKind.FACE, OperationKind.SIDE) or not s.taken or not s.cutter:
            continue
        wall = _wall(s)
        high = s.spans(2)
        if wall is None or high is None:
            continue
        deep = high[1] - high[0]
        if wall < float(LEAST_WALL) or deep > MOST_WALL * wall:
            words = say(
                "It leaves a wall {wall} thick and {deep} high.",
                wall=course.length(wall),
                deep=course.length(deep),
            )
            yield Hit(s, words, say("Cut what is on its other side later, or support it."))


def _wall(stage: Stage) -> float | None:
    """The thinnest metal that a cut leaves beside it, level with the middle of its depth; none where there is none."""
    span = stage.spans(2)
    if span is None or span[1] - span[0] < TINY:
        return None
    level = (span[0] + span[1]) / 2
    after = section(stage.place.solid(stage.after), 2, level)
    x, y = stage.spans(0), stage.spans(1)
    if x is None or y is None:
        return None
    found: list[float] = []
    middle = (x[0] + x[1]) / 2, (y[0] + y[1]) / 2
    low, high = stage.block
    for axis, ends in ((0, x), (1, y)):
        for out in (0, 1):
            edge = (low, high)[out][axis]
            if abs(ends[out] - edge) < TINY:
                continue
            lo, hi = sorted((ends[out], edge))
            strip = (
                box(lo, middle[1] - 0.05, hi, middle[1] + 0.05)
                if axis == 0
                else box(middle[0] - 0.05, lo, middle[0] + 0.05, hi)
            )
            metal = strip.intersection(after)
            parts = [g for g in getattr(metal, "geoms", [metal]) if not g.is_empty]
            beside = [g for g in parts if g.distance(box(*_line(axis, ends[out], middle))) < 0.01]
            found += [(g.bounds[2] - g.bounds[0]) if axis == 0 else (g.bounds[3] - g.bounds[1]) for g in beside]
    return min(found, default=None)


def _line(axis: int, at: float, middle: tuple[float, float]) -> tuple[float, float, float, float]:
    if axis == 0:
        return at - 1e-4, middle[1] - 0.05, at + 1e-4, middle[1] + 0.05
    return middle[0] - 0.05, at - 1e-4, middle[0] + 0.05, at + 1e-4


@rule(
    RULES,
    "travel",
    FaultWeight.BREAKS,
    say("The table does not travel so far"),
    say("The way of the cutter's axis over one holding must lie within the travel of the machine."),
)
def travel(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        mine = {s.index for s in stages}
        points = [p for s, n in course.each() if s.index in mine for p in n.path]
        for axis, name in ((0, "X"), (1, "Y")):
            along = [p[axis] for p in points]
            need = Fraction(max(along, default=0) - min(along, default=0)).limit_denominator(1000)
            have = course.shop.travel(axis)
            if need > have:
                words = say(
                    "The cuts reach over {need} along {axis}, and {machine} travels {have}.",
                    need=course.length(need),
                    axis=name,
                    machine=course.shop.name,
                    have=course.length(have),
                )
                yield Hit(h, words, say("Turn the work, divide the holding, or take a larger machine."))
                break


@rule(
    RULES,
    "head",
    FaultWeight.BREAKS,
    say("The head cannot be set over"),
    say("A face at an angle is cut with the head or the vise set over."),
)
def head(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.ANGLE):
        if not course.shop.machine.head.tilt:
            words = say("The head of {machine} does not tilt.", machine=course.shop.name)
            yield Hit(s, words, say("Set the work over on an angle block, or take another machine."))


@rule(
    RULES,
    "no-pair",
    FaultWeight.BREAKS,
    say("No such parallels"),
    say("Parallels are chosen among those in the drawer."),
)
def no_pair(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        if stages and h.parallels not in ("", "bed") and course.pair_of(h) is None:
            words = say("There is no pair {height} in the drawer.", height=h.parallels)
            yield Hit(h, words, say("Let Incudo choose."), change.holding(h.id, parallels=""))
