"""How the planning of a job card is set, its plans as they were saved, handing in, and what was decided."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, new_id, writes


class PlanTask(Base):
    """How a job card is planned: what is given, when it is judged, whether it has to be approved; the newest counts.

    ``given`` is the plan that the student begins with, empty for none; ``gaps`` what of it was left open.
    """

    __tablename__ = "plan_task"
    __table_args__ = (UniqueConstraint("assignment_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    assignment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("assignment.id"))
    number: Mapped[int]
    mode: Mapped[str] = mapped_column(String(8))
    gaps: Mapped[str] = mapped_column(String(80))
    judged: Mapped[str] = mapped_column(String(8))
    approval: Mapped[bool]
    given: Mapped[str] = mapped_column(LONGTEXT)
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class PlanVersion(Base):
    """A plan of a job card as it was saved. ``numbers`` are the speeds and feeds that were worked out then."""

    __tablename__ = "plan_version"
    __table_args__ = (UniqueConstraint("assignment_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    assignment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("assignment.id"))
    number: Mapped[int]
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    content: Mapped[str] = mapped_column(LONGTEXT)
    numbers: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class PlanHandIn(Base):
    """The student says: this is my plan. ``findings`` are what the judge said then, by code and operation."""

    __tablename__ = "plan_hand_in"
    __table_args__ = (UniqueConstraint("assignment_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    assignment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("assignment.id"))
    number: Mapped[int]
    version_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("plan_version.id"))
    findings: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class PlanDecision(Base):
    """What an instructor decided about a plan that was handed in; one per hand-in. ``remarks`` by operation."""

    __tablename__ = "plan_decision"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    plan_hand_in_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("plan_hand_in.id"), unique=True)
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    approved: Mapped[bool]
    remark: Mapped[str] = mapped_column(String(400))
    remarks: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]
