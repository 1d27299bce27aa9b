"""Practice rigs: beginning a run, doing something, its end; exercises for a group."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from datetime import datetime
from typing import Annotated, Any

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, Note, View
from incudo.app.setup.standards import rig_setup
from incudo.app.skills.records import skill_book, skill_graph
from incudo.app.skills.views import CautionView, caution_views
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.practice.rigs import RIGS, Scene
from incudo.core.practice.rigs.base import MOST_ACTIONS, Action, Rig, RigSetup, State, do, play, practised, result
from incudo.core.skills.evidence import EvidenceKind
from incudo.core.skills.graph import RigStandard
from incudo.core.skills.permission import Role
from incudo.core.skills.standing import Book
from incudo.store import schema as t
from incudo.store.practice import rigs as store


class LevelView(View):
    number: int
    name: str
    about: str


class RunLine(View):
    """A run in short."""

    id: uuid.UUID
    level: int
    at: datetime
    guided: bool
    ended: bool
    passed: bool
    passes: int
    reason: str


class RigCard(View):
    """A rig as it is offered: its levels, what it counts for, how far one is, the last runs."""

    rig: str
    name: str
    about: str
    skill: str
    levels: tuple[LevelView, ...]
    wanted: int
    wanted_level: int
    in_a_row: int
    running: uuid.UUID | None
    last: tuple[RunLine, ...]


class ExerciseResult(View):
    """How one student did an exercise; ``run`` is his best, or his newest."""

    student: Named
    run: uuid.UUID | None
    tries: int
    ended: bool
    passed: bool
    passes: int
    reason: str


class ExerciseView(View):
    """One rig, level and seed, set for a whole group."""

    id: uuid.UUID
    rig: str
    name: str
    level: int
    group: str
    words: str
    at: datetime
    mine: ExerciseResult | None
    results: tuple[ExerciseResult, ...]


class RigList(View):
    """The rigs and the exercises that concern this person."""

    rigs: tuple[RigCard, ...]
    exercises: tuple[ExerciseView, ...]
    groups: tuple[Named, ...]


class ControlView(View):
    """Something that can be done now, or why not."""

    label: str
    group: str
    closed: str
    action: Action


class FaultView(View):
    words: str
    critical: bool


class PassView(View):
    """One reading from end to end."""

    cells: tuple[str, ...]
    off: float
    words: str
    tight: bool


class ResultView(View):
    """How a run ended, and what a practised hand would have needed."""

    passed: bool
    passes: int
    practised: int
    reasons: tuple[str, ...]
    truth: str
    counts: bool
    best: tuple[PassView, ...]


class RigRunView(View):
    """A run as it is shown after its last action, or after ``shown`` of them."""

    id: uuid.UUID
    rig: str
    name: str
    task: str
    student: Named
    level: int
    level_name: str
    guided: bool
    mine: bool
    unit: Unit
    count: int
    shown: int
    said: str
    warned: bool
    advice: str
    press: str
    standard: float
    heads: tuple[str, ...]
    passes: tuple[PassView, ...]
    faults: tuple[FaultView, ...]
    controls: tuple[ControlView, ...]
    motion: tuple[tuple[float, float], ...]
    scene: Annotated[Scene, Field(discriminator="rig")]
    result: ResultView | None
    cautions: tuple[CautionView, ...]


class BeginRun(Command):
    """Begin a run. ``guided`` shows the next thing all the time; such a run does not count."""

    id: uuid.UUID
    rig: Annotated[str, Field(max_length=20)]
    level: Annotated[int, Field(ge=1, le=9)] = 1
    guided: bool = False
    exercise: uuid.UUID | None = None


class RigActs(Command):
    """Actions, the first of which is the run's action number ``number`` (from 1)."""

    number: Annotated[int, Field(ge=1, le=MOST_ACTIONS + 1)]
    actions: Annotated[tuple[Action, ...], Field(min_length=1, max_length=120)]


