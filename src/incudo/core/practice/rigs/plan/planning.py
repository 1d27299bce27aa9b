"""The planning rig: which order, which cutter, from which zero, and what is wrong with a plan.

Every wrong answer is one because the judge of plans says so of it, in the same words as beside a plan of one's own.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import islice
from typing import Literal

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.kernel.say import Text, capital, say, together
from incudo.core.planning import change
from incudo.core.planning.change import Fix
from incudo.core.planning.course import Course, axes_needed
from incudo.core.planning.cutters import unfit
from incudo.core.planning.file import OperationKind, Plan, PlanOperation
from incudo.core.planning.judge import RULES, judge
from incudo.core.planning.kinds import HOLE_ORDER, kind_words
from incudo.core.planning.offer import cutter_offers
from incudo.core.planning.own import own_plan
from incudo.core.planning.picture import frame_of
from incudo.core.planning.piece import Piece, piece_of
from incudo.core.planning.rules.base import FaultWeight, Finding
from incudo.core.planning.shop import PlanShop, pair_label
from incudo.core.practice.rigs.base import Level
from incudo.core.practice.rigs.plan.made_up import made_up, small_shop
from incudo.core.practice.rigs.plan.quiz import asked, svg_of
from incudo.core.practice.rigs.quiz import Question, QuizRig, QuizState
from incudo.core.shop.cutter import CutterKind

_ASKED, _WRONG = 6, 3
_HEAVY = (FaultWeight.BREAKS, FaultWeight.SPOILS)
#: So many parts are made up until one has a plan without any finding.
_TRIES = 24


class PlanPicture(BaseModel):
    """The drawing as SVG; the part before an operation, the metal that goes, jaws and cutter, each as a path; and the
    plan in lines.
    """

    model_config = ConfigDict(frozen=True)
    sheet: str
    view: tuple[float, float, float, float]
    part: str
    metal: str
    behind: str
    before: str
    cutter: str
    feed: str
    words: Text
    lines: tuple[Text, ...]
    #: Which line the question is about, from 0; -1 for none.
    at: int


class PlanningScene(BaseModel):
    """The step of the plan that is asked about now."""

    model_config = ConfigDict(frozen=True)
    rig: Literal["planning"] = "planning"
    picture: PlanPicture | None


@dataclass(frozen=True)
class Job:
    """A made-up part with a plan in which nothing is wrong."""

    piece: Piece
    shop: PlanShop
    plan: Plan
    sheet: str
    chance: random.Random

    def heavy(self, plan: Plan, *subjects: str) -> list[Finding]:
        """What of a plan breaks or spoils something; by the rules of some subjects, else by all."""
        found = judge(Course(self.piece, plan, self.shop), subjects or RULES)
        return [f for f in found if f.weight in _HEAVY]

    def operations(self, *kinds: OperationKind) -> list[PlanOperation]:
        """The plan's operations of some kinds, in an order by chance."""
        found = [o for _, o in self.plan.each() if o.kind in kinds]
        self.chance.shuffle(found)
        return found

    def reasons(self, subject: str, ways: Iterable[tuple[str, Fix]]) -> list[tuple[str, str]]:
        """Of ways to do it otherwise, by chance, those that are wrong, each with the judge's words; three at most."""
        mixed = list(ways)
        self.chance.shuffle(mixed)
        found = ((label, self.heavy(fix(self.plan), subject)) for label, fix in mixed)
        return list(islice(((label, capital(why[0].words)) for label, why in found if why), _WRONG))

    def picture(self, plan: Plan, at: str, *, lines: bool = True, bare: bool = False) -> PlanPicture:
        """The plan at an operation; without ``lines``, or ``bare`` of jaws and cutter, where those would tell."""
        course = Course(self.piece, plan, self.shop)
        written = [_line(self.piece, o) for _, o in plan.each()] if lines else []
        place = next(n for n, (_, o) in enumerate(plan.each()) if o.id == at)
        frame = frame_of(course, course.stages[place], course.settled[place], large=True)
        return PlanPicture(
            sheet=self.sheet,
            view=frame.view,
            part=frame.part,
            metal=frame.metal,
            behind="" if bare else frame.behind,
            before="" if bare else frame.before,
            cutter="" if bare else frame.cutter,
            feed="" if bare else frame.feed,
            words=say("The part before this step. {words}", words=frame.words),
            lines=tuple(written),
            at=place if lines else -1,
        )


