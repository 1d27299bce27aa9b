"""Finding a part as a person does: a mill with play in the one hand, the page in the other."""

from __future__ import annotations

import re
from collections.abc import Callable
from fractions import Fraction

import pytest
from selenium.webdriver.common.keys import Keys

from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.locating.dial import Dial, Turning
from incudo.demo.load import key
from incudo.launch.shots import job
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page
from tests.browser.practice.rigs import do, play_well, start
from tests.mill import MillAxis

Open = Callable[..., Page]
PETREL = key("machine", "petrel")
IN = MM_PER_INCH
#: Petrel's X handle as it stands in the register, with 0.024 in (0.6 mm) of backlash.
X = Dial(IN / 5, 200, IN * Fraction("0.024"), Turning.ANTICLOCKWISE, Turning.CLOCKWISE, Unit.INCH)
TIP = IN / 5
#: What a finished part may be out by where it was located: a thou.
STANDARD = IN / 1000


def as_read(m: MillAxis) -> str:
    """What one reads off the dial: half a division."""
    return f"{float(round(m.shows / IN * 2000) / Fraction(2000)):.4f}"


def asked(page: Page, label: str, text: str) -> None:
    """Type into the field of this name."""
    field = page.until(
        lambda: page.driver.find_elements("xpath", f"//label[contains(normalize-space(.), '{label}')]//input"),
        f"no field {label!r}",
    )[0]
    field.send_keys(Keys.CONTROL + "a" + Keys.NULL, text)


def touched_twice(page: Page, first: str, second: str) -> None:
    asked(page, "Touch 1", first)
    asked(page, "Touch 2", second)


def tick_all(page: Page) -> None:
    for box in page.all(".find-checks input"):
        if not box.is_selected():
            box.click()


def follow(m: MillAxis, text: str) -> None:
    """Turn as a line says: "↺ 6 turns 150 div then ↻ 1 turn 24 div with the slack"."""
    for arrow, turns, divisions in re.findall(r"([↻↺])\s*(?:(\d+) turns?)?\s*(?:(\d+½?|½) div)?", text):
        count = float(divisions.replace("½", ".5") or 0) if divisions else 0
        way = Turning.CLOCKWISE if arrow == "↻" else Turning.ANTICLOCKWISE
        m.turn(way, int(turns or 0) * m.dial.turn + Fraction(count) * m.dial.division)


@pytest.mark.long
@pytest.mark.timeout(600)
def test_a_corner_is_found_on_a_worn_machine_by_following_the_page(browser: Open) -> None:
    student = browser("juno")
    student.go(f"/machines/{PETREL}/moves")
    student.press("Y, front")
    student.press("Measure it")
    for label in ("In the middle, reading 1", "In the middle, reading 2"):
        asked(student, label, "0.0240")
    student.press("Turning back, the numbers rise")
    student.press("Save this measurement")
    # another handle than the one that is found with; one student's measurement is a proposal
    student.sees("0.024 in in the middle", "Proposed: used once")

    student.go(job("juno", "keel-step-gauge") + "/find")
    student.sees("not found yet")
    m = MillAxis(X, X.backlash, at=IN * Fraction("3.7"), ring=IN * Fraction("1.0413"))
    left = IN * Fraction("4.2137")

    # one touch come to from the other side: the slack is not taken up, and the page says so
    good = m.come_to(left - TIP / 2, 1) and as_read(m)
    m.come_to(left - TIP / 2, -1)
    touched_twice(student, good, as_read(m))
    student.sees("just this axis' backlash, 0.024 in")
    assert not [b for b in student.all("button") if "Keep it" in b.text]

    m.come_to(left - TIP / 2, 1)
    again = as_read(m)
    touched_twice(student, good, again)
    student.sees("The touches agree", "Half the tip is 0.100 in")
    tick_all(student)
    student.press("Save to the datum record")
    student.find("[data-datum='x'][data-stands='true']")

    # over the edge by half the tip, on in the same sense; then every place as it is listed
    m.turn(X.turning(1), TIP / 2)
    assert abs(m.at - left) <= STANDARD
    rows = student.until(lambda: student.all("[data-axis='x'] [data-place]"), "the places are listed")
    stood = []
    for row in rows:
        follow(m, row.text)
        place = Fraction(re.findall(r"wall (-?[\d.]+) in", row.text)[0]) * IN
        assert abs(m.at - left - place) <= STANDARD, row.text
        stood.append((place, m.screw))

    # who goes straight back by the dial, without going past, is out by the backlash
    place, screw = stood[0]
    m.turn(X.turning(-1), m.screw - screw)
    assert abs(abs(m.at - left - place) - X.backlash) <= STANDARD

    # the other edge makes it a corner
    student.touch('//*[@aria-label="the part\'s front edge"]')
    touched_twice(student, "0.1120", "0.1125")
    tick_all(student)
    student.press("Save to the datum record")
    student.find("[data-datum='y'][data-stands='true']")

    # another datum, other dial readings, on the job card as well
    before = [r.text for r in student.all("[data-axis='x'] [data-place]")]
    student.touch('//*[@aria-label="the part\'s left edge"]')
    touched_twice(student, "0.0710", "0.0710")
    tick_all(student)
    student.press("Save to the datum record")
    student.until(lambda: [r.text for r in student.all("[data-axis='x'] [data-place]")] != before, "they follow")
    student.go(job("juno", "keel-step-gauge"))
    student.sees("Keel step gauge")


@pytest.mark.long
def test_who_never_held_a_finder_sets_zero_by_the_pages_guidance(browser: Open) -> None:
    student = browser("juno")
    start(student, "edge", "Clean edge", "With guidance")
    kicked = 0
    for _ in range(120):
        lit = student.find(".rig-controls .ant-btn-primary")
        name = lit.get_attribute("aria-label") or lit.text
        if name == "Finish":
            break
        if name == "Note the touch":
            kicked += 1
            assert student.find(".edge-view").get_attribute("data-look") == "kicked"
        do(student, name)
    assert kicked >= 2
    student.press("Finish", ".rig-controls")
    student.sees("To standard", "with guidance: does not count", "off the edge; allowed")


def test_questions_are_answered_and_a_wrong_reading_is_named(browser: Open) -> None:
    student = browser("juno")
    start(student, "reading", "Dial and thimble", "With guidance")
    student.find(".plan.reading")
    lit = student.find(".rig-controls .ant-btn-primary").text
    wrong = next(b.text for b in student.all(".rig-controls .ant-btn") if b.text not in (lit, "Finish"))
    do(student, wrong)
    student.sees(f"Right is: {lit}.")


@pytest.mark.long
@pytest.mark.parametrize(
    ("rig", "level"),
    [
        ("handle", "There and back"),
        ("bore", "A bore, nearly central"),
        ("way", "And cutters"),
        ("drawing", "Frames"),
        ("planning", "Find the fault"),
        ("trace", "Small errors"),
    ],
)
def test_each_rig_can_be_played_to_the_standard(browser: Open, running: Supervisor, rig: str, level: str) -> None:
    student = browser("bryn")
    play_well(student, running, rig, level)
