"""A position, a thread and an angle are read on the job card: thing by thing, by touch, in degrees."""

from __future__ import annotations

import itertools
from collections.abc import Callable

import pytest

from incudo.demo.people import MACHINES
from incudo.demo.story import key
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page
from tests.shop import Clock, TestShop

Open = Callable[..., Page]
SIGNED = ("measure-micrometer", "square-block", "mill-slots", "bolt-circle", "hand-tapping", "reaming", "side-milling",
          "countersinking")  # fmt: skip


def given(boss: Page, part: str) -> None:
    boss.press("Parts", "nav")
    boss.press(part)
    boss.sees("Versions")
    boss.choose("Group", "Tuesday group")
    boss.press("Tavish Roe")
    boss.press("Assign to Tavish Roe")
    boss.sees("Assigned to Tavish Roe")


@pytest.mark.long
def test_what_takes_more_than_one_reading(browser: Open, running: Supervisor) -> None:
    signed = (*SIGNED, *(f"machine-familiarisation@{key('machine', m)}" for m, _, _ in MACHINES))
    TestShop(None, running.unit(), Clock()).sign(str(key("person", "tavish")), *signed)  # type: ignore[arg-type]
    boss = browser("haldane")
    for part in ("Lantern foot", "Mast step pad", "Thole block"):
        given(boss, part)

    student = browser("tavish")
    student.sees("Lantern foot")
    student.press("Lantern foot", ".bench-columns")
    student.pick("[data-row='9']")
    student.sees("Left end to the axis, along X", "Front to the axis, along Y", "Diameter, for the bonus")
    student.reading("1.8717")
    student.sees("0.0030 in above 1.8687")
    student.until(lambda: pressed(student).startswith("Front"), "the next thing comes by itself")
    student.reading("1.8687")
    student.until(lambda: pressed(student).startswith("Diameter"), "and the third")
    assert student.verdict(9) == "not measured"
    student.reading("0.2040")
    student.until(lambda: student.verdict(9) == "in", "all of it is judged together")

    student.press("Bench", "nav")
    student.press("Mast step pad", ".bench-columns")
    student.pick("[data-row='11']")
    student.sees("Go end, turned in by hand", "Thread gauge 3/8-16")
    assert not student.shown("#reading"), "nothing is typed"
    student.press("It enters", ".entry-answers")
    student.sees("No-go end, beyond the turns its paper allows")
    student.until(lambda: "No-go" in student.find(".entry-answers").text, "the other end comes by itself")
    student.press("It does not enter", ".entry-answers")
    student.until(lambda: student.verdict(11) == "in", "the thread is judged")

    student.press("Bench", "nav")
    student.press("Thole block", ".bench-columns")
    student.pick("[data-row='10']")
    student.sees("Bevel protractor no. 11")
    student.reading("30.3")
    student.until(lambda: student.verdict(10) == "in", "the angle is judged")
    student.sees("30.3°")
    assert not list(itertools.chain(boss.complaints(), student.complaints()))


def pressed(page: Page) -> str:
    return page.find(".entry-element[aria-pressed='true']").text
