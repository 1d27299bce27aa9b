"""The shop's row, its machines, instruments and skill graph."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def has_shop(db: Session) -> bool:
    return db.scalar(select(t.Shop.id)) is not None
