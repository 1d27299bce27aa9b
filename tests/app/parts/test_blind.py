"""What a student reckoned from their readings is shown to who measures blind only afterwards."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

from incudo.app.kernel.unit import Who
from incudo.app.parts.attempts import load_attempt
from incudo.core.people.roles import Role
from tests.shop import GOOD_BLOCK, M01, Person, TestShop, new_id

#: The width of the block is too large.
OUT = tuple((n, "1.5046" if n == 2 else v, tool) for n, v, tool in GOOD_BLOCK)


def shown(shop: TestShop, attempt: str, who: Person, role: Role, minutes: float = 0) -> bool:
    """Whether somebody sees what was reckoned so many minutes after the last decision; now, if there was none."""

    def ask(w: Any) -> bool:
        file = load_attempt(w, uuid.UUID(attempt))
        at = file.last_decision.at if file.last_decision else w.now
        return file.may_see_reckoned(Who(uuid.UUID(who.id), "", role), at + timedelta(minutes=minutes))

    return shop.unit.run(ask)


def test_an_assessor_sees_what_was_reckoned_after_comparing_or_deciding(shop: TestShop) -> None:
    student, _, attempt, hand_in = shop.handed_in(OUT)
    assert not shown(shop, attempt, shop.haldane, Role.INSTRUCTOR)
    assert shown(shop, attempt, shop.thorley, Role.AUDITOR)
    assert shown(shop, attempt, student, Role.STUDENT)
    shop.haldane.check(attempt, 3, "0.9981", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    assert shown(shop, attempt, shop.haldane, Role.INSTRUCTOR)
    assert not shown(shop, attempt, shop.dacosta, Role.ASSISTANT), "who has not compared yet"
    shop.decide(hand_in, {"characteristic": 2, "kind": "rework", "reason": "take 0.002 off"}, remark="Nearly.")
    # what led to that decision is open to all who assess, what comes after it is not
    for minutes, seen in ((-1, True), (0, True), (1, False)):
        assert shown(shop, attempt, shop.dacosta, Role.ASSISTANT, minutes) is seen
        assert shown(shop, attempt, shop.haldane, Role.INSTRUCTOR, minutes) is seen


def test_of_a_part_that_is_over_everything_is_seen(shop: TestShop) -> None:
    _, _, attempt, hand_in = shop.compared()
    shop.decide(hand_in)
    assert shown(shop, attempt, shop.dacosta, Role.ASSISTANT, 1)
