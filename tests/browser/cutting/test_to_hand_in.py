"""Keel step gauge by the card from the first chip to the hand-in, on a machine without a readout and on one with."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, datetime
from functools import partial

import pytest

from incudo.app.kernel.unit import Work
from incudo.app.parts.assigning import AssignCommand, assign
from incudo.app.planning.keeping import SavePlan, keep_plan
from incudo.demo.people import MACHINES
from incudo.demo.planning import own_of
from incudo.demo.story import Story, key, who
from incudo.launch.supervise import Supervisor
from tests.browser.cutting.test_run import at, kind, read
from tests.browser.page import Page
from tests.shop import Clock, TestShop

Open = Callable[..., Page]
#: Within its limits, characteristic by characteristic; the levels and the parallelism are read more than once.
READ = ("1.0004", "0.7003", "0.7001", "0.3740", "0.3742", "0.0008", "1.100", "2.200", "0.901")


def card_of(running: Supervisor, machine: str) -> str:
    """Tavish, who may work alone on every machine, with this part on this machine, planned as Incudo would."""
    unit = running.unit()
    signed = ["measure-micrometer", "square-block", "mill-steps", "side-milling"]
    signed += [f"machine-familiarisation@{key('machine', m)}" for m, _, _ in MACHINES]
    TestShop(None, unit, Clock()).sign(str(key("person", "tavish")), *signed)  # type: ignore[arg-type]
    story = Story(unit, datetime.now(UTC))
    command = AssignCommand(
        id=key("to hand-in", machine),
        version=key("version", "keel-step-gauge"),
        student=key("person", "tavish"),
        machine=key("machine", machine),
        due=None,
        not_before_signed=False,
    )
    story.run(partial(assign, who=who("haldane"), command=command))

    def plan(w: Work) -> None:
        made = SavePlan(id=key("plan to hand-in", machine), number=0, plan=own_of(w, command.id))
        keep_plan(w, who("tavish"), command.id, made)

    story.run(plan)
    unit.engine.dispose()
    return f"/job/{command.id}"


def cut(page: Page) -> list[str]:
    """Every step in turn: done by a touch, or measured as it is expected. What stood on each of them."""
    said = []
    while not page.all(".run-page .button.first"):
        before, text = at(page), page.find(".run-step").text
        said.append(text)
        if kind(page) == "measure":
            expected = re.search(r"([\d.]+) in is expected", text)
            assert expected, text
            read(page, expected[1])
        else:
            page.press("Done", within=".run-step")
        page.until(lambda n=before: at(page) > n, f"after step {before + 1}: {text}")  # type: ignore[misc]
    return said


@pytest.mark.long
@pytest.mark.timeout(300)
@pytest.mark.parametrize(("machine", "readout"), [("petrel", False), ("fulmar", True)])
def test_by_the_card_to_the_hand_in(browser: Open, running: Supervisor, machine: str, *, readout: bool) -> None:
    place = card_of(running, machine)
    student = browser("tavish", 834, 1194, touch=True)
    student.go(f"{place}/run")
    student.sees("Holding 1: clamp the work")
    said = cut(student)
    assert any(re.search("^readout$", text, re.MULTILINE) for text in said) is readout
    assert any(re.search("^dial$", text, re.MULTILINE) for text in said), "the knee has no scale but its dial"
    student.sees("Every step is done.")
    student.press("Measure the part")
    student.sees("Measure: 7 of 7 characteristics to go")
    for value in READ:
        student.reading(value)
        student.kept(value)
    student.press("Hand the part in")
    student.press("Hand it in")
    student.sees("Handed in: wait for your instructor's check")
    boss = browser("haldane")
    boss.go("/floor")
    boss.click_in_line("Tavish Roe", "part handed in")
    boss.sees("Height over all")
