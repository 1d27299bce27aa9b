"""From nothing to signed for general safety and one machine; alarms; who is refused what."""

from __future__ import annotations

import json
import time
import urllib.request
import uuid
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

import pytest

from incudo import shipped
from incudo.core.skills.questions import solve
from incudo.demo.load import key
from incudo.demo.practising import right_in_a_row
from incudo.demo.signing import reach_standard
from incudo.demo.signing import take_check as pass_check
from incudo.demo.story import Story
from incudo.demo.story import who as who_is
from incudo.launch.supervise import Supervisor
from incudo.store import schema as t
from tests.browser.page import PATIENCE, Page

Open = Callable[..., Page]
FULMAR = str(key("machine", "fulmar"))


def take_check(page: Page, running: Supervisor, bank: str) -> None:
    """Answer a whole knowledge check by touching, every answer right."""
    unit = running.unit()
    page.go(f"/knowledge/{bank}")
    page.press("Begin")
    for _ in range(shipped.banks()[bank].draw):
        page.find("form h2")
        state = page.driver.execute_async_script(
            "fetch(arguments[0]).then(r => r.json()).then(arguments[1])", f"/api/checks/{bank}"
        )
        check = uuid.UUID(state["running"])
        row = unit.run(lambda w, c=check: w.db.get(t.CheckTry, c))
        question = shipped.banks()[bank].get(state["question"]["id"])
        places, number = solve(question, row.seed, shipped.sources())
        if question.kind == "number":
            page.type("form input", number)
        touched = page.all("form .choice") or page.all("form .area")
        for place in places:
            page.driver.execute_script(
                "arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))", touched[place]
            )
        page.press("Submit my answer")
        page.sees("Right.")
        page.pick(".knowledge .ant-btn-primary")
    page.sees("Passed")
    unit.engine.dispose()


def show(boss: Page, student: str, *skills: str, machine: str = "") -> None:
    """See skills done: each onto the list, one touch per point, one PIN."""
    boss.go(f"/assess/{key('person', student)}")
    for skill in skills:
        boss.pick(f".assess-open [data-key='{skill}@{machine}']")
    yes = boss.all(".judge .said[aria-label^='yes, shown']")
    assert yes
    for button in yes:
        boss.driver.execute_script("arguments[0].click()", button)
    boss.press("Sign", "aside")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("Sign", "[role=dialog]")
    boss.sees("On the ladder")


def panel(running: Supervisor, machine: str, button: str = "") -> Any:
    """What the stand-in shows for a machine, after pressing one of its buttons if one is named."""
    if button:
        body = json.dumps({"machine": machine, "button": button}).encode()
        urllib.request.urlopen(urllib.request.Request(f"{running.panel}/press", data=body), timeout=5).close()
    with urllib.request.urlopen(f"{running.panel}/state", timeout=5) as answer:
        return next(m for m in json.loads(answer.read())["machines"] if m["machine"] == machine)


def until(what: Callable[[], bool], why: str) -> None:
    """Wait until something is so; how soon is measured elsewhere."""
    end = time.monotonic() + PATIENCE
    while not what():
        assert time.monotonic() < end, why
        time.sleep(0.02)


