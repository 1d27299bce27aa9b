"""What every transaction that writes leaves behind: what is open, and what changed for whom."""

from __future__ import annotations

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from sqlalchemy import text

from incudo.store import schema as t
from incudo.store.kernel import changes
from incudo.store.kernel.changes import ALL, SHOP, of_machine, of_person
from tests.shop import GOOD_BLOCK, MILL, PETREL, TIDE_V1, Person, TestShop, new_id

#: The same questions asked of the whole record.
OPEN = {
    "card": "SELECT a.id FROM assignment a WHERE NOT EXISTS "
    "(SELECT 1 FROM attempt b JOIN hand_in h ON h.attempt_id = b.id JOIN decision d ON d.hand_in_id = h.id "
    "WHERE b.assignment_id = a.id AND d.outcome = 'accepted')",
    "hand_in": "SELECT h.id FROM hand_in h LEFT JOIN decision d ON d.hand_in_id = h.id WHERE d.id IS NULL",
    "issue": "SELECT i.id FROM crib_issue i LEFT JOIN crib_return r ON r.issue_id = i.id WHERE r.issue_id IS NULL",
}


def listed(shop: TestShop, kind: str) -> set[str]:
    query = text("SELECT id FROM pending WHERE kind = :k")
    return shop.unit.run(lambda w: {str(i) for i in w.db.execute(query, {"k": kind}).scalars()})


def recorded(shop: TestShop, kind: str) -> set[str]:
    return shop.unit.run(lambda w: {str(i) for i in w.db.execute(text(OPEN[kind])).scalars()})


def card(shop: TestShop, student: Person) -> dict[str, str]:
    given = {"id": new_id(), "version": TIDE_V1, "student": student.id}
    found: dict[str, str] = shop.haldane.post("/api/assignments", given)
    return found


@pytest.mark.parametrize("kind", sorted(OPEN))
def test_the_year_of_the_demo_leaves_listed_what_is_open(shop: TestShop, kind: str) -> None:
    assert listed(shop, kind) == recorded(shop, kind)
    assert listed(shop, kind)


def test_a_part_is_open_until_it_is_accepted_and_waits_between(shop: TestShop) -> None:
    student = shop.ready_student()
    given = card(shop, student)
    for number, value, tool in GOOD_BLOCK:
        student.read(given["attempt"], number, value, tool)
    assert given["assignment"] in listed(shop, "card")
    hand_in = student.hand_in(given["attempt"])
    assert hand_in in listed(shop, "hand_in")
    for number, value, tool in GOOD_BLOCK:
        shop.haldane.check(given["attempt"], number, value, tool)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    shop.haldane.post(f"/api/hand-ins/{hand_in}/decision", {"id": new_id(), "dispositions": [], "remark": ""})
    for kind in OPEN:
        assert listed(shop, kind) == recorded(shop, kind)
    assert hand_in not in listed(shop, "hand_in")
    assert given["assignment"] not in listed(shop, "card")


def counted(shop: TestShop, *concerns: str) -> list[int]:
    found = shop.unit.run(lambda w: changes.numbers(w.db, concerns))
    return [found[c] for c in concerns]


def test_own_work_counts_for_its_student_and_not_for_the_shop(shop: TestShop) -> None:
    student, other = shop.ready_student(), shop.ready_student()
    given = card(shop, student)
    asked = (ALL, SHOP, of_person(uuid.UUID(student.id)), of_person(uuid.UUID(other.id)))
    before = counted(shop, *asked)
    student.read(given["attempt"], *GOOD_BLOCK[0])
    after = counted(shop, *asked)
    assert [b - a for a, b in zip(before, after, strict=True)] == [1, 0, 1, 0]
    # what who teaches writes into it is the student's too
    shop.haldane.post("/api/hold-points", {"id": new_id(), "student": student.id, "hold": "first_start", "on": True})
    assert counted(shop, *asked)[2:] == [after[2] + 1, after[3]]
    issue = new_id()
    shop.dacosta.post("/api/crib/issues", {"id": issue, "person": other.id, "cutter": MILL})
    shop.dacosta.post(f"/api/crib/issues/{issue}/return", {})
    assert counted(shop, *asked)[2:] == [after[2] + 1, after[3] + 2]


def test_what_concerns_the_shop_counts_for_all(shop: TestShop) -> None:
    before = counted(shop, ALL, SHOP)
    shop.haldane.post(f"/api/machines/{PETREL}/notes", {"id": new_id(), "kind": "service", "words": "oiled the ways"})
    assert counted(shop, ALL, SHOP) == [n + 1 for n in before]
    assert counted(shop, of_machine(uuid.uuid4())) == [0]


def test_a_device_that_says_the_same_again_changes_nothing(shop: TestShop) -> None:
    def report(spindle: bool) -> None:
        def use_case(w: Any) -> None:
            row = {"machine_id": uuid.UUID(PETREL), "spindle": spindle, "feed": False, "at": w.now}
            device = w.db.execute(text("SELECT id FROM device LIMIT 1")).scalar_one()
            w.db.merge(t.DeviceState(device_id=uuid.UUID(str(device)), **row))

        shop.unit.run(use_case)

    report(True)
    before = counted(shop, ALL, of_machine(uuid.UUID(PETREL)))
    report(True)
    assert counted(shop, ALL, of_machine(uuid.UUID(PETREL))) == before
    report(False)
    assert counted(shop, ALL, of_machine(uuid.UUID(PETREL))) == [n + 1 for n in before]


def test_what_is_taken_back_is_not_counted(shop: TestShop) -> None:
    student = uuid.UUID(shop.student().id)
    before = counted(shop, ALL, of_person(student))

    def use_case(w: Any) -> None:
        row = {"kind": "help", "what": "", "words": "", "at": w.now}
        w.db.add(t.Call(id=uuid.uuid4(), student_id=student, **row))
        w.db.flush()
        raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError):
        shop.unit.run(use_case)
    assert counted(shop, ALL, of_person(student)) == before


def test_of_many_writers_at_once_every_one_is_counted(shop: TestShop) -> None:
    student = uuid.UUID(shop.student().id)
    before = counted(shop, ALL, of_person(student))

    def write(_n: int) -> None:
        def use_case(w: Any) -> None:
            row = {"kind": "help", "what": "", "words": "", "at": w.now}
            w.db.add(t.Call(id=uuid.uuid4(), student_id=student, **row))

        shop.unit.run(use_case)

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(write, range(40)))
    assert counted(shop, ALL, of_person(student)) == [n + 40 for n in before]
