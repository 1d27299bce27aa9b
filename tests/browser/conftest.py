"""The real application in a real browser."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import ExitStack

import pytest
from selenium.webdriver import Chrome

from incudo.demo.people import PASSWORD
from incudo.launch.browser import chromium, resize
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page, forget
from tests.loaded import loaded_shop


@pytest.fixture(scope="session")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Supervisor]:
    """A demo shop for the browsers alone, served, built front end and all."""
    supervisor = Supervisor(loaded_shop(tmp_path_factory.mktemp("served")), workers=1)
    try:
        supervisor.start_database()
        supervisor.start_web()
        supervisor.start_interlock()
        yield supervisor
    finally:
        supervisor.stop()


@pytest.fixture(scope="session")
def browsers() -> Iterator[Callable[[int], Chrome]]:
    """Browsers that are opened once and lent to one test after the other."""
    opened: list[Chrome] = []
    with ExitStack() as stack:

        def lend(n: int) -> Chrome:
            while len(opened) <= n:
                opened.append(stack.enter_context(chromium()))
            return opened[n]

        yield lend


@pytest.fixture
def browser(running: Supervisor, browsers: Callable[[int], Chrome]) -> Iterator[Callable[..., Page]]:
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
        driver = browsers(len(pages))
        page = Page(driver, running.address)
        forget(driver, running.address)
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
