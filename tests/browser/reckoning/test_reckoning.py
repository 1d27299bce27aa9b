"""The reckoner, the exercises and the crib as people use them."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from incudo import shipped
from incudo.app.practice.questions import kept_question
from incudo.demo.practising import answer_of
from incudo.demo.story import key
from incudo.launch.supervise import Supervisor
from incudo.store.practice.exercises import open_question
from tests.browser.page import Page

Open = Callable[..., Page]


def active(page: Page) -> WebElement:
    return page.driver.switch_to.active_element


def answer_to(running: Supervisor, who: str, calculation: str, slip: int | None = None) -> str:
    """What is right for the question that is open, or what a slip leads to; the page does not show it."""

    def find(w: object) -> str:
        row = open_question(w.db, key("person", who), calculation)  # type: ignore[attr-defined]
        assert row
        return answer_of(kept_question(row), slip)

    return running.unit().run(find)


@pytest.mark.long
def test_a_calculation_is_found_used_and_kept_by_keyboard_alone(browser: Open) -> None:
    """Slash, a few letters, Enter; then value by value; then onto the job card."""
    student = browser("juno")
    ActionChains(student.driver).send_keys("/").perform()
    student.until(lambda: active(student).get_attribute("id") == "search", "the search is open")
    active(student).send_keys("point")
    student.sees("Length of a drill's point")
    active(student).send_keys(Keys.ENTER)
    student.find(".reckon-form")
    search = student.find("[aria-label='Which calculation?']")
    search.send_keys("of a counter", Keys.ENTER)
    student.sees("Depth of a countersink")
    student.until(lambda: active(student).get_attribute("maxlength") == "1500", "the first value")
    for text, unit in (("0.480", "in"), ("0.257", "in"), ("82", "")):
        active(student).send_keys(Keys.CONTROL + "a" + Keys.NULL + text, Keys.TAB)
        if unit:
            active(student).send_keys(unit)
            student.find(f".ant-select-item-option-active[title='{unit}']")
            active(student).send_keys(Keys.ENTER)
            student.until(lambda: not student.shown(".ant-select-item-option-active"), "the list is closed")
            active(student).send_keys(Keys.TAB)
    student.sees("0.1283", "(Dc − Dh) / 2 / tan(A / 2)", "What changes it most")
    words = student.find("svg.sketch").get_attribute("aria-label")
    assert "0.12827 in deep" in str(words)
    note = student.find("[aria-label='Use it in my job card'] input")
    ActionChains(student.driver).send_keys(Keys.TAB * 3).perform()
    note.send_keys("both holes", Keys.TAB)
    active(student).send_keys(Keys.ENTER)
    student.sees("Saved, with its working")
    student.touch("//a[.='to the job card']")
    student.touch(
        "//*[contains(@class, 'reckoned')]//*[contains(@class, 'ant-collapse-header')][contains(., 'both holes')]"
    )
    student.sees("Depth of a countersink", "(0.48 − 0.257) / 2 / tan(41°)")


@pytest.mark.long
def test_the_bench_is_remembered_and_fills_the_values(browser: Open) -> None:
    student = browser("orla")
    student.go("/reckon/spindle-speed")
    bench = {"Machine": "Petrel", "Material": "Low-carbon steel", "Cutter": "End mill 1/2 in, 4 flutes"}
    for label, text in bench.items():
        student.choose(label, text)
    student.sees("79 to 131 ft/min", "590", "Long chips wrap round the cutter")
    student.driver.refresh()
    student.sees("590", "12 · 79 / (π · 0.5)")
    field = student.find(".reckon-form input")
    field.send_keys(Keys.CONTROL + "a", Keys.DELETE)
    student.sees("Enter every value")
    field.send_keys("0")
    student.sees("surface: must be more than 0 and at most 3280.8399 ft/min")
    field.send_keys(Keys.BACKSPACE, "100")
    student.sees("100 / (π · 0.5)")
    student.press("Use the bench's value again")
    student.sees("12 · 79 / (π · 0.5)")
    student.choose("Cutter", "End mill 1/2 in, 4 flutes, reground")
    student.sees("reground, nominally 0.5 in", "π · 0.4865")


def test_an_exercise_is_failed_and_passed(browser: Open, running: Supervisor) -> None:
    student = browser("juno")
    student.go("/exercises/boring-head")
    student.sees("right in a row", "How much do you set on the dial")
    student.until(lambda: active(student).tag_name == "input", "the answer can be typed at once")
    active(student).send_keys(answer_to(running, "juno", "boring-head", slip=2), Keys.ENTER)
    student.sees("Not right", "That is what comes out when", "It is", "The working, from where it went wrong")
    student.press("Next question")
    student.until(lambda: active(student).tag_name == "input", "the next answer")
    active(student).send_keys("much", Keys.ENTER)
    student.sees("answer: must be a plain number such as 0.2485")
    active(student).send_keys(Keys.CONTROL + "a" + Keys.NULL, answer_to(running, "juno", "boring-head"), Keys.ENTER)
    student.sees("Right", "1 right in a row")
    student.press("Next question")
    student.press("Show me the working instead")
    student.sees("Not answered", "0 right in a row")


@pytest.mark.long
def test_a_sheet_is_set_answered_and_looked_at(browser: Open) -> None:
    teacher = browser("haldane")
    teacher.go("/exercises")
    teacher.sees("Tuesday group: what goes wrong most", "Kaia Lund")
    for words in ("Climb or conventional", "Length of a drill's point"):
        teacher.touch(f"//*[@aria-label='Set a sheet']//label[contains(., \"{words}\")]")
    teacher.type("[aria-label='Set a sheet'] .exercise-form input", "Tuesday's five minutes")
    teacher.choose("Group", "Tuesday group")
    teacher.press("Set 4 questions")
    teacher.sees("Tuesday's five minutes", "not begun")
    student = browser("tavish")
    student.go("/exercises")
    student.press("Tuesday's five minutes")
    student.sees("The work lies")
    student.press("conventional")
    said = student.find(".exercise-said")
    right = "Not right" not in said.text
    student.sees("Right" if right else "It is climb")
    teacher.driver.refresh()
    mark = teacher.find("tr td .exercise-mark")
    assert (mark.find_element(By.CSS_SELECTOR, ".sr").get_attribute("textContent") == "right") is right


@pytest.mark.long
def test_a_sheet_in_class_shows_nothing_until_it_is_ended(browser: Open) -> None:
    teacher = browser("haldane")
    teacher.go("/exercises")
    teacher.touch("//*[@aria-label='Set a sheet']//label[contains(., 'Which way round')]")
    teacher.touch("//*[@aria-label='Set a sheet']//label[contains(., 'In class')]")
    teacher.type("[aria-label='Set a sheet'] .exercise-form input", "Which way, in class")
    teacher.choose("Group", "Tuesday group")
    teacher.press("Set 2 questions")
    teacher.sees("In class.", "End the sheet")
    student = browser("bryn")
    student.go("/exercises")
    student.press("Which way, in class")
    student.sees("The reckoner is closed to this group")
    student.press("climb")
    student.sees("Your answer is saved")
    assert "Right" not in student.text()
    assert "Not right" not in student.text()
    student.press("Next question")
    student.press("climb")
    student.sees("All answered: your instructor ends the sheet")
    student.go("/reckon/climb")
    student.sees("Your group has a sheet in class")
    teacher.press("End the sheet")
    teacher.until(lambda: "End the sheet" not in teacher.text(), "it is ended")
    student.go("/exercises")
    student.press("Which way, in class")
    student.sees("of 2 right", "The working")
    student.go("/reckon/climb")
    student.sees("it is")


@pytest.mark.long
def test_a_run_for_the_record_is_not_simply_left(browser: Open) -> None:
    student = browser("mirek")
    record = "//section[@data-rig='reading']//button[normalize-space()='For the record']"
    student.go("/rigs")
    student.touch(record)
    student.until(lambda: "/rig/" in student.driver.current_url, "the run is begun")
    first = student.driver.current_url
    student.go("/rigs")
    student.touch(record)
    student.sees("A run is still open on this rig", "it then counts as not reached")
    student.press("Cancel", "[role=dialog]")
    student.until(lambda: "A run is still open" not in student.text(), "nothing was done")
    student.touch(record)
    student.press("Give up: counts as not reached", "[role=dialog]")
    student.until(
        lambda: "/rig/" in student.driver.current_url and student.driver.current_url != first, "another begins"
    )
    student.driver.get(first)
    student.sees("left before it was finished")


@pytest.mark.long
def test_a_cutter_goes_over_the_counter_and_comes_back_broken(browser: Open) -> None:
    crib = browser("dacosta")
    crib.go("/crib")
    crib.sees("Hand out", "Out now")
    crib.sees("out from an earlier session", "End mill 10 mm, 4 flutes (Kaia Lund)")
    crib.find("[aria-label='What is handed out']").send_keys("5/16 2 fl")
    crib.sees("End mill 5/16 in, 2 flutes")
    crib.find("[aria-label='What is handed out']").send_keys(Keys.ENTER)
    crib.sees("creeps out of a split collet", "For whom?")
    crib.press("Juno Abara")
    crib.sees("End mill 5/16 in, 2 flutes is out with Juno Abara")
    student = browser("juno")
    student.go("/crib")
    student.sees("What you have", "End mill 5/16 in, 2 flutes")
    assert "Hand out" not in student.text()
    line = "//*[@aria-label='Out now']//*[contains(@class, 'crib-out')][contains(., '5/16 in, 2')]"
    crib.touch(f"{line}//button[.='Damaged or lost']")
    crib.sees("What happened?")
    worse = crib.driver.find_element(By.XPATH, f"{line}//button[.='broken']")
    assert not worse.is_enabled()
    active(crib).send_keys("plunged too fast")
    crib.touch(f"{line}//button[.='broken']")
    crib.until(lambda: not crib.driver.find_elements(By.XPATH, line), "it is back")
    crib.sees("plunged too fast")
    # the code of a label, as a scanner types it
    drill = "s.cutters.find(c => c.of.name === 'Drill 1/4 in').id"
    find = f"fetch('/api/stock').then(r => r.json()).then(s => arguments[0]({drill}))"
    label = f"/crib/cutters?cutter={crib.driver.execute_async_script(find)}"
    crib.find("[aria-label='What is handed out']").send_keys(f"http://shop.example{label}", Keys.ENTER)
    crib.sees("Drill 1/4 in", "For whom?")
    boss = browser("haldane")
    boss.go("/crib/cutters")
    boss.sees("Low", "To get", "End mill 1/4 in, 2 flutes")
    boss.go(label)
    assert boss.find("svg[aria-label='Drill 1/4 in from the side']")
    boss.go("/session")
    boss.sees("Out of the crib", "earlier session")


@pytest.mark.long
def test_a_table_is_looked_at_before_it_is_taken_in(browser: Open) -> None:
    boss = browser("haldane")
    boss.go("/crib/tables")
    boss.choose("Table", "materials")
    boss.find("[aria-label='Import a table'] textarea").send_keys(
        "key,name,unit_power,expansion,fluid\nwax,Machinable wax,2,100,dry\nlead,Lead,0,29,dry\n"
    )
    boss.press("Preview")
    boss.sees("1 new, 0 changed, 1 refused", "must lie between 1 and 200 W·min/cm³")
    boss.press("Materials")
    assert "Machinable wax" not in boss.text()


@pytest.mark.long
def test_an_empty_reckoner_shows_an_example_and_favourites_come_first(browser: Open) -> None:
    student = browser("kaia")
    student.go("/reckon/spindle-speed")
    student.sees("Below, an example", "step to set", "rpm")
    assert student.find(".reckon-dim [role=status]")
    assert not student.all("[aria-label='Use it in my job card']")
    # begins in the unit that is shown, and in the other when that is switched
    student.sees("ft/min")
    student.press("make it a favourite")
    student.go("/reckon/bolt-circle")
    student.sees("Favourites", "Spindle speed")
    student.press("Spindle speed", ".reckon-list")
    student.until(lambda: student.driver.current_url.endswith("/reckon/spindle-speed"), "the favourite is opened")
    student.press("one of my favourites")
    student.go("/reckon/bolt-circle")
    student.sees("Used last")
    assert "Favourites" not in student.text()


def test_words_of_the_trade_are_found(browser: Open) -> None:
    student = browser("orla")
    student.go("/words?find=burr")
    student.sees("Words of the trade")
    student.until(lambda: student.all("[data-word]")[0].get_attribute("data-word") == "burr", "the word comes first")


@pytest.mark.long
def test_a_word_explains_itself_where_it_is_met_and_is_found_by_its_other_name(browser: Open) -> None:
    student = browser("orla")
    student.go("/ladder")
    student.find("[aria-label^='Milling steps']").click()
    word = student.find(".ladder-skill dfn.term")
    means = {t.word: t.means for t in shipped.glossary().terms}
    student.driver.execute_script("arguments[0].focus()", word)
    student.sees(means[word.text.lower()])
    student.find(".top input").send_keys("swarf")
    student.sees("word, also called swarf")
