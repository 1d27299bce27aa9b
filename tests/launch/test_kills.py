"""The real launcher: it survives kills of its parts, loses nothing, stops clean, and starts again."""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from http.client import HTTPException
from pathlib import Path
from typing import Any

import pytest

from incudo.demo import people
from tests.loaded import demo_environment, loaded_home
from tests.paths import ROOT
from tests.shop import CALIPER, reading

#: From so many seconds on something hangs; how long a start takes is measured elsewhere.
HANGS = 180
KILLS = {"web": 8, "mariadbd": 12}
WRITERS = ("orla", "dov", "freya")


class Demo:
    """The demo in a folder and on ports of its own, started as a person would start it."""

    def __init__(self, home: Path) -> None:
        self.home = home
        self.process: subprocess.Popen[bytes] | None = None
        self.environment = demo_environment(home)
        self.port = self.environment["INCUDO_PORT"]

    def start(self, seconds: float) -> float:
        began = time.monotonic()
        self.process = subprocess.Popen(
            [sys.executable, "-m", "incudo.launch", "demo"],
            env=self.environment,
            cwd=self.home,
            stdout=(self.home / "out.txt").open("ab"),
            stderr=subprocess.STDOUT,
        )
        while not self.healthy():
            assert self.process.poll() is None, (self.home / "out.txt").read_text()
            assert time.monotonic() - began < seconds, "did not start in time"
            time.sleep(0.1)
        return time.monotonic() - began

    def healthy(self) -> bool:
        try:
            return self.ask("GET", "/api/health")[0] == 200
        except (OSError, HTTPException):
            return False

    def ask(
        self, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None
    ) -> tuple[int, bytes, list[str]]:
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}{path}",
            method=method,
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json", **(headers or {})},
        )
        try:
            with urllib.request.urlopen(request, timeout=30) as answer:
                return answer.status, answer.read(), answer.headers.get_all("Set-Cookie") or []
        except urllib.error.HTTPError as error:
            return error.code, error.read(), []

    def patiently(
        self, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None
    ) -> tuple[int, bytes, list[str]]:
        """As a person does it: a server that is busy, or whose front is just being started again, is asked again.

        After a kill what is left of the front may still answer, until the launcher has seen the death and starts anew.
        """
        end = time.monotonic() + HANGS
        while True:
            try:
                found = self.ask(method, path, body, headers)
            except (OSError, HTTPException) as error:
                found = 0, str(error).encode(), []
            if found[0] not in (0, 502, 503) or time.monotonic() > end:
                return found
            time.sleep(0.5)

    def sign_in(self, login: str) -> dict[str, str]:
        body = {"login": login, "password": people.PASSWORD}
        status, answer, cookies = self.patiently("POST", "/api/sign-in", body)
        assert status == 200, answer
        cookie = "; ".join(c.partition(";")[0] for c in cookies)
        return {"Cookie": cookie, "X-Incudo-Token": json.loads(answer)["token"]}

    def children(self) -> dict[str, int]:
        """The processes that the launcher started itself: name → id."""
        assert self.process
        found = {}
        for pid in Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text().split():
            try:
                command = Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode()
            except (FileNotFoundError, ProcessLookupError):
                continue  # it ended between the two looks
            if command:
                name = next((n for n in ("mariadbd", "interlock") if n in command), "web")
                found[name] = int(pid)
        return found

    def stop(self) -> int:
        assert self.process
        self.process.send_signal(signal.SIGTERM)
        return self.process.wait(timeout=90)


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Demo]:
    home = tmp_path_factory.mktemp("home")
    loaded_home(home)
    instance = Demo(home)
    instance.start(HANGS)
    yield instance
    if instance.process and instance.process.poll() is None:
        instance.stop()


class Writer(threading.Thread):
    """A student who enters readings one after the other and repeats each until it is acknowledged."""

    def __init__(self, demo: Demo, login: str) -> None:
        super().__init__(daemon=True)
        self.demo, self.headers = demo, demo.sign_in(login)
        bench = json.loads(demo.patiently("GET", "/api/bench", headers=self.headers)[1])
        path = f"/api/job-cards/{bench['first']['assignment']}"
        self.attempt = json.loads(demo.patiently("GET", path, headers=self.headers)[1])["attempt"]
        self.acknowledged: list[str] = []
        self.repeated = 0
        self.wrong: list[str] = []
        self.done = threading.Event()

    def run(self) -> None:
        while not self.done.is_set():
            body = reading(1, "1.0005", CALIPER)
            while not self.done.is_set():
                try:
                    path = f"/api/attempts/{self.attempt}/readings"
                    status, answer, _ = self.demo.ask("POST", path, body, self.headers)
                except (OSError, HTTPException):
                    status, answer = 0, b""
                if status == 200:
                    self.acknowledged.append(body["id"])
                    break
                self.repeated += 1
                if status not in (0, 503):
                    self.wrong.append(f"{status} {answer[:200]!r}")
                    self.done.set()
                time.sleep(0.05)
            time.sleep(0.05)


