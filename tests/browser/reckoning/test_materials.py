"""A material entered by form, in the real interface."""

from __future__ import annotations

from collections.abc import Callable

from selenium.webdriver.common.keys import Keys

from tests.browser.page import Page


def test_a_material_is_entered_by_what_it_cuts_like(browser: Callable[..., Page]) -> None:
    """Numbers are asked about before they are saved; what cannot be is said, and nothing that was typed is lost."""
    boss = browser("haldane")
    boss.go("/crib/materials")
    boss.press("Add a material")
    boss.type(".ant-modal input[maxlength='80']", "Silicon bronze")
    boss.choose("It cuts like", "Brass, free-cutting")
    boss.sees("rpm", "per tooth")

    def speed(n: int, value: str) -> None:
        field = boss.all(".material-range input")[n]
        field.send_keys(Keys.CONTROL + "a" + Keys.NULL, value, Keys.TAB)

    speed(0, "900")
    speed(1, "990")
    boss.sees("900 m/min is more than twice what any other material here is cut at")
    speed(0, "995")
    boss.sees("must not be less than v_low")
    boss.press("Add material", within=".ant-modal")
    boss.sees("must not be less than v_low")
    assert [f.get_attribute("value") for f in boss.all(".material-range input")[:2]] == ["995", "990"]
    speed(0, "60")
    speed(1, "90")
    boss.until(lambda: "must not be less" not in boss.text(), "the refusal goes with its cause")
    boss.press("Add material", within=".ant-modal")
    boss.until(lambda: not boss.shown(".ant-modal"), "the dialog closes")
    boss.press("Silicon bronze")
    boss.sees("60–90 m/min", "measured here")
    boss.press("Change", within=".crib-columns")
    boss.sees("Change material")
