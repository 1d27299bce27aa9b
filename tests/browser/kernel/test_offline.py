"""The network goes away: entries wait to be seen, survive a reload, and are sent once, in order."""

from __future__ import annotations

import urllib.error
import urllib.request
from collections.abc import Callable

import pytest
from selenium.webdriver.common.by import By

from incudo.launch.shots import job
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page

Open = Callable[..., Page]


def cut(running: Supervisor) -> None:
    """Cut the connection: the server is stopped (the browser's own switch lets a service worker through)."""
    assert running.web
    running.web.stop()
    running.web = None


def taken(page: Page) -> list[str]:
    return [e.text for e in page.driver.find_elements(By.CSS_SELECTOR, ".taken .taken-value")]


def waits_for_worker(page: Page) -> None:
    script = "navigator.serviceWorker.ready.then(() => arguments[0](true))"
    assert page.driver.execute_async_script(script)
    page.until(lambda: page.driver.execute_script("return navigator.serviceWorker.controller !== null"), "no worker")


@pytest.mark.long
def test_nothing_is_lost_while_the_network_is_away(browser: Open, running: Supervisor) -> None:
    student = browser("orla", worker=True)
    waits_for_worker(student)
    student.go(job("orla", "keel-step-gauge"))
    student.pick("[data-row='5']")
    student.reading("1.1005")
    student.until(lambda: student.verdict(5) == "in", "judged while the server is there")
    student.pick("[data-row='6']")
    cut(running)
    try:
        student.reading("2.2003")
        student.sees("waiting, not judged", "limits 2.195 to 2.205 in", "1 entry waits in this browser")
        student.pick("[data-row='7']")
        student.reading("0.9004")
        student.sees("2 entries wait in this browser")
        assert student.verdict(7) == "not measured", "the browser never judges"
        student.driver.refresh()
        student.sees("Keel step gauge", "2 entries wait in this browser", "offline")
        student.pick("[data-row='6']")
        student.sees("2.2003")
        student.pick("[data-row='4']")
        student.reading("0.0011")
        student.sees("3 entries wait in this browser")
        student.driver.refresh()
        student.sees("3 entries wait in this browser")
    finally:
        running.start_web()
    student.until(lambda: "in this browser" not in student.text(), "they are sent by themselves")
    for number in (4, 6, 7):
        student.until(lambda n=number: student.verdict(n) == "in", f"{number} is judged")
    auditor = browser("thorley")
    auditor.go("/records/readings")
    auditor.sees("Keel step gauge 7, Width")
    rows = [r.text for r in auditor.driver.find_elements(By.CSS_SELECTOR, ".ant-table-row")]
    mine = [r for r in rows if "Orla Finnis" in r][:4]
    order = [next(v for v in ("1.1005", "2.2003", "0.9004", "0.0011") if v in r) for r in mine]
    assert order == ["0.0011", "0.9004", "2.2003", "1.1005"], "newest first, sent in order"


@pytest.mark.long
def test_what_waits_is_never_sent_under_another_name(browser: Open, running: Supervisor) -> None:
    student = browser("dov", worker=True)
    waits_for_worker(student)
    student.go(job("dov", "tide-block"))
    student.press("Measure", ".rule")
    student.pick("[data-row='1']")
    cut(running)
    try:
        student.reading("2.5011")
        student.sees("1 entry waits in this browser")
    finally:
        student.driver.delete_all_cookies()
        running.start_web()
    student.until(lambda: "Sign in again" in student.text() or "Password" in student.text(), "401 is noticed")
    student.sign_in("lio")
    student.sees("Lio Vantree")
    student.go("/bench")
    student.sees("Next")
    assert "wait in this browser" not in student.text(), "it is not Lio's"
    student.sign_in("dov")
    student.go(job("dov", "tide-block"))
    student.press("Measure", ".rule")
    student.pick("[data-row='1']")
    student.until(lambda: student.verdict(1) == "in", "sent under their own name")

    def there() -> bool:
        # the page goes on to what wants a reading next as soon as this one is saved
        student.pick("[data-row='1']")
        return taken(student) == ["2.5011 in"]

    student.until(there, "it stands among the readings")


def test_what_the_server_refuses_stays_with_its_reason(browser: Open) -> None:
    student = browser("lio")
    student.press("Go on")
    student.press("Measure", ".rule")
    student.pick("[data-row='2']")
    student.reading("9999.5")
    student.sees("was not accepted", "must lie between -393.7 and 393.7 in")
    student.driver.refresh()
    student.sees("9999.5", "was not accepted")
    student.press("Discard")
    student.until(lambda: "was not accepted" not in student.text(), "taken away")


@pytest.mark.long
def test_who_signs_out_without_the_network_is_gone_at_once_and_the_server_is_told(
    browser: Open, running: Supervisor
) -> None:
    student = browser("lio", worker=True)
    waits_for_worker(student)
    student.sees("Lio Vantree")
    session = student.driver.get_cookie("incudo_session")
    assert session
    cut(running)
    try:
        student.press("Lio Vantree")
        student.press("Sign out")
        student.sees("You are signed out here", "Name to sign in with")
        student.driver.refresh()
        student.sees("You are signed out here")
        assert "Lio Vantree" not in student.text(), "nothing of them is shown again"
        student.go("/bench")
        student.sees("You are signed out here")
    finally:
        running.start_web()
    student.until(lambda: "You are signed out here" not in student.text(), "the server is told by itself")
    request = urllib.request.Request(
        f"{running.address}/api/me", headers={"Cookie": f"incudo_session={session['value']}"}
    )
    with pytest.raises(urllib.error.HTTPError, match="401"):
        urllib.request.urlopen(request)
    student.sign_in("dov")
    student.sees("Dov")
