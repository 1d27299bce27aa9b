"""Workholding, setups at the machines, and runs of practice rigs."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


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
    words: Mapped[str] = mapped_column(Spoken)
    at: Mapped[datetime]
