"""What can be wrong with the cut itself: direction, depth, locks, measuring."""

from __future__ import annotations

from collections.abc import Iterator

from incudo.core.kernel.quantity import in_places
from incudo.core.kernel.say import say, together
from incudo.core.locating.climb import MOST_LOST
from incudo.core.planning import change, limits
from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind
from incudo.core.planning.kinds import DRILLING
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, rule
from incudo.core.planning.settle import locks
from incudo.core.planning.shop import mm

RULES: Rules = []


@rule(
    RULES,
    "climb",
    FaultWeight.BREAKS,
    say("A climb cut with play in the screw"),
    say("The cutter pulls the table in by the play of the screw: it takes a bite that breaks it."),
)
def climb(course: Course) -> Iterator[Hit]:
    for s, n in course.milled:
        arbor = s.cutter is not None and s.cutter.on_arbor
        if n.direction != "climb" or (s.kind is OperationKind.FACE and not arbor):
            continue
        axis = "xy"[n.run]
        play = course.shop.backlash(axis)
        sideways = min(n.width, s.cutter.real if s.cutter else n.width)
        # with the side of the cutter the height says nothing: how much it takes sideways does
        heavy = sideways if s.kind is OperationKind.SIDE else max((0 if arbor else sideways), *n.depths)
        if play > MOST_LOST and heavy > limits.LIGHT:
            words = say(
                "{axis} has {play} of backlash, and the cut takes {heavy}.",
                axis=axis.upper(),
                play=course.length(play),
                heavy=course.length(heavy),
            )
            cure = say("Cut conventionally, and climb only for a last light pass.")
            yield Hit(s, words, cure, change.operation(s.operation.id, direction="conventional"))


@rule(
    RULES,
    "too-deep",
    FaultWeight.BREAKS,
    say("Too deep a pass"),
    say("Half the diameter in soft metal, a quarter in steel: deeper, the cutter bends and breaks."),
)
def too_deep(course: Course) -> Iterator[Hit]:
    for s, _ in course.milled:
        if not s.operation.depth or s.cutter is None:
            continue
        depth = mm(s.operation.depth, course.piece.unit)
        most = limits.depth_limit(s.kind, s.cutter, course.shop.soft)
        if depth > most:
            words = say(
                "{depth} in one pass; this cutter takes {most} in this metal.",
                depth=course.length(depth),
                most=course.length(most),
            )
            yield Hit(s, words, say("Take more passes."), change.operation(s.operation.id, depth=None))


@rule(
    RULES,
    "too-wide-pass",
    FaultWeight.BREAKS,
    say("Too wide a pass"),
    say("With its side a cutter takes a quarter of its diameter at full height."),
)
def too_wide_pass(course: Course) -> Iterator[Hit]:
    for s, _ in course.milled:
        if s.kind is not OperationKind.SIDE or not s.operation.width or s.cutter is None:
            continue
        width, most = mm(s.operation.width, course.piece.unit), limits.width_limit(s.kind, s.cutter)
        if width > most:
            words = say(
                "{width} sideways in one pass; {most} is the most for this cutter.",
                width=course.length(width),
                most=course.length(most),
            )
            yield Hit(s, words, say("Take more passes."), change.operation(s.operation.id, width=None))


@rule(
    RULES,
    "no-finish",
    FaultWeight.SPOILS,
    say("No finishing pass"),
    say("A full cut pushes the cutter away: the size comes from a light pass after it."),
)
def no_finish(course: Course) -> Iterator[Hit]:
    for s, n in course.milled:
        if s.operation.leave or s.operation.finish is None or n.finish > 0 or s.kind is OperationKind.CHAMFER:
            continue
        width = course.tightest(s)
        if width is not None and width < limits.FINISH_WIDTH:
            words = say("The drawing allows {width}, and the last pass is a full one.", width=course.length(width))
            cure = say("Leave {much} for a finishing pass.", much=course.length(limits.FINISH[course.piece.unit]))
            yield Hit(s, words, cure, change.operation(s.operation.id, finish=None))


