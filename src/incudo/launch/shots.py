"""``./incudo shots``: the pictures in docs/screenshots, made anew from freshly loaded demo data."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from selenium.webdriver import Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.expected_conditions import visibility_of_element_located
from selenium.webdriver.support.wait import WebDriverWait

from incudo.demo import people
from incudo.demo.load import key, load
from incudo.launch.browser import choose, chromium, picture, resize
from incudo.launch.configuration import ROOT, Instance
from incudo.launch.processes import free_port
from incudo.launch.supervise import Supervisor

Act = Callable[[Chrome], None]


@dataclass(frozen=True)
class Shot:
    """A picture: who looks, at which address, what is done first, and what must be there."""

    name: str
    who: str
    path: str
    waits_for: str
    act: Act | None = None
    size: tuple[int, int] = (1280, 800)
    touch: bool = False


def wait(driver: Chrome, css: str, seconds: float = 15) -> None:
    """Wait until something is to be seen."""
    WebDriverWait(driver, seconds).until(visibility_of_element_located((By.CSS_SELECTOR, css)))


def _click(css: str) -> Act:
    def act(driver: Chrome) -> None:
        wait(driver, css)
        driver.find_element(By.CSS_SELECTOR, css).click()

    return act


def _type_reading(driver: Chrome) -> None:
    _click("[data-row='2']")(driver)
    wait(driver, "#reading")


def _last_step(driver: Chrome) -> None:
    """The last operation that takes metal, with what is wrong about it."""
    wait(driver, ".plan-op[data-of='second step']")
    driver.find_element(By.CSS_SELECTOR, ".plan-op[data-of='second step']").click()
    wait(driver, ".plan-frame.large .plan-cutter")


def _open_comparison(driver: Chrome) -> None:
    """Measure what is marked, blind, then open both sides."""
    wait(driver, "#reading")
    for number, value in ((3, "0.3703"), (4, "0.0010")):
        _click(f"[data-row='{number}']")(driver)
        wait(driver, "#reading")
        driver.find_element(By.ID, "reading").send_keys(value, Keys.ENTER)
        wait(driver, f"[data-row='{number}'] svg")
    _click("section .ant-btn-primary.ant-btn-lg")(driver)
    wait(driver, "[data-dispose]")


def hand_in(part: int, round_: int) -> str:
    """The id of a hand-in of the demo."""
    return str(key("hand-in", (part, round_)))


def _part(student: str, project: str) -> int:
    return next(i for i, p in enumerate(people.PARTS) if (p.student, p.project) == (student, project))


def job(student: str, project: str) -> str:
    """The address of a job card of the demo."""
    return f"/job/{key('assignment', _part(student, project))}"


def shots() -> tuple[Shot, ...]:
    """All pictures. Those that change something come last."""
    gauge, ines = job("orla", "keel-step-gauge"), _part("ines", "keel-step-gauge")
    check = f"/check/{hand_in(ines, 0)}"
    person, dunlin = key("person", "kaia"), key("machine", "dunlin")
    upright = (834, 1194)
    return (
        Shot("floor", "haldane", "/floor", ".line li"),
        Shot("session", "haldane", "/session", ".roll li"),
        Shot("class", "haldane", "/class", ".cell"),
        Shot("assess", "haldane", f"/assess/{person}?skill=dials", ".judge", _touch_points, upright, touch=True),
        Shot("make-part", "haldane", f"/parts/{key('project', 'sheave-housing')}/change", ".board-picks .pick"),
        Shot("plan", "juno", f"{job('juno', 'keel-step-gauge')}/plan", ".plan-frame.large", _last_step),
        Shot("bench", "orla", "/bench", ".bench-next"),
        Shot("job-card", "orla", gauge, ".d-sheet", _type_reading),
        Shot("find", "orla", f"{gauge}/find", ".datum-list", _touch_twice),
        Shot("setup", "orla", f"/setup/{key('machine', 'petrel')}?what=vise", ".setup-effects", _align),
        Shot("rig", "orla", "/rigs", ".dial-shown", _guided_run),
        Shot("start", "senna", f"/start/{dunlin}", ".ticks", _tick_some, upright, touch=True),
        Shot("ladder", "senna", "/ladder", ".ladder-map"),
        Shot("run-card", "orla", f"{gauge}/run", ".run-picture svg", _first_pass, upright, touch=True),
        Shot("dry-run", "orla", f"{gauge}/dry", "main .ant-btn-primary", _dry_pass),
        Shot("reckon", "orla", "/reckon/spindle-speed", "[data-calculation] .sketch", _fill_bench),
        Shot("wall", "haldane", f"/wall#{people.WALL_KEY}", ".wall-machine", size=(1920, 1080)),
        Shot("crib", "dacosta", "/crib", ".crib-people", _pick_a_mill),
        Shot("check-compared", "haldane", check, "[data-dispose]", _open_comparison),
    )


def _fill_bench(driver: Chrome) -> None:
    """Petrel, mild steel, a half-inch end mill."""
    wait(driver, ".reckon-bench .ant-select")
    for label, text in (
        ("Machine", "Petrel"),
        ("Material", "Low-carbon steel"),
        ("Cutter", "End mill 1/2 in, 4 flutes"),
    ):
        choose(driver, label, text)


def _pick_a_mill(driver: Chrome) -> None:
    wait(driver, "[aria-label='What is handed out']")
    driver.find_element(By.CSS_SELECTOR, "[aria-label='What is handed out']").send_keys("1/2 4 fl", Keys.ENTER)


def _fill(driver: Chrome, label: str, text: str) -> None:
    where = (By.XPATH, f"//label[contains(normalize-space(.), '{label}')]//input")
    field = WebDriverWait(driver, 15).until(visibility_of_element_located(where))
    field.clear()
    field.send_keys(text)


def _touch_twice(driver: Chrome) -> None:
    """One touch from the wrong side: the page names the backlash."""
    for label, text in (("Touch 1", "0.0380"), ("Touch 2", "0.0140")):
        _fill(driver, label, text)
    wait(driver, ".setup-next .error")


def _align(driver: Chrome) -> None:
    """Begin to align the vise and give the first reading."""
    _click("form .ant-btn-lg")(driver)
    wait(driver, "[name='high']")
    driver.find_element(By.CSS_SELECTOR, "[name='high']").send_keys("-0.0065", Keys.ENTER)


def _guided_run(driver: Chrome) -> None:
    """At the vise rig with guidance, until the first tap is to be made."""
    _click("[data-rig='vise'] .row .ant-btn")(driver)
    for _ in range(20):
        wait(driver, ".rig-guide")
        lit = driver.find_element(By.CSS_SELECTOR, ".rig-controls .ant-btn-primary")
        if (lit.get_attribute("aria-label") or "").startswith("Tap"):
            return
        count = driver.find_element(By.CSS_SELECTOR, ".rig").get_attribute("data-count")
        lit.click()
        wait(driver, f".rig:not([data-count='{count}'])")


def _touch_points(driver: Chrome) -> None:
    wait(driver, ".judge li")
    for said in driver.find_elements(By.CSS_SELECTOR, ".judge li:first-child .said")[:1]:
        said.click()


def _tick_some(driver: Chrome) -> None:
    wait(driver, ".ticks label")
    for label in driver.find_elements(By.CSS_SELECTOR, ".ticks label")[:2]:
        label.click()


def _is_another(step: str) -> Callable[[Chrome], bool]:
    return lambda d: d.find_element(By.CSS_SELECTOR, ".run-step").get_attribute("data-step") != step


def _dry_pass(driver: Chrome) -> None:
    """Begun, gone on to the first pass, and said to which reading it is turned."""
    _click("main .ant-btn-primary")(driver)
    wait(driver, ".run-step")
    while not driver.find_elements(By.CSS_SELECTOR, ".dry-place"):
        before = driver.find_element(By.CSS_SELECTOR, ".run-step").get_attribute("data-step")
        _click(".run-step .ant-btn-primary")(driver)
        WebDriverWait(driver, 15).until(_is_another(before or ""))
    driver.find_element(By.CSS_SELECTOR, ".dry-turn input[inputmode=decimal]").send_keys("0.0525")


def _first_pass(driver: Chrome) -> None:
    """Everything done up to the first pass."""
    wait(driver, ".run-step")
    while not driver.find_elements(By.CSS_SELECTOR, ".run-step.pass"):
        before = driver.find_element(By.CSS_SELECTOR, ".run-step").get_attribute("data-step")
        _click(".run-reading .ant-btn-primary")(driver)
        WebDriverWait(driver, 15).until(_is_another(before or ""))


def sign_in(driver: Chrome, address: str, who: str, secret: str = people.PASSWORD) -> None:
    """Sign in through the page, as a person would."""
    driver.delete_all_cookies()
    driver.get(address)
    wait(driver, "form")
    login, password = driver.find_elements(By.CSS_SELECTOR, "form input")
    login.send_keys(who)
    password.send_keys(secret, Keys.ENTER)
    wait(driver, ".top")


@contextmanager
def _instance() -> Iterator[str]:
    """The address of a freshly loaded demo."""
    with tempfile.TemporaryDirectory(prefix="incudo-shots-") as folder:
        supervisor = Supervisor(Instance.at(Path(folder), free_port(), free_port(), free_port()), workers=1)
        try:
            supervisor.start_database()
            unit = supervisor.unit()
            load(unit, datetime.now(UTC), device_key=supervisor.instance.device_key)
            unit.engine.dispose()
            supervisor.start_web()
            supervisor.start_interlock()
            yield supervisor.address
        finally:
            supervisor.stop()


def shoot(into: str, names: list[str]) -> None:
    """Make the pictures named, or all."""
    folder = Path(into) if into else ROOT / "docs" / "screenshots"
    folder.mkdir(parents=True, exist_ok=True)
    with _instance() as address, chromium() as driver:
        signed_in = ""
        for shot in shots():
            if names and shot.name not in names:
                continue
            if shot.who != signed_in:
                driver.delete_all_cookies()
                driver.get(address)
                driver.execute_script("localStorage.clear()")
                if shot.who:
                    sign_in(driver, address, shot.who)
                signed_in = shot.who
            resize(driver, *shot.size, touch=shot.touch)
            driver.get(address + shot.path)
            wait(driver, "body")
            if shot.act:
                shot.act(driver)
            wait(driver, shot.waits_for)
            driver.execute_script("scrollTo(0, 0)")
            driver.execute_async_script("document.fonts.ready.then(() => setTimeout(arguments[0], 400))")
            picture(driver, folder / f"{shot.name}.png")
            print(f"  {folder / shot.name}.png", flush=True)
