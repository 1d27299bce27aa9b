"""Parts, job cards, readings and what was decided."""

from __future__ import annotations

import uuid
from datetime import date, datetime
from decimal import Decimal

from sqlalchemy import ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


class Project(Base):
    """A practice part; its content stands in its versions."""

    __tablename__ = "project"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    code: Mapped[str] = mapped_column(String(60), unique=True)


class ProjectVersion(Base):
    """One version of a project file, as JSON."""

    __tablename__ = "project_version"
    __table_args__ = (UniqueConstraint("project_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"))
    number: Mapped[int]
    content: Mapped[str] = mapped_column(LONGTEXT)
    made_by: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    made_at: Mapped[datetime]
    change: Mapped[str] = mapped_column(String(400), default="")


class ProjectShelving(Base):
    """A part taken out of the library, or put back; the last one counts."""

    __tablename__ = "project_shelving"
    __table_args__ = (Index("ix_project_shelving_project", "project_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"))
    retired: Mapped[bool]
    by: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class GroupPart(Base):
    """A part that a group makes in its term; ``number`` is its turn."""

    __tablename__ = "group_part"
    __table_args__ = writes("versioned")
    group_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("class_group.id"), primary_key=True)
    project_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project.id"), primary_key=True)
    number: Mapped[int]


class Assignment(Base):
    """A project version given to a student."""

    __tablename__ = "assignment"
    __table_args__ = (
        Index("ix_assignment_machine", "machine_id"),
        Index("ix_assignment_assigned_at", "assigned_at"),
        writes("append"),
    )
    id: Mapped[uuid.UUID] = new_id()
    project_version_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("project_version.id"))
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    due: Mapped[date | None]
    not_before_signed: Mapped[bool]
    assigned_by: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    assigned_at: Mapped[datetime]


class Attempt(Base):
    """One piece of stock, stamped with its number."""

    __tablename__ = "attempt"
    __table_args__ = (UniqueConstraint("assignment_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    assignment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("assignment.id"))
    number: Mapped[int]
    started_at: Mapped[datetime]


class Progress(Base):
    """A station that the student ticked."""

    __tablename__ = "progress"
    __table_args__ = (
        UniqueConstraint("attempt_id", "station"),
        Index("ix_progress_at", "at"),
        writes("append"),
    )
    id: Mapped[uuid.UUID] = new_id()
    attempt_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("attempt.id"))
    station: Mapped[str] = mapped_column(String(12))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class Reading(Base):
    """One measured value with everything that it was judged by; never changed.

    ``element`` says what was read of a requirement that takes more than one thing (a position along x); a yes or a
    no has no unit and no value in mm, an angle is in degrees.

    ``round`` is the number of the hand-in it belongs to (1 until the first
    decision); ``checking`` marks the second person's readings; ``late`` those
    that came in after hand-in and do not count.
    """

    __tablename__ = "reading"
    __table_args__ = (
        UniqueConstraint("supersedes_id"),
        Index("ix_reading_attempt_round", "attempt_id", "round"),
        Index("ix_reading_saved_at", "saved_at"),
        writes("append"),
    )
    id: Mapped[uuid.UUID] = new_id()
    attempt_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("attempt.id"))
    characteristic: Mapped[int]
    element: Mapped[str] = mapped_column(String(8), default="")
    round: Mapped[int]
    checking: Mapped[bool]
    late: Mapped[bool]
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    text: Mapped[str] = mapped_column(String(40))
    unit: Mapped[str] = mapped_column(String(3))
    value_mm: Mapped[Decimal | None]
    instrument_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("instrument.id"))
    instrument_unit: Mapped[str] = mapped_column(String(3))
    resolution: Mapped[str] = mapped_column(String(20))
    uncertainty: Mapped[str] = mapped_column(String(20))
    zero_error: Mapped[str] = mapped_column(String(20))
    undecided: Mapped[str] = mapped_column(Spoken)
    school: Mapped[str] = mapped_column(String(20))
    verdict: Mapped[str] = mapped_column(String(20))
    supersedes_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("reading.id"))
    why: Mapped[str] = mapped_column(String(200))
    measured_at: Mapped[datetime]
    saved_at: Mapped[datetime]


class HandIn(Base):
    """The student says: the part is ready to be checked."""

    __tablename__ = "hand_in"
    __table_args__ = (UniqueConstraint("attempt_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    attempt_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("attempt.id"))
    number: Mapped[int]
    at: Mapped[datetime] = mapped_column(index=True)


class Comparison(Base):
    """An assessor has saved their own readings and opens the student's beside them."""

    __tablename__ = "comparison"
    __table_args__ = (UniqueConstraint("hand_in_id", "assessor_id"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    hand_in_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("hand_in.id"))
    assessor_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class Decision(Base):
    """What was decided about a part that was handed in; one per hand-in."""

    __tablename__ = "decision"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    hand_in_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("hand_in.id"), unique=True)
    assessor_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    outcome: Mapped[str] = mapped_column(String(12))
    remark: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class Finding(Base):
    """The verdict of record and the disposition of one characteristic in a decision."""

    __tablename__ = "finding"
    __table_args__ = writes("append")
    decision_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("decision.id"), primary_key=True)
    characteristic: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    verdict: Mapped[str] = mapped_column(String(20))
    by_check: Mapped[bool]
    agrees: Mapped[bool | None]
    disposition: Mapped[str] = mapped_column(String(12))
    reason: Mapped[str] = mapped_column(String(400))
    counts: Mapped[bool]


class HoldPoint(Base):
    """A hold point set for a student, on one job card or on all; ``on`` false lifts it."""

    __tablename__ = "hold_point"
    __table_args__ = (Index("ix_hold_point_student", "student_id"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    assignment_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("assignment.id"))
    hold: Mapped[str] = mapped_column(String(20))
    on: Mapped[bool]
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]
