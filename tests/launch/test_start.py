"""``./incudo start`` and ``./incudo code`` as a person meets them: an empty shop, its first code, the way back in."""

from __future__ import annotations

import json
import os
import re
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import pytest

from incudo.launch.processes import free_port

CODE = re.compile(r"\b[a-z0-9]{4}-[a-z0-9]{4}-[a-z0-9]{4}\b")
BEGIN = {
    "shop": "Harbour Road", "unit": "in", "school": "guard_band", "projection": "third", "zone": "UTC",
    "group": "Monday", "name": "Ada Quist", "login": "", "password": "by the harbour road", "pin": "4711",
}  # fmt: skip


class Shop:
    """The shop of a folder, started and stopped as one does it at a terminal."""

    def __init__(self, home: Path) -> None:
        self.port = free_port()
        ports = {"INCUDO_PORT": self.port, "INCUDO_PANEL_PORT": free_port(), "INCUDO_DATABASE_PORT": free_port()}
        kept = {k: v for k, v in os.environ.items() if k != "INCUDO_CHEAP_SECRETS"}
        self.environment = kept | {"INCUDO_HOME": str(home)} | {k: str(v) for k, v in ports.items()}
        self.said = home / "said.txt"

    def start(self) -> subprocess.Popen[bytes]:
        with self.said.open("wb") as out:
            process = subprocess.Popen(
                [sys.executable, "-m", "incudo.launch", "start"], env=self.environment, stdout=out, stderr=out
            )
        end = time.monotonic() + 120
        while "Ctrl-C stops it" not in self.said.read_text():
            assert process.poll() is None, self.said.read_text()
            assert time.monotonic() < end, self.said.read_text()
            time.sleep(0.1)
        return process

    def stop(self, process: subprocess.Popen[bytes]) -> None:
        process.send_signal(signal.SIGTERM)
        assert process.wait(60) == 0, self.said.read_text()

    def code(self, login: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "incudo.launch", "code", login]
        return subprocess.run(command, env=self.environment, capture_output=True, text=True, timeout=120, check=False)

    def post(self, path: str, body: dict[str, Any]) -> int:
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}{path}", json.dumps(body).encode(), {"Content-Type": "application/json"}
        )
        try:
            with urllib.request.urlopen(request, timeout=60) as answer:
                return int(answer.status)
        except urllib.error.HTTPError as error:
            return error.code


@pytest.fixture
def shop(tmp_path: Path) -> Shop:
    return Shop(tmp_path)


@pytest.mark.long
@pytest.mark.timeout(600)
def test_a_shop_of_ones_own_is_started_set_up_and_come_back_into(shop: Shop) -> None:
    process = shop.start()
    try:
        (first,) = CODE.findall(shop.said.read_text())
        again = subprocess.run(
            [sys.executable, "-m", "incudo.launch", "start"],
            env=shop.environment, capture_output=True, text=True, timeout=60, check=False,
        )  # fmt: skip
        assert "Incudo runs already" in again.stderr, "two do not share a folder"
        assert shop.post("/api/first-run", {**BEGIN, "code": "abcd-efgh-jkmn"}) == 403
        assert shop.post("/api/first-run", {**BEGIN, "code": first}) == 200
        assert shop.post("/api/sign-in", {"login": "ada.q", "password": BEGIN["password"]}) == 200
        # while it runs: the way back for whoever has forgotten their password
        unknown = shop.code("nobody")
        assert (unknown.returncode, "sign-in name" in unknown.stdout) == (1, True)
        slip = shop.code("ada.q")
        assert slip.returncode == 0, slip.stderr
        (code,) = CODE.findall(slip.stdout)
        assert "Ada Quist signs in as ada.q" in slip.stdout
        assert shop.post("/api/codes/take", {"code": code, "password": "another password", "pin": "4712"}) == 200
        assert shop.post("/api/sign-in", {"login": "ada.q", "password": BEGIN["password"]}) == 403
    finally:
        shop.stop(process)
    # what was entered is kept, and a shop that is there asks for no code
    process = shop.start()
    try:
        assert not CODE.findall(shop.said.read_text())
        assert shop.post("/api/sign-in", {"login": "ada.q", "password": "another password"}) == 200
    finally:
        shop.stop(process)
    # and at rest: the database is started for it and stopped again
    assert CODE.findall(shop.code("ada.q").stdout)


def test_a_shop_is_not_started_with_passwords_almost_in_the_open(shop: Shop) -> None:
    command = [sys.executable, "-m", "incudo.launch", "start"]
    environment = shop.environment | {"INCUDO_CHEAP_SECRETS": "1"}
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=60, check=False)
    assert done.returncode == 1
    assert "test runs alone" in done.stderr
