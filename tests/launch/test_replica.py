"""Registers are read at a replica that is MariaDB's own, and at the database itself while the replica is away."""

from __future__ import annotations

import getpass
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pymysql
import pytest

from incudo.launch.mariadb import PrivateMariaDB
from incudo.launch.supervise import Supervisor
from tests.api.conftest import behind_the_application
from tests.loaded import loaded_shop
from tests.shop import PETREL, TestShop, new_id

COPY = "the one that copies"
#: How long what was written may take to the replica, in seconds.
PATIENCE = 30


def root(database: PrivateMariaDB, *statements: str) -> list[tuple[Any, ...]]:
    """Statements that only the server's own administrator may make; gives what the last one found."""
    link = pymysql.connect(unix_socket=database.socket, user=getpass.getuser(), autocommit=True)
    try:
        with link.cursor() as cursor:
            for statement in statements:
                cursor.execute(statement)
            return list(cursor.fetchall())
    finally:
        link.close()


def until(there: Callable[[], bool], what: str) -> None:
    end = time.monotonic() + PATIENCE
    while not there():
        assert time.monotonic() < end, what
        time.sleep(0.05)


@pytest.fixture
def two(tmp_path: Path) -> Iterator[tuple[TestShop, Supervisor]]:
    """A shop whose registers are read at a replica, and that replica."""
    first, second = (Supervisor(loaded_shop(tmp_path / name)) for name in ("first", "second"))
    try:
        first.database.options = ["--log-bin=changes", "--binlog-format=ROW", "--server-id=1"]
        second.database.options = ["--server-id=2", "--read-only=1", "--relay-log=changes"]
        first.start_database(migrated=False)
        second.start_database(migrated=False)
        root(
            first.database,
            "SET SQL_LOG_BIN = 0",
            f"CREATE USER copy@'127.0.0.1' IDENTIFIED BY '{COPY}'",
            "GRANT REPLICATION SLAVE ON *.* TO copy@'127.0.0.1'",
        )
        root(
            second.database,
            "SET GLOBAL gtid_slave_pos = ''",
            f"CHANGE MASTER TO MASTER_HOST = '127.0.0.1', MASTER_PORT = {first.database.port}, MASTER_USER = 'copy', "
            f"MASTER_PASSWORD = '{COPY}', MASTER_USE_GTID = slave_pos, MASTER_CONNECT_RETRY = 1",
            "START SLAVE",
        )
        (tmp_path / "web").mkdir()
        for shop in behind_the_application(first, tmp_path / "web", second.database.app_url):
            yield shop, second
    finally:
        second.stop()
        first.stop()


def report(shop: TestShop, what: str) -> None:
    shop.person("orla").post(
        "/api/incidents",
        {"id": new_id(), "kind": "near_miss", "what": what, "machine": PETREL, "done": "", "with_name": False},
    )


def reads(shop: TestShop, what: str) -> tuple[bool, bool]:
    """Whether it stands on the page of the register of safety, and in its file."""
    page = shop.haldane.get("/api/registers/safety")["entries"]
    file = shop.haldane.ask("GET", "/api/registers/safety/file").get_data(as_text=True)
    return any(what in e["detail"] for e in page), what in file


def test_registers_are_read_at_the_replica_and_without_it_at_the_database(two: tuple[TestShop, Supervisor]) -> None:
    shop, replica = two
    report(shop, "A chip flew over the screen.")
    until(lambda: reads(shop, "A chip flew over the screen.") == (True, True), "it comes to the replica")
    # a replica that does not follow shows that it is asked: what was written meanwhile is not on it
    root(replica.database, "STOP SLAVE")
    report(shop, "A vise handle was left in.")
    assert reads(shop, "A vise handle was left in.") == (False, False)
    # gone: the same page and the same file come from the database itself
    replica.database.stop()
    assert reads(shop, "A vise handle was left in.") == (True, True)
    # back: it follows again by itself
    replica.database.start()
    until(lambda: reads(shop, "A vise handle was left in.") == (True, True), "it catches up")
    root(replica.database, "STOP SLAVE")
    report(shop, "A belt was changed with the spindle live.")
    assert reads(shop, "A belt was changed with the spindle live.") == (False, False)
