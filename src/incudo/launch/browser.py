"""A headless Chromium driven through Selenium, for the pictures and the browser tests."""

from __future__ import annotations

import base64
import os
import shutil
import signal
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException, WebDriverException
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.support.expected_conditions import (
    element_to_be_clickable,
    invisibility_of_element_located,
    presence_of_element_located,
)
from selenium.webdriver.support.wait import WebDriverWait
from urllib3.exceptions import HTTPError

from incudo.launch.processes import children

PATIENCE = 60.0
_FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--force-color-profile=srgb",
)


@contextmanager
def chromium(width: int = 1280, height: int = 800, *, touch: bool = False) -> Iterator[webdriver.Chrome]:
    """A fresh browser with a profile of its own; closed and forgotten at the end."""
    profile = tempfile.mkdtemp(prefix="incudo-chromium-")
    options = Options()
    for flag in (*_FLAGS, f"--user-data-dir={profile}"):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service(shutil.which("chromedriver")))
    try:
        resize(driver, width, height, touch=touch)
        yield driver
    finally:
        with suppress(WebDriverException, HTTPError, OSError):
            # one that was killed has nothing to say any more
            driver.quit()
        shutil.rmtree(profile, ignore_errors=True)


def kill(driver: webdriver.Chrome) -> None:
    """End a browser that hangs, with everything it started; whoever waits for it is told so."""
    process = driver.service.process
    for pid in (*children(process.pid), process.pid):
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


def resize(driver: webdriver.Chrome, width: int, height: int, *, touch: bool = False) -> None:
    """Set the size of the page itself (window sizes include borders)."""
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": touch}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    driver.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": touch})


def picture(driver: webdriver.Chrome, file: Path) -> None:
    """Save what is shown as a PNG."""
    shot = driver.execute_cdp_cmd("Page.captureScreenshot", {"format": "png"})
    file.write_bytes(base64.b64decode(shot["data"]))


def choose(driver: webdriver.Chrome, label: str, text: str) -> None:
    """Choose an option of the list whose label holds these words, as a person does: open, narrow down, take."""
    lists = "//input[@role='combobox']"
    where = f"//label[contains(normalize-space(.), '{label}')]{lists} | {lists}[contains(@aria-label, '{label}')]"
    wait = WebDriverWait(driver, PATIENCE, ignored_exceptions=(StaleElementReferenceException,))
    field = wait.until(presence_of_element_located((By.XPATH, where)))
    driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", field)
    field.find_element(By.XPATH, "./ancestor::*[contains(concat(' ', @class, ' '), ' ant-select ')][1]").click()
    if field.get_attribute("readonly") is None:
        field.send_keys(text)
    open_list = "//*[contains(@class, 'ant-select-dropdown') and not(contains(@class, 'ant-select-dropdown-hidden'))]"
    option = (By.XPATH, f"{open_list}//*[contains(@class, 'ant-select-item-option') and @title='{text}']")
    wait.until(element_to_be_clickable(option)).click()
    wait.until(invisibility_of_element_located(option))
