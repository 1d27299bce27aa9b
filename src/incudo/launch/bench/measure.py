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
from urllib.parse import urlencode

import pymysql
from flask.testing import FlaskClient
from sqlalchemy import event, text

from incudo.api.server import Settings, create_app
from incudo.app.kernel.unit import Unit
from incudo.app.shop.devices import hash_key
from incudo.demo.story import key
from incudo.launch.bench.college import PASSWORD
from incudo.launch.configuration import WEB
from incudo.launch.supervise import Supervisor
from incudo.store import schema as t
from incudo.store.kernel.database import Session

#: How often each operation is asked: enough for a 95th percentile that does not rest on one answer.
TIMES, SLOW_TIMES, SLOW = 60, 6, 1.0
#: Keys of the devices that ask.
KEYS = {"interlock": "the interlock at the college's machines", "wall": "the display on the college's wall"}
Ask = Callable[[FlaskClient, str, int], Any]


@dataclass(frozen=True)
class Operation:
    """What is asked, by whom, and how long it may take (milliseconds at the 95th percentile; 0 means no budget)."""

    name: str
    role: str
    ask: Ask
    budget: float = 0
    #: What is asked before it, outside of the time.
    before: Callable[[FlaskClient, str, int], object] | None = None


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
        self.unit.run(lambda w: self._device(w.db))
        self.some = self._ids()
        self.people = {
            "instructor": self._sign_in("haldane"),
            "auditor": self._sign_in("thorley"),
            "student": self._sign_in(self.some["login"]),
            "writer": self._sign_in(self.some["writer"]),
        }

    @staticmethod
    def _device(db: Session) -> None:
        """The interlock and the wall display whose questions are measured."""
        for purpose, secret in KEYS.items():
            ident = key("device", "bench", purpose)
            if db.get(t.Device, ident) is None:
                name, hashed = f"Bench: {purpose}", hash_key(secret)
                db.add(t.Device(id=ident, name=name, key_hash=hashed, active=True, purpose=purpose))

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
            "SELECT p.id, p.login, a.id AS assignment, b.id AS attempt, a.machine_id, v.project_id, "
            "v.id AS version_id, m.group_id "
            "FROM meeting m JOIN enrolment e ON e.group_id = m.group_id JOIN person p ON p.id = e.person_id "
            "JOIN pending c ON c.kind = 'card' AND c.person_id = p.id JOIN assignment a ON a.id = c.id "
            "JOIN attempt b ON b.assignment_id = a.id JOIN project_version v ON v.id = a.project_version_id "
            "LEFT JOIN hand_in h ON h.attempt_id = b.id "
            "WHERE m.open_slot = 1 AND h.id IS NULL ORDER BY p.login"
        )
        waiting = text("SELECT id FROM pending WHERE kind = 'hand_in' LIMIT 1")
        with self.unit.engine.connect() as c:
            rows = [dict(r) for r in c.execute(query).mappings()]
            row = rows[0]
            other = next(r for r in rows if r["id"] != row["id"])
            row |= {"writer": other["login"], "written": other["attempt"]}
            row["key"] = c.execute(text("SELECT id FROM reading ORDER BY saved_at LIMIT 50000, 1")).scalar_one()
            at = c.execute(text("SELECT saved_at FROM reading WHERE id = :i"), {"i": row["key"]}).scalar_one()
            row["far"] = f"{at.isoformat()}+00:00_{uuid.UUID(str(row['key']))}"
            row["gauge"] = key("instrument", "cal")
            row["hand_in"] = c.execute(waiting).scalar_one()
        return row

    def measure(self, operation: Operation) -> Measured:
        """Ask an operation again and again."""
        client, token = self.people[operation.role]
        found = Measured(operation)
        if operation.before is not None:
            operation.before(client, token, 0)
        self._once(operation, client, token, 0)
        before = _memory()
        for n in range(1, TIMES + 1):
            if operation.before is not None:
                operation.before(client, token, n)
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


