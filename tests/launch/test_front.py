"""The front and its lanes: settings that nginx takes, who serves which lane, `serve` as a shop would run it."""

from __future__ import annotations

import json
import os
import re
import signal
import ssl
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pymysql
import pytest

from incudo.api.kernel.problems import Problem
from incudo.launch import lanes
from incudo.launch.configuration import Instance
from incudo.launch.lanes import HEAVY, INTERLOCK, LANES, WORK, planned, socket_of
from incudo.launch.processes import free_port
from incudo.launch.supervise import LONGEST, QUICK, Supervisor
from incudo.launch.web import HEAVY_AT_ONCE, HEAVY_PATHS, OF_ONE_ADDRESS, Front, nginx_settings
from tests.loaded import loaded_shop
from tests.shop import new_id

HANGS = 90


@pytest.fixture(scope="module")
def certificate(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, Path]:
    folder = tmp_path_factory.mktemp("tls")
    cert, key = folder / "cert.pem", folder / "key.pem"
    command = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost"]
    subprocess.run([*command, "-keyout", str(key), "-out", str(cert)], check=True, capture_output=True)
    return cert, key


@pytest.mark.parametrize("tls", [False, True])
@pytest.mark.parametrize("proxies", [0, 1, 5])
def test_nginx_takes_the_settings(tmp_path: Path, certificate: tuple[Path, Path], tls: bool, proxies: int) -> None:
    cert, key = certificate if tls else ("", "")
    front = Front(f"127.0.0.1:{free_port()}", str(cert), str(key), proxies)
    settings = tmp_path / "nginx.conf"
    text = nginx_settings(front, tmp_path, tmp_path / "log")
    settings.write_text(text)
    nginx = next(p for p in ("/usr/sbin/nginx", "/usr/bin/nginx") if Path(p).exists())
    done = subprocess.run(
        [nginx, "-t", "-p", str(tmp_path), "-c", str(settings), "-e", str(tmp_path / "log")],
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    assert ("ssl_certificate " in text) == tls
    # a caller's own word about its address is passed on only behind a proxy of the shop's own
    assert ("$proxy_add_x_forwarded_for" in text) == bool(proxies)
    assert f"limit_conn address {OF_ONE_ADDRESS};" in text
    assert f"limit_conn heavy {HEAVY_AT_ONCE};" in text


@pytest.mark.parametrize("workers", [1, 2, 5])
def test_each_lane_gets_its_workers_and_a_dead_one_is_replaced_in_its_own(
    monkeypatch: pytest.MonkeyPatch, workers: int
) -> None:
    monkeypatch.setenv("INCUDO_WORKERS", str(workers))
    server = SimpleNamespace(WORKERS={})
    for pid in range(workers + 2):
        worker = SimpleNamespace()
        lanes.pre_fork(server, worker)
        server.WORKERS[pid] = worker
    taken = [w.lane for w in server.WORKERS.values()]
    assert sorted(x.name for x in taken) == sorted(x.name for x in planned(workers))
    assert taken.count(WORK) == workers
    assert [taken.count(x) for x in (INTERLOCK, HEAVY)] == [1, 1]
    for pid in list(server.WORKERS):
        dead = server.WORKERS.pop(pid)
        fresh = SimpleNamespace()
        lanes.pre_fork(server, fresh)
        assert fresh.lane is dead.lane
        server.WORKERS[pid] = fresh


@pytest.mark.parametrize("lane", LANES, ids=lambda x: x.name)
def test_a_worker_listens_to_its_lane_alone(monkeypatch: pytest.MonkeyPatch, tmp_path: Path, lane: lanes.Lane) -> None:
    monkeypatch.setenv("INCUDO_DATABASE_SECONDS", "1")
    stood_back: list[int] = []
    monkeypatch.setattr(os, "nice", stood_back.append)
    said: dict[str, Any] = {}
    listeners = [f"unix:{socket_of(tmp_path, x)}" for x in LANES]
    worker = SimpleNamespace(lane=lane, cfg=SimpleNamespace(set=said.__setitem__), sockets=listeners)
    lanes.post_fork(SimpleNamespace(LISTENERS=listeners), worker)
    assert worker.sockets == [f"unix:{socket_of(tmp_path, lane)}"]
    assert said == {"threads": lane.threads}
    assert stood_back == [lane.nice]
    assert os.environ["INCUDO_DATABASE_SECONDS"] == str(lane.database)


def test_the_interlock_goes_first_and_gives_up_a_silent_database_first() -> None:
    assert INTERLOCK.nice < WORK.nice < HEAVY.nice
    assert INTERLOCK.database < WORK.database < HEAVY.database


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Supervisor]:
    supervisor = Supervisor(loaded_shop(tmp_path_factory.mktemp("shop")))
    try:
        supervisor.start_database()
        yield supervisor
    finally:
        supervisor.stop()


