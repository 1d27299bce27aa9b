"""Datums and measured backlash."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


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
    words: Mapped[str] = mapped_column(Spoken)
    at: Mapped[datetime]


class MeasuredBacklash(Base):
    """A measurement of a handle's backlash, in the middle of its travel and at an end; readings as JSON."""

    __tablename__ = "measured_backlash"
    __table_args__ = (Index("ix_measured_backlash_machine", "machine_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    axis: Mapped[str] = mapped_column(String(8))
    handle: Mapped[str] = mapped_column(String(80))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    content: Mapped[str] = mapped_column(String(1000))
    at: Mapped[datetime]