def nothing_new(path: str) -> Ask:
    """Ask for a page by the mark of the last answer: 304 unless something changed."""
    marks: dict[str, str] = {}

    def ask(client: FlaskClient, _token: str, _n: int) -> Any:
        answer = client.get(path, headers={"If-None-Match": marks.get(path, "")})
        marks[path] = answer.headers["ETag"]
        return answer

    return ask


def whole(path: str) -> Ask:
    """Ask for a file that is sent piece by piece, and read it to its end without keeping it."""

    def ask(client: FlaskClient, _token: str, _n: int) -> Any:
        answer = client.get(path, buffered=False)
        length = sum(len(piece) for piece in answer.iter_encoded())
        answer.close()
        return _Read(answer.status_code, length)

    return ask


@dataclass(frozen=True)
class _Read:
    """A file that was read to its end."""

    status_code: int
    length: int

    def get_data(self) -> bytes:
        return bytes(self.length)


def post(path: str, body: Callable[[int], dict[str, Any]]) -> Ask:
    """Send something; ``body`` is made anew each time."""
    return lambda client, token, n: client.post(path, json=body(n), headers={"X-Incudo-Token": token})


#: The other screens' first answers: what is asked, by whom, where.
REST = (
    ("Term's list of a group", "instructor", "groups/{group_id}/term"),
    ("Results of a group, as a sheet", "instructor", "groups/{group_id}/results.xlsx"),
    ("Plans of a group for a part", "instructor", "projects/{project_id}/plans?group={group_id}"),
    ("What a group noticed at machines", "instructor", "signs?group={group_id}"),
    ("What was agreed with who is here", "instructor", "floor/accommodations"),
    ("People, searched", "instructor", "people?find=dent+60"),
    ("What changed of a person", "instructor", "people/{id}/acts"),
    ("A machine", "instructor", "machines/{machine_id}"),
    ("Kinds of machines", "instructor", "machine-kinds"),
    ("Kinds of cutters", "instructor", "cutter-kinds"),
    ("Kinds of gauges", "instructor", "gauge-kinds"),
    ("Workholding", "instructor", "workholding"),
    ("Materials and chip charts", "instructor", "materials"),
    ("Stock", "instructor", "stock"),
    ("Studies of a gauge", "instructor", "studies?gauge={gauge}"),
    ("Checks of a gauge", "instructor", "gauges/{gauge}/checks"),
    ("Devices", "instructor", "devices"),
    ("How we work", "instructor", "shop"),
    ("A skill record, to be printed", "instructor", "students/{id}/skill-record.pdf"),
    ("A drawing", "student", "versions/{version_id}/drawing"),
    ("Datums of a job card", "student", "job-cards/{assignment}/datums"),
    ("Holding of a job card", "student", "job-cards/{assignment}/holding"),
    ("Dry run", "student", "job-cards/{assignment}/dry"),
    ("Records of a machine", "student", "machines/{machine_id}/setups"),
    ("Calculations", "student", "reckonings"),
    ("Glossary", "student", "glossary"),
)


