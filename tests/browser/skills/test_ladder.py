"""The instructor's desk: skills and questions changed on the page, a class list imported, a skill reinstated."""

from __future__ import annotations

import json
import urllib.request
from collections.abc import Callable
from datetime import UTC, datetime

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from incudo import shipped
from incudo.app.skills.banks import BankCommand, change_bank
from incudo.demo.load import key
from incudo.demo.signing import reach_standard
from incudo.demo.story import Story, who
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page

Open = Callable[..., Page]


def put(page: Page, css: str, text: str) -> None:
    """Put a text into a field as a paste would."""
    page.driver.execute_script(
        "const e = arguments[0]; const p = e.tagName === 'TEXTAREA' ? HTMLTextAreaElement : HTMLInputElement;"
        "Object.getOwnPropertyDescriptor(p.prototype, 'value').set.call(e, arguments[1]);"
        "e.dispatchEvent(new Event('input', {bubbles: true}))",
        page.find(css),
        text,
    )


@pytest.mark.long
def test_a_skill_is_changed_and_a_circle_is_refused(browser: Open) -> None:
    boss = browser("haldane")
    boss.press("Shop", "nav")
    boss.press("Teaching", ".shelf")
    boss.press("The ladder")
    boss.sees("The skills of this shop", "49 skills")
    boss.find("[aria-label='Boring']").send_keys(Keys.ENTER)
    boss.sees("What must be shown", "Usual mistakes")
    boss.press("Change this skill")
    boss.type("[role=dialog] input[maxlength='80']", "Boring with a head")
    boss.touch("//*[@role='dialog']//div[@class='rests']//label[normalize-space()='Bolt circle']")
    boss.press("Check and save", "[role=dialog]")
    boss.sees("Boring with a head")
    boss.until(lambda: not boss.all("[role=dialog]"), "it is saved")
    boss.find("[aria-label='Bolt circle']").send_keys(Keys.ENTER)
    boss.press("Change this skill")
    boss.touch("//*[@role='dialog']//div[@class='rests']//label[normalize-space()='Boring with a head']")
    boss.press("Check and save", "[role=dialog]")
    boss.sees("must not run in a circle")
    boss.press("Cancel", "[role=dialog]")


def test_a_student_reads_the_ladder_by_keyboard(browser: Open) -> None:
    student = browser("orla")
    student.press("Skills", "nav")
    student.press("Ladder", ".shelf")
    student.sees("Where I am", "in reach")
    box = student.find("[aria-label^='Measuring depth: ready to be seen']")
    box.send_keys(Keys.ENTER)
    student.sees("sets the base of the depth gauge flat", "To the record of this skill")
    assert "Change this skill" not in student.text()
    student.press("To the record of this skill")
    student.sees("My skills", "Evidence")


@pytest.mark.long
def test_a_question_is_edited_added_and_retired(browser: Open) -> None:
    boss = browser("haldane")
    boss.go("/questions")
    boss.sees("What the class fails most")
    boss.press("Measuring", ".registers")
    boss.sees("Version 1")
    boss.press("Add a question")
    put(boss, "form label:nth-of-type(1) textarea", "What comes before every reading?")
    for label, words in (
        ("Right answers", "Faces wiped and deburred"),
        ("Wrong answers", "A firm turn of the thimble"),
        ("Why", "A burr or a chip adds itself to the size."),
        ("What happens otherwise", "The part is cut too small."),
    ):
        field = boss.driver.find_element(
            By.XPATH, f"//form//label[starts-with(normalize-space(), '{label}')]//textarea"
        )
        field.send_keys(words)
    boss.press("Save as the next version")
    boss.sees("Version 2", "What comes before every reading?")
    boss.press("What comes before every reading?", ".bank-columns .ant-table")
    boss.touch("//label[contains(., 'retired')]")
    boss.press("Save as the next version")
    boss.sees("Version 3", "retired")


