"""What can be wrong with the order of the work."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from shapely import Point, box

from incudo.core.kernel.say import say, together
from incudo.core.parts.features.file import Feature
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.parts.geometry.sections import reach, section, section_of
from incudo.core.parts.geometry.solid import Body, Revolved, Solid
from incudo.core.planning import change
from incudo.core.planning.course import Course, axes_needed
from incudo.core.planning.cutters import best_cutter
from incudo.core.planning.file import OperationKind, Plan, PlanOperation
from incudo.core.planning.kinds import DRILLING, HOLE_ORDER, MILLING, kind_words, stages_of
from incudo.core.planning.piece import TINY
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, rule
from incudo.core.planning.rules.datum import proposed
from incudo.core.planning.stages import Stage, take

RULES: Rules = []

#: Metal above a cut counts from this share of its plane on, and a cut takes something from this share on.
SHARE = 0.02


@rule(
    RULES,
    "hole-order",
    FaultWeight.SPOILS,
    say("The steps of a hole in the wrong order"),
    say("Spot, drill, bore or ream, counterbore or countersink, tap: each needs what the one before it left."),
)
def hole_order(course: Course) -> Iterator[Hit]:
    words = kind_words()
    for s in course.stages:
        if s.kind not in DRILLING:
            continue
        for f in s.features:
            done = [k for k, _ in s.made.get(f.name, ())]
            late = [k for k in done if k in HOLE_ORDER and HOLE_ORDER.index(k) > HOLE_ORDER.index(s.kind)]
            after = next(
                (
                    o
                    for o in course.stages[: s.index]
                    if f.name in o.operation.of and o.kind in late and s.kind in stages_of(f)
                ),
                None,
            )
            if after is not None and s.kind not in done:
                same = after.holding.id == s.holding.id
                yield Hit(
                    after,
                    say(
                        "{name}: {late} before being {done}.",
                        name=f.name,
                        late=_done(after.kind),
                        done=_done(s.kind),
                    ),
                    say("{kind} first.", kind=words[s.kind]),
                    change.moved(s.operation.id, after.operation.id) if same else None,
                )


@rule(
    RULES,
    "step-missing",
    FaultWeight.SPOILS,
    say("A step of a hole is missing"),
    say("A drill that is not spotted wanders; a reamer only follows the hole it finds; a tap needs its drill."),
)
def step_missing(course: Course) -> Iterator[Hit]:
    words = kind_words()
    everywhere: dict[str, set[OperationKind]] = {}
    for s in course.stages:
        for f in s.features:
            everywhere.setdefault(f.name, set()).add(s.kind)
    for s in course.stages:
        if s.kind not in DRILLING:
            continue
        for f in s.features:
            for k in stages_of(f):
                if HOLE_ORDER.index(k) >= HOLE_ORDER.index(s.kind) or k in everywhere[f.name]:
                    continue
                if any(
                    HOLE_ORDER.index(k) < HOLE_ORDER.index(o) < HOLE_ORDER.index(s.kind) for o in everywhere[f.name]
                ):
                    # the operation in between says it
                    continue
                new = _like(course, s, k)
                yield Hit(
                    s,
                    say("{name}: not {done} before.", name=f.name, done=_done(k)),
                    say("{kind} before it.", kind=words[k]),
                    change.inserted(new, s.operation.id) if new else None,
                )
                break


def _done(kind: OperationKind) -> str:
    return {
        OperationKind.SPOT: say("spotted"),
        OperationKind.DRILL: say("drilled"),
        OperationKind.BORE: say("bored"),
        OperationKind.REAM: say("reamed"),
        OperationKind.COUNTERBORE: say("counterbored"),
        OperationKind.COUNTERSINK: say("countersunk"),
        OperationKind.TAP: say("tapped"),
    }[kind]


def _like(course: Course, stage: Stage, kind: OperationKind) -> PlanOperation | None:
    """The step that is missing, where it stands: same zeros, the cutter that one would take."""
    found = best_cutter(course.piece, course.shop, kind, stage.features[0])
    if found is None:
        return None
    new = PlanOperation(
        id=change.new_id(course.plan, f"{stage.operation.id}-{kind}"[:34]),
        kind=kind,
        of=stage.operation.of,
        cutter=found.name,
    )
    taken = take(course.piece, new, course.shop, len(stage.before.cuts), stage.holding)
    as_it_stands = replace(stage, operation=new, cutter=found, taken=taken)
    zeros = {axis: proposed(course, as_it_stands, axis) for axis in axes_needed(as_it_stands)}
    return new.model_copy(update=zeros)


@rule(
    RULES,
    "no-deburr",
    FaultWeight.SPOILS,
    say("Not deburred before it is set down again"),
    say("On a burr nothing seats: the next face is out of square by it."),
)
def no_deburr(course: Course) -> Iterator[Hit]:
    filled = [(h, stages) for h, stages in course.held if stages]
    for (h, stages), _ in pairwise(filled):
        cut = [s.index for s in stages if s.kind in (*MILLING, *DRILLING)]
        burr = [s.index for s in stages if s.kind is OperationKind.DEBURR]
        if cut and max((*cut, *burr)) in cut:
            new = PlanOperation(id=change.new_id(course.plan, f"{h.id}-deburr"[:34]), kind=OperationKind.DEBURR)
            yield Hit(
                stages[-1],
                say("The work is turned over here and its burrs are still on."),
                say("Deburr at the end of this holding."),
                change.appended(new, h.id),
            )


@rule(
    RULES,
    "finish-first",
    FaultWeight.SPOILS,
    say("To size before it is roughed"),
    say("Roughing pushes, warms and marks: the size comes last."),
)
def finish_first(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        if not s.operation.leave or s.kind not in MILLING:
            continue
        for name in s.operation.of:
            before = [
                o
                for o in course.stages[: s.index]
                if o.kind is s.kind and name in o.operation.of and not o.operation.leave
            ]
            if before:
                same = before[0].holding.id == s.holding.id
                yield Hit(
                    s,
                    say("{name} was cut to size already.", name=course.piece.words(name)),
                    say("Rough it first."),
                    change.moved(s.operation.id, before[0].operation.id) if same else None,
                )
                break


@rule(
    RULES,
    "never-finished",
    FaultWeight.SPOILS,
    say("Roughed and never cut to size"),
    say("What a roughing cut leaves is still on the part."),
)
def never_finished(course: Course) -> Iterator[Hit]:
    if not course.complete:
        return
    for s in course.stages:
        if not s.operation.leave or s.kind not in MILLING:
            continue
        rest = [o for o in course.stages if o.kind is s.kind and set(o.operation.of) & set(s.operation.of)]
        if all(o.operation.leave for o in rest):
            yield Hit(
                s,
                say("It leaves {much} and nothing takes it.", much=f"{s.operation.leave} {course.piece.unit}"),
                say("Cut it to size."),
                change.operation(s.operation.id, leave=None),
            )


@rule(
    RULES,
    "cuts-air",
    FaultWeight.COSTS,
    say("Nothing is there to cut"),
    say("What is gone already needs no operation."),
)
def cuts_air(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        if (
            s.kind in (OperationKind.DEBURR, OperationKind.MEASURE, OperationKind.TAP, OperationKind.REAM)
            or not s.operation.of
        ):
            continue
        if _takes_nothing(s):
            yield Hit(s, say("The metal is gone by then."), say("Leave it out."), change.without(s.operation.id))


def _takes_nothing(stage: Stage) -> bool:
    if not stage.taken:
        return True
    if stage.kind in DRILLING:
        return any(k is stage.kind for f in stage.features for k, _ in stage.made.get(f.name, ()))
    before, lying = stage.place.solid(stage.before), stage.lying
    for body in lying:
        low, high = reach(body, 2)
        low, high = max(low, stage.block[0][2]), min(high, stage.block[1][2])
        for share in (0.1, 0.5, 0.9):
            at = low + (high - low) * share
            if high - low > TINY and _common(before, body, at) > 0.02:
                return False
    return True


def _common(before: Solid, body: Body, at: float) -> float:
    return float(section(before, 2, at).intersection(section_of(body, 2, at)).area)


@rule(
    RULES,
    "buried",
    FaultWeight.BREAKS,
    say("There is metal over it still"),
    say("A cutter comes from above: what lies over the cut has to be gone, or the shank runs into it."),
)
def buried(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        if (
            s.kind not in MILLING
            or s.kind in (OperationKind.FACE, OperationKind.SIDE, OperationKind.CHAMFER)
            or not s.taken
        ):
            continue
        block_top = s.block[1][2]
        before = s.place.solid(s.before)
        for body in s.lying:
            top = reach(body, 2)[1]
            if top > block_top - TINY:
                continue
            foot = box(reach(body, 0)[0], reach(body, 1)[0], reach(body, 0)[1], reach(body, 1)[1])
            over = [section(before, 2, top + (block_top - top) * share).intersection(foot).area for share in (0.1, 0.6)]
            slab = s.piece.slabs[s.holding.up]
            thick = slab.much if not s.true(s.holding.up) else 0.0
            if max(over) > SHARE * foot.area and block_top - top > thick + TINY:
                feature = _over(s, course)
                words = say(
                    "{over} of metal lie over it.",
                    over=course.length(block_top - top),
                )
                cure = say("Cut {name} first.", name=feature.operation.of[0]) if feature else say("Cut that first.")
                here = feature if feature and feature.holding.id == s.holding.id else None
                fix = change.moved(here.operation.id, s.operation.id) if here else None
                yield Hit(s, words, cure, fix)
                break


def _over(stage: Stage, course: Course) -> Stage | None:
    """A later operation that takes what lies over a cut."""
    names = {f.face.partition(".")[0] for f in stage.features if "." in f.face}
    return next((o for o in course.stages[stage.index + 1 :] if names & set(o.operation.of)), None)


@rule(
    RULES,
    "face-late",
    FaultWeight.SPOILS,
    say("Cut before its face is milled"),
    say("Depths count from the face: what is cut first from a rough one is cut deeper or less deep than it says."),
)
def face_late(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        up = s.holding.up
        if (
            s.kind in (OperationKind.FACE, OperationKind.SIDE, OperationKind.DEBURR, OperationKind.MEASURE)
            or s.true(up)
            or not s.taken
        ):
            continue
        if s.kind is OperationKind.SPOT or (s.kind is OperationKind.DRILL and s.through):
            continue
        later = next((o for o in course.stages[s.index + 1 :] if o.kind is OperationKind.FACE and up in o.faces), None)
        same = later is not None and later.holding.id == s.holding.id
        if s.operation.z == up:
            # the zero on a rough face says it
            continue
        yield Hit(
            s,
            say(
                "{face} is still rough, {much} over size.",
                face=course.piece.words(up),
                much=course.length(s.piece.slabs[up].much),
            ),
            say("Face it first."),
            change.moved(later.operation.id, s.operation.id) if later and same else None,
        )


@rule(
    RULES,
    "breaks-out",
    FaultWeight.BREAKS,
    say("The drill comes down half in the air"),
    say("A drill that finds metal on one side only runs off, bends and breaks."),
)
def breaks_out(course: Course) -> Iterator[Hit]:
    for s in course.stages:
        if s.kind not in (OperationKind.SPOT, OperationKind.DRILL) or not s.taken:
            continue
        before = s.place.solid(s.before)
        for body in s.lying:
            culprit = _half_in_air(s, before, body)
            if culprit:
                fix = _before_culprit(course, s)
                words = say("Along its way part of the hole has no metal around it.")
                cure = say("Drill before the side of the hole is cut away.")
                yield Hit(s, words, cure, fix)
                break


def _half_in_air(stage: Stage, before: Solid, body: Body) -> bool:
    if not isinstance(body, Revolved) or body.axis != 2:
        return False
    radius = max(r for _, r in body.profile)
    foot = Point(body.centre).buffer(radius * 0.98)
    column = before.column(2, (body.centre[0], body.centre[1], 0.0))
    low, high = reach(body, 2)
    tops = [c.high for c in column]
    if not tops:
        return False
    top = min(max(tops), high)
    bottom = max(low, stage.block[0][2])
    depth = min(top - bottom, radius * 2) if stage.kind is OperationKind.SPOT else top - bottom
    # a bar is drilled on its crown, where it falls away on both sides alike
    for share in (0.5,) if stage.piece.bar else (0.03, 0.5, 0.97):
        area = section(before, 2, top - depth * share).intersection(foot).area / foot.area
        inside = any(c.low < top - depth * share < c.high for c in column)
        if 0.02 < area < 0.97 and (inside or area > 0.1) and not _own(stage):
            return True
    return False


def _own(stage: Stage) -> bool:
    """Whether what is missing there is the hole's own: it was spotted or drilled smaller before."""
    return stage.kind is OperationKind.DRILL and any(
        k is OperationKind.DRILL for f in stage.features for k, _ in stage.made.get(f.name, ())
    )


