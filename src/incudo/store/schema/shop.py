"""Machines, instruments, what closes them, and the devices at them."""

from __future__ import annotations

import uuid
from datetime import date, datetime

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.dialects.mysql import LONGTEXT, MEDIUMBLOB
from sqlalchemy.orm import Mapped, mapped_column

from incudo.store.schema.base import Base, Spoken, new_id, writes


class Machine(Base):
    """A machine of the shop, its numbers in ``spec`` (core.machine); whether it is closed says its newest tag."""

    __tablename__ = "machine"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    about: Mapped[str] = mapped_column(String(200))
    place: Mapped[int]
    spec: Mapped[str] = mapped_column(LONGTEXT)
    #: Why it is not in the shop any more; empty while it is.
    gone: Mapped[str] = mapped_column(String(400), default="", server_default="")


class Instrument(Base):
    """A measuring instrument; lengths as text in its own unit."""

    __tablename__ = "instrument"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    kind: Mapped[str] = mapped_column(String(30))
    unit: Mapped[str] = mapped_column(String(3))
    least: Mapped[str] = mapped_column(String(20))
    most: Mapped[str] = mapped_column(String(20))
    resolution: Mapped[str] = mapped_column(String(20))
    uncertainty: Mapped[str] = mapped_column(String(20))
    zero_error: Mapped[str] = mapped_column(String(20))
    due: Mapped[date]
    #: The thread that a go and no-go gauge is for.
    thread: Mapped[str] = mapped_column(String(40), default="")
    #: Why it is not in the shop any more; empty while it is.
    gone: Mapped[str] = mapped_column(String(400), default="", server_default="")


class GaugeCheck(Base):
    """A gauge was checked: against what, what came of it, and whether it decides on.

    ``content`` is what was read, as JSON; lengths as text in the gauge's own unit. ``due`` is the next check, where it
    holds.
    """

    __tablename__ = "gauge_check"
    __table_args__ = (Index("ix_gauge_check_instrument", "instrument_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    instrument_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("instrument.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]
    standard: Mapped[str] = mapped_column(String(80))
    content: Mapped[str] = mapped_column(LONGTEXT)
    zero_error: Mapped[str] = mapped_column(String(20))
    uncertainty: Mapped[str] = mapped_column(String(20))
    holds: Mapped[bool]
    due: Mapped[date | None]
    words: Mapped[str] = mapped_column(String(2000))


class Tag(Base):
    """Somebody closed a machine, an instrument or a cutter with a note; exactly one of the three is named."""

    __tablename__ = "tag"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    machine_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("machine.id"))
    instrument_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("instrument.id"))
    cutter_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("cutter.id"))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    note: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class TagCleared(Base):
    """An instructor has seen that the fault is gone."""

    __tablename__ = "tag_cleared"
    __table_args__ = writes("append")
    tag_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tag.id"), primary_key=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    note: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime]


class ShopStop(Base):
    """An instructor stopped spindles and feeds of all machines."""

    __tablename__ = "shop_stop"
    __table_args__ = writes("append")
    id: Mapped[uuid.UUID] = new_id()
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    reason: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime] = mapped_column(index=True)


class ShopStopCleared(Base):
    """The stop of all machines is lifted."""

    __tablename__ = "shop_stop_cleared"
    __table_args__ = writes("append")
    stop_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shop_stop.id"), primary_key=True)
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    note: Mapped[str] = mapped_column(String(400))
    at: Mapped[datetime]


class Device(Base):
    """An outside device that may talk to us; only the hash of its key is kept."""

    __tablename__ = "device"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    key_hash: Mapped[str] = mapped_column(String(64), unique=True)
    active: Mapped[bool] = mapped_column(default=True)
    purpose: Mapped[str] = mapped_column(String(20), default="interlock", server_default="interlock")


class DeviceState(Base):
    """What the interlock device of a machine reported last."""

    __tablename__ = "device_state"
    __table_args__ = writes("working")
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"), primary_key=True)
    device_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("device.id"))
    spindle: Mapped[bool]
    feed: Mapped[bool]
    at: Mapped[datetime]


class Material(Base):
    """A material with how fast it is cut, as JSON (core.crib.material)."""

    __tablename__ = "material"
    __table_args__ = writes("versioned")
    key: Mapped[str] = mapped_column(String(60), primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    place: Mapped[int]
    content: Mapped[str] = mapped_column(LONGTEXT)
    gone: Mapped[str] = mapped_column(String(400), default="", server_default="")


class Cutter(Base):
    """A kind of cutter that the crib owns so many of; as JSON (core.crib.cutter)."""

    __tablename__ = "cutter"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    place: Mapped[int]
    content: Mapped[str] = mapped_column(LONGTEXT)
    gone: Mapped[str] = mapped_column(String(400), default="", server_default="")


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


class Workholding(Base):
    """A vise, a drawer of parallels, a set of clamps; its numbers in ``spec`` (core.machine)."""

    __tablename__ = "workholding"
    __table_args__ = writes("versioned")
    id: Mapped[uuid.UUID] = new_id()
    name: Mapped[str] = mapped_column(unique=True)
    spec: Mapped[str] = mapped_column(LONGTEXT)
    place: Mapped[int]
    #: Why it is not in the shop any more; empty while it is.
    gone: Mapped[str] = mapped_column(String(400), default="", server_default="")


class MachinePhoto(Base):
    """A photograph of a machine, as JPEG; the newest alone."""

    __tablename__ = "machine_photo"
    __table_args__ = writes("working")
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"), primary_key=True)
    content: Mapped[bytes] = mapped_column(MEDIUMBLOB)
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class MachineNote(Base):
    """Something that was done to a machine: its head or vise moved, wear found, a service."""

    __tablename__ = "machine_note"
    __table_args__ = (Index("ix_machine_note_machine", "machine_id", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    machine_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("machine.id"))
    kind: Mapped[str] = mapped_column(String(12))
    words: Mapped[str] = mapped_column(String(400))
    person_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    at: Mapped[datetime]


class ShopAct(Base):
    """What somebody changed of the shop, with what was before. ``thing``: one of its things, or settings."""

    __tablename__ = "shop_act"
    __table_args__ = (Index("ix_shop_act_at", "at"), writes("append"))
    id: Mapped[uuid.UUID] = new_id()
    thing: Mapped[str] = mapped_column(String(12))
    #: A row of that thing's table; none for the settings.
    thing_id: Mapped[uuid.UUID | None]
    by_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("person.id"))
    words: Mapped[str] = mapped_column(Spoken())
    at: Mapped[datetime]


class Shop(Base):
    """The shop and its schools; one row."""

    __tablename__ = "shop"
    __table_args__ = writes("versioned")
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    name: Mapped[str]
    verdict_school: Mapped[str] = mapped_column(String(20))
    unit: Mapped[str] = mapped_column(String(2))
    confirmed_minutes: Mapped[int] = mapped_column(default=30)
    projection: Mapped[str] = mapped_column(String(5), default="third")
    setup_rules: Mapped[str] = mapped_column(LONGTEXT)
    #: Its time zone by its IANA name; its days begin and end there.
    zone: Mapped[str] = mapped_column(String(64), default="UTC")
    #: How English is written here (shipped/spelling.yaml); empty: as the texts stand.
    spelling: Mapped[str] = mapped_column(String(20), default="", server_default="")
