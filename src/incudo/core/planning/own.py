"""Incudo's own plan for a part on a machine, or why there is none.

Searched in two steps. Holdings first, breadth first over what is done: in each holding everything is done that can be
done in it, since doing more there never costs a holding; so the first plan that is found has the fewest. Then the
operations of each holding, grouped by cutter: with a cutter in the spindle all is done that it can do, so that the
fewest changes are found the same way. Same part and shop, same plan.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from itertools import count, islice

from incudo.core.kernel.say import say, together
from incudo.core.parts.features.frame import SIDES
from incudo.core.parts.geometry.solid import Solid
from incudo.core.planning.changes import grouped
from incudo.core.planning.course import Course, axes_needed, drawing_datums
from incudo.core.planning.cutters import fitting
from incudo.core.planning.file import OPPOSITE, HeldIn, OperationKind, Plan, PlanHolding, PlanOperation
from incudo.core.planning.judge import judge
from incudo.core.planning.kinds import HOLE_ORDER, MILLING, stages_of
from incudo.core.planning.piece import Piece, exact
from incudo.core.planning.place import Place
from incudo.core.planning.reasons import lacking, reasons
from incudo.core.planning.rules import holding as held_rules
from incudo.core.planning.rules import seating
from incudo.core.planning.rules.base import FaultWeight, Finding, Rule
from incudo.core.planning.rules.datum import chain, proposed
from incudo.core.planning.settle import runs_through, way_over
from incudo.core.planning.shop import PlanShop
from incudo.core.planning.stages import Stage, take
from incudo.core.setup.holding import CLEARANCE
from incudo.core.shop.cutter import Cutter

#: So many nodes are looked at before the search gives up, and so many findings are cured one after the other.
MOST_NODES, MOST_CURES = 600, 12
#: Of the cutters that do an operation so many are thought of.
MOST_FIT = 4
#: Rules that a holding must pass after every operation, and those that only ask how the work was put in.
_EACH = tuple(
    r
    for r in held_rules.RULES
    if r.code in ("opening", "grip-short", "end-inside", "hits-jaw", "hits-parallel", "hits-bed")
)
_ONCE = tuple(r for r in (*held_rules.RULES, *seating.RULES) if r.code in ("overhang", "grip-gone", "squeezed"))


@dataclass(frozen=True)
class Own:
    """Incudo's own plan with the reasons of its holdings; or, without a plan, what is impossible."""

    plan: Plan | None
    reasons: tuple[str, ...]


@dataclass(frozen=True)
class _Node:
    """What is done after some holdings."""

    done: frozenset[str]
    faced: frozenset[str]
    solid: Solid
    made: dict[str, tuple[tuple[OperationKind, float], ...]]
    holdings: tuple[PlanHolding, ...]
    strays: int
    #: For each operation the cutters that do it as the work lies, the best first.
    fit: dict[str, tuple[Cutter, ...]] = field(default_factory=dict)

    @property
    def cost(self) -> tuple[int, int]:
        return self.strays, sum(len(h.operations) for h in self.holdings)


def own_plan(piece: Piece, shop: PlanShop) -> Own:
    """The plan that Incudo would make, or a refusal that names what is in the way."""
    missing = lacking(piece, shop)
    if missing:
        return Own(None, tuple(missing))
    course = Course(piece, Plan(), shop)
    best: tuple[Finding, ...] = ()
    for node in _search(course):
        plan = _filled(course, node)
        plan, left = _cured(piece, plan, shop)
        if not left:
            return Own(plan, reasons(Course(piece, plan, shop)))
        if not best or len(left) < len(best):
            best = left
    if best:
        return Own(None, tuple(dict.fromkeys(say("{title}: {words}", title=f.rule.title, words=f.words) for f in best)))
    return Own(None, _cannot_hold(course))


def _tasks(piece: Piece) -> frozenset[str]:
    return frozenset(piece.raw) | frozenset(piece.features)


def _search(course: Course) -> Iterator[_Node]:
    """Finished nodes, those with fewest holdings first."""
    piece = course.piece
    everything = _tasks(piece)
    level = [_Node(frozenset(), frozenset(), piece.stock, {}, (), 0)]
    seen: set[frozenset[str]] = set()
    looked = 0
    while level:
        done = sorted((n for n in level if n.done == everything), key=lambda n: n.cost)
        yield from done
        following: dict[frozenset[str], _Node] = {}
        for node in level:
            if node.done == everything:
                continue
            for new in _next(course, node):
                looked += 1
                kept = following.get(new.done)
                if new.done not in seen and (kept is None or new.cost < kept.cost):
                    following[new.done] = new
        seen |= following.keys()
        level = _undominated(following)
        if looked > MOST_NODES * 4 and not any(n.done == everything for n in level):
            level = sorted(level, key=lambda n: (-len(n.done), n.cost))[:3]


