"""A group's term: its parts, how far each student is, and the next term with the same parts."""

from __future__ import annotations

import uuid
from datetime import timedelta
from typing import Any

import pytest

from incudo.app.parts.term import TermPage, term_page
from incudo.store import schema as t
from tests.at_once import at_once
from tests.shop import GAUGE, GOOD_BLOCK, PINS, TIDE, Person, TestShop, new_id


def group_of(shop: TestShop, *students: Person) -> str:
    """A group of its own with these students."""
    group = new_id()
    shop.haldane.post("/api/groups", {"id": group, "name": f"Term {group[-8:]}", "begins": None, "ends": None})
    for s in students:
        body = {"name": s.me["name"], "role": "student", "group": group, "active": True, "pin": PINS["haldane"]}
        shop.haldane.put(f"/api/people/{s.id}", body)
    return group


def of(page: dict[str, Any], student: Person) -> dict[str, Any]:
    return next(s for s in page["students"] if s["student"]["id"] == student.id)


def states(page: dict[str, Any], student: Person) -> list[str]:
    return [c["state"] for c in of(page, student)["cells"]]


def seen(shop: TestShop, group: str) -> TermPage:
    """The page as it is at the shop's moment, without anybody's session."""
    return shop.unit.run(lambda w: term_page(w, uuid.UUID(group)))


def day(shop: TestShop, days: int) -> str:
    return (shop.clock().date() + timedelta(days=days)).isoformat()


def test_how_far_everybody_is_and_who_is_ready_for_the_next_part(shop: TestShop) -> None:
    done, *_ = shop.handed_in(GOOD_BLOCK)
    lacking = shop.student()
    group = group_of(shop, done, lacking)
    page = shop.haldane.put(f"/api/groups/{group}/term", {"parts": [TIDE, GAUGE]})
    assert [p["project"] for p in page["parts"]] == [TIDE, GAUGE]
    assert page["chosen"]
    assert states(page, done) == ["handed_in", "none"]
    assert of(page, done)["next"] == GAUGE
    assert states(page, lacking) == ["none", "none"]
    assert of(page, lacking)["next"] == TIDE
    assert of(page, lacking)["missing"], "somebody without a skill is not ready"
    assert [(p["given"], p["accepted"]) for p in page["parts"]] == [(1, 0), (0, 0)]


def test_an_accepted_part_and_one_to_be_reworked(shop: TestShop) -> None:
    student, _, _, hand_in = shop.compared()
    group = group_of(shop, student)
    shop.haldane.put(f"/api/groups/{group}/term", {"parts": [TIDE]})
    shop.decide(hand_in)
    page = shop.haldane.get(f"/api/groups/{group}/term")
    assert states(page, student) == ["accepted"]
    assert page["parts"][0]["accepted"] == 1
    assert of(page, student)["next"] is None


def test_nobody_has_chosen_the_parts_then_those_that_were_given_stand_there(shop: TestShop) -> None:
    student = shop.ready_student()
    group = group_of(shop, student)
    assert shop.haldane.get(f"/api/groups/{group}/term")["parts"] == []
    shop.assign(student)
    page = shop.haldane.get(f"/api/groups/{group}/term")
    assert [p["project"] for p in page["parts"]] == [TIDE]
    assert not page["chosen"]
    for begins, parts in ((0, 1), (1, 0)):
        row = {"name": page["group"]["name"], "begins": day(shop, begins), "ends": None}
        shop.haldane.put(f"/api/groups/{group}", row)
        assert len(seen(shop, group).parts) == parts, "what was given on its first day is given in it"


@pytest.mark.parametrize(
    ("parts", "field"), [((TIDE, TIDE), "parts.1"), ((new_id(),), "parts.0"), ((TIDE, GAUGE, new_id()), "parts.2")]
)
def test_parts_that_are_none_or_named_twice_are_said_at_their_place(
    shop: TestShop, parts: tuple[str, ...], field: str
) -> None:
    group = group_of(shop)
    refused = shop.haldane.fails(422, f"/api/groups/{group}/term", {"parts": parts}, method="PUT")
    assert refused["errors"][0]["field"] == field


def next_term(shop: TestShop, **more: Any) -> dict[str, Any]:
    return {
        "id": new_id(),
        "name": f"After {new_id()[-8:]}",
        "until": day(shop, 0),
        "begins": day(shop, 1),
        "ends": day(shop, 90),
        "go_on": [],
        "leave": [],
        "pin": PINS["haldane"],
        **more,
    }


@pytest.mark.parametrize(("days", "over"), [(0, False), (1, True)])
def test_a_term_is_over_on_the_day_after_its_last(shop: TestShop, days: int, over: bool) -> None:
    group = group_of(shop, shop.student())
    row = {"name": f"Term {group[:8]}", "begins": None, "ends": day(shop, -days)}
    shop.haldane.put(f"/api/groups/{group}", row)
    assert seen(shop, group).over is over


