"""People, their sign-ins, and the count of wrong secrets."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Iterable

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def person_by_login(db: Session, login: str) -> t.Person | None:
    """Whoever signs in under this name, if there is anybody."""
    return db.scalar(select(t.Person).where(t.Person.login == login))


def lock_group(db: Session, group: uuid.UUID) -> None:
    """What is set for one group is set one after the other, until the end of the transaction."""
    db.execute(select(t.Group.id).where(t.Group.id == group).with_for_update())


def lock_person(db: Session, person: uuid.UUID) -> None:
    """What one person does is done one after the other, until the end of the transaction.

    Asked first in a transaction it also makes everything read after it as of then.
    """
    db.execute(select(t.Person.id).where(t.Person.id == person).with_for_update())


def assistants(db: Session) -> list[tuple[t.Person, list[str]]]:
    """All active assistants with the skills delegated to each."""
    query = select(t.Person).where(t.Person.role == "assistant", t.Person.active).order_by(t.Person.name, t.Person.id)
    return [(p, sorted(delegated(db, p.id))) for p in db.scalars(query)]


def delegated(db: Session, person: uuid.UUID) -> frozenset[str]:
    """The skills that an assistant may sign."""
    return frozenset(db.scalars(select(t.Delegation.skill).where(t.Delegation.person_id == person)))


def delegate(db: Session, person: uuid.UUID, skills: set[str]) -> None:
    """Make these the skills that an assistant may sign."""
    had = delegated(db, person)
    db.execute(delete(t.Delegation).where(t.Delegation.person_id == person, t.Delegation.skill.in_(had - skills)))
    db.add_all(t.Delegation(person_id=person, skill=s) for s in sorted(skills - had))
    db.flush()


def names(db: Session, people: Iterable[uuid.UUID]) -> dict[uuid.UUID, str]:
    """The names of these people by id."""
    query = select(t.Person.id, t.Person.name).where(t.Person.id.in_(set(people)))
    return dict(db.execute(query).all())


def staff(db: Session) -> list[t.Person]:
    """All active instructors and assistants."""
    query = select(t.Person).where(t.Person.role.in_(("instructor", "assistant")), t.Person.active)
    return list(db.scalars(query.order_by(t.Person.name, t.Person.id)))


def logins(db: Session) -> set[str]:
    """Every sign-in name that is taken."""
    return set(db.scalars(select(t.Person.login)))


def notice_of(db: Session, person: uuid.UUID, version: int) -> t.NoticeSigned | None:
    """When a person signed a version of the safety notice."""
    query = select(t.NoticeSigned).where(t.NoticeSigned.person_id == person, t.NoticeSigned.version == version)
    return db.scalar(query)


def all_names(db: Session) -> dict[uuid.UUID, str]:
    """The name of everybody who was ever here."""
    return dict(db.execute(select(t.Person.id, t.Person.name)).all())


def delegations(db: Session) -> dict[uuid.UUID, frozenset[str]]:
    """What is delegated to every assistant."""
    found: dict[uuid.UUID, set[str]] = {}
    for person, skill in db.execute(select(t.Delegation.person_id, t.Delegation.skill)):
        found.setdefault(person, set()).add(skill)
    return {p: frozenset(s) for p, s in found.items()}


def meets_now(db: Session) -> uuid.UUID | None:
    """The group whose session is open."""
    return db.scalar(select(t.Meeting.group_id).where(t.Meeting.open_slot == 1))


def accommodations(db: Session, students: Collection[uuid.UUID]) -> list[tuple[t.Accommodation, str]]:
    """What was agreed with these students, with their names and in their order."""
    query = (
        select(t.Accommodation, t.Person.name)
        .join(t.Person, t.Person.id == t.Accommodation.student_id)
        .where(t.Accommodation.student_id.in_(list(students)))
        .order_by(t.Person.name, t.Person.id)
    )
    return [(row, name) for row, name in db.execute(query)]
