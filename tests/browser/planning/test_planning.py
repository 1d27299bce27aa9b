"""A student plans a part from nothing and is sent back once; gaps, the plan that is judged at the end, no network."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from incudo.launch.shots import job
from tests.browser.page import Page

Open = Callable[..., Page]

WEIGHTY = ".plan-finding.breaks, .plan-finding.spoils"


def count(page: Page, css: str) -> int:
    return len(page.all(css))


def hold(page: Page, face: str) -> None:
    """One holding more, with this face up, and it is the one that is looked at."""
    before = count(page, ".plan-holding:not(.plan-next)")
    page.choose("Next holding: which face looks up?", f"{face} up")
    page.until(lambda: count(page, ".plan-holding:not(.plan-next)") == before + 1, f"held with {face} up")
    page.until(lambda: page.shown(".plan-holding-title.on"), "the new holding is chosen")


def add(page: Page, thing: str, *kinds: str) -> None:
    """What is to be made of something, operation by operation, each with the cutter that is offered first."""
    for kind in kinds:
        before = count(page, ".plan-op")
        page.pick(f"[data-thing='{thing}']")
        page.pick(f".plan-offer[data-kind='{kind}'] .plan-offer-cutters button")
        page.until(lambda n=before: count(page, ".plan-op") == n + 1, f"{kind} of {thing} is added")
        page.until(lambda: not page.shown("[role=dialog]"), "the dialog is closed")


def deburr(page: Page) -> None:
    before = count(page, ".plan-op")
    page.press("Deburr", within=".plan-things")
    page.until(lambda: count(page, ".plan-op") == before + 1, "deburring is added")


def cure(page: Page) -> int:
    """Let Incudo do what it offers until nothing weighty is left that it can do; how often it was."""
    done = 0
    while True:
        text = page.until(lambda: page.find(".plan-findings").text, "there are findings")
        buttons = [b for f in page.all(WEIGHTY) for b in f.find_elements("css selector", ".plan-cure button")]
        if not buttons:
            return done
        page.until(
            lambda: page.driver.execute_script(
                "const b = document.querySelector(arguments[0]); if (b) b.click(); return Boolean(b)",
                ", ".join(f"{w.strip()} .plan-cure button" for w in WEIGHTY.split(",")),
            ),
            "a cure is pressed",
        )
        page.until(lambda t=text: page.find(".plan-findings").text != t, "the findings are others now")
        done += 1


def settled(page: Page) -> None:
    """The server has looked at what is on the page."""
    page.until(lambda: page.shown(".plan-findings"), "findings stand there")


@pytest.mark.long
def test_a_student_plans_a_part_from_nothing_and_is_sent_back_once(browser: Open) -> None:
    where = job("tavish", "fairlead-plate") + "/plan"
    boss = browser("haldane")
    boss.go(where)
    boss.press("How it is planned")
    boss.press("I approve the plan before the first start")
    boss.press("Save", within="[role=dialog]")
    boss.until(lambda: not boss.shown("[role=dialog]"), "it is set")

    student = browser("tavish")
    student.go(where)
    student.sees("Plan: Fairlead plate", "The stock. First choose which face looks up")
    hold(student, "left end")
    add(student, "left", "face")
    deburr(student)
    hold(student, "top")
    add(student, "top", "face")
    add(student, "rear", "side")
    for hole in ("rear hole", "front hole"):
        add(student, hole, "spot", "drill", "countersink")
    deburr(student)
    hold(student, "bottom")
    add(student, "bottom", "face")
    # the rear looks to the fixed jaw: the front would be milled between the jaws, and the slot would run into one
    student.pick(".plan-holding:nth-of-type(3) .plan-holding-title")
    student.choose("At the fixed jaw", "left end")
    add(student, "front", "side")
    add(student, "slot", "slot")
    deburr(student)
    hold(student, "right end")
    add(student, "right", "face")
    add(student, "rail step", "step")
    deburr(student)
    student.sees("Everything is made.")

    # two faults among others: no soft bar at a rough face, and nothing that says where the slot is
    student.sees("No round bar at a rough face", "No zero along an axis")
    assert cure(student) >= 8
    left = [f.get_attribute("data-code") for f in student.all(WEIGHTY)]
    assert left == [], student.text()
    student.press("Hand the plan in")
    student.sees("it waits for an instructor")

    boss.go("/floor")
    boss.click_in_line("Tavish", "plan to approve")
    boss.sees("is waiting for your decision")
    boss.pick("[data-operation='slot']")
    boss.sees("Remark at")
    boss.type(".plan-decide input", "Why from below?")
    boss.press("Send back")
    boss.sees("Sent back by Mara Haldane")

    student.go(where)
    student.sees("Sent back by Mara Haldane")
    student.pick("[data-operation='slot']")
    student.sees("Your instructor: Why from below?")
    student.press("Hand the plan in")
    student.sees("it waits for an instructor")
    boss.go(where)
    boss.press("Approve", within=".plan-decide")
    boss.sees("Approved by Mara Haldane")
    student.go(where)
    student.sees("Approved by Mara Haldane")
    student.press("Compare with Incudo's")
    student.sees("What it costs", "Changes of cutter", "Incudo's way")


def test_a_plan_is_reordered_by_keys_and_by_dragging_and_kept_without_the_network(browser: Open) -> None:
    page = browser("freya")
    page.go(job("freya", "keel-step-gauge") + "/plan")
    settled(page)
    first = [e.get_attribute("data-operation") for e in page.all(".plan-op")]
    assert first[:2] == ["face", "deburr"]
    page.pick(".plan-op")
    page.find(".plan-op.on").send_keys(Keys.ALT + Keys.ARROW_RIGHT + Keys.NULL)
    page.until(
        lambda: [e.get_attribute("data-operation") for e in page.all(".plan-op")][:2] == ["deburr", "face"], "moved"
    )
    page.sees("not saved yet, kept in this browser")
    page.press("Undo")
    page.until(lambda: [e.get_attribute("data-operation") for e in page.all(".plan-op")] == first, "undone")

    # dragged onto the frame before which it is to be done
    one, two = page.all(".plan-op")[:2]
    ActionChains(page.driver).drag_and_drop(two, one).perform()
    page.until(
        lambda: [e.get_attribute("data-operation") for e in page.all(".plan-op")][:2] == ["deburr", "face"], "dragged"
    )
    page.press("Undo")
    page.until(lambda: [e.get_attribute("data-operation") for e in page.all(".plan-op")] == first, "undone")
    page.pick(".plan-op")

    # without the network: built on, kept, and sent when it is back
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/api/*", "*/sw.js"]})
    page.press("Remove", within=".plan-card")
    page.sees("The shop's server cannot be reached")
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/sw.js"]})
    page.driver.refresh()
    page.until(lambda: count(page, ".plan-op") == len(first) - 1, "what was built is there again")
    page.sees("not saved yet, kept in this browser")
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/api/*", "*/sw.js"]})
    page.press("Save", within=".plan-head")
    page.sees("waiting for the network")
    page.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*/sw.js"]})
    page.until(lambda: page.find(".plan-state").text == "saved", "it was sent by itself")
    page.driver.refresh()
    page.until(lambda: count(page, ".plan-op") == len(first) - 1, "and is there")


@pytest.mark.long
def test_a_plan_with_gaps_and_one_that_is_judged_at_the_end(browser: Open) -> None:
    where = job("ruari", "keel-step-gauge") + "/plan"
    boss = browser("haldane")
    boss.go(where)
    boss.press("How it is planned")
    boss.press("With gaps: Incudo's plan, and left open:")
    boss.press("cutters", within=".plan-gaps")
    boss.press("Judged only when it is handed in")
    boss.press("Save", within="[role=dialog]")
    boss.until(lambda: not boss.shown("[role=dialog]"), "it is set")

    student = browser("ruari", 834, 1194, touch=True)
    student.go(where)
    student.sees("This plan is judged when you hand it in.")
    assert not student.shown(".plan-finding")
    student.pick("[data-operation='step']")
    student.sees("which one?")
    student.choose("Cutter", "End mill 1/2 in, 4 flutes")
    student.sees("rpm (calculated")
    student.press("Working")
    student.sees("by the shop's short way")
    student.press("Hand the plan in")
    student.sees("Handed in, and not sound yet.", "No cutter chosen")