@pytest.mark.long
@pytest.mark.timeout(600)
def test_from_nothing_to_one_machine_first_supervised_then_alone(browser: Open, running: Supervisor) -> None:
    student, boss = browser("piet"), browser("haldane")
    student.sees("Before you work here", "It is not a safety system of any machine")
    assert "Bench" not in [e.text for e in student.all("h1")]
    student.pick(".notice-read")
    student.press("Sign as Piet Halloran")
    student.sees("Get signed first", "Take the check", "Tuesday group meets now")
    take_check(student, running, "surroundings-person")
    story = Story(running.unit(), datetime.now(UTC))
    for bank in ("at-the-machine", "afterwards", "the-machine", "holding", "speeds", "milling"):
        pass_check(story, who_is("piet"), bank)
    student.go("/bench")
    student.press("Call to show it", "[data-step='person']")
    student.sees("Called: cancel")
    boss.go("/floor")
    boss.click_in_line("Piet Halloran", "Checklist")
    boss.sees("Piet Halloran", "must be right")
    show(boss, "piet", "surroundings", "person")
    show(boss, "piet", "before-starting", "while-cutting", "cleaning-up", "machine-parts", "emergency-stop")
    show(boss, "piet", "general-safety", "locks-stops-feed", "wrench", "deburr")
    # exercises and rigs have tests of their own
    for calculation in ("spindle-speed", "table-feed"):
        right_in_a_row(story, who_is("piet"), calculation, 10)
    show(boss, "piet", "speed-feed")
    petrel = str(key("machine", "petrel"))
    reach_standard(story, who_is("piet"), "hold", 1, 2)
    for rig, level in (("handle", 2), ("way", 1)):
        reach_standard(story, who_is("piet"), rig, level, 2)
    for calculation in ("dial-move", "passes"):
        right_in_a_row(story, who_is("piet"), calculation, 3)
    show(boss, "piet", "change-cutter", "parallels")
    show(boss, "piet", "holders", "dials")
    show(boss, "piet", "machine-familiarisation", machine=petrel)

    student.go(f"/start/{petrel}")
    for who in ("orla", "juno"):
        other = browser(who)
        other.go(f"/start/{petrel}")
        if who == "orla":
            other.press("Spindle stopped: end this run")
        other.press("I leave this machine")
        other.sees("You are not at this machine yet")
    student.press("I work at Petrel")
    facing = "//button[@role='radio'][contains(., 'Facing')]"
    student.touch(facing)
    student.sees("Only with an assessor beside you")
    start(student)
    student.sees("Called. Wait with your hands off the machine")
    boss.go("/floor")
    boss.click_in_line("Piet Halloran", "wants to start")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("I am beside them", "[role=dialog]")
    student.sees("Mara Haldane is beside you until")
    start(student)
    student.sees("Start enabled", "Mara Haldane is beside the machine")
    until(lambda: panel(running, petrel)["enable"], "the start is enabled")
    student.press("Spindle stopped: end this run")
    show(boss, "piet", "facing")
    student.driver.refresh()
    student.touch(facing)
    student.sees("You may do this alone")
    start(student)
    student.sees("Start enabled")
    assert "beside the machine" not in student.text()
    student.press("Spindle stopped: end this run")


def start(student: Page) -> None:
    """Touch every point, then the large button."""
    for label in student.all(".ticks label:not(.ticked)"):
        student.driver.execute_script("arguments[0].click()", label)
    student.press("I am about to start")


@pytest.mark.long
def test_a_withdrawal_alarms_and_stops_no_cut(browser: Open, running: Supervisor) -> None:
    until(lambda: panel(running, FULMAR)["enable"], "the start is enabled")
    assert panel(running, FULMAR, "start")["spindle"], "Tavish was given a start"
    boss, student = browser("haldane"), browser("tavish")
    student.go(f"/start/{FULMAR}")
    student.sees("Start enabled")
    boss.go(f"/skills/{key('person', 'tavish')}?skill=drilling")
    boss.press("Withdraw", ".skill-panel")
    boss.type("[role=dialog] textarea", "held the plate by hand under the drill")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("Withdraw", "[role=dialog]")
    until(lambda: panel(running, FULMAR)["lamp"] == "alarm", "the alarm")
    now = panel(running, FULMAR)
    assert (now["enable"], now["spindle"], now["stop"]) == (False, True, False)
    assert any("held the plate by hand" in w for w in now["why"])
    assert not panel(running, FULMAR, "stop")["spindle"]
    assert not panel(running, FULMAR, "start")["spindle"], "the next start stays closed"
    student.sees("Finish this cut safely", "held the plate by hand")
    boss.go("/floor")
    boss.sees("held the plate by hand")
    student.press("Spindle stopped: end this run")
    student.press("Something else")
    student.touch("//button[@role='radio'][contains(., 'drilling')]")
    student.sees("Not now.", "withdrawn on")


def test_stop_all_stops_and_a_lost_link_does_not(browser: Open, running: Supervisor) -> None:
    dunlin = str(key("machine", "dunlin"))
    boss = browser("haldane")
    boss.go("/floor")
    boss.press("Stop all")
    boss.press("Touch again")
    boss.sees("All machines are stopped")
    until(lambda: panel(running, dunlin)["lamp"] == "stopped", "stopped")
    boss.press("Lift the stop")
    boss.type("[role=dialog] textarea", "everybody is well")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("It is safe again", "[role=dialog]")
    until(lambda: panel(running, dunlin)["lamp"] == "dark", "dark")
    link = urllib.request.Request(f"{running.panel}/link", data=b'{"on": false}')
    urllib.request.urlopen(link, timeout=5).close()
    until(lambda: panel(running, dunlin)["lamp"] == "alarm", "alarm")
    again = urllib.request.Request(f"{running.panel}/link", data=b'{"on": true}')
    urllib.request.urlopen(again, timeout=5).close()
    until(lambda: panel(running, dunlin)["lamp"] == "dark", "dark")


