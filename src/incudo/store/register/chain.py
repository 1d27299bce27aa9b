"""The register's chain as rows."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from datetime import datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t

#: So many rows without an entry are named.
MOST_UNSEALED = 100


def last_entry(db: Session) -> t.RegisterEntry | None:
    """The newest entry. Not locked: a lost race for the next number is done again as a whole."""
    return db.scalars(select(t.RegisterEntry).order_by(t.RegisterEntry.seq.desc()).limit(1)).first()


def entry(db: Session, seq: int) -> t.RegisterEntry | None:
    """The entry with a number."""
    return db.get(t.RegisterEntry, seq)


def entries_after(db: Session, seq: int, limit: int) -> list[t.RegisterEntry]:
    """The next entries behind a number, in order."""
    query = select(t.RegisterEntry).where(t.RegisterEntry.seq > seq).order_by(t.RegisterEntry.seq).limit(limit)
    return list(db.scalars(query))


def rows_by_id(db: Session, table: type[t.Base], column: str, ids: Collection[uuid.UUID]) -> list[Any]:
    """The rows of a table with these ids."""
    key = getattr(table, column)
    return list(db.scalars(select(table).where(key.in_(list(ids))))) if ids else []


def unsealed(db: Session, table: type[t.Base], column: str, kind: Any, since: datetime | None) -> list[Any]:
    """Rows of a table that have no entry in the register; with ``since`` only those of that moment and later."""
    key, of = getattr(table, column), t.RegisterEntry
    sealed = select(of.seq).where(of.entry_id == key, of.kind == kind)
    query = select(table).where(~sealed.exists())
    if since is not None:
        query = query.where(table.at >= since)  # type: ignore[attr-defined]
    return list(db.scalars(query.limit(MOST_UNSEALED)))


def checked(db: Session, scope: str) -> t.RegisterChecked | None:
    """Up to where the register was checked, of one kind of check."""
    return db.get(t.RegisterChecked, scope)
