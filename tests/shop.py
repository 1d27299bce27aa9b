"""A shop for tests: the demo shop once, students made to measure, and a client that checks every answer."""

from __future__ import annotations

import itertools
import json
import re
import uuid
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from functools import cached_property
from typing import Any

from flask.testing import FlaskClient
from flask_openapi3 import OpenAPI
from jsonschema_rs import Draft202012Validator
from werkzeug.test import TestResponse

from incudo import shipped
from incudo.app.kernel.unit import Unit, Who
from incudo.app.people.accounts import hash_secret
from incudo.app.people.notices import NoticeCommand, sign_notice
from incudo.app.register.chain import record
from incudo.app.skills.records import skill_book
from incudo.core.people.notice import VERSION
from incudo.core.people.roles import Role
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import RigSetup
from incudo.core.practice.rigs.base import begin as begin_run
from incudo.core.practice.rigs.base import do as do_action
from incudo.core.session.prestart import EACH, FULL
from incudo.demo import people
from incudo.demo.practising import right_in_a_row
from incudo.demo.signing import reach_standard, take_check, wanted_skills
from incudo.demo.story import Story, key
from incudo.demo.story import who as demo_person
from incudo.store import schema as t

PASSWORD = people.PASSWORD
HASH = hash_secret(PASSWORD)
PINS = {"haldane": "1407", "selby": "2203", "dacosta": "3309"}
CALIPER, OVERDUE, M01 = (str(key("instrument", k)) for k in ("cal", "cal2", "m01"))
M12, INDICATOR, METRIC = (str(key("instrument", k)) for k in ("m12", "ind", "mcal"))
DROPPED = str(key("instrument", "m50"))
MILL = str(uuid.uuid5(uuid.NAMESPACE_OID, "cutter End mill 1/2 in, 4 flutes"))
TIDE, GAUGE = str(key("project", "tide-block")), str(key("project", "keel-step-gauge"))
GAUGE_V1 = str(key("version", "keel-step-gauge"))
TIDE_V1 = str(key("version", "tide-block"))
MACHINES = [str(key("machine", m)) for m, _, _ in people.MACHINES]
PETREL, FULMAR, GANNET, DUNLIN = MACHINES
GOOD_BLOCK = (
    (1, "2.4985", CALIPER),
    (2, "1.5004", M12),
    (2, "1.5001", M12),
    (3, "0.9982", M01),
    (3, "0.9981", M01),
    (4, "0.0008", INDICATOR),
    (5, "0.0010", INDICATOR),
)
TUESDAY = str(key("group", "Tuesday group"))
DEVICE_KEY = "key-of-the-interlock-in-tests"
VISE = str(key("holding", "vise-6"))
VISE_SETTINGS = {
    "kind": "vise",
    "vise": VISE,
    "unit": "in",
    "division": "0.0005",
    "left_at": "-2.75",
    "right_at": "2.75",
}
HOLD_SO = {"vise": VISE, "unit": "in", "across": "1.5", "along": "2.5", "height": "1"}
POINTS = [c.id for c in (*FULL, *EACH)]
FOR_TIDE = (
    *(f"machine-familiarisation@{m}" for m in (PETREL, DUNLIN)),
    "measure-caliper",
    "change-cutter",
    "parallels",
    "speed-feed",
    "facing",
)
_numbers = itertools.count(1)


def new_id() -> str:
    return str(uuid.uuid4())


@dataclass
class Clock:
    """The time of the tests: real, or standing still, plus what a test has added."""

    ahead: timedelta = timedelta()
    still: datetime | None = None

    def __call__(self) -> datetime:
        return (self.still or datetime.now(UTC)) + self.ahead

    def stand(self) -> None:
        """Stand still, so that a moment can be met exactly."""
        self.still = self()