def test_the_next_term_has_the_same_parts_and_who_goes_on(shop: TestShop) -> None:
    stays, goes_on, leaves = shop.student(), shop.student(), shop.student()
    group = group_of(shop, stays, goes_on, leaves)
    shop.haldane.put(f"/api/groups/{group}/term", {"parts": [GAUGE, TIDE]})
    body = next_term(shop, go_on=[goes_on.id], leave=[leaves.id])
    page = shop.haldane.post(f"/api/groups/{group}/next-term", body)
    assert page["group"]["id"] == body["id"]
    assert [p["project"] for p in page["parts"]] == [GAUGE, TIDE]
    assert page["students"] == [], "the new term has not begun"
    assert leaves.ask("GET", f"/api/students/{leaves.id}/skills").status_code == 401, "signed out everywhere"
    again = shop.haldane.post(f"/api/groups/{group}/next-term", body)
    assert again == page, "sent again it is done once"

    shop.clock.ahead += timedelta(days=1)
    new = seen(shop, body["id"])
    assert [x.student.id for x in new.students] == [uuid.UUID(goes_on.id)]
    old = seen(shop, group)
    assert old.over
    assert {str(x.student.id) for x in old.students} == {stays.id, goes_on.id, leaves.id}, "its records stay"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"begins": None}, "begins"),
        ({"begins": 0}, "begins"),
        ({"ends": 0}, "ends"),
        ({"until": 5, "begins": 6, "leave": True}, "leave"),
        ({"go_on": [new_id()]}, "go_on.0"),
        ({"go_on": True, "leave": True}, "leave.0"),
        ({"name": "Tuesday group"}, "name"),
    ],
)
def test_a_next_term_that_cannot_be_is_said_at_its_field_and_changes_nothing(
    shop: TestShop, change: dict[str, Any], field: str
) -> None:
    student = shop.student()
    group = group_of(shop, student)
    before = shop.haldane.get(f"/api/groups/{group}/term")
    body = next_term(shop)
    for key, value in change.items():
        if value is True:
            body[key] = [student.id]
        elif isinstance(value, int):
            body[key] = day(shop, value)
        else:
            body[key] = value
    refused = shop.haldane.fails(422, f"/api/groups/{group}/next-term", body)
    assert refused["errors"][0]["field"] == field
    assert shop.haldane.get(f"/api/groups/{group}/term") == before


def test_who_teaches_by_now_is_not_marked_as_left_by_somebody_else(shop: TestShop) -> None:
    """They learned in this group once: the way around *nobody changes an instructor but themselves* is closed."""
    once = shop.student()
    group = group_of(shop, once)
    body = {"name": once.me["name"], "role": "instructor", "group": None, "active": True, "pin": PINS["haldane"]}
    shop.haldane.put(f"/api/people/{once.id}", body)
    refused = shop.haldane.fails(422, f"/api/groups/{group}/next-term", next_term(shop, leave=[once.id]))
    assert refused["errors"][0]["field"] == "leave.0"
    assert any(p["person"]["id"] == once.id for p in shop.haldane.get(f"/api/people?find={once.login}")["people"])


@pytest.mark.parametrize(("until", "ends"), [(-1, None), (0, 0), (5, 5), (9, 7)])
def test_a_term_ends_on_the_day_that_is_said_if_it_did_not_end_before(
    shop: TestShop, until: int, ends: int | None
) -> None:
    group = group_of(shop)
    row = {"name": f"Term {group[-8:]}", "begins": day(shop, 0), "ends": day(shop, 7)}
    shop.haldane.put(f"/api/groups/{group}", row)
    body = next_term(shop, until=day(shop, until), begins=day(shop, 20))
    if ends is None:
        refused = shop.haldane.fails(422, f"/api/groups/{group}/next-term", body)
        assert refused["errors"][0]["bound"] == "must not be before it begins"
    else:
        shop.haldane.post(f"/api/groups/{group}/next-term", body)
        assert str(shop.unit.run(lambda w: w.db.get(t.Group, uuid.UUID(group)).ends)) == day(shop, ends)


def test_two_instructors_begin_it_at_the_same_moment(shop: TestShop) -> None:
    """The same act sent twice at once, and another one with the same name: one group, one enrolment."""
    student = shop.student()
    group = group_of(shop, student)
    body = next_term(shop, go_on=[student.id])
    path = f"/api/groups/{group}/next-term"
    other = body | {"id": new_id()}
    asked = [body, body, other]
    acts = [lambda b=b: shop.person("haldane").ask("POST", path, b).status_code for b in asked]
    answers = at_once(acts)
    assert sorted(answers) in ([200, 200, 422], [200, 422, 422])
    named = [g for g in shop.haldane.get("/api/people?find=zzz")["groups"] if g["name"] == body["name"]]
    assert len(named) == 1
    shop.clock.ahead += timedelta(days=1)
    assert [str(x.student.id) for x in seen(shop, named[0]["id"]).students] == [student.id]