def _undominated(found: dict[frozenset[str], _Node]) -> list[_Node]:
    """Nodes of which no other has done all that they have, and more."""
    nodes = sorted(found.values(), key=lambda n: (-len(n.done), n.cost))
    kept: list[_Node] = []
    for n in nodes:
        if not any(n.done < k.done for k in kept):
            kept.append(n)
    return kept


def _next(course: Course, node: _Node) -> Iterator[_Node]:
    """Every holding that does something, each with all that can be done in it."""
    piece = course.piece
    for up in _ups(piece, node):
        most = {n for n in piece.features if up in piece.ups[n]} | ({up} & piece.raw)
        done: list[frozenset[str]] = []
        for fixed in _beside(piece, up):
            for out in (False, True):
                if not out and any(d >= node.done | most for d in done):
                    # all that can be done from here is done in a holding that was found
                    continue
                made = _held(course, node, up, fixed, out)
                if made is not None and not any(d >= made.done for d in done):
                    done.append(made.done)
                    yield made


def _ups(piece: Piece, node: _Node) -> list[str]:
    """Faces that something is to be done from."""
    wanted = {f for f in piece.raw if f not in node.done}
    for name in piece.features:
        if name not in node.done:
            wanted |= piece.ups[name]
    if piece.bar:
        wanted -= {"left", "right"}
        wanted |= {"top"} if any(f in piece.raw and f not in node.done for f in ("left", "right")) else set()
    return [f for f in ("bottom", "front", "rear", "top", "left", "right") if f in wanted]


def _beside(piece: Piece, up: str) -> list[str]:
    if piece.bar:
        return ["rear", "front"] if up in ("top", "bottom") else ["top", "bottom"]
    order = ["rear", "front", "bottom", "top", "left", "right"]
    return [f for f in order if f not in (up, OPPOSITE[up])]


def _held(course: Course, node: _Node, up: str, fixed: str, out: bool) -> _Node | None:
    piece = course.piece
    place = Place.of(up, fixed)

    def true(face: str) -> bool:
        return face in node.faced or face not in piece.raw

    beside = [place.face_at(1, -1), place.face_at(0, 1), place.face_at(0, -1)]
    if not piece.bar and not true(fixed) and any(true(f) for f in beside):
        return None
    right = place.face_at(0, 1)
    ends = [f for f in (right, place.face_at(0, -1)) if not true(f)]
    if out and (right not in ends or not (piece.bar or true(fixed))):
        return None
    slab = exact(piece.slabs[right].much)
    far = slab + 2 * CLEARANCE if out else Fraction(0)
    holding = PlanHolding(
        id=f"h{len(node.holdings) + 1}",
        held=HeldIn.V_BLOCK if piece.bar else HeldIn.VISE,
        up=up,  # type: ignore[arg-type]
        fixed=fixed,  # type: ignore[arg-type]
        stop="left",
        soft_bar=not piece.bar and not true(place.face_at(1, -1)),
        out=f"{float(far / piece.unit.in_mm):.3f}" if out else "0",
    )
    return _Filler(course, node, holding, place).filled(ends if out else [])


