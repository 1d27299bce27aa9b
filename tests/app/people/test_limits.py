"""Guessing is slowed down: how often, for how long, and for whom."""

from __future__ import annotations

import uuid
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime, timedelta

import pytest

from incudo.app.kernel.unit import Unit, Who, Work
from incudo.app.people.accounts import (
    FAILURES_PER_ADDRESS,
    PasswordCommand,
    SignInCommand,
    TooManyTries,
    WrongSecret,
    change_password,
    confirm_pin,
    hash_secret,
    session_of,
    sign_in,
)
from incudo.core.people.roles import Role
from incudo.demo.story import who
from incudo.store import schema as t
from tests.shop import PASSWORD, TestShop

At = Callable[[datetime], Unit]
SECOND = timedelta(seconds=1)
PIN = "4711"


def assessor(shop: TestShop) -> tuple[str, Who]:
    """A new instructor with a PIN: the name to sign in with, and who it is."""
    row_id, login = uuid.uuid4(), f"teacher-{uuid.uuid4().hex[:12]}"

    def add(w: Work) -> None:
        person = t.Person(
            id=row_id,
            login=login,
            name="Nobody Else",
            role=Role.INSTRUCTOR.value,
            password_hash=hash_secret(PASSWORD),
            pin_hash=hash_secret(PIN),
            active=True,
        )
        w.db.add(person)

    shop.unit.run(add)
    return login, Who(row_id, "Nobody Else", Role.INSTRUCTOR)


def fail(unit: Unit, login: str, device: str, address: str, times: int) -> None:
    for _ in range(times):
        with pytest.raises(WrongSecret):
            sign_in(unit, SignInCommand(login=login, password="not it at all"), device, address)


def enters(unit: Unit, login: str, device: str, address: str) -> bool:
    try:
        sign_in(unit, SignInCommand(login=login, password=PASSWORD), device, address)
    except TooManyTries:
        return False
    return True


@pytest.mark.parametrize(("wrong", "open_"), [(4, True), (5, False)])
def test_five_wrong_passwords_close_a_name_on_a_device(
    shop: TestShop, at: At, moment: datetime, wrong: int, open_: bool
) -> None:
    login, device, address = shop.student().login, uuid.uuid4().hex, uuid.uuid4().hex
    fail(at(moment), login, device, address, wrong)
    assert enters(at(moment), login, device, address) is open_
    assert enters(at(moment), login, "another device", address), "the name is open everywhere else"


@pytest.mark.parametrize(
    ("later", "open_"), [(timedelta(minutes=15) - SECOND, False), (timedelta(minutes=15) + SECOND, True)]
)
def test_a_closed_name_opens_after_a_quarter_of_an_hour(
    shop: TestShop, at: At, moment: datetime, later: timedelta, open_: bool
) -> None:
    login, device = shop.student().login, uuid.uuid4().hex
    fail(at(moment), login, device, uuid.uuid4().hex, 5)
    assert enters(at(moment + later), login, device, uuid.uuid4().hex) is open_


@pytest.mark.parametrize(("wrong", "open_"), [(39, True), (40, False)])
def test_forty_wrong_passwords_close_an_address(
    shop: TestShop, at: At, moment: datetime, wrong: int, open_: bool
) -> None:
    address = uuid.uuid4().hex
    for n in range(wrong):
        fail(at(moment), f"nobody{n}", uuid.uuid4().hex, address, 1)
    login = shop.student().login
    assert enters(at(moment), login, uuid.uuid4().hex, address) is open_


def test_a_right_password_forgets_the_wrong_ones_of_its_name(shop: TestShop, at: At, moment: datetime) -> None:
    login, device, address = shop.student().login, uuid.uuid4().hex, uuid.uuid4().hex
    for _ in range(3):
        fail(at(moment), login, device, address, 4)
        assert enters(at(moment), login, device, address)


@pytest.mark.parametrize(("later", "holds"), [(timedelta(hours=12) - SECOND, True), (timedelta(hours=12), False)])
def test_a_session_lasts_twelve_hours(shop: TestShop, at: At, moment: datetime, later: timedelta, holds: bool) -> None:
    login = shop.student().login
    command = SignInCommand(login=login, password=PASSWORD)
    _, token = sign_in(at(moment), command, uuid.uuid4().hex, uuid.uuid4().hex)
    found = at(moment + later).run(lambda w: session_of(w, token))
    assert (found is not None) is holds
    if found is not None:
        assert found.role is Role.STUDENT


@pytest.mark.parametrize(("wrong", "open_"), [(4, True), (5, False)])
def test_five_wrong_pins_close_an_assessor_on_a_device_and_nobody_else(
    shop: TestShop, at: At, moment: datetime, wrong: int, open_: bool
) -> None:
    device = uuid.uuid4().hex
    for _ in range(wrong):
        with pytest.raises(WrongSecret):
            confirm_pin(at(moment), who("selby"), "9999", device)
    if open_:
        confirm_pin(at(moment), who("selby"), "2203", device)
    else:
        with pytest.raises(TooManyTries):
            confirm_pin(at(moment), who("selby"), "2203", device)
    confirm_pin(at(moment), who("haldane"), "1407", device)