class Checked:
    """Holds answers against the OpenAPI document."""

    def __init__(self, app: OpenAPI) -> None:
        self.document: dict[str, Any] = app.api_doc
        self.paths = [
            (re.compile(re.sub(r"\{[^}]+\}", "[^/]+", path) + "$"), operations)
            for path, operations in self.document["paths"].items()
        ]
        self._validators: dict[str, Draft202012Validator] = {}

    def _validator(self, schema: dict[str, Any]) -> Draft202012Validator:
        """The validator of a schema, made once: most of its work is looking for what the schema refers to."""
        name = json.dumps(schema, sort_keys=True)
        if name not in self._validators:
            self._validators[name] = Draft202012Validator({**schema, "components": self.document["components"]})
        return self._validators[name]

    def check(self, method: str, path: str, answer: TestResponse) -> None:
        """The status must be documented and the body must fit its schema."""
        bare = path.partition("?")[0]
        operations = next((o for pattern, o in self.paths if pattern.match(bare)), None)
        if operations is None or method.lower() not in operations:
            assert answer.status_code in (401, 404, 405), path
            return
        if answer.status_code == 405:
            return
        responses = operations[method.lower()]["responses"]
        assert str(answer.status_code) in responses, f"{method} {path} {answer.status_code}"
        content = responses[str(answer.status_code)].get("content", {})
        if answer.is_json and content:
            schema = next(iter(content.values()))["schema"]
            self._validator(schema).validate(json.loads(answer.get_data(as_text=True)))
        if answer.status_code >= 400:
            assert answer.content_type == "application/problem+json", path
            assert set(answer.get_json(force=True)) >= {"type", "title", "status", "detail", "errors"}


@dataclass
class Person:
    """Someone at a browser of their own."""

    client: FlaskClient
    checked: Checked
    me: dict[str, Any] = field(default_factory=dict)

    @property
    def login(self) -> str:
        """What they sign in with: the last word of a test person's name."""
        return str(self.me["name"]).rpartition(" ")[2]

    def sign_in(self, login: str, password: str = PASSWORD) -> TestResponse:
        answer = self.ask("POST", "/api/sign-in", {"login": login, "password": password})
        if answer.status_code == 200:
            self.me = answer.get_json()
        return answer

    @property
    def id(self) -> str:
        return str(self.me["id"])

    def ask(self, method: str, path: str, body: Any = None, token: str | None = None) -> TestResponse:
        headers = {"X-Incudo-Token": self.me.get("token", "") if token is None else token}
        answer = self.client.open(path, method=method, json=body, headers=headers)
        self.checked.check(method, path, answer)
        return answer

    def get(self, path: str) -> Any:
        answer = self.ask("GET", path)
        assert answer.status_code == 200, answer.get_data(as_text=True)
        return answer.get_json()

    def post(self, path: str, body: Any) -> Any:
        answer = self.ask("POST", path, body)
        assert answer.status_code == 200, answer.get_data(as_text=True)
        return answer.get_json()

    def put(self, path: str, body: Any) -> Any:
        answer = self.ask("PUT", path, body)
        assert answer.status_code == 200, answer.get_data(as_text=True)
        return answer.get_json()

    def fails(self, status: int, path: str, body: Any, method: str = "POST") -> Any:
        """The request must fail with exactly this status; gives the problem document."""
        answer = self.ask(method, path, body)
        assert answer.status_code == status, answer.get_data(as_text=True)
        return answer.get_json(force=True)

    def read(self, attempt: str, number: int, value: str, tool: str, **more: Any) -> Any:
        return self.post(f"/api/attempts/{attempt}/readings", reading(number, value, tool, **more))

    def check(self, attempt: str, number: int, value: str, tool: str, **more: Any) -> Any:
        return self.post(f"/api/attempts/{attempt}/check-readings", reading(number, value, tool, **more))

    def hand_in(self, attempt: str) -> str:
        hand_in = new_id()
        self.post(f"/api/attempts/{attempt}/hand-ins", {"id": hand_in, "at": stamp()})
        return hand_in


def stamp() -> str:
    return datetime.now(UTC).isoformat()


def reading(number: int, value: str, tool: str, unit: str = "in", **more: Any) -> dict[str, Any]:
    """The body of a reading."""
    return {
        "id": new_id(),
        "characteristic": number,
        "value": value,
        "unit": unit,
        "instrument": tool,
        "measured_at": stamp(),
        **more,
    }


def shown(
    skill: str, machine: str | None = None, *, no: tuple[int, ...] = (), refresher: bool = False
) -> dict[str, Any]:
    """A skill as the assessor's checklist sends it: every point shown but those named."""
    s = shipped.graph().get(skill)
    seen = (
        [{"number": p.number, "ok": p.number not in no} for p in s.points(refresher=refresher)]
        if s.demonstrated
        else []
    )
    return {"skill": skill, "machine": machine, "seen": seen}


def sign_off(student: str, pin: str, *skills: dict[str, Any], **more: Any) -> dict[str, Any]:
    """The body of a sign-off."""
    return {"id": new_id(), "student": student, "skills": list(skills), "pin": pin, **more}


