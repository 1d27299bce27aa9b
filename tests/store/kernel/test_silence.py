"""A database that is away, silent or read only: who asks, who is told at once, what is tried again."""

from __future__ import annotations

import threading
from typing import Any

import pytest
from pymysql.err import OperationalError as DriverError
from sqlalchemy.exc import IntegrityError, InterfaceError, OperationalError, ProgrammingError
from sqlalchemy.exc import TimeoutError as PoolTimeout

from incudo.app.kernel.unit import LONG, DatabaseAway, Silence, TakesNothingNew, Unit, Work
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.register.chain import Head
from incudo.store.kernel.database import is_away, is_passing, is_read_only
from tests.shop import TestShop


def said(code: int, kind: type[Any] = OperationalError) -> Any:
    return kind("SELECT 1", {}, DriverError(code, "as the server says it"))


@pytest.mark.parametrize("code", [1021, 1026, 1030, 1036, 1114, 1290, 1792, 1836])
def test_a_full_disk_and_a_server_set_to_read_only_are_told_apart_from_all_else(code: int) -> None:
    assert is_read_only(said(code))
    assert not is_away(said(code))
    assert not is_passing(said(code)), "trying again at once does not help"


@pytest.mark.parametrize("code", [2002, 2003, 2006, 2013, 1040, 1053])
def test_a_database_that_is_gone(code: int) -> None:
    assert is_away(said(code))
    assert is_passing(said(code))
    assert not is_read_only(said(code))


@pytest.mark.parametrize("code", [1205, 1213, 1020])
def test_a_lost_race_is_no_absence(code: int) -> None:
    assert is_passing(said(code))
    assert not is_away(said(code))


@pytest.mark.parametrize(
    "error",
    [said(1064, ProgrammingError), said(1452, IntegrityError), said(1146, ProgrammingError), ValueError("x")],
)
def test_a_fault_of_our_own_is_neither(error: Exception) -> None:
    assert not is_passing(error)
    assert not is_away(error)
    assert not is_read_only(error)


def test_the_same_key_twice_and_a_full_pool_pass() -> None:
    assert is_passing(said(1062, IntegrityError))
    assert is_away(PoolTimeout("all taken"))
    assert is_away(said(2013, InterfaceError))


class Clock:
    def __init__(self) -> None:
        self.now = 0.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def clock() -> Clock:
    return Clock()


def ask(silence: Silence, clock: Clock, seconds: float, error: Exception | None) -> str:
    """Ask inside; gives what came of it."""
    try:
        with silence.asking():
            clock.now += seconds
            if error is not None:
                raise error
    except DatabaseAway:
        return "away"
    except Exception as found:
        return type(found).__name__
    return "answered"


def test_a_refusal_is_an_answer_too(clock: Clock) -> None:
    """After a silence, a use case that the rules refuse shows that the database is back: the next ones are not held."""
    silence = Silence(clock)
    assert ask(silence, clock, LONG + 1, said(2013)) == "away"
    assert ask(silence, clock, 0.1, Refused.of("x", "1", "must be 2")) == "Refused"
    with silence.asking():
        assert ask(silence, clock, 0.1, None) == "answered", "not told that the database is away"


@pytest.mark.parametrize(("seconds", "first"), [(LONG, "OperationalError"), (LONG + 0.001, "away")])
def test_only_a_long_silence_is_one(clock: Clock, seconds: float, first: str) -> None:
    silence = Silence(clock)
    assert ask(silence, clock, seconds, said(2013)) == first
    assert silence._silent is (first == "away")


def test_while_one_waits_for_a_silent_database_the_others_are_told_at_once(clock: Clock) -> None:
    silence = Silence(clock)
    assert ask(silence, clock, 10, said(2013)) == "away"
    inside, leave = threading.Event(), threading.Event()

    def wait() -> None:
        with silence.asking():
            inside.set()
            leave.wait(20)

    one = threading.Thread(target=wait)
    one.start()
    assert inside.wait(20)
    assert [ask(silence, clock, 0, None) for _ in range(3)] == ["away"] * 3
    leave.set()
    one.join(20)
    assert ask(silence, clock, 0, None) == "answered", "it answered the one who asked"
    assert ask(silence, clock, 0, None) == "answered"


