"""Queries of codes by which people come in, of what was changed of people, and of everybody in the shop."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from datetime import date, datetime

from sqlalchemy import func, or_, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session, aliased

from incudo.store import schema as t
from incudo.store.people.groups import _on

#: A person with the group they are in on a day, if any, and when they signed in last.
PersonRow = tuple[t.Person, uuid.UUID | None, datetime | None]


def by_code(db: Session, code_hash: str) -> t.Invitation | None:
    """The invitation with this hash of a code, if there is one."""
    return db.scalar(select(t.Invitation).where(t.Invitation.code_hash == code_hash))


def newest_of(db: Session, people: Iterable[uuid.UUID]) -> dict[uuid.UUID, t.Invitation]:
    """The newest code of each of these people that was not used yet, whether it still holds or not."""
    later = aliased(t.Invitation)
    newer = select(later.id).where(
        later.person_id == t.Invitation.person_id,
        or_(
            later.made_at > t.Invitation.made_at,
            (later.made_at == t.Invitation.made_at) & (later.id > t.Invitation.id),
        ),
    )
    used = select(t.InvitationTaken.invitation_id).where(t.InvitationTaken.invitation_id == t.Invitation.id)
    query = select(t.Invitation).where(t.Invitation.person_id.in_(set(people)), ~newer.exists(), ~used.exists())
    return {i.person_id: i for i in db.scalars(query.order_by(t.Invitation.id))}


def people(db: Session, day: date, words: str, role: str, *, active: bool, limit: int) -> Sequence[PersonRow]:
    """People whose name or sign-in name has every word in it, by name; ``role`` empty for everybody."""
    enrolled = (
        select(t.Enrolment.person_id, func.max(t.Enrolment.group_id).label("group_id"))
        .join(t.Group, t.Group.id == t.Enrolment.group_id)
        .where(_on(t.Enrolment, day), _on(t.Group, day))
        .group_by(t.Enrolment.person_id)
        .subquery()
    )
    query = (
        select(t.Person, enrolled.c.group_id, t.LastSignIn.at)
        .outerjoin(enrolled, enrolled.c.person_id == t.Person.id)
        .outerjoin(t.LastSignIn, t.LastSignIn.person_id == t.Person.id)
        .where(t.Person.active == active)
        .order_by(t.Person.name, t.Person.id)
        .limit(limit)
    )
    if role:
        query = query.where(t.Person.role == role)
    for word in words.split():
        found = t.Person.name.contains(word, autoescape=True) | t.Person.login.contains(word, autoescape=True)
        query = query.where(found)
    return [(p, group, at) for p, group, at in db.execute(query)]


def acts(db: Session, person: uuid.UUID, limit: int) -> list[t.PersonAct]:
    """What was changed of a person, the newest first."""
    query = select(t.PersonAct).where(t.PersonAct.person_id == person)
    return list(db.scalars(query.order_by(t.PersonAct.at.desc(), t.PersonAct.id.desc()).limit(limit)))


def enrolments_of(db: Session, person: uuid.UUID, day: date) -> list[t.Enrolment]:
    """The enrolments of a person that hold on a day or begin later."""
    query = select(t.Enrolment).where(
        t.Enrolment.person_id == person, or_(t.Enrolment.ends.is_(None), t.Enrolment.ends >= day)
    )
    return list(db.scalars(query.order_by(t.Enrolment.begins, t.Enrolment.id)))


def all_groups(db: Session) -> list[t.Group]:
    """Every group that ever was, those of today first, by name."""
    return list(db.scalars(select(t.Group).order_by(t.Group.ends.is_not(None), t.Group.name, t.Group.id)))


def in_groups(db: Session, day: date) -> dict[uuid.UUID, int]:
    """How many active students are in each group on a day."""
    query = (
        select(t.Enrolment.group_id, func.count())
        .join(t.Person, t.Person.id == t.Enrolment.person_id)
        .where(_on(t.Enrolment, day), t.Person.active)
        .group_by(t.Enrolment.group_id)
    )
    return dict(db.execute(query).all())


def signed_in_at(db: Session, person: uuid.UUID, at: datetime) -> None:
    """Remember that somebody signed in just now."""
    row = insert(t.LastSignIn).values(person_id=person, at=at)
    db.execute(row.on_duplicate_key_update(at=at))


def never_in(db: Session) -> int:
    """How many who work here have not chosen a password yet."""
    query = select(func.count()).select_from(t.Person).where(t.Person.active, t.Person.password_hash == "")
    return db.scalar(query) or 0