@dataclass
class TestShop:
    """The demo shop behind the real application, with a clock that tests may put forward."""

    __test__ = False
    app: OpenAPI
    unit: Unit
    clock: Clock
    owner_url: str = ""

    @cached_property
    def checked(self) -> Checked:
        return Checked(self.app)

    def person(self, login: str = "", password: str = PASSWORD) -> Person:
        """Someone with a fresh browser, signed in if a login is given."""
        found = Person(self.app.test_client(), self.checked)
        if login:
            answer = found.sign_in(login, password)
            assert answer.status_code == 200, answer.get_data(as_text=True)
        return found

    def by_slip(self, line: dict[str, Any], password: str = PASSWORD) -> Person:
        """Someone who comes in by the code of a slip for the first time."""
        found = self.person()
        found.post("/api/codes/take", {"code": line["code"], "password": password, "pin": None})
        assert found.sign_in(line["login"], password).status_code == 200
        return found

    def student(self, *skills: str) -> Person:
        """A new student with these skills signed ("skill" or "skill@machine id")."""
        login = f"student{next(_numbers)}"
        row = uuid.uuid4()

        def add(w: Any) -> None:
            w.db.add(
                t.Person(
                    id=row,
                    login=login,
                    name=f"Test {login}",
                    role="student",
                    password_hash=HASH,
                    pin_hash=None,
                    active=True,
                )
            )

        self.unit.run(add)
        self.unit.run(lambda w: sign_notice(w, Who(row, login, Role.STUDENT), NoticeCommand(id=row, version=VERSION)))
        if skills:
            self.sign(str(row), *skills)
        return self.person(login)

    def ready_student(self) -> Person:
        """A new student who may work on the Tide block on any of two machines."""
        return self.student(*FOR_TIDE)

    def can_show_person(self) -> Person:
        """A new student who has passed the first check and can show the skill "person"."""
        student = self.student()
        story = Story(self.unit, self.clock())
        take_check(story, Who(uuid.UUID(student.id), "", Role.STUDENT), "surroundings-person")
        return student

    def sign(self, student: str, *skills: str) -> None:
        """Sign skills and all that they rest on, as rows of the record and of the register."""
        person = uuid.UUID(student)

        def add(w: Any) -> None:
            batch = uuid.uuid4()
            for skill, machine in wanted_skills(skill_book(w, person), skills):
                row = t.SignOff(
                    id=uuid.uuid4(),
                    batch_id=batch,
                    student_id=person,
                    skill=skill,
                    machine_id=uuid.UUID(machine) if machine else None,
                    assessor_id=demo_person("haldane").id,
                    refresher=False,
                    note="seen",
                    at=w.now,
                )
                w.db.add(row)
                w.db.flush()
                record(w, row)

        self.unit.run(add)

    def pass_check(self, student: Person, bank: str) -> None:
        """Pass a knowledge check."""
        take_check(Story(self.unit, self.clock()), Who(uuid.UUID(student.id), "", Role.STUDENT), bank)

    def reach(self, student: Person, rig: str, level: int, times: int) -> None:
        """Reach a rig's standard so many times in a row."""
        story = Story(self.unit, self.clock())
        reach_standard(story, Who(uuid.UUID(student.id), "", Role.STUDENT), rig, level, times)

    def answer_right(self, student: Person, calculation: str, times: int) -> None:
        """Answer so many exercises of a calculation right, one after the other."""
        story = Story(self.unit, self.clock())
        right_in_a_row(story, Who(uuid.UUID(student.id), "", Role.STUDENT), calculation, times)

    def play_well(self, who: Person, run: str) -> None:
        """Play a run as a practised hand would, and finish it; the rig's own advice, which the page does not show."""

        def actions(w: Any) -> list[dict[str, Any]]:
            row = w.db.get(t.RigRun, uuid.UUID(run))
            rig, setup = RIGS[row.rig], RigSetup.model_validate_json(row.setup)
            s, done = begin_run(rig, setup, row.level, row.seed), []
            while not s.finished:
                done.append(rig.advice(s).action)
                do_action(rig, s, done[-1])
            return [a.model_dump() for a in done]

        done = self.unit.run(actions)
        for n in range(0, len(done), 100):
            who.post(f"/api/rigs/runs/{run}/actions", {"number": n + 1, "actions": done[n : n + 100]})

    def states(self, student: Person) -> dict[str, str]:
        """Skill → where the student stands (on the first machine)."""
        found = self.haldane.get(f"/api/students/{student.id}/skills")["skills"]
        return {s["skill"]["id"]: s["on"][0]["state"] for s in found}

    def session(self, *present: Person, machines: tuple[str, ...] = (PETREL, DUNLIN)) -> str:
        """A session of the Tuesday group, opened now by Mara Haldane, with these people on the roll."""
        self.close_session()
        meeting = new_id()
        opened = {"id": meeting, "group": TUESDAY, "machines": list(machines), "pin": PINS["haldane"]}
        self.haldane.post("/api/session", opened)
        if present:
            marks = [{"student": p.id, "presence": "here"} for p in present]
            self.haldane.post("/api/session/roll", {"id": new_id(), "marks": marks})
        return meeting

    def close_session(self) -> None:
        """End the session that is open, runs and all."""
        page = self.haldane.get("/api/session")["session"]
        if page is None:
            return
        for m in page["machines"]:
            if m["running"]:
                self.haldane.post(f"/api/machines/{m['machine']['id']}/ends", {"id": new_id()})
        back = [m["machine"]["id"] for m in page["machines"]]
        self.haldane.post("/api/session/end", {"id": page["id"], "handed_back": back, "pin": PINS["haldane"]})

    def at_machine(self, student: Person, machine: str = PETREL) -> Any:
        return student.post(f"/api/machines/{machine}/steps", {"id": new_id(), "step": "come"})

    def start(self, student: Person, operation: str, machine: str = PETREL, **more: Any) -> Any:
        """About to start, every point ticked."""
        body = {"id": new_id(), "operation": operation, "points": POINTS, **more}
        return student.post(f"/api/machines/{machine}/starts", body)

    def confirm(self, student: Person, operation: str, machine: str = PETREL, by: str = "haldane") -> Any:
        body = {"id": new_id(), "student": student.id, "operation": operation, "pin": PINS[by]}
        return self.person(by).post(f"/api/machines/{machine}/confirmations", body)

    def withdraw(self, student: Person, skill: str, machine: str | None = None) -> Any:
        body = {
            "id": new_id(),
            "student": student.id,
            "skill": skill,
            "machine": machine,
            "reason": "left the key in the drawbar",
            "pin": PINS["haldane"],
        }
        return self.haldane.post("/api/withdrawals", body)

    def interlock(self, machine: str = PETREL, *, spindle: bool = False) -> Any:
        """What the device of a machine is told when it reports."""
        body = {"machines": [{"machine": machine, "spindle": spindle, "feed": False}]}
        answer = self.app.test_client().post(
            "/api/interlock", json=body, headers={"Authorization": f"Bearer {DEVICE_KEY}"}
        )
        assert answer.status_code == 200, answer.get_data(as_text=True)
        return next(m for m in answer.get_json()["machines"] if m["machine"] == machine)

    @cached_property
    def haldane(self) -> Person:
        return self.person("haldane")

    @cached_property
    def dacosta(self) -> Person:
        return self.person("dacosta")

    @cached_property
    def thorley(self) -> Person:
        return self.person("thorley")

    def assign(self, student: Person, version: str = TIDE_V1, **more: Any) -> tuple[str, str]:
        """Give a part to a student: the assignment and its first attempt."""
        body = {"id": new_id(), "version": version, "student": student.id, **more}
        given = self.haldane.post("/api/assignments", body)
        return given["assignment"], given["attempt"]

    def handed_in(self, values: tuple[tuple[int, str, str], ...] = GOOD_BLOCK) -> tuple[Person, str, str, str]:
        """A student who has handed a Tide block in: them, assignment, attempt, hand-in."""
        student = self.ready_student()
        assignment, attempt = self.assign(student)
        for number, value, tool in values:
            student.read(attempt, number, value, tool)
        return student, assignment, attempt, student.hand_in(attempt)

    def compared(
        self, values: tuple[tuple[int, str, str], ...] = GOOD_BLOCK, *checks: tuple[int, str, str]
    ) -> tuple[Person, str, str, str]:
        """The same, measured by Mara Haldane and opened for comparison."""
        student, assignment, attempt, hand_in = self.handed_in(values)
        for number, value, tool in checks or ((3, "0.9981", M01),):
            self.haldane.check(attempt, number, value, tool)
        self.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
        return student, assignment, attempt, hand_in

    def decide(self, hand_in: str, *dispositions: dict[str, Any], **more: Any) -> Any:
        body = {"id": new_id(), "dispositions": list(dispositions), **more}
        return self.haldane.post(f"/api/hand-ins/{hand_in}/decision", body)
