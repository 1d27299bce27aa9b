"""Slow, silent, greedy and broken callers, a frozen and a full database: what is asked in good order is answered."""

from __future__ import annotations

import getpass
import json
import os
import re
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import Any

import pymysql
import pytest

from incudo.api.kernel.body import MOST_BYTES, MOST_BYTES_OF_A_FILE, MOST_VALUES
from incudo.core.kernel.wire import MOST_DEPTH
from incudo.demo.people import PASSWORD
from incudo.launch.lanes import INTERLOCK, WORK
from incudo.launch.supervise import Supervisor
from incudo.launch.web import HEAVY_AT_ONCE, Front, nginx_settings, patience_from, proxies_from
from tests.loaded import loaded_shop
from tests.shop import CALIPER, DEVICE_KEY, PETREL, new_id, reading

#: From so many seconds on an answer is taken as not come; what is held is that it comes, not how fast.
HANGS = 60


class Caller:
    """Asks a server over real connections."""

    def __init__(self, address: str) -> None:
        self.address = address
        self.headers: dict[str, str] = {}

    def ask(
        self, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None
    ) -> tuple[int, bytes, Any]:
        raw = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
        sent = {"Content-Type": "application/json"} | self.headers | (headers or {})
        request = urllib.request.Request(f"{self.address}{path}", method=method, data=raw, headers=sent)
        try:
            with urllib.request.urlopen(request, timeout=HANGS) as answer:
                return answer.status, answer.read(), answer.headers
        except urllib.error.HTTPError as error:
            return error.code, error.read(), error.headers

    def come_in(self, login: str) -> Caller:
        status, answer, headers = self.ask("POST", "/api/sign-in", {"login": login, "password": PASSWORD})
        assert status == 200
        cookies = "; ".join(c.partition(";")[0] for c in headers.get_all("Set-Cookie"))
        self.headers = {"Cookie": cookies, "X-Incudo-Token": json.loads(answer)["token"]}
        return self

    def interlock(self) -> int:
        report = {"machines": [{"machine": PETREL, "spindle": False, "feed": False}]}
        return self.ask("POST", "/api/interlock", report, {"Authorization": f"Bearer {DEVICE_KEY}"})[0]


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Supervisor]:
    supervisor = Supervisor(loaded_shop(tmp_path_factory.mktemp("attacked")), workers=1)
    try:
        supervisor.start_database()
        supervisor.start_web()
        yield supervisor
    finally:
        supervisor.stop()


@pytest.fixture
def caller(served: Supervisor) -> Iterator[Caller]:
    yield Caller(served.address)
    assert " broken " not in served.log.read_text()


def lines(served: Supervisor, count: int, first: bytes) -> ExitStack:
    """So many connections that have sent their beginning and then keep silent."""
    stack = ExitStack()
    for _ in range(count):
        line = stack.enter_context(socket.create_connection(("127.0.0.1", served.instance.web_port), timeout=HANGS))
        line.sendall(first)
    return stack


@pytest.mark.long
@pytest.mark.parametrize(
    "first",
    [
        b"GET /api/health HTTP/1.1\r\nHost: x\r\nX-Slow: ",
        b"POST /api/sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 50000\r\n\r\n{",
        b"POST /api/interlock HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\n5\r\n{",
        b"",
    ],
)
def test_slow_callers_cost_connections_and_no_worker(served: Supervisor, caller: Caller, first: bytes) -> None:
    with lines(served, 200, first):
        for _ in range(5):
            assert caller.ask("GET", "/")[0] == 200
            assert caller.ask("GET", "/api/health")[0] == 200
            assert caller.interlock() == 200


def test_who_does_not_read_the_answer_keeps_nobody_waiting(served: Supervisor, caller: Caller) -> None:
    thorley = Caller(served.address).come_in("thorley")
    head = f"GET /api/registers/safety/file HTTP/1.1\r\nHost: x\r\nCookie: {thorley.headers['Cookie']}\r\n\r\n"
    with lines(served, HEAVY_AT_ONCE, head.encode()):
        assert caller.ask("GET", "/")[0] == 200
        assert caller.interlock() == 200


