"""Repeated-readings studies: which there are, and what was read."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


@dataclass(frozen=True)
class StudyRow:
    """A study with the names beside it."""

    study: t.Study
    gauge: str
    group: str
    by: str
    ended: bool


def studies(db: Session, group: uuid.UUID | None, gauge: uuid.UUID | None, limit: int) -> list[StudyRow]:
    """The newest studies, of one group or of one gauge where these are given."""
    query = (
        select(t.Study, t.Instrument.name, t.Group.name, t.Person.name, t.StudyEnd.study_id.is_not(None))
        .join(t.Instrument, t.Instrument.id == t.Study.instrument_id)
        .join(t.Group, t.Group.id == t.Study.group_id)
        .join(t.Person, t.Person.id == t.Study.by_id)
        .outerjoin(t.StudyEnd, t.StudyEnd.study_id == t.Study.id)
        .order_by(t.Study.at.desc(), t.Study.id)
        .limit(limit)
    )
    if group is not None:
        query = query.where(t.Study.group_id == group)
    if gauge is not None:
        query = query.where(t.Study.instrument_id == gauge)
    return [StudyRow(*row) for row in db.execute(query)]


def readings(db: Session, study: uuid.UUID) -> list[tuple[t.StudyReading, str]]:
    """What was read, with the reader's name, person by person, in the order of their turns, the older first."""
    query = (
        select(t.StudyReading, t.Person.name)
        .join(t.Person, t.Person.id == t.StudyReading.person_id)
        .where(t.StudyReading.study_id == study)
        .order_by(t.Person.name, t.Person.id, t.StudyReading.number, t.StudyReading.at, t.StudyReading.id)
    )
    return [(row, name) for row, name in db.execute(query)]


def done(db: Session, studies: Iterable[uuid.UUID], person: uuid.UUID) -> dict[uuid.UUID, int]:
    """How many turns somebody has read in each of these studies."""
    query = (
        select(t.StudyReading.study_id, func.count(t.StudyReading.number.distinct()))
        .where(t.StudyReading.study_id.in_(list(studies)), t.StudyReading.person_id == person)
        .group_by(t.StudyReading.study_id)
    )
    return {study: n for study, n in db.execute(query)}
