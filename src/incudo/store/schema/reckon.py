"""Reckonings kept on job cards; exercises and sheets of them."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, new_id, writes


class Reckoned(Base):
    """A calculation kept on a job card, with what was given and what came out, as JSON."""

    __tablename__ = "reckoned"
    __table_args__ = (Index("ix_reckoned_assignment", "assignment_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    assignment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("assignment.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    calculation: Mapped[str] = mapped_column(String(60))
    note: Mapped[str] = mapped_column(String(400))
    content: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class ExerciseSheet(Base):
    """Questions that an instructor set for a group, as they are asked (JSON)."""

    __tablename__ = "exercise_sheet"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    group_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("class_group.id"), index=True)
    title: Mapped[str]
    words: Mapped[str] = mapped_column(String(400))
    questions: Mapped[str] = mapped_column(LONGTEXT)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class ExerciseQuestion(Base):
    """A question as it was asked of one person (JSON), alone or as a number of a sheet."""

    __tablename__ = "exercise_question"
    __table_args__ = (
        Index("ix_exercise_question_student", "student_id", "calculation", "at"),
        Index("uq_exercise_question_sheet", "sheet_id", "student_id", "number", unique=True),
        writes("append"),
    )
    id: Mapped[uuid.UUID] = new_id()
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    calculation: Mapped[str] = mapped_column(String(60))
    seed: Mapped[str] = mapped_column(String(40))
    content: Mapped[str] = mapped_column(LONGTEXT)
    sheet_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("exercise_sheet.id"))
    number: Mapped[int | None]
    at: Mapped[datetime]


class ExerciseAnswer(Base):
    """The one answer to a question. ``slip`` is the mistake that leads to it, where one does; without an
    answer the working was asked for."""

    __tablename__ = "exercise_answer"
    __table_args__ = writes("append")
    question_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("exercise_question.id"), primary_key=True)
    answer: Mapped[str] = mapped_column(String(80))
    unit: Mapped[str] = mapped_column(String(16))
    right: Mapped[bool]
    slip: Mapped[str] = mapped_column(String(120))
    at: Mapped[datetime] = mapped_column(index=True)
