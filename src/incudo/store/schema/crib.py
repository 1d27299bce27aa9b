"""The crib: materials, cutters, who has what."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, new_id, writes


class Material(Base):
    """A material with how fast it is cut, as JSON (core.crib.material)."""

    __tablename__ = "material"
    __table_args__ = writes("versioned")
    key: Mapped[str] = mapped_column(String(60), primary_key=True)
    name: Mapped[str]
    place: Mapped[int]
    content: Mapped[str] = mapped_column(LONGTEXT)


class Cutter(Base):
    """A kind of cutter that the crib owns so many of; as JSON (core.crib.cutter)."""

    __tablename__ = "cutter"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    place: Mapped[int]
    content: Mapped[str] = mapped_column(LONGTEXT)


class CribIssue(Base):
    """A cutter or an instrument was handed out; exactly one of both is named."""

    __tablename__ = "crib_issue"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    cutter_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("cutter.id"))
    instrument_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("instrument.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    note: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class CribReturn(Base):
    """It came back, or will not."""

    __tablename__ = "crib_return"
    __table_args__ = writes("append")
    issue_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("crib_issue.id"), primary_key=True)
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    condition: Mapped[str] = mapped_column(String(12))
    note: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime]
