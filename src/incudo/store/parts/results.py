"""What was given to students and what was decided about it, one line for each part."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


@dataclass(frozen=True)
class GivenPart:
    """A part that somebody was given; ``outcome`` is the last decision, empty before the first.

    ``decisions`` are fewer than ``hand_ins`` while one waits for its check.
    """

    student: uuid.UUID
    assignment: uuid.UUID
    project: uuid.UUID
    content: str
    given: datetime
    hand_ins: int
    decisions: int
    outcome: str
    decided: datetime | None
    by: str
    remark: str


def given_to(db: Session, students: Collection[uuid.UUID]) -> list[GivenPart]:
    """Every part given to these students, by student's name, then in the order in which they were given."""
    if not students:
        return []
    a, last = t.Assignment, t.Decision
    handed = (
        select(
            t.Attempt.assignment_id,
            func.count(t.HandIn.id).label("times"),
            func.count(last.hand_in_id).label("decisions"),
            func.max(last.at).label("at"),
        )
        .join(t.HandIn, t.HandIn.attempt_id == t.Attempt.id)
        .outerjoin(last, last.hand_in_id == t.HandIn.id)
        .group_by(t.Attempt.assignment_id)
        .subquery()
    )
    decided = (
        select(t.Attempt.assignment_id, last.at, last.outcome, last.remark, t.Person.name)
        .join(t.HandIn, t.HandIn.attempt_id == t.Attempt.id)
        .join(last, last.hand_in_id == t.HandIn.id)
        .join(t.Person, t.Person.id == last.assessor_id)
        .subquery()
    )
    student = t.Person.__table__.alias("student")
    query = (
        select(
            a.student_id,
            a.id,
            t.ProjectVersion.project_id,
            t.ProjectVersion.content,
            a.assigned_at,
            func.coalesce(handed.c.times, 0),
            func.coalesce(handed.c.decisions, 0),
            func.coalesce(decided.c.outcome, ""),
            decided.c.at,
            func.coalesce(decided.c.name, ""),
            func.coalesce(decided.c.remark, ""),
        )
        .join(t.ProjectVersion, t.ProjectVersion.id == a.project_version_id)
        .join(student, student.c.id == a.student_id)
        .outerjoin(handed, handed.c.assignment_id == a.id)
        .outerjoin(decided, (decided.c.assignment_id == a.id) & (decided.c.at == handed.c.at))
        .where(a.student_id.in_(list(students)))
        .order_by(student.c.name, a.assigned_at, a.id)
    )
    return [GivenPart(*row) for row in db.execute(query)]