class _Filler:
    """Does in one holding all that can be done in it."""

    def __init__(self, course: Course, node: _Node, holding: PlanHolding, place: Place) -> None:
        self.course, self.node, self.holding, self.place = course, node, holding, place
        self.stages: list[Stage] = []
        self.strays = 0
        self.fits: dict[tuple[object, ...], tuple[Cutter, ...]] = {}
        self.solid, self.faced, self.made = node.solid, node.faced, dict(node.made)

    def filled(self, ends: Sequence[str]) -> _Node | None:
        """The node after this holding; none when nothing can be done in it."""
        piece, up = self.course.piece, self.holding.up
        done = set(self.node.done)
        if up in piece.raw and up not in self.faced and not piece.bar and self._add(OperationKind.FACE, up):
            done.add(up)
        sided = [f for f in ends if self._add(OperationKind.SIDE, f)]
        if self.holding.out != "0" and not sided:
            return None
        done |= set(sided)
        again = True
        while again:
            again = False
            for name in piece.features:
                if name in done or up not in piece.ups[name] or not self._ready(name, done):
                    continue
                if self._feature(name):
                    done.add(name)
                    again = True
        if done == self.node.done or not self._holds(_ONCE):
            return None
        ops = tuple(s.operation for s in self.stages)
        return _Node(
            frozenset(done),
            self.faced,
            self.solid,
            self.made,
            (*self.node.holdings, self.holding.model_copy(update={"operations": ops})),
            self.node.strays + self.strays,
            self.node.fit | {s.operation.id: self._fit(s) for s in self.stages},
        )

    def _ready(self, name: str, done: set[str]) -> bool:
        """Whether what a feature stands on is there: its face, and for an edge both faces."""
        piece = self.course.piece
        feature = piece.features[name]
        wanted = [feature.face, *([feature.side] if feature.kind in ("chamfer", "angled", "step") else [])]
        for face in (*wanted, self.holding.up):
            if face in SIDES:
                if face in piece.raw and face not in self.faced:
                    return False
            elif face.partition(".")[0] not in done:
                return False
        return True

    def _stage(self, kind: OperationKind, *of: str) -> Stage:
        node, piece = self.node, self.course.piece
        n = sum(len(h.operations) for h in node.holdings) + len(self.stages)
        op = PlanOperation(id=f"o{n + 1}", kind=kind, of=of)
        taken = take(piece, op, self.course.shop, len(self.solid.cuts), self.holding)
        return Stage(
            n, self.holding, op, self.place, piece, self.solid, node.solid, taken, self.faced,
            node.faced, dict(self.made), None,
        )  # fmt: skip

    def _add(self, kind: OperationKind, *of: str) -> bool:
        stage = self._stage(kind, *of)
        if not self._fit(stage):
            return False
        self.stages.append(stage)
        if not self._holds():
            self.stages.pop()
            return False
        self._take(stage)
        return True

    def _fit(self, stage: Stage) -> tuple[Cutter, ...]:
        """The cutters that reach so far down as the work lies here, and whose way the table travels."""
        piece, shop = self.course.piece, self.course.shop
        feature = stage.features[0] if stage.features else None
        face = stage.faces[0] if stage.faces else ""
        deep = stage.sizes[3] if stage.kind in MILLING else None
        key = stage.operation.id, stage.operation.of, stage.kind
        if key not in self.fits:
            found = fitting(piece, shop, stage.kind, feature, face, deep)
            there = (c for c in found if stage.kind not in MILLING or _goes(stage, shop, c))
            self.fits[key] = tuple(islice(there, MOST_FIT))
        return self.fits[key]

    def _take(self, stage: Stage) -> None:
        self.solid = stage.after
        if stage.kind in (OperationKind.FACE, OperationKind.SIDE):
            self.faced |= set(stage.faces)
        for f in stage.features:
            self.made[f.name] = (*self.made.get(f.name, ()), (stage.kind, 0.0))

    def _feature(self, name: str) -> bool:
        """All operations of one feature, if it is held and every zero can be touched."""
        before = len(self.stages), self.solid, dict(self.made)
        strays = 0
        right = True
        for kind in stages_of(self.course.piece.features[name]):
            stage = self._stage(kind, name)
            found = self._strays(stage) if self._fit(stage) else None
            if found is None:
                right = False
                break
            strays += found
            self.stages.append(stage)
            self._take(stage)
        if not right or not self._holds():
            self.stages, self.solid, self.made = self.stages[: before[0]], before[1], before[2]
            return False
        self.strays += strays
        return True

    def _strays(self, stage: Stage) -> int | None:
        """Along how many axes it would be measured from another face than the drawing's; none where there is no
        zero, or the errors of both distances are too many.
        """
        course = replace(self.course, memo={})
        course.__dict__["stages"] = (*self.stages, stage)
        course.__dict__["asked"] = self.course.asked
        stage = replace(stage, index=len(self.stages))
        strays = 0
        for axis in axes_needed(stage):
            zero = proposed(self.course, stage, axis)
            if not zero:
                return None
            wanted = [] if axis == "z" else drawing_datums(self.course, stage, "xyz".index(axis))
            strays += bool(wanted) and zero not in {w for w, _, _ in wanted}
            if any(w != zero and chain(course, stage, zero, w) > width for w, _, width in wanted):
                return None
        return strays

    def _holds(self, rules: tuple[Rule, ...] = _EACH) -> bool:
        """Whether the work is held well for all that is done in this holding so far."""
        if self.holding.held is not HeldIn.VISE or not self.stages:
            return bool(self.stages)
        course = _Small(self.course, self.holding, tuple(self.stages))
        return not any(True for r in rules for _ in r.check(course))  # type: ignore[arg-type]


def _goes(stage: Stage, shop: PlanShop, cutter: Cutter) -> bool:
    """Whether a cutter can take this way: on an arbor straight through, and always within the travel of the table."""
    if cutter.on_arbor:
        stage = replace(stage, cutter=cutter)
        if not runs_through(stage):
            return False
    way = way_over(stage, cutter)
    return all(max(p[i] for p in way) - min(p[i] for p in way) <= shop.travel(i) for i in (0, 1)) if way else True


