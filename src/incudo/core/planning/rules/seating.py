"""What can be wrong with how the work sits: rough faces, thin metal, ends and straps in the way, travel."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from shapely import box

from incudo.core.kernel.quantity import MM_PER_INCH
from incudo.core.kernel.say import say
from incudo.core.parts.geometry.sections import section
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.file import OPPOSITE, HeldIn, OperationKind
from incudo.core.planning.kinds import MILLING, ON_ARBOR
from incudo.core.planning.piece import TINY, exact
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, rule
from incudo.core.planning.rules.holding import grips
from incudo.core.planning.settle import runs_through
from incudo.core.planning.stages import Stage
from incudo.core.planning.strapping import HIGH, strapping
from incudo.core.setup.holding import CLEARANCE

RULES: Rules = []

#: The least metal between the jaws, as a share of the way from one to the other. Rule of thumb.
LEAST_BETWEEN = Fraction(1, 2)
#: A web or a wall thinner than this bends under the cut, and so does one this many times as high as it is thick.
LEAST_WALL, MOST_WALL = MM_PER_INCH / 32, 10


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
    "no-v-block",
    FaultWeight.BREAKS,
    say("No V-block for this bar"),
    say("A bar that lies on the edges of the groove, or sinks into it, is not held."),
)
def no_v_block(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        if stages and h.held is HeldIn.V_BLOCK and course.shop.v_block(course.piece.across) is None:
            size = course.length(course.piece.across)
            words = say("The shop has no V-block that takes a bar of {size}.", size=size)
            yield Hit(h, words, say("Take another bar, or have a V-block for it entered under workholding."))


@rule(
    RULES,
    "no-straps",
    FaultWeight.BREAKS,
    say("No strap clamps"),
    say("What holds the work is chosen among what the register of workholding has."),
)
def no_straps(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        if stages and h.held is HeldIn.STRAPS and not course.shop.straps:
            words = say("The shop has no strap clamps.")
            yield Hit(h, words, say("Hold it in the vise."), change.holding(h.id, held=HeldIn.VISE))


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
            if len(strapping(course, stages).places) > 1:
                yield Hit(h, words, say("Clamp it with two."), change.holding(h.id, straps=2))
            else:
                cure = say("A second one finds no room beside the cuts: hold it in the vise.")
                yield Hit(h, words, cure, change.holding(h.id, held=HeldIn.VISE))


@rule(
    RULES,
    "strap-in-way",
    FaultWeight.BREAKS,
    say("The cutter meets a strap"),
    say("Straps lie on the top: two of them must find room there, far enough apart, beside every cut of the holding."),
)
def strap_in_way(course: Course) -> Iterator[Hit]:
    for h, stages in course.held:
        facing = any(s.kind is OperationKind.FACE and s.taken for s in stages)
        if not stages or h.held is not HeldIn.STRAPS or facing or h.straps < 2 or not course.shop.straps:
            continue
        places = strapping(course, stages).places
        if len(places) < 2:
            words = (
                say("Beside the cuts of this holding one strap finds room, {place}.", place=places[0].words(course))
                if places
                else say("Beside the cuts of this holding no strap finds room.")
            )
            cure = say("Hold it in the vise, or cut it in two holdings with the straps moved in between.")
            yield Hit(h, words, cure, change.holding(h.id, held=HeldIn.VISE))
    for s, _ in course.each(OperationKind.FACE):
        if s.holding.held is HeldIn.STRAPS and s.taken:
            words = say("The straps lie on {face}, which is faced here.", face=course.words(s))
            cure = say("Face it in the vise, or move the straps between two halves of the face.")
            yield Hit(s, words, cure, change.holding(s.holding.id, held=HeldIn.VISE))


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
        wall, (low, high) = _wall(s), s.spans(2) or (0.0, 0.0)
        if wall is None:
            continue
        deep = high - low
        if wall < float(LEAST_WALL) or deep > MOST_WALL * wall:
            words = say(
                "It leaves a wall {wall} thick and {deep} high.",
                wall=course.length(wall),
                deep=course.length(deep),
            )
            yield Hit(s, words, say("Cut what is on its other side later, or support it."))


def _wall(stage: Stage) -> float | None:
    """The thinnest metal that a cut leaves beside it, level with the middle of its depth; none where there is none."""
    if stage.from_above is None:
        return None
    (x, y), (bottom, top) = stage.from_above, stage.spans(2) or (0.0, 0.0)
    after = section(stage.place.solid(stage.after), 2, (bottom + top) / 2)
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
    say("The table does not travel that far"),
    say("The cutter's path in one holding must stay within the machine's travel."),
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
                yield Hit(h, words, say("Turn the work, split the holding, or use a larger machine."))
                break


@rule(
    RULES,
    "horizontal",
    FaultWeight.BREAKS,
    say("A horizontal spindle"),
    say("A level arbor lies over the work: its cutters mill straight through, and nothing comes down by its end."),
)
def horizontal(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        if s.kind in course.shop.beyond:
            words = say("{machine} has a horizontal spindle: no cutter comes from above.", machine=course.shop.name)
            cure = say("Do it on a machine with a vertical spindle. An end can be milled with the work stood up.")
            yield Hit(s, words, cure)


@rule(
    RULES,
    "across-arbor",
    FaultWeight.BREAKS,
    say("Not straight through along X"),
    say("The arbor lies along Y: its cutter goes in at one end of the work and out at the other, and nowhere else."),
)
def across_arbor(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(*ON_ARBOR):
        if s.cutter is not None and s.cutter.on_arbor and s.taken and not runs_through(s):
            words = say("It does not run from end to end along X.")
            yield Hit(s, words, say("Turn the work a quarter in the vise; closed at an end it is for another machine."))


@rule(
    RULES,
    "arbor-meets",
    FaultWeight.BREAKS,
    say("The arbor comes down on what holds the work"),
    say("The collars pass over the jaws and everything else across the table."),
)
def arbor_meets(course: Course) -> Iterator[Hit]:
    held = {h.id: grip for h, _, grip in grips(course)}
    for s, _ in course.each(*ON_ARBOR):
        if s.cutter is None or not s.cutter.on_arbor or s.floor is None:
            continue
        grip, bottom = held.get(s.holding.id), s.block_at_start[0][2]
        strapped = s.holding.held is HeldIn.STRAPS
        top = s.block[1][2] + HIGH if strapped else bottom + float(grip.top) if grip else bottom
        free = exact(s.floor - top) + course.shop.under_arbor(s.cutter)
        if free < CLEARANCE:
            words = say(
                "The collars of {name} come {low} too low: they meet {what}.",
                name=s.cutter.name,
                low=course.length(CLEARANCE - free),
                what=say("the straps") if strapped else say("the jaws"),
            )
            yield Hit(s, words, say("Take a cutter of larger diameter, or hold the work higher."))


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