@pytest.mark.parametrize(("wrong", "open_"), [(9, True), (10, False)])
def test_ten_wrong_pins_close_an_assessor_whatever_the_device(
    shop: TestShop, at: At, moment: datetime, wrong: int, open_: bool
) -> None:
    """A PIN of four digits must not be found by changing the tablet every four tries."""
    person, instructor = assessor(shop)
    for n in range(wrong):
        with pytest.raises(WrongSecret):
            confirm_pin(at(moment), instructor, "9999", f"tablet {n} {person}")
    if open_:
        confirm_pin(at(moment), instructor, PIN, "one more")
    else:
        with pytest.raises(TooManyTries):
            confirm_pin(at(moment), instructor, PIN, "one more")
        confirm_pin(at(moment + timedelta(minutes=15) + SECOND), instructor, PIN, "one more")


def test_a_right_pin_is_not_counted_as_wrong(shop: TestShop, at: At, moment: datetime) -> None:
    _, instructor = assessor(shop)
    for n in range(30):
        confirm_pin(at(moment), instructor, PIN, f"tablet {n % 3}")


@pytest.mark.parametrize("what", ["pin", "password"])
def test_guesses_at_the_same_moment_do_not_outrun_the_count(
    shop: TestShop, at: At, moment: datetime, what: str
) -> None:
    """Twelve guesses at once: five are looked at, the others meet a closed door."""
    login, instructor = assessor(shop)
    device, address = uuid.uuid4().hex, uuid.uuid4().hex
    unit = at(moment)

    def guess() -> str:
        try:
            if what == "pin":
                confirm_pin(unit, instructor, "9999", device)
            else:
                sign_in(unit, SignInCommand(login=login, password="not it at all"), device, address)
        except (WrongSecret, TooManyTries) as refused:
            return type(refused).__name__
        return "in"

    with ThreadPoolExecutor(12) as pool:
        found = [f.result() for f in [pool.submit(guess) for _ in range(12)]]
    assert Counter(found) == {"WrongSecret": 5, "TooManyTries": 7}


def test_a_closed_address_still_lets_in_who_teaches(shop: TestShop, at: At, moment: datetime) -> None:
    address = uuid.uuid4().hex
    for n in range(FAILURES_PER_ADDRESS):
        fail(at(moment), f"nobody{n}", uuid.uuid4().hex, address, 1)
    login, _ = assessor(shop)
    assert not enters(at(moment), shop.student().login, uuid.uuid4().hex, address)
    assert enters(at(moment), login, uuid.uuid4().hex, address)
    # five wrong ones at other devices do not lock them out; forty at their own name do, whatever device is claimed
    for _ in range(5):
        fail(at(moment), login, uuid.uuid4().hex, address, 1)
    assert enters(at(moment), login, uuid.uuid4().hex, address)
    for _ in range(FAILURES_PER_ADDRESS - 6):
        fail(at(moment), login, uuid.uuid4().hex, address, 1)
    assert enters(at(moment), login, uuid.uuid4().hex, address)
    fail(at(moment), login, uuid.uuid4().hex, address, 1)
    assert not enters(at(moment), login, uuid.uuid4().hex, address)
    assert enters(at(moment), login, uuid.uuid4().hex, uuid.uuid4().hex), "from elsewhere it is open"


def test_a_changed_password_ends_every_other_session(shop: TestShop, at: At, moment: datetime) -> None:
    student = shop.student()
    unit = at(moment)
    mine, *others = (
        sign_in(unit, SignInCommand(login=student.login, password=PASSWORD), uuid.uuid4().hex, uuid.uuid4().hex)[1]
        for _ in range(3)
    )
    me = Who(uuid.UUID(student.id), "x", Role.STUDENT)
    with pytest.raises(WrongSecret):
        change_password(unit, me, PasswordCommand(old="not it at all", new="a new long one"), "d", mine)
    assert all(unit.run(lambda w, x=x: session_of(w, x)) for x in (mine, *others))
    change_password(unit, me, PasswordCommand(old=PASSWORD, new="a new long one"), "d", mine)
    assert unit.run(lambda w: session_of(w, mine))
    assert not any(unit.run(lambda w, x=x: session_of(w, x)) for x in others)
    sign_in(unit, SignInCommand(login=student.login, password="a new long one"), "e", "f")
    with pytest.raises(WrongSecret):
        sign_in(unit, SignInCommand(login=student.login, password=PASSWORD), "e", "f")


@pytest.mark.parametrize(("wrong", "open_"), [(4, True), (5, False)])
def test_five_wrong_old_passwords_close_the_change(
    shop: TestShop, at: At, moment: datetime, wrong: int, open_: bool
) -> None:
    student, unit, device = shop.student(), at(moment), uuid.uuid4().hex
    me = Who(uuid.UUID(student.id), "x", Role.STUDENT)
    for _ in range(wrong):
        with pytest.raises(WrongSecret):
            change_password(unit, me, PasswordCommand(old="not it at all", new="a new long one"), device, "")
    right = PasswordCommand(old=PASSWORD, new="a new long one")
    if open_:
        change_password(unit, me, right, device, "")
    else:
        with pytest.raises(TooManyTries):
            change_password(unit, me, right, device, "")
