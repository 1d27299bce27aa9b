"""Entering a machine: like one of its kind, then as somebody walked round it."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import StringConstraints

from incudo import shipped
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.app.shop.machines import MachineDetail, machine_detail
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.names import alike
from incudo.core.kernel.say import say, together
from incudo.core.shop.kinds import WAYS, MachineKind, Walked, as_walked, like
from incudo.core.shop.machine import Axis, Machine, Way, kept_machine
from incudo.store import schema as t
from incudo.store.shop import machines as store


class MachineKindView(View):
    """A kind with its usual entry; ``own``: one of the shop's machines, for another of its model."""

    id: str
    name: str
    about: str
    spec: Machine
    own: bool


class MachineKinds(View):
    """All kinds, and where each axis can go."""

    kinds: tuple[MachineKindView, ...]
    ways: dict[Axis, tuple[Way, ...]]


class NewMachineCommand(Command):
    """A machine with its own name in the shop."""

    id: uuid.UUID
    name: Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)]
    about: Annotated[str, StringConstraints(max_length=200, strip_whitespace=True)]
    kind: Annotated[str, StringConstraints(max_length=40)]
    walked: Walked


def _own(w: Work) -> tuple[MachineKind, ...]:
    """The shop's machines as kinds."""
    return tuple(like(str(m.id), m.name, m.about, kept_machine(m.spec)) for m in store.machines(w.db))


def machine_kinds(w: Work) -> MachineKinds:
    """The shipped kinds, and the shop's own machines."""
    about = say("Same model. Everything is copied except the measured backlash.")
    shipped_ones = (
        MachineKindView(id=k.id, name=k.name, about=k.about, spec=k.spec, own=False) for k in shipped.machine_kinds()
    )
    own = (
        MachineKindView(id=k.id, name=say("Another like {name}", name=k.name), about=about, spec=k.spec, own=True)
        for k in _own(w)
    )
    return MachineKinds(kinds=(*shipped_ones, *own), ways=WAYS)


def add_machine(w: Work, command: NewMachineCommand) -> MachineDetail:
    """A machine at the end of the shop's list. Sent again, it adds nothing.

    Raises ``Refused`` for an unknown kind, a name that is taken and an entry that cannot be, ``Conflict`` for an id
    that another machine has.
    """
    kind = next((k for k in (*shipped.machine_kinds(), *_own(w)) if k.id == command.kind), None)
    if kind is None:
        known = together((k.id for k in shipped.machine_kinds()), ", ")
        raise Refused.of("kind", command.kind, say("must be one of: {known}", known=known))
    spec = as_walked(kind, command.walked)
    there = w.db.get(t.Machine, command.id)
    if there is not None:
        if there.name != command.name:
            raise Conflict(say("This id was used before, when {key} was different.", key="name"))
        return machine_detail(w, command.id)
    known_names = store.machines(w.db, also_gone=True)
    if any(alike(m.name) == alike(command.name) for m in known_names):
        raise Refused.of("name", command.name, say("is another machine's name"))
    place = 1 + max((m.place for m in known_names), default=-1)
    about = command.about or (kind.name if kind in shipped.machine_kinds() else kind.about)
    w.db.add(t.Machine(id=command.id, name=command.name, about=about, place=place, spec=spec.model_dump_json()))
    w.db.flush()
    return machine_detail(w, command.id)
