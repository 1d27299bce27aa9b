"""Connections: one engine per address, sessions in UTC and strict mode."""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Sequence
from typing import Any
from weakref import WeakKeyDictionary

import pymysql
from sqlalchemy import URL, Dialect, Engine, create_engine, event, make_url
from sqlalchemy.engine import ExceptionContext
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import DBAPIError, IntegrityError, InterfaceError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry

from incudo.store.kernel import changes

__all__ = [
    "Engine",
    "Session",
    "cache_of",
    "hold",
    "is_away",
    "is_passing",
    "is_read_only",
    "open_engine",
    "sessions",
    "taken_key",
]

_SETTINGS = (
    "SET time_zone = '+00:00', "
    "sql_mode = 'STRICT_ALL_TABLES,ERROR_FOR_DIVISION_BY_ZERO,NO_ENGINE_SUBSTITUTION', "
    "innodb_lock_wait_timeout = 10"
)
#: After so many seconds without a word from the database a connection is given up.
SILENCE = 30.0
#: Its disk is full, its table full, or it is set to read only: what is there can still be read.
_READ_ONLY = {1021, 1026, 1030, 1036, 1114, 1290, 1792, 1836}
#: The node does not take part in its cluster.
_APART = 1047
#: A key that is taken already.
_TAKEN = 1062
#: Lock wait, deadlock, and the ways a connection or server goes away.
_PASSING = {1020, 1040, 1047, 1053, 1158, 1159, 1160, 1161, 1205, 1213, 2002, 2003, 2006, 2013, 2055}


#: A node of a cluster that could not be used is tried after the others for so many seconds.
AVOIDED = 10.0
#: What is read sees what was acknowledged before by whatever node.
_CAUSAL = "SET SESSION wsrep_sync_wait = 1"


class Nodes:
    """The nodes of a cluster, this server's own first; one that just failed is tried last."""

    def __init__(self, places: Sequence[tuple[str, int]], clock: Callable[[], float] = time.monotonic) -> None:
        self.places, self._clock = tuple(places), clock
        self._failed: dict[tuple[str, int], float] = {}

    def in_order(self) -> list[tuple[str, int]]:
        """The nodes in the order in which they are tried now."""
        now = self._clock()
        return sorted(self.places, key=lambda p: self._failed.get(p, -AVOIDED) > now - AVOIDED)

    def failed(self, place: tuple[str, int]) -> None:
        """This one could not be used just now."""
        self._failed[place] = self._clock()

    def connect(self, dialect: Dialect, options: dict[str, Any]) -> Any:
        """A connection to the first node that takes part in the cluster. Raises what the last one answered."""
        error: Exception | None = None
        for host, port in self.in_order():
            try:
                link: Any = dialect.connect(**options | {"host": host, "port": port})
                with link.cursor() as cursor:
                    cursor.execute("SHOW GLOBAL STATUS LIKE 'wsrep_ready'")
                    takes_part = (cursor.fetchone() or ("", "ON"))[1] == "ON"
                if takes_part:
                    return link
                link.close()
                error = pymysql.err.OperationalError(_APART, f"{host}:{port} is cut off from its cluster")
            except pymysql.err.Error as refused:
                error = refused
            self.failed((host, port))
        raise error or pymysql.err.OperationalError(2003, "no database is named")


def addresses(urls: str) -> tuple[URL, list[tuple[str, int]]]:
    """The first of the addresses, and the nodes that they name. They differ in host and port alone."""
    found = [make_url(u.strip()) for u in urls.split(",")]
    return found[0], [(u.host or "127.0.0.1", u.port or 3306) for u in found]


def open_engine(urls: str) -> Engine:
    """An engine for ``mariadb+pymysql://…``; stale connections are replaced, silent ones given up.

    Several addresses with commas between name the nodes of one cluster: the first that takes part is used.
    INCUDO_DATABASE_SECONDS says after how many seconds of silence a connection is given up; it is read at each
    connecting.
    """
    url, places = addresses(urls)
    nodes = Nodes(places)
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
    def _connect(dialect: Dialect, _record: Any, _args: Any, options: dict[str, Any]) -> Any:
        seconds = float(os.environ.get("INCUDO_DATABASE_SECONDS", SILENCE))
        options |= {"read_timeout": seconds, "write_timeout": seconds, "connect_timeout": min(seconds, 5)}
        return nodes.connect(dialect, options) if len(places) > 1 else None

    @event.listens_for(engine, "connect")
    def _prepare(connection: DBAPIConnection, _entry: ConnectionPoolEntry) -> None:
        with connection.cursor() as cursor:  # type: ignore[attr-defined]
            cursor.execute(_SETTINGS)
            if len(places) > 1:
                cursor.execute(_CAUSAL)

    @event.listens_for(engine, "handle_error")
    def _cut_off(context: ExceptionContext) -> None:
        # a node that was cut off from its cluster answers, but is of no use: another one is asked
        if getattr(context.original_exception, "args", (0,))[0] == _APART:
            context.is_disconnect = True

    return engine


_caches: WeakKeyDictionary[Any, dict[Any, Any]] = WeakKeyDictionary()


def cache_of(db: Session) -> dict[Any, Any]:
    """What this process keeps of a database: what can never change there, or what stands in it with the number of
    changes up to which it holds.
    """
    return _caches.setdefault(db.get_bind(), {})


def sessions(engine: Engine) -> sessionmaker[Session]:
    """Makes sessions that keep their objects readable after commit, and count what they change."""
    maker = sessionmaker(engine, expire_on_commit=False)
    changes.watch(maker)
    event.listen(maker, "pending_to_persistent", hold)
    return maker


def hold(db: Session, row: Any) -> None:
    """Keep a row at hand for as long as the session lasts: by itself a session forgets it with its last reader."""
    db.info.setdefault("held", []).append(row)


def is_passing(error: Exception) -> bool:
    """Whether doing the whole use case again can succeed (deadlock, lost link, lost race)."""
    if isinstance(error, IntegrityError):
        return _code(error) == _TAKEN
    if isinstance(error, (OperationalError, InterfaceError)):
        return error.connection_invalidated or _code(error) in _PASSING
    return False


def taken_key(error: Exception) -> str:
    """What the database says of a key that is taken already; empty for every other error."""
    return str(error.orig) if isinstance(error, IntegrityError) and _code(error) == _TAKEN else ""


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
