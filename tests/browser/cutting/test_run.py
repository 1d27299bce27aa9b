"""The run card beside the machine: step by step, the network gone in between, a reading questioned, a broken cutter."""

from __future__ import annotations

from collections.abc import Callable

import pytest

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
    stood = at(student)
    student.press("Continue from: Put the cutter in")
    student.until(lambda: kind(student) == "cutter", "the card goes on where the new cutter is put in")
    assert at(student) < stood
    boss = browser("haldane")
    boss.go("/floor")
    boss.sees("The cutter broke")
    boss.go("/class")
    boss.sees("What goes wrong most at the machine", "The cutter broke")
    boss.go(job("orla", "keel-step-gauge") + "/run")
    boss.type("form input", "Half the depth with this one.")
    boss.press("Send")
    student.sees("Half the depth with this one.", "Mara Haldane")


#: Every step as the card says it, but for what is done by hand on the page: the server's own answers, read aloud.
ALOUD = """
const [told] = arguments;
const turn = /Turn (clockwise|anticlockwise): (?:(\\d+) whole turns?)?/, shows = /Then the dial shows ([\\d.]+) /;
const legs = (p) => {
  if (p.zero) {
    const grows = p.axis === "X" ? "left" : "towards";
    const turning = p.dial.clockwise.startsWith(grows) ? "clockwise" : "anticlockwise";
    return [{ turning, turns: 0, reading: /[0-9]+[.][0-9]+/.exec(p.told[0])[0] }];
  }
  const found = [];
  for (const line of p.told) {
    let m = turn.exec(line);
    if (m) found.push({ turning: m[1], turns: Number(m[2] || 0), reading: "" });
    else if ((m = shows.exec(line))) found.at(-1).reading = m[1];
  }
  return found;
};
(async () => {
  const page = location.pathname.replace("/job/", "/api/job-cards/");
  const token = (await (await fetch("/api/me")).json()).token;
  let dry = await (await fetch(page)).json();
  while (dry.step) {
    const body = { id: crypto.randomUUID(), number: dry.at + 1, step: dry.step.id, places: dry.step.places.map(legs) };
    const headers = { "content-type": "application/json", "x-incudo-token": token };
    const sent = { method: "POST", headers, body: JSON.stringify(body) };
    const answer = await fetch(`/api/dry-runs/${dry.run}/acts`, sent);
    if (!answer.ok) return told(`${answer.status} ${await answer.text()}`);
    dry = await answer.json();
  }
  told("");
})();
"""


@pytest.mark.long
def test_a_slip_of_the_dry_run_is_found(browser: Open) -> None:
    student = browser("orla")
    student.go(job("orla", "keel-step-gauge") + "/dry")
    student.press("Start the dry run")
    student.sees("Holding 1: clamp the work")
    while not student.all(".dry-place"):
        before = at(student)
        student.press("Done", within=".run-step")
        student.until(lambda n=before: at(student) == n + 1, "the next step is shown")
    # the first pass is cut where the cutter touched off: metal is left
    before = at(student)
    student.press("What does the card say?")
    student.sees("Then the dial shows")
    student.press("Cut without turning")
    student.until(lambda: at(student) == before + 1, "it is cut")
    student.type(".dry-turn input[inputmode=decimal]", "7")
    student.press("Turn and cut")
    student.sees("on the dial")
    assert student.driver.execute_async_script(ALOUD) == ""
    student.driver.refresh()
    student.sees("The Z handle was not turned", "Face: bottom", "Reading")
