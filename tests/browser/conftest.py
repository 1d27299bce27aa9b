"""The real application in a real browser."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import ExitStack

import pytest

from incudo.demo.people import PASSWORD
from incudo.launch.browser import chromium
from incudo.launch.supervise import Supervisor
from tests.browser.page import Page


@pytest.fixture(scope="session")
def running(loaded: Supervisor) -> Supervisor:
    """The demo shop, served, built front end and all."""
    loaded.start_web()
    loaded.start_interlock()
    return loaded


@pytest.fixture
def browser(running: Supervisor) -> Iterator[Callable[..., Page]]:
    """Opens browsers; afterwards none may have seen a script error or a broken security policy."""
    pages: list[Page] = []
    with ExitStack() as stack:

        def open_page(
            who: str, width: int = 1280, height: int = 800, *, touch: bool = False, password: str = PASSWORD
        ) -> Page:
            driver = stack.enter_context(chromium(width, height, touch=touch))
            page = Page(driver, running.address)
            pages.append(page)
            page.sign_in(who, password)
            return page

        yield open_page
        for page in pages:
            assert page.complaints() == []
    assert " broken " not in running.log.read_text()
