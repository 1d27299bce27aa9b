"""Skills: the graph, sign-offs, demonstrations, knowledge checks."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, new_id, writes


class SkillFile(Base):
    """A version of the shop's skill graph; the newest one holds."""

    __tablename__ = "skill_file"
    __table_args__ = writes("append")
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    content: Mapped[str] = mapped_column(LONGTEXT)
    made_at: Mapped[datetime]


class SignOff(Base):
    """An assessor signs one skill of one student, sometimes for one machine."""

    __tablename__ = "sign_off"
    __table_args__ = (Index("ix_sign_off_student", "student_id", "skill"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    batch_id: Mapped[uuid.UUID] = mapped_column(index=True)
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    skill: Mapped[str] = mapped_column(String(60))
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    assessor_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    refresher: Mapped[bool]
    note: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class Withdrawal(Base):
    """A sign-off is taken back after an unsafe act."""

    __tablename__ = "withdrawal"
    __table_args__ = (Index("ix_withdrawal_student", "student_id", "skill"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    skill: Mapped[str] = mapped_column(String(60))
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    assessor_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    reason: Mapped[str] = mapped_column(String(400))
    place: Mapped[str] = mapped_column(String(200))
    witness: Mapped[str] = mapped_column(String(200))
    done: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class Restoration(Base):
    """An instructor reinstates what was withdrawn; the earlier sign-off holds again."""

    __tablename__ = "restoration"
    __table_args__ = (Index("ix_restoration_student", "student_id", "skill"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    skill: Mapped[str] = mapped_column(String(60))
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    assessor_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    reason: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class Demonstration(Base):
    """What an assessor saw, point by point; ``seen`` is JSON: number of the point → yes or no."""

    __tablename__ = "demonstration"
    __table_args__ = (Index("ix_demonstration_student", "student_id", "skill"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    batch_id: Mapped[uuid.UUID] = mapped_column(index=True)
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    skill: Mapped[str] = mapped_column(String(60))
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    assessor_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    outcome: Mapped[str] = mapped_column(String(12))
    seen: Mapped[str] = mapped_column(String(400))
    repeat: Mapped[str] = mapped_column(String(2000))
    note: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class BankVersion(Base):
    """A version of a question bank, as JSON; the newest of each bank holds."""

    __tablename__ = "bank_version"
    __table_args__ = writes("append")
    bank: Mapped[str] = mapped_column(String(60), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    content: Mapped[str] = mapped_column(LONGTEXT)
    made_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    made_at: Mapped[datetime]


class CheckTry(Base):
    """A knowledge check that a student began; ``questions`` is a JSON list of their ids."""

    __tablename__ = "check_try"
    __table_args__ = (Index("ix_check_try_student", "student_id", "bank"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    bank: Mapped[str] = mapped_column(String(60))
    bank_number: Mapped[int]
    seed: Mapped[str] = mapped_column(String(40))
    questions: Mapped[str] = mapped_column(String(3000))
    at: Mapped[datetime]


class CheckAnswer(Base):
    """One answer, once."""

    __tablename__ = "check_answer"
    __table_args__ = (Index("ix_check_answer_at", "at"), writes("append"))
    try_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("check_try.id"), primary_key=True)
    question: Mapped[str] = mapped_column(String(60), primary_key=True)
    places: Mapped[str] = mapped_column(String(200))
    number: Mapped[str] = mapped_column(String(40))
    right: Mapped[bool]
    at: Mapped[datetime]


class CheckResult(Base):
    """How a knowledge check ended."""

    __tablename__ = "check_result"
    __table_args__ = writes("append")
    try_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("check_try.id"), primary_key=True)
    right: Mapped[int]
    asked: Mapped[int]
    critical_wrong: Mapped[int]
    passed: Mapped[bool]
    at: Mapped[datetime]


class SkillStanding(Base):
    """What follows from one student's record, kept so that it need not be worked out at every look.

    ``acts`` counts what was recorded that bears on it, in the transaction that records it; ``worked_out`` is that
    count when ``content`` was worked out. Only when both are equal, ``basis`` is the shop's of now, and the moment
    lies from ``since`` to before ``until``, does the content hold; else the record itself is asked. ``to_sign`` names
    the skills whose inspected parts are complete and since when, as JSON, or is empty.
    """

    __tablename__ = "skill_standing"
    __table_args__ = writes("working")
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"), primary_key=True)
    acts: Mapped[int]
    worked_out: Mapped[int]
    basis: Mapped[str] = mapped_column(String(64))
    since: Mapped[datetime | None]
    until: Mapped[datetime | None]
    to_sign: Mapped[str] = mapped_column(String(2000))
    content: Mapped[str] = mapped_column(LONGTEXT)
