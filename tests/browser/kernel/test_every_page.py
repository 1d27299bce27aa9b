"""Every page at both sizes: nothing outside the catalogues, nothing cut off, and nothing that keeps somebody out."""

from __future__ import annotations

import ast
import csv
import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any

import pytest
import yaml

import incudo.demo
from incudo import shipped
from incudo.app.kernel.language import PSEUDO
from incudo.launch.browser import resize
from incudo.launch.configuration import ROOT
from tests.browser.page import Page
from tests.browser.pages import Place, places
from tests.paths import VERSION_1

SIZES = {"desk": (1280, 800, False), "tablet": (834, 1194, True)}
#: What is the same in every language, or written by the browser itself.
SAME = (
    r"\b(in|mm|µm|rpm|m/min|ft/min|min|kg|N|kW|W|UTC|JSON|CSV|PDF|LL|UL|cm"
    r"|Mon|Tue|Wed|Thu|Fri|Sat|Sun|(Jan|Feb|Mar|Apr|May|June?|July?|Aug|Sept?|Oct|Nov|Dec)[a-z]*)\b"
)
#: The texts of a page that stand outside brackets, block by block, and of what is said of its parts.
BARE = """
const block = (e) => {
  for (; e.parentElement; e = e.parentElement) {
    const d = getComputedStyle(e).display;
    if (!d.startsWith("inline") && d !== "contents") return e;
    if (e.tagName === "BUTTON" || e instanceof SVGTextElement) return e;
  }
  return e;
};
const seen = new Map();
const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
for (let n = walker.nextNode(); n; n = walker.nextNode()) {
  const e = n.parentElement;
  const box = e.getBoundingClientRect();
  if (["SCRIPT", "STYLE", "TEXTAREA"].includes(e.tagName) || e.closest("[translate=no]")) continue;
  if (!box.width || !box.height || getComputedStyle(e).visibility === "hidden") continue;
  seen.set(block(e), (seen.get(block(e)) ?? "") + n.data);
}
for (const a of ["placeholder", "title", "aria-label"])
  for (const e of document.querySelectorAll(`[${a}]`))
    if (!e.closest("[translate=no], .anticon")) seen.set(a + e.getAttribute(a), e.getAttribute(a));
const bare = [];
for (const text of seen.values()) {
  let depth = 0, out = "";
  for (const c of text) {
    if (c === "[") depth++;
    else if (c === "]") { depth = Math.max(0, depth - 1); out += " "; }
    else if (!depth) out += c;
  }
  if (/[A-Za-z]{2,}/.test(out)) bare.push(out);
}
return [...new Set(bare)];
"""
#: Texts that do not fit into what holds them, and whether the page itself is wider than the window.
CUT = """
const cut = [];
for (const e of document.querySelectorAll("body *")) {
  const style = getComputedStyle(e);
  if (!["hidden", "clip"].includes(style.overflowX) || e.closest("svg, .ant-select, .ant-picker")) continue;
  if (e.clientWidth > 2 && e.scrollWidth > e.clientWidth + 2 && e.innerText?.trim()) cut.push(e.innerText.slice(0, 80));
}
const wide = document.documentElement.scrollWidth - innerWidth;
if (wide > 1) cut.push(`the page is ${wide} too wide`);
return cut;
"""


@cache
def what_people_wrote() -> re.Pattern[str]:
    """Names, notes and remarks of the demo: they are in nobody's catalogue. The longest first."""
    found: set[str] = {"Skerry Sound", "INCUDO"}
    folder = Path(incudo.demo.__path__[0])
    for file in folder.glob("*.py"):
        constants = (n.value for n in ast.walk(ast.parse(file.read_text())) if isinstance(n, ast.Constant))
        found.update(x for x in constants if isinstance(x, str) and len(x) > 3)
    # what a part says is its instructor's own; the parts of the first format name their sheets' sides too
    for file in (*folder.glob("*/*.yaml"), *VERSION_1.glob("*.yaml")):
        found.update(_texts(yaml.safe_load(file.read_text())))
    found.update(x for x in _texts(list(shipped.parts().values())) if " " in x or x[:1].isupper())
    for file in folder.glob("*/*.csv"):
        found.update(_texts(list(csv.reader(file.open()))))
    people = {part for x in found if re.fullmatch("[A-Z][a-z]+ [A-Z][a-z]+", x) for part in x.split()}
    longest = sorted(found | people, key=len, reverse=True)
    return re.compile("|".join(re.escape(x) for x in longest), re.IGNORECASE)


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, str) and len(value) > 3:
        yield value
    elif isinstance(value, dict):
        yield from _texts([*value.keys(), *value.values()])
    elif isinstance(value, list):
        for x in value:
            yield from _texts(x)


