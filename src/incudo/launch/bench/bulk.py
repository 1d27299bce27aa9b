"""Rows in bulk: written as files and read in by the database itself."""

from __future__ import annotations

import getpass
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path
from typing import Any, TextIO

import pymysql

from incudo.launch.mariadb import DATABASE, PrivateMariaDB
from incudo.store.schema import Base

_ESCAPES = str.maketrans({"\\": "\\\\", "\t": "\\t", "\n": "\\n"})


def _cell(value: Any) -> str:
    if value is None:
        return r"\N"
    if isinstance(value, bool):
        return str(int(value))
    if isinstance(value, datetime):
        return value.strftime("%Y-%m-%d %H:%M:%S.%f")
    if isinstance(value, str):
        return value.translate(_ESCAPES)
    return str(value)


class Bulk:
    """Collects rows table by table and loads them in the order in which the tables were first used."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.counts: dict[str, int] = {}
        self._files: dict[type[Base], TextIO] = {}
        self._columns: dict[type[Base], dict[str, Any]] = {}

    def add(self, table: type[Base], **values: Any) -> None:
        """One row; a column that is not given has its default, and where it has none is NULL."""
        if table not in self._files:
            name = table.__tablename__
            self._files[table] = (self.folder / f"{name}.tsv").open("w", encoding="utf-8")
            self._columns[table] = {
                c.name: c.default.arg if c.default is not None and c.default.is_scalar else None
                for c in table.__table__.columns
            }
            self.counts[name] = 0
        get = values.get
        self._files[table].write("\t".join([_cell(get(c, usual)) for c, usual in self._columns[table].items()]) + "\n")
        self.counts[table.__tablename__] += 1

    def load(self, database: PrivateMariaDB) -> None:
        """Read everything into the database, as its owner and without asking for what the rows point at."""
        with owner(database) as cursor:
            for setting in ("foreign_key_checks", "unique_checks"):
                cursor.execute(f"SET {setting} = 0")
            for table, file in self._files.items():
                file.close()
                columns = ", ".join(f"`{c}`" for c in self._columns[table])
                cursor.execute(
                    f"LOAD DATA INFILE %s INTO TABLE `{table.__tablename__}` CHARACTER SET utf8mb4 ({columns})",
                    (file.name,),
                )
                Path(file.name).unlink()


@contextmanager
def owner(database: PrivateMariaDB) -> Iterator[Any]:
    """A cursor of the account that owns the whole server: the one whose process it is."""
    link = pymysql.connect(
        unix_socket=database.socket, user=getpass.getuser(), database=DATABASE, autocommit=True, charset="utf8mb4"
    )
    try:
        with link.cursor() as cursor:
            yield cursor
    finally:
        link.close()


def id_at(moment: datetime, bits: int) -> uuid.UUID:
    """An id that sorts by time (version 7), from a moment and 74 bits drawn before."""
    stamp = int(moment.timestamp() * 1000) << 80
    return uuid.UUID(int=stamp | 0x7 << 76 | (bits >> 62 & 0xFFF) << 64 | 0b10 << 62 | bits & (1 << 62) - 1)
