"""What was handed in is frozen: nothing that comes later changes what a decision stood on."""

from __future__ import annotations

import uuid

import pytest

from incudo.app.parts.attempts import load_attempt
from tests.shop import GOOD_BLOCK, M01, Person, TestShop, new_id, reading


def shown(student: Person, assignment: str) -> list[tuple[str, bool]]:
    """The readings of the third characteristic, each with whether it was superseded."""
    card = student.get(f"/api/job-cards/{assignment}")
    return [(r["value"]["inch"], r["superseded"]) for r in card["characteristics"][2]["readings"]]


def finding(shop: TestShop, hand_in: str) -> tuple[str, list[str]]:
    """What the check's page shows of the third characteristic: the student's verdict and counting values."""
    sheet = shop.haldane.get(f"/api/hand-ins/{hand_in}")
    c = sheet["card"]["characteristics"][2]
    return c["finding"]["verdict"], [r["value"]["inch"] for r in c["readings"] if not r["superseded"]]


@pytest.mark.parametrize("state", ["handed in", "accepted"])
def test_a_reading_after_the_hand_in_takes_no_other_away(shop: TestShop, state: str) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    ids = {}
    for number, value, tool in GOOD_BLOCK:
        ids[number] = student.read(attempt, number, value, tool)["reading"]["id"]
    hand_in = student.hand_in(attempt)
    shop.haldane.check(attempt, 3, "0.9981", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    if state == "accepted":
        shop.decide(hand_in)
    before = finding(shop, hand_in)
    path = f"/api/attempts/{attempt}/readings"
    late = reading(3, "0.8981", M01, supersedes=ids[3], why="a copy of the assessor's")
    assert "what was handed in stands" in student.fails(409, path, late)["detail"]
    assert finding(shop, hand_in) == before
    assert all(not gone for _, gone in shown(student, assignment))


def test_a_reading_that_comes_late_is_kept_beside_and_decides_nothing(shop: TestShop) -> None:
    student, assignment, attempt, hand_in = shop.handed_in()
    student.read(attempt, 3, "0.8981", M01)
    assert ("0.8981", False) in shown(student, assignment)
    shop.haldane.check(attempt, 3, "0.9981", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    assert finding(shop, hand_in)[0] == "in"


def test_rework_supersedes_in_its_own_round_and_leaves_the_decided_one(shop: TestShop) -> None:
    """A new round's reading may take an old one's place for the new decision; the old decision keeps its own."""
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    old = student.read(attempt, 3, "1.0020", M01)["reading"]["id"]
    for number, value, tool in GOOD_BLOCK:
        if number != 3:
            student.read(attempt, number, value, tool)
    hand_in = student.hand_in(attempt)
    shop.haldane.check(attempt, 3, "1.0021", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    shop.decide(hand_in, {"characteristic": 3, "kind": "rework"})
    assert counting(shop, attempt, 1) == ["1.0020"]
    student.read(attempt, 3, "0.9981", M01, supersedes=old, why="cut again")
    assert counting(shop, attempt, 1) == ["1.0020"], "the first decision goes on standing on what it stood on"
    assert counting(shop, attempt, 2) == ["0.9981"]


def counting(shop: TestShop, attempt: str, round_: int) -> list[str]:
    """The student's readings of the third characteristic that decide in a round."""
    return shop.unit.run(lambda w: [r.text for r in load_attempt(w, uuid.UUID(attempt)).counting(3, round_)])
