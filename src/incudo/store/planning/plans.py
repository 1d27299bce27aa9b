"""Plans of job cards: how they are set, as they were saved, handed in and decided."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime
from functools import cache

from sqlalchemy import Select, bindparam, func, select
from sqlalchemy.orm import Session, aliased

from incudo.store import schema as t


@dataclass(frozen=True)
class PlanRows:
    """The newest of everything that is kept of one job card's plan."""

    task: t.PlanTask | None
    version: t.PlanVersion | None
    hand_in: t.PlanHandIn | None
    decision: t.PlanDecision | None


@dataclass(frozen=True)
class WaitingPlan:
    """A plan that waits for an instructor: whose, of which part, since when."""

    hand_in: uuid.UUID
    number: int
    assignment: uuid.UUID
    version: uuid.UUID
    student: uuid.UUID
    student_name: str
    at: datetime


def of_card(db: Session, assignment: uuid.UUID) -> PlanRows:
    """What counts now for one job card; four indexed queries."""

    def newest(table: type[t.PlanTask] | type[t.PlanVersion] | type[t.PlanHandIn]) -> object:
        query = select(table).where(table.assignment_id == assignment).order_by(table.number.desc()).limit(1)
        return db.scalar(query)

    task, version, hand_in = newest(t.PlanTask), newest(t.PlanVersion), newest(t.PlanHandIn)
    decision = None
    if isinstance(hand_in, t.PlanHandIn):
        decision = db.scalar(select(t.PlanDecision).where(t.PlanDecision.plan_hand_in_id == hand_in.id))
    return PlanRows(task, version, hand_in, decision)  # type: ignore[arg-type]


def newest_versions(db: Session, assignments: Collection[uuid.UUID]) -> dict[uuid.UUID, t.PlanVersion]:
    """The plan that counts now of each of these job cards that has one; one query."""
    later = aliased(t.PlanVersion)
    query = (
        select(t.PlanVersion)
        .outerjoin(later, (later.assignment_id == t.PlanVersion.assignment_id) & (later.number > t.PlanVersion.number))
        .where(t.PlanVersion.assignment_id.in_(list(assignments)), later.id.is_(None))
    )
    return {v.assignment_id: v for v in db.scalars(query)} if assignments else {}


def versions(db: Session, assignment: uuid.UUID) -> list[tuple[t.PlanVersion, str]]:
    """Every plan that was saved for a job card with who saved it, the newest first."""
    query = (
        select(t.PlanVersion, t.Person.name)
        .join(t.Person, t.Person.id == t.PlanVersion.person_id)
        .where(t.PlanVersion.assignment_id == assignment)
        .order_by(t.PlanVersion.number.desc())
    )
    return [(v, name) for v, name in db.execute(query)]


def decisions(db: Session, assignment: uuid.UUID) -> list[tuple[t.PlanHandIn, t.PlanDecision, str]]:
    """What was decided about the plans of a job card and by whom, the newest first."""
    query = (
        select(t.PlanHandIn, t.PlanDecision, t.Person.name)
        .join(t.PlanDecision, t.PlanDecision.plan_hand_in_id == t.PlanHandIn.id)
        .join(t.Person, t.Person.id == t.PlanDecision.by_id)
        .where(t.PlanHandIn.assignment_id == assignment)
        .order_by(t.PlanHandIn.number.desc())
    )
    return [(h, d, name) for h, d, name in db.execute(query)]


def waiting(db: Session) -> list[WaitingPlan]:
    """Plans that wait for approval, the oldest first: handed in, nothing decided, and approval is wanted."""
    card = (t.Pending.kind == "card") & (t.Pending.id == t.PlanHandIn.assignment_id)
    last_task = (
        select(t.PlanTask.assignment_id, func.max(t.PlanTask.number).label("number"))
        .group_by(t.PlanTask.assignment_id)
        .subquery()
    )
    here = (last_task.c.assignment_id == t.PlanTask.assignment_id) & (last_task.c.number == t.PlanTask.number)
    query = (
        select(t.PlanHandIn, t.Assignment, t.Person.name)
        .join(t.Pending, card)
        .join(t.Assignment, t.Assignment.id == t.PlanHandIn.assignment_id)
        .join(t.Person, t.Person.id == t.Assignment.student_id)
        .join(t.PlanTask, t.PlanTask.assignment_id == t.Assignment.id)
        .join(last_task, here)
        .outerjoin(t.PlanDecision, t.PlanDecision.plan_hand_in_id == t.PlanHandIn.id)
        .where(t.PlanDecision.id.is_(None), t.PlanTask.approval)
        .order_by(t.PlanHandIn.at, t.PlanHandIn.id)
    )
    return [
        WaitingPlan(h.id, h.number, a.id, a.project_version_id, a.student_id, name, h.at)
        for h, a, name in db.execute(query)
    ]


