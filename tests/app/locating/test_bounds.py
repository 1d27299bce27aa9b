"""Datums and dials, at the moment or on the day at which something else happened."""

from __future__ import annotations

import uuid
from datetime import timedelta
from fractions import Fraction
from typing import Any

import pytest

from incudo.app.kernel.unit import Work, find
from incudo.app.locating.datums import datums_of
from incudo.app.locating.moves import dials
from incudo.app.parts.attempts import newest_attempt
from incudo.app.setup.standards import setup_rules
from incudo.core.shop.machine import Machine
from incudo.store import schema as t
from tests.api.locating.test_finding import EDGE, PIN_V1, card_of, check, keep
from tests.shop import DUNLIN, FULMAR, GANNET, HOLD_SO, PETREL, TestShop, new_id

TOUCHED = EDGE | {"touches": ["0.0380", "0.0380"]}


def reason(shop: TestShop, card: str) -> str:
    """Why the datum of a card does not stand any more; empty while it does."""
    (datum,) = shop.unit.run(lambda w: datums_of(w, newest_attempt(w, uuid.UUID(card))))
    return "" if datum.stands else str(datum.reason)


@pytest.mark.parametrize("later", [timedelta(0), timedelta(seconds=1)])
@pytest.mark.parametrize("what", ["vise", "work"])
def test_what_was_moved_after_a_touch_takes_it_away(shop: TestShop, what: str, later: timedelta) -> None:
    student = shop.ready_student()
    card = card_of(shop, student, FULMAR if what == "vise" else PETREL)
    shop.clock.stand()
    keep(student, card, TOUCHED)
    shop.clock.ahead = later
    if what == "vise":
        note = {"id": new_id(), "kind": "vise", "words": "bumped with the bar"}
        student.post(f"/api/machines/{FULMAR}/notes", note)
    else:
        student.post(f"/api/job-cards/{card}/holding", HOLD_SO | {"id": new_id()})
    assert bool(reason(shop, card)) is bool(later), reason(shop, card)


def test_a_touch_holds_for_the_shops_hours(shop: TestShop) -> None:
    student = shop.ready_student()
    card = card_of(shop, student)
    shop.clock.stand()
    keep(student, card, TOUCHED)
    shop.clock.ahead = timedelta(hours=shop.unit.run(setup_rules).hours)
    assert not reason(shop, card)
    shop.clock.ahead += timedelta(seconds=1)
    assert "older than" in reason(shop, card)


def test_along_a_bar_there_is_nothing_to_clear(shop: TestShop) -> None:
    student = shop.ready_student()
    find_middle: dict[str, Any] = {
        "kind": "middle", "scale": "readout", "finder": "light-mm", "low": "20", "high": "46", "width": "16",
        "unsure": "0.02", "above": "3",
    }  # fmt: skip
    card = card_of(shop, student, GANNET, PIN_V1)
    assert check(student, card, find_middle | {"handle": 1})["clearance"]["clear"] is False
    assert check(student, card, find_middle | {"handle": 0})["clearance"] is None


@pytest.mark.parametrize(("days", "counts"), [(0, True), (1, False)])
def test_the_register_gives_way_to_what_was_measured_since(shop: TestShop, days: int, counts: bool) -> None:
    body = {"handle": 0, "numbers": "rise", "middle": ["0.60", "0.60"], "end": ["0.40"]}
    for who in (shop.ready_student(), shop.ready_student()):
        who.post(f"/api/machines/{DUNLIN}/backlash", {"id": new_id(), **body})

    def taken(w: Work) -> Fraction:
        row = find(w, t.Machine, uuid.UUID(DUNLIN), "machine")
        spec = Machine.model_validate_json(row.spec)
        first = spec.handles[0].model_copy(update={"measured": w.today + timedelta(days=days)})
        row.spec = spec.model_copy(update={"handles": (first, *spec.handles[1:])}).model_dump_json()
        w.memo.clear()
        found = dials(w, row)[0].backlash
        w.db.rollback()
        return found

    assert (shop.unit.run(taken) == Fraction("0.6")) is counts