def test_a_silence_goes_on_until_it_is_answered(clock: Clock) -> None:
    silence = Silence(clock)
    ask(silence, clock, 10, said(2013))
    assert ask(silence, clock, 10, said(2013)) == "away"
    assert ask(silence, clock, 0.01, said(2003)) == "OperationalError", "gone now, and no longer silent: all may try"
    assert ask(silence, clock, 0, None) == "answered"


def test_a_refusal_is_no_silence(clock: Clock) -> None:
    silence = Silence(clock)
    assert ask(silence, clock, 60, Refused.of("x", "", "must not be")) == "Refused"
    assert not silence._silent


class Broken:
    """Sessions whose use case always fails in one way."""

    def __init__(self, unit: Unit, error: Exception) -> None:
        self.unit, self.error, self.count = unit, error, 0

    def __call__(self, _work: Any) -> None:
        self.count += 1
        raise self.error


@pytest.mark.parametrize(
    ("code", "raised", "tries"),
    [(1290, TakesNothingNew, 1), (1213, DatabaseAway, 12), (2003, DatabaseAway, 12)],
)
def test_what_is_tried_again_and_what_is_said(
    monkeypatch: pytest.MonkeyPatch, whole_shop: TestShop, code: int, raised: type[Exception], tries: int
) -> None:
    monkeypatch.setattr("incudo.app.kernel.unit.time.sleep", lambda _seconds: None)
    broken = Broken(Unit(whole_shop.unit.engine), said(code))
    with pytest.raises(raised):
        broken.unit.run(broken)
    assert broken.count == tries


@pytest.mark.parametrize(("keys", "raised", "tries"), [("aaaa", Conflict, 3), ("aab" * 4, DatabaseAway, 12)])
def test_a_key_that_stays_taken_is_no_race(
    monkeypatch: pytest.MonkeyPatch, whole_shop: TestShop, keys: str, raised: type[Exception], tries: int
) -> None:
    monkeypatch.setattr("incudo.app.kernel.unit.time.sleep", lambda _seconds: None)
    tried = iter(keys)
    count = 0

    def act(_work: Work) -> None:
        nonlocal count
        count += 1
        raise IntegrityError("INSERT", {}, DriverError(1062, f"Duplicate entry '{next(tried)}' for key 'code'"))

    with pytest.raises(raised):
        Unit(whole_shop.unit.engine).run(act)
    assert count == tries


@pytest.mark.parametrize(
    ("error", "raised"),
    [(said(1213), False), (said(2003), False), (said(1290), False), (said(1064, ProgrammingError), True)],
)
def test_what_can_wait_is_left_for_another_time_when_the_database_cannot(
    whole_shop: TestShop, error: Exception, raised: bool
) -> None:
    unit = Unit(whole_shop.unit.engine)
    broken = Broken(unit, error)

    def act(w: Work) -> str:
        w.later.append(broken)
        return "done"

    if raised:
        with pytest.raises(ProgrammingError):
            unit.run(act)
    else:
        assert unit.run(act) == "done"
    assert broken.count == 1


@pytest.mark.parametrize(("error", "raised"), [(None, False), (OSError("no room"), False), (ValueError("x"), True)])
def test_what_was_committed_is_done_though_its_head_cannot_be_written(
    whole_shop: TestShop, caplog: pytest.LogCaptureFixture, error: Exception | None, raised: bool
) -> None:
    taken: list[int] = []

    def on_head(head: Head) -> None:
        taken.append(head.seq)
        if error is not None:
            raise error

    unit = Unit(whole_shop.unit.engine, on_head=on_head)

    def act(w: Work) -> str:
        w.heads.append(Head(7, "digest", "seal"))
        return "done"

    if raised:
        with pytest.raises(ValueError, match="x"):
            unit.run(act)
    else:
        assert unit.run(act) == "done"
    assert taken == [7], "once, whatever came of it"
    assert ("head 7 could not be taken away" in caplog.text) == isinstance(error, OSError)
