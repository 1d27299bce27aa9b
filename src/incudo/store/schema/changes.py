"""What is worked out from the record as it grows: counters of changes, and what is still open."""

from __future__ import annotations

import uuid

from sqlalchemy import BigInteger, Index, String
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, writes


class Change(Base):
    """How often something of one concern changed; the sum over ``slot`` counts.

    Several slots, so that two writers at once seldom wait for each other.
    """

    __tablename__ = "change_count"
    __table_args__ = writes("working")
    concern: Mapped[str] = mapped_column(String(40), primary_key=True)
    slot: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    number: Mapped[int] = mapped_column(BigInteger)


class Pending(Base):
    """Something that is not closed yet: a part that is not accepted, one that waits for its check, a tool that is out.

    Whose it is stands beside it. Written and deleted in the transaction that opens and closes it, so that nobody
    looks through ten years for the few that are open.
    """

    __tablename__ = "pending"
    __table_args__ = (Index("ix_pending_person", "kind", "person_id"), writes("working"))
    kind: Mapped[str] = mapped_column(String(8), primary_key=True)
    id: Mapped[uuid.UUID] = mapped_column(primary_key=True)
    person_id: Mapped[uuid.UUID]
