"""The shop's row, its machines, instruments and skill graph."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def has_shop(db: Session) -> bool:
    """Whether a shop is set up in this database."""
    return db.scalar(select(t.Shop.id)) is not None


def acts(db: Session, limit: int) -> list[tuple[t.ShopAct, str]]:
    """The last changes of the shop with the name of who made each, the newest first."""
    query = select(t.ShopAct, t.Person.name).join(t.Person, t.Person.id == t.ShopAct.by_id)
    return [(a, name) for a, name in db.execute(query.order_by(t.ShopAct.at.desc(), t.ShopAct.id).limit(limit))]