def unapproved(db: Session, assignments: Collection[uuid.UUID]) -> set[uuid.UUID]:
    """Job cards of these whose plan has to be approved and is not: never, or it was changed since."""
    if not assignments:
        return set()
    later, changed = aliased(t.PlanTask), aliased(t.PlanVersion)
    approved = (
        select(t.PlanDecision.id)
        .join(t.PlanHandIn, t.PlanHandIn.id == t.PlanDecision.plan_hand_in_id)
        .join(t.PlanVersion, t.PlanVersion.id == t.PlanHandIn.version_id)
        .outerjoin(
            changed,
            (changed.assignment_id == t.PlanVersion.assignment_id) & (changed.number > t.PlanVersion.number),
        )
        .where(t.PlanHandIn.assignment_id == t.PlanTask.assignment_id, t.PlanDecision.approved, changed.id.is_(None))
    )
    query = (
        select(t.PlanTask.assignment_id)
        .outerjoin(later, (later.assignment_id == t.PlanTask.assignment_id) & (later.number > t.PlanTask.number))
        .where(
            t.PlanTask.assignment_id.in_(list(assignments)), later.id.is_(None), t.PlanTask.approval, ~approved.exists()
        )
    )
    return set(db.scalars(query))


def handed_in(
    db: Session, project: uuid.UUID, students: Collection[uuid.UUID]
) -> list[tuple[t.PlanHandIn, str, t.Assignment]]:
    """The newest plan that each of these students handed in for a part, with their name."""
    later = aliased(t.PlanHandIn)
    query = (
        select(t.PlanHandIn, t.Person.name, t.Assignment)
        .join(t.Assignment, t.Assignment.id == t.PlanHandIn.assignment_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .join(t.Person, t.Person.id == t.Assignment.student_id)
        .outerjoin(later, (later.assignment_id == t.PlanHandIn.assignment_id) & (later.number > t.PlanHandIn.number))
        .where(t.ProjectVersion.project_id == project, t.Assignment.student_id.in_(list(students)), later.id.is_(None))
        .order_by(t.Person.name, t.Person.id)
    )
    return [(h, name, a) for h, name, a in db.execute(query)]


@dataclass(frozen=True)
class PlannedPart:
    """A plan of a student's own that was good: of which part, when, and how often it had been handed in."""

    student: uuid.UUID
    project: uuid.UUID
    content: str
    number: int
    at: datetime


def planned(db: Session, students: Collection[uuid.UUID]) -> list[PlannedPart]:
    """Plans that these students made themselves and that were approved.

    One that was given whole is nobody's own. After the first try Incudo's plan can be looked at: from then on only
    what an instructor approved counts.
    """
    found = db.execute(_planned(), {"students": list(students)})
    return [
        PlannedPart(student, version.project_id, version.content, number, at) for student, version, number, at in found
    ]


@cache
def _planned() -> Select[uuid.UUID, t.ProjectVersion, int, datetime]:
    """The query, made once: it is asked with nearly every act, and making it takes longer than asking it."""
    task, given = aliased(t.PlanTask), aliased(t.PlanTask)
    newest = (
        select(func.max(given.number))
        .where(given.assignment_id == t.PlanHandIn.assignment_id, given.at <= t.PlanHandIn.at)
        .scalar_subquery()
    )
    return (
        select(t.Assignment.student_id, t.ProjectVersion, t.PlanHandIn.number, t.PlanDecision.at)
        .join(t.PlanHandIn, t.PlanHandIn.id == t.PlanDecision.plan_hand_in_id)
        .join(t.PlanVersion, t.PlanVersion.id == t.PlanHandIn.version_id)
        .join(t.Assignment, t.Assignment.id == t.PlanHandIn.assignment_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .outerjoin(task, (task.assignment_id == t.PlanHandIn.assignment_id) & (task.number == newest))
        .where(
            t.Assignment.student_id.in_(bindparam("students", expanding=True)),
            t.PlanDecision.approved,
            t.PlanVersion.person_id == t.Assignment.student_id,
            (t.PlanHandIn.number == 1) | (t.PlanDecision.by_id != t.Assignment.student_id),
            task.mode.is_(None) | (task.mode != "given"),
        )
        .order_by(t.PlanDecision.at, t.PlanDecision.id)
    )


def out_of_crib(db: Session, person: uuid.UUID) -> dict[uuid.UUID, int]:
    """How many of each cutter are out with others than this person."""
    pending = (t.Pending.kind == "issue") & (t.Pending.id == t.CribIssue.id)
    query = (
        select(t.CribIssue.cutter_id, func.count())
        .join(t.Pending, pending)
        .where(t.CribIssue.cutter_id.is_not(None), t.CribIssue.person_id != person)
        .group_by(t.CribIssue.cutter_id)
    )
    return {cutter: int(n) for cutter, n in db.execute(query) if cutter is not None}
