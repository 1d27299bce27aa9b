"""Entering cutters by form: what lies in a drawer, one kind in several sizes."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from incudo import shipped
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Command, View
from incudo.app.shop.stock_page import StockPage, stock_page
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.names import alike
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.kernel.say import say, together
from incudo.core.shop import entering
from incudo.core.shop.cutter import CutterKind
from incudo.core.shop.material import CutterMaterial
from incudo.store import schema as t
from incudo.store.shop import crib as store

Size = Annotated[str, StringConstraints(min_length=1, max_length=20, strip_whitespace=True)]
Short = Annotated[str, StringConstraints(max_length=40, strip_whitespace=True)]


class CutterKindView(View):
    """A kind with what its entry can be, the usual first; ``teeth`` is empty where they are not asked, ``wide`` says
    that its length is how wide it cuts.
    """

    kind: CutterKind
    teeth: tuple[int, ...]
    angles: tuple[int, ...]
    holders: tuple[str, ...]
    taps: tuple[Literal["cutting", "forming"], ...]
    dials: tuple[Literal["diameter", "radius"], ...]
    wide: bool


class HolderName(View):
    """A way to hold a cutter."""

    key: str
    name: str


class CutterKinds(View):
    """All kinds, the ways to hold a cutter, what cutters are made of, and the threads that a tap can cut."""

    kinds: tuple[CutterKindView, ...]
    holders: tuple[HolderName, ...]
    made_of: tuple[CutterMaterial, ...]
    threads: tuple[str, ...]
    most_sizes: int


class NewCuttersCommand(Command):
    """A kind in some sizes. ``owned`` is how many there are of each; fewer than ``keep`` are low."""

    id: uuid.UUID
    kind: CutterKind
    unit: LengthUnit
    sizes: Annotated[tuple[Size, ...], Field(min_length=1, max_length=entering.MOST_SIZES)]
    owned: Annotated[int, Field(ge=1, le=999)]
    keep: Annotated[int, Field(ge=0, le=999)] = 0
    name: Short
    made_of: CutterMaterial
    teeth: Annotated[int, Field(ge=0, le=40)]
    length: Short
    angle: Short
    tap: Literal["", "cutting", "forming"]
    dial: Literal["", "diameter", "radius"]
    holder: Short
    place: Short
    stickout: Short = ""


def cutter_kinds() -> CutterKinds:
    """What cutters can be entered as."""
    holders = shipped.holders()
    return CutterKinds(
        kinds=tuple(
            CutterKindView(
                kind=u.kind,
                teeth=tuple(range(u.teeth[0], u.teeth[1] + 1)) if u.teeth else (),
                angles=u.angles,
                holders=u.holders,
                taps=u.taps,
                dials=u.dials,
                wide=u.wide,
            )
            for u in entering.usual(holders)
        ),
        holders=tuple(HolderName(key=key, name=h.name) for key, h in holders.items()),
        made_of=tuple(CutterMaterial),
        threads=tuple(shipped.threads()),
        most_sizes=entering.MOST_SIZES,
    )


def add_cutters(w: Work, command: NewCuttersCommand) -> StockPage:
    """Enter all of them or none. Sent again, it adds nothing. Raises ``Refused`` at the field that cannot be."""
    new = entering.cutters_of(
        entering.Drawer(**command.model_dump(exclude={"id"})), shipped.threads(), shipped.drills(), shipped.holders()
    )
    if w.db.get(t.Cutter, _id(command, new[0].name)) is not None:
        return stock_page(w)
    there = store.cutters(w.db, also_gone=True)
    names = {alike(c.name) for c in new}
    if gone := [row.name for row in there if row.gone and alike(row.name) in names]:
        words = say("were removed from the shop; put them back under How we work")
        raise Refused.of("sizes", together(gone, "; "), words)
    entering.already(new, [row.name for row in there])
    place = store.last_place(w.db, t.Cutter)
    for n, c in enumerate(new, start=1):
        w.db.add(t.Cutter(id=_id(command, c.name), name=c.name, place=place + n, content=c.model_dump_json()))
    w.db.flush()
    w.memo.pop("cutters", None)
    return stock_page(w)


def _id(command: NewCuttersCommand, name: str) -> uuid.UUID:
    return uuid.uuid5(command.id, name)
