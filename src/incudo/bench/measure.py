"""Every screen's and every poll's operation, asked in this process: server time, queries, memory, size of the answer.

Beside it stands the time that the database alone needs for the same statements, through a bare connection.
"""

from __future__ import annotations

import gc
import resource
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

import pymysql
from flask.testing import FlaskClient
from sqlalchemy import event, text

from incudo.api.server import Settings, create_app
from incudo.app.kernel.unit import Unit
from incudo.bench.college import PASSWORD
from incudo.demo.story import key
from incudo.launch.configuration import WEB
from incudo.launch.supervise import Supervisor

#: How often each operation is asked: enough for a 95th percentile that does not rest on one answer.
TIMES, SLOW_TIMES, SLOW = 60, 6, 1.0
Ask = Callable[[FlaskClient, str, int], Any]


@dataclass(frozen=True)
class Operation:
    """What is asked, by whom, and how long it may take (milliseconds at the 95th percentile; 0 means no budget)."""

    name: str
    role: str
    ask: Ask
    budget: float = 0


@dataclass
class Measured:
    """What came out of one operation; times in milliseconds."""

    operation: Operation
    times: list[float] = field(default_factory=list)
    queries: int = 0
    body: int = 0
    bare: float = 0
    grown: float = 0

    def at(self, share: float) -> float:
        """The time under which this share of the answers stayed."""
        ordered = sorted(self.times)
        return ordered[min(len(ordered) - 1, int(share * len(ordered)))]


class Bench:
    """The application over the college's database, with people who are signed in."""

    def __init__(self, supervisor: Supervisor) -> None:
        i = supervisor.instance
        self.database = supervisor.database
        settings = Settings(self.database.app_url, i.secret, WEB, i.register_key, i.heads)
        self.app = create_app(settings)
        self.unit: Unit = self.app.extensions["incudo_unit"]
        self.statements: list[tuple[str, Any]] = []
        event.listen(self.unit.engine, "before_cursor_execute", self._note)
        self.some = self._ids()
        self.people = {
            "instructor": self._sign_in("haldane"),
            "auditor": self._sign_in("thorley"),
            "student": self._sign_in(self.some["login"]),
        }

    def _note(self, _c: Any, _cursor: Any, statement: str, parameters: Any, _x: Any, _many: Any) -> None:
        self.statements.append((statement, parameters))

    def _sign_in(self, login: str) -> tuple[FlaskClient, str]:
        client = self.app.test_client()
        answer = client.post("/api/sign-in", json={"login": login, "password": PASSWORD})
        if answer.status_code != 200:
            raise SystemExit(f"{login} cannot sign in: {answer.get_data(as_text=True)}")
        return client, answer.get_json()["token"]

    def _ids(self) -> dict[str, Any]:
        """What the operations are asked about: somebody of tonight's group with a card that is being made."""
        query = text(
            "SELECT p.id, p.login, a.id AS assignment, b.id AS attempt, a.machine_id, v.project_id, m.group_id "
            "FROM meeting m JOIN enrolment e ON e.group_id = m.group_id JOIN person p ON p.id = e.person_id "
            "JOIN pending c ON c.kind = 'card' AND c.person_id = p.id JOIN assignment a ON a.id = c.id "
            "JOIN attempt b ON b.assignment_id = a.id JOIN project_version v ON v.id = a.project_version_id "
            "LEFT JOIN hand_in h ON h.attempt_id = b.id "
            "WHERE m.open_slot = 1 AND h.id IS NULL ORDER BY p.login LIMIT 1"
        )
        waiting = text("SELECT id FROM pending WHERE kind = 'hand_in' LIMIT 1")
        with self.unit.engine.connect() as c:
            row = dict(c.execute(query).mappings().one())
            row["hand_in"] = c.execute(waiting).scalar_one()
        return row

    def measure(self, operation: Operation) -> Measured:
        """Ask an operation again and again."""
        client, token = self.people[operation.role]
        found = Measured(operation)
        self._once(operation, client, token, 0)
        before = _memory()
        for n in range(1, TIMES + 1):
            began = time.perf_counter()
            answer = self._once(operation, client, token, n)
            found.times.append((time.perf_counter() - began) * 1000)
            found.queries, found.body = len(self.statements), len(answer.get_data())
            if n >= SLOW_TIMES and sum(found.times) > SLOW_TIMES * SLOW * 1000:
                break
        found.grown = _memory() - before
        found.bare = self._bare()
        return found

    def _once(self, operation: Operation, client: FlaskClient, token: str, n: int) -> Any:
        self.statements.clear()
        answer = operation.ask(client, token, n)
        if answer.status_code >= 400:
            raise SystemExit(f"{operation.name}: {answer.status_code} {answer.get_data(as_text=True)[:400]}")
        return answer

    def slowest(self, count: int) -> list[tuple[float, str]]:
        """The reading statements of the last answer that took longest by themselves: milliseconds, statement."""
        found = []
        with self._link() as link, link.cursor() as cursor:
            for statement, parameters in self._reading():
                began = time.perf_counter()
                cursor.execute(statement, parameters)
                cursor.fetchall()
                found.append(((time.perf_counter() - began) * 1000, " ".join(cursor._executed.split())))
        return sorted(found, reverse=True)[:count]

    def _reading(self) -> list[tuple[str, Any]]:
        locks = (" FOR UPDATE", " LOCK IN SHARE MODE")
        reading = [s for s in self.statements if s[0].lstrip().upper().startswith("SELECT")]
        return [(s.replace(locks[0], "").replace(locks[1], ""), p) for s, p in reading]

    def _link(self) -> Any:
        i = self.database
        return pymysql.connect(
            host="127.0.0.1", port=i.port, user="incudo_app", password=i.secrets.app, database="incudo"
        )

    def _bare(self) -> float:
        """The reading statements of the last answer again, through a bare connection: the best of five, in ms."""
        best = []
        with self._link() as link, link.cursor() as cursor:
            for _ in range(5):
                began = time.perf_counter()
                for statement, parameters in self._reading():
                    cursor.execute(statement, parameters)
                    cursor.fetchall()
                best.append((time.perf_counter() - began) * 1000)
                link.rollback()
        return min(best)


