"""What is kept of the shop between use cases that read: until something of it changes, or the day does."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime, timedelta

import pytest

from incudo.app.kernel.kept import kept_of_the_shop
from incudo.app.kernel.unit import Unit, Work
from incudo.app.session.floor import floor
from incudo.store import schema as t
from tests.shop import GANNET, TestShop, new_id


def reads(w: Work, name: str) -> bool:
    """Whether a use case of this name has to read what it wants of the shop."""
    with kept_of_the_shop(w, name, "thing"):
        there = "thing" in w.memo
        w.memo["thing"] = "read"
        w.memo["other"] = "not asked for"
    return not there


def test_it_holds_until_something_of_the_shop_changes(shop: TestShop) -> None:
    name = new_id()
    assert [shop.unit.run(lambda w: reads(w, name)) for _ in range(3)] == [True, False, False]
    assert shop.unit.run(lambda w: reads(w, new_id())), "another use case reads its own"
    student = shop.ready_student()
    shop.unit.run(lambda w: reads(w, name))
    student.post("/api/calls", {"id": new_id(), "kind": "help"})
    assert not shop.unit.run(lambda w: reads(w, name)), "a call concerns who calls"
    student.post("/api/tags", {"id": new_id(), "machine": GANNET, "note": "belt slips under load"})
    assert shop.unit.run(lambda w: reads(w, name))
    assert not shop.unit.run(lambda w: reads(w, name))


@pytest.mark.parametrize(("hour", "anew"), [(23, False), (24, True)])
def test_it_holds_for_one_day_of_the_shop(
    shop: TestShop, at: Callable[[datetime], Unit], hour: int, anew: bool
) -> None:
    name = new_id()
    midnight = shop.unit.run(lambda w: w.local(w.now).replace(hour=0, minute=0, second=0, microsecond=0))
    at(midnight).run(lambda w: reads(w, name))
    assert at(midnight + timedelta(hours=hour)).run(lambda w: reads(w, name)) is anew


def test_who_has_written_reads_for_themselves_and_leaves_nothing(shop: TestShop) -> None:
    name = new_id()

    def write(w: Work) -> bool:
        w.db.add(t.Group(id=uuid.uuid4(), name=f"Group {name}"))
        found = reads(w, name)
        w.db.rollback()
        return found

    assert shop.unit.run(write)
    assert shop.unit.run(lambda w: reads(w, name)), "nothing was left"
    assert shop.unit.run(write), "though it was there"


def test_the_floor_says_the_same_whether_it_was_asked_before_or_not(shop: TestShop) -> None:
    student = shop.ready_student()
    shop.session(student)
    shop.at_machine(student)

    def both(w: Work) -> None:
        kept = floor(w)
        fresh = floor(Work(w.db, w.now, w.key))
        w.db.add(t.Group(id=uuid.uuid4(), name=f"Group {new_id()}"))
        alone = floor(Work(w.db, w.now, w.key))
        w.db.rollback()
        assert kept == fresh == alone

    for _ in range(2):
        shop.unit.run(both)
    shop.haldane.post("/api/tags", {"id": (tag := new_id()), "machine": GANNET, "note": "quill sticks"})
    shop.unit.run(both)
    plate = next(p for p in shop.haldane.get("/api/floor")["plates"] if p["machine"]["id"] == GANNET)
    assert "quill sticks" in plate["tagged_out"] or "belt slips" in plate["tagged_out"]
    pin = {"note": "cleaned", "pin": "1407"}
    shop.haldane.post(f"/api/tags/{tag}/clear", pin)
    shop.unit.run(both)
