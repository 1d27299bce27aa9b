"""Starts that are sent twice, at once, with a field left out or under another act's id."""

from __future__ import annotations

from typing import Any

import pytest
from sqlalchemy import text

from tests.at_once import at_once
from tests.shop import DUNLIN, PETREL, PINS, POINTS, Person, TestShop, new_id

FACING = "facing"


@pytest.fixture
def at_petrel(shop: TestShop) -> Person:
    """A student who may face, on the roll and at the handles of Petrel."""
    student = shop.ready_student()
    shop.session(student)
    shop.at_machine(student)
    return student


def hold(
    shop: TestShop, student: Person, assignment: str | None, what: str = "first_start", *, on: bool = True
) -> None:
    body = {"id": new_id(), "student": student.id, "assignment": assignment, "hold": "first_start", "on": True}
    shop.haldane.post("/api/hold-points", body)


def release(shop: TestShop, student: Person, assignment: str) -> None:
    call = {"id": new_id(), "kind": "hold", "assignment": assignment, "what": "first_start"}
    student.post("/api/calls", call)
    shop.haldane.post(f"/api/calls/{call['id']}/end", {"outcome": "done"})


def starts(shop: TestShop, student: Person, kind: str = "start") -> int:
    with shop.unit.engine.connect() as c:
        found = c.execute(
            text("SELECT COUNT(*) FROM machine_event WHERE kind = :k AND person_id = :p"),
            {"k": kind, "p": student.id.replace("-", "")},
        )
        return int(found.scalar_one())


def asked(student: Person, machine: str, kind: str, body: dict[str, Any]) -> Any:
    """The answer whatever it is: its status and its body."""
    answer = student.ask("POST", f"/api/machines/{machine}/{kind}", body)
    return answer.status_code, answer.get_json()


def test_leaving_the_job_card_out_does_not_go_past_its_hold_point(shop: TestShop, at_petrel: Person) -> None:
    assignment, _ = shop.assign(at_petrel, machine=PETREL)
    assert shop.start(at_petrel, FACING)["started"], "no hold, no card needed"
    at_petrel.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    hold(shop, at_petrel, assignment)
    named = shop.start(at_petrel, FACING, assignment=assignment)
    left_out = shop.start(at_petrel, FACING)
    assert not named["started"]
    assert not left_out["started"]
    assert left_out["reasons"] == named["reasons"]
    release(shop, at_petrel, assignment)
    assert shop.start(at_petrel, FACING)["started"]


def test_another_card_of_ones_own_does_not_go_past_it_either(shop: TestShop, at_petrel: Person) -> None:
    """A hold of the one part is no hold of the other; without a name both count."""
    held, _ = shop.assign(at_petrel, machine=PETREL)
    free, _ = shop.assign(at_petrel, machine=PETREL)
    hold(shop, at_petrel, held)
    assert not shop.start(at_petrel, FACING)["started"]
    assert not shop.start(at_petrel, FACING, assignment=held)["started"]
    assert shop.start(at_petrel, FACING, assignment=free)["started"]


def test_a_strangers_card_is_no_card(shop: TestShop, at_petrel: Person) -> None:
    other = shop.ready_student()
    theirs, _ = shop.assign(other, machine=PETREL)
    body = {"id": new_id(), "operation": FACING, "points": POINTS, "assignment": theirs}
    at_petrel.fails(404, f"/api/machines/{PETREL}/starts", body)


def test_the_same_start_sent_again_is_one_start(shop: TestShop, at_petrel: Person) -> None:
    body = {"id": new_id(), "operation": FACING, "points": POINTS}
    first, second = (at_petrel.post(f"/api/machines/{PETREL}/starts", body) for _ in range(2))
    assert first["started"]
    assert second["started"]
    assert starts(shop, at_petrel) == 1


def test_the_whole_list_is_gone_through_once_by_the_one_at_the_handles(shop: TestShop) -> None:
    student, beside = shop.ready_student(), shop.ready_student()
    shop.session(student, beside)
    shop.at_machine(student)
    assert not shop.start(beside, FACING)["started"]
    assert starts(shop, beside, "listed") == 0, "nobody does it for the one at the handles"
    for _ in range(2):
        assert shop.start(student, FACING)["started"]
        student.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    assert starts(shop, student, "listed") == 1


@pytest.mark.parametrize("kind", ["come", "handles"])
def test_the_id_of_another_act_starts_nothing(shop: TestShop, kind: str) -> None:
    """It once answered "allowed, started" for the id of any event."""
    student = shop.ready_student()
    shop.session(student)
    used = new_id()
    shop.at_machine(student)
    student.post(f"/api/machines/{PETREL}/steps", {"id": used, "step": kind})
    body = {"id": used, "operation": FACING, "points": POINTS}
    assert "used before" in student.fails(409, f"/api/machines/{PETREL}/starts", body)["detail"]
    assert starts(shop, student) == 0
    assert student.get(f"/api/machines/{PETREL}/start")["run"] is None


