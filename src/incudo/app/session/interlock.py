"""The interlock devices: what they report, what they are told. Documented in docs/formats/devices.md."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.app.people.names import names_of
from incudo.app.session.shopfloor import runs_now, shop_now, why_not_still
from incudo.app.shop.devices import known_device
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.session.at_machine import AtMachine
from incudo.core.session.interlock import Facts, Lamp, command
from incudo.core.shop.device import Purpose
from incudo.store import schema as t


class MachineReport(Command):
    """What the device of one machine sees."""

    machine: uuid.UUID
    spindle: bool
    feed: bool


class DeviceReport(Command):
    """What a device sees at its machines; an empty list only asks."""

    machines: Annotated[tuple[MachineReport, ...], Field(max_length=40)] = ()


class MachineCommand(View):
    """What the device of one machine is told."""

    machine: uuid.UUID
    name: str
    enable: bool
    lamp: Lamp
    stop: bool
    person: str
    why: tuple[str, ...]


class DeviceCommands(View):
    """The commands for all machines. A device that hears nothing for a while alarms by itself."""

    machines: tuple[MachineCommand, ...]


def device_report(w: Work, key: str, report: DeviceReport) -> DeviceCommands:
    """Take what a device reports and say what each machine is told, worked out at this moment.

    Raises ``UnknownDevice`` for a wrong key.
    """
    device = known_device(w, key, Purpose.INTERLOCK)
    shop = shop_now(w)
    for m in report.machines:
        if str(m.machine) not in shop.names:
            raise Refused.of("machines", m.machine, say("there is no such machine"))
        w.db.merge(t.DeviceState(machine_id=m.machine, device_id=device.id, spindle=m.spindle, feed=m.feed, at=w.now))
    w.db.flush()
    runs = runs_now(w, shop)
    people = names_of(w, {uuid.UUID(s.run.person) for s in shop.states.values() if s.run is not None})
    found = []
    for key_, name in shop.names.items():
        machine = uuid.UUID(key_)
        run, decision = shop.states.get(machine, AtMachine()).run, runs.get(machine)
        told = command(
            Facts(
                started=run is not None,
                still_may=decision is not None and decision.starts,
                closed=machine in shop.closed,
                stop_all=bool(shop.stopped),
            )
        )
        why = why_not_still(decision) if decision else ()
        if machine in shop.closed and not why:
            why = (say("{name} is tagged out: {closed}", name=name, closed=shop.closed[machine]),)
        found.append(
            MachineCommand(
                machine=machine,
                name=name,
                enable=told.enable,
                lamp=told.lamp,
                stop=told.stop,
                person=people.get(uuid.UUID(run.person), "") if run else "",
                why=(shop.stopped,) if shop.stopped else why,
            )
        )
    return DeviceCommands(machines=tuple(found))