class SetExercise(Command):
    """The same rig, level and seed for everybody of a group. Without a seed one is drawn."""

    id: uuid.UUID
    group: uuid.UUID
    rig: Annotated[str, Field(max_length=20)]
    level: Annotated[int, Field(ge=1, le=9)] = 1
    seed: Annotated[str, Field(max_length=20, pattern=r"^[A-Za-z0-9-]*$")] = ""
    words: Note = ""


def _rig(name: str) -> Rig[Any]:
    found = RIGS.get(name)
    if found is None:
        raise Refused.of("rig", name, f"must be one of: {', '.join(RIGS)}")
    return found


def _level(rig: Rig[Any], level: int) -> None:
    if level not in {x.number for x in rig.levels}:
        raise Refused.of("level", level, f"must lie between 1 and {len(rig.levels)}")


def rig_list(w: Work, who: Who) -> RigList:
    """Every rig with how one stands, and the exercises: one's own group's, or all for who teaches."""
    runs = store.runs_of(w.db, who.id)
    book = skill_book(w, who.id) if who.role is Role.STUDENT else None
    mine = find(w, t.Person, who.id, "person").group_id if book else None
    exercises = store.exercises(w.db, mine) if book is None or mine else []
    groups = store.groups(w.db) if book is None else []
    return RigList(
        rigs=tuple(_card(w, rig, [x for x in runs if x[0].rig == rig.id], book) for rig in RIGS.values()),
        exercises=tuple(_exercise(w, e, group, who, everybody=book is None) for e, group in exercises),
        groups=tuple(Named(id=g.id, name=g.name) for g in groups),
    )


def _card(w: Work, rig: Rig[Any], runs: Sequence[tuple[t.RigRun, t.RigResult | None]], book: Book | None) -> RigCard:
    wanted = _wanted(w, rig)
    return RigCard(
        rig=rig.id,
        name=rig.name,
        about=rig.about,
        skill=skill_graph(w).get(rig.skill).name if any(s.id == rig.skill for s in skill_graph(w).skills) else "",
        levels=tuple(LevelView(number=x.number, name=x.name, about=x.about) for x in rig.levels),
        wanted=wanted.times if wanted else 0,
        wanted_level=wanted.level if wanted else 1,
        in_a_row=_in_a_row(book, rig, wanted) if book and wanted else 0,
        running=next((run.id for run, r in runs if r is None), None),
        last=tuple(_line(run, r) for run, r in runs[:4] if r),
    )


def _wanted(w: Work, rig: Rig[Any]) -> RigStandard | None:
    """What the graph asks of this rig; the first skill that asks for it."""
    asked = (r for s in skill_graph(w).skills for r in s.evidence)
    return next((r for r in asked if isinstance(r, RigStandard) and r.rig == rig.id), None)


def _in_a_row(book: Book, rig: Rig[Any], wanted: RigStandard) -> int:
    """How many of the newest runs in a row were to standard, at the wanted level or above."""
    kind = EvidenceKind.RIG
    mine = [e for e in book.record.evidence if e.kind is kind and e.key == rig.id and e.level >= wanted.level]
    count = 0
    for e in sorted(mine, key=lambda e: e.at, reverse=True):
        if not e.passed:
            break
        count += 1
    return count


def _line(run: t.RigRun, r: t.RigResult | None) -> RunLine:
    reasons: list[str] = json.loads(r.reasons) if r else []
    return RunLine(
        id=run.id,
        level=run.level,
        at=run.at,
        guided=run.guided,
        ended=r is not None,
        passed=r is not None and r.passed,
        passes=r.passes if r else 0,
        reason=reasons[0] if reasons else "",
    )


