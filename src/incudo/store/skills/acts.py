"""What is recorded about students' skills."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass

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
    )
    return [(row, name, seq) for row, name, seq in db.execute(query)]


def withdrawals(db: Session, students: Sequence[uuid.UUID]) -> list[tuple[t.Withdrawal, str, int]]:
    """All withdrawals of these students with the assessor's name and the place in the register."""
    query = (
        select(t.Withdrawal, t.Person.name, t.RegisterEntry.seq)
        .join(t.Person, t.Person.id == t.Withdrawal.assessor_id)
        .join(t.RegisterEntry, t.RegisterEntry.entry_id == t.Withdrawal.id)
        .where(t.Withdrawal.student_id.in_(students))
    )
    return [(row, name, seq) for row, name, seq in db.execute(query)]


def restorations(db: Session, students: Sequence[uuid.UUID]) -> list[tuple[t.Restoration, str, int]]:
    """All restorations of these students with the instructor's name and the place in the register."""
    query = (
        select(t.Restoration, t.Person.name, t.RegisterEntry.seq)
        .join(t.Person, t.Person.id == t.Restoration.assessor_id)
        .join(t.RegisterEntry, t.RegisterEntry.entry_id == t.Restoration.id)
        .where(t.Restoration.student_id.in_(students))
    )
    return [(row, name, seq) for row, name, seq in db.execute(query)]


def demonstrations(db: Session, student: uuid.UUID) -> list[tuple[t.Demonstration, str]]:
    """All demonstrations of a student with the assessor's name, the newest first."""
    query = (
        select(t.Demonstration, t.Person.name)
        .join(t.Person, t.Person.id == t.Demonstration.assessor_id)
        .where(t.Demonstration.student_id == student)
        .order_by(t.Demonstration.at.desc())
    )
    return [(row, name) for row, name in db.execute(query)]


@dataclass
class AcceptedPart:
    """An accepted part: whose, which project file, and the characteristics that count."""

    student: uuid.UUID
    decision: t.Decision
    content: str
    counting: set[int]


def accepted_parts(db: Session, students: Sequence[uuid.UUID]) -> list[AcceptedPart]:
    """All accepted parts of these students."""
    query = (
        select(t.Decision, t.Finding, t.Assignment.student_id, t.ProjectVersion.content)
        .join(t.HandIn, t.HandIn.id == t.Decision.hand_in_id)
        .join(t.Attempt, t.Attempt.id == t.HandIn.attempt_id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .join(t.Finding, t.Finding.decision_id == t.Decision.id)
        .where(t.Assignment.student_id.in_(students), t.Decision.outcome == "accepted")
    )
    found: dict[uuid.UUID, AcceptedPart] = {}
    for decision, finding, student, content in db.execute(query):
        part = found.setdefault(decision.id, AcceptedPart(student, decision, content, set()))
        if finding.counts:
            part.counting.add(finding.characteristic)
    return list(found.values())
