"""What is kept of students' standings."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import case, or_, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from incudo.store import schema as t
from incudo.store.people import groups


def kept(db: Session, students: Collection[uuid.UUID]) -> dict[uuid.UUID, t.SkillStanding]:
    """The kept standings of these students; those that were never worked out are left out."""
    if not students:
        return {}
    query = select(t.SkillStanding).where(t.SkillStanding.student_id.in_(list(students)))
    return {row.student_id: row for row in db.scalars(query)}


def lock(db: Session, students: Collection[uuid.UUID]) -> list[t.SkillStanding]:
    """The rows of these students, made where they are missing, held until the end of the transaction.

    Asked first in a transaction it makes everything read after it as of then: no act is counted meanwhile.
    """
    ordered = sorted(students, key=lambda s: s.hex)
    query = select(t.SkillStanding).where(t.SkillStanding.student_id.in_(ordered))
    query = query.order_by(t.SkillStanding.student_id).with_for_update()
    rows = list(db.scalars(query))
    missing = [s for s in ordered if s not in {row.student_id for row in rows}]
    if not missing:
        return rows
    empty = {"acts": 0, "worked_out": 0, "basis": "", "to_sign": "", "content": ""}
    db.execute(insert(t.SkillStanding).prefix_with("IGNORE").values([{"student_id": s} | empty for s in missing]))
    return list(db.scalars(query))


@dataclass(frozen=True)
class ToLookAt:
    """Somebody who may have a skill to be signed: their kept standing no longer holds, or says so in JSON."""

    student: uuid.UUID
    holds: bool
    to_sign: str


def to_look_at(db: Session, basis: str, now: datetime, day: date) -> list[ToLookAt]:
    """Of those who are here on a day: whose kept standing does not hold now, and whose says that skills are ready."""
    of, here = t.SkillStanding, groups.here(day).subquery()
    student = here.c[0]
    holds = (of.worked_out == of.acts) & (of.basis == basis)
    holds &= or_(of.until.is_(None), of.until > now) & or_(of.since.is_(None), of.since <= now)
    believed = case((holds, 1), else_=0)
    query = select(student, believed, of.to_sign).outerjoin(of, of.student_id == student).distinct()
    query = query.where(or_(believed == 0, of.to_sign != ""))
    return [ToLookAt(s, bool(b), text or "") for s, b, text in db.execute(query)]


def ever_counted(db: Session) -> list[uuid.UUID]:
    """Every student of whom a standing is kept."""
    return list(db.scalars(select(t.SkillStanding.student_id)))