@pytest.mark.parametrize(
    ("raw", "code"),
    [
        (b"Transfer-Encoding: chunked\r\n\r\nZZZ\r\n{}\r\n0\r\n\r\n", b"400"),
        (b"Transfer-Encoding: chunked\r\n\r\n-5\r\n{}\r\n0\r\n\r\n", b"400"),
        (b"Content-Length: -1\r\n\r\n", b"400"),
        (b"Content-Length: 3\r\nContent-Length: 4\r\n\r\n{}xx", b"400"),
        (b"Content-Length: 99999999\r\n\r\n{", b"413"),
    ],
)
def test_bodies_that_are_broken_on_the_way(served: Supervisor, caller: Caller, raw: bytes, code: bytes) -> None:
    head = b"POST /api/sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nConnection: close\r\n"
    with socket.create_connection(("127.0.0.1", served.instance.web_port), HANGS) as line:
        line.sendall(head + raw)
        assert line.recv(4096).split()[1] == code
    assert caller.ask("GET", "/api/health")[0] == 200


def deep(levels: int) -> bytes:
    return b"[" * levels + b"]" * levels


@pytest.mark.parametrize(
    ("body", "status", "bound"),
    [
        (b'{"x": "' + b"x" * (MOST_BYTES - 9) + b'"}', 422, "is not a known field"),
        (b'{"x": "' + b"x" * (MOST_BYTES - 8) + b'"}', 413, f"at most {MOST_BYTES} bytes"),
        (b"x" * (MOST_BYTES_OF_A_FILE + 1), 413, ""),
        (json.dumps({f"k{i}": 0 for i in range(1000)}).encode(), 422, "and 982 more"),
        (b"[" + b"1," * MOST_VALUES + b"1]", 422, "must be"),
        (b"[" + b"1," * (MOST_VALUES + 1) + b"1]", 422, f"at most {MOST_VALUES} values"),
        (deep(MOST_DEPTH), 422, "must be"),
        (deep(MOST_DEPTH + 1), 422, f"more than {MOST_DEPTH} deep"),
        (deep(30_000), 422, f"more than {MOST_DEPTH} deep"),
        (b'{"login": "\\ud800", "password": "x"}', 422, "login: must not have control characters"),
        (b'{"login": "a\\u0000b", "password": "x"}', 422, "login: must not have control characters"),
        (b'{"login": "a", "password": "x\\\\ud800"}', 403, ""),
        (b'{"login": "\\ud83d\\ude00", "password": "x"}', 403, ""),
        (b'{"login": "\xff", "password": "x"}', 422, "must be JSON in UTF-8"),
        (b'"' + b'\\"' * 20_000, 422, "is not JSON"),
        (b'{"login": 1e999, "password": NaN}', 422, "login"),
    ],
)
def test_bodies_are_bounded_before_they_are_parsed(caller: Caller, body: bytes, status: int, bound: str) -> None:
    code, answer, headers = caller.ask("POST", "/api/sign-in", body)
    assert code == status, answer[:300]
    assert headers["Content-Type"] == "application/problem+json"
    assert bound in json.loads(answer)["detail"]
    assert len(answer) < 8000


@pytest.mark.long
def test_more_printing_than_may_be_at_once_is_refused_and_the_interlock_is_answered(
    served: Supervisor, caller: Caller
) -> None:
    haldane = Caller(served.address).come_in("haldane")
    with ThreadPoolExecutor(3 * HEAVY_AT_ONCE) as pool:
        sheets = [pool.submit(haldane.ask, "GET", "/api/machine-labels.pdf") for _ in range(3 * HEAVY_AT_ONCE)]
        codes = [caller.interlock() for _ in range(20)]
        answers = [s.result() for s in sheets]
    assert codes == [200] * 20
    assert {a[0] for a in answers} == {200, 503}, "some are printed, and those that are too many are told so"
    refused = next(a for a in answers if a[0] == 503)
    assert json.loads(refused[1])["type"] == "urn:incudo:busy"
    assert refused[2]["Retry-After"] == "2"


@contextmanager
def frozen(served: Supervisor) -> Iterator[None]:
    assert served.database.process
    os.kill(served.database.process.pid, signal.SIGSTOP)
    try:
        yield
    finally:
        os.kill(served.database.process.pid, signal.SIGCONT)


def until(true: Callable[[], bool]) -> None:
    end = time.monotonic() + HANGS
    while not true():
        assert time.monotonic() < end
        time.sleep(0.1)


@pytest.mark.long
def test_a_frozen_database_is_said_and_holds_nobody(served: Supervisor, caller: Caller) -> None:
    with frozen(served), ThreadPoolExecutor(24) as pool:
        asked = [pool.submit(caller.interlock) for _ in range(12)]
        asked += [pool.submit(lambda: caller.ask("POST", "/api/sign-in", {"login": "x", "password": "y"})[0])] * 12
        assert {a.result() for a in asked} == {503}
        began = time.monotonic()
        assert caller.ask("GET", "/")[0] == 200, "what needs no database is there"
        assert caller.interlock() == 503
        assert time.monotonic() - began < INTERLOCK.database + WORK.database, "one asks, the others are told at once"
    until(lambda: caller.ask("GET", "/api/health")[0] == 200)
    until(lambda: caller.interlock() == 200)
    Caller(served.address).come_in("orla")