def _before_culprit(course: Course, stage: Stage) -> change.Fix | None:
    """Move it before the last milling cut of this holding, when it fits there."""
    cuts = [
        o
        for o in course.stages[: stage.index]
        if o.holding.id == stage.holding.id
        and o.kind in MILLING
        and o.kind not in (OperationKind.FACE, OperationKind.SIDE)
    ]
    return change.moved(stage.operation.id, cuts[0].operation.id) if cuts else None


@rule(
    RULES,
    "missing",
    FaultWeight.SPOILS,
    say("Not made at all"),
    say("The part is ready when everything on the drawing is made."),
)
def missing(course: Course) -> Iterator[Hit]:
    if not course.complete:
        return
    faced = {
        f
        for s in course.stages
        if s.kind in (OperationKind.FACE, OperationKind.SIDE) and not s.operation.leave
        for f in s.faces
    }
    rough = sorted(course.piece.raw - faced)
    if rough:
        names = together((course.piece.words(f) for f in rough), ", ")
        yield Hit(None, say("Still as sawn or rolled: {names}.", names=names), say("Mill them to size."))
    done: dict[str, set[OperationKind]] = {}
    for s in course.stages:
        for f in s.features:
            done.setdefault(f.name, set()).add(s.kind)
    for f in course.piece.part.file.features:
        lacking = _lacking(f, done.get(f.name, set()))
        if lacking:
            words = kind_words()
            steps = together((words[k].lower() for k in lacking), ", ")
            yield Hit(None, say("{name}: still to do: {steps}.", name=f.name, steps=steps), say("Add what is missing."))