@contextmanager
def serving(shop: Supervisor, **more: str) -> Iterator[tuple[subprocess.Popen[bytes], int]]:
    """`serve` with a shop's settings; it must end clean on SIGTERM."""
    port = free_port()
    environment = {k: v for k, v in os.environ.items() if not k.startswith("INCUDO_")} | {
        "INCUDO_DATABASE": shop.database.app_url,
        "INCUDO_OWNER_DATABASE": shop.database.owner_url,
        "INCUDO_SECRET": "s" * 30,
        "INCUDO_REGISTER_KEY": shop.instance.register_key,
        "INCUDO_BIND": f"127.0.0.1:{port}",
        "INCUDO_WORKERS": "1",
        **more,
    }
    process = subprocess.Popen([sys.executable, "-m", "incudo.launch", "serve"], env=environment)
    try:
        yield process, port
    finally:
        process.send_signal(signal.SIGTERM)
        assert process.wait(timeout=HANGS) == 0


def get(url: str, **headers: str) -> tuple[int, Any]:
    trust = ssl.create_default_context()
    trust.check_hostname, trust.verify_mode = False, ssl.CERT_NONE
    request = urllib.request.Request(url, headers=headers)
    try:
        with urllib.request.urlopen(request, timeout=20, context=trust) as answer:
            return answer.status, answer
    except urllib.error.HTTPError as error:
        return error.code, error


def until_it_answers(url: str) -> None:
    end = time.monotonic() + HANGS
    while True:
        try:
            if get(url)[0] == 200:
                return
        except OSError:
            pass
        assert time.monotonic() < end, "it does not answer"
        time.sleep(0.2)


def guess(port: int, **headers: str) -> int:
    """A wrong sign-in; the address it came from is counted."""
    body = json.dumps({"login": f"nobody-{new_id()}", "password": "x"}).encode()
    sent = {"Content-Type": "application/json", **headers}
    request = urllib.request.Request(f"http://127.0.0.1:{port}/api/sign-in", data=body, headers=sent)
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            return int(answer.status)
    except urllib.error.HTTPError as error:
        return error.code


def addresses(shop: Supervisor) -> str:
    connection = pymysql.connect(
        host="127.0.0.1",
        port=shop.instance.database_port,
        user="incudo_owner",
        password=shop.instance.owner_password,
        database="incudo",
    )
    with connection, connection.cursor() as cursor:
        cursor.execute("SELECT scope FROM failure")
        return " ".join(scope for (scope,) in cursor.fetchall())


@pytest.mark.long
def test_behind_one_proxy_just_the_last_word_about_the_caller_is_believed(shop: Supervisor) -> None:
    with serving(shop, INCUDO_PROXIES="1") as (process, port):
        until_it_answers(f"http://127.0.0.1:{port}/api/health")
        forwarded = {"X-Forwarded-For": "203.0.113.1, 198.51.100.7", "X-Forwarded-Proto": "https"}
        assert guess(port, **forwarded) == 403
        found = addresses(shop)
        assert "198.51.100.7" in found, "what the shop's proxy saw"
        assert "203.0.113.1" not in found, "and not what the caller told it"
        # its parts are started again
        children = Path(f"/proc/{process.pid}/task/{process.pid}/children").read_text().split()
        for child in children:
            os.kill(int(child), signal.SIGKILL)
        until_it_answers(f"http://127.0.0.1:{port}/api/health")
    for child in children:
        assert not Path(f"/proc/{child}").exists()
    with pytest.raises(OSError, match="refused"):
        get(f"http://127.0.0.1:{port}/")


@pytest.mark.long
def test_with_a_certificate_it_speaks_tls_and_its_cookies_are_for_tls_alone(
    shop: Supervisor, certificate: tuple[Path, Path]
) -> None:
    cert, key = certificate
    with serving(shop, INCUDO_TLS_CERT=str(cert), INCUDO_TLS_KEY=str(key)) as (_, port):
        until_it_answers(f"https://127.0.0.1:{port}/api/health")
        assert get(f"http://127.0.0.1:{port}/api/health")[0] == 400, "not in the open"
        body = json.dumps({"login": "orla", "password": "tideway-lantern"}).encode()
        request = urllib.request.Request(
            f"https://127.0.0.1:{port}/api/sign-in", data=body, headers={"Content-Type": "application/json"}
        )
        trust = ssl.create_default_context()
        trust.check_hostname, trust.verify_mode = False, ssl.CERT_NONE
        with urllib.request.urlopen(request, timeout=20, context=trust) as answer:
            cookies = answer.headers.get_all("Set-Cookie")
        assert cookies
        assert all("Secure" in c and "HttpOnly" in c and "SameSite=Strict" in c for c in cookies)


