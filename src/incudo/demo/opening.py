"""How Skerry Sound was set up: what its first instructor entered on the pages, act by act."""

from __future__ import annotations

import json

from incudo.app.administration import first_run
from incudo.app.administration.shop import DelegationCommand, delegate
from incudo.app.people import everybody, joining
from incudo.app.shop import devices, machines, new_gauges, new_machines, tables, workholding
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.measuring.verdict import School
from incudo.core.parts.drawing.placed import Projection
from incudo.core.people.roles import Role
from incudo.core.shop.device import Purpose
from incudo.core.shop.kinds import Walked
from incudo.core.shop.machine import Machine
from incudo.demo import gauges
from incudo.demo import people as cast
from incudo.demo.setting import cutter_file, holding_entries, machine_entries
from incudo.demo.story import Story, key, who

#: Where everybody of the story sits.
_HERE = "127.0.0.1"
_FIRST = "haldane"
#: Days since the shop was set up.
_SINCE = 400


def open_shop(story: Story, device_key: str) -> None:
    """Skerry Sound with its people, machines and gauges, and the parts that are shipped, in an empty database.

    ``device_key`` lets the interlock stand-in talk to it; without one no device is let in. Raises ``Conflict`` when
    there is a shop already.
    """
    story.at(_SINCE)
    mara = cast.PEOPLE[_FIRST]
    first, *others = sorted({p.group for p in cast.PEOPLE.values() if p.group})
    command = first_run.FirstRunCommand(
        code=story.run(first_run.first_code),
        shop="Skerry Sound",
        unit=LengthUnit.INCH,
        school=School.GUARD_BAND,
        projection=Projection.THIRD,
        zone=story.zone,
        group=first,
        name=mara.name,
        login=_FIRST,
        password=cast.PASSWORD,
        pin=mara.pin or "",
    )
    first_run.first_run(story.unit, command, _HERE, key)
    for name in others:
        group = everybody.NewGroupCommand(id=key("group", name), name=name, begins=None, ends=None)
        story.run(lambda w, g=group: everybody.add_group(w, g))  # type: ignore[misc]
    for login, person in cast.PEOPLE.items():
        if login != _FIRST:
            _person(story, login, person)
    entries = machine_entries()
    for ident, name, about in cast.MACHINES:
        _machine(story, ident, name, about, entries[ident])
    for thing in holding_entries():
        story.run(lambda w, x=thing: workholding.holding_change(w, x))  # type: ignore[misc]
    for gauge in gauges.gauges(story.base, key):
        story.run(lambda w, x=gauge: new_gauges.add_gauge(w, x))  # type: ignore[misc]
    story.run(lambda w: tables.table_take(w, tables.TableName.CUTTERS, tables.TableText(text=cutter_file())))
    if device_key:
        _device(story, "interlock", "Interlock stand-in", Purpose.INTERLOCK, device_key)
        _device(story, "wall", "Wall beside the crib", Purpose.WALL, cast.WALL_KEY)


def _person(story: Story, login: str, person: cast.Character) -> None:
    """Added by the first instructor, then in with the code of their slip."""
    boss, pin = who(_FIRST), cast.PEOPLE[_FIRST].pin or ""
    added = everybody.NewPersonCommand(
        id=key("person", login),
        name=person.name,
        login=login,
        role=Role(person.role),
        group=key("group", person.group) if person.group else None,
        pin=pin,
    )
    slip = story.run(lambda w: everybody.add_person(w, boss, added))
    taken = joining.JoinCommand(code=slip.code, password=cast.PASSWORD, pin=person.pin)
    joining.join(story.unit, taken, None, _HERE)
    if person.delegated:
        given = DelegationCommand(assistant=added.id, skills=person.delegated)
        story.run(lambda w: delegate(w, boss, given))


def _machine(story: Story, ident: str, name: str, about: str, entry: Machine) -> None:
    """Entered like its kind and walked round; what no walk shows is put right in its entry."""
    whole = entry.model_dump(mode="json")
    seen = {**whole, **whole["spindle"]}
    added = new_machines.NewMachineCommand(
        id=key("machine", ident),
        name=name,
        about=about,
        kind=cast.LIKE[ident],
        walked=Walked.model_validate({field: seen[field] for field in Walked.model_fields}),
    )
    story.run(lambda w: new_machines.add_machine(w, added))
    change = machines.MachineChange(about=about, file=json.dumps(whole, ensure_ascii=False))
    story.run(lambda w: machines.machine_change(w, added.id, change))


def _device(story: Story, ident: str, name: str, purpose: Purpose, device_key: str) -> None:
    pin = cast.PEOPLE[_FIRST].pin or ""
    command = devices.NewDeviceCommand(id=key("device", ident), name=name, purpose=purpose, pin=pin)
    story.run(lambda w: devices.add_device(w, command, device_key))