def _lacking(feature: Feature, done: set[OperationKind]) -> list[OperationKind]:
    wanted = stages_of(feature)
    if isinstance(feature, HoleFeature) and done:
        # a missing step before one that is there is said at that one
        last = max(HOLE_ORDER.index(k) for k in done if k in HOLE_ORDER)
        return [k for k in wanted if k not in done and HOLE_ORDER.index(k) > last]
    return [k for k in wanted if k not in done]


@rule(
    RULES,
    "one-holding-more",
    FaultWeight.COSTS,
    say("One holding more than needed"),
    say("Every new holding costs ten minutes, and an error of its own."),
)
def one_holding_more(course: Course) -> Iterator[Hit]:
    filled = [h for h, stages in course.held if stages]
    for one, two in pairwise(filled):
        alike = one.up == two.up and one.fixed == two.fixed and one.held == two.held and one.out == two.out
        if alike and one.vise == two.vise:
            words = say("It is held just as before.")
            yield Hit(two, words, say("Do it in the holding before."), _joined(one.id, two.id))


def _joined(one: str, two: str) -> change.Fix:
    def fix(plan: Plan) -> Plan:
        moving = next(h for h in plan.holdings if h.id == two)
        kept = [h for h in plan.holdings if h.id != two]
        first = next(h for h in kept if h.id == one)
        before = tuple(o for o in first.operations if o.kind is not OperationKind.DEBURR)
        both = first.model_copy(update={"operations": (*before, *moving.operations)})
        return plan.model_copy(update={"holdings": tuple(both if h.id == one else h for h in kept)})

    return fix


