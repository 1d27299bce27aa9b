"""Exercises: questions, answers, sheets; reckonings kept on job cards."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def open_question(db: Session, student: uuid.UUID, calculation: str) -> t.ExerciseQuestion | None:
    """The question of a calculation that a student has not answered yet; those of sheets left out."""
    query = (
        select(t.ExerciseQuestion)
        .outerjoin(t.ExerciseAnswer, t.ExerciseAnswer.question_id == t.ExerciseQuestion.id)
        .where(
            t.ExerciseQuestion.student_id == student,
            t.ExerciseQuestion.calculation == calculation,
            t.ExerciseQuestion.sheet_id.is_(None),
            t.ExerciseAnswer.question_id.is_(None),
        )
        .order_by(t.ExerciseQuestion.at, t.ExerciseQuestion.id)
        .limit(1)
    )
    return db.scalar(query)


@dataclass(frozen=True)
class Result:
    """How a question was answered."""

    student: uuid.UUID
    calculation: str
    right: bool
    slip: str
    at: datetime


def results(db: Session, students: Iterable[uuid.UUID], calculation: str = "") -> list[Result]:
    """The answers of these students that count, or those to one calculation, the oldest first.

    Answers to a sheet count when it was answered in class and has been ended: another sheet has
    the same questions for everybody, and whoever is shown theirs can hand them on.
    """
    query = (
        select(
            t.ExerciseQuestion.student_id,
            t.ExerciseQuestion.calculation,
            t.ExerciseAnswer.right,
            t.ExerciseAnswer.slip,
            t.ExerciseAnswer.at,
        )
        .join(t.ExerciseAnswer, t.ExerciseAnswer.question_id == t.ExerciseQuestion.id)
        .outerjoin(t.ExerciseSheetEnd, t.ExerciseSheetEnd.sheet_id == t.ExerciseQuestion.sheet_id)
        .outerjoin(t.ExerciseSheet, t.ExerciseSheet.id == t.ExerciseQuestion.sheet_id)
        .where(
            t.ExerciseQuestion.student_id.in_(list(students)),
            t.ExerciseQuestion.sheet_id.is_(None)
            | (t.ExerciseSheet.in_class & t.ExerciseSheetEnd.sheet_id.is_not(None)),
        )
        .order_by(t.ExerciseAnswer.at, t.ExerciseQuestion.id)
    )
    if calculation:
        query = query.where(t.ExerciseQuestion.calculation == calculation)
    return [Result(*row) for row in db.execute(query)]


def sheets(db: Session, group: uuid.UUID | None = None) -> list[tuple[t.ExerciseSheet, str]]:
    """Sheets with the name of their group, the newest first."""
    query = (
        select(t.ExerciseSheet, t.Group.name)
        .join(t.Group, t.Group.id == t.ExerciseSheet.group_id)
        .order_by(t.ExerciseSheet.at.desc(), t.ExerciseSheet.id.desc())
    )
    if group is not None:
        query = query.where(t.ExerciseSheet.group_id == group)
    return [(s, name) for s, name in db.execute(query)]


def open_in_class(db: Session, group: uuid.UUID | None) -> t.ExerciseSheet | None:
    """The sheet that a group answers in class now."""
    query = (
        select(t.ExerciseSheet)
        .outerjoin(t.ExerciseSheetEnd, t.ExerciseSheetEnd.sheet_id == t.ExerciseSheet.id)
        .where(t.ExerciseSheet.group_id == group, t.ExerciseSheet.in_class, t.ExerciseSheetEnd.sheet_id.is_(None))
        .order_by(t.ExerciseSheet.at.desc(), t.ExerciseSheet.id.desc())
        .limit(1)
    )
    return db.scalar(query)


def ended_now(db: Session, sheet: uuid.UUID) -> bool:
    """Whether a sheet is ended as of this moment; until the end of the transaction nobody ends it."""
    query = select(t.ExerciseSheetEnd.sheet_id).where(t.ExerciseSheetEnd.sheet_id == sheet).with_for_update(read=True)
    return db.scalar(query) is not None


def of_sheet(db: Session, sheet: uuid.UUID) -> list[tuple[t.ExerciseQuestion, t.ExerciseAnswer]]:
    """Everybody's answers to a sheet."""
    query = (
        select(t.ExerciseQuestion, t.ExerciseAnswer)
        .join(t.ExerciseAnswer, t.ExerciseAnswer.question_id == t.ExerciseQuestion.id)
        .where(t.ExerciseQuestion.sheet_id == sheet)
        .order_by(t.ExerciseQuestion.number)
    )
    return [(q, a) for q, a in db.execute(query)]


def sheet_question(db: Session, sheet: uuid.UUID, student: uuid.UUID, number: int) -> t.ExerciseQuestion | None:
    """A student's row of one number of a sheet, once they answered it."""
    of = t.ExerciseQuestion
    return db.scalar(select(of).where(of.sheet_id == sheet, of.student_id == student, of.number == number))


def slips(db: Session, group: uuid.UUID, since: datetime) -> list[tuple[str, str, str]]:
    """Calculation, slip and student of every slip in a group since a moment."""
    member = select(t.Enrolment.id).where(t.Enrolment.person_id == t.Person.id, t.Enrolment.group_id == group)
    query = (
        select(t.ExerciseQuestion.calculation, t.ExerciseAnswer.slip, t.Person.name)
        .join(t.ExerciseAnswer, t.ExerciseAnswer.question_id == t.ExerciseQuestion.id)
        .join(t.Person, t.Person.id == t.ExerciseQuestion.student_id)
        .where(t.ExerciseAnswer.slip != "", t.ExerciseAnswer.at >= since, member.exists())
    )
    return [(calculation, slip, name) for calculation, slip, name in db.execute(query)]
