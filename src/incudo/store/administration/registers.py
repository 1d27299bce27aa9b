"""Pages of the append-only registers, the newest first."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session, aliased

from incudo.store import schema as t


@dataclass(frozen=True)
class Page:
    """A stretch of a register."""

    limit: int
    offset: int

    def of(self, db: Session, query: Any, newest: Any, key: Any) -> list[Any]:
        """The rows of this page; what was kept in one instant is ordered by its key, so that no page repeats a row."""
        return list(db.execute(query.order_by(newest.desc(), key.desc()).limit(self.limit).offset(self.offset)))


#: reading, by, student, project file
ReadingRow = tuple[t.Reading, str, str, str]
#: id, at, by, student, skill, machine, words
ActRow = tuple[uuid.UUID, datetime, str, str, str, str | None, str]
#: decision, by, student, project file
DecisionRow = tuple[t.Decision, str, str, str]
#: assignment, by, student, project version, machine
AssignmentRow = tuple[t.Assignment, str, str, t.ProjectVersion, str | None]


def readings(db: Session, page: Page, blind_for: uuid.UUID | None) -> tuple[int, Sequence[ReadingRow]]:
    """Readings; with ``blind_for`` only those that this assessor may see already."""
    by, student = aliased(t.Person), aliased(t.Person)
    query = (
        select(t.Reading, by.name, student.name, t.ProjectVersion.content)
        .join(by, by.id == t.Reading.person_id)
        .join(t.Attempt, t.Attempt.id == t.Reading.attempt_id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(student, student.id == t.Assignment.student_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
    )
    count = select(func.count()).select_from(t.Reading)
    if blind_for:
        query, count = query.where(_seen_by(blind_for)), count.where(_seen_by(blind_for))
    return db.scalar(count) or 0, page.of(db, query, t.Reading.saved_at, t.Reading.id)


def _seen_by(assessor: uuid.UUID) -> ColumnElement[bool]:
    """The blind check as a condition on readings: own, of a decided round, or opened by them."""
    of_round = (t.HandIn.attempt_id == t.Reading.attempt_id) & (t.HandIn.number == t.Reading.round)
    decided = select(t.Decision.id).join(t.HandIn, t.HandIn.id == t.Decision.hand_in_id).where(of_round)
    opened = (
        select(t.Comparison.id)
        .join(t.HandIn, t.HandIn.id == t.Comparison.hand_in_id)
        .where(of_round, t.Comparison.assessor_id == assessor)
    )
    return (t.Reading.person_id == assessor) | decided.exists() | opened.exists()


def acts(db: Session, page: Page, table: type[t.SignOff] | type[t.Withdrawal]) -> tuple[int, Sequence[ActRow]]:
    """Sign-offs or withdrawals."""
    by, student = aliased(t.Person), aliased(t.Person)
    words: Any = t.SignOff.note if table is t.SignOff else t.Withdrawal.reason
    query = (
        select(table.id, table.at, by.name, student.name, table.skill, t.Machine.name, words)
        .join(by, by.id == table.assessor_id)
        .join(student, student.id == table.student_id)
        .outerjoin(t.Machine, t.Machine.id == table.machine_id)
    )
    return _total(db, table), page.of(db, query, table.at, table.id)


def decisions(db: Session, page: Page) -> tuple[int, Sequence[DecisionRow]]:
    """Decisions about parts."""
    by, student = aliased(t.Person), aliased(t.Person)
    query = (
        select(t.Decision, by.name, student.name, t.ProjectVersion.content)
        .join(by, by.id == t.Decision.assessor_id)
        .join(t.HandIn, t.HandIn.id == t.Decision.hand_in_id)
        .join(t.Attempt, t.Attempt.id == t.HandIn.attempt_id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(student, student.id == t.Assignment.student_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
    )
    return _total(db, t.Decision), page.of(db, query, t.Decision.at, t.Decision.id)


def assignments(db: Session, page: Page) -> tuple[int, Sequence[AssignmentRow]]:
    """Assignments."""
    by, student = aliased(t.Person), aliased(t.Person)
    query = (
        select(t.Assignment, by.name, student.name, t.ProjectVersion, t.Machine.name)
        .join(by, by.id == t.Assignment.assigned_by)
        .join(student, student.id == t.Assignment.student_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .outerjoin(t.Machine, t.Machine.id == t.Assignment.machine_id)
    )
    return _total(db, t.Assignment), page.of(db, query, t.Assignment.assigned_at, t.Assignment.id)


def sealed(db: Session, page: Page) -> tuple[int, Sequence[t.RegisterEntry]]:
    """Entries of the register of safety."""
    rows = page.of(db, select(t.RegisterEntry), t.RegisterEntry.seq, t.RegisterEntry.entry_id)
    return _total(db, t.RegisterEntry), [row[0] for row in rows]


def _total(db: Session, table: type[t.Base]) -> int:
    return db.scalar(select(func.count()).select_from(table)) or 0
