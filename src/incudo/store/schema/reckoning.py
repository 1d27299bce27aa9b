"""What was reckoned and kept."""

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