ASK = """
const [path, body, done] = arguments;
fetch("/api/me").then(r => r.json()).then(me => fetch(path, {
  method: "POST", body: JSON.stringify(body),
  headers: {"Content-Type": "application/json", "X-Incudo-Token": me.token},
})).then(async r => done([r.status, await r.text()]));
"""


def direct(page: Page, path: str, body: Any) -> Any:
    """A request from the page's own origin, past its buttons."""
    return page.driver.execute_async_script(ASK, path, body)


def signing(student: str, skill: str, pin: str) -> dict[str, Any]:
    seen = [{"number": p.number, "ok": True} for p in shipped.graph().get(skill).points()]
    return {
        "id": str(uuid.uuid4()),
        "student": str(key("person", student)),
        "skills": [{"skill": skill, "machine": None, "seen": seen}],
        "note": "",
        "pin": pin,
    }


def test_the_assistant_is_refused_what_is_not_delegated(browser: Open) -> None:
    assistant = browser("dacosta")
    assistant.go(f"/assess/{key('person', 'orla')}?skill=parallels")
    assistant.sees("cannot be signed now", "not delegated to you")
    status, text = direct(assistant, "/api/sign-offs", signing("orla", "dials", "3309"))
    assert status == 403
    assert "not delegated to you" in text
    assistant.go("/floor")
    assert "Stop all" not in assistant.text()
    assert direct(assistant, "/api/stops", {"id": str(uuid.uuid4())})[0] == 403


def test_nobody_signs_their_own_skill_by_page_or_by_request(browser: Open) -> None:
    student = browser("orla")
    student.go(f"/skills/{key('person', 'orla')}?skill=measure-depth")
    student.sees("Measuring depth", "ready to be seen")
    assert not [b for b in student.all(".skill-panel .ant-btn")]
    student.go(f"/assess/{key('person', 'orla')}?skill=measure-depth")
    student.sees("Keel step gauge")
    assert not student.all(".judge"), "the checklist is no page of theirs"
    assert direct(student, "/api/sign-offs", signing("orla", "measure-depth", "1234"))[0] == 403
    boss = browser("haldane")
    status, text = direct(boss, "/api/sign-offs", signing("haldane", "dials", "1407"))
    assert status == 403
    assert "Nobody can sign for themselves" in text
    beside = {"id": str(uuid.uuid4()), "student": str(key("person", "haldane")), "operation": "facing", "pin": "1407"}
    assert direct(boss, f"/api/machines/{FULMAR}/confirmations", beside)[0] in (403, 404)


@pytest.mark.long
def test_a_hold_point_holds_the_job_card(browser: Open) -> None:
    student, boss = browser("bryn"), browser("haldane")
    student.press("Open the job card" if "Open the job card" in student.text() else "Go on")
    student.press("Cut", ".rule")
    student.sees("before the first start", "called", "before the last pass")
    boss.go("/floor")
    boss.click_in_line("Bryn Okafor", "before the first start")
    student.until(lambda: "released" in student.find("[data-hold='first_start']").text, "released")
    student.press("Call the instructor", "[data-hold='last_pass']")
    student.until(lambda: "called" in student.find("[data-hold='last_pass']").text, "called")


def test_the_roll_and_a_tag(browser: Open) -> None:
    boss, student = browser("haldane"), browser("juno")
    boss.press("Session", "nav")
    boss.pick("[aria-label='Edda Morwen: late']")
    boss.until(lambda: "9 of 10 here" in boss.text(), "the roll counts")
    student.find(".top-report").click()
    student.choose("On what", "Gannet")
    student.type(".report textarea", "quill sticks half way down")
    student.press("Close it for everybody")
    student.sees("quill sticks half way down")
    boss.press("Floor", "nav")
    boss.sees("quill sticks half way down")
    boss.find(".top-report").click()
    boss.touch("//div[contains(@class,'tag')][contains(., 'Gannet')]//button")
    boss.type("[role=dialog] textarea", "cleaned and oiled")
    boss.type("[role=dialog] .pin", "1407")
    boss.press("It is safe again", "[role=dialog]")
    boss.until(lambda: "quill sticks" not in boss.text(), "the tag is gone")