def _done(piece: Piece, o: PlanOperation) -> str:
    """What an operation does; a feature that has no name of its own (the slot) is not named twice."""
    kind = kind_words()[o.kind]
    of = together((piece.words(n) for n in o.of), ", ")
    return kind if not of or kind.endswith(of) else say("{kind}: {of}", kind=kind, of=of)


def _line(piece: Piece, o: PlanOperation) -> str:
    done = _done(piece, o)
    return say("{done}, {cutter}", done=done, cutter=o.cutter) if o.cutter else done


Asked = Iterator[Question[PlanPicture]]


def _order(job: Job) -> Asked:
    """In which order a hole is made."""
    for name in ("pin hole", "screw hole"):
        ops = [o for _, o in job.plan.each() if name in o.of]
        orders: list[tuple[PlanOperation, ...]] = [
            tuple(o for o in ops if o.kind is not kind) for kind in HOLE_ORDER[:2] if len(ops) > 2
        ]
        for one, two in ((0, 1), (1, 2), (-1, 1), (-1, 0)):
            swapped = list(ops)
            swapped[one], swapped[two] = swapped[two], swapped[one]
            orders.append(tuple(swapped))
        wrong = job.reasons("order", ((_sequence(order), _reordered(ops, order)) for order in orders))
        if len(wrong) < 2:
            continue
        yield asked(
            say("In which order is the {name} made?", name=name),
            job.picture(job.plan, ops[0].id, lines=False, bare=True),
            _sequence(ops),
            wrong,
            say("Each step needs what the one before it leaves."),
            job.chance,
        )


def _sequence(ops: Sequence[PlanOperation]) -> str:
    words = kind_words()
    return together((words[o.kind] for o in ops), say(", then "))


def _reordered(ops: Sequence[PlanOperation], order: Sequence[PlanOperation]) -> Fix:
    """The operations of one feature in another order, in the places that they have; some may be left out."""

    def fix(plan: Plan) -> Plan:
        places = iter(order)
        ids = {o.id for o in ops}
        holdings = []
        for h in plan.holdings:
            made = [next(places, None) if o.id in ids else o for o in h.operations]
            holdings.append(h.model_copy(update={"operations": tuple(o for o in made if o is not None)}))
        return plan.model_copy(update={"holdings": tuple(holdings)})

    return fix


def _cutter(job: Job) -> Asked:
    """Which cutter does it."""
    for op in job.operations(OperationKind.SLOT, OperationKind.DRILL, OperationKind.REAM):
        feature = job.piece.features[op.of[0]]
        wrong = [(c.name, c.why_not) for c in cutter_offers(job.piece, job.shop, op.kind, feature) if c.why_not]
        job.chance.shuffle(wrong)
        if len(wrong) < 2:
            # a drill in the place of a reamer is taken more often than one would think
            drills = [c.cutter for c in job.shop.by_kind[CutterKind.DRILL]]
            job.chance.shuffle(drills)
            wrong += [(d.name, next(unfit(job.piece, job.shop, op.kind, feature, d)).words) for d in drills[:_WRONG]]
        yield asked(
            say("{done}. Which cutter?", done=_done(job.piece, op)),
            job.picture(job.plan, op.id, lines=False, bare=True),
            op.cutter,
            wrong[:_WRONG],
            say("It fits the size, reaches deep enough, and is the stiffest that does."),
            job.chance,
        )


