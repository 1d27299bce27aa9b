"""What was done at the machine by a run card."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


class RunTick(Base):
    """One thing that was done by a run card: a step, a reading, or going back to a step.

    ``value`` is what was read, as it was typed; ``millimetres`` the same in mm as a fraction, ``good`` whether the
    next pass is set by it, ``words`` what was said of it. ``done_at`` is when by the device, ``at`` when it came in.
    After it the card stands at step ``place`` of ``places``, called ``title``; up to the end of that the plan expects
    ``planned`` seconds.
    """

    __tablename__ = "run_tick"
    __table_args__ = (UniqueConstraint("attempt_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    attempt_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("attempt.id"))
    number: Mapped[int]
    step: Mapped[str] = mapped_column(String(60))
    kind: Mapped[str] = mapped_column(String(8))
    value: Mapped[str] = mapped_column(String(20))
    millimetres: Mapped[str] = mapped_column(String(60))
    good: Mapped[bool]
    words: Mapped[str] = mapped_column(Spoken)
    place: Mapped[int]
    places: Mapped[int]
    title: Mapped[str] = mapped_column(Spoken)
    planned: Mapped[int]
    plan_version_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("plan_version.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    done_at: Mapped[datetime]
    at: Mapped[datetime]
