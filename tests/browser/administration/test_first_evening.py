"""From an empty installation to an open session with a student in it, through pages alone."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from selenium.webdriver.common.by import By

from incudo.app.administration.first_run import first_code
from incudo.launch.browser import chromium
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page
from tests.loaded import empty_shop

OWN = "a password of one's own"


@pytest.fixture
def empty(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Supervisor]:
    """An installation that nobody has set up, served."""
    started = Supervisor(empty_shop(tmp_path_factory.mktemp("empty")), workers=1)
    try:
        started.start_database()
        started.start_web()
        yield started
    finally:
        started.stop()


def enter(page: Page, label: str, text: str) -> None:
    """Type into the field with this label."""
    where = f'//label[contains(., "{label}")]//input'

    def there() -> bool:
        found = page.driver.find_elements(By.XPATH, where)
        if found:
            found[0].send_keys(text)
        return bool(found)

    page.until(there, f"no field {label!r}")


def sign_the_notice(page: Page, name: str) -> None:
    page.pick("input[type='checkbox']")
    page.press(f"Sign as {name}")


@pytest.mark.timeout(600)
def test_an_empty_installation_opens_its_first_session(empty: Supervisor) -> None:
    unit = empty.unit()
    code = unit.run(first_code)
    unit.engine.dispose()
    with chromium() as first, chromium(834, 1194) as second:
        ada, bo = Page(first, empty.address), Page(second, empty.address)
        ada.go("/")
        ada.sees("A new shop")
        for label, text in (
            ("The code that the server printed", code),
            ("Its name", "Harbour Road"),
            ("The first group", "Monday evening"),
            ("Name, as it stands on records", "Ada Quist"),
            ("Password", OWN),
            ("A PIN of 4 to 8 digits", "4711"),
        ):
            enter(ada, label, text)
        ada.press("Set up the shop")
        sign_the_notice(ada, "Ada Quist")
        ada.sees("2 things are missing before a session can be opened.")

        # a machine, walked round: the left handle goes the other way, its numbers fall
        ada.press("Before the first class")
        ada.press("Add a machine")
        ada.press("Knee mill, belts or steps, inch")
        enter(ada, "What it is called in the shop", "Kittiwake")
        ada.press("left", within="[data-handle='x']")
        ada.press("fall", within="[data-handle='x']")
        ada.press("Add the machine")
        ada.sees("Kittiwake", "one division 0.001 in", "numbers rise anticlockwise")

        # somebody new, with a slip
        ada.go("/shop/people")
        ada.press("Add a person")
        enter(ada, "Name, as it stands on records", "Bo Lind")
        ada.choose("Group", "Monday evening")
        enter(ada, "Your PIN", "4711")
        ada.press("Make a code", within=".ant-modal")
        slip = ada.until(lambda: ada.find(".ant-modal .key").text, "the code is shown")
        ada.press("Done", within=".ant-modal")
        ada.sees("1 person has not signed in yet", "code until")

        bo.go("/")
        bo.press("I have a code")
        enter(bo, "The code on your slip", slip.upper())
        bo.press("Next")
        bo.sees("Bo Lind, you sign in as bo.l.")
        enter(bo, "New password", OWN)
        enter(bo, "The same again", OWN)
        bo.press("Save and come in")
        sign_the_notice(bo, "Bo Lind")

        ada.go("/shop/ready")
        ada.sees("A session can be opened.")
        ada.go("/session")
        ada.press("Open, and supervise it myself")
        enter(ada, "Your PIN", "4711")
        ada.press("Open", within=".ant-modal")
        ada.sees("Bo Lind")
        ada.go("/floor")
        ada.sees("Monday evening", "Ada Quist supervises", "Kittiwake")
        assert ada.complaints() == bo.complaints() == []