def outside(page: Page) -> list[str]:
    """What a page says that came from no template."""
    found = []
    for text in page.driver.execute_script(BARE):
        if re.search("[A-Za-z]{2,}", re.sub(SAME, " ", what_people_wrote().sub(" ", text))):
            found.append(text.strip()[:200])
    return found


def spoken_in(page: Page, place: Place, language: str) -> bool:
    """Open a page; a server that was too busy to say its words in time leaves it English, and it is opened again."""
    page.go(place.path)
    page.find(place.waits_for)
    return bool(page.driver.execute_script("return document.documentElement.lang") == language)


def each(page: Page, who: str, language: str = "en") -> Iterator[Place]:
    """Each page of one person, opened and waited for, in a language."""
    for place in places():
        if place.who != who:
            continue
        page.until(lambda place=place: spoken_in(page, place, language), f"{place.name} in {language}")
        page.driver.execute_async_script("document.fonts.ready.then(() => requestAnimationFrame(arguments[0]))")
        yield place


@contextmanager
def in_pseudo(page: Page) -> Iterator[None]:
    """The browser asks for the pseudo-locale for a while."""
    agent = page.driver.execute_script("return navigator.userAgent")
    page.driver.execute_cdp_cmd("Network.setUserAgentOverride", {"userAgent": agent, "acceptLanguage": PSEUDO})
    try:
        yield
    finally:
        page.driver.execute_cdp_cmd("Network.setUserAgentOverride", {"userAgent": agent, "acceptLanguage": "en"})


#: Whose pages are looked at; the first is the one of the standard run.
WHO = sorted({p.who for p in places()}, key=lambda who: (who != "orla", who))


@pytest.mark.long
@pytest.mark.parametrize("who", WHO)
def test_every_text_comes_from_a_catalogue_and_fits(browser: Callable[..., Page], who: str) -> None:
    """In the pseudo-locale every text is in brackets and a third longer; at both sizes."""
    page = browser(who)
    wrong = []
    with in_pseudo(page):
        for place in each(page, who, PSEUDO):
            for size, (width, height, touch) in SIZES.items():
                resize(page.driver, width, height, touch=touch)
                wrong += [f"{place.name}, {size}: outside: {x}" for x in outside(page)]
                wrong += [f"{place.name}, {size}: cut off: {x}" for x in page.driver.execute_script(CUT)]
    assert wrong == [], "\n".join(wrong)


AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text
RUN_AXE = """
const [only, done] = arguments;
const drawn = () => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)));
const all = {
  runOnly: {type: "tag", values: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]},
  rules: {"label-content-name-mismatch": {enabled: true}},
};
drawn().then(() => axe.run(document, only ? {runOnly: {type: "rule", values: only}} : all))
  .then((r) => r.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(" ")} ${n.failureSummary}`)))
  .then(done)
  .catch((e) => done([String(e)]));
"""
#: Day or evening as if it had been chosen in another tab, and drawn.
THEME = """
localStorage.setItem("incudo-theme", arguments[0]);
dispatchEvent(new StorageEvent("storage", {key: "incudo-theme"}));
"""
#: Rules that size and colours decide; the others say the same of a page on a tablet in the evening.
OF_LOOKS = (
    "color-contrast",
    "target-size",
    "scrollable-region-focusable",
    "link-in-text-block",
    "aria-hidden-focus",
    "button-name",
    "link-name",
    "label",
)


@pytest.mark.long
@pytest.mark.parametrize("who", WHO)
def test_no_page_keeps_anybody_out(browser: Callable[..., Page], who: str) -> None:
    """WCAG 2.2 AA as far as a program can tell: all by day at a desk, what looks decide in the evening on a tablet."""
    page = browser(who)
    source = AXE()
    wrong = []
    for place in each(page, who):
        page.driver.execute_script(source)
        for size, theme, only in (("desk", "day", None), ("tablet", "evening", OF_LOOKS)):
            width, height, touch = SIZES[size]
            resize(page.driver, width, height, touch=touch)
            page.driver.execute_script(THEME, theme)
            found = page.driver.execute_async_script(RUN_AXE, only)
            wrong += [f"{place.name}, {size}, {theme}: {x[:300]}" for x in found]
        page.driver.execute_script(THEME, "day")
        resize(page.driver, *SIZES["desk"][:2])
    assert wrong == [], "\n".join(wrong)
