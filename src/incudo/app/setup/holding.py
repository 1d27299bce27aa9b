"""Holding the work of a job card: which parallels, what the cutter meets, straps, the squaring sequence."""

from __future__ import annotations

import uuid
from fractions import Fraction
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Both, Command, Named, View
from incudo.app.parts.attempts import own_attempt
from incudo.app.setup.passes import positive
from incudo.app.setup.standards import holding_of, vises
from incudo.app.setup.states import setup_states
from incudo.app.setup.views import SetupState
from incudo.core.kernel.errors import NotPermitted, Refused
from incudo.core.kernel.quantity import Length, LengthUnit, Unit
from incudo.core.kernel.say import capital, say, together
from incudo.core.parts.project import Block, BoxCut, Hole, Project
from incudo.core.people.roles import Role
from incudo.core.practice.rigs.hold.scene import SaidLine, Section, StrapShown, section_of
from incudo.core.setup.holding import (
    SQUARING,
    Cut,
    Drilled,
    Held,
    JawVise,
    ParallelPair,
    Strap,
    choose,
    hold,
    sized,
    stop_words,
)
from incudo.core.setup.holding import Work as Block_
from incudo.core.shop.workholding import Parallels, kept_holding
from incudo.store import schema as t
from incudo.store.setup import setups as store
from incudo.store.shop import machines

Number = Annotated[str, Field(min_length=1, max_length=20)]
#: The point of a drill: 118 degrees, as most drills of a teaching shop are ground.
POINT_PER_DIAMETER = Fraction(3, 10)


class SquaringView(View):
    """One step of squaring a rough block."""

    number: int
    up: int
    fixed: int
    down: int
    moving: int
    bar: bool
    parallels: bool
    words: str
    check: str


class StrapQuestion(Command):
    """A strap clamp: from the bolt to the work's end, from the bolt to the heel, how much higher the heel stands."""

    unit: LengthUnit
    work_arm: Number
    heel_arm: Number
    heel_rise: Number = "0"


class StrapAnswer(View):
    """The share of the bolt's force on the work, with what is drawn."""

    strap: StrapShown
    words: str
    said: tuple[SaidLine, ...]


class HoldQuestion(Command):
    """How the work is to be held. Sizes of the stock as they are now; ``cuts`` are those made in this holding.

    ``turned`` lays the part's X across the jaws. ``pair`` is the height of the pair of parallels, empty for
    the best one, "bed" for none.
    """

    vise: uuid.UUID
    unit: LengthUnit
    across: Number
    along: Number
    height: Number
    turned: bool = False
    cuts: Annotated[tuple[Annotated[str, Field(max_length=80)], ...], Field(max_length=40)] = ()
    pair: Annotated[str, Field(max_length=20)] = ""


class KeepHolding(HoldQuestion):
    """The same, kept as the setup of this job."""

    id: uuid.UUID


class PairAnswer(View):
    """One pair of the drawer and how the work is held on it."""

    height: Both | None
    thickness: Both | None
    words: str
    proud: str
    grip: str
    grip_wanted: str
    good: bool
    said: tuple[SaidLine, ...]


class HoldAnswer(View):
    """Every pair, the best first; the chosen one drawn in section; where the stop goes."""

    pairs: tuple[PairAnswer, ...]
    chosen: int
    section: Section
    stop: str


class CutChoice(View):
    """A cut of the part that can be made in this holding."""

    name: str
    words: str
    through: bool


class HoldingPage(View):
    """What is needed to decide how the work of a job card is held."""

    assignment: uuid.UUID
    name: str
    student: Named
    machine: Named | None
    unit: LengthUnit
    block: bool
    across: str
    along: str
    height: str
    stock: str
    cuts: tuple[CutChoice, ...]
    vises: tuple[Named, ...]
    state: SetupState
    question: HoldQuestion | None
    answer: HoldAnswer | None
    squaring: tuple[SquaringView, ...]


def holding_page(w: Work, who: Who, assignment: uuid.UUID) -> HoldingPage:
    """The work of a job card, the vises, and how it was held last."""
    file = own_attempt(w, who, assignment)
    p = file.project
    (state,) = setup_states(w, who.id, None, assignment)
    solid = p.solid
    across, along, height = (solid.y, solid.x, solid.z) if isinstance(solid, Block) else ("", "", "")
    shop_vises = vises(w)
    question = _last_question(w, assignment)
    if question is None and isinstance(solid, Block) and shop_vises:
        names = tuple(c.name for c in _choices(p))
        question = HoldQuestion(
            vise=shop_vises[0][0].id, unit=p.unit, across=across, along=along, height=height, cuts=names
        )
    return HoldingPage(
        assignment=assignment,
        name=p.name,
        student=Named(id=file.student.id, name=file.student.name),
        machine=_machine(w, file.assignment.machine_id),
        unit=p.unit,
        block=isinstance(solid, Block),
        across=across,
        along=along,
        height=height,
        stock=p.stock,
        cuts=_choices(p),
        vises=tuple(Named(id=row.id, name=row.name) for row, _ in shop_vises),
        state=state,
        question=question,
        answer=_answer(w, p, question) if question else None,
        squaring=tuple(
            SquaringView(
                number=s.number,
                up=s.up,
                fixed=s.fixed,
                down=s.down,
                moving=s.moving,
                bar=s.bar,
                parallels=s.parallels,
                words=s.words,
                check=s.check,
            )
            for s in SQUARING
        ),
    )