def test_a_start_is_no_answer_for_another_operation_machine_or_person(shop: TestShop, at_petrel: Person) -> None:
    body = {"id": new_id(), "operation": FACING, "points": POINTS}
    assert at_petrel.post(f"/api/machines/{PETREL}/starts", body)["started"]
    at_petrel.fails(409, f"/api/machines/{PETREL}/starts", body | {"operation": "drilling"})
    at_petrel.fails(409, f"/api/machines/{DUNLIN}/starts", body)
    other = shop.ready_student()
    other.fails(409, f"/api/machines/{PETREL}/starts", body)


def test_the_id_of_a_start_ends_nothing_and_confirms_nothing(shop: TestShop, at_petrel: Person) -> None:
    used = new_id()
    at_petrel.post(f"/api/machines/{PETREL}/starts", {"id": used, "operation": FACING, "points": POINTS})
    at_petrel.fails(409, f"/api/machines/{PETREL}/ends", {"id": used})
    assert at_petrel.get(f"/api/machines/{PETREL}/start")["run"] is not None
    confirmed = {"id": used, "student": at_petrel.id, "operation": FACING, "pin": PINS["haldane"]}
    assert asked(shop.haldane, PETREL, "confirmations", confirmed)[0] in (403, 409)
    ended = {"id": new_id()}
    for _ in range(2):
        assert at_petrel.post(f"/api/machines/{PETREL}/ends", ended)["run"] is None


def test_who_runs_one_machine_cannot_start_another(shop: TestShop, at_petrel: Person) -> None:
    assert shop.start(at_petrel, FACING)["started"]
    body = {"id": new_id(), "operation": FACING, "points": POINTS}
    assert "end that run first" in at_petrel.fails(409, f"/api/machines/{DUNLIN}/starts", body)["detail"]


@pytest.mark.parametrize("turn", range(3))
def test_two_machines_at_the_same_moment_are_one_start(shop: TestShop, turn: int) -> None:
    student = shop.ready_student()
    shop.session(student)
    shop.at_machine(student, PETREL)

    def both(machine: str) -> Any:
        come = {"id": new_id(), "step": "come"}
        asked(student, machine, "steps", come)
        return asked(student, machine, "starts", {"id": new_id(), "operation": FACING, "points": POINTS})

    answers = at_once([lambda: both(PETREL), lambda: both(DUNLIN)])
    started = [body for status, body in answers if status == 200 and body["started"]]
    assert len(started) <= 1, turn
    assert starts(shop, student) == len(started)
    runs = [student.get(f"/api/machines/{m}/start")["run"] for m in (PETREL, DUNLIN)]
    assert sum(r is not None for r in runs) == len(started)


@pytest.mark.parametrize("turn", range(3))
def test_a_start_and_a_change_of_handles_come_one_after_the_other(shop: TestShop, turn: int) -> None:
    """Either the start holds, and the handles stay, or they change, and the start is refused."""
    one, other = shop.ready_student(), shop.ready_student()
    shop.session(one, other)
    for student in (one, other):
        shop.at_machine(student)
    one.post(f"/api/machines/{PETREL}/steps", {"id": new_id(), "step": "handles"})
    start = {"id": new_id(), "operation": FACING, "points": POINTS}
    started, taken = at_once(
        [
            lambda: asked(one, PETREL, "starts", start),
            lambda: asked(other, PETREL, "steps", {"id": new_id(), "step": "handles"}),
        ]
    )
    page = one.get(f"/api/machines/{PETREL}/start")
    runs = started[0] == 200 and started[1]["started"]
    assert runs == (page["run"] is not None), turn
    assert page["handles"]["id"] == (one.id if runs else other.id)
    assert (taken[0] == 200) == (not runs)


@pytest.mark.parametrize("turn", range(3))
def test_a_start_and_the_sessions_end_come_one_after_the_other(shop: TestShop, turn: int) -> None:
    student = shop.ready_student()
    meeting = shop.session(student)
    shop.at_machine(student)
    start = {"id": new_id(), "operation": FACING, "points": POINTS}
    end = {"id": meeting, "handed_back": [PETREL, DUNLIN], "pin": PINS["haldane"]}
    started, ended = at_once(
        [
            lambda: asked(student, PETREL, "starts", start),
            lambda: shop.haldane.ask("POST", "/api/session/end", end).status_code,
        ]
    )
    runs = started[0] == 200 and started[1]["started"]
    assert (ended == 200) == (not runs), turn
    if runs:
        assert student.get(f"/api/machines/{PETREL}/start")["run"] is not None
    shop.close_session()