@pytest.mark.long
def test_a_class_list_is_reported_line_by_line_and_imported(browser: Open, running: Supervisor) -> None:
    boss = browser("haldane")
    boss.press("Class", "nav")
    boss.press("Import a class list")
    put(boss, "[role=dialog] input[role=combobox]", "Saturday group")
    put(boss, "[role=dialog] textarea", "name,login\nUna Farrow,una\nOrla Again,orla\n")
    boss.press("Preview")
    boss.sees("1 good, 1 with faults", "orla is taken by somebody in the shop", "Saturday group is a new group")
    take = [b for b in boss.all("[role=dialog] .ant-btn-primary") if b.text.startswith("Import ")]
    assert not take[0].is_enabled(), "nothing from a list with faults unless told so"
    boss.touch("//*[@role='dialog']//label[contains(., 'leave the others out')]")
    boss.press("Import 1 into Saturday group", "[role=dialog]")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("Import", "[role=dialog]:has(.pin)")
    boss.sees("1 student is in Saturday group now")
    code = boss.find("[role=dialog] code").text
    slips = boss.driver.find_elements(By.CSS_SELECTOR, ".slips .slip")
    assert len(slips) == 1, "one slip on paper, and nothing of it on the screen"
    assert not slips[0].is_displayed()
    boss.press("Done", "[role=dialog]")
    boss.sees("Una Farrow")
    body = json.dumps({"code": code, "password": "a password of hers", "pin": None}).encode()
    headers = {"Content-Type": "application/json"}
    urllib.request.urlopen(
        urllib.request.Request(f"{running.address}/api/codes/take", body, headers), timeout=60
    ).close()
    una = browser("una", password="a password of hers")
    una.sees("Before you work here")


@pytest.mark.long
def test_what_was_withdrawn_is_given_back_with_a_reason(browser: Open) -> None:
    boss = browser("haldane")
    boss.go(f"/skills/{key('person', 'juno')}?skill=square-block")
    boss.sees("withdrawn on", "Wren Dacosta", "to be seen again from the first cut")
    boss.press("Reinstate", ".skill-panel")
    boss.type("[role=dialog] .pin", "1407")
    assert not [b for b in boss.all("[role=dialog] .ant-btn-primary") if b.is_enabled()], "a reason is needed"
    boss.type("[role=dialog] textarea", "seen from the first cut to the last, hands where they belong")
    boss.press("Reinstate", "[role=dialog]")
    boss.sees("reinstated", "hands where they belong")
    student = browser("juno")
    student.until(lambda: "Squaring a block: withdrawn" not in student.text(), "it holds again")


def test_one_critical_no_stops_a_demonstration(browser: Open, running: Supervisor) -> None:
    reach_standard(Story(running.unit(), datetime.now(UTC)), who("nell"), "hold", 3, 1)
    boss = browser("haldane")
    boss.go(f"/assess/{key('person', 'nell')}?skill=clamp-table")
    boss.sees("Clamping to the table", "must be right")
    critical = boss.driver.find_element(By.XPATH, "//li[contains(., 'must be right')]//button[contains(., 'no')]")
    critical.click()
    boss.sees("Stopped: a point that must be right was not", "Show again")
    boss.press("1 not yet", "aside")
    boss.type("[role=dialog] textarea", "strap pressed on the packing, not on the part")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("1 not yet", "[role=dialog]")
    boss.sees("On the ladder")
    boss.go(f"/skills/{key('person', 'nell')}?skill=clamp-table")
    boss.sees("shown, not yet", "strap pressed on the packing", "ready to be seen")


@pytest.mark.long
def test_drawings_are_judged_and_words_known(browser: Open, running: Supervisor) -> None:
    """An instructor keeps two questions of a bank; a student answers them by touching drawings and a word."""
    asked = {"ho-see-clamps", "ho-word-collet"}
    bank = shipped.banks()["holding"].model_dump(mode="json")
    for q in bank["questions"]:
        q["retired"] = q["id"] not in asked
    command = BankCommand(file=json.dumps({**bank, "draw": 2, "pass_percent": 50}))
    unit = running.unit()
    unit.run(lambda w: change_bank(w, who("haldane"), "holding", command))
    unit.engine.dispose()
    boss = browser("haldane")
    boss.go("/questions/holding")
    boss.press("Which clamps would you tighten?")
    boss.find(".judged .sketch[aria-label='clamp level, bolt close to the work']")
    student = browser("piet", 834, 1194, touch=True)
    student.pick("main input[type=checkbox]")
    student.press("Sign as Piet Halloran")
    student.find(".bench-next")
    student.go("/knowledge/holding")
    student.press("Begin")
    for _ in asked:
        heading = student.find("form h2").text
        if heading.startswith("Which word means this"):
            student.press("collet", "form .choose")
            student.press("Submit my answer")
            student.sees("Right.", "The other words mean something else. arbor:")
        else:
            assert "bolt close to the work" not in student.text(), "what is drawn is not also said"
            for words in ("clamp level, bolt close to the work", "clamp level, bolt close to the heel block"):
                student.find(f".judged button[aria-label='{words}']").click()
            student.press("Submit my answer")
            student.sees("No. Right is: clamp level, bolt close to the work; heel a little higher than the work")
            assert [len(student.all(f".judged .choice.{look}")) for look in ("right", "wrong")] == [2, 1]
        student.pick(".knowledge .ant-btn-primary")
    student.sees("Not passed", "1 of 2 right, 1 critical wrong")
