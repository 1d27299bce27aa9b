"""Guessing is slowed down: how often, for how long, and for whom."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime, timedelta

import pytest

from incudo.app.kernel.unit import Unit
from incudo.app.people.accounts import (
    SignInCommand,
    TooManyTries,
    WrongSecret,
    confirm_pin,
    session_of,
    sign_in,
)
from incudo.core.people.roles import Role
from incudo.demo.story import who
from tests.shop import PASSWORD, TestShop

At = Callable[[datetime], Unit]
SECOND = timedelta(seconds=1)


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


@pytest.mark.parametrize(
    ("later", "holds"), [(timedelta(hours=12) - SECOND, True), (timedelta(hours=12) + SECOND, False)]
)
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
