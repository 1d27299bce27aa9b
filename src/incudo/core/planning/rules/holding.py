"""What can be wrong with how the work is held."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from shapely import box

from incudo.core.kernel.say import say
from incudo.core.parts.geometry.sections import section
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.file import HeldIn, OperationKind, PlanHolding
from incudo.core.planning.gripping import Grip, chosen, grip_of, held_with, vise_of
from incudo.core.planning.piece import exact
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, rule
from incudo.core.planning.shop import pair_label
from incudo.core.planning.stages import Stage
from incudo.core.setup.holding import CLEARANCE, Held

RULES: Rules = []

#: The share of the gripped face that must still be there. Rule of thumb.
LEAST_CONTACT = Fraction(3, 5)
#: Work stands above the jaws up to so many times its thickness, and out beside them up to so many times its height.
MOST_PROUD, MOST_OUT = 5, Fraction(3, 2)


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
    say("Work is held by something this shop has."),
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
                if s.through and s.kind is OperationKind.DRILL:
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
                wide = [v for v in course.shop.vises if v.jaws.opening >= grip.work.across]
                larger = wide[0].name if wide and said.about == "opening" else ""
                fix = change.holding(h.id, vise=larger) if larger else None
                cure = say("Use {vise}.", vise=larger) if larger else say("Turn it, or clamp it down.")
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