def operations(some: dict[str, Any]) -> Iterator[Operation]:
    """Every screen's and every poll's operation, with its budget."""
    card, attempt = some["assignment"], some["written"]
    yield Operation("Floor", "instructor", get("/api/floor"), 50)
    yield Operation("Class, the group of tonight", "instructor", get(f"/api/class?group={some['group_id']}"), 60)
    yield Operation("Session", "instructor", get("/api/session"))
    yield Operation("What a group plans with", "instructor", get(f"/api/groups/{some['group_id']}/plan-needs"))
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
    yield Operation("Floor, nothing new", "instructor", nothing_new("/api/floor"))
    yield Operation("Bench", "student", get("/api/bench"))
    yield Operation("Bench, nothing new", "student", nothing_new("/api/bench"))
    yield Operation("Start page, nothing new", "student", nothing_new(f"/api/machines/{some['machine_id']}/start"))
    yield Operation("A rig: begin a run", "student", post("/api/rigs/runs", _rig))
    yield Operation("An act at a rig", "student", _act, 20, _begun)
    yield Operation("The interlock's question, four machines", "student", _interlock, 100)
    yield Operation("Wall", "student", _wall)
    yield Operation("Job card", "student", get(f"/api/job-cards/{card}"), 50)
    yield Operation("Start page", "student", get(f"/api/machines/{some['machine_id']}/start"))
    yield Operation("Calls", "student", get("/api/calls"))
    yield Operation("Rigs", "student", get("/api/rigs"))
    yield Operation("Exercises", "student", get("/api/exercises"))
    yield Operation("Own skills", "student", get(f"/api/students/{some['id']}/skills"))
    yield Operation("Who am I", "student", get("/api/me"))
    yield Operation("Saving a reading", "writer", post(f"/api/attempts/{attempt}/readings", a_reading), 30)
    plan = f"/api/job-cards/{card}/plan"
    yield Operation("Plan page", "instructor", get(f"{plan}?machine={some['machine_id']}"))
    yield Operation("A plan judged", "instructor", _on_plan(plan, "look"), 100)
    yield Operation("A plan's frames", "instructor", _on_plan(plan, "frames"))
    yield Operation("Incudo's own plan beside it", "instructor", _on_plan(plan, "own"), 1000)
    for name, role, path in REST:
        yield Operation(name, role, get("/api/" + path.format(**some)))
    for name in ("readings", "decisions", "sign_offs", "assignments", "safety"):
        yield Operation(f"Register: {name}", "auditor", get(f"/api/registers/{name}"))
    far = urlencode({"before": some["far"]})
    yield Operation("Register: readings, page 1,000 from the end", "auditor", get(f"/api/registers/readings?{far}"))
    yield Operation(
        "Register: readings of one student", "auditor", get(f"/api/registers/readings?student={some['id']}")
    )
    yield Operation("Search for a student", "instructor", get("/api/students?find=dent+60"))
    yield Operation("Register of safety: does it hold", "auditor", get("/api/register"))


def _rig(_n: int) -> dict[str, Any]:
    return {"id": str(uuid.uuid4()), "rig": "reading", "guided": True}


_runs: dict[str, str] = {}


def _begun(client: FlaskClient, token: str, n: int) -> None:
    """A run is begun anew every ten acts."""
    if n % 10 == 0:
        _runs["run"] = post("/api/rigs/runs", lambda n: _rig(n) | {"rig": "handle"})(client, token, n).get_json()["id"]


def _act(client: FlaskClient, token: str, n: int) -> Any:
    """One act of the run that goes on."""
    body = {"number": n % 10 + 1, "actions": [{"do": "zero"}]}
    return client.post(f"/api/rigs/runs/{_runs['run']}/actions", json=body, headers={"X-Incudo-Token": token})


_plans: dict[str, dict[str, Any]] = {}


def _on_plan(path: str, what: str) -> Ask:
    """Ask about Incudo's own plan of a job card, on the card's machine or the first one that can make it."""

    def ask(client: FlaskClient, token: str, _n: int) -> Any:
        headers = {"X-Incudo-Token": token}
        if path not in _plans:
            page = client.get(path).get_json()
            empty = {"format": "incudo-plan/1", "holdings": []}
            for machine in [page["machine"]] if page["machine"] else page["machines"]:
                body = {"plan": empty, "machine": machine["id"]}
                own = client.post(f"{path}/own", json=body, headers=headers).get_json()
                if own.get("look"):
                    _plans[path] = {"plan": own["look"]["plan"], "machine": machine["id"]}
                    break
        return client.post(f"{path}/{what}", json=_plans[path], headers=headers)

    return ask


def _interlock(client: FlaskClient, _token: str, _n: int) -> Any:
    return client.post("/api/interlock", json={}, headers={"Authorization": f"Bearer {KEYS['interlock']}"})


def _wall(client: FlaskClient, _token: str, _n: int) -> Any:
    return client.get("/api/wall", headers={"Authorization": f"Bearer {KEYS['wall']}"})


def a_reading(_n: int) -> dict[str, Any]:
    """A reading as a student sends it."""
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
