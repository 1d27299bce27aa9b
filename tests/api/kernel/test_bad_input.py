"""Whatever comes in, the answer is a clear problem with its field: never a broken server, never a half act."""

from __future__ import annotations

import copy
import uuid
from collections.abc import Iterator
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.shop import DUNLIN, PETREL, PINS, POINTS, TUESDAY, Person, TestShop, new_id, shown, sign_off

#: operation → path, a body that is taken, and the fields that may be left out.
ACTS: dict[str, tuple[str, dict[str, Any], set[str]]] = {
    "sign": ("/api/sign-offs", sign_off(new_id(), "1407", shown("person"), note=""), {"note"}),
    "withdraw": (
        "/api/withdrawals",
        {"id": new_id(), "student": new_id(), "skill": "person", "reason": "left the key in", "pin": "1407"},
        set(),
    ),
    "restore": (
        "/api/restorations",
        {"id": new_id(), "student": new_id(), "skill": "person", "reason": "shown again", "pin": "1407"},
        set(),
    ),
    "open": ("/api/session", {"id": new_id(), "group": TUESDAY, "machines": [], "pin": "1407"}, {"machines"}),
    "roll": ("/api/session/roll", {"id": new_id(), "marks": [{"student": new_id(), "presence": "here"}]}, set()),
    "supervise": ("/api/session/supervision", {"id": new_id(), "on": True, "pin": "1407"}, set()),
    "machine": ("/api/session/machines", {"id": new_id(), "machine": PETREL, "open": True}, set()),
    "end": ("/api/session/end", {"id": new_id(), "handed_back": [], "pin": "1407"}, {"handed_back"}),
    "confirm": (
        f"/api/machines/{PETREL}/confirmations",
        {"id": new_id(), "student": new_id(), "operation": "facing", "pin": "1407"},
        set(),
    ),
    "tag": ("/api/tags", {"id": new_id(), "machine": DUNLIN, "note": "belt torn"}, {"machine"}),
    "incident": ("/api/incidents", {"id": new_id(), "kind": "near_miss", "what": "the key was still in"}, set()),
    "hold": ("/api/hold-points", {"id": new_id(), "student": new_id(), "hold": "last_pass", "on": True}, set()),
    "class list": ("/api/class-lists/check", {"group": "A group", "text": "name\nAda Quist"}, set()),
    "graph": ("/api/skill-graph/check", {"file": "{}"}, set()),
}
STUDENTS: dict[str, tuple[str, dict[str, Any], set[str]]] = {
    "step": (f"/api/machines/{PETREL}/steps", {"id": new_id(), "step": "come"}, set()),
    "start": (
        f"/api/machines/{PETREL}/starts",
        {"id": new_id(), "operation": "facing", "points": POINTS},
        {"points"},
    ),
    "run end": (f"/api/machines/{PETREL}/ends", {"id": new_id()}, set()),
    "call": ("/api/calls", {"id": new_id(), "kind": "help"}, set()),
    "check": ("/api/checks/measuring/tries", {"id": new_id()}, set()),
    "answer": ("/api/checks/measuring/answers", {"check": new_id(), "question": "x", "places": [0]}, {"places"}),
    "notice": ("/api/notice", {"id": new_id(), "version": 1}, set()),
    "password": ("/api/password", {"old": "something", "new": "something else"}, set()),
}
ALL = {**ACTS, **STUDENTS}
WRONG = (
    None,
    "",
    "x" * 70_000,
    -1,
    10**30,
    1.5,
    True,
    [],
    ["x"],
    {},
    {"a": 1},
    "\x00",
    "'; DROP TABLE person; --",
    "١٢",
)


@pytest.fixture(scope="module")
def student(whole_shop: TestShop) -> Person:
    return whole_shop.ready_student()


@pytest.fixture(autouse=True)
def _left_open(shop: TestShop) -> Iterator[None]:
    yield
    shop.close_session()


def who(shop: TestShop, student: Person, act: str) -> Person:
    return student if act in STUDENTS else shop.haldane


@pytest.mark.parametrize("act", ALL)
def test_every_needed_field_is_named_when_it_is_missing(shop: TestShop, student: Person, act: str) -> None:
    path, body, optional = ALL[act]
    for field in body.keys() - optional:
        problem = who(shop, student, act).fails(422, path, {k: v for k, v in body.items() if k != field})
        assert field in [e["field"] for e in problem["errors"]], field


@pytest.mark.parametrize("act", ALL)
def test_an_unknown_field_is_refused_by_name(shop: TestShop, student: Person, act: str) -> None:
    path, body, _ = ALL[act]
    problem = who(shop, student, act).fails(422, path, body | {"colour": "red"})
    assert "colour" in [e["field"] for e in problem["errors"]]


@pytest.mark.parametrize("act", ALL)
def test_wrong_values_never_break_the_server(shop: TestShop, student: Person, act: str) -> None:
    """Each field with each wrong value: a problem of the 400s; a long value is not sent back whole."""
    path, body, _ = ALL[act]
    for field in body:
        for wrong in WRONG:
            answer = who(shop, student, act).ask("POST", path, body | {field: wrong})
            assert answer.status_code < 500, (field, str(wrong)[:40])
            assert len(answer.get_data()) < 40_000 or answer.status_code == 200, field


json = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(st.sampled_from(sorted(ALL)), json)
def test_any_body_at_all(shop: TestShop, student: Person, act: str, body: Any) -> None:
    assert who(shop, student, act).ask("POST", ALL[act][0], body).status_code in (400, 403, 404, 409, 422)


@pytest.mark.parametrize("path", ["/api/interlock"])
def test_a_device_that_sends_rubbish_is_told_so(shop: TestShop, path: str) -> None:
    from tests.shop import DEVICE_KEY

    headers = {"Authorization": f"Bearer {DEVICE_KEY}"}
    good = {"machine": PETREL, "spindle": True, "feed": False}
    for wrong in ({"machine": "x"}, {"machine": new_id()}, {"spindle": "yes please"}, {"colour": "red"}):
        body = {"machines": [good | wrong]}
        answer = shop.app.test_client().post(path, json=body, headers=headers)
        assert answer.status_code == 422, wrong
    assert shop.app.test_client().post(path, data=b"\xff\xfe", headers=headers).status_code in (400, 415, 422)


#: One id used twice with another content: the second is refused, and the first stays.
TWICE: dict[str, tuple[str, dict[str, Any], dict[str, Any]]] = {
    "tag": ("/api/tags", {"machine": DUNLIN, "note": "belt torn"}, {"note": "belt slips"}),
    "incident": (
        "/api/incidents",
        {"kind": "near_miss", "what": "the key was still in the chuck"},
        {"what": "the key was in the drawbar"},
    ),
    "call": ("/api/calls", {"kind": "help", "words": "vise"}, {"words": "cutter"}),
}


@pytest.mark.parametrize("act", TWICE)
def test_the_same_id_acts_once(shop: TestShop, act: str) -> None:
    path, body, change = TWICE[act]
    person = shop.ready_student()
    first = body | {"id": new_id()}
    person.post(path, first)
    before = shop.thorley.get("/api/register")["entries"]
    person.post(path, first)
    person.fails(409, path, first | change)
    assert shop.thorley.get("/api/register")["entries"] == before, "neither stands in the register again"
    for tag in shop.haldane.get("/api/tags")["tags"]:
        if tag["machine"]:
            shop.haldane.post(f"/api/tags/{tag['id']}/clear", {"note": "repaired", "pin": PINS["haldane"]})


@pytest.mark.parametrize(
    ("path", "method"),
    [
        (f"/api/machines/{uuid.UUID(int=0)}/start", "GET"),
        (f"/api/students/{uuid.UUID(int=0)}/skills", "GET"),
        (f"/api/students/{uuid.UUID(int=0)}/skill-record.pdf", "GET"),
        (f"/api/skill-map?student={uuid.UUID(int=0)}", "GET"),
        (f"/api/students/{uuid.UUID(int=0)}/decision?operation=facing&machine={PETREL}", "GET"),
        ("/api/banks/ghost", "GET"),
    ],
)
def test_what_is_not_there_is_said_so(shop: TestShop, path: str, method: str) -> None:
    assert shop.haldane.ask(method, path).status_code == 404


def test_past_decisions_want_moments_with_a_zone(shop: TestShop, student: Person) -> None:
    base = f"/api/students/{student.id}/decision?operation=facing&machine={PETREL}"
    for bad in ("&as_of=yesterday", "&as_of=2026-01-01T00:00:00", "&known_at=1e99"):
        assert shop.thorley.ask("GET", base + bad).status_code == 422, bad
    ahead = shop.thorley.get(base + "&as_of=2999-01-01T00:00:00Z")
    assert ahead["as_of"] < "2999", "what is not yet cannot be asked"
    odd = base.replace("operation=facing", "operation=juggling")
    assert shop.thorley.ask("GET", odd).status_code == 422


def test_signing_is_whole_or_not_at_all_and_the_second_time_a_refresher(shop: TestShop) -> None:
    person = shop.can_show_person()
    body = sign_off(person.id, PINS["haldane"], shown("person"), shown("surroundings"))
    broken = copy.deepcopy(body)
    broken["skills"][1]["seen"] = []
    assert "answer this point" in shop.haldane.fails(422, "/api/sign-offs", broken)["detail"]
    assert shop.states(person)["person"] == "ready"
    shop.haldane.post("/api/sign-offs", body)
    again = shop.haldane.fails(422, "/api/sign-offs", body | {"id": new_id()})
    assert "is not a point of this checklist" in again["detail"], "the second time it is a refresher, which is shorter"
    refresher = body | {"id": new_id(), "skills": [shown("person", refresher=True)]}
    shop.haldane.post("/api/sign-offs", refresher)
    found = shop.haldane.get(f"/api/students/{person.id}/skills")["skills"]
    events = next(s["events"] for s in found if s["skill"]["id"] == "person")
    assert [e["kind"] for e in events].count("sign_off") == 2, "signing again is an act of its own"
