"""Connections: one engine per address, sessions in UTC and strict mode."""

from __future__ import annotations

import os
from typing import Any
from weakref import WeakKeyDictionary

from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import DBAPIError, IntegrityError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

from incudo.store.kernel import changes

__all__ = ["Engine", "Session", "cache_of", "is_away", "is_read_only", "may_pass", "open_engine", "sessions"]

_SETTINGS = (
    "SET time_zone = '+00:00', "
    "sql_mode = 'STRICT_ALL_TABLES,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION', "
    "innodb_lock_wait_timeout = 10"
)
#: After so many seconds without a word from the database a connection is given up.
SILENCE = 30.0
#: Its disk is full, its table full, or it is set to read only: what is there can still be read.
_READ_ONLY = {1021, 1026, 1030, 1036, 1114, 1290, 1792, 1836}
#: Lock wait, deadlock, and the ways a connection or server goes away.
_PASSING = {1020, 1040, 1047, 1053, 1158, 1159, 1160, 1161, 1205, 1213, 2002, 2003, 2006, 2013, 2055}


def open_engine(url: str) -> Engine:
    """An engine for ``mariadb+pymysql://…``; stale connections are replaced, silent ones given up.

    INCUDO_DATABASE_SECONDS says after how many seconds of silence; it is read at each connecting.
    """
    engine = create_engine(
        url,
        pool_pre_ping=True,
        pool_recycle=1800,
        pool_size=8,
        max_overflow=8,
        pool_timeout=5,
        connect_args={"charset": "utf8mb4", "connect_timeout": 5},
    )

    @event.listens_for(engine, "do_connect")
    def _patience(_dialect: Any, _record: Any, _args: Any, options: dict[str, Any]) -> None:
        seconds = float(os.environ.get("INCUDO_DATABASE_SECONDS", SILENCE))
        options |= {"read_timeout": seconds, "write_timeout": seconds, "connect_timeout": min(seconds, 5)}

    @event.listens_for(engine, "connect")
    def _prepare(connection: DBAPIConnection, _entry: ConnectionPoolEntry) -> None:
        with connection.cursor() as cursor:  # type: ignore[attr-defined]
            cursor.execute(_SETTINGS)

    return engine


_caches: WeakKeyDictionary[Any, dict[Any, Any]] = WeakKeyDictionary()


def cache_of(db: Session) -> dict[Any, Any]:
    """What this process keeps of a database: only what can never change there may stand in it."""
    return _caches.setdefault(db.get_bind(), {})


def sessions(engine: Engine) -> sessionmaker[Session]:
    """Makes sessions that keep their objects readable after commit, and count what they change."""
    maker = sessionmaker(engine, expire_on_commit=False)
    changes.watch(maker)
    return maker


def may_pass(error: Exception) -> bool:
    """Whether doing the whole use case again can succeed (deadlock, lost link, lost race)."""
    if isinstance(error, IntegrityError):
        return _code(error) == 1062
    if isinstance(error, (OperationalError, InterfaceError)):
        return error.connection_invalidated or _code(error) in _PASSING
    return False


def is_away(error: Exception) -> bool:
    """Whether the database could not be reached or fell silent (no deadlock, no lost race)."""
    if isinstance(error, PoolTimeout):
        return True
    away = {2002, 2003, 2006, 2013, 1040, 1053}
    return isinstance(error, (OperationalError, InterfaceError)) and (
        error.connection_invalidated or _code(error) in away
    )


def is_read_only(error: Exception) -> bool:
    """Whether the database takes nothing new: a full disk, or set to read only."""
    return isinstance(error, DBAPIError) and _code(error) in _READ_ONLY


def _code(error: DBAPIError) -> int:
    args = getattr(error.orig, "args", ())
    return args[0] if args and isinstance(args[0], int) else 0
