"""Runs of a rig: begun, acted on, ended."""

from __future__ import annotations

import json
import uuid
from typing import Any

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named
from incudo.app.people.students import in_group
from incudo.app.practice.rig_views import BeginRun, ControlView, FaultView, PassView, ResultView, RigActs, RigRunView
from incudo.app.setup.standards import rig_setup
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.views import caution_views
from incudo.core.kernel.errors import Conflict, NotFound, Refused
from incudo.core.kernel.say import as_json, from_json, say, together
from incudo.core.people.roles import Role
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Action, Rig, RigSetup, State, do, play, practised, result
from incudo.store import schema as t
from incudo.store.people import people
from incudo.store.practice import rigs as store


def rig_of(name: str) -> Rig[Any]:
    """The rig of this name. Raises ``Refused``."""
    found = RIGS.get(name)
    if found is None:
        raise Refused.of("rig", name, say("must be one of: {listed}", listed=together(RIGS, ", ")))
    return found


def level_of(rig: Rig[Any], level: int) -> None:
    """Raises ``Refused`` for a level that the rig has not."""
    if level not in {x.number for x in rig.levels}:
        raise Refused.of("level", level, say("must lie between 1 and {count}", count=len(rig.levels)))


def begin_run(w: Work, who: Who, command: BeginRun) -> RigRunView:
    """Begin a run and show it."""
    open_run(w, who, command)
    return rig_run(w, who, command.id)


def open_run(w: Work, who: Who, command: BeginRun) -> None:
    """Begin a run. An exercise brings its own rig, level and setup, and for guided runs its seed."""
    # before anything is read: what another request of this person has just begun must be seen
    people.lock_person(w.db, who.id)
    seed, setup, level = uuid.uuid4().hex[:12], rig_setup(w).model_dump_json(), command.level
    rig = rig_of(command.rig)
    if command.exercise:
        e = find(w, t.RigExercise, command.exercise, "exercise")
        if who.role is Role.STUDENT and not in_group(w, who.id, e.group_id):
            raise NotFound(say("There is no such exercise."))
        rig, level, setup = rig_of(e.rig), e.level, e.setup
        if command.guided:
            # guided everybody has the same before them; what counts is everybody's own, or the first gives it away
            seed = e.seed
    level_of(rig, level)
    if not command.guided and w.db.get(t.RigRun, command.id) is None:
        _leave_open_ones(w, who, rig, leave=command.leave)
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


#: What is kept of a run for the record that was left for another.
LEFT = say("left before it was finished")


def _leave_open_ones(w: Work, who: Who, rig: Rig[Any], *, leave: bool) -> None:
    """Who does not like how a run goes may not simply begin another one. Raises ``Conflict`` as the warning."""
    open_ = [row for row, ended in store.runs_of(w.db, who.id, rig.id) if ended is None and not row.guided]
    if open_ and not leave:
        raise Conflict(
            say("You have a run open on this rig. Go on with it, or leave it: it then counts as not reached.")
        )
    for row in open_:
        _, state, _ = _played(w, row)
        w.db.add(
            t.RigResult(
                run_id=row.id,
                passed=False,
                passes=len(state.passes),
                practised=0,
                reasons=json.dumps(as_json([LEFT]), ensure_ascii=False),
                at=w.now,
            )
        )
    w.db.flush()


def _played(w: Work, row: t.RigRun, upto: int | None = None) -> tuple[Rig[Any], State, int]:
    """The rig, its state after ``upto`` actions, and how many actions there are."""
    rig = rig_of(row.rig)
    rows = store.actions(w.db, row.id)
    actions = [Action.model_validate_json(a.content) for a in rows]
    shown = actions if upto is None else actions[:upto]
    state = play(rig, RigSetup.model_validate_json(row.setup), row.level, row.seed, shown)
    return rig, state, len(actions)


def _run_row(w: Work, who: Who, run: uuid.UUID) -> t.RigRun:
    row = find(w, t.RigRun, run, "run")
    if who.role is Role.STUDENT and row.student_id != who.id:
        raise NotFound(say("There is no such run."))
    return row


def rig_run(w: Work, who: Who, run: uuid.UUID, upto: int | None = None) -> RigRunView:
    """A run. One that is over can be looked at after any of its actions."""
    row = _run_row(w, who, run)
    ended = w.db.get(t.RigResult, run)
    rig, state, count = _played(w, row, upto if ended else None)
    return _view(w, who, row, rig, state, count, ended)


def rig_act(w: Work, who: Who, run: uuid.UUID, command: RigActs) -> RigRunView:
    """Do something at one's own run, and show it."""
    done = keep_actions(w, who, run, command)
    return rig_run(w, who, run) if done is None else _view(w, who, *done)


Played = tuple[t.RigRun, Rig[Any], State, int, t.RigResult | None]


def keep_actions(w: Work, who: Who, run: uuid.UUID, command: RigActs) -> Played | None:
    """Do something at one's own run; gives how it stands then.

    The same actions sent again change nothing and give ``None``. Raises ``Conflict`` for others in their place.
    """
    row = find(w, t.RigRun, run, "run")
    if row.student_id != who.id:
        raise NotFound(say("There is no such run."))
    rig, state, count = _played(w, row)
    begun = command.number - 1
    sent = [a.model_dump_json(exclude_defaults=True) for a in command.actions]
    if begun < count:
        kept = [a.content for a in store.actions(w.db, run)][begun : begun + len(sent)]
        if kept != sent:
            raise Conflict(say("This run has gone on meanwhile, in another window: load it again."))
        return None
    if w.db.get(t.RigResult, run) is not None:
        raise Conflict(say("This run is over."))
    if begun > count:
        raise Conflict(say("Action {count} comes next.", count=count + 1))
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
            reasons=json.dumps(as_json(r.reasons), ensure_ascii=False),
            at=w.now,
        )
        w.db.add(ended)
    w.db.flush()
    return row, rig, state, count + len(sent), ended


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
        press = say("Finish")
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
        reasons=tuple(from_json(json.loads(ended.reasons))),
        truth=result(rig, s).truth,
        counts=not row.guided,
        best=_passes(hand),
    )
