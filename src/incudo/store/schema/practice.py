"""Exercises and rigs."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


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
    in_class: Mapped[bool] = mapped_column(default=False, server_default="0")
    at: Mapped[datetime]


class ExerciseSheetEnd(Base):
    """A sheet in class was ended; from then on its answers are shown and count."""

    __tablename__ = "exercise_sheet_end"
    __table_args__ = writes("append")
    sheet_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("exercise_sheet.id"), primary_key=True)
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
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
    answer the working was asked for.
    """

    __tablename__ = "exercise_answer"
    __table_args__ = writes("append")
    question_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("exercise_question.id"), primary_key=True)
    answer: Mapped[str] = mapped_column(String(80))
    unit: Mapped[str] = mapped_column(String(16))
    right: Mapped[bool]
    slip: Mapped[str] = mapped_column(Spoken)
    at: Mapped[datetime] = mapped_column(index=True)


class RigExercise(Base):
    """An instructor set one rig and level for a whole group; ``seed`` is that of its guided runs."""

    __tablename__ = "rig_exercise"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    group_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("class_group.id"), index=True)
    rig: Mapped[str] = mapped_column(String(20))
    level: Mapped[int]
    seed: Mapped[str] = mapped_column(String(40))
    setup: Mapped[str] = mapped_column(LONGTEXT)
    words: Mapped[str] = mapped_column(String(400))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class RigRun(Base):
    """A student's run of a rig; everything in it follows from its seed and its actions."""

    __tablename__ = "rig_run"
    __table_args__ = (Index("ix_rig_run_student", "student_id", "rig", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    rig: Mapped[str] = mapped_column(String(20))
    level: Mapped[int]
    seed: Mapped[str] = mapped_column(String(40))
    setup: Mapped[str] = mapped_column(LONGTEXT)
    guided: Mapped[bool]
    exercise_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("rig_exercise.id"))
    at: Mapped[datetime]


class RigAction(Base):
    """One action of a run, in order."""

    __tablename__ = "rig_action"
    __table_args__ = writes("append")
    run_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("rig_run.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    content: Mapped[str] = mapped_column(String(200))
    at: Mapped[datetime]


class RigResult(Base):
    """How a run ended."""

    __tablename__ = "rig_result"
    __table_args__ = writes("append")
    run_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("rig_run.id"), primary_key=True)
    passed: Mapped[bool]
    passes: Mapped[int]
    practised: Mapped[int]
    reasons: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class Study(Base):
    """A repeated-readings study of a gauge with a group: so many parts, each read so often by everybody.

    ``width`` is that of the limits, in the gauge's own unit, or empty.
    """

    __tablename__ = "study"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    instrument_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("instrument.id"), index=True)
    group_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("class_group.id"), index=True)
    what: Mapped[str]
    parts: Mapped[int]
    repeats: Mapped[int]
    width: Mapped[str] = mapped_column(String(20))
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class StudyReading(Base):
    """One reading of a study; ``number`` is its turn among this person's. Of several the newest counts."""

    __tablename__ = "study_reading"
    __table_args__ = (Index("ix_study_reading_person", "study_id", "person_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    study_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("study.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    number: Mapped[int]
    value: Mapped[str] = mapped_column(String(40))
    unit: Mapped[str] = mapped_column(String(4))
    at: Mapped[datetime]


class StudyEnd(Base):
    """A study was ended: no more readings, and everybody sees what came of it."""

    __tablename__ = "study_end"
    __table_args__ = writes("append")
    study_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("study.id"), primary_key=True)
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]
