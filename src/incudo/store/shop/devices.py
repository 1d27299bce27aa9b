"""Devices and what they reported last."""

from __future__ import annotations

import uuid

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def devices(db: Session) -> list[t.Device]:
    """Every device, by name."""
    return list(db.scalars(select(t.Device).order_by(t.Device.name, t.Device.id)))


def device_by_hash(db: Session, key_hash: str, purpose: str) -> t.Device | None:
    """The device with this key for this purpose, if it is let in."""
    return db.scalar(
        select(t.Device).where(t.Device.key_hash == key_hash, t.Device.active, t.Device.purpose == purpose)
    )


def device_states(db: Session) -> dict[uuid.UUID, t.DeviceState]:
    """What the device of each machine reported last."""
    return {s.machine_id: s for s in db.scalars(select(t.DeviceState))}
