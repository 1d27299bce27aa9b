"""From an empty installation to an accepted part and a signed skill, through pages alone."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By

from incudo import shipped
from incudo.app.administration.first_run import first_code
from incudo.launch.browser import chromium
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page
from tests.browser.session.test_safety import take_check
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


def add_gauge(page: Page, kind: str) -> None:
    page.press("Add a gauge")
    page.choose("What it is", kind)
    page.driver.execute_script(DUE, page.find("input[type='date']"))
    page.press("Add the gauge", within=".ant-modal")
    page.until(lambda: not page.shown(".ant-modal"), f"{kind} is entered")


#: Days are typed differently in every language of a browser.
DUE = """
Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(arguments[0], "2036-01-01");
arguments[0].dispatchEvent(new Event("input", {bubbles: true}));
"""


def equip(ada: Page) -> None:
    """Gauges, a vise and a drawer of cutters."""
    ada.go("/shop/gauges")
    for kind in ("Micrometer 0–25 mm", "Test indicator 0.0001 in"):
        add_gauge(ada, kind)
    ada.go("/shop/workholding")
    ada.press("Add workholding")
    ada.choose("Start from", "Machine vise, 6 in jaws")
    ada.press("Add", within=".ant-modal form")
    ada.sees("jaw 6 in, 1.75 deep, opens 6")
    ada.go("/crib/cutters")
    ada.press("Add cutters")
    ada.choose("Kind of cutter", "end mill")
    ada.find(".ant-modal textarea").send_keys("3/8, 1/2, 3/4")
    ada.press("Add 3 sizes", within=".ant-modal")
    ada.sees("End mill 1/2 in, 2 flutes", "0.375 in")


def measuring_piece(file: Path) -> Path:
    """A part to be measured only: what the first evening can be spent on before anybody stands at a machine."""
    part = shipped.parts()["slip-pad"]
    kept = {"code": "measuring-piece", "name": "Measuring piece", "needs": [], "operations": [], "gives": []}
    file.write_text(json.dumps(part | kept))
    return file


def one_part(ada: Page, bo: Page, file: Path) -> None:
    """Entered, given, measured, handed in, checked blind, accepted."""
    ada.go("/parts/new")
    ada.sees("From a file")
    ada.driver.find_element(By.CSS_SELECTOR, "input[type='file'][accept*='json']").send_keys(str(file))
    ada.press("Save the part")
    ada.sees("Assign to students", "first version")
    ada.press("Bo Lind")
    ada.press("Assign to Bo Lind")
    ada.sees("Assigned to Bo Lind")
    bo.press("Bench", "nav")
    bo.press("Go on: Plan")
    for step in ("plan the work", "set up", "locate the datums", "cut"):
        bo.press(f"Done: {step}")
    for value in ("14.021", "14.012", "14.017", "0.0004", "0.0003"):
        bo.reading(value)
        bo.kept(value)
    bo.press("Hand the part in")
    bo.press("Hand it in")
    bo.sees("Handed in: wait for your instructor's check")

    ada.press("Floor", "nav")
    ada.click_in_line("Bo Lind", "part handed in")
    for row, value in (("1", "14.018"), ("2", "0.0004"), ("3", "0.0003")):
        ada.pick(f"[data-row='{row}']")
        ada.reading(value)
        ada.kept(value)
    ada.press("Show Bo's readings beside mine")
    ada.press("Accept the part")
    ada.sees("Accepted")


def one_skill(ada: Page, bo: Page, empty: Supervisor) -> None:
    """Questions answered, called to be seen, seen, signed."""
    take_check(bo, empty, "surroundings-person")
    bo.go("/bench")
    bo.press("Call to show it", "[data-step='person']")
    bo.sees("Called: cancel")
    ada.go("/floor")
    ada.click_in_line("Bo Lind", "Checklist")
    ada.sees("Bo Lind", "must be right")
    for button in ada.all(".judge .said[aria-label^='yes, shown']"):
        ada.driver.execute_script("arguments[0].click()", button)
    ada.press("Sign", "aside")
    ada.type("[role=dialog] .pin", "4711")
    ada.press("Sign", "[role=dialog]")
    ada.sees("On the ladder")


@pytest.mark.timeout(600)
def test_an_empty_installation_has_its_first_evening(empty: Supervisor, tmp_path: Path) -> None:
    unit = empty.unit()
    code = unit.run(first_code)
    unit.engine.dispose()
    with chromium() as first, chromium(834, 1194, touch=True) as second:
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
        bo.press("Save and sign in")
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

        equip(ada)
        one_part(ada, bo, measuring_piece(tmp_path / "piece.json"))
        one_skill(ada, bo, empty)
        bo.go("/ladder")
        bo.find("[aria-label*='signed']")
        assert ada.complaints() == bo.complaints() == []
