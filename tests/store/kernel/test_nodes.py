"""Several addresses: the nodes of one cluster, and which of them is asked."""

from __future__ import annotations

from typing import Any

import pymysql
import pytest

from incudo.store.kernel.database import AVOIDED, Nodes, addresses

A, B, C = ("one", 1), ("two", 2), ("three", 3)


class Clock:
    now = 0.0

    def __call__(self) -> float:
        return self.now


class Link:
    """A connection to a node that takes part or does not."""

    def __init__(self, ready: str) -> None:
        self.ready, self.closed = ready, False

    def cursor(self) -> Link:
        return self

    def __enter__(self) -> Link:
        return self

    def __exit__(self, *_: object) -> None:
        return None

    def execute(self, _statement: str) -> None:
        return None

    def fetchone(self) -> tuple[str, str] | None:
        return ("wsrep_ready", self.ready) if self.ready else None

    def close(self) -> None:
        self.closed = True


class Dialect:
    """Connects as the nodes are: a word for their state, or an error."""

    def __init__(self, **states: str) -> None:
        self.states, self.asked, self.links = states, [], {}  # type: ignore[var-annotated]

    def connect(self, host: str, **_options: Any) -> Link:
        self.asked.append(host)
        if self.states[host] == "dead":
            raise pymysql.err.OperationalError(2003, f"{host} is gone")
        self.links[host] = Link(self.states[host])
        return self.links[host]


def test_the_first_is_ones_own_and_they_share_account_and_database() -> None:
    url, places = addresses("mariadb+pymysql://u:p@one:1/incudo, mariadb+pymysql://u:p@two:2/incudo")
    assert (url.host, url.database, places) == ("one", "incudo", [A, B])


@pytest.mark.parametrize(
    ("states", "used"),
    [
        ({"one": "ON", "two": "ON", "three": "ON"}, "one"),
        ({"one": "dead", "two": "ON", "three": "ON"}, "two"),
        ({"one": "OFF", "two": "dead", "three": "ON"}, "three"),
        # a database that is no cluster says nothing of it
        ({"one": "", "two": "ON", "three": "ON"}, "one"),
    ],
)
def test_the_first_that_takes_part_is_used(states: dict[str, str], used: str) -> None:
    dialect = Dialect(**states)
    assert Nodes([A, B, C]).connect(dialect, {}) is dialect.links[used]  # type: ignore[arg-type]
    assert all(link.closed for host, link in dialect.links.items() if host != used)


def test_where_none_takes_part_the_last_answer_is_the_error() -> None:
    with pytest.raises(pymysql.err.OperationalError, match="cut off"):
        Nodes([A, B]).connect(Dialect(one="dead", two="OFF"), {})  # type: ignore[arg-type]


def test_one_that_failed_is_tried_last_for_a_while() -> None:
    clock = Clock()
    nodes, dialect = Nodes([A, B, C], clock), Dialect(one="dead", two="ON", three="ON")
    nodes.connect(dialect, {})  # type: ignore[arg-type]
    assert dialect.asked == ["one", "two"]
    clock.now = AVOIDED - 0.01
    assert nodes.in_order() == [B, C, A]
    clock.now = AVOIDED
    assert nodes.in_order() == [A, B, C]