def _exercise(w: Work, e: t.RigExercise, group: str, who: Who, *, everybody: bool) -> ExerciseView:
    runs = store.exercise_runs(w.db, e.id)
    by_student: dict[uuid.UUID, list[tuple[t.RigRun, t.RigResult | None, str]]] = {}
    for x in runs:
        by_student.setdefault(x[0].student_id, []).append(x)
    if everybody:
        names = {s: x[0][2] for s, x in by_student.items()} | store.students_of(w.db, e.group_id)
        by_student = {s: by_student.get(s, []) for s in names}
        results = sorted((_result_of(s, names[s], x) for s, x in by_student.items()), key=lambda r: r.student.name)
    mine = by_student.get(who.id)
    return ExerciseView(
        id=e.id,
        rig=e.rig,
        name=RIGS[e.rig].name,
        level=e.level,
        group=group,
        words=e.words,
        at=e.at,
        mine=_result_of(who.id, who.name, mine) if mine else None,
        results=tuple(results) if everybody else (),
    )


def _result_of(
    student: uuid.UUID, name: str, runs: Sequence[tuple[t.RigRun, t.RigResult | None, str]]
) -> ExerciseResult:
    ended = [(run, r) for run, r, _ in runs if r]
    best = next(((run, r) for run, r in ended if r.passed), ended[0] if ended else None)
    newest = runs[0][0].id if runs else None
    reasons: list[str] = json.loads(best[1].reasons) if best else []
    return ExerciseResult(
        student=Named(id=student, name=name),
        run=best[0].id if best else newest,
        tries=len(runs),
        ended=best is not None,
        passed=best is not None and best[1].passed,
        passes=best[1].passes if best else 0,
        reason=reasons[0] if reasons else "",
    )


def begin_run(w: Work, who: Who, command: BeginRun) -> RigRunView:
    """Begin a run. An exercise brings its own rig, level, seed and setup."""
    seed, setup, level = uuid.uuid4().hex[:12], rig_setup(w).model_dump_json(), command.level
    rig = _rig(command.rig)
    if command.exercise:
        e = find(w, t.RigExercise, command.exercise, "exercise")
        if who.role is Role.STUDENT and find(w, t.Person, who.id, "person").group_id != e.group_id:
            raise NotFound("There is no such exercise.")
        rig, level, seed, setup = _rig(e.rig), e.level, e.seed, e.setup
    _level(rig, level)
    row = t.RigRun(
        id=command.id,
        student_id=who.id,
        rig=rig.id,
        level=level,
        seed=seed,
        setup=setup,
        guided=command.guided,
        exercise_id=command.exercise,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "seed", "setup"))
    return rig_run(w, who, command.id)


def _played(w: Work, row: t.RigRun, upto: int | None = None) -> tuple[Rig[Any], State, int]:
    """The rig, its state after ``upto`` actions, and how many actions there are."""
    rig = _rig(row.rig)
    rows = store.actions(w.db, row.id)
    actions = [Action.model_validate_json(a.content) for a in rows]
    shown = actions if upto is None else actions[:upto]
    state = play(rig, RigSetup.model_validate_json(row.setup), row.level, row.seed, shown)
    return rig, state, len(actions)


def _run_row(w: Work, who: Who, run: uuid.UUID) -> t.RigRun:
    row = find(w, t.RigRun, run, "run")
    if who.role is Role.STUDENT and row.student_id != who.id:
        raise NotFound("There is no such run.")
    return row


def rig_run(w: Work, who: Who, run: uuid.UUID, upto: int | None = None) -> RigRunView:
    """A run. One that is over can be looked at after any of its actions."""
    row = _run_row(w, who, run)
    ended = w.db.get(t.RigResult, run)
    rig, state, count = _played(w, row, upto if ended else None)
    return _view(w, who, row, rig, state, count, ended)


