"""The registers of cutters and materials as a page, and the change of one cutter."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Annotated

from pydantic import Field, ValidationError

from incudo import shipped
from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Command, Note, View
from incudo.app.shop.tables import CHANGING, MODELS, TableInfo, rows_of
from incudo.app.shop.tags import closed_words
from incudo.app.shop.tooling import cutter_of, cutters, material_id, stocks
from incudo.core.kernel.errors import Refused
from incudo.core.shop.cutter import Cutter
from incudo.core.shop.material import Stock, carbide_is_faster
from incudo.core.shop.table import field_errors, header
from incudo.store import schema as t
from incudo.store.shop import crib as store


class CutterView(View):
    """A cutter of the register, with why it is closed and the cautions of how it is held; ``on_arbor`` says that its
    length is how wide it is.
    """

    id: uuid.UUID
    of: Cutter
    out: int
    tagged_out: str
    cautions: tuple[str, ...]
    on_arbor: bool


class MaterialView(View):
    """A material with its ranges; ``doubts`` are what looks implausible among them."""

    id: uuid.UUID
    of: Stock
    doubts: tuple[str, ...]


class LowView(View):
    """A cutter of which there are fewer than the shop keeps."""

    id: uuid.UUID
    name: str
    place: str
    owned: int
    keep: int
    lacking: int
    tagged_out: str


class StockPage(View):
    """The registers of cutters and materials; ``low`` is what is to be bought or ground, most lacking first."""

    low: tuple[LowView, ...]
    cutters: tuple[CutterView, ...]
    materials: tuple[MaterialView, ...]
    tables: tuple[TableInfo, ...]


class CutterChange(Command):
    """What changes at the grinding bench: the real diameter (empty: as bought), how many there are, where.

    ``keep``: so many the shop keeps. ``stickout``: how far it stands out of its holder, empty if unknown. Each of
    the two stays as it is when it is left out.
    """

    measured: Annotated[str, Field(max_length=20)] = ""
    owned: Annotated[int, Field(ge=0, le=999)]
    keep: Annotated[int, Field(ge=0, le=999)] | None = None
    place: Note = ""
    stickout: Annotated[str, Field(max_length=20)] | None = None


def stock_page(w: Work) -> StockPage:
    """The registers as they stand."""
    closed, holders = closed_words(w), shipped.holders()
    out: dict[uuid.UUID | None, int] = {}
    for x in store.out_now(w.db):
        out[x.issue.cutter_id] = out.get(x.issue.cutter_id, 0) + 1
    return StockPage(
        low=_low(w, closed),
        cutters=tuple(
            CutterView(
                id=i,
                of=c,
                on_arbor=c.on_arbor,
                out=out.get(i, 0),
                tagged_out=closed.get(i, ""),
                cautions=holders[c.holder].cautions if c.holder in holders else (),
            )
            for i, c in cutters(w).items()
        ),
        materials=tuple(
            MaterialView(id=material_id(s.material.key), of=s, doubts=carbide_is_faster(s.ranges)) for s in stocks(w)
        ),
        tables=tuple(
            TableInfo(name=n, columns=header(m), rows=len(rows_of(w, n)), changing=n in CHANGING)
            for n, m in MODELS.items()
        ),
    )


def _low(w: Work, closed: Mapping[uuid.UUID, str]) -> tuple[LowView, ...]:
    found = [
        LowView(
            id=i,
            name=c.name,
            place=c.place,
            owned=c.owned,
            keep=c.keep,
            lacking=c.lacking(usable=not closed.get(i)),
            tagged_out=closed.get(i, ""),
        )
        for i, c in cutters(w).items()
    ]
    return tuple(sorted((x for x in found if x.lacking), key=lambda x: (-x.lacking, x.name)))


def cutter_change(w: Work, cutter_id: uuid.UUID, command: CutterChange) -> StockPage:
    """Change a cutter's real diameter, number or place. Raises ``Refused`` for what is not plausible."""
    row = find(w, t.Cutter, cutter_id, "cutter")
    old = cutter_of(row)
    changed: dict[str, object] = {"measured": command.measured, "owned": command.owned, "place": command.place}
    if command.keep is not None:
        changed["keep"] = command.keep
    if command.stickout is not None:
        changed["stickout"] = command.stickout
    try:
        new = Cutter.model_validate(old.model_dump(mode="json") | changed)
    except ValidationError as error:
        raise Refused(*field_errors(error)) from None
    row.content = new.model_dump_json()
    w.db.flush()
    w.memo.pop("cutters", None)
    return stock_page(w)
