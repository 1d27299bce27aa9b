"""Groups, their terms, and who is enrolled in them on a day."""

from __future__ import annotations

import uuid
from collections import defaultdict
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy import ColumnElement, Select, or_, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def _on(table: type[t.Group] | type[t.Enrolment], day: date) -> ColumnElement[bool]:
    """Whether a term or an enrolment holds on a day."""
    begun = or_(table.begins.is_(None), table.begins <= day)
    return begun & or_(table.ends.is_(None), table.ends >= day)


def groups(db: Session, day: date) -> list[t.Group]:
    """The groups whose term holds on a day, by name."""
    return list(db.scalars(select(t.Group).where(_on(t.Group, day)).order_by(t.Group.name, t.Group.id)))


def group_named(db: Session, name: str) -> t.Group | None:
    """The group of this name, if there is one."""
    return db.scalar(select(t.Group).where(t.Group.name == name))


def find_students(db: Session, day: date, words: str, limit: int) -> list[tuple[uuid.UUID, str, str]]:
    """Active students whose name has every word in it: id, name, group on a day; who is here first, then by name."""
    enrolled = _on(t.Enrolment, day) & (t.Enrolment.person_id == t.Person.id)
    query = (
        select(t.Person.id, t.Person.name, t.Group.name)
        .outerjoin(t.Enrolment, enrolled)
        .outerjoin(t.Group, t.Group.id == t.Enrolment.group_id)
        .where(t.Person.role == "student", t.Person.active)
        .order_by(t.Group.name.is_(None), t.Person.name, t.Person.id)
        .limit(limit)
    )
    for word in words.split():
        query = query.where(t.Person.name.contains(word, autoescape=True))
    return [(person, name, group or "") for person, name, group in db.execute(query)]


def here(day: date) -> Select[Any]:
    """The students who are enrolled on a day, or were never put into a group, as a part of a query."""
    enrolled = select(t.Enrolment.person_id).where(_on(t.Enrolment, day)).union_all(_never_enrolled())
    return select(enrolled.subquery().c[0])


def ids_here(db: Session, day: date) -> list[uuid.UUID]:
    """The students who are enrolled on a day, or were never put into a group."""
    return list(db.scalars(here(day)))


def _never_enrolled() -> Select[Any]:
    ever = select(t.Enrolment.id).where(t.Enrolment.person_id == t.Person.id)
    return select(t.Person.id).where(t.Person.role == "student", t.Person.active, ~ever.exists())


def ungrouped(db: Session) -> list[t.Person]:
    """The active students who were never put into a group, by name."""
    return list(
        db.scalars(select(t.Person).where(t.Person.id.in_(_never_enrolled())).order_by(t.Person.name, t.Person.id))
    )


def students_of(db: Session, group: uuid.UUID, day: date) -> list[t.Person]:
    """The active students of a group on a day, by name."""
    query = (
        select(t.Person)
        .join(t.Enrolment, t.Enrolment.person_id == t.Person.id)
        .where(t.Enrolment.group_id == group, _on(t.Enrolment, day), t.Person.role == "student", t.Person.active)
    )
    return list(db.scalars(query.order_by(t.Person.name, t.Person.id)))


@dataclass(frozen=True)
class Member:
    """Somebody's time in a group; of several times from the first to the last."""

    person: uuid.UUID
    name: str
    login: str
    begins: date
    ends: date | None


def ever_in(db: Session, group: uuid.UUID) -> list[Member]:
    """Everybody who was ever a student of a group, whether they are here still or not, by name."""
    query = (
        select(t.Person.id, t.Person.name, t.Person.login, t.Enrolment.begins, t.Enrolment.ends)
        .join(t.Enrolment, t.Enrolment.person_id == t.Person.id)
        .where(t.Enrolment.group_id == group)
        .order_by(t.Person.name, t.Person.id, t.Enrolment.begins, t.Enrolment.id)
    )
    found: dict[uuid.UUID, Member] = {}
    for person, name, login, begins, ends in db.execute(query):
        first = found.get(person)
        found[person] = Member(person, name, login, first.begins if first else begins, ends)
    return list(found.values())


def students_by_group(db: Session, day: date) -> dict[uuid.UUID, list[tuple[uuid.UUID, str]]]:
    """The active students of every group on a day, each with id and name, by name."""
    query = (
        select(t.Enrolment.group_id, t.Person.id, t.Person.name)
        .join(t.Person, t.Person.id == t.Enrolment.person_id)
        .where(_on(t.Enrolment, day), t.Person.role == "student", t.Person.active)
        .order_by(t.Person.name, t.Person.id)
    )
    found: dict[uuid.UUID, list[tuple[uuid.UUID, str]]] = defaultdict(list)
    for group, person, name in db.execute(query):
        found[group].append((person, name))
    return found


def group_of(db: Session, person: uuid.UUID, day: date) -> t.Group | None:
    """The group that somebody is enrolled in on a day; of several the one that was begun last."""
    query = (
        select(t.Group)
        .join(t.Enrolment, t.Enrolment.group_id == t.Group.id)
        .where(t.Enrolment.person_id == person, _on(t.Enrolment, day), _on(t.Group, day))
        .order_by(t.Enrolment.begins.desc(), t.Enrolment.id.desc())
        .limit(1)
    )
    return db.scalar(query)
