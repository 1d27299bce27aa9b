"""Connections: one engine per address, sessions in UTC and strict mode."""

from __future__ import annotations

from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import DBAPIError, IntegrityError, InterfaceError, OperationalError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

__all__ = ["Engine", "Session", "may_pass", "open_engine", "sessions"]

_SETTINGS = (
    "SET time_zone = '+00:00', "
    "sql_mode = 'STRICT_ALL_TABLES,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION', "
    "innodb_lock_wait_timeout = 10"
)
#: Lock wait, deadlock, and the ways a connection or server goes away.
_PASSING = {1020, 1040, 1047, 1053, 1158, 1159, 1160, 1161, 1205, 1213, 2002, 2003, 2006, 2013, 2055}


def open_engine(url: str) -> Engine:
    """An engine for ``mariadb+pymysql://…``; stale connections are replaced."""
    engine = create_engine(
        url,
        pool_pre_ping=True,
        pool_recycle=1800,
        pool_size=8,
        max_overflow=8,
        connect_args={"charset": "utf8mb4", "connect_timeout": 5},
    )

    @event.listens_for(engine, "connect")
    def _prepare(connection: DBAPIConnection, _entry: ConnectionPoolEntry) -> None:
        with connection.cursor() as cursor:  # type: ignore[attr-defined]
            cursor.execute(_SETTINGS)

    return engine


def sessions(engine: Engine) -> sessionmaker[Session]:
    """Makes sessions that keep their objects readable after commit."""
    return sessionmaker(engine, expire_on_commit=False)


def may_pass(error: Exception) -> bool:
    """Whether doing the whole use case again can succeed (deadlock, lost link, lost race)."""
    if isinstance(error, IntegrityError):
        return _code(error) == 1062
    if isinstance(error, (OperationalError, InterfaceError)):
        return error.connection_invalidated or _code(error) in _PASSING
    return False


def _code(error: DBAPIError) -> int:
    args = getattr(error.orig, "args", ())
    return args[0] if args and isinstance(args[0], int) else 0
