"""What can be wrong with where an operation is measured from."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from incudo.core.kernel.say import say
from incudo.core.parts.features.frame import SIDES, Axle, Plane
from incudo.core.planning import change
from incudo.core.planning.course import LOCATING, Course, axes_needed, drawing_datums
from incudo.core.planning.file import KEPT, STOP, OperationKind
from incudo.core.planning.kinds import HOLE_ORDER
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, rule
from incudo.core.planning.stages import Stage

RULES: Rules = []

#: A corner of jaw and stop repeats to about this, and the limits that a drawing asks of faces without their own. mm.
STOP_REPEATS, LOOSE = Fraction(5, 100), Fraction(1, 2)
#: Two holdings are found against each other no better than this.
TWO_HOLDINGS = 4 * LOCATING


def zero_of(stage: Stage, axis: str) -> str:
    """The zero that an operation names along an axis of the machine."""
    return {"x": stage.operation.x, "y": stage.operation.y, "z": stage.operation.z}[axis]


def real_zero(course: Course, stage: Stage, axis: str) -> str:
    """What "the same as before" means: the last zero that was set along this axis in the holding."""
    zero = zero_of(stage, axis)
    if zero != KEPT:
        return zero
    for other in reversed(course.stages[: stage.index]):
        if other.holding.id != stage.holding.id:
            break
        found = zero_of(other, axis)
        if found and found != KEPT:
            return found
    return ""


def proposed(course: Course, stage: Stage, axis: str) -> str:
    """The zero that fits best: what the drawing measures from, if it can be touched; else a milled face."""
    n = "xyz".index(axis)
    if axis == "z":
        up = [stage.holding.up, *(f.face for f in stage.features if "." in f.face)]
        return next((f for f in up if _fits(course, stage, f, 2)), stage.holding.up)
    wanted = [name for name, _, _ in drawing_datums(course, stage, n)]
    datums = [d.face for d in course.piece.part.file.datums]
    faces = [stage.place.face_at(n, -1), stage.place.face_at(n, 1)]
    axis_of_bar = ["axis"] if course.piece.bar and n != stage.place.along(0) else []
    for name in (*wanted, *axis_of_bar, *(d for d in datums if d in faces), *faces):
        if _fits(course, stage, name, n) and _is_there(stage, name):
            return name
    return ""


def _fits(course: Course, stage: Stage, name: str, axis: int) -> bool:
    """Whether a zero of this name lies across an axis of the machine."""
    thing = course.named(name)
    part_axis = stage.place.axes[axis]
    by_side = axis == 1 and stage.cutter is not None and stage.cutter.on_arbor
    match thing:
        case Plane() if thing.out or not by_side:
            if thing.axis != part_axis:
                return False
            return axis != 2 or thing.out == stage.place.signs[2]
        case Axle() if not by_side:
            return thing.axis != part_axis and axis != 2
    return False


def _is_there(stage: Stage, name: str) -> bool:
    """Whether it can be touched by then: milled, or made."""
    if name in SIDES:
        return stage.true(name)
    if name == "axis":
        return True
    feature = name.partition(".")[0]
    base = feature if feature in stage.made else next((f for f in stage.made if feature.startswith(f"{f} ")), "")
    return any(not left for _, left in stage.made.get(base, ()))


def _faced_later(course: Course, stage: Stage) -> Stage | None:
    """Where in this holding the face that looks up is faced, after an operation."""
    here = (o for o in course.stages[stage.index :] if o.holding.id == stage.holding.id)
    return next((o for o in here if o.kind is OperationKind.FACE and stage.holding.up in o.faces), None)


def _fix(course: Course, stage: Stage, axis: str) -> tuple[str, change.Fix | None]:
    up = stage.holding.up
    if axis == "z" and not stage.true(up):
        later = _faced_later(course, stage)
        fix = change.moved(later.operation.id, stage.operation.id) if later else None
        return say("Face it first."), fix
    name = proposed(course, stage, axis)
    if not name:
        return say("Mill a face across this axis first."), None
    words = say("Set zero on this face: {face}.", face=course.piece.words(name))
    return words, change.operation(stage.operation.id, **{axis: name})


@rule(
    RULES,
    "no-zero",
    FaultWeight.SPOILS,
    say("No zero along an axis"),
    say("Where the cutter is, is known from something that was touched."),
)
def no_zero(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        for axis in axes_needed(s):
            zero = real_zero(course, s, axis)
            if zero_of(s, axis) == KEPT:
                continue
            if not zero:
                cure, fix = _fix(course, s, axis)
                yield Hit(s, say("Nothing says where it is along {axis}.", axis=axis.upper()), cure, fix)
            elif zero != STOP and not _fits(course, s, zero, "xyz".index(axis)):
                cure, fix = _fix(course, s, axis)
                words = say(
                    "{name} does not say where it is along {axis} as the work lies.",
                    name=course.piece.words(zero),
                    axis=axis.upper(),
                )
                yield Hit(s, words, cure, fix)


@rule(
    RULES,
    "zero-on-rough",
    FaultWeight.SPOILS,
    say("Zero on a rough face"),
    say("A sawn or rolled face is nowhere exactly, and is cut away later."),
)
def zero_on_rough(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        for axis in axes_needed(s):
            zero = zero_of(s, axis)
            if zero in SIDES and _fits(course, s, zero, "xyz".index(axis)) and not s.true(zero):
                cure, fix = _fix(course, s, axis)
                words = say(
                    "{face} is still rough: {much} are to come off it.",
                    face=course.piece.words(zero),
                    much=course.length(s.piece.slabs[zero].much),
                )
                yield Hit(s, words, cure, fix)


@rule(
    RULES,
    "zero-not-made",
    FaultWeight.SPOILS,
    say("Zero on what is not there"),
    say("A face or a hole can be touched when it has been cut."),
)
def zero_not_made(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        for axis in axes_needed(s):
            zero = zero_of(s, axis)
            if zero in ("", KEPT, STOP, "axis") or zero in SIDES or not _fits(course, s, zero, "xyz".index(axis)):
                continue
            if not _is_there(s, zero):
                cure, fix = _fix(course, s, axis)
                yield Hit(s, say("{name} is not cut yet.", name=course.piece.words(zero)), cure, fix)


@rule(
    RULES,
    "zero-lost",
    FaultWeight.SPOILS,
    say("The zero was lost with the holding"),
    say("When the work comes out of the vise, nothing of its zeros is left."),
)
def zero_lost(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        for axis in axes_needed(s):
            if zero_of(s, axis) == KEPT and not real_zero(course, s, axis):
                cure, fix = _fix(course, s, axis)
                words = say("{axis} keeps a zero, and none was set in this holding.", axis=axis.upper())
                yield Hit(s, words, cure, fix)


@rule(
    RULES,
    "zero-cut-away",
    FaultWeight.SPOILS,
    say("The face of the zero was cut after it was set"),
    say("A new surface is a new zero: the old one is off by what was taken."),
)
def zero_cut_away(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        for axis in axes_needed(s):
            if zero_of(s, axis) != KEPT:
                continue
            zero = real_zero(course, s, axis)
            if not zero:
                continue
            set_at = max(o.index for o in course.stages[: s.index] if zero_of(o, axis) == zero)
            cut = [
                o
                for o in course.stages[set_at : s.index]
                if o.kind in (OperationKind.FACE, OperationKind.SIDE) and zero in o.faces
            ]
            if cut and cut[-1].taken:
                cure, fix = _fix(course, s, axis)
                words = say(
                    "{face} was milled after zero was set on it: {axis} is {much} off.",
                    face=course.piece.words(zero),
                    axis=axis.upper(),
                    much=course.length(s.piece.slabs[zero].much),
                )
                yield Hit(s, words, cure, fix)


@rule(
    RULES,
    "no-stop",
    FaultWeight.SPOILS,
    say("A stop that is not there"),
    say("The corner of jaw and stop repeats only where a stop is set."),
)
def no_stop(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        if "x" in axes_needed(s) and zero_of(s, "x") == STOP and not s.holding.stop:
            side = "left"
            yield Hit(
                s,
                say("Along X it counts on a work stop, and none is set."),
                say("Set a stop at the {side}.", side=side),
                change.holding(s.holding.id, stop=side),
            )


@rule(
    RULES,
    "other-side",
    FaultWeight.SPOILS,
    say("Found from one side, approached from the other"),
    say("The screw's play lies between: the table is not where the dial says."),
)
def other_side(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        if not s.operation.approach or s.operation.approach == s.holding.found:
            continue
        for axis in axes_needed(s):
            if axis == "z" or axis in course.shop.machine.readout or zero_of(s, axis) == STOP:
                continue
            play = course.shop.backlash(axis)
            if play > 0:
                words = say(
                    "{axis} was found coming from the {found} side and is approached from the {other} one: it will be "
                    "{play} out, the backlash of this screw.",
                    axis=axis.upper(),
                    found=s.holding.found,
                    other=s.operation.approach,
                    play=course.length(play),
                )
                cure = say("Approach it from the {found} side.", found=s.holding.found)
                yield Hit(s, words, cure, change.operation(s.operation.id, approach=s.holding.found))
                break


@rule(
    RULES,
    "other-datum",
    FaultWeight.SPOILS,
    say("Measured from another face than the drawing's"),
    say("Two distances add up, and so do their errors: measured from the drawing's own face there is only one."),
)
def other_datum(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        for axis in ("x", "y"):
            zero = real_zero(course, s, axis)
            if axis not in axes_needed(s) or not zero or (zero not in (STOP, "axis") and not _is_there(s, zero)):
                continue
            for wanted, asked, width in drawing_datums(course, s, "xyz".index(axis)):
                if wanted == zero or (not _fits(course, s, zero, "xyz".index(axis)) and zero != STOP):
                    continue
                error = chain(course, s, zero, wanted)
                if error > width:
                    words = say(
                        "The drawing measures number {number} from {wanted}, within {width}; from {zero} the errors "
                        "of both distances come to {error}.",
                        number=asked.number,
                        wanted=course.piece.words(wanted),
                        width=course.length(width),
                        zero=say("the stop") if zero == STOP else course.piece.words(zero),
                        error=course.length(error),
                    )
                    there = _is_there(s, wanted) and _fits(course, s, wanted, "xyz".index(axis))
                    fix = change.operation(s.operation.id, **{axis: wanted}) if there else None
                    yield Hit(s, words, say("Set zero on this face: {face}.", face=course.piece.words(wanted)), fix)
                    break


def chain(course: Course, stage: Stage, zero: str, wanted: str) -> Fraction:
    """How much a distance may be out that is worked out from another zero than the drawing's, mm.

    What was cut from the same zero in the same holding is as far from it as the dials say; else both distances count.
    """
    if zero == STOP:
        return STOP_REPEATS
    feature = getattr(course.named(wanted), "feature", "")
    for other in course.stages[: stage.index]:
        if feature and feature in other.operation.of and other.holding.id == stage.holding.id:
            return 2 * LOCATING
    widths = [w for a, w in course.asked if w is not None and a.kind == "distance" and set(a.of) == {zero, wanted}]
    return min(widths, default=LOOSE) + LOCATING


@rule(
    RULES,
    "two-holdings",
    FaultWeight.SPOILS,
    say("Split over two holdings what the drawing ties together"),
    say("A bore and the holes around it stay true to each other when they are made without letting go."),
)
def two_holdings(course: Course) -> Iterator[Hit]:
    last: dict[str, Stage] = {}
    for s in course.stages:
        for f in s.features:
            if f.kind == "hole" and s.kind in HOLE_ORDER[:4]:
                last[f.name] = s
    for a, width in course.asked:
        if width is None or width >= 2 * TWO_HOLDINGS or a.kind not in ("distance", "position"):
            continue
        named = (course.named(n) for n in a.of)
        things = [t.feature for t in named if t and t.feature in last]
        if len(set(things)) == 2:
            one, two = (last[t] for t in things[:2])
            if one.holding.id != two.holding.id:
                words = say(
                    "Number {number} on the drawing ties {one} and {two} together within {width}, and they are made in "
                    "two holdings.",
                    number=a.number,
                    one=things[0],
                    two=things[1],
                    width=course.length(width),
                )
                yield Hit(max(one, two, key=lambda s: s.index), words, say("Make both in one holding."))


__all__ = ["RULES", "proposed", "real_zero"]