def _parallels(job: Job) -> Asked:
    """How high the part has to lie in the vise."""
    held = job.plan.holdings[0]
    said = {
        p: job.heavy(change.holding(held.id, parallels=pair_label(p))(job.plan), "holding") for p in job.shop.drawer
    }
    good = [_long(job, pair.height) for pair, found in said.items() if not found]
    wrong = [(_long(job, pair.height), capital(found[0].words)) for pair, found in said.items() if found]
    if good and len(wrong) >= 2:
        yield asked(
            say(
                "Which parallels go under the block? The vise is {deep} deep.",
                deep=_long(job, job.shop.vises[0].jaws.depth),
            ),
            job.picture(job.plan, held.operations[0].id, bare=True),
            job.chance.choice(good),
            wrong,
            say("High enough that no cut comes near a jaw, low enough that a third of the height is gripped."),
            job.chance,
            critical=True,
        )


def _long(job: Job, length: Fraction) -> str:
    """A length, mm, in the unit of the drawing."""
    return Course(job.piece, job.plan, job.shop).length(length)


def _zero(job: Job) -> Asked:
    """From which face zero is set."""
    course = Course(job.piece, job.plan, job.shop)
    for op in job.operations(OperationKind.SPOT, OperationKind.SLOT, OperationKind.STEP):
        stage = next(s for s in course.stages if s.operation.id == op.id)
        for axis in (a for a in axes_needed(stage) if a != "z"):
            right = str(getattr(op, axis))
            names = [n for n in ("left", "right", "front", "rear", "slot.left wall", "step.wall") if n != right]
            wrong = job.reasons(
                "datum", ((capital(job.piece.words(n)), change.operation(op.id, **{axis: n})) for n in names)
            )
            if len(wrong) < 2:
                continue
            yield asked(
                say("{done}. On what is zero set along {axis}?", done=_done(job.piece, op), axis=axis.upper()),
                job.picture(job.plan, op.id),
                capital(job.piece.words(right)),
                wrong,
                say("The drawing measures it from there: one distance, one error."),
                job.chance,
                critical=True,
            )


_Spoil = tuple[tuple[OperationKind, ...], dict[str, object]]
#: Faults that one could think of beside a right one.
_LOOKS_LIKE = (
    "climb",
    "set-in-work",
    "wrong-holder",
    "no-measure",
    "unlocked",
    "moving-locked",
    "breakthrough",
    "too-deep",
    "flute-short",
    "no-zero",
    "hits-jaw",
    "burns",
)
#: What is done wrong on purpose: kinds of operation and what is set there.
_SPOILS: tuple[_Spoil, ...] = (
    ((OperationKind.SLOT, OperationKind.STEP), {"direction": "climb"}),
    ((OperationKind.SLOT, OperationKind.STEP), {"clear": False}),
    ((OperationKind.SLOT, OperationKind.STEP), {"holder": "chuck"}),
    ((OperationKind.SLOT, OperationKind.STEP), {"measure": False}),
    ((OperationKind.SLOT, OperationKind.STEP), {"lock": ()}),
    ((OperationKind.STEP,), {"lock": ("x", "y")}),
    ((OperationKind.DRILL,), {"easing": False}),
    ((OperationKind.DRILL, OperationKind.REAM), {"speed": 2800}),
    ((OperationKind.SPOT, OperationKind.DRILL), {"x": ""}),
)


def _fault(job: Job) -> Asked:
    """What is wrong with a plan that has one fault."""
    rules = [r for of in RULES.values() for r in of if r.weight in _HEAVY]
    spoils = list(_SPOILS)
    job.chance.shuffle(spoils)
    for kinds, changes in spoils:
        op = job.operations(*kinds)[0]
        spoilt = change.operation(op.id, **changes)(job.plan)
        found = job.heavy(spoilt)
        if len({f.code for f in found}) != 1 or found[0].operation != op.id:
            continue
        # what is not measured because it need not be is no trap
        likely = [r for r in rules if r.code in _LOOKS_LIKE and r.code not in (found[0].code, "no-measure")]
        others = [r.title for r in likely]
        yield asked(
            say("{line}. Something is wrong at this step: what?", line=_told(job, spoilt, op.id)),
            job.picture(spoilt, op.id),
            found[0].rule.title,
            [(title, say("nothing of that kind is wrong here")) for title in job.chance.sample(others, _WRONG)],
            say("{words} {why}", words=found[0].words, why=found[0].rule.why),
            job.chance,
        )


