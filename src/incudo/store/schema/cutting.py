"""What was done at the machine by a run card."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGTEXT
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


class OperationTime(Base):
    """How long an operation took by a run card: what it was, seconds as reckoned and as taken.

    ``work`` is the kind of operation or "holding"; ``id`` that of the tick that ended it. It names nobody.
    """

    __tablename__ = "operation_time"
    __table_args__ = (Index("ix_operation_time_machine_id_at", "machine_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    work: Mapped[str] = mapped_column(String(20))
    reckoned: Mapped[int]
    taken: Mapped[int]
    at: Mapped[datetime]


class DryRun(Base):
    """A plan that is tried on a simulated machine; ``dials`` are its handles as they were then, as JSON."""

    __tablename__ = "dry_run"
    __table_args__ = (Index("ix_dry_run_assignment_id", "assignment_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    assignment_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("assignment.id"))
    plan_version_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("plan_version.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    dials: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class DryAct(Base):
    """What was done at one step of a dry run, as JSON; ``outcome`` after the last step is the part as it came out."""

    __tablename__ = "dry_act"
    __table_args__ = (UniqueConstraint("run_id", "number"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    run_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("dry_run.id"))
    number: Mapped[int]
    step: Mapped[str] = mapped_column(String(60))
    content: Mapped[str] = mapped_column(LONGTEXT)
    outcome: Mapped[str] = mapped_column(LONGTEXT)
    at: Mapped[datetime]


class NoticedSign(Base):
    """A sign that something was not right, chosen at a step of a run card: its name, and what was being done."""

    __tablename__ = "noticed_sign"
    __table_args__ = (Index("ix_noticed_sign_person_id", "person_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    attempt_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("attempt.id"))
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    step: Mapped[str] = mapped_column(String(60))
    sign: Mapped[str] = mapped_column(String(40))
    name: Mapped[str] = mapped_column(Spoken)
    during: Mapped[str] = mapped_column(Spoken)
    noticed_at: Mapped[datetime]
    at: Mapped[datetime]


class RunRemark(Base):
    """What an instructor or assistant says on somebody's run card, at the step that it is for."""

    __tablename__ = "run_remark"
    __table_args__ = (Index("ix_run_remark_attempt_id", "attempt_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    attempt_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("attempt.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    step: Mapped[str] = mapped_column(String(60))
    words: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime]
