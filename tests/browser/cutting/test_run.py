"""The run card beside the machine: step by step, the network gone in between, a reading questioned, a broken cutter."""

from __future__ import annotations

from collections.abc import Callable

from incudo.launch.shots import job
from incudo.launch.supervise import Supervisor
from tests.browser.kernel.test_offline import cut, waits_for_worker
from tests.browser.page import Page

Open = Callable[..., Page]


def at(page: Page) -> int:
    return int(str(page.find(".run-page").get_attribute("data-at")))


def kind(page: Page) -> str:
    return str(page.find(".run-step").get_attribute("data-kind"))


def done(page: Page) -> None:
    """One step is done, and the next one is shown."""
    before = at(page)
    page.press("Done", within=".run-step")
    page.until(lambda: at(page) == before + 1, "the next step is shown")


def read(page: Page, value: str) -> None:
    page.type(".run-reading input", value)
    page.press("Save reading")


#: How far the card is that would be shown without the network.
KEPT = """
const [path, told] = arguments;
caches.open("incudo-seen").then((c) => c.match(path)).then((r) => r && r.json()).then((c) => told(c ? c.at : -1));
"""


def kept(page: Page) -> int:
    path = "/api" + str(page.driver.execute_script("return location.pathname")).replace("/job/", "/job-cards/")
    return int(page.driver.execute_async_script(KEPT, path))


def test_a_part_is_cut_by_the_card(browser: Open, running: Supervisor) -> None:
    student = browser("orla", worker=True)
    waits_for_worker(student)
    student.go(job("orla", "keel-step-gauge") + "/run")
    student.sees("Holding 1: clamp the work", "Bottom up", "step 1 of")
    student.find(".run-picture svg")
    done(student)
    student.sees("Put the cutter in", "Isolate the spindle first")
    student.until(lambda: kept(student) == 1, "it is sent, and its answer kept for when the network is gone")
    cut(running)
    try:
        done(student)
        done(student)
        student.sees("2 entries wait in this browser")
        student.driver.refresh()
        student.sees("2 entries wait in this browser")
        student.until(lambda: at(student) == 3, "what waits counts as done")
        student.find(".run-picture svg")
    finally:
        running.start_web()
    student.until(lambda: "in this browser" not in student.text(), "they are sent by themselves")
    while kind(student) != "measure":
        done(student)
    # a pass said how far to turn and what is read then
    student.sees("0.910 in is expected")
    before = at(student)
    read(student, "0.950")
    student.sees("has taken nothing")
    assert at(student) == before
    read(student, "0.913")
    student.sees("Last pass", "0.053 in")
    student.press("Something is not right")
    student.press("The cutter broke")
    student.sees("Z is lost with the cutter")
    student.press("Call the instructor")
    student.sees("Called")
    boss = browser("haldane")
    boss.go("/floor")
    boss.sees("The cutter broke")
