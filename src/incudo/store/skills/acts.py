"""What is recorded about students' skills."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def sign_offs(db: Session, students: Sequence[uuid.UUID]) -> list[tuple[t.SignOff, str, int]]:
    """All sign-offs of these students with the assessor's name and the place in the register."""
    query = (
        select(t.SignOff, t.Person.name, t.RegisterEntry.seq)
        .join(t.Person, t.Person.id == t.SignOff.assessor_id)
        .join(t.RegisterEntry, t.RegisterEntry.entry_id == t.SignOff.id)
        .where(t.SignOff.student_id.in_(students))
        .order_by(t.RegisterEntry.seq)
    )
    return [(row, name, seq) for row, name, seq in db.execute(query)]


def withdrawals(db: Session, students: Sequence[uuid.UUID]) -> list[tuple[t.Withdrawal, str, int]]:
    """All withdrawals of these students with the assessor's name and the place in the register."""
    query = (
        select(t.Withdrawal, t.Person.name, t.RegisterEntry.seq)
        .join(t.Person, t.Person.id == t.Withdrawal.assessor_id)
        .join(t.RegisterEntry, t.RegisterEntry.entry_id == t.Withdrawal.id)
        .where(t.Withdrawal.student_id.in_(students))
        .order_by(t.RegisterEntry.seq)
    )
    return [(row, name, seq) for row, name, seq in db.execute(query)]


def restorations(db: Session, students: Sequence[uuid.UUID]) -> list[tuple[t.Restoration, str, int]]:
    """All restorations of these students with the instructor's name and the place in the register."""
    query = (
        select(t.Restoration, t.Person.name, t.RegisterEntry.seq)
        .join(t.Person, t.Person.id == t.Restoration.assessor_id)
        .join(t.RegisterEntry, t.RegisterEntry.entry_id == t.Restoration.id)
        .where(t.Restoration.student_id.in_(students))
        .order_by(t.RegisterEntry.seq)
    )
    return [(row, name, seq) for row, name, seq in db.execute(query)]


def demonstrations(db: Session, student: uuid.UUID) -> list[tuple[t.Demonstration, str]]:
    """All demonstrations of a student with the assessor's name, the newest first."""
    query = (
        select(t.Demonstration, t.Person.name)
        .join(t.Person, t.Person.id == t.Demonstration.assessor_id)
        .where(t.Demonstration.student_id == student)
        .order_by(t.Demonstration.at.desc(), t.Demonstration.id.desc())
    )
    return [(row, name) for row, name in db.execute(query)]


@dataclass
class AcceptedPart:
    """An accepted part: whose, when, which project file, and the characteristics that count."""

    student: uuid.UUID
    at: datetime
    content: str
    counting: set[int]


def accepted_parts(db: Session, students: Sequence[uuid.UUID]) -> list[AcceptedPart]:
    """All accepted parts of these students; a project file is read once, however many were made from it."""
    query = (
        select(
            t.Decision.id,
            t.Decision.at,
            t.Assignment.student_id,
            t.Assignment.project_version_id,
            t.Finding.characteristic,
            t.Finding.counts,
        )
        .join(t.HandIn, t.HandIn.id == t.Decision.hand_in_id)
        .join(t.Attempt, t.Attempt.id == t.HandIn.attempt_id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(t.Finding, t.Finding.decision_id == t.Decision.id)
        .where(t.Assignment.student_id.in_(students), t.Decision.outcome == "accepted")
        .order_by(t.Decision.at, t.Decision.id, t.Finding.characteristic)
    )
    rows = db.execute(query).all()
    versions = {version for _, _, _, version, _, _ in rows}
    files = select(t.ProjectVersion.id, t.ProjectVersion.content).where(t.ProjectVersion.id.in_(versions))
    contents = {ident: content for ident, content in db.execute(files)} if versions else {}
    found: dict[uuid.UUID, AcceptedPart] = {}
    for decision, at, student, version, characteristic, counts in rows:
        part = found.setdefault(decision, AcceptedPart(student, at, contents[version], set()))
        if counts:
            part.counting.add(characteristic)
    return list(found.values())
