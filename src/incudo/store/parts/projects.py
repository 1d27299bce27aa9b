"""Projects and their versions."""

from __future__ import annotations

import uuid
from collections.abc import Collection

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def newest_versions(db: Session) -> list[t.ProjectVersion]:
    """Every project in its newest version."""
    last = (
        select(t.ProjectVersion.project_id, func.max(t.ProjectVersion.number).label("number"))
        .group_by(t.ProjectVersion.project_id)
        .subquery()
    )
    here = (last.c.project_id == t.ProjectVersion.project_id) & (last.c.number == t.ProjectVersion.number)
    return list(db.scalars(select(t.ProjectVersion).join(last, here)))


def contents(db: Session, versions: Collection[uuid.UUID]) -> dict[uuid.UUID, str]:
    """The files of these versions."""
    if not versions:
        return {}
    query = select(t.ProjectVersion.id, t.ProjectVersion.content).where(t.ProjectVersion.id.in_(list(versions)))
    return {version: content for version, content in db.execute(query)}


def versions_of(db: Session, project: uuid.UUID) -> list[tuple[t.ProjectVersion, str]]:
    """All versions of a project with the name of who made each, the newest first."""
    query = (
        select(t.ProjectVersion, t.Person.name)
        .join(t.Person, t.Person.id == t.ProjectVersion.made_by)
        .where(t.ProjectVersion.project_id == project)
        .order_by(t.ProjectVersion.number.desc())
    )
    return [(v, name) for v, name in db.execute(query)]


def assigned_counts(db: Session) -> dict[uuid.UUID, int]:
    """How often each project was assigned."""
    query = (
        select(t.ProjectVersion.project_id, func.count(t.Assignment.id))
        .join(t.Assignment, t.Assignment.project_version_id == t.ProjectVersion.id)
        .group_by(t.ProjectVersion.project_id)
    )
    return dict(db.execute(query).all())


def students_with(db: Session, project: uuid.UUID, students: Collection[uuid.UUID]) -> set[uuid.UUID]:
    """Who of these students was ever given this project."""
    query = (
        select(t.Assignment.student_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .where(t.ProjectVersion.project_id == project, t.Assignment.student_id.in_(list(students)))
    )
    return set(db.scalars(query))


def codes(db: Session) -> set[str]:
    """The codes of all projects."""
    return set(db.scalars(select(t.Project.code)))


def retired(db: Session) -> set[uuid.UUID]:
    """The projects that are out of the library."""
    last = (
        select(t.ProjectShelving.project_id, func.max(t.ProjectShelving.at).label("at"))
        .group_by(t.ProjectShelving.project_id)
        .subquery()
    )
    query = select(t.ProjectShelving.project_id).join(
        last, (last.c.project_id == t.ProjectShelving.project_id) & (last.c.at == t.ProjectShelving.at)
    )
    return set(db.scalars(query.where(t.ProjectShelving.retired)))


def given_counts(db: Session, project: uuid.UUID) -> dict[uuid.UUID, int]:
    """How often each version of a project was given."""
    query = (
        select(t.Assignment.project_version_id, func.count(t.Assignment.id))
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .where(t.ProjectVersion.project_id == project)
        .group_by(t.Assignment.project_version_id)
    )
    return dict(db.execute(query).all())
