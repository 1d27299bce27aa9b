"""Practice rigs: beginning a run, doing something, its end; exercises for a group."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from typing import Any

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Named
from incudo.app.people.students import group_of
from incudo.app.practice.rig_runs import level_of, rig_of
from incudo.app.practice.rig_views import (
    ExerciseResult,
    ExerciseView,
    LevelView,
    RigCard,
    RigList,
    RunLine,
    SetExercise,
)
from incudo.app.setup.standards import rig_setup
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.records import skill_book
from incudo.core.kernel.say import from_json
from incudo.core.people.roles import Role
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import Rig
from incudo.core.skills.evidence import EvidenceKind
from incudo.core.skills.graph import RigStandard
from incudo.core.skills.standing import Book
from incudo.core.skills.streak import streak_of
from incudo.store import schema as t
from incudo.store.people import groups
from incudo.store.practice import rigs as store


def rig_list(w: Work, who: Who) -> RigList:
    """Every rig with how one stands, and the exercises: one's own group's, or all for who teaches."""
    runs = store.runs_of(w.db, who.id)
    book = skill_book(w, who.id) if who.role is Role.STUDENT else None
    mine = group_of(w, who.id) if book else None
    exercises = store.exercises(w.db, mine.id if mine else None) if book is None or mine else []
    found = groups.groups(w.db, w.today) if book is None else []
    return RigList(
        rigs=tuple(_card(w, rig, [x for x in runs if x[0].rig == rig.id], book) for rig in RIGS.values()),
        exercises=tuple(_exercise(w, e, group, who, everybody=book is None) for e, group in exercises),
        groups=tuple(Named(id=g.id, name=g.name) for g in found),
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
    """How far the runs are that count for this rig, at the wanted level or above."""
    mine = [
        e for e in book.record.evidence if e.kind is EvidenceKind.RIG and e.key == rig.id and e.level >= wanted.level
    ]
    return streak_of(e.passed for e in sorted(mine, key=lambda e: e.at)).toward(wanted.times)


def _line(run: t.RigRun, r: t.RigResult | None) -> RunLine:
    reasons: list[str] = from_json(json.loads(r.reasons)) if r else []
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
        names = {s: x[0][2] for s, x in by_student.items()} | {
            p.id: p.name for p in groups.students_of(w.db, e.group_id, w.today)
        }
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
    reasons: list[str] = from_json(json.loads(best[1].reasons)) if best else []
    return ExerciseResult(
        student=Named(id=student, name=name),
        run=best[0].id if best else newest,
        tries=len(runs),
        ended=best is not None,
        passed=best is not None and best[1].passed,
        passes=best[1].passes if best else 0,
        reason=reasons[0] if reasons else "",
    )


def set_exercise(w: Work, who: Who, command: SetExercise) -> RigList:
    """Set one rig, level and seed as an exercise for a group; played on the shop's vise and rules of now."""
    find(w, t.Group, command.group, "group")
    rig = rig_of(command.rig)
    level_of(rig, command.level)
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