class _Small:
    """One holding as the rules of holding look at it."""

    def __init__(self, course: Course, holding: PlanHolding, stages: tuple[Stage, ...]) -> None:
        self.piece, self.shop, self.plan = course.piece, course.shop, Plan()
        self.held = ((holding, stages),)
        self.stages = stages
        self.memo: dict[str, object] = {}
        self.length, self.words, self.pair_of = course.length, course.words, course.pair_of

    def each(self, *kinds: OperationKind) -> Iterator[tuple[Stage, None]]:
        """The stages of these kinds."""
        return ((s, None) for s in self.stages if s.kind in kinds)


def _filled(course: Course, node: _Node) -> Plan:
    """The plan of a node: operations grouped and given cutters, zeros set, deburred at the end of each holding."""
    numbers = count(1)
    holdings = []
    last = ""
    for h in node.holdings:
        ops = [op.model_copy(update={"id": f"o{next(numbers)}"}) for op in _with_cutters(node, h, last)]
        ops = grouped(course.piece, ops, last)
        last = next((o.cutter for o in reversed(ops) if o.cutter), last)
        ops.append(PlanOperation(id=f"o{next(numbers)}", kind=OperationKind.DEBURR))
        stop = "" if any(o.kind is OperationKind.SIDE and _left(h, o) for o in ops) else h.stop
        holdings.append(h.model_copy(update={"operations": tuple(ops), "stop": stop}))
    return _zeroed(course, Plan(holdings=tuple(holdings)))


def _left(h: PlanHolding, op: PlanOperation) -> bool:
    return Place.of(h.up, h.fixed).face_at(0, -1) in op.of


def _with_cutters(node: _Node, h: PlanHolding, last: str) -> list[PlanOperation]:
    """The operations with their cutters: one that is used anyway, where it is as good."""
    chosen: list[str] = [last] if last else []
    found = []
    for op in sorted(h.operations, key=_turn):
        fit = node.fit[op.id]
        own = fit[0] if fit else None
        if own is not None and op.kind in (
            OperationKind.STEP,
            OperationKind.SIDE,
            OperationKind.ANGLE,
            OperationKind.SPOT,
        ):
            own = next((c for c in fit if c.name in chosen and c.kind is own.kind), own)
        name = own.name if own else ""
        chosen.append(name)
        found.append(op.model_copy(update={"cutter": name}))
    return found


def _turn(op: PlanOperation) -> int:
    order = [
        OperationKind.FACE,
        OperationKind.SIDE,
        OperationKind.POCKET,
        OperationKind.SLOT,
        OperationKind.STEP,
        OperationKind.ANGLE,
        *HOLE_ORDER,
        OperationKind.CHAMFER,
    ]
    return order.index(op.kind)


def _zeroed(course: Course, plan: Plan) -> Plan:
    """Every zero that is needed, as the drawing has it."""
    walked = replace(course, plan=plan)
    zeros: dict[str, dict[str, str]] = {}
    for s in walked.stages:
        found = {axis: proposed(walked, s, axis) for axis in axes_needed(s)}
        zeros[s.operation.id] = {k: v for k, v in found.items() if v}
    holdings = tuple(
        h.model_copy(update={"operations": tuple(o.model_copy(update=zeros.get(o.id, {})) for o in h.operations)})
        for h in plan.holdings
    )
    return plan.model_copy(update={"holdings": holdings})


def _cured(piece: Piece, plan: Plan, shop: PlanShop) -> tuple[Plan, tuple[Finding, ...]]:
    """A plan after the judge: what it can cure itself is cured; what then is left of the first two weights."""
    left: tuple[Finding, ...] = ()
    for _ in range(MOST_CURES):
        found = judge(Course(piece, plan, shop))
        left = tuple(f for f in found if f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS))
        fix = next((f.fix for f in (*left, *(f for f in found if f.weight is FaultWeight.COSTS)) if f.fix), None)
        if fix is None:
            break
        plan = fix(plan)
    return plan, left


def _cannot_hold(course: Course) -> tuple[str, ...]:
    """What no holding does: the tasks that the longest search could not do."""
    piece = course.piece
    node = _Node(frozenset(), frozenset(), piece.stock, {}, (), 0)
    for _ in range(12):
        best = max(_next(course, node), key=lambda n: len(n.done), default=None)
        if best is None:
            break
        node = best
    left = sorted(_tasks(piece) - node.done)
    names = together((piece.words(n) for n in left), ", ")
    shop = course.shop
    bounds = say(
        "{machine} travels {x} by {y}; the vise opens to {opening}.",
        machine=shop.name,
        x=course.length(shop.travel(0)),
        y=course.length(shop.travel(1)),
        opening=course.length(max((v.jaws.opening for v in shop.vises), default=Fraction(0))),
    )
    return say("No way to hold it was found for: {names}.", names=names), bounds
