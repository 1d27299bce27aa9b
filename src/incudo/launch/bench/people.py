"""People at work at once: thirty who measure and read, and pages that ask again and again; over real HTTP."""

from __future__ import annotations

import heapq
import http.client
import json
import random
import subprocess
import threading
import time
import uuid
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlsplit

from sqlalchemy import text

from incudo.demo.story import key
from incudo.launch.bench.college import PASSWORD
from incudo.launch.bench.measure import a_reading
from incudo.launch.supervise import Supervisor
from incudo.store.kernel.database import open_engine

WORKERS, POLLERS = 30, 8
#: Seconds between two acts of one person, and between two askings of one page.
THINK, POLL = 3.0, 5.0
#: A start page asks more often: somebody stands before it.
POLL_OF_START = 2.0
PATIENCE = 30


@dataclass
class Seen:
    """What came back: milliseconds by what was asked, and everything that was no answer."""

    times: dict[str, list[float]] = field(default_factory=dict)
    errors: list[str] = field(default_factory=list)
    unchanged: int = 0
    lock: threading.Lock = field(default_factory=threading.Lock)

    def note(self, what: str, seconds: float, status: int, words: str) -> None:
        with self.lock:
            self.times.setdefault(what, []).append(seconds * 1000)
            self.unchanged += status == 304
            if status >= 400:
                self.errors.append(f"{what}: {status} {words[:200]}")


class Browser:
    """One person's browser: a connection that is kept, a session, the marks of what was seen."""

    def __init__(self, address: str, seen: Seen) -> None:
        self.place, self.seen = urlsplit(address).netloc, seen
        self.link = http.client.HTTPConnection(self.place, timeout=PATIENCE)
        self.headers: dict[str, str] = {"Content-Type": "application/json"}
        self.marks: dict[str, str] = {}

    def sign_in(self, login: str) -> None:
        answer, body = self._once("POST", "/api/sign-in", {"login": login, "password": PASSWORD})
        if answer.status != 200:
            raise SystemExit(f"{login} cannot sign in: {body[:200]}")
        cookies = [x.split(";")[0] for x in answer.headers.get_all("Set-Cookie") or ()]
        self.headers |= {"Cookie": "; ".join(cookies), "X-Incudo-Token": json.loads(body)["token"]}

    def ask(self, what: str, path: str, body: Any = None) -> None:
        """Ask, timed; a page that was seen before by its mark."""
        began = time.perf_counter()
        try:
            answer, words = self._once("POST" if body else "GET", path, body)
            status = answer.status
            if mark := answer.headers.get("ETag"):
                self.marks[path] = mark
        except OSError as error:
            self.link.close()
            status, words = 599, repr(error)
        self.seen.note(what, time.perf_counter() - began, status, words)

    def _once(self, method: str, path: str, body: Any) -> tuple[http.client.HTTPResponse, str]:
        headers = self.headers | ({"If-None-Match": self.marks[path]} if method == "GET" and path in self.marks else {})
        text_ = json.dumps(body) if body else None
        try:
            self.link.request(method, path, text_, headers)
            answer = self.link.getresponse()
        except (http.client.RemoteDisconnected, ConnectionResetError, BrokenPipeError):
            # the server closed a connection that was kept too long: as a browser does, once more on a new one
            self.link.close()
            self.link.request(method, path, text_, headers)
            answer = self.link.getresponse()
        return answer, answer.read().decode()


@dataclass(frozen=True)
class Member:
    """Somebody of the group that meets tonight, with the job card that they work on."""

    login: str
    assignment: str
    attempt: str
    machine: str


def others(supervisor: Supervisor) -> list[str]:
    """The sign-in names of students of the other groups of this term."""
    query = text(
        "SELECT p.login FROM enrolment e JOIN person p ON p.id = e.person_id "
        "WHERE e.begins <= CURDATE() AND e.ends >= CURDATE() AND e.group_id NOT IN "
        "(SELECT group_id FROM meeting WHERE open_slot = 1) ORDER BY p.login"
    )
    engine = open_engine(supervisor.database.app_url)
    with engine.connect() as c:
        found = list(c.execute(query).scalars())
    engine.dispose()
    return found


def members(supervisor: Supervisor) -> list[Member]:
    """Everybody of tonight's group who is making a part on a machine that they are signed for."""
    query = text(
        "SELECT p.login, MIN(a.id) AS a FROM meeting m JOIN enrolment e ON e.group_id = m.group_id "
        "JOIN person p ON p.id = e.person_id JOIN pending c ON c.kind = 'card' AND c.person_id = p.id "
        "JOIN assignment a ON a.id = c.id JOIN attempt b ON b.assignment_id = a.id "
        "LEFT JOIN hand_in h ON h.attempt_id = b.id WHERE m.open_slot = 1 AND h.id IS NULL "
        "AND a.machine_id IN (:one, :two) GROUP BY p.login"
    )
    card = text("SELECT b.id, a.machine_id FROM attempt b JOIN assignment a ON a.id = b.assignment_id WHERE a.id = :a")
    engine = open_engine(supervisor.database.app_url)
    found = []
    with engine.connect() as c:
        signed = {"one": key("machine", "petrel"), "two": key("machine", "fulmar")}
        for login, assignment in c.execute(query, signed).all():
            attempt, machine = c.execute(card, {"a": assignment}).one()
            found.append(Member(login, str(assignment), str(attempt), str(machine)))
    engine.dispose()
    return found


