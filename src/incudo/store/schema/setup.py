"""Workholding, setups at the machines, and runs of practice rigs."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, new_id, writes


class Workholding(Base):
    """A vise, a drawer of parallels, a set of clamps; its numbers in ``spec`` (core.machine)."""

    __tablename__ = "workholding"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    spec: Mapped[str] = mapped_column(LONGTEXT)
    place: Mapped[int]


class MachineNote(Base):
    """Something that was done to a machine: its head or vise moved, wear found, a service."""

    __tablename__ = "machine_note"
    __table_args__ = (Index("ix_machine_note_machine", "machine_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    kind: Mapped[str] = mapped_column(String(12))
    words: Mapped[str] = mapped_column(String(400))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class Setup(Base):
    """A working record that was begun: of a head, a vise, or how work is held. ``settings`` as JSON."""

    __tablename__ = "setup"
    __table_args__ = (
        Index("ix_setup_machine", "machine_id", "kind", "at"),
        Index("ix_setup_assignment", "assignment_id", "kind", "at"),
        writes("append"),
    )
    id: Mapped[uuid.UUID] = new_id()
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    kind: Mapped[str] = mapped_column(String(8))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    assignment_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("assignment.id"))
    holding_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("workholding.id"))
    settings: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class SetupPass(Base):
    """One sweep of a working record, as it was read."""

    __tablename__ = "setup_pass"
    __table_args__ = (UniqueConstraint("setup_id", "number", name="uq_setup_pass_number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    setup_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setup.id"))
    number: Mapped[int]
    content: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class SetupEnd(Base):
    """A working record was accepted; ``good`` when within the shop's standard."""

    __tablename__ = "setup_end"
    __table_args__ = writes("append")
    setup_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setup.id"), primary_key=True)
    good: Mapped[bool]
    words: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime]


class Found(Base):
    """Where something of a part was found at a machine: what was entered, and the datums that follow, as JSON."""

    __tablename__ = "found"
    __table_args__ = (Index("ix_found_assignment", "assignment_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    assignment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("assignment.id"))
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    kind: Mapped[str] = mapped_column(String(12))
    content: Mapped[str] = mapped_column(LONGTEXT)
    datums: Mapped[str] = mapped_column(String(2000))
    words: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime]


class LostMotion(Base):
    """A measurement of a handle's lost motion, in the middle of its travel and at an end; readings as JSON."""

    __tablename__ = "lost_motion"
    __table_args__ = (Index("ix_lost_motion_machine", "machine_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    axis: Mapped[str] = mapped_column(String(8))
    handle: Mapped[str] = mapped_column(String(80))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    content: Mapped[str] = mapped_column(String(1000))
    at: Mapped[datetime]


class RigExercise(Base):
    """An instructor set one rig, level and seed for a whole group."""

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
