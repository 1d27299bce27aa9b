"""What can be wrong with how far a tool reaches: its holder beside the work, a bar in its hole, the quill's travel."""

from __future__ import annotations

from collections.abc import Iterator

from incudo.core.kernel.say import say
from incudo.core.planning import change
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import BAR_ROOM, fitting, unfit
from incudo.core.planning.file import OperationKind
from incudo.core.planning.kinds import DRILLING, MILLING
from incudo.core.planning.limits import CLEAR
from incudo.core.planning.piece import exact
from incudo.core.planning.reach import Standing, standing_out
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, fit_for, rule
from incudo.core.planning.rules.holding import grips
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.holes.shared import point_length
from incudo.core.shop.cutter import Cutter, CutterKind

RULES: Rules = []


def standings_out(course: Course) -> tuple[tuple[Stage, Standing], ...]:
    """How far the cutter of each operation must stand out of its holder, where something says so."""
    if "standing out" not in course.memo:
        held = {h.id: grip for h, _, grip in grips(course)}
        found = ((s, standing_out(course, s, held.get(s.holding.id))) for s in course.stages)
        course.memo["standing out"] = tuple((s, x) for s, x in found if x is not None)
    return course.memo["standing out"]  # type: ignore[return-value]


@rule(
    RULES,
    "holder-low",
    FaultWeight.BREAKS,
    say("The holder comes down on the work"),
    say("Behind the cutter comes its holder, wider than the cutter: a wall or a jaw beside the cut must end below it."),
)
def holder_low(course: Course) -> Iterator[Hit]:
    for s, wanted in standings_out(course):
        if s.cutter is None or s.cutter.out is None or s.cutter.out >= wanted.least or _too_short(course, s, s.cutter):
            continue
        words = say(
            "{name} has a stick-out of {out}, and {least} is needed: the holder comes down on {what} beside the cut.",
            name=s.cutter.name,
            out=course.length(s.cutter.out),
            least=course.length(wanted.least),
            what=wanted.what,
        )
        longer = next((c for c in fit_for(course, s) if c.out is not None and c.out >= wanted.least), None)
        if longer is None:
            yield Hit(s, words, say("The crib has none with that stick-out: ask, or reach it from another side."))
        else:
            fix = change.operation(s.operation.id, cutter=longer.name, holder="", speed=None, feed=None)
            yield Hit(s, words, say("Use {name}.", name=longer.name), fix)


def _too_short(course: Course, s: Stage, cutter: Cutter) -> bool:
    """Whether its flutes do not reach down already: another rule says so, and another cutter is taken anyway."""
    feature, deep = next(iter(s.features), None), s.sizes[3] if s.kind in MILLING else None
    return any(u.code == "flute-short" for u in unfit(course.piece, course.shop, s.kind, feature, cutter, deep))


@rule(
    RULES,
    "bar-too-thick",
    FaultWeight.BREAKS,
    say("The boring bar does not go into the hole"),
    say("The bar needs room beside it in the hole that it begins in."),
)
def bar_too_thick(course: Course) -> Iterator[Hit]:
    bars = [c.cutter.real for c in course.shop.crib.values() if c.cutter.kind is CutterKind.BAR and c.left]
    for s in course.stages:
        if s.kind is not OperationKind.BORE or not bars:
            continue
        for f in s.features:
            drill = next(
                (
                    o
                    for o in reversed(course.stages[: s.index])
                    if o.kind is OperationKind.DRILL and f.name in o.operation.of and o.cutter
                ),
                None,
            )
            if drill is not None and drill.cutter and drill.cutter.real < min(bars) + BAR_ROOM:
                words = say(
                    "The hole is drilled {drilled}, and the thinnest bar is {bar}.",
                    drilled=course.length(drill.cutter.real),
                    bar=course.length(min(bars)),
                )
                fit = fitting(course.piece, course.shop, OperationKind.DRILL, f)
                wider = next((c for c in fit if c.real >= min(bars) + BAR_ROOM), None)
                fix = change.operation(drill.operation.id, cutter=wider.name) if wider else None
                yield Hit(s, words, say("Drill it larger first."), fix)


@rule(
    RULES,
    "quill-short",
    FaultWeight.COSTS,
    say("Deeper than the quill travels"),
    say("What the quill does not reach is fed by the knee, or the bar is set lower and the zero found again."),
)
def quill_short(course: Course) -> Iterator[Hit]:
    machine = course.shop.machine
    travel = machine.length(machine.quill_travel).mm
    for s in course.stages:
        spans = s.spans(2)
        if not travel or s.kind not in DRILLING or s.cutter is None or spans is None:
            continue
        deep = exact(spans[1] - spans[0]) + CLEAR
        if s.through and s.kind is OperationKind.DRILL:
            deep += point_length(s.cutter.real, s.cutter.point)
        if deep > travel:
            words = say(
                "The tool goes {deep} from clear above; the quill travels {travel}.",
                deep=course.length(deep),
                travel=course.length(travel),
            )
            yield Hit(s, words, say("Feed the rest by the knee, with the quill locked."))
