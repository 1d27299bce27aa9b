"""A part is assigned, measured, judged, checked blind, decided and signed, all in the browser."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from incudo.demo.load import key
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page

Open = Callable[..., Page]
READINGS = ("1.0008", "0.6994", "0.6996", "0.3735", "0.3736", "0.0009", "1.101", "2.1992", "0.9010")


@pytest.mark.long
def test_from_assignment_to_signature(browser: Open) -> None:
    boss = browser("haldane")
    boss.sees("The line", "Petrel", "Ines Calder")
    boss.press("Parts", "nav")
    boss.press("Keel step gauge")
    boss.sees("has every skill it needs", "Versions")
    assert len(boss.driver.find_elements(By.CSS_SELECTOR, ".plate [data-c]")) == 7
    boss.choose("Group", "Thursday group")
    boss.press("Sanna Quill")
    boss.press("Assign to Sanna Quill")
    boss.sees("Assigned to Sanna Quill")

    student = browser("sanna")
    student.sees("Read the drawing and plan the work")
    student.press("Go on: Plan")
    for step in ("plan the work", "set up", "locate the datums", "cut"):
        student.press(f"Done: {step}")
    student.sees("7 of 7 characteristics to go")
    lit = ".plate .lit[data-c='1']"
    student.find(lit)
    student.reading("1.0008")
    student.until(lambda: student.verdict(1) == "in", "1 is judged")
    student.until(lambda: student.number() == "2", "the next one comes by itself")
    student.reading("0.7100")
    student.sees("out, metal left", "0.008 in above the top limit 0.702")
    assert student.number() == "2", "what is out stays before the eyes"
    student.press("Correct", ".taken")
    student.reading("0.6994")
    student.sees("superseded")
    student.reading("0.6996")
    student.until(lambda: student.number() == "3", "two spots are in, on to 3")
    for value in READINGS[3:]:
        student.reading(value)
        student.kept(value)
    student.sees("Everything is measured: hand the part in")
    student.press("Hand the part in")
    student.sees("Hand the part in?")
    student.driver.switch_to.active_element.send_keys(Keys.ENTER)
    student.press("Hand the part in")
    student.press("Hand it in")
    student.sees("Handed in: wait for your instructor's check")

    boss.press("Floor", "nav")
    boss.click_in_line("Sanna Quill", "part handed in")
    boss.sees("You do not see Sanna's readings yet", "check this")
    assert not [v for v in READINGS if v in boss.driver.page_source], "blind"
    boss.pick("[data-row='3']")
    boss.reading("0.3782")
    boss.sees("out, metal left")
    boss.press("Show Sanna's readings beside mine")
    boss.sees("You do not agree", "differ")
    assert "0.37355" in boss.driver.page_source
    boss.press("Accept", "[data-dispose='3']")
    boss.press("Rework", "[data-dispose='3']")
    boss.type("[data-dispose='3'] .ant-input", "0.004 to take off")
    boss.press("Return for rework")
    boss.sees("To be reworked")

    student.press("Bench", "nav")
    student.sees("Rework characteristic 3")
    student.press("Go on: Measure")
    for value in ("0.3734", "0.3735"):
        student.reading(value)
        student.kept(value)
    student.press("Hand the part in")
    student.press("Hand it in")
    student.sees("Handed in")

    boss.press("Floor", "nav")
    boss.click_in_line("Sanna Quill", "reworked, hand-in 2")
    boss.pick("[data-row='3']")
    boss.reading("0.3735")
    boss.press("Show Sanna's readings beside mine")
    boss.sees("You agree within both uncertainties")
    boss.press("Accept the part")
    boss.sees("Skills this part gives evidence for", "Milling steps")
    boss.sees("inspected parts: 0 of 1")


def test_signing_with_a_pin(browser: Open) -> None:
    """Kaia's block was accepted; both skills are signed under one PIN; Enter signs nothing."""
    boss = browser("haldane")
    boss.click_in_line("Squaring a block")
    boss.sees("Kaia Lund", "ready to be signed")
    boss.press("Sign", ".skill-panel")
    boss.type("[role=dialog] .pin", "0000")
    boss.driver.switch_to.active_element.send_keys(Keys.ENTER)
    assert boss.find("[role=dialog]").is_displayed()
    boss.press("Sign", "[role=dialog]")
    boss.sees("That is not your PIN.")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("Sign", "[role=dialog]")
    boss.sees("signed on")
    boss.press("Class", "nav")
    boss.press("Milling", ".class-table")
    boss.find("[aria-label^='Kaia Lund, Squaring a block, signed']")


@pytest.mark.long
def test_what_a_student_lacks_is_named_when_assigning(browser: Open) -> None:
    boss = browser("haldane")
    boss.go(f"/parts/{key('project', 'tide-block')}")
    boss.choose("Group", "Thursday group")
    boss.press("Ivo Skarn")
    boss.sees("Ivo Skarn lacks what this part needs", "days away; ask for the refresher")
    boss.press("Assign; start after the sign-offs")
    boss.sees("Assigned to Ivo Skarn")
    student = browser("ivo")
    student.sees("Get signed first: General safety", "What you can do about it now", "Call to show it")
    student.press("Open the job card")
    student.sees("Sign-offs first", "days away", "What can be done now")
    assert "Done:" not in student.text()