def _memory() -> float:
    """The most memory that this process has had so far, in megabytes."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def get(path: str) -> Ask:
    """Ask for a page."""
    return lambda client, _token, _n: client.get(path)


def post(path: str, body: Callable[[int], dict[str, Any]]) -> Ask:
    """Send something; ``body`` is made anew each time."""
    return lambda client, token, n: client.post(path, json=body(n), headers={"X-Incudo-Token": token})


def operations(some: dict[str, Any]) -> Iterator[Operation]:
    """Every screen's and every poll's operation, with its budget."""
    card, attempt = some["assignment"], some["attempt"]
    yield Operation("Floor", "instructor", get("/api/floor"), 50)
    yield Operation("Class, the group of tonight", "instructor", get(f"/api/class?group={some['group_id']}"), 60)
    yield Operation("Session", "instructor", get("/api/session"))
    yield Operation(
        "Candidates, a group",
        "instructor",
        get(f"/api/projects/{some['project_id']}/candidates?group={some['group_id']}"),
    )
    yield Operation("Crib", "instructor", get("/api/crib"))
    yield Operation("Library of parts", "instructor", get("/api/projects"))
    yield Operation("A part", "instructor", get(f"/api/projects/{some['project_id']}"))
    yield Operation("A student's skills", "instructor", get(f"/api/students/{some['id']}/skills"))
    yield Operation("Skill map of a student", "instructor", get(f"/api/skill-map?student={some['id']}"))
    yield Operation("Check of a part", "instructor", get(f"/api/hand-ins/{some['hand_in']}"))
    yield Operation("Banks", "instructor", get("/api/banks"))
    yield Operation("Tags", "instructor", get("/api/tags"))
    yield Operation("Bench", "student", get("/api/bench"))
    yield Operation("Job card", "student", get(f"/api/job-cards/{card}"), 50)
    yield Operation("Start page", "student", get(f"/api/machines/{some['machine_id']}/start"))
    yield Operation("Calls", "student", get("/api/calls"))
    yield Operation("Rigs", "student", get("/api/rigs"))
    yield Operation("Exercises", "student", get("/api/exercises"))
    yield Operation("Own skills", "student", get(f"/api/students/{some['id']}/skills"))
    yield Operation("Who am I", "student", get("/api/me"))
    yield Operation("Saving a reading", "student", post(f"/api/attempts/{attempt}/readings", _reading), 30)
    for name in ("readings", "decisions", "sign_offs", "assignments", "safety"):
        yield Operation(f"Register: {name}", "auditor", get(f"/api/registers/{name}"))
    yield Operation("Register of safety: does it hold", "auditor", get("/api/register"))


def _reading(_n: int) -> dict[str, Any]:
    return {
        "id": str(uuid.uuid4()),
        "characteristic": 1,
        "value": "0.9981",
        "unit": "in",
        "instrument": str(key("instrument", "cal")),
        "measured_at": datetime.now(UTC).isoformat(),
    }


@contextmanager
def quiet() -> Iterator[None]:
    """Nothing is collected while something is timed."""
    gc.collect()
    gc.freeze()
    try:
        yield
    finally:
        gc.unfreeze()