def _machine(w: Work, machine: uuid.UUID | None) -> Named | None:
    if machine is None:
        return None
    row = find(w, t.Machine, machine, "machine")
    return Named(id=row.id, name=row.name)


def _last_question(w: Work, assignment: uuid.UUID) -> HoldQuestion | None:
    last = next(iter(store.holds_for(w.db, assignment)), None)
    return HoldQuestion.model_validate_json(last[0].settings) if last else None


def _choices(p: Project) -> tuple[CutChoice, ...]:
    """The cuts that come from above: boxes open at the top, holes along Z."""
    found = []
    for c in p.cuts:
        match c:
            case BoxCut() if p.is_from_above(c):
                found.append(
                    CutChoice(
                        name=c.name,
                        words=say("down to {z} {unit} above the bottom", z=c.z[0], unit=p.unit),
                        through=False,
                    )
                )
            case Hole() if p.is_from_above(c):
                through = min(p.length(c.start).mm, p.length(c.end).mm) <= 0
                words = say(
                    "{diameter} {unit}, {word}",
                    diameter=c.diameter,
                    unit=p.unit,
                    word="through" if through else "blind",
                )
                found.append(CutChoice(name=c.name, words=words, through=through))
    return tuple(found)


def hold_check(w: Work, who: Who, assignment: uuid.UUID, q: HoldQuestion) -> HoldAnswer:
    """How work holds that is clamped like this; keeps nothing."""
    return _answer(w, own_attempt(w, who, assignment).project, q)


def keep_hold(w: Work, who: Who, assignment: uuid.UUID, command: KeepHolding) -> HoldingPage:
    """Keep how the work is held as the setup of this job. What hits something is not kept."""
    file = own_attempt(w, who, assignment)
    if file.assignment.machine_id is None:
        raise Refused.of("machine", "", say("the job card has no machine yet: ask the instructor"))
    if who.role is Role.AUDITOR:
        raise NotPermitted(say("An auditor changes nothing."))
    answer = _answer(w, file.project, command)
    chosen = answer.pairs[answer.chosen]
    hits = [s.words for s in chosen.said if s.weight == "hits"]
    if hits:
        raise NotPermitted(*hits)
    question = HoldQuestion.model_validate(command.model_dump(exclude={"id"}))
    row = t.Setup(
        id=command.id,
        machine_id=file.assignment.machine_id,
        kind="hold",
        person_id=who.id,
        assignment_id=assignment,
        holding_id=command.vise,
        settings=question.model_dump_json(),
        at=w.now,
    )
    if insert_once(w, row, ignoring=("at",)):
        words = say("{words}, {proud} proud, {grip} gripped", words=chosen.words, proud=chosen.proud, grip=chosen.grip)
        w.db.add(t.SetupEnd(setup_id=command.id, good=chosen.good, words=words, at=w.now))
        w.db.flush()
    return holding_page(w, who, assignment)


def strap_check(q: StrapQuestion) -> StrapAnswer:
    """The share of a strap's force, and what is wrong with it."""
    arms = {f: positive(getattr(q, f), q.unit, f).mm for f in ("work_arm", "heel_arm")}
    strap = Strap(**arms, heel_rise=Length.parse(q.heel_rise, q.unit, "heel_rise").mm)
    return StrapAnswer(
        strap=StrapShown.of(strap),
        words=f"{sized(strap.heel_arm, q.unit)} / ({sized(strap.work_arm, q.unit)} + {sized(strap.heel_arm, q.unit)})",
        said=tuple(SaidLine.of(s) for s in strap.said()),
    )


