"""Devices of the shop: interlocks and walls, each with a key that is shown once."""

from __future__ import annotations

import base64
import hashlib
import secrets
import uuid
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Command, View
from incudo.app.people.accounts import Pin
from incudo.core.kernel.errors import Conflict, DomainError
from incudo.core.kernel.names import alike
from incudo.core.kernel.say import say
from incudo.core.shop.device import Purpose
from incudo.store import schema as t
from incudo.store.shop import devices as store

_KEY_BYTES = 10
DeviceName = Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)]


class UnknownDevice(DomainError):
    """No key of a device, or one that is not known, or one for something else."""


class DeviceView(View):
    """A device; its key is known to nobody but itself."""

    id: uuid.UUID
    name: str
    purpose: Purpose
    active: bool


class DeviceList(View):
    """All devices. ``key``: that of a device which was just made, this once."""

    devices: tuple[DeviceView, ...]
    key: str = ""


class NewDeviceCommand(Command):
    """A device that is to be let in."""

    id: uuid.UUID
    name: DeviceName
    purpose: Purpose
    pin: Pin


class DeviceOffCommand(Command):
    """Let a device in no more."""

    pin: Pin


def hash_key(key: str) -> str:
    """What is kept of a device's key. The key is long and random, so a plain hash is enough."""
    return hashlib.sha256(key.encode()).hexdigest()


def known_device(w: Work, key: str, purpose: Purpose) -> t.Device:
    """The device with this key. Raises ``UnknownDevice`` for a wrong key or one for something else."""
    device = store.device_by_hash(w.db, hash_key(key), purpose) if key else None
    if device is None:
        raise UnknownDevice(say("The device's key is not known here."))
    return device


def device_list(w: Work) -> DeviceList:
    """Every device that was ever let in."""
    return DeviceList(devices=_devices(w))


def add_device(w: Work, command: NewDeviceCommand, key: str = "") -> DeviceList:
    """Let a device in, with a key of 80 random bits that is easy to type, or with the ``key`` that it has already.

    Raises ``Conflict`` for a name that is taken, and for an act that was done before: its key cannot be shown again.
    """
    there = store.devices(w.db)
    if any(d.id == command.id for d in there):
        raise Conflict(say("This device was made already. Its key is shown once: switch it off and add another one."))
    if any(alike(d.name) == alike(command.name) for d in there):
        raise Conflict(say("There is a device called {name} already.", name=command.name))
    key = key or base64.b32encode(secrets.token_bytes(_KEY_BYTES)).decode().lower()
    w.db.add(
        t.Device(id=command.id, name=command.name, key_hash=hash_key(key), active=True, purpose=command.purpose.value)
    )
    w.db.flush()
    return DeviceList(devices=_devices(w), key=key)


def switch_off(w: Work, device: uuid.UUID) -> DeviceList:
    """From now on this device's key opens nothing. Sent again, it changes nothing."""
    find(w, t.Device, device, "device").active = False
    w.db.flush()
    return DeviceList(devices=_devices(w))


def _devices(w: Work) -> tuple[DeviceView, ...]:
    return tuple(
        DeviceView(id=d.id, name=d.name, purpose=Purpose(d.purpose), active=d.active) for d in store.devices(w.db)
    )