@rule(
    RULES,
    "one-change-more",
    FaultWeight.COSTS,
    say("One change of cutter more than needed"),
    say("All holes spotted, then all drilled: each cutter is put in once."),
)
def one_change_more(course: Course) -> Iterator[Hit]:
    for _, stages in course.held:
        tools = [s for s in stages if s.operation.cutter]
        for n, s in enumerate(tools):
            earlier = [o for o in tools[:n] if o.operation.cutter == s.operation.cutter]
            if not earlier or tools[n - 1].operation.cutter == s.operation.cutter:
                continue
            last = earlier[-1]
            between = tools[tools.index(last) + 1 : n]
            if not _depends(s, between):
                words = say("{cutter} was in the spindle before.", cutter=s.operation.cutter)
                cure = say("Do it right after {name}.", name=course.words(last))
                yield Hit(s, words, cure, change.moved(s.operation.id, last.operation.id, after=True))


def _depends(stage: Stage, between: list[Stage]) -> bool:
    """Whether an operation needs what those between have done: the same feature, a face of it, its zero."""
    mine = set(stage.operation.of) | {f.face.partition(".")[0] for f in stage.features}
    mine |= {z.partition(".")[0] for z in (stage.operation.x, stage.operation.y, stage.operation.z)}
    if any(mine & set(o.operation.of) for o in between):
        return True
    return any(o.kind is OperationKind.FACE for o in between)