@pytest.mark.long
def test_a_withdrawal_closes_what_rests_on_it(browser: Open) -> None:
    boss = browser("haldane")
    boss.press("Class", "nav")
    boss.press("Measuring", ".class-table")
    boss.choose("Group", "Thursday group")
    boss.pick("[aria-label^='Freya Oakes, Measuring with a caliper']")
    boss.press("Withdraw", ".class-opened")
    boss.type("[role=dialog] .pin", "1407")
    assert not [
        b for b in boss.driver.find_elements(By.CSS_SELECTOR, "[role=dialog] .ant-btn-dangerous") if b.is_enabled()
    ]
    boss.type("[role=dialog] textarea", "measured on the turning spindle of Gannet, seen by me")
    boss.press("Withdraw", "[role=dialog]")
    boss.sees("withdrawn on", "Reinstate")
    boss.press("Milling", ".class-table")
    boss.find("[aria-label^='Freya Oakes, Squaring a block, suspended']")
    student = browser("freya")
    student.sees("Get signed first")
    student.press("Open the job card")
    student.sees("turning spindle of Gannet")


def test_the_class_table_by_keyboard(browser: Open) -> None:
    boss = browser("haldane")
    boss.press("Class", "nav")
    boss.find("[data-at='0,0']").send_keys(Keys.ARROW_RIGHT)
    boss.driver.switch_to.active_element.send_keys(Keys.ARROW_DOWN)
    assert boss.driver.switch_to.active_element.get_attribute("data-at") == "1,1"
    boss.driver.switch_to.active_element.send_keys(Keys.ENTER)
    boss.sees("What must be shown", "Evidence", "What they may do now")


def test_units_search_and_places_by_keyboard(browser: Open) -> None:
    boss = browser("haldane")
    body = boss.driver.find_element(By.TAG_NAME, "body")
    body.send_keys("g", "p")
    boss.sees("Tide block", "Keel step gauge")
    boss.sees("tightest tolerance 0.100 mm wide", "tightest tolerance 0.002 in wide")
    body.send_keys("u")
    boss.press("Keel step gauge")
    boss.sees("25.324 to 25.476 mm")
    boss.driver.find_element(By.TAG_NAME, "body").send_keys("/")
    boss.driver.switch_to.active_element.send_keys("shackle", Keys.ENTER)
    boss.sees("A pin from round bar")
    boss.driver.find_element(By.TAG_NAME, "body").send_keys("?")
    boss.sees("Shortcuts", "Enter never signs")


def test_the_auditor_reads_and_finds_no_button_that_changes(browser: Open) -> None:
    auditor = browser("thorley")
    auditor.sees("The line")
    assert "Check part" not in auditor.text()
    auditor.press("Class", "nav")
    auditor.press("Milling", ".class-table")
    auditor.pick("[aria-label^='Juno Abara, Squaring a block']")
    auditor.sees("reached over the turning cutter")
    assert not [b for b in auditor.driver.find_elements(By.CSS_SELECTOR, ".skill-panel .ant-btn")]
    auditor.press("Records", "nav")
    auditor.sees("Every value measured", "Download as CSV")
    auditor.press("Withdrawals", ".registers")
    auditor.sees("Juno Abara", "reached over the turning cutter")
    auditor.press("Register of safety", ".registers")
    auditor.sees("The register holds", "nobody hurt", "without a name")
    auditor.press("Shop", "nav")
    auditor.press("How we work", ".shelf")
    auditor.sees("Guard band")
    assert not [b for b in auditor.driver.find_elements(By.CSS_SELECTOR, ".school") if b.is_enabled()]


def test_what_is_no_number_is_said_at_the_field_and_waits_nowhere(browser: Open) -> None:
    student = browser("lio")
    student.press("Go on")
    student.press("Measure", ".rule")
    field = student.find("#reading")
    for typed in ("abc", "2,505", "1e3", "--2"):
        field.send_keys(Keys.CONTROL + "a")
        field.send_keys(typed, Keys.ENTER)
        student.sees(f"{typed} is not a number")
        assert not student.all("[data-waiting]")
        assert "not judged" not in student.text()
    field.send_keys(Keys.BACKSPACE)
    student.until(lambda: "is not a number" not in student.text(), "it is gone when one types on")


def test_the_keypad_on_a_tablet(browser: Open) -> None:
    student = browser("lio", 834, 1194, touch=True)
    student.press("Go on")
    student.press("Measure", ".rule")
    for digit in ("2", ".", "5", "0", "5"):
        student.press(digit, ".keypad")
    student.pick("[aria-label='delete the last digit']")
    student.press("1", ".keypad")
    student.press("Save reading", ".keypad")
    student.until(lambda: student.verdict(1) == "in", "2.501 is in")
    wide = student.driver.execute_script("return document.documentElement.scrollWidth")
    assert wide <= 834, "nothing sticks out sideways"


def test_the_first_page_is_small(running: Supervisor) -> None:
    """Under 250 kB of compressed script before the first page shows."""
    import re
    import urllib.request

    def fetch(path: str) -> bytes:
        request = urllib.request.Request(running.address + path, headers={"Accept-Encoding": "br"})
        with urllib.request.urlopen(request, timeout=10) as answer:
            data: bytes = answer.read()
            return data

    plain = urllib.request.urlopen(running.address + "/", timeout=10).read().decode()
    scripts = re.findall(r'(?:src|href)="(/assets/[^"]+\.js)"', plain)
    assert scripts
    assert sum(len(fetch(s)) for s in scripts) < 250_000
