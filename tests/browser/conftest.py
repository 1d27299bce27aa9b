"""The real application in a real browser."""

from __future__ import annotations

import os
import signal
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor, wait
from contextlib import ExitStack

import pytest
from selenium.webdriver import Chrome

from incudo.demo.people import PASSWORD
from incudo.launch.browser import chromium, kill, resize
from incudo.launch.processes import children
from incudo.launch.supervise import Supervisor
from tests.browser.page import PATIENCE, Page, forget
from tests.loaded import loaded_records, loaded_shop


@pytest.fixture(scope="module", autouse=True)
def patient() -> Iterator[None]:
    """On a machine that is slow nobody is told that the server is away."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("INCUDO_PATIENCE", "20")
        yield


@pytest.fixture(scope="session")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Supervisor]:
    """What serves the shops of all files of this process, one after the other: most of a start is reading the code."""
    supervisor = Supervisor(loaded_shop(tmp_path_factory.mktemp("served")), workers=1)
    try:
        yield supervisor
    finally:
        supervisor.stop()


@pytest.fixture(scope="module")
def running(served: Supervisor) -> Supervisor:
    """A demo shop for the browsers of one file alone, served, built front end and all."""
    try:
        begin_again(served)
    except SystemExit as ended:
        # one that is raised in a fixture would take the tests of all other files with it
        raise RuntimeError(str(ended)) from ended
    return served


def begin_again(supervisor: Supervisor) -> None:
    """The shop as it was loaded, by processes that know nothing of another one; what reads the code in stays."""
    if supervisor.interlock:
        supervisor.interlock.terminate()
        supervisor.interlock.wait()
    supervisor.database.stop()
    loaded_records(supervisor.instance)
    supervisor.log.write_text("")
    supervisor.start_database()
    if supervisor.web and supervisor.web.gunicorn:
        for worker in children(supervisor.web.gunicorn.pid):
            os.kill(worker, signal.SIGKILL)
    supervisor.start_web()
    supervisor.start_interlock()


class Browsers:
    """Browsers that are opened once and lent to one test after the other."""

    #: Seconds that a browser has to forget who used it; one that needs more hangs.
    PATIENCE = 30

    def __init__(self) -> None:
        self._opened: list[tuple[ExitStack, Chrome]] = []

    def lend(self, n: int, address: str) -> Chrome:
        """The n-th browser, remembering nobody. One that hangs before it has seen a page is replaced."""
        for _ in range(3):
            driver = self._get(n)
            with ThreadPoolExecutor(1) as aside:
                forgetting = aside.submit(forget, driver, address)
                wait([forgetting], self.PATIENCE)
                if forgetting.done() and forgetting.exception() is None:
                    return driver
                kill(driver)
            stack, _gone = self._opened.pop(n)
            stack.close()
        raise AssertionError("three browsers in a row hung before they had seen a page")

    def _get(self, n: int) -> Chrome:
        while len(self._opened) <= n:
            stack = ExitStack()
            driver = stack.enter_context(chromium())
            driver.set_script_timeout(PATIENCE)
            self._opened.append((stack, driver))
        return self._opened[n][1]

    def close(self) -> None:
        for stack, _ in self._opened:
            stack.close()


@pytest.fixture(scope="session")
def browsers() -> Iterator[Browsers]:
    """The browsers of this process; closed at the end."""
    found = Browsers()
    yield found
    found.close()


@pytest.fixture
def browser(running: Supervisor, browsers: Browsers) -> Iterator[Callable[..., Page]]:
    """Lends browsers that remember nobody; afterwards none may have seen a script error or a broken policy.

    Movement is reduced and nothing is kept for later (no service worker) unless a test asks for it.
    """
    pages: list[Page] = []

    def open_page(
        who: str,
        width: int = 1280,
        height: int = 800,
        *,
        touch: bool = False,
        password: str = PASSWORD,
        motion: bool = False,
        worker: bool = False,
    ) -> Page:
        driver = browsers.lend(len(pages), running.address)
        page = Page(driver, running.address)
        resize(driver, width, height, touch=touch)
        reduce = [{"name": "prefers-reduced-motion", "value": "no-preference" if motion else "reduce"}]
        driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": reduce})
        driver.execute_cdp_cmd("Network.enable", {})
        driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": [] if worker else ["*/sw.js"]})
        driver.get_log("browser")  # what an earlier test left
        pages.append(page)
        page.come_in(who, password)
        return page

    yield open_page
    complaints = [c for page in pages for c in page.complaints()]
    for page in pages:
        page.driver.get("about:blank")  # a page that nobody looks at would go on asking
    assert complaints == []
    assert " broken " not in running.log.read_text()
