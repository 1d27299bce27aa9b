"""The register's chain as rows."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def last_entry(db: Session) -> t.RegisterEntry | None:
    """The newest entry. Not locked: a lost race for the next number is done again as a whole."""
    return db.scalars(select(t.RegisterEntry).order_by(t.RegisterEntry.seq.desc()).limit(1)).first()


def entries(db: Session, size: int = 1000) -> Iterator[t.RegisterEntry]:
    """All entries in order, in pieces."""
    last = 0
    while True:
        query = select(t.RegisterEntry).where(t.RegisterEntry.seq > last).order_by(t.RegisterEntry.seq)
        rows = list(db.scalars(query.limit(size)))
        yield from rows
        if len(rows) < size:
            return
        last = rows[-1].seq


def rows_of(db: Session, table: type[t.Base]) -> list[Any]:
    """All rows of a table that the register seals."""
    return list(db.scalars(select(table)))
