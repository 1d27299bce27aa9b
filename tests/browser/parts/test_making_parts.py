"""An instructor makes a part from nothing, with the mouse and again with the keyboard, and gives it to a group."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from ezdxf.filemanagement import new
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from incudo.demo.load import key
from tests.browser.page import Page

Open = Callable[..., Page]

#: Touches something of this name where nothing else lies over it, in one turn: the drawing cannot move meanwhile.
TOUCH = """
for (const e of document.querySelectorAll(`.pick[data-name="${arguments[0]}"]`)) {
  e.scrollIntoView({block: "center"});
  const box = e.getBoundingClientRect();
  for (const [x, y] of [[.5, .5], [.3, .3], [.7, .7], [.1, .1], [.9, .9], [.02, .5], [.98, .5], [.5, .02], [.5, .98]]) {
    const at = [box.x + box.width * x, box.y + box.height * y];
    if (document.elementFromPoint(...at) === e) {
      e.dispatchEvent(new MouseEvent("click", {bubbles: true, clientX: at[0], clientY: at[1]}));
      return true;
    }
  }
}
return false;
"""


def touch(page: Page, *names: str) -> None:
    """Touch things on the drawing."""
    for name in names:
        page.until(lambda n=name: page.driver.execute_script(TOUCH, n), f"{name} cannot be touched")
        page.until(lambda n=name: page.all(f".pick.on[data-name='{n}']"), f"{name} is chosen")


def field(page: Page, kind: str, label: str, nth: int = 1) -> str:
    """A field of the last feature of a kind."""
    box = f"(//fieldset[contains(@class, 'feature')][legend[normalize-space()='{kind}']])[last()]"
    return f"({box}//label[starts-with(normalize-space(), '{label}')])[{nth}]//input"


def write(page: Page, kind: str, label: str, value: str, nth: int = 1) -> None:
    xpath = field(page, kind, label, nth)
    element = page.until(lambda: page.driver.find_elements(By.XPATH, xpath), f"no {label} of {kind}")[0]
    element.send_keys(Keys.CONTROL + "a" + Keys.NULL, value)


def labelled(page: Page, label: str, value: str) -> None:
    """Write into the field with this label."""
    xpath = f"//label[starts-with(normalize-space(), '{label}')]//input"
    element = page.until(lambda: page.driver.find_elements(By.XPATH, xpath), f"no {label}")[0]
    element.send_keys(Keys.CONTROL + "a" + Keys.NULL, value)


def choose(page: Page, kind: str, label: str, option: str) -> None:
    """Choose from a list of the last feature of a kind, with the keyboard."""
    element = page.until(lambda: page.driver.find_elements(By.XPATH, field(page, kind, label)), f"no {label}")[0]
    element.send_keys(option)
    element.send_keys(Keys.ENTER)


def well(page: Page, features: int, asked: int) -> None:
    """So many features and requirements, and nothing to mend."""
    page.sees(f"Features, {features}", f"Asked for, {asked}")
    page.until(lambda: "to fix" not in page.text(), "nothing to mend")


@pytest.mark.long
def test_a_part_is_made_by_touching_and_given_to_a_group(browser: Open) -> None:
    boss = browser("haldane")
    boss.press("Parts", "nav")
    boss.press("New part")
    boss.press("Flat bar")
    boss.sees("Nothing is cut yet", "flat bar 28 x 55, sawn 84 long", "To come off: X 4.0 mm")
    touch(boss, "top")
    boss.press("Step")
    boss.sees("Features, 1")
    write(boss, "Step", "Depth", "25")
    boss.sees("must be less than 25.0 mm: nothing would be left below it", "1 to fix")
    assert boss.all(".plate path"), "what cannot be made leaves the drawing as it was"
    write(boss, "Step", "Depth", "8.0")
    boss.until(lambda: "nothing would be left" not in boss.text(), "it is mended")
    touch(boss, "top")
    boss.press("Pocket")
    write(boss, "Pocket", "Size, X", "20.0")
    touch(boss, "top")
    boss.press("Hole")
    boss.sees("would not start in full metal")
    write(boss, "Hole", "Place, X", "10.0")
    write(boss, "Hole", "Place, Y", "15.0")
    boss.press("Row", "fieldset")
    choose(boss, "Hole", "Along", "Y")
    write(boss, "Hole", "How many", "2")
    write(boss, "Hole", "Pitch", "20.0")
    touch(boss, "top")
    boss.press("Chamfer")
    boss.sees("no outside edge between these two faces")
    choose(boss, "Chamfer", "At side", "left")
    touch(boss, "front")
    boss.press("Slot")
    touch(boss, "top")
    boss.press("Angled face")
    choose(boss, "Angled face", "At side", "rear")
    write(boss, "Angled face", "Begins in", "5.0")
    boss.sees("Features, 6")
    boss.until(lambda: boss.text().count("to fix") == 2, "only what is asked is missing")
    wanted = (
        ("left", "right"),
        ("front", "rear"),
        ("bottom", "step.floor"),
        ("left", "step.wall"),
        ("left", "hole 1.axis"),
        ("hole 1.axis", "hole 2.axis"),
        ("hole.bore",),
        ("top",),
    )
    for n, names in enumerate(wanted, start=1):
        touch(boss, *names)
        boss.press("Add their distance" if len(names) == 2 else "Add it to the drawing")
        boss.sees(f"Asked for, {n}")
    well(boss, 6, 8)
    # a step back and on again
    boss.press("Undo")
    boss.sees("Asked for, 7")
    boss.press("Redo")
    well(boss, 6, 8)
    labelled(boss, "Name of the part", "Rubbing strake clamp")
    boss.press("Save the part")
    boss.sees("Assign to students", "Rubbing strake clamp", "first version")
    boss.until(lambda: len(boss.all(".plate [data-c]")) == 8, "the drawing has eight balloons")
    boss.press("Everybody who has not had it")
    boss.press("Assign to")
    boss.sees("Assigned to Orla Finnis", "Assigned to Ines Calder")
    labelled(boss, "Bars on hand, lengths", "500 700")
    labelled(boss, "The saw takes", "two")
    boss.press("Work it out")
    boss.sees("must be a plain number")
    labelled(boss, "The saw takes", "2")
    boss.press("Work it out")
    boss.sees("Stamp", "Left of the bar", "pieces of flat bar 28 x 55")
    boss.press("Open the job card")
    boss.sees("Rubbing strake clamp", "Ready")


def enter(page: Page, words: str) -> None:
    """Press a button with the keyboard."""
    button = f"//button[not(@disabled)][normalize-space()='{words}']"
    page.until(lambda: page.driver.find_elements(By.XPATH, button), f"no button {words}")[0].send_keys(Keys.ENTER)


def pick(page: Page, *names: str) -> None:
    """Choose things of the part with the keyboard."""
    box = "//label[starts-with(normalize-space(), 'Chosen on the part')]//input"
    for name in names:
        element = page.until(lambda: page.driver.find_elements(By.XPATH, box), "the list of names")[0]
        element.send_keys(name)
        element.send_keys(Keys.ENTER)
    page.until(
        lambda: len({e.get_attribute("data-name") for e in page.all(".pick.on")}) == len(names), f"{names} chosen"
    )


def test_a_part_is_made_with_the_keyboard_alone(browser: Open) -> None:
    boss = browser("haldane")
    boss.go("/parts/new")
    enter(boss, "Round bar")
    boss.sees("round bar 25, sawn 84 long")
    enter(boss, "Flat on a bar")
    enter(boss, "Slot")
    choose(boss, "Slot", "Along", "X")
    write(boss, "Slot", "From", "40.0")
    write(boss, "Slot", "To", "60.0")
    pick(boss, "left end", "right end")
    enter(boss, "Add their distance")
    pick(boss, "bottom", "flat on a bar")
    enter(boss, "Add their distance")
    boss.sees("Asked for, 2")
    well(boss, 2, 2)
    boss.find("body").send_keys(Keys.CONTROL + "z")
    boss.sees("Asked for, 1")
    enter(boss, "Save the part")
    boss.sees("Assign to students")


@pytest.mark.long
def test_a_changed_part_is_drawn_before_it_is_saved(browser: Open) -> None:
    boss = browser("haldane")
    boss.go(f"/parts/{key('project', 'shackle-pin')}")
    boss.press("Change this part")
    boss.touch("//*[@role='tab'][starts-with(normalize-space(), 'Stock')]")
    write(boss, "Finished", "Length", "71.0")
    boss.until(lambda: any("71.0" in e.text for e in boss.all(".plate text")), "it is drawn")
    labelled(boss, "What is changed", "one longer")
    boss.press("Save as version 2")
    boss.sees("one longer")
    # who had it before keeps what they were given
    student = browser("bryn")
    student.press("Shackle pin", ".bench-columns")
    student.until(lambda: any("70.0" in e.text for e in student.all(".plate text")), "the old length")
    assert "71.0" not in student.text()


@pytest.mark.long
def test_a_plate_comes_in_from_a_dxf_outline(browser: Open, tmp_path: Path) -> None:
    file = new("R2010")
    file.header["$INSUNITS"] = 4
    space = file.modelspace()
    space.add_lwpolyline([(0, 0), (90, 0), (90, 60), (0, 60)], close=True)
    for x in (15, 75):
        space.add_circle((x, 30), 4)
    space.add_lwpolyline([(40, 20), (50, 20), (45, 40)], close=True, dxfattribs={"layer": "STRAY"})
    path = tmp_path / "outline.dxf"
    file.saveas(path)
    boss = browser("haldane")
    boss.go("/parts/new")
    boss.sees("A plate from a DXF outline")
    labelled(boss, "Thickness of the plate", "8")
    outline = "input[type=file][accept='.dxf']"
    boss.until(lambda: boss.driver.find_elements(By.CSS_SELECTOR, outline), "the file can be chosen")
    boss.driver.find_element(By.CSS_SELECTOR, outline).send_keys(str(path))
    boss.sees("Not everything in the file was understood", "STRAY")
    boss.press("Go on without them")
    boss.sees("Features, 2")
    touch(boss, "left", "right")
    boss.press("Add their distance")
    boss.sees("Asked for, 1")
    labelled(boss, "Name of the part", "Fender plate")
    boss.press("Save the part")
    boss.sees("Fender plate", "first version")


@pytest.mark.long
def test_the_library_is_found_through(browser: Open) -> None:
    boss = browser("haldane")
    boss.go("/parts")
    boss.sees("Bilge strainer", "Tide block")
    boss.choose("Skill", "Boring")
    boss.until(lambda: len(boss.all(".part")) == 1, "one part is bored")
    boss.sees("Sheave housing")
    boss.type("[role=search] input[type=text]", "no such thing")
    boss.sees("No part matches")
