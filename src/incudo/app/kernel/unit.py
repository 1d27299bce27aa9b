"""One transaction around each use case, done again when the database asks for it."""

from __future__ import annotations

import logging
import random
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from typing import Any, TypeVar
from zoneinfo import ZoneInfo

from incudo.core.kernel.errors import Conflict, DomainError, NotFound
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.core.register.chain import Head
from incudo.store import schema as t
from incudo.store.kernel.database import Engine, Session, hold, is_away, is_passing, is_read_only, sessions, taken_key

T = TypeVar("T")
R = TypeVar("R", bound=t.Base)
TRIES = 12
#: The same key taken so often running is no race: what took it was not seen by who asks.
SAME_KEY = 3
#: An asking in vain that took longer, in seconds, was one of a silent database.
LONG = 1.0
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
    ``memo`` keeps what is read more than once in one use case and does not change in it. ``later`` are use cases that
    are run after the commit, each in a transaction of its own; they may fail, since what they do can be done again.
    """

    db: Session
    now: datetime
    key: str = ""
    heads: list[Head] = field(default_factory=list)
    memo: dict[str, Any] = field(default_factory=dict)
    later: list[Callable[[Work], object]] = field(default_factory=list)

    @property
    def zone(self) -> ZoneInfo:
        """The shop's time zone: its days begin and end there. UTC until there is a shop."""
        if "zone" not in self.memo:
            shop = self.db.get(t.Shop, 1)
            if shop is not None:
                hold(self.db, shop)
            self.memo["zone"] = ZoneInfo(shop.zone if shop else "UTC")
        zone: ZoneInfo = self.memo["zone"]
        return zone

    def local(self, moment: datetime) -> datetime:
        """A moment on the shop's clock."""
        return moment.astimezone(self.zone)

    def day(self, moment: datetime) -> date:
        """The day of a moment in the shop."""
        return self.local(moment).date()

    @property
    def today(self) -> date:
        """The day that it is in the shop."""
        return self.day(self.now)


class DatabaseAway(DomainError):
    """The database did not answer, or not in time; the use case can be sent again."""

    def __init__(self) -> None:
        super().__init__(say("The database does not answer; what you entered is kept, try again."))


class TakesNothingNew(DomainError):
    """The database can be read but not written: its disk is full or it is set to read only."""

    def __init__(self) -> None:
        super().__init__(
            say(
                "The database accepts nothing new: its disk is full or it is set to read only. What is recorded "
                "can be read; what you entered is kept, tell the person who runs Incudo."
            )
        )


def _utc_now() -> datetime:
    return datetime.now(UTC)


class Silence:
    """A database that kept somebody waiting in vain is asked by one at a time; the others are told at once.

    One that is gone answers at once (connection refused) and is tried again by everybody;
    one that is frozen would hold every thread for as long as its silence lasts.
    """

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self._clock, self._silent, self._asking = clock, False, threading.Lock()

    @contextmanager
    def asking(self) -> Iterator[None]:
        """Ask the database inside. Raises ``DatabaseAway`` at once while another one waits for it in vain."""
        alone = self._silent
        if alone and not self._asking.acquire(blocking=False):
            raise DatabaseAway
        began = self._clock()
        try:
            yield
        except Exception as error:
            # whatever else went wrong, the database answered
            self._silent = is_away(error) and self._clock() - began > LONG
            if self._silent:
                raise DatabaseAway from error
            raise
        else:
            self._silent = False
        finally:
            if alone:
                self._asking.release()


