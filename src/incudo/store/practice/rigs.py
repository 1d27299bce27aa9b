"""Runs of practice rigs, their actions and results, and exercises for a group."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def runs_of(db: Session, student: uuid.UUID, rig: str = "") -> list[tuple[t.RigRun, t.RigResult | None]]:
    """A student's runs with their results, the newest first."""
    query = (
        select(t.RigRun, t.RigResult)
        .outerjoin(t.RigResult, t.RigResult.run_id == t.RigRun.id)
        .where(t.RigRun.student_id == student)
        .order_by(t.RigRun.at.desc(), t.RigRun.id.desc())
    )
    if rig:
        query = query.where(t.RigRun.rig == rig)
    return [(run, result) for run, result in db.execute(query)]


def actions(db: Session, run: uuid.UUID) -> list[t.RigAction]:
    """The actions of a run, in order."""
    return list(db.scalars(select(t.RigAction).where(t.RigAction.run_id == run).order_by(t.RigAction.number)))


@dataclass(frozen=True)
class Ended:
    """How a run for the record ended."""

    student: uuid.UUID
    rig: str
    level: int
    passed: bool
    passes: int
    at: datetime


def results(db: Session, students: Iterable[uuid.UUID]) -> list[Ended]:
    """Every ended run for the record of these students, the oldest first."""
    query = (
        select(
            t.RigRun.student_id,
            t.RigRun.rig,
            t.RigRun.level,
            t.RigResult.passed,
            t.RigResult.passes,
            t.RigResult.at,
        )
        .join(t.RigResult, t.RigResult.run_id == t.RigRun.id)
        .where(t.RigRun.student_id.in_(list(students)), t.RigRun.guided.is_(False))
        .order_by(t.RigResult.at, t.RigResult.run_id)
    )
    return [Ended(*row) for row in db.execute(query)]


def exercises(db: Session, group: uuid.UUID | None = None) -> list[tuple[t.RigExercise, str]]:
    """Exercises with the name of their group, the newest first."""
    query = (
        select(t.RigExercise, t.Group.name)
        .join(t.Group, t.Group.id == t.RigExercise.group_id)
        .order_by(t.RigExercise.at.desc(), t.RigExercise.id.desc())
    )
    if group is not None:
        query = query.where(t.RigExercise.group_id == group)
    return [(e, name) for e, name in db.execute(query)]


def exercise_runs(db: Session, exercise: uuid.UUID) -> list[tuple[t.RigRun, t.RigResult | None, str]]:
    """Who ran an exercise and how, the newest first."""
    query = (
        select(t.RigRun, t.RigResult, t.Person.name)
        .outerjoin(t.RigResult, t.RigResult.run_id == t.RigRun.id)
        .join(t.Person, t.Person.id == t.RigRun.student_id)
        .where(t.RigRun.exercise_id == exercise)
        .order_by(t.RigRun.at.desc(), t.RigRun.id.desc())
    )
    return [(run, result, name) for run, result, name in db.execute(query)]
