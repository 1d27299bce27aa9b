"""The register's chain, and what is written down without a skill: incidents and near misses."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, new_id, writes


class RegisterEntry(Base):
    """One entry of the chain; ``content`` is the JSON of the row it seals."""

    __tablename__ = "register_entry"
    __table_args__ = writes("append")
    seq: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    entry_id: Mapped[uuid.UUID] = mapped_column(index=True)
    kind: Mapped[str] = mapped_column(String(16))
    at: Mapped[datetime]
    content: Mapped[str] = mapped_column(LONGTEXT)
    previous: Mapped[str] = mapped_column(String(64))
    digest: Mapped[str] = mapped_column(String(64))
    seal: Mapped[str] = mapped_column(String(64))


class RegisterChecked(Base):
    """Up to which entry the register was checked; ``seal`` is that entry's, made with the shop's key. One row each.

    ``scope`` is ``whole`` for the last check from the first entry on, ``head`` for the last one that went on.
    """

    __tablename__ = "register_checked"
    __table_args__ = writes("working")
    scope: Mapped[str] = mapped_column(String(8), primary_key=True)
    seq: Mapped[int]
    digest: Mapped[str] = mapped_column(String(64))
    seal: Mapped[str] = mapped_column(String(64))
    at: Mapped[datetime]


class Incident(Base):
    """An incident or a near miss. ``person_id`` stays empty when it came without a name."""

    __tablename__ = "incident"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    kind: Mapped[str] = mapped_column(String(12))
    person_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    what: Mapped[str] = mapped_column(String(1000))
    place: Mapped[str] = mapped_column(String(200))
    witness: Mapped[str] = mapped_column(String(200))
    done: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)