def _told(job: Job, plan: Plan, op: str) -> str:
    """A step of a plan with everything that is set at it, so that the fault can be found."""
    course = Course(job.piece, plan, job.shop)
    stage, n = next((s, n) for s, n in course.each() if s.operation.id == op)
    o = stage.operation
    said = [_line(job.piece, o)]
    cutter = stage.cutter
    holder = job.shop.holders.get(o.holder or (cutter.holder if cutter else ""))
    said += [holder.name] if holder else []
    said += [say("{rpm} rpm", rpm=round(n.speed))] if n.speed else []
    said += [say("zero along X: {face}", face=job.piece.words(o.x) if o.x else say("none"))]
    if o.kind in (OperationKind.SLOT, OperationKind.STEP):
        said += [say("{way} cut", way=n.direction)] if n.direction else []
        said += [say("locked: {axes}", axes=together((a.upper() for a in n.lock), ", ") if n.lock else say("nothing"))]
        said += [say("measured before the last pass") if n.measure else say("not measured before the last pass")]
        said += [say("depth set clear of the work") if o.clear else say("depth set in the work")]
    if o.kind is OperationKind.DRILL:
        said += [say("eased at the breakthrough") if o.easing else say("full feed to the end")]
    return together(said, "; ")


#: What is asked on each level; what a level brings in is asked first.
_LEVELS: dict[int, tuple[Callable[[Job], Asked], ...]] = {
    1: (_order, _cutter, _parallels),
    2: (_zero,),
    3: (_fault,),
}
#: At most so many of one kind.
_MOST_OF_A_KIND = 3


class PlanningRig(QuizRig[PlanPicture]):
    id = "planning"
    name = say("Plan the work")
    about = say("A part you have never seen: which order, which cutter, how high in the vise, zero on what?")
    skill = "plan-work"
    levels = (
        Level(1, say("Order and cutters"), say("In which order a hole is made, which cutter, which parallels.")),
        Level(2, say("Zeros"), say("From which face to count, as the drawing does.")),
        Level(3, say("Find the fault"), say("A plan in which one thing is wrong: what would happen?")),
    )

    def ask(self, s: QuizState[PlanPicture]) -> tuple[Question[PlanPicture], ...]:
        return _questions(s.setup.unit, s.level, s.seed)

    def scene(self, s: QuizState[PlanPicture]) -> PlanningScene:
        return PlanningScene(picture=s.now.picture if s.now else None)


# a run is played from its beginning at every answer: plans are not judged anew each time
@lru_cache(maxsize=64)
def _questions(unit: LengthUnit, level: int, seed: str) -> tuple[Question[PlanPicture], ...]:
    chance = random.Random(f"{seed}:{level}:planning")  # noqa: S311 (a simulation)
    job = sound_job(unit, chance)
    kinds = [(n, kind(job)) for n in range(level, 0, -1) for kind in _LEVELS[n]]
    found: list[Question[PlanPicture]] = []
    for n, kind in kinds:
        if n == level or len(found) < _ASKED:
            found += islice(kind, _MOST_OF_A_KIND)
    for _, kind in kinds:
        # a part that gives little of one kind gives more of another
        found += islice(kind, max(0, _ASKED - len(found)))
    found = found[:_ASKED]
    chance.shuffle(found)
    return tuple(found)


def _as_drawn(plan: Plan) -> bool:
    """Whether all is made in one holding in which X runs along the length: X at the machine is X on the drawing."""
    return [(h.up, h.fixed) for h in plan.holdings] == [("top", "rear")]


def sound_job(unit: LengthUnit, chance: random.Random) -> Job:
    """A part that was made up and a plan of it without a fault. Raises ``RuntimeError`` when none is found."""
    shop = small_shop(unit)
    for _ in range(_TRIES):
        part = made_up(chance, unit)
        piece = piece_of(part)
        plan = own_plan(piece, shop).plan
        if plan is not None and _as_drawn(plan) and not judge(Course(piece, plan, shop)):
            return Job(piece, shop, plan, svg_of(part.project), chance)
    raise Refused.of("seed", "", say("no part with a plan was found for this run"))