@rule(
    RULES,
    "no-measure",
    FaultWeight.SPOILS,
    say("No measurement before the last pass"),
    say("What the dial says was taken and what is gone are two things: measure, then take what is left."),
)
def no_measure(course: Course) -> Iterator[Hit]:
    for s, n in course.milled:
        if n.measure or s.operation.leave or s.kind is OperationKind.CHAMFER:
            continue
        before = course.stages[s.index - 1] if s.index else None
        if before is not None and before.kind is OperationKind.MEASURE and before.holding.id == s.holding.id:
            continue
        width = course.tightest(s)
        if width is not None and width < limits.MEASURE_WIDTH:
            words = say("The drawing allows {width}.", width=course.length(width))
            cure = say("Measure before the last pass, then take what is left.")
            yield Hit(s, words, cure, change.operation(s.operation.id, measure=True))


@rule(
    RULES,
    "set-in-work",
    FaultWeight.SPOILS,
    say("The depth is set in the work"),
    say("A cutter that goes down or starts while it touches digs in and leaves its mark."),
)
def set_in_work(course: Course) -> Iterator[Hit]:
    for s, _ in course.milled:
        if not s.operation.clear:
            words = say("The next depth is set, or the spindle started, while the cutter touches.")
            cure = say("Set each depth clear of the work, and start there.")
            yield Hit(s, words, cure, change.operation(s.operation.id, clear=True))


@rule(
    RULES,
    "unlocked",
    FaultWeight.SPOILS,
    say("An axis is not locked"),
    say("What does not have to move is locked: the cut drags it along otherwise."),
)
def unlocked(course: Course) -> Iterator[Hit]:
    for s, n in course.each():
        if s.operation.lock is None or not s.taken or s.cutter is None:
            continue
        wanted = ("x", "y") if s.kind in DRILLING else locks(s, n.run)
        open_ = [a.upper() for a in wanted if a not in s.operation.lock]
        if open_:
            words = say("{axes} can move while it cuts.", axes=together(open_, ", "))
            cure = say("Lock {axes}.", axes=together((a.upper() for a in wanted), ", "))
            yield Hit(s, words, cure, change.operation(s.operation.id, lock=None))


@rule(
    RULES,
    "moving-locked",
    FaultWeight.BREAKS,
    say("The axis that feeds is locked"),
    say("Feeding against a lock wrenches the screw."),
)
def moving_locked(course: Course) -> Iterator[Hit]:
    for s, n in course.milled:
        axis = "xyz"[n.run]
        if s.operation.lock is not None and axis in s.operation.lock:
            words = say("{axis} feeds and is locked.", axis=axis.upper())
            yield Hit(s, words, say("Unlock it."), change.operation(s.operation.id, lock=None))


@rule(
    RULES,
    "tap-under-power",
    FaultWeight.BREAKS,
    say("A tap under power"),
    say("A tap is turned by hand, guided from the spindle: under power it breaks when it meets the bottom or a chip."),
)
def tap_under_power(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.TAP):
        if s.operation.speed:
            words = say("The spindle is to turn at {speed} rpm with the tap in it.", speed=s.operation.speed)
            cure = say("Turn it by hand, guided from the spindle; spindle off.")
            yield Hit(s, words, cure, change.operation(s.operation.id, speed=None))


@rule(
    RULES,
    "breakthrough",
    FaultWeight.BREAKS,
    say("Full feed at the breakthrough"),
    say("Where the point comes through the drill is drawn in: thin work is grabbed and thrown."),
)
def breakthrough(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.DRILL):
        if s.through and not s.operation.easing:
            words = say("It goes through, and the feed is not eased.")
            cure = say("Ease the feed, by hand, before the point comes through.")
            yield Hit(s, words, cure, change.operation(s.operation.id, easing=True))


@rule(
    RULES,
    "undubbed",
    FaultWeight.BREAKS,
    say("A sharp drill in brass or bronze"),
    say("Its edge screws itself in and lifts the work: dub it, a small flat along the lips."),
)
def undubbed(course: Course) -> Iterator[Hit]:
    for s, _ in course.each(OperationKind.DRILL):
        if course.shop.grabs and not s.operation.dubbed:
            words = say("The drill is as it comes, and the metal is {name}.", name=course.shop.stock.material.name)
            yield Hit(s, words, say("Use one with dubbed lips."), change.operation(s.operation.id, dubbed=True))


__all__ = ["RULES", "in_places"]
