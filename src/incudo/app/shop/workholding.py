"""The register of workholding: vises, parallels, clamps, V-blocks and more, entered like one of their kind."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import StringConstraints

from incudo import shipped
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.app.shop.machines import spec_of
from incudo.app.shop.new_cutters import HolderName
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.names import alike
from incudo.core.kernel.say import say
from incudo.core.shop.workholding import LOOSE_WAYS, Of, ToolHolders, described, kept_holding, read_holding
from incudo.store import schema as t
from incudo.store.shop import machines

_LONGEST_NAME = 80


class HoldingView(View):
    """Something that holds work; ``words`` say what it can hold."""

    id: uuid.UUID
    name: str
    of: Of
    words: str


class HoldingKindView(View):
    """A kind to begin with."""

    id: str
    name: str
    of: Of


class HoldingList(View):
    """What there is, and the kinds that another can be entered like."""

    holding: tuple[HoldingView, ...]
    kinds: tuple[HoldingKindView, ...]
    #: The ways to hold a cutter, and the tapers of the shop's machines.
    ways: tuple[HolderName, ...]
    tapers: tuple[str, ...]


class HoldingChange(Command):
    """A new or changed entry of the workholding register."""

    id: uuid.UUID
    name: Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)]
    of: Of


class HoldingFile(Command):
    """Workholding as a file: JSON with ``name`` and ``of``, as it is downloaded."""

    file: Annotated[str, StringConstraints(min_length=2, max_length=20_000)]


class HoldingRead(View):
    """What stands in the file."""

    name: str
    of: Of


def holding_read(command: HoldingFile) -> HoldingRead:
    """Read a file; nothing is kept. Raises ``Refused`` at the field that is wrong."""
    found = parsed(command.file)
    if not isinstance(found, dict):
        raise Refused.of("file", "", say("must hold one thing, with name and of"))
    name = found.get("name")
    if not isinstance(name, str) or not 2 <= len(name.strip()) <= _LONGEST_NAME:
        raise Refused.of("name", str(name or ""), say("must be a text of 2 to {most} characters", most=_LONGEST_NAME))
    of = found.get("of")
    if not isinstance(of, dict):
        raise Refused.of("of", "", say("is missing"))
    return HoldingRead(name=name.strip(), of=read_holding(of))


def holding_list(w: Work) -> HoldingList:
    """Everything that holds work here."""
    return HoldingList(
        holding=tuple(
            HoldingView(id=row.id, name=row.name, of=of, words=described(of))
            for row, of in ((row, kept_holding(row.spec)) for row in machines.workholding(w.db))
        ),
        kinds=tuple(HoldingKindView(id=k.id, name=k.name, of=k.of) for k in shipped.holding_kinds()),
        ways=tuple(HolderName(key=key, name=h.name) for key, h in shipped.holders().items() if key not in LOOSE_WAYS),
        tapers=tuple(sorted({spec_of(m).spindle.taper for m in machines.machines(w.db)})),
    )


def holding_change(w: Work, command: HoldingChange) -> HoldingList:
    """Add or change an entry; what it said before stays in the table's history.

    Raises ``Refused`` for a name that is taken, for another kind than it was, and for a way to hold that there is not.
    """
    if isinstance(command.of, ToolHolders) and command.of.way not in shipped.holders().keys() - LOOSE_WAYS:
        raise Refused.of("of.way", command.of.way, say("must be a way in which a cutter is held in a taper"))
    rows, of = machines.workholding(w.db, also_gone=True), command.of
    if any(r.id != command.id and alike(r.name) == alike(command.name) for r in rows):
        raise Refused.of("name", command.name, say("is the name of another one"))
    row = w.db.get(t.Workholding, command.id)
    if row is None:
        w.db.add(t.Workholding(id=command.id, name=command.name, spec=of.model_dump_json(), place=len(rows)))
    else:
        was = kept_holding(row.spec)
        if was.kind != of.kind:
            raise Refused.of("of.kind", of.kind, say("must stay {kind}", kind=was.kind))
        row.name, row.spec = command.name, of.model_dump_json()
    w.db.flush()
    return holding_list(w)
