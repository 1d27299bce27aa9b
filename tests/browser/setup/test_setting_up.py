"""Setting up as it is seen: rigs played by what the page shows, records at the machine, holding, registers."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from selenium.webdriver.common.keys import Keys

from incudo.demo.load import key
from incudo.launch.shots import job
from tests.browser.page import Page
from tests.browser.practice.rigs import do, settled, start

Open = Callable[..., Page]
FULMAR = key("machine", "fulmar")


def needle(page: Page) -> float | None:
    """What the dial shows, as its figures say; None while it touches nothing."""
    figures = str(page.find(".dial-shown").text).replace("−", "-")
    return None if figures.strip() in ("–", "") else float(figures)


def drawn(page: Page) -> float:
    """The same, from the needle's angle: 6 degrees are a division."""
    turned = page.driver.execute_script(
        "return document.querySelector('.dial-needle').parentNode.getAttribute('transform')"
    )
    return float(re.findall(r"-?[\d.]+(?:e-?\d+)?", turned)[0]) / 6 * 0.0005


@pytest.mark.long
@pytest.mark.parametrize("level", ["Near", "As found"])
def test_who_never_saw_it_reaches_the_standard_by_the_pages_guidance(browser: Open, level: str) -> None:
    """Only what a person sees: the words of the next thing, the button that is lit, the dial's figures."""
    student = browser("juno", motion=level == "Near")
    start(student, "vise", level, "With guidance")
    told = 0
    for _ in range(120):
        words = student.find(".rig-guide").text
        shows = re.search(r"The needle reads (-?[\d.]+) in", words)
        if shows:
            told += 1
            assert float(shows[1]) == needle(student)
            assert abs(drawn(student) - float(shows[1])) <= 0.00026, "the needle points where its figures say"
        lit = student.find(".rig-controls .ant-btn-primary")
        name = lit.get_attribute("aria-label") or lit.text
        if name == "Finish":
            break
        do(student, name)
    assert told > 0
    student.press("Finish", ".rig-controls")
    student.sees("To standard", "with guidance: does not count", "a practised hand needs")


@pytest.mark.long
def test_who_plays_it_badly_is_told_what_was_bad(browser: Open) -> None:
    student = browser("juno")
    start(student, "vise", "Near", "For the record")
    assert not student.all(".rig-guide")
    for label in ("Tap the moving jaw", "Take the steel hammer", "Tap the left end towards you, hard"):
        do(student, label)
    do(student, "Run to the left end")
    do(student, "Bring the tip to the jaw")
    count = str(student.find(".rig").get_attribute("data-count"))
    student.find("[aria-label='Run the table to']").send_keys(Keys.END, Keys.ENTER)
    settled(student, count)
    student.sees("ran off the end of the jaw")
    student.sees("You hit the moving jaw", "Not to standard any more", "A steel hammer dents the jaw")
    student.press("Finish", ".rig-controls")
    student.sees("Not to standard", "the bolts are not tight")
    student.find("[aria-label='Action']").send_keys(Keys.HOME)
    student.sees("0 of 7", "The vise sits on the table as somebody left it.")


def test_the_head_swings_when_it_is_let_go(browser: Open) -> None:
    student = browser("juno")
    start(student, "head", "Side to side", "For the record")
    do(student, "Swing to the left")
    student.sees("isolate it and take it out of gear first")
    for bolt in ("top left", "top right"):
        for _ in range(3):
            do(student, f"Slacken {bolt}")
    student.sees("the head swung over by its own weight")


@pytest.mark.long
def test_the_cutter_is_run_over_a_part_that_is_held(browser: Open) -> None:
    student = browser("juno")
    start(student, "hold", "A cut in the vise", "With guidance")
    while True:
        lit = student.find(".rig-controls .ant-btn-primary")
        name = lit.get_attribute("aria-label") or lit.text
        if name == "Finish":
            break
        do(student, name)
    student.sees("Nothing is in the way and it is held well.")
    student.press("Finish", ".rig-controls")
    student.sees("To standard")