def test_a_database_that_takes_nothing_new_is_said_and_still_read(served: Supervisor, caller: Caller) -> None:
    orla = caller.come_in("orla")
    bench = json.loads(orla.ask("GET", "/api/bench")[1])
    card = json.loads(orla.ask("GET", f"/api/job-cards/{bench['first']['assignment']}")[1])
    path = f"/api/attempts/{card['attempt']}/readings"
    body = reading(1, "1.0005", CALIPER)
    folder = served.database._socket_folder
    with pymysql.connect(unix_socket=f"{folder}/s", user=getpass.getuser()) as root, root.cursor() as cursor:
        cursor.execute("SET GLOBAL read_only = 1")
        try:
            code, answer, headers = orla.ask("POST", path, body)
            assert (code, json.loads(answer)["type"]) == (503, "urn:incudo:takes-nothing-new")
            assert headers["Retry-After"] == "2"
            assert orla.ask("GET", "/api/bench")[0] == 200
            until(lambda: orla.ask("GET", "/api/health")[0] == 503)
        finally:
            cursor.execute("SET GLOBAL read_only = 0")
    assert orla.ask("POST", path, body)[0] == 200, "sent again it is kept"
    assert orla.ask("GET", "/api/health")[0] == 200


def test_what_a_caller_says_of_its_own_address_is_not_believed(served: Supervisor, caller: Caller) -> None:
    wrong = {"login": f"nobody-{new_id()}", "password": "x"}
    assert caller.ask("POST", "/api/sign-in", wrong, {"X-Forwarded-For": "203.0.113.9"})[0] == 403
    connection = pymysql.connect(
        host="127.0.0.1",
        port=served.instance.database_port,
        user="incudo_owner",
        password=served.instance.owner_password,
        database="incudo",
    )
    with connection, connection.cursor() as cursor:
        cursor.execute("SELECT scope FROM failure")
        scopes = [scope for (scope,) in cursor.fetchall()]
    assert any("127.0.0.1" in s for s in scopes)
    assert not any("203.0.113.9" in s for s in scopes)


@pytest.mark.parametrize("text", ["-1", "6", "1.0", "", "yes", "١"])
def test_how_many_proxies_are_trusted_is_a_small_number(text: str) -> None:
    with pytest.raises(SystemExit, match="INCUDO_PROXIES"):
        proxies_from(text)
    assert [Front("x", proxies=proxies_from(n)).trusted for n in ("0", "1", "5")] == [1, 2, 6]


@pytest.mark.parametrize("text", ["-1", "0", "21", "1.0", "", "٢"])
def test_a_slow_machine_waits_up_to_twenty_times_longer_for_its_work_and_not_for_the_interlock(text: str) -> None:
    with pytest.raises(SystemExit, match=r"INCUDO_PATIENCE is .*: must be a whole number from 1 to 20"):
        patience_from(text)
    assert [patience_from(n) for n in ("1", "20")] == [1, 20]
    for patience, waits in ((1, ["30", "5", "120"]), (20, ["600", "5", "2400"])):
        settings = nginx_settings(Front("127.0.0.1:1", patience=patience), Path("/x"), None)
        assert re.findall(r"proxy_read_timeout (\d+)s;", settings) == waits


@pytest.mark.long
def test_the_demo_goes_on_when_its_parts_die_together_and_while_they_start(served: Supervisor) -> None:
    """The database and the web server at once, and the database again before it answers."""
    watching = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(600)"])
    served.interlock = watching
    watching.kill()
    watching.wait()
    starts: list[str] = []
    served.start_interlock = lambda: starts.append("interlock")  # type: ignore[method-assign]
    database, web = served.database, served.web
    assert database.process
    assert web
    assert web.gunicorn
    assert web.nginx
    for process in (database.process, web.gunicorn, web.nginx):
        process.kill()
        process.wait()
    honest, tries = database.start, []

    def start() -> None:
        tries.append(1)
        if len(tries) == 1:
            raise SystemExit("MariaDB stopped while starting.")
        honest()

    database.start = start  # type: ignore[method-assign]
    served.watch_once()
    assert database.process.poll() is not None, "the first try failed"
    until(lambda: served.watch_once() is None and served.answers())
    assert len(tries) == 2
    assert starts, "and the others were started meanwhile"
    served.interlock = None
    assert Caller(served.address).interlock() == 200
