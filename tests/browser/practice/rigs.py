"""Playing a rig in the browser: by the name of a control, and as a practised hand would."""

from __future__ import annotations

import uuid

from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import RigSetup
from incudo.core.practice.rigs.base import begin as begin_run
from incudo.core.practice.rigs.base import do as do_action
from incudo.launch.supervise import Supervisor
from incudo.store import schema as t
from tests.browser.page import Page


def start(page: Page, rig: str, level: str, how: str) -> None:
    """Begin a run from the list of rigs."""
    page.press("Practice", "nav")
    page.touch(f"//section[@data-rig='{rig}']//button[@role='radio'][contains(., '{level}')]")
    page.touch(f"//section[@data-rig='{rig}']//button[normalize-space()='{how}']")
    page.find(".rig-controls")


def settled(page: Page, count: str) -> None:
    """Wait until the action is answered and the needle stands."""
    page.until(lambda: page.find(".rig").get_attribute("data-count") != count, "the action is answered")
    page.until(lambda: page.find(".rig").get_attribute("data-moving") == "no", "the needle settles")


#: Presses a control as soon as nothing is under way; says whether something came of it. Looked at and pressed in one
#: go: between a look and a press the answer could come, and the press would be a second one.
PRESS = """
const [label, count] = arguments;
const rig = document.querySelector(".rig");
if (rig.dataset.count !== count) return true;
const buttons = [...document.querySelectorAll(".rig-controls button:not(:disabled)")];
const wanted = buttons.find((b) => b.getAttribute("aria-label") === label || b.innerText.trim() === label);
if (wanted && rig.dataset.moving === "no") wanted.click();
return false;
"""


def do(page: Page, label: str) -> None:
    """Press the control with this name; again, as a person would, while nothing is under way and nothing came of it."""
    count = str(page.find(".rig").get_attribute("data-count"))
    page.until(lambda: page.driver.execute_script(PRESS, label, count), f"nothing came of {label!r}")
    settled(page, count)


def play_well(page: Page, running: Supervisor, rig: str, level: str) -> None:
    """A run for the record in a practised hand."""
    start(page, rig, level, "For the record")
    unit = running.unit()
    run = uuid.UUID(page.driver.current_url.rpartition("/")[2])
    row = unit.run(lambda w: w.db.get(t.RigRun, run))
    rules = RIGS[rig]
    s = begin_run(rules, RigSetup.model_validate_json(row.setup), row.level, row.seed)
    while (advised := rules.advice(s).action).do != "finish":
        do(page, next(c.label for c in rules.controls(s) if c.action == advised))
        do_action(rules, s, advised)
    page.press("Finish", ".rig-controls")
    page.sees("To standard")
    unit.engine.dispose()
