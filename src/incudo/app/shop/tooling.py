"""The registers of cutters and materials: as the core takes them, as tables, in from CSV and out again."""

from __future__ import annotations

import uuid
from functools import lru_cache

from incudo.app.kernel.unit import Work
from incudo.core.shop.cutter import Cutter
from incudo.core.shop.material import Stock
from incudo.store import schema as t
from incudo.store.shop import crib as store


@lru_cache(maxsize=4096)
def _cutter(content: str) -> Cutter:
    return Cutter.model_validate_json(content)


@lru_cache(maxsize=256)
def _stock(content: str) -> Stock:
    return Stock.model_validate_json(content)


def cutter_of(row: t.Cutter) -> Cutter:
    """A row as the core takes it."""
    return _cutter(row.content)


def stock_of(row: t.Material) -> Stock:
    """A material as the core takes it."""
    return _stock(row.content)


def cutters(w: Work) -> dict[uuid.UUID, Cutter]:
    """The cutters of the register that have not left the shop, in its order."""
    if "cutters" not in w.memo:
        w.memo["cutters"] = {row.id: cutter_of(row) for row in store.cutters(w.db)}
    found: dict[uuid.UUID, Cutter] = w.memo["cutters"]
    return found


def stocks(w: Work, *, also_gone: bool = False) -> tuple[Stock, ...]:
    """The materials of the register, in its order; those that have left the shop only if they are asked for."""
    return tuple(stock_of(row) for row in store.materials(w.db, also_gone=also_gone))


def material_id(key: str) -> uuid.UUID:
    """By which a material is named among all things of a shop; it is known by its key."""
    return uuid.uuid5(uuid.NAMESPACE_OID, f"material {key}")
