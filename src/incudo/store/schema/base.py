"""What all tables share. ``info["writes"]`` says what the application's account may do:

* ``append``: insert and read only; the database itself refuses the rest;
* ``versioned``: rows change, and system versioning keeps what they said before;
* ``working``: rows come and go (sign-ins, throttles).
"""

from __future__ import annotations

import uuid
from datetime import UTC, datetime
from decimal import Decimal

from sqlalchemy import Dialect, MetaData, String, TypeDecorator, Uuid
from sqlalchemy.dialects.mysql import DATETIME, DECIMAL
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from incudo.core.kernel.say import packed, unpacked

NAMING = {
    "ix": "ix_%(table_name)s_%(column_0_N_name)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s",
    "pk": "pk_%(table_name)s",
}


class Utc(TypeDecorator[datetime]):
    """A moment: aware UTC in Python, DATETIME with microseconds in the database."""

    impl = DATETIME(fsp=6)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        return None if value is None else value.replace(tzinfo=UTC)


class Spoken(TypeDecorator[str]):
    """A sentence of ours: kept as its template and values, so that it can be said again in any language."""

    #: Characters that such a column holds; a longer sentence is kept as its English text, cut.
    MOST = 2000
    impl = String(MOST)
    cache_ok = True

    def process_bind_param(self, value: str | None, dialect: Dialect) -> str | None:
        if value is None:
            return None
        whole = packed(value)
        return whole if len(whole) <= self.MOST else value[: self.MOST]

    def process_result_value(self, value: str | None, dialect: Dialect) -> str | None:
        return None if value is None else unpacked(value)


#: mm with eight places: six places of an inch come to seven places of a millimetre.
Millimetres = DECIMAL(16, 8)
ID = Uuid(as_uuid=True)


class Base(DeclarativeBase):
    """Every table."""

    metadata = MetaData(naming_convention=NAMING)
    type_annotation_map = {  # noqa: RUF012 (SQLAlchemy reads it from the class)
        uuid.UUID: ID,
        datetime: Utc(),
        Decimal: Millimetres,
        str: String(80),
    }


def writes(kind: str) -> dict[str, dict[str, str]]:
    """What the application's account may do with a table, as its ``__table_args__``."""
    return {"info": {"writes": kind}}


def new_id() -> Mapped[uuid.UUID]:
    """A primary key."""
    return mapped_column(ID, primary_key=True)
