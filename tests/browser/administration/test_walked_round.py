"""A machine is walked round with a tablet, handle by handle; the first reading of its dial is right."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from selenium.webdriver.common.by import By

from incudo.core.kernel.quantity import Unit
from incudo.core.locating.dial import Dial, Turning
from tests.browser.locating.test_locating import asked, follow
from tests.browser.page import Page
from tests.mill import MillAxis

Open = Callable[..., Page]
#: The machine as it stands there: what each handle does when it is turned clockwise, what its numbers do, a turn in mm,
#: its divisions. None of them is as the kind has it.
REAL = {"x": ("left", "fall", "2.5", 50), "y": ("towards me", "rise", "3", 60), "quill": ("down", "fall", "1", 20)}


def walk(page: Page, axis: str) -> None:
    """Turn one handle and say what one saw."""
    way, numbers, per_turn, divisions = REAL[axis]
    for said in (way, numbers):
        item = f"//*[@data-handle='{axis}']//label[contains(@class, 'ant-segmented-item')][normalize-space()='{said}']"
        page.touch(item)
    page.type(f"[data-handle='{axis}'] input[inputmode='decimal']", per_turn)
    page.type(f"[data-handle='{axis}'] .ant-input-number input", str(divisions))


def test_a_machine_walked_round_gives_the_right_first_reading(browser: Open) -> None:
    page = browser("haldane", 834, 1194, touch=True)
    page.go("/shop/machines/new")
    page.press("Bench mill, metric")
    asked(page, "What it is called in the shop", "Tern")
    for axis in REAL:
        walk(page, axis)
    page.press("Add the machine")
    page.sees("Tern", "one division 0.05 mm")
    page.press("Moves and dials")
    page.sees("Moves on Tern", "2.5 mm a turn, 50 divisions of 0.05")

    # turned clockwise the table goes left, so the cutter goes up the X axis, and the numbers fall
    x = Dial(Fraction(5, 2), 50, Fraction(0), Turning.CLOCKWISE, Turning.ANTICLOCKWISE, Unit.MM)
    mill = MillAxis(x, Fraction(0))
    asked(page, "Go to, mm", "7.3")
    page.sees("To 7.30 mm")
    line = page.find(".move-list tbody tr[data-row-key]")
    follow(mill, line.text)
    assert mill.at == Fraction("7.3"), line.text
    # three turns of 2.5 less 0.2, with numbers that fall: 0.2 before the third 0 is 0.2 on the dial
    assert mill.shows == Fraction("0.2")
    assert line.find_elements(By.TAG_NAME, "td")[2].text == "0.20 mm"