def _answer(w: Work, p: Project, q: HoldQuestion) -> HoldAnswer:
    if not isinstance(p.solid, Block):
        raise Refused.of("solid", "bar", say("must be a block: round work is held in a V-block, its axis along X"))
    vise = holding_of(find(w, t.Workholding, q.vise, "vise"))
    work = Block_(*(positive(getattr(q, f), q.unit, f).mm for f in ("across", "along", "height")))
    jaws = JawVise(*(Length(x, vise.unit).mm for x in (vise.jaw, vise.depth, vise.opening)))
    cuts, holes = _cuts(p, q, work)
    drawer = _drawer(w)
    found = choose(work, jaws, drawer, cuts, holes, q.unit)
    chosen = _chosen(q, found)
    pair = found[chosen].pair
    # the section is drawn for the chosen pair; holding it again keeps one way of working it out
    held = hold(work, jaws, pair, cuts, holes, q.unit)
    return HoldAnswer(
        pairs=tuple(_pair(h, q.unit) for h in found),
        chosen=chosen,
        section=section_of(work, jaws, held.pair, cuts, holes, False),
        stop=stop_words(*_run_out(p, q)),
    )


def _chosen(q: HoldQuestion, found: tuple[Held, ...]) -> int:
    if not q.pair:
        return 0
    if q.pair == "bed":
        return next(i for i, h in enumerate(found) if h.pair is None)
    wanted = Length.parse(q.pair, q.unit, "pair").mm
    for i, h in enumerate(found):
        if h.pair and h.pair.height == wanted:
            return i
    raise Refused.of("pair", q.pair, say("there is no pair of this height in the drawer"))


def _drawer(w: Work) -> tuple[ParallelPair, ...]:
    found = []
    for row in machines.workholding(w.db):
        of = kept_holding(row.spec)
        if isinstance(of, Parallels):
            for x in of.pairs:
                found.append(ParallelPair(*(Length(v, of.unit).mm for v in (x.height, x.thickness, x.length))))
    return tuple(found)


def _cuts(p: Project, q: HoldQuestion, work: Block_) -> tuple[tuple[Cut, ...], tuple[Drilled, ...]]:
    """The part's cuts as they lie in the vise: the rear of the drawing (high Y) at the fixed jaw."""
    assert isinstance(p.solid, Block)  # noqa: S101 (narrowed by the caller)
    size = {"x": p.length(p.solid.x).mm, "y": p.length(p.solid.y).mm, "z": p.length(p.solid.z).mm}
    unknown = set(q.cuts) - {c.name for c in p.cuts}
    if unknown:
        raise Refused.of("cuts", together(sorted(unknown), ", "), say("must be cuts of this part"))
    axis = "x" if q.turned else "y"
    cuts, holes = [], []
    for c in p.cuts:
        if c.name not in q.cuts:
            continue
        match c:
            case BoxCut() if p.is_from_above(c):
                low, high = sorted(p.length(v).mm for v in (c.x if q.turned else c.y))
                low, high = max(low, Fraction(0)), min(high, size[axis])
                near, far = size[axis] - high, size[axis] - low
                far = work.across if low <= 0 else far
                floor = min(p.length(v).mm for v in c.z)
                cuts.append(Cut(capital(c.name), near, far, floor))
            case Hole() if p.is_from_above(c):
                x, y = (p.length(v).mm for v in c.at)
                across, along = (size["x"] - x, y) if q.turned else (size["y"] - y, x)
                d = p.length(c.diameter).mm
                floor = min(p.length(c.start).mm, p.length(c.end).mm)
                holes.append(Drilled(capital(c.name), along, across, d, d * POINT_PER_DIAMETER, floor))
    return tuple(cuts), tuple(holes)


def _run_out(p: Project, q: HoldQuestion) -> tuple[list[str], list[str]]:
    """The chosen cuts that reach the ends along the jaws: left and right, seen from the person.

    Not turned, X runs along the jaws, to the right. Turned, Y does: its low end comes to the right.
    """
    assert isinstance(p.solid, Block)  # noqa: S101 (narrowed by the caller)
    whole = p.length(p.solid.y if q.turned else p.solid.x).mm
    low, high = [], []
    for c in p.cuts:
        if isinstance(c, BoxCut) and p.is_from_above(c) and c.name in q.cuts:
            start, end = sorted(p.length(v).mm for v in (c.y if q.turned else c.x))
            if start <= 0:
                low.append(c.name)
            if end >= whole:
                high.append(c.name)
    return (high, low) if q.turned else (low, high)


def _pair(h: Held, unit: Unit) -> PairAnswer:
    def both(mm: Fraction) -> Both:
        return Both.exactly(mm, unit, 3 if unit is Unit.INCH else 1)

    return PairAnswer(
        height=both(h.pair.height) if h.pair else None,
        thickness=both(h.pair.thickness) if h.pair else None,
        words=say("parallels {sized}", sized=sized(h.pair.height, unit)) if h.pair else say("on the bed"),
        proud=sized(h.proud, unit),
        grip=sized(h.grip, unit),
        grip_wanted=sized(h.grip_wanted, unit),
        good=h.good,
        said=tuple(SaidLine.of(s) for s in h.said),
    )
