"""The register of machines: what stands in the shop, and what was done to it."""

from __future__ import annotations

import json
import uuid
from datetime import datetime
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, find_locked, insert_once
from incudo.app.kernel.views import Command, Named, Reason, View
from incudo.app.shop.here import still_here
from incudo.app.shop.tags import closed_words
from incudo.core.kernel.errors import NotPermitted
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.core.shop.machine import Machine, kept_machine, read_machine
from incudo.store import schema as t
from incudo.store.shop import machines

FileText = Annotated[str, Field(min_length=2, max_length=60_000)]


class NoteKind(StrEnum):
    """What was done to a machine. Moving its head or its vise ends the setup of it."""

    HEAD = "head"
    VISE = "vise"
    WEAR = "wear"
    SERVICE = "service"


class NoteView(View):
    """What was done to a machine, by whom, when."""

    kind: NoteKind
    words: str
    by: str
    at: datetime


class MachineDetail(View):
    """A machine with everything the register says of it. ``divisions`` are the travels of one, handle by handle.

    ``photo``: since when there is this photograph of it, if there is one.
    """

    machine: Named
    about: str
    tagged_out: str
    gone: str
    spec: Machine
    divisions: tuple[str, ...]
    file: str
    notes: tuple[NoteView, ...]
    photo: datetime | None


class MachineChange(Command):
    """The machine's entry as it should be: JSON, documented in docs/formats/machine.md."""

    about: Annotated[str, Field(min_length=3, max_length=200)]
    file: FileText


class NoteCommand(Command):
    """Something was done to a machine."""

    id: uuid.UUID
    kind: NoteKind
    words: Reason


def spec_of(row: t.Machine) -> Machine:
    """A machine's entry as the core takes it."""
    return kept_machine(row.spec)


def _pretty(spec: Machine) -> str:
    return json.dumps(spec.model_dump(mode="json"), indent=1, ensure_ascii=False)


def machine_detail(w: Work, machine_id: uuid.UUID) -> MachineDetail:
    """One machine of the register."""
    row = find(w, t.Machine, machine_id, "machine")
    spec = spec_of(row)
    return MachineDetail(
        photo=machines.photo_since(w.db, machine_id),
        machine=Named(id=row.id, name=row.name),
        about=row.about,
        tagged_out=closed_words(w).get(row.id, ""),
        gone=row.gone,
        spec=spec,
        divisions=tuple(h.division for h in spec.handles),
        file=_pretty(spec),
        notes=tuple(
            NoteView(kind=NoteKind(n.kind), words=n.words, by=by, at=n.at) for n, by in machines.notes_of(w.db, row.id)
        ),
    )


def machine_change(w: Work, machine_id: uuid.UUID, command: MachineChange) -> MachineDetail:
    """Change an entry; what it said before stays in the table's history."""
    row = find(w, t.Machine, machine_id, "machine")
    row.spec = read_machine(parsed(command.file)).model_dump_json()
    row.about = command.about
    w.db.flush()
    return machine_detail(w, machine_id)


def machine_note(w: Work, who: Who, machine_id: uuid.UUID, command: NoteCommand) -> MachineDetail:
    """Anybody who works says that a head or vise was moved; wear and service are written by who teaches."""
    find(w, t.Machine, machine_id, "machine")
    if who.role is Role.STUDENT and command.kind not in (NoteKind.HEAD, NoteKind.VISE):
        raise NotPermitted(say("Wear and service are entered by an instructor: tell them."))
    row = t.MachineNote(
        id=command.id,
        machine_id=machine_id,
        kind=command.kind.value,
        words=command.words,
        person_id=who.id,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))
    return machine_detail(w, machine_id)


def machine_names(w: Work) -> dict[str, str]:
    """Id (as text, as the core knows it) to name of every machine that ever stood here: what is recorded names them."""
    return {str(m.id): m.name for m in machine_heads(w)}


def machines_here(w: Work) -> dict[str, str]:
    """The same of those that stand in the shop now, in their order."""
    return {str(m.id): m.name for m in machine_heads(w) if m.here}


def machine_heads(w: Work) -> list[machines.MachineHead]:
    """Every machine that ever stood here, in order, without its entry. Read once in a use case."""
    if "machine heads" not in w.memo:
        w.memo["machine heads"] = machines.machine_heads(w.db)
    found: list[machines.MachineHead] = w.memo["machine heads"]
    return found


def machine_here(w: Work, machine: uuid.UUID) -> t.Machine:
    """A machine that stands in the shop. Raises ``NotFound`` for none at all, ``Conflict`` for one that has left."""
    return still_here(find_locked(w, t.Machine, machine, "machine", shared=True))
