"""Pages of the append-only registers by key, the newest first: one indexed query each, wherever the page lies."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, Select, and_, or_, select, union
from sqlalchemy.orm import Session, aliased

from incudo.store import schema as t


@dataclass(frozen=True)
class Place:
    """Where a line stands in a register: its moment and its key."""

    at: datetime
    key: uuid.UUID


@dataclass(frozen=True)
class Page:
    """So many lines older than a place, or newer ones up to it; without a place the newest. Of one student, or all."""

    limit: int
    before: Place | None = None
    after: Place | None = None
    student: uuid.UUID | None = None

    def ids(self, db: Session, query: Select[Any], at: Any, key: Any) -> list[uuid.UUID]:
        """The keys of this page, newest first. What was kept in one instant is ordered by its key."""
        if self.before is not None:
            # the first condition is what the index is searched by
            x = self.before
            query = query.where(at <= x.at, or_(at < x.at, and_(at == x.at, key < x.key)))
        if self.after is not None:
            x = self.after
            query = query.where(at >= x.at, or_(at > x.at, and_(at == x.at, key > x.key)))
            return list(db.scalars(query.order_by(at, key).limit(self.limit)))[::-1]
        return list(db.scalars(query.order_by(at.desc(), key.desc()).limit(self.limit)))


#: reading, by, student, project version
ReadingRow = tuple[t.Reading, str, str, uuid.UUID]
#: id, at, by, student, skill, machine, words
ActRow = tuple[uuid.UUID, datetime, str, str, str, str | None, str]
#: decision, by, student, project version
DecisionRow = tuple[t.Decision, str, str, uuid.UUID]
#: assignment, by, student, project version, its number, machine
AssignmentRow = tuple[t.Assignment, str, str, uuid.UUID, int, str | None]


def readings(db: Session, page: Page, blind_for: uuid.UUID | None) -> Sequence[ReadingRow]:
    """Readings; with ``blind_for`` only those that this assessor may see already."""
    ids = select(t.Reading.id)
    if blind_for:
        ids = ids.where(_seen_by(blind_for))
    if page.student:
        of = select(t.Attempt.id).join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        ids = ids.where(t.Reading.attempt_id.in_(of.where(t.Assignment.student_id == page.student)))
    by, student = aliased(t.Person), aliased(t.Person)
    query = (
        select(t.Reading, by.name, student.name, t.Assignment.project_version_id)
        .join(by, by.id == t.Reading.person_id)
        .join(t.Attempt, t.Attempt.id == t.Reading.attempt_id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(student, student.id == t.Assignment.student_id)
    )
    return _rows(db, query, t.Reading.id, page.ids(db, ids, t.Reading.saved_at, t.Reading.id))


def _rows(db: Session, query: Any, key: Any, ids: list[uuid.UUID]) -> list[Any]:
    """What belongs to these keys, in their order."""
    if not ids:
        return []
    place = {i: n for n, i in enumerate(ids)}
    rows = [tuple(row) for row in db.execute(query.where(key.in_(ids)))]
    return sorted(rows, key=lambda row: place[row[0].id if hasattr(row[0], "id") else row[0]])


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


def acts(db: Session, page: Page, table: type[t.SignOff] | type[t.Withdrawal]) -> Sequence[ActRow]:
    """Sign-offs or withdrawals."""
    ids = select(table.id)
    if page.student:
        ids = ids.where(table.student_id == page.student)
    by, student = aliased(t.Person), aliased(t.Person)
    words: Any = t.SignOff.note if table is t.SignOff else t.Withdrawal.reason
    query = (
        select(table.id, table.at, by.name, student.name, table.skill, t.Machine.name, words)
        .join(by, by.id == table.assessor_id)
        .join(student, student.id == table.student_id)
        .outerjoin(t.Machine, t.Machine.id == table.machine_id)
    )
    return _rows(db, query, table.id, page.ids(db, ids, table.at, table.id))


def decisions(db: Session, page: Page) -> Sequence[DecisionRow]:
    """Decisions about parts."""
    ids = select(t.Decision.id)
    if page.student:
        of = (
            select(t.HandIn.id)
            .join(t.Attempt, t.Attempt.id == t.HandIn.attempt_id)
            .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
            .where(t.Assignment.student_id == page.student)
        )
        ids = ids.where(t.Decision.hand_in_id.in_(of))
    by, student = aliased(t.Person), aliased(t.Person)
    query = (
        select(t.Decision, by.name, student.name, t.Assignment.project_version_id)
        .join(by, by.id == t.Decision.assessor_id)
        .join(t.HandIn, t.HandIn.id == t.Decision.hand_in_id)
        .join(t.Attempt, t.Attempt.id == t.HandIn.attempt_id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(student, student.id == t.Assignment.student_id)
    )
    return _rows(db, query, t.Decision.id, page.ids(db, ids, t.Decision.at, t.Decision.id))


def assignments(db: Session, page: Page) -> Sequence[AssignmentRow]:
    """Assignments."""
    a = t.Assignment
    ids = select(a.id)
    if page.student:
        ids = ids.where(a.student_id == page.student)
    by, student = aliased(t.Person), aliased(t.Person)
    query = (
        select(a, by.name, student.name, a.project_version_id, t.ProjectVersion.number, t.Machine.name)
        .join(by, by.id == a.assigned_by)
        .join(student, student.id == a.student_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == a.project_version_id)
        .outerjoin(t.Machine, t.Machine.id == a.machine_id)
    )
    return _rows(db, query, a.id, page.ids(db, ids, a.assigned_at, a.id))


def sealed(db: Session, page: Page) -> Sequence[t.RegisterEntry]:
    """Entries of the register of safety, by their moment; entries of one moment by their number."""
    of = t.RegisterEntry
    query = select(of)
    if page.student:
        student = page.student
        about = union(
            *(select(x.id).where(x.student_id == student) for x in (t.SignOff, t.Demonstration, t.Withdrawal)),
            select(t.Restoration.id).where(t.Restoration.student_id == student),
            select(t.NoticeSigned.id).where(t.NoticeSigned.person_id == student),
        )
        query = query.where(of.entry_id.in_(about))
    if page.before is not None:
        query = query.where(of.seq < page.before.key.int)
    if page.after is not None:
        return list(db.scalars(query.where(of.seq > page.after.key.int).order_by(of.seq).limit(page.limit)))[::-1]
    return list(db.scalars(query.order_by(of.seq.desc()).limit(page.limit)))


def first_sealed_from(db: Session, moment: datetime) -> int:
    """The number of the first entry of a moment or later; behind the last one when there is none."""
    of = t.RegisterEntry
    newest = db.scalar(select(of.seq).order_by(of.seq.desc()).limit(1)) or 0
    low, high = 1, newest + 1
    # the numbers rise with time: halved a few times, without an index of moments
    while low < high:
        middle = (low + high) // 2
        at = db.scalar(select(of.at).where(of.seq == middle))
        if at is not None and at >= moment:
            high = middle
        else:
            low = middle + 1
    return low