@pytest.mark.parametrize(
    ("deaths", "wait"), [(1, 0), (QUICK, 0), (QUICK + 1, 2), (QUICK + 2, 4), (QUICK + 4, 16), (QUICK + 5, LONGEST)]
)
def test_what_dies_again_and_again_is_started_at_growing_distances(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, deaths: int, wait: float
) -> None:
    """At once at first, then after twice as long each time, never longer than the longest; and never given up."""
    now = [1000.0]
    monkeypatch.setattr("incudo.launch.supervise.time.monotonic", lambda: now[0])
    supervisor = Supervisor(Instance.at(tmp_path, free_port(), free_port()), say=lambda _text: None)
    starts: list[float] = []
    monkeypatch.setattr(supervisor, "_interlock_died", lambda: True)
    monkeypatch.setattr(supervisor, "start_interlock", lambda: starts.append(now[0]))
    while len(starts) < deaths:
        supervisor.watch_once()
        now[0] += 0 if len(starts) == deaths else 0.1
    before = len(starts)
    now[0] += max(wait - 0.01, 0)
    supervisor.watch_once()
    assert len(starts) == before + (0 if wait else 1)
    now[0] += 0.02
    supervisor.watch_once()
    assert len(starts) > before


def test_a_start_that_fails_is_tried_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    words: list[str] = []
    supervisor = Supervisor(Instance.at(tmp_path, free_port(), free_port()), say=words.append)
    tries: list[int] = []

    def start() -> None:
        tries.append(1)
        if len(tries) < 3:
            raise OSError("no room on the disk")

    monkeypatch.setattr(supervisor, "_interlock_died", lambda: len(tries) < 3)
    monkeypatch.setattr(supervisor, "start_interlock", start)
    for _ in range(5):
        supervisor.watch_once()
    assert len(tries) == 3
    assert sum("does not start: no room on the disk" in w for w in words) == 2
    supervisor.stop()
    tries.clear()
    supervisor.watch_once()
    assert not tries, "who is ending starts nothing"


def test_what_the_front_says_itself_is_a_problem_document_like_all_others() -> None:
    text = nginx_settings(Front("127.0.0.1:1"), Path("/x"), None)
    answers = re.findall(r"location @own(\d+) \{ internal; default_type (\S+); (.*?)return (\d+) '(\{.*?\})'; \}", text)
    assert [int(a[0]) for a in answers] == [408, 413, 502, 503]
    for _, kind, more, status, body in answers:
        assert kind == "application/problem+json"
        problem = Problem.model_validate_json(body)
        assert problem.status == int(status)
        assert problem.detail.endswith(".")
        assert ("Retry-After" in more) == (problem.status == 503)
    taken = {
        int(code): own
        for codes, own in re.findall(r"error_page ([\d ]+) =\d+ @own(\d+);", text)
        for code in codes.split()
    }
    assert taken == {408: "408", 413: "413", 502: "502", 504: "502", 503: "503"}


@pytest.mark.parametrize(
    ("path", "heavy"),
    [
        ("/api/machine-labels.pdf", True),
        ("/api/students/x/skill-record.pdf", True),
        ("/api/registers/readings/file", True),
        ("/api/registers/readings", False),
        ("/api/register", True),
        ("/api/tables/drills.csv", True),
        ("/api/tables/drills", True),
        ("/api/tables/drills/check", False),
        ("/api/groups/0198/results.xlsx", True),
        ("/api/groups/0198/skills.csv", True),
        ("/api/groups/0198", False),
        ("/api/project-checks", True),
        ("/api/job-cards/0198/plan/own", True),
        ("/api/job-cards/0198/plan/task", True),
        ("/api/job-cards/0198/plan/look", False),
        ("/api/job-cards/0198/plan", False),
        ("/api/projects/0198/plans", True),
        ("/api/projects/x/versions", True),
        ("/api/projects/x", False),
        ("/api/versions/x/drawing", False),
        ("/api/bench", False),
        ("/leaflet.pdf", False),
        ("/api/interlock", False),
    ],
)
def test_what_is_heavy_goes_into_a_lane_of_its_own(path: str, heavy: bool) -> None:
    assert bool(re.search(HEAVY_PATHS, path)) == heavy
