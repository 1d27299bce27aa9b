"""Kinds of machine that one is entered like, and a machine as somebody walked round it."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from incudo.core.kernel.fields import Key, Line, Num, Strict, Word, read_model
from incudo.core.shop.machine import Axis, Handle, Machine, Way, read_machine, ways_of
from incudo.core.shop.workholding import Of


class MachineKind(Strict):
    """A kind: how it is called, what tells it from others, and an entry with what is usual."""

    id: Key
    name: Word
    about: Line
    spec: Machine


class HoldingKind(Strict):
    """A kind of workholding: how it is called, and an entry with what is usual."""

    id: Key
    name: Word
    of: Of


class Walked(Strict):
    """What was read off a machine: plate, dials, belts. Everything else is as its kind has it."""

    make: Word
    travel: tuple[Num, Num, Num]
    quill_travel: Num
    watts: Annotated[int, Field(ge=50, le=50_000)]
    steps: Annotated[tuple[int, ...], Field(max_length=40)]
    ranges: Annotated[tuple[tuple[int, int], ...], Field(max_length=6)]
    handles: Annotated[tuple[Handle, ...], Field(min_length=1, max_length=10)]
    readout: tuple[str, ...]
    power_feed: tuple[str, ...]


def read_holding_kind(data: Any) -> HoldingKind:
    """A kind of workholding from its file content. Raises ``Refused``."""
    return read_model(HoldingKind, data)


def read_machine_kind(data: Any) -> MachineKind:
    """A kind from its file content. Raises ``Refused``."""
    return read_model(MachineKind, data)


def as_walked(kind: MachineKind, walked: Walked) -> Machine:
    """The entry of a machine of this kind. Raises ``Refused`` with every field that cannot be."""
    spec = kind.spec.model_dump(mode="json")
    seen = walked.model_dump(mode="json")
    spindle = {k: seen.pop(k) for k in ("watts", "steps", "ranges")}
    return read_machine({**spec, **seen, "spindle": {**spec["spindle"], **spindle}})


def like(ident: str, name: str, about: str, machine: Machine) -> MachineKind:
    """A machine of the shop as a kind, for another of its model: without backlash, which is each screw's own."""
    spec = machine.model_dump(mode="json")
    handles = [{**h, "backlash": None, "measured": None} for h in spec["handles"]]
    return MachineKind(id=ident, name=name, about=about, spec=read_machine({**spec, "handles": handles}))


#: Where each axis can go.
WAYS: dict[Axis, tuple[Way, ...]] = {a: ways_of(a) for a in Axis}
