"""One transaction around each use case, done again when the database asks for it."""

from __future__ import annotations

import logging
import random
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, TypeVar

from incudo.core.kernel.errors import Conflict, DomainError, NotFound
from incudo.core.people.roles import Role
from incudo.core.register.chain import Head
from incudo.store import schema as t
from incudo.store.kernel.database import Engine, Session, may_pass, sessions

T = TypeVar("T")
R = TypeVar("R", bound=t.Base)
TRIES = 12
_log = logging.getLogger(__name__)


@dataclass(frozen=True)
class Who:
    """The person who acts."""

    id: uuid.UUID
    name: str
    role: Role

    @property
    def assesses(self) -> bool:
        return self.role in (Role.INSTRUCTOR, Role.ASSISTANT)


@dataclass(frozen=True)
class Work:
    """What a use case works with: its session, its moment, and the key that seals the register.

    ``heads`` collects what is added to the register, to be taken away after the commit;
    ``memo`` keeps what is read more than once in one use case and does not change in it.
    """

    db: Session
    now: datetime
    key: str = ""
    heads: list[Head] = field(default_factory=list)
    memo: dict[str, Any] = field(default_factory=dict)


class DatabaseAway(DomainError):
    """The database did not answer, or not in time; the use case can be sent again."""

    def __init__(self) -> None:
        super().__init__("The database does not answer; what you entered is kept, try again.")


def _utc_now() -> datetime:
    return datetime.now(UTC)


class Unit:
    """Runs use cases. A use case may run more than once, so it touches nothing but the database."""

    def __init__(
        self,
        engine: Engine,
        clock: Callable[[], datetime] = _utc_now,
        key: str = "",
        take_away: Callable[[Head], None] | None = None,
    ) -> None:
        self.engine, self.clock, self.key, self.take_away = engine, clock, key, take_away
        self._sessions = sessions(engine)

    def run(self, use_case: Callable[[Work], T]) -> T:
        """Run and commit. Deadlocks, lost races and lost connections are tried again."""
        for attempt in range(1, TRIES + 1):
            with self._sessions() as db:
                try:
                    work = Work(db, self.clock(), self.key)
                    result = use_case(work)
                    db.commit()
                except Exception as error:
                    db.rollback()
                    if not may_pass(error):
                        raise
                    if attempt == TRIES:
                        raise DatabaseAway from error
                    _log.warning("use case tried again (%d): %s", attempt, type(error).__name__)
                else:
                    self._take_away(work)
                    return result
            time.sleep(min(0.02 * 2**attempt, 0.5) * (0.5 + random.random()))  # noqa: S311 (spreads retries)
        raise AssertionError("unreachable")

    def _take_away(self, work: Work) -> None:
        """Write the newest head of the register where it was asked for; outside the database."""
        if self.take_away and work.heads:
            self.take_away(work.heads[-1])


def find(w: Work, table: type[R], key: object, what: str) -> R:
    """One row by its primary key. Raises ``NotFound`` naming what was looked for."""
    row = w.db.get(table, key)
    if row is None:
        raise NotFound(f"There is no such {what}.")
    return row


def insert_once(w: Work, row: t.Base, ignoring: tuple[str, ...]) -> bool:
    """Insert a row with an id made by the client; False when it is there already.

    The same id with other content is a ``Conflict``. ``ignoring`` names the
    columns that the server fills in and that may differ on a repeat.
    """
    table = type(row)
    key = tuple(getattr(row, str(c.key)) for c in table.__mapper__.primary_key)
    there = w.db.get(table, key)
    if there is None:
        w.db.add(row)
        w.db.flush()
        return True
    for column in table.__table__.columns:
        if column.key not in ignoring and getattr(there, column.key) != getattr(row, column.key):
            raise Conflict(f"This id was used before with another {column.key}.")
    return False
