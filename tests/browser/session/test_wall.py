"""The wall: let in by an instructor, read from the other end of the shop, nothing to touch."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from incudo.demo.people import WALL_KEY
from incudo.launch.browser import resize
from tests.browser.kernel.test_every_page import AXE, CUT, RUN_AXE, in_pseudo, outside
from tests.browser.page import Page

Open = Callable[..., Page]

#: The texts of the wall with the size of their letters, in pixels.
LETTERS = """
const found = [];
const walker = document.createTreeWalker(document.querySelector(".wall"), NodeFilter.SHOW_TEXT);
for (let n = walker.nextNode(); n; n = walker.nextNode())
  if (n.data.trim())
    found.push([n.parentElement.closest(".wall-who") !== null, parseFloat(getComputedStyle(n.parentElement).fontSize)]);
return found;
"""


@pytest.mark.long
def test_the_wall_is_read_from_far_and_can_do_nothing(browser: Open) -> None:
    wall = browser("lio")
    wall.driver.delete_all_cookies()
    resize(wall.driver, 1920, 1080)
    wall.go(f"/wall#{WALL_KEY}")
    wall.sees("Tuesday group", "Orla Finnis", "Petrel", "wait")
    assert wall.driver.current_url.endswith("/wall"), "the key is not left in the address"
    letters = wall.driver.execute_script(LETTERS)
    assert len(letters) > 20
    for name, size in letters:
        assert size >= (48 if name else 32)
    assert wall.driver.execute_script(CUT) == []
    assert wall.driver.execute_script("return document.documentElement.scrollHeight <= innerHeight")
    assert not wall.all("button, a, input"), "there is nothing to touch"
    wall.driver.refresh()
    wall.sees("Orla Finnis")


@pytest.mark.long
def test_the_wall_is_spoken_and_keeps_nobody_out(browser: Open) -> None:
    """In the pseudo-locale nothing stands outside the catalogue; axe-core finds nothing by day and in the evening."""
    wall = browser("lio")
    resize(wall.driver, 1920, 1080)
    for theme in ("day", "evening"):
        wall.driver.execute_script("localStorage.setItem('incudo-theme', arguments[0])", theme)
        wall.go(f"/wall#{WALL_KEY}")
        wall.driver.refresh()
        wall.find(".wall-machine")
        wall.driver.execute_script(AXE())
        assert wall.driver.execute_async_script(RUN_AXE, None) == []
    wall.driver.execute_script("localStorage.removeItem('incudo-theme')")
    with in_pseudo(wall):
        wall.go("/wall")
        wall.find(".wall-machine")
        assert outside(wall) == []


@pytest.mark.long
def test_a_wall_is_let_in_and_switched_off_by_an_instructor(browser: Open) -> None:
    boss, wall = browser("haldane"), browser("dov")
    boss.go("/shop/devices")
    boss.type("section input", "Wall by the door")
    boss.press("Make a key")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("Make a key", "[role=dialog]")
    key = boss.find("[role=status] .key").text
    assert len(key.split()) == 4
    wall.go("/wall")
    wall.type(".wall-key input", "abcd efgh")
    wall.press("Show the shop")
    wall.sees("key is not known")
    wall.type(".wall-key input", key.upper())
    wall.press("Show the shop")
    wall.sees("Tuesday group")
    boss.press("Switch off", "[data-row-key]:nth-child(3)")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("Switch off", "[role=dialog]")
    boss.sees("switched off")
    wall.sees("This is a wall")