def rig_act(w: Work, who: Who, run: uuid.UUID, command: RigActs) -> RigRunView:
    """Do something at one's own run. The same actions sent again change nothing."""
    row = find(w, t.RigRun, run, "run")
    if row.student_id != who.id:
        raise NotFound("There is no such run.")
    rig, state, count = _played(w, row)
    begun = command.number - 1
    sent = [a.model_dump_json(exclude_defaults=True) for a in command.actions]
    if begun < count:
        kept = [a.content for a in store.actions(w.db, run)][begun : begun + len(sent)]
        if kept != sent:
            raise Conflict("This run has gone on meanwhile, in another window: load it again.")
        return rig_run(w, who, run)
    if begun > count:
        raise Conflict(f"Action {count + 1} comes next.")
    for i, action in enumerate(command.actions):
        do(rig, state, action)
        w.db.add(t.RigAction(run_id=run, number=command.number + i, content=sent[i], at=w.now))
    ended = None
    if state.finished:
        r = result(rig, state)
        ended = t.RigResult(
            run_id=run,
            passed=r.passed,
            passes=r.passes,
            practised=r.practised,
            reasons=json.dumps(r.reasons, ensure_ascii=False),
            at=w.now,
        )
        w.db.add(ended)
    w.db.flush()
    return _view(w, who, row, rig, state, count + len(sent), ended)


def _passes(state: State) -> tuple[PassView, ...]:
    return tuple(PassView(cells=p.cells, off=p.off, words=p.words, tight=p.tight) for p in state.passes)


def _view(
    w: Work, who: Who, row: t.RigRun, rig: Rig[Any], s: State, count: int, ended: t.RigResult | None
) -> RigRunView:
    setup = s.setup
    level = next(x for x in rig.levels if x.number == row.level)
    controls = rig.controls(s)
    advice = rig.advice(s) if row.guided and not s.finished else None
    press = next((c.label for c in controls if advice and c.action == advice.action), "")
    if advice and advice.action.do == "finish":
        press = "Finish"
    student = find(w, t.Person, row.student_id, "person")
    graph = skill_graph(w)
    known = any(x.id == rig.skill for x in graph.skills)
    return RigRunView(
        id=row.id,
        rig=rig.id,
        name=rig.name,
        task=rig.task(s),
        student=Named(id=student.id, name=student.name),
        level=row.level,
        level_name=level.name,
        guided=row.guided,
        mine=row.student_id == who.id,
        unit=setup.unit,
        count=count,
        shown=s.count,
        said=s.said,
        warned=s.warned,
        advice=advice.words if advice else "",
        press=press,
        standard=rig.standard(setup),
        heads=rig.heads,
        passes=_passes(s),
        faults=tuple(FaultView(words=f.words, critical=f.critical) for f in s.faults),
        controls=tuple(ControlView(label=c.label, group=c.group, closed=c.closed, action=c.action) for c in controls),
        motion=s.motion,
        scene=rig.scene(s),
        result=_result(rig, s, row, ended) if ended else None,
        cautions=caution_views(graph, rig.skill) if known else (),
    )


def _result(rig: Rig[Any], s: State, row: t.RigRun, ended: t.RigResult) -> ResultView:
    hand = practised(rig, s.setup, row.level, row.seed)
    return ResultView(
        passed=ended.passed,
        passes=ended.passes,
        practised=ended.practised,
        reasons=tuple(json.loads(ended.reasons)),
        truth=result(rig, s).truth,
        counts=not row.guided,
        best=_passes(hand),
    )


def set_exercise(w: Work, who: Who, command: SetExercise) -> RigList:
    """Set one rig, level and seed as an exercise for a group; played on the shop's vise and rules of now."""
    find(w, t.Group, command.group, "group")
    rig = _rig(command.rig)
    _level(rig, command.level)
    row = t.RigExercise(
        id=command.id,
        group_id=command.group,
        rig=rig.id,
        level=command.level,
        seed=command.seed or uuid.uuid4().hex[:8],
        setup=rig_setup(w).model_dump_json(),
        words=command.words,
        person_id=who.id,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "seed", "setup"))
    return rig_list(w, who)
