"""Sessions of a group: the roll, who supervises, which machines are open, what happens at them."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.dialects.mysql import LONGTEXT
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


class Meeting(Base):
    """One meeting of a group. ``open_slot`` is 1 while it is open, so that only one can be."""

    __tablename__ = "meeting"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    group_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("class_group.id"))
    opened_by: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    opened_at: Mapped[datetime] = mapped_column(index=True)
    ended_by: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    ended_at: Mapped[datetime | None]
    duties: Mapped[str] = mapped_column(LONGTEXT, default="")
    open_slot: Mapped[int | None] = mapped_column(unique=True)


class Roll(Base):
    """Somebody is here, or not; the newest entry of a person in a meeting holds."""

    __tablename__ = "roll"
    __table_args__ = (Index("ix_roll_person", "person_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    meeting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("meeting.id"), index=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    presence: Mapped[str] = mapped_column(String(8))
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class Supervision(Base):
    """An instructor begins or leaves the supervision of a meeting."""

    __tablename__ = "supervision"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    meeting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("meeting.id"), index=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    on: Mapped[bool]
    at: Mapped[datetime]


class MeetingMachine(Base):
    """A machine is opened or closed for a meeting; the newest entry holds."""

    __tablename__ = "meeting_machine"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    meeting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("meeting.id"), index=True)
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    open: Mapped[bool]
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class MachineEvent(Base):
    """Something at a machine: who came, took the handles, ticked the list, started, ended."""

    __tablename__ = "machine_event"
    __table_args__ = (
        Index("ix_machine_event_meeting", "meeting_id", "machine_id", "at"),
        Index("ix_machine_event_person", "person_id", "kind"),
        writes("append"),
    )
    id: Mapped[uuid.UUID] = new_id()
    meeting_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("meeting.id"))
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    kind: Mapped[str] = mapped_column(String(12))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    operation: Mapped[str] = mapped_column(String(60))
    assignment_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("assignment.id"))
    by_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("person.id"))
    until: Mapped[datetime | None]
    words: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime]


class Call(Base):
    """A student calls: to start with an assessor, at a hold point, to show a skill, for help."""

    __tablename__ = "call"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    student_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    kind: Mapped[str] = mapped_column(String(16))
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    assignment_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("assignment.id"))
    what: Mapped[str] = mapped_column(String(60))
    words: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class CallEnd(Base):
    """A call was answered or taken back."""

    __tablename__ = "call_end"
    __table_args__ = writes("append")
    call_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("call.id"), primary_key=True)
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    outcome: Mapped[str] = mapped_column(String(12))
    words: Mapped[str] = mapped_column(Spoken)
    at: Mapped[datetime]