@pytest.mark.timeout(600)
@pytest.mark.sweep(1)
@pytest.mark.parametrize("part", ["mariadbd", "web"])
def test_no_acknowledged_reading_is_lost_by_a_kill(demo: Demo, part: str) -> None:
    chance = random.Random(part)
    writers = [Writer(demo, login) for login in WRITERS]
    for writer in writers:
        writer.start()
    for _ in range(KILLS[part]):
        time.sleep(chance.uniform(0.1, 0.8))
        victim = demo.children()[part]
        os.kill(victim, signal.SIGKILL)
        end = time.monotonic() + 60
        while demo.children().get(part, victim) == victim or not demo.healthy():
            assert time.monotonic() < end, (demo.home / "out.txt").read_text()[-2000:]
            time.sleep(0.05)
    before = [len(w.acknowledged) for w in writers]
    end = time.monotonic() + HANGS
    while any(len(w.acknowledged) == n and not w.wrong for w, n in zip(writers, before, strict=True)):
        assert time.monotonic() < end, "after the last kill everybody's readings are taken again"
        time.sleep(0.05)
    for writer in writers:
        writer.done.set()
    for writer in writers:
        writer.join(timeout=HANGS)
        assert not writer.is_alive()
        assert not writer.wrong, writer.wrong
    acknowledged = [r for w in writers for r in w.acknowledged]
    tried_again = (demo.home / "demo" / "web.log").read_text().count("use case tried again")
    assert sum(w.repeated for w in writers) + tried_again > 0, "the kills were felt"
    auditor = demo.sign_in("thorley")
    status, text, _ = demo.patiently("GET", "/api/registers/readings/file", headers=auditor)
    assert status == 200
    kept = [line.partition(",")[0] for line in text.decode().splitlines()]
    assert set(acknowledged) <= set(kept)
    assert len(set(kept)) == len(kept), "and none is there twice"


def test_a_second_start_on_the_same_folder_says_that_it_runs(demo: Demo) -> None:
    second = subprocess.run(
        [sys.executable, "-m", "incudo.launch", "demo"],
        env=demo.environment,
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )
    assert second.returncode != 0
    assert f"runs already at http://127.0.0.1:{demo.port}" in second.stderr


@pytest.mark.long
def test_it_stops_clean_and_starts_again_with_everything(demo: Demo) -> None:
    auditor = demo.sign_in("thorley")
    path = "/api/registers/readings"
    before = json.loads(demo.patiently("GET", path, headers=auditor)[1])["entries"]
    parts = demo.children()
    assert set(parts) == {"web", "mariadbd", "interlock"}
    assert demo.stop() == 0
    for pid in parts.values():
        assert not Path(f"/proc/{pid}").exists(), "nothing is left running"
    said = (demo.home / "out.txt").read_text()
    assert "everything entered is kept" in said
    assert "orla" in said
    demo.start(HANGS)
    after = json.loads(demo.ask("GET", path, headers=auditor)[1])
    assert after["entries"] == before, "and the session holds too"


@pytest.mark.long
def test_verify_finds_the_register_whole_beside_a_running_demo(demo: Demo) -> None:
    def verify() -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "incudo.launch", "verify"]
        return subprocess.run(command, env=demo.environment, capture_output=True, text=True, timeout=60, check=False)

    whole = verify()
    assert whole.returncode == 0, whole.stdout + whole.stderr
    assert "the register holds" in whole.stdout
    heads = demo.home / "demo" / "register-heads.jsonl"
    kept = heads.read_text()
    heads.write_text(kept + json.dumps({"seq": 10**6, "digest": "0" * 64, "seal": "0" * 64}) + "\n")
    broken = verify()
    heads.write_text(kept)
    assert broken.returncode == 1
    assert "BROKEN: entry 1000000" in broken.stdout


def test_nothing_broke_on_the_server(demo: Demo) -> None:
    log = (demo.home / "demo" / "web.log").read_text()
    assert " broken " not in log
    assert "Exception in worker" not in log


@pytest.mark.long
@pytest.mark.parametrize(
    ("environment", "words"),
    [
        ({}, "INCUDO_DATABASE, INCUDO_SECRET"),
        ({"INCUDO_BIND": "0.0.0.0:8420"}, "INCUDO_TLS_CERT"),
        ({"INCUDO_CHEAP_SECRETS": "1"}, "for test runs alone"),
    ],
)
def test_serve_says_what_it_needs(environment: dict[str, str], words: str) -> None:
    bare = {k: v for k, v in os.environ.items() if not k.startswith("INCUDO_")}
    serve = subprocess.run(
        [sys.executable, "-m", "incudo.launch", "serve"],
        env=bare | environment,
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )
    assert serve.returncode != 0
    assert words in serve.stderr


def test_the_launcher_knows_its_commands() -> None:
    launcher = [str(ROOT / "incudo")]
    shown = subprocess.run(launcher, capture_output=True, text=True, check=True).stdout
    for command in ("demo", "test", "serve", "verify", "shots", "stats"):
        assert f"./incudo {command}" in shown
    wrong = subprocess.run([*launcher, "juggle"], capture_output=True, text=True, check=False)
    assert wrong.returncode == 2


@pytest.mark.long
def test_a_calculation_on_the_command_line() -> None:
    def reckon(*args: str, given: str = "") -> tuple[int, Any]:
        command = [sys.executable, "-m", "incudo.launch", "reckon", *args, "--json"]
        done = subprocess.run(command, input=given, capture_output=True, text=True, timeout=60, check=False)
        return done.returncode, json.loads(done.stdout)

    code, listed = reckon("--list")
    assert code == 0
    assert "countersink-depth" in [c["id"] for c in listed]
    code, answer = reckon("boring-head", given='{"target": "30", "measured": "29.4", "dial": "radius"}')
    assert (code, answer["results"][0]["values"][0]["value"]) == (0, "0.3")
    code, wrong = reckon("boring-head", given='{"target": "x", "measured": "29.4"}')
    assert (code, wrong["errors"][0]["field"]) == (2, "target")
    for bad in ("", "[1]", "{"):
        assert reckon("boring-head", given=bad)[0] == 2
    assert reckon("guess", given="{}")[0] == 2