class Unit:
    """Runs use cases. A use case may run more than once, so it touches nothing but the database."""

    def __init__(
        self,
        engine: Engine,
        clock: Callable[[], datetime] = _utc_now,
        key: str = "",
        on_head: Callable[[Head], None] | None = None,
        tries: int = TRIES,
    ) -> None:
        self.engine, self.clock, self.key, self.on_head, self.tries = engine, clock, key, on_head, tries
        self._sessions = sessions(engine)
        self._silence = Silence()

    def run(self, use_case: Callable[[Work], T]) -> T:
        """Run and commit. Deadlocks, lost races and lost connections are tried again.

        Raises ``DatabaseAway`` when that does not help or the database is silent, ``TakesNothingNew`` when it
        cannot be written, and ``Conflict`` when the same key is found taken again and again: no race is lost so.
        """
        taken: list[str] = []
        for attempt in range(1, self.tries + 1):
            try:
                with self._silence.asking():
                    return self._once(use_case)
            except Exception as error:
                if is_read_only(error):
                    raise TakesNothingNew from error
                if not is_passing(error):
                    raise
                taken.append(taken_key(error))
                if taken[-1] and taken[-SAME_KEY:] == [taken[-1]] * SAME_KEY:
                    raise Conflict(say("This clashes with what is recorded already: look again.")) from error
                if attempt == self.tries:
                    raise DatabaseAway from error
                _log.warning("use case tried again (%d): %s", attempt, type(error).__name__)
            time.sleep(min(0.02 * 2**attempt, 0.5) * (0.5 + random.random()))  # noqa: S311 (spreads retries)
        raise AssertionError("unreachable")

    @contextmanager
    def reading(self) -> Iterator[Work]:
        """One transaction that only reads, for an answer that is sent piece by piece; it is not tried again."""
        with self._silence.asking(), self._sessions() as db:
            try:
                yield Work(db, self.clock(), self.key)
            finally:
                db.rollback()

    def _once(self, use_case: Callable[[Work], T]) -> T:
        with self._sessions() as db:
            try:
                work = Work(db, self.clock(), self.key)
                result = use_case(work)
                db.commit()
            except Exception:
                db.rollback()
                raise
        self._write_head_outside(work)
        for use_case_later in work.later:
            self._run_later(use_case_later)
        return result

    def _run_later(self, use_case: Callable[[Work], object]) -> None:
        """Do what can wait; a database that cannot be written or is busy just now is no error."""
        with self._sessions() as db:
            try:
                use_case(Work(db, self.clock(), self.key))
                db.commit()
            except Exception as error:
                db.rollback()
                if not (is_passing(error) or is_away(error) or is_read_only(error)):
                    raise
                _log.info("done another time: %s", type(error).__name__)

    def _write_head_outside(self, work: Work) -> None:
        """Write the newest head of the register where it was asked for; outside the database.

        What was committed is done: where the file cannot be written (its disk is full), the log says so, and
        the next head that is written vouches for this one too.
        """
        if self.on_head and work.heads:
            try:
                self.on_head(work.heads[-1])
            except OSError:
                _log.exception("the register's head %d could not be taken away", work.heads[-1].seq)


@dataclass(frozen=True)
class Reader:
    """Where registers are read: at a replica, and at the database itself while the replica is away."""

    unit: Unit
    replica: Unit | None = None

    def nearest(self) -> Unit:
        """Whichever of the two answers now."""
        if self.replica is None:
            return self.unit
        try:
            self.replica.run(lambda w: w.db.connection())
        except DatabaseAway:
            _log.warning("the replica does not answer: registers are read at the database itself")
            return self.unit
        return self.replica


def find(w: Work, table: type[R], key: object, what: str) -> R:
    """One row by its primary key. Raises ``NotFound`` naming what was looked for."""
    row = w.db.get(table, key)
    if row is None:
        raise NotFound(say("There is no such {what}.", what=what))
    hold(w.db, row)
    return row


def find_locked(w: Work, table: type[R], key: object, what: str, *, shared: bool = False) -> R:
    """One row as it stands now, whatever was read before, and so until the end of the transaction.

    ``shared``: others may lock it so as well. Raises ``NotFound`` naming what was looked for.
    """
    row = w.db.get(table, key, with_for_update={"read": shared}, populate_existing=True)
    if row is None:
        raise NotFound(say("There is no such {what}.", what=what))
    hold(w.db, row)
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
            raise Conflict(say("This id was used before, when {key} was different.", key=column.key))
    return False