@pytest.mark.long
def test_a_vise_is_aligned_at_the_machine_and_the_job_card_knows(browser: Open) -> None:
    """A setup that is missing, one that stands, and one that must be repeated, on the card of the job."""
    student = browser("bryn")
    card = job("bryn", "tide-block")
    student.go(card)
    student.press("Set up", ".rule-names")
    student.find("[data-setup='vise'][data-state='repeat']")
    student.find("[data-setup='hold'][data-state='none']")
    student.press("Align the vise")
    student.sees("Two lift a vise", "Push the tip in by hand")
    student.press("Begin with the vise")
    student.sees("Read the fixed jaw", "stone the dings")
    unit = "mm" if "Needle at the left, mm" in student.text() else "in"
    far, near = ("-0.55", "0") if unit == "mm" else ("-0.0215", "0")
    student.type("[name='high']", far)
    student.find("[name='high']").send_keys(Keys.ENTER)
    student.sees("Bring it true", "towards you", "cannot be in")
    student.type("[name='high']", near)
    student.find("[name='high']").send_keys(Keys.ENTER)
    student.sees("True. Tighten, then read again")
    assert "Accept this setup" not in student.text()
    student.until(lambda: len(student.all("tbody tr")) >= 2, "both passes stand in the table")
    student.type("[name='high']", near)
    student.find("[name='high']").send_keys(Keys.ENTER)
    student.press("Accept this setup")
    student.sees("Accepted today")
    student.go(card)
    student.press("Set up", ".rule-names")
    student.find("[data-setup='vise'][data-state='stands']")


@pytest.mark.long
def test_work_is_held_where_nothing_is_hit(browser: Open) -> None:
    student = browser("orla")
    student.go(job("orla", "keel-step-gauge").replace("/job/", "/hold/"))
    student.sees("Work held: in order", "First step")
    student.press("on the bed", ".hold-drawer")
    student.sees("Something would be hit", "meets the jaw")
    student.press("parallels 1.125 in", ".hold-drawer")
    student.press("Save this holding")
    student.sees("set today and not moved since")
    student.press("Square a rough block")
    for face in range(2, 7):
        student.press(f"Then face {face}")
        student.sees(f"Face {face}")
    student.press("Under a strap")
    student.sees("75 % of the bolt's force")


@pytest.mark.long
def test_the_instructor_sets_an_exercise_and_keeps_the_registers(browser: Open) -> None:
    boss = browser("haldane")
    boss.press("Practice", "nav")
    boss.type(".rig-words input", "watch the needle, not your hands")
    boss.press("Set it")
    boss.sees("watch the needle, not your hands")
    boss.go(f"/machines/{FULMAR}")
    boss.sees("Clockwise the table goes", "one division")
    boss.press("Change this entry")
    boss.driver.execute_script(
        "const e = document.querySelector('textarea');"
        "Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value')"
        ".set.call(e, e.value.replace('\"turret_knee\"', '\"submarine\"'));"
        "e.dispatchEvent(new Event('input', {bubbles: true}))"
    )
    boss.press("Save the entry")
    boss.sees("kind: ", "not saved")
    boss.press("Set it up")
    boss.sees("Set up Fulmar", "How this head drifts")
    boss.press("Head moved")
    boss.type("[aria-label='How it was moved']", "set over for a chamfer")
    boss.press("The head was moved")
    boss.sees("moved since: set over for a chamfer")
    boss.go("/shop")
    boss.press("Walk it in")
    boss.sees("not saved")
    boss.press("Save how it is done")
    boss.until(lambda: "not saved" not in boss.text(), "it is saved")
    boss.press("Pivot:")
    boss.press("Save how it is done")
    boss.until(lambda: "not saved" not in boss.text(), "it is saved")
