"""The shop, its people, and who is signed in where."""

from __future__ import annotations

import uuid
from datetime import date, datetime

from sqlalchemy import ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


class Group(Base):
    """A class that meets together for a term: from ``begins`` to ``ends``, both inclusive; without them always."""

    __tablename__ = "class_group"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    begins: Mapped[date | None]
    ends: Mapped[date | None]


class Enrolment(Base):
    """A student belongs to a group from ``begins`` to ``ends``, both inclusive; without an end until further notice."""

    __tablename__ = "enrolment"
    __table_args__ = (
        Index("ix_enrolment_person", "person_id", "begins"),
        Index("ix_enrolment_group", "group_id", "begins"),
        writes("versioned"),
    )
    id: Mapped[uuid.UUID] = new_id()
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    group_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("class_group.id"))
    begins: Mapped[date]
    ends: Mapped[date | None]


class Person(Base):
    """Anyone who signs in."""

    __tablename__ = "person"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    login: Mapped[str] = mapped_column(String(60), unique=True)
    name: Mapped[str]
    role: Mapped[str] = mapped_column(String(12), index=True)
    password_hash: Mapped[str] = mapped_column(String(160))
    pin_hash: Mapped[str | None] = mapped_column(String(160))
    active: Mapped[bool] = mapped_column(default=True)


class Accommodation(Base):
    """What helps a student to work here; for who teaches alone. What it said before is kept nowhere."""

    __tablename__ = "accommodation"
    __table_args__ = writes("working")
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"), primary_key=True)
    words: Mapped[str] = mapped_column(String(1000))
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class Delegation(Base):
    """A skill that an assistant may sign."""

    __tablename__ = "delegation"
    __table_args__ = writes("versioned")
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"), primary_key=True)
    skill: Mapped[str] = mapped_column(String(60), primary_key=True)


class SignIn(Base):
    """A signed-in browser; only the hash of its token is kept."""

    __tablename__ = "sign_in"
    __table_args__ = writes("working")
    token_hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    csrf: Mapped[str] = mapped_column(String(64))
    made_at: Mapped[datetime]
    ends_at: Mapped[datetime] = mapped_column(index=True)


class Failure(Base):
    """A wrong password or PIN; ``scope`` names what is being guarded."""

    __tablename__ = "failure"
    __table_args__ = (Index("ix_failure_scope", "scope", "at"), writes("working"))
    id: Mapped[uuid.UUID] = new_id()
    scope: Mapped[str] = mapped_column(String(160))
    at: Mapped[datetime]


class Pulse(Base):
    """Written to see whether the database can be written; one row."""

    __tablename__ = "pulse"
    __table_args__ = writes("working")
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    at: Mapped[datetime]


class NoticeSigned(Base):
    """A person has read and signed the safety notice of this version."""

    __tablename__ = "notice_signed"
    __table_args__ = (UniqueConstraint("person_id", "version"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    version: Mapped[int]
    at: Mapped[datetime]


class Invitation(Base):
    """A code by which a person comes in and chooses a password; only its hash is kept. The newest one counts."""

    __tablename__ = "invitation"
    __table_args__ = (Index("ix_invitation_person", "person_id", "made_at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    #: Nobody where the server itself made it.
    by_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    code_hash: Mapped[str] = mapped_column(String(64), unique=True)
    made_at: Mapped[datetime]
    ends_at: Mapped[datetime]


class InvitationTaken(Base):
    """A code was used, once."""

    __tablename__ = "invitation_taken"
    __table_args__ = writes("append")
    invitation_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("invitation.id"), primary_key=True)
    at: Mapped[datetime]


class PersonAct(Base):
    """What somebody changed of a person, with what was before."""

    __tablename__ = "person_act"
    __table_args__ = (Index("ix_person_act_person", "person_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    #: Nobody where the server itself did it.
    by_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    words: Mapped[str] = mapped_column(Spoken())
    at: Mapped[datetime]


class LastSignIn(Base):
    """When somebody signed in last."""

    __tablename__ = "last_sign_in"
    __table_args__ = writes("working")
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"), primary_key=True)
    at: Mapped[datetime]


class FirstCode(Base):
    """The code by which an empty installation is set up; one row, made anew at each start until there is a shop."""

    __tablename__ = "first_code"
    __table_args__ = writes("working")
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    code_hash: Mapped[str] = mapped_column(String(64))
    ends_at: Mapped[datetime]
