"""Instruments."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


@dataclass(frozen=True)
class Judged:
    """A job card whose part was measured with a gauge: how often, when last, and whether the part was accepted."""

    assignment: uuid.UUID
    part: str
    student: str
    readings: int
    last: datetime
    accepted: bool


def instruments(db: Session, *, also_gone: bool = False) -> list[t.Instrument]:
    """The gauges of the shop by name; ``also_gone``: and those that it had once."""
    query = select(t.Instrument).order_by(t.Instrument.name, t.Instrument.id)
    return list(db.scalars(query if also_gone else query.where(t.Instrument.gone == "")))


def instrument_names(db: Session, wanted: Iterable[uuid.UUID]) -> dict[uuid.UUID, str]:
    """The names of these gauges by id."""
    query = select(t.Instrument.id, t.Instrument.name).where(t.Instrument.id.in_(set(wanted)))
    return dict(db.execute(query).all())


def lock_instrument(db: Session, instrument: uuid.UUID) -> None:
    """One check of a gauge after the other."""
    db.execute(select(t.Instrument.id).where(t.Instrument.id == instrument).with_for_update())


def checks_of(db: Session, instrument: uuid.UUID, limit: int) -> list[tuple[t.GaugeCheck, str]]:
    """The newest checks of a gauge, with the name of who made each."""
    query = (
        select(t.GaugeCheck, t.Person.name)
        .join(t.Person, t.Person.id == t.GaugeCheck.person_id)
        .where(t.GaugeCheck.instrument_id == instrument)
        .order_by(t.GaugeCheck.at.desc(), t.GaugeCheck.id)
        .limit(limit)
    )
    return [(row, name) for row, name in db.execute(query)]


def judged_since(db: Session, instrument: uuid.UUID, since: datetime | None, limit: int) -> list[Judged]:
    """The job cards with readings by a gauge since a moment (from the beginning without one), the newest first."""
    r, last = t.Reading, func.max(t.Reading.saved_at)
    accepted = func.max(func.coalesce(t.Decision.outcome == "accepted", False))
    query = (
        select(
            t.Assignment.id,
            func.max(func.json_value(t.ProjectVersion.content, "$.name")),
            t.Person.name,
            func.count(r.id.distinct()),
            last,
            accepted,
        )
        .join(t.Attempt, t.Attempt.id == r.attempt_id)
        .join(t.Assignment, t.Assignment.id == t.Attempt.assignment_id)
        .join(t.ProjectVersion, t.ProjectVersion.id == t.Assignment.project_version_id)
        .join(t.Person, t.Person.id == t.Assignment.student_id)
        .outerjoin(t.HandIn, t.HandIn.attempt_id == t.Attempt.id)
        .outerjoin(t.Decision, t.Decision.hand_in_id == t.HandIn.id)
        .where(r.instrument_id == instrument)
        .group_by(t.Assignment.id, t.Person.name)
        .order_by(last.desc(), t.Assignment.id)
        .limit(limit)
    )
    if since is not None:
        query = query.where(r.saved_at > since)
    return [Judged(a, part, student, n, at, bool(ok)) for a, part, student, n, at, ok in db.execute(query)]


def last_good_check(db: Session, instrument: uuid.UUID) -> datetime | None:
    """When a gauge passed its check last."""
    query = select(func.max(t.GaugeCheck.at)).where(t.GaugeCheck.instrument_id == instrument, t.GaugeCheck.holds)
    return db.scalar(query)
