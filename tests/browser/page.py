"""A browser as a person uses it: by words, by keys, by what is to be seen."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from selenium.common.exceptions import (
    ElementClickInterceptedException,
    JavascriptException,
    StaleElementReferenceException,
)
from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from incudo.demo.people import PASSWORD
from incudo.launch import shots
from incudo.launch.browser import choose

PATIENCE = 120.0
#: After so many seconds a page that does not show what is waited for is come back to, then after twice as many.
FIRST_LOOK = 2.0
#: Seconds that the browser itself waits for a change of the page before it is asked again.
WATCHED = 2.0


SIGN_IN = """
const [login, password, done] = arguments;
fetch("/api/sign-in", {method: "POST", body: JSON.stringify({login, password}),
  headers: {"Content-Type": "application/json"}}).then(r => done(r.status));
"""
FORGET = {"storageTypes": "all"}
#: The first thing that fits, is to be seen and (with words) says them; one question instead of one for each thing.
FIRST = """
const [css, words, enabled] = arguments;
let found = null;
for (const e of document.querySelectorAll(css)) {
  const box = e.getBoundingClientRect();
  if (!box.width || !box.height || getComputedStyle(e).visibility === "hidden") continue;
  if (enabled && e.disabled) continue;
  if (words && !e.innerText.includes(words)) continue;
  // who says just these words comes before who says more
  const just = !words || e.innerText.trim() === words;
  if (just || !found) found = e;
  if (just) break;
}
found?.scrollIntoView({block: "center"});
return found;
"""
#: Remembers whether a click comes to this element; what moved away under the pointer is clicked again.
LISTEN = """
window.clickCame = false;
arguments[0].addEventListener("click", () => { window.clickCame = true; }, { once: true, capture: true });
"""
#: A page that was left by the click knows nothing of it.
CAME = "return window.clickCame !== false;"
#: Whether the page says these words.
SAYS = "return document.body.innerText.includes(arguments[0]) || null;"
#: Asks a script again whenever the page has changed, a frame later; gives up after so many ms.
WATCH = """
const given = [...arguments], told = given.pop(), most = given.pop();
const look = function () { %s };
const first = look.apply(null, given);
if (first !== null) return told(first);
let waiting = false;
const end = (found) => { seen.disconnect(); clearTimeout(late); told(found); };
const again = () => {
  if (waiting) return;
  waiting = true;
  setTimeout(() => {
    waiting = false;
    const found = look.apply(null, given);
    if (found !== null) end(found);
  }, 30);
};
const seen = new MutationObserver(again);
seen.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
const late = setTimeout(() => end(null), most);
"""


def forget(driver: Chrome, address: str) -> None:
    """Let a browser forget who used it: cookies, what was kept, what waited."""
    driver.get("about:blank")
    driver.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": address, **FORGET})
    driver.delete_all_cookies()


@dataclass
class Page:
    driver: Chrome
    address: str

    def come_in(self, who: str, password: str = PASSWORD) -> None:
        """Be signed in without the form, which a test of its own holds, and at home."""
        self.driver.get(self.address + "/mark.svg")
        assert self.driver.execute_async_script(SIGN_IN, who, password) == 200, who
        self.driver.get(self.address)
        self.find(".top")

    def sign_in(self, who: str, password: str = PASSWORD) -> None:
        shots.sign_in(self.driver, self.address, who, password)

    def go(self, path: str) -> None:
        self.driver.get(self.address + path)

    def until(self, what: Callable[[], Any], why: str) -> Any:
        """Wait until something is so. Now and then the tab is come back to, at which the page asks anew."""
        began, pause, patience = time.monotonic(), 0.05, FIRST_LOOK
        looked = began + patience
        while True:
            try:
                found = what()
            except (StaleElementReferenceException, ElementClickInterceptedException):
                found = None  # the page has gone on, or something still moves over it
            if found:
                return found
            now = time.monotonic()
            assert now < began + PATIENCE, f"{why}; the page says:\n{self.text()}"
            if now > looked:
                patience *= 2
                looked = now + patience
                self.driver.execute_script("document.dispatchEvent(new Event('visibilitychange'))")
            time.sleep(pause)
            pause = min(pause * 1.5, 0.5)

    def text(self) -> str:
        return str(self.driver.execute_script("return document.body.innerText"))

    def sees(self, *words: str) -> None:
        for word in words:
            self.until(lambda w=word: self._watched(SAYS, w), f"never saw {word!r}")

    def _watched(self, found: str, *given: Any) -> Any:
        """What a script finds: looked for at once, and again as the page changes, by the browser itself."""
        try:
            return self.driver.execute_async_script(WATCH % found, *given, WATCHED * 1000)
        except JavascriptException:
            return None  # another page was loaded meanwhile

    def shown(self, css: str) -> bool:
        """Whether something like that is to be seen now."""
        return self.driver.execute_script(FIRST, css, "", False) is not None

    def find(self, css: str) -> WebElement:
        found: WebElement = self.until(lambda: self._watched(FIRST, css, "", False), f"nothing like {css}")
        return found

    def press(self, words: str, within: str = "") -> None:
        """Click the button or link with these words."""
        wanted = ", ".join(f"{within} {x}" for x in ("button", "a", ".ant-collapse-header", "label"))

        def click() -> bool:
            e = self._watched(FIRST, wanted, words, True)
            return e is not None and self._clicked(e)

        self.until(click, f"no button {words!r}")

    def _clicked(self, element: WebElement) -> bool:
        """Click, and whether it came to the element: a page that still loads may have moved it away."""
        self.driver.execute_script(LISTEN, element)
        element.click()
        return bool(self.driver.execute_script(CAME))

    def choose(self, label: str, text: str) -> None:
        """Choose from the list with this label."""
        choose(self.driver, label, text)

    def click_in_line(self, *words: str) -> None:
        """Touch the button of whoever stands on the Floor's line with all these words."""
        conditions = "".join(f"[contains(., '{w}')]" for w in words)

        def click() -> bool:
            found = self.driver.find_elements(By.XPATH, f"//li{conditions}//*[self::a or self::button]")
            return bool(found) and self._clicked(found[0])

        self.until(click, f"nobody on the line with {words}")

    def touch(self, xpath: str) -> None:
        """Click the first thing that fits, as soon as it is there."""

        def click() -> bool:
            found = self.driver.find_elements(By.XPATH, xpath)
            if found:
                self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", found[0])
            return bool(found) and self._clicked(found[0])

        self.until(click, f"nothing like {xpath}")

    def all(self, css: str) -> list[WebElement]:
        """Everything that fits, shown or not."""
        return list(self.driver.find_elements(By.CSS_SELECTOR, css))

    def pick(self, css: str) -> None:

        def click() -> bool:
            element = self.find(css)
            self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
            return self._clicked(element)

        self.until(click, f"nothing like {css} to click")

    def type(self, css: str, text: str) -> None:
        self.find(css).send_keys(Keys.CONTROL + "a" + Keys.NULL, text)

    def reading(self, value: str) -> None:
        """Type a reading where the cursor is, and Enter; if the page goes on to the next just then, there."""

        def typed() -> bool:
            field = self.driver.switch_to.active_element
            if field.get_attribute("id") != "reading":
                return False
            field.send_keys(value, Keys.ENTER)
            return True

        self.until(typed, "no cursor")

    def kept(self, value: str) -> None:
        """Wait until a reading is with the server, so that the page has gone on."""
        self.sees(value)
        self.until(lambda: not self.all("[data-waiting]"), f"{value} is sent")

    def number(self) -> str:
        """The number of the characteristic that is asked for."""
        return str(self.find("section .balloon").text)

    def verdict(self, number: int) -> str:
        """The verdict mark of a characteristic in the list."""
        mark = self.find(f"[data-row='{number}'] td:last-child svg")
        return str(mark.get_attribute("aria-label"))

    def complaints(self) -> list[str]:
        """Script errors and broken security policy; a refused or failed request is not one."""
        log = self.driver.get_log("browser")
        return [e["message"] for e in log if e["level"] == "SEVERE" and "Failed to load resource" not in e["message"]]
