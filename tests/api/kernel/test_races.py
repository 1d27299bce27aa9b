"""Two people do the same thing at the same moment: one of both acts holds, and nothing is half done."""

from __future__ import annotations

import uuid
from collections.abc import Iterator

import pytest
from sqlalchemy import text

from incudo.app.kernel.unit import Unit, Who
from incudo.app.session.calls import AnswerCallCommand, answer_call
from incudo.app.session.sessions import OpenSession, open_session
from incudo.app.shop.tags import ClearTagCommand, clear_tag
from incudo.app.skills.signing import SeenPoint, SignCommand, SignOne, sign_skills
from incudo.core.kernel.errors import Conflict, DomainError
from incudo.core.people.roles import Role
from incudo.core.session.calls import CallOutcome
from incudo.demo.load import key
from incudo.store.kernel.database import open_engine
from tests.at_once import at_once
from tests.shop import PETREL, POINTS, TUESDAY, TestShop, new_id, shown

HALDANE = Who(key("person", "haldane"), "Mara Haldane", Role.INSTRUCTOR)
SELBY = Who(key("person", "selby"), "Corin Selby", Role.INSTRUCTOR)
MANY = 6


@pytest.fixture
def unit(shop: TestShop) -> Iterator[Unit]:
    """A way to the use cases with connections enough for all at once."""
    engine = open_engine(str(shop.unit.engine.url.render_as_string(hide_password=False)))
    yield Unit(engine, shop.clock, shop.unit.key, shop.unit.on_head)
    engine.dispose()


def test_two_instructors_open_a_session_and_one_is_open(shop: TestShop, unit: Unit) -> None:
    shop.close_session()
    commands = [OpenSession(id=uuid.uuid4(), group=uuid.UUID(TUESDAY), pin="0000") for _ in range(MANY)]
    people = [HALDANE, SELBY] * MANY
    acts = [lambda c=c, p=p: unit.run(lambda w: open_session(w, p, c)) for c, p in zip(commands, people, strict=False)]
    found = at_once(acts)
    assert sum(not isinstance(f, Conflict) for f in found) == 1
    with unit.engine.connect() as c:
        assert c.execute(text("SELECT COUNT(*) FROM meeting WHERE open_slot = 1")).scalar_one() == 1
    shop.close_session()


def test_the_same_sign_off_sent_by_two_browsers_is_one_act(shop: TestShop, unit: Unit) -> None:
    student = shop.can_show_person()
    points = tuple(SeenPoint(number=p["number"], ok=True) for p in shown("person")["seen"])
    command = SignCommand(
        id=uuid.uuid4(),
        student=uuid.UUID(student.id),
        skills=(SignOne(skill="person", seen=points),),
        pin="0000",
    )
    found = at_once([lambda: unit.run(lambda w: sign_skills(w, HALDANE, command))] * MANY)
    assert not [f for f in found if isinstance(f, DomainError)]
    skills = shop.haldane.get(f"/api/students/{student.id}/skills")["skills"]
    events = next(s["events"] for s in skills if s["skill"]["id"] == "person")
    assert [e["kind"] for e in events].count("sign_off") == 1
    assert shop.haldane.get("/api/register")["holds"]


def test_a_tag_is_cleared_once(shop: TestShop, unit: Unit) -> None:
    tag = new_id()
    shop.ready_student().post("/api/tags", {"id": tag, "machine": PETREL, "note": "guard bent"})
    commands = [ClearTagCommand(note=f"straightened {n}", pin="0000") for n in range(MANY)]
    found = at_once([lambda c=c: unit.run(lambda w: clear_tag(w, HALDANE, uuid.UUID(tag), c)) for c in commands])
    assert sum(not isinstance(f, Conflict) for f in found) == 1
    assert shop.haldane.get("/api/register")["holds"], "and it stands in the register once"


def test_a_call_is_answered_by_one_of_two(shop: TestShop, unit: Unit) -> None:
    student, call = shop.ready_student(), new_id()
    student.post("/api/calls", {"id": call, "kind": "help"})
    command = AnswerCallCommand(outcome=CallOutcome.DONE)
    acts = [lambda p=p: unit.run(lambda w: answer_call(w, p, uuid.UUID(call), command)) for p in (HALDANE, SELBY)]
    found = at_once(acts)
    assert sum(not isinstance(f, Conflict) for f in found) == 1
    assert student.get("/api/calls")["calls"][0]["outcome"] == "done"


def test_a_pair_starts_at_once_and_one_runs(shop: TestShop) -> None:
    """Only who has the handles can be given the start, however fast the other is."""
    one, other = shop.ready_student(), shop.ready_student()
    shop.session(one, other)
    for student in (one, other):
        shop.at_machine(student)
    asked = {p.id: {"id": new_id(), "operation": "facing", "points": POINTS} for p in (one, other)}
    path = f"/api/machines/{PETREL}/starts"
    first, second = at_once([lambda p=p: p.ask("POST", path, asked[p.id]) for p in (one, other)])
    assert (first.status_code, first.get_json()["started"]) == (200, True)
    # before the other's start it has not the handles, after it the machine runs
    assert second.status_code == 409 or second.get_json()["started"] is False
    run = one.get(f"/api/machines/{PETREL}/start")["run"]
    assert run["person"]["id"] == one.id
    shop.close_session()
