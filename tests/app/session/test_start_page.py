"""What somebody finds at a machine: their own call for it and the open cards; and that they have left elsewhere."""

from __future__ import annotations

from typing import Any

from tests.shop import DUNLIN, PETREL, TestShop, new_id


def test_a_call_is_for_one_machine_and_a_card_is_there_while_it_is_open(shop: TestShop) -> None:
    student = shop.ready_student()
    shop.session(student)
    other, _ = shop.assign(student, machine=DUNLIN)
    here, attempt = shop.assign(student, machine=PETREL)
    shop.at_machine(student, PETREL)
    assert shop.start(student, "square-block", PETREL)["called"]

    def page(machine: str) -> tuple[list[str], dict[str, Any]]:
        found = student.get(f"/api/machines/{machine}/start")
        return [c["assignment"] for c in found["cards"]], {o["operation"]: o["called"] for o in found["options"]}

    cards, called = page(PETREL)
    assert cards == [here, other], "those of this machine stand first"
    assert [k for k, v in called.items() if v] == ["square-block"]
    cards, called = page(DUNLIN)
    assert cards == [other, here]
    assert not any(called.values())
    student.post(f"/api/attempts/{attempt}/stations", {"id": new_id(), "station": "plan", "at": "2026-11-24T18:00:00Z"})
    assert page(PETREL)[0] == [here, other]


def test_a_part_that_waits_for_its_check_is_not_made_any_more(shop: TestShop) -> None:
    student, *_ = shop.handed_in()
    open_, _ = shop.assign(student, machine=PETREL)
    shop.session(student)
    assert [c["assignment"] for c in student.get(f"/api/machines/{PETREL}/start")["cards"]] == [open_]


def test_whoever_comes_to_a_machine_has_left_the_other(shop: TestShop) -> None:
    one, two = shop.ready_student(), shop.ready_student()
    shop.session(one, two)
    for student in (one, two):
        shop.at_machine(student, PETREL)
    shop.at_machine(one, DUNLIN)

    def there(machine: str) -> set[str]:
        return {p["id"] for p in one.get(f"/api/machines/{machine}/start")["people"]}

    assert there(PETREL) == {two.id}
    assert there(DUNLIN) == {one.id}