def work(who: Member, address: str, seen: Seen, over: threading.Event, seed: int) -> None:
    """Somebody who measures, looks, calls and practises."""
    browser, draw = Browser(address, seen), random.Random(seed)  # noqa: S311 (invented work)
    browser.sign_in(who.login)
    while not over.wait(THINK * draw.uniform(0.5, 1.5)):
        match draw.randrange(5):
            case 0 | 1:
                browser.ask("saving a reading", f"/api/attempts/{who.attempt}/readings", a_reading(0))
            case 2:
                browser.ask("job card", f"/api/job-cards/{who.assignment}")
            case 3:
                browser.ask(
                    "beginning a rig", "/api/rigs/runs", {"id": str(uuid.uuid4()), "rig": "reading", "guided": True}
                )
            case 4:
                browser.ask("own skills", "/api/skill-map")


def watch(pages: list[tuple[Browser, str, str]], over: threading.Event) -> None:
    """Pages that are open somewhere: each is asked for again every few seconds."""
    every = [POLL_OF_START if path.endswith("/start") else POLL for _, _, path in pages]
    queue = [(time.monotonic() + every[n] * n / len(pages), n) for n in range(len(pages))]
    heapq.heapify(queue)
    while True:
        due, n = heapq.heappop(queue)
        if over.wait(max(0.0, due - time.monotonic())):
            return
        browser, what, path = pages[n]
        browser.ask(what, path)
        heapq.heappush(queue, (max(due + every[n], time.monotonic()), n))


def run_people(supervisor: Supervisor, seconds: float, open_pages: int) -> int:
    """Let them work, and print what it took; 1 when anything was no answer."""
    supervisor.start_web()
    seen, over, everybody = Seen(), threading.Event(), members(supervisor)
    busy = [everybody[n % len(everybody)] for n in range(WORKERS)]
    pages: list[tuple[Browser, str, str]] = []
    elsewhere = others(supervisor)
    for n in range(open_pages):
        browser = Browser(supervisor.address, seen)
        if n < WORKERS:
            # everybody who works has a page open, too
            browser.sign_in(busy[n].login)
            pages.append((browser, "poll: own bench while working", "/api/bench"))
        elif n % 20 == 0:
            browser.sign_in("haldane")
            pages.append((browser, "poll: Floor", "/api/floor"))
        else:
            browser.sign_in(elsewhere[n % len(elsewhere)])
            start = f"/api/machines/{everybody[n % len(everybody)].machine}/start"
            what = ("poll: start page", start) if n % 4 == 1 else ("poll: bench", "/api/bench")
            pages.append((browser, *what))
    threads = [
        threading.Thread(target=work, args=(who, supervisor.address, seen, over, n), daemon=True)
        for n, who in enumerate(busy)
    ]
    shares = [pages[n::POLLERS] for n in range(POLLERS)]
    threads += [threading.Thread(target=watch, args=(share, over), daemon=True) for share in shares if share]
    print(f"  {WORKERS} people and {open_pages} open pages for {seconds:.0f} s", flush=True)
    for thread in threads:
        thread.start()
    time.sleep(seconds)
    memory = _memory(supervisor)
    over.set()
    for thread in threads:
        thread.join(PATIENCE)
    print("\n| what | asked | p50 ms | p95 ms | longest ms |\n| --- | --: | --: | --: | --: |")
    for name, times in sorted(seen.times.items()):
        times.sort()
        told = (times[len(times) // 2], times[int(0.95 * len(times))], times[-1])
        print(f"| {name} | {len(times)} | {' | '.join(f'{x:.0f}' for x in told)} |")
    total = sum(len(x) for x in seen.times.values())
    print(f"\n{total / seconds:.0f} requests a second, {100 * seen.unchanged / total:.0f} % answered with nothing new")
    print(f"{len(seen.errors)} errors; web server {memory} MB in all")
    for error in seen.errors[:5]:
        print(f"ERROR: {error}")
    return int(bool(seen.errors))


def _memory(supervisor: Supervisor) -> str:
    """What gunicorn's processes hold, each, in megabytes."""
    web = supervisor.web
    if web is None or web.gunicorn is None:
        return "?"
    listed = subprocess.run(
        ["ps", "-o", "rss=", "--pid", str(web.gunicorn.pid), "--ppid", str(web.gunicorn.pid)],
        capture_output=True,
        text=True,
        check=False,
    )
    each = [int(x) // 1024 for x in listed.stdout.split()]
    return f"{' + '.join(map(str, each))} = {sum(each)}"
