"""What was done by a run card."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import and_, func, or_, select
from sqlalchemy.orm import Session

from incudo.core.planning.pace import Taken
from incudo.store import schema as t


def ticks(db: Session, attempt: uuid.UUID) -> list[tuple[t.RunTick, str]]:
    """What was done in one attempt with by whom, in the order in which it came in."""
    query = (
        select(t.RunTick, t.Person.name)
        .join(t.Person, t.Person.id == t.RunTick.person_id)
        .where(t.RunTick.attempt_id == attempt)
        .order_by(t.RunTick.number)
    )
    return [(row, by) for row, by in db.execute(query)]


#: So many times of a machine are looked at, the newest: people and machines change.
NEWEST = 300


def taken_on(db: Session, machine: uuid.UUID) -> list[Taken]:
    """What operations took on a machine, the newest ``NEWEST``. One indexed query."""
    of = t.OperationTime
    query = (
        select(of.work, of.reckoned, of.taken)
        .where(of.machine_id == machine)
        .order_by(of.at.desc(), of.id)
        .limit(NEWEST)
    )
    return [Taken(*row) for row in db.execute(query)]


@dataclass(frozen=True)
class RunAt:
    """Where a run card stands: since when it runs, when something was done last, the step that is next."""

    begun: datetime
    last: datetime
    place: int
    places: int
    title: str
    planned: int


def standing(db: Session, attempts: Collection[uuid.UUID]) -> dict[uuid.UUID, RunAt]:
    """Where the run cards of these attempts stand; those without one are left out. One indexed query."""
    if not attempts:
        return {}
    of = t.RunTick
    ends = (
        select(of.attempt_id, func.max(of.number).label("number"), func.min(of.done_at).label("begun"))
        .where(of.attempt_id.in_(list(attempts)))
        .group_by(of.attempt_id)
        .subquery()
    )
    query = select(of, ends.c.begun).join(ends, (ends.c.attempt_id == of.attempt_id) & (ends.c.number == of.number))
    return {
        r.attempt_id: RunAt(begun, r.done_at, r.place, r.places, r.title, r.planned) for r, begun in db.execute(query)
    }


def newest_dry_run(db: Session, assignment: uuid.UUID) -> t.DryRun | None:
    """The dry run of a job card that was begun last."""
    of = t.DryRun
    return db.scalar(select(of).where(of.assignment_id == assignment).order_by(of.at.desc(), of.id).limit(1))


def dry_acts(db: Session, run: uuid.UUID) -> list[t.DryAct]:
    """What was done in a dry run, in order."""
    return list(db.scalars(select(t.DryAct).where(t.DryAct.run_id == run).order_by(t.DryAct.number)))


@dataclass(frozen=True)
class DryRunGood:
    """A dry run that a student worked through on an own job card without a slip."""

    student: uuid.UUID
    project: uuid.UUID
    content: str
    at: datetime


def without_a_slip(db: Session, students: Collection[uuid.UUID]) -> list[DryRunGood]:
    """The dry runs of own job cards in which these students did nothing wrong, whatever their machine did."""
    outcome = t.DryAct.outcome
    all_good = func.json_contains(func.json_extract(outcome, "$.lines[*].good"), "false") == 0
    query = (
        select(t.DryRun.person_id, t.ProjectVersion, t.DryAct.at)
        .join(t.DryRun, t.DryRun.id == t.DryAct.run_id)
        .join(t.Assignment, t.Assignment.id == t.DryRun.assignment_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .where(
            t.Assignment.student_id.in_(list(students)),
            t.DryRun.person_id == t.Assignment.student_id,
            outcome != "",
            # runs of before that was kept: every size good, and nothing laid to anybody
            or_(
                func.json_extract(outcome, "$.right") == "true",
                and_(func.json_length(outcome, "$.causes") == 0, all_good),
            ),
        )
        .order_by(t.DryAct.at, t.DryAct.id)
    )
    return [DryRunGood(student, v.project_id, v.content, at) for student, v, at in db.execute(query)]


def noticed(db: Session, people: Collection[uuid.UUID], since: datetime) -> list[tuple[t.NoticedSign, str]]:
    """The signs that these people chose since then with the machine's name, the newest first. One indexed query."""
    if not people:
        return []
    of = t.NoticedSign
    query = (
        select(of, t.Machine.name)
        .join(t.Machine, t.Machine.id == of.machine_id)
        .where(of.person_id.in_(list(people)), of.at > since)
        .order_by(of.at.desc(), of.id)
    )
    return [(row, machine) for row, machine in db.execute(query)]


def remarks(db: Session, attempt: uuid.UUID) -> list[tuple[t.RunRemark, str]]:
    """What was said on a run card with by whom, the newest first."""
    of = t.RunRemark
    query = (
        select(of, t.Person.name)
        .join(t.Person, t.Person.id == of.person_id)
        .where(of.attempt_id == attempt)
        .order_by(of.at.desc(), of.id)
    )
    return [(row, by) for row, by in db.execute(query)]
