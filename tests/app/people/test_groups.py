"""Terms and enrolments: who belongs to a group on which day, and which group a page shows."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

import pytest
from sqlalchemy import select

from incudo.app.kernel.unit import find
from incudo.app.people.groups import choose_group
from incudo.app.people.students import group_of, in_group
from incudo.core.kernel.errors import NotFound
from incudo.store import schema as t
from incudo.store.people import groups
from tests.shop import PINS, TUESDAY, TestShop

DAY = date(2031, 3, 14)


def group(shop: TestShop, begins: date | None = None, ends: date | None = None) -> uuid.UUID:
    ident = uuid.uuid4()
    shop.unit.run(lambda w: w.db.add(t.Group(id=ident, name=f"Group {ident.hex[:8]}", begins=begins, ends=ends)))
    return ident


def enrolled(
    shop: TestShop, into: uuid.UUID, begins: date, ends: date | None = None, *, student: str = ""
) -> uuid.UUID:
    person = uuid.UUID(student or shop.student().id)
    row = {"person_id": person, "group_id": into, "begins": begins, "ends": ends}
    shop.unit.run(lambda w: w.db.add(t.Enrolment(id=uuid.uuid4(), **row)))
    return person


def there(shop: TestShop, of: uuid.UUID, day: date) -> set[uuid.UUID]:
    def read(w: Any) -> set[uuid.UUID]:
        found = {p.id for p in groups.students_of(w.db, of, day)}
        assert {p for p, _ in groups.students_by_group(w.db, day)[of]} == found
        return found

    return shop.unit.run(read)


@pytest.mark.parametrize(
    ("begins", "ends", "belongs"),
    [
        (DAY, None, True),
        (DAY + timedelta(days=1), None, False),
        (DAY - timedelta(days=9), DAY, True),
        (DAY - timedelta(days=9), DAY - timedelta(days=1), False),
        (DAY, DAY, True),
    ],
)
def test_an_enrolment_holds_from_its_first_to_its_last_day(
    shop: TestShop, begins: date, ends: date | None, belongs: bool
) -> None:
    of = group(shop)
    student = enrolled(shop, of, begins, ends)
    assert (student in there(shop, of, DAY)) is belongs
    found = shop.unit.run(lambda w: groups.group_of(w.db, student, DAY))
    assert (found is not None and found.id == of) is belongs
    here = shop.unit.run(lambda w: set(w.db.scalars(groups.here(DAY))))
    assert (student in here) is belongs


@pytest.mark.parametrize(
    ("begins", "ends", "shown"),
    [
        (None, None, True),
        (DAY, DAY, True),
        (DAY + timedelta(days=1), None, False),
        (None, DAY - timedelta(days=1), False),
    ],
)
def test_a_group_is_shown_in_its_term(shop: TestShop, begins: date | None, ends: date | None, shown: bool) -> None:
    of = group(shop, begins, ends)
    student = enrolled(shop, of, DAY - timedelta(days=400))
    assert (of in {g.id for g in shop.unit.run(lambda w: groups.groups(w.db, DAY))}) is shown
    assert (shop.unit.run(lambda w: groups.group_of(w.db, student, DAY)) is not None) is shown


def test_of_two_groups_the_one_that_was_begun_last_is_theirs(shop: TestShop) -> None:
    before, after = group(shop), group(shop)
    student = enrolled(shop, before, date(2020, 1, 1))
    enrolled(shop, after, date(2021, 1, 1), student=str(student))
    assert shop.unit.run(lambda w: in_group(w, student, after))
    assert not shop.unit.run(lambda w: in_group(w, student, before))
    assert shop.unit.run(lambda w: group_of(w, student)).id == after


def test_who_left_is_with_no_group_and_who_never_was_in_one_with_all(shop: TestShop) -> None:
    of = group(shop)
    left = enrolled(shop, of, date(2020, 1, 1), date(2020, 6, 1))
    new = uuid.UUID(shop.student().id)
    chosen = shop.unit.run(lambda w: choose_group(w, of, None))
    shown = {p.id: name for p, name in chosen.students}
    assert left not in shown
    assert shown[new] == ""
    here = shop.unit.run(lambda w: set(w.db.scalars(groups.here(w.now.date()))))
    assert (left in here, new in here) == (False, True)


def test_a_page_shows_the_group_that_is_asked_for_then_the_one_that_meets_then_the_first(shop: TestShop) -> None:
    of = group(shop)
    assert shop.unit.run(lambda w: choose_group(w, of, uuid.UUID(TUESDAY))).group.id == of
    assert shop.unit.run(lambda w: choose_group(w, None, uuid.UUID(TUESDAY))).group.id == uuid.UUID(TUESDAY)
    first = shop.unit.run(lambda w: choose_group(w, None, None))
    assert first.group == first.choices[0]
    over = group(shop, ends=date(2020, 1, 1))
    past = shop.unit.run(lambda w: choose_group(w, over, None))
    assert past.group.id == over
    assert over not in {c.id for c in past.choices}
    with pytest.raises(NotFound):
        shop.unit.run(lambda w: choose_group(w, uuid.uuid4(), None))


def spans(shop: TestShop, person: uuid.UUID) -> list[tuple[uuid.UUID, date | None, date | None]]:
    def read(w: Any) -> list[tuple[uuid.UUID, date | None, date | None]]:
        of = t.Enrolment
        rows = w.db.scalars(select(of).where(of.person_id == person).order_by(of.begins))
        return [(x.group_id, x.begins, x.ends) for x in rows]

    return shop.unit.run(read)


def test_who_is_moved_twice_on_one_day_was_in_the_first_group_for_no_day(shop: TestShop) -> None:
    """What began today is gone; what began before ends yesterday."""
    today = shop.unit.run(lambda w: w.today)
    old, wrong, right = (group(shop) for _ in range(3))
    slip = enrolled(shop, old, today - timedelta(days=9))
    name = shop.unit.run(lambda w: find(w, t.Person, slip, "person").name)
    for into in (wrong, right):
        body = {"name": name, "role": "student", "group": str(into), "active": True, "pin": PINS["haldane"]}
        shop.haldane.put(f"/api/people/{slip}", body)
    begun = today - timedelta(days=9)
    assert spans(shop, slip) == [(old, begun, today - timedelta(days=1)), (right, today, None)]


def test_who_goes_on_is_not_in_what_was_to_begin_with_the_new_term(shop: TestShop) -> None:
    """Somebody who was to be in another group from that day on is in the new one alone."""
    today = shop.unit.run(lambda w: w.today)
    first = today + timedelta(days=30)
    old, other = group(shop), group(shop)
    student = enrolled(shop, old, today - timedelta(days=9))
    enrolled(shop, other, first, student=str(student))
    body = {"id": str(uuid.uuid4()), "name": f"Term {uuid.uuid4().hex[:8]}", "go_on": [str(student)], "leave": []}
    days = {"until": str(first - timedelta(days=1)), "begins": str(first), "ends": None}
    shop.haldane.post(f"/api/groups/{old}/next-term", body | days | {"pin": PINS["haldane"]})
    found = spans(shop, student)
    assert found[-1] == (uuid.UUID(body["id"]), first, None)
    assert other not in {g for g, _, _ in found}


@pytest.mark.parametrize(("days", "over"), [(0, False), (-1, True), (1, False)])
def test_a_group_is_over_on_the_day_after_its_last(shop: TestShop, days: int, over: bool) -> None:
    today = shop.unit.run(lambda w: w.today)
    ident = group(shop, ends=today + timedelta(days=days))
    (line,) = (g for g in shop.haldane.get("/api/people")["groups"] if g["id"] == str(ident))
    assert line["over"] is over
