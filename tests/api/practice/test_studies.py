"""A repeated-readings study with a class: blind, each in an order of their own, shown at its end, then frozen."""

from __future__ import annotations

import json
from typing import Any

import pytest

from incudo.core.measuring.study import order
from tests.api.parts.test_term import group_of
from tests.at_once import at_once
from tests.shop import CALIPER, M01, TUESDAY, Person, TestShop, new_id

#: Three blanks, 0.4 to 0.6 in.
SIZES = {1: "0.4000", 2: "0.5000", 3: "0.6000"}


def begin(shop: TestShop, *students: Person, **more: Any) -> str:
    """A study with a group of these students."""
    study = new_id()
    body = {
        "id": study,
        "instrument": M01,
        "group": group_of(shop, *students),
        "what": "Three marked blanks",
        "parts": 3,
        "repeats": 2,
    }
    shop.haldane.post("/api/studies", body | {"width": "0.010"} | more)
    return study


def read(who: Person, study: str, turn: int, value: str, **more: Any) -> Any:
    body = {"id": new_id(), "turn": turn, "value": value, "unit": "in", **more}
    return who.post(f"/api/studies/{study}/readings", body)


def read_all(who: Person, study: str, off: int = 0, scatter: int = 0) -> Any:
    """Every turn: the part's size and so many ten-thousandths more, on every second turn so many more still."""
    view = who.get(f"/api/studies/{study}")
    for turn in range(1, 7):
        size = float(SIZES[view["part"]]) + (off + (scatter if turn % 2 else 0)) / 10_000
        view = read(who, study, turn, f"{size:.4f}")
    return view


def test_nobody_sees_a_value_before_the_end_and_everybody_after_it(shop: TestShop) -> None:
    one, two = shop.student(), shop.student()
    study = begin(shop, one, two)
    assert any(s["id"] == study for s in one.get("/api/studies")["studies"])
    view = read_all(one, study)
    assert view["part"] is None
    assert view["people"] == []
    read_all(two, study, off=4)
    staff = shop.haldane.get(f"/api/studies/{study}")
    assert {p["done"] for p in staff["people"]} == {6}
    assert staff["result"] is None
    assert all(p["readings"] == [] and p["bias"] == "" for p in staff["people"])
    # nor in the file of one's own data
    assert "study_reading" not in {x["table"] for x in one.post(f"/api/people/{one.id}/data", {"pin": ""})["tables"]}

    shop.haldane.post(f"/api/studies/{study}/end", None)
    found = one.get(f"/api/studies/{study}")
    biases = {p["person"]["id"]: p["bias"] for p in found["people"]}
    assert biases == {one.id: "-0.00020", two.id: "+0.00020"}
    mine = next(p for p in found["people"] if p["person"]["id"] == one.id)
    assert mine["readings"] == [[SIZES[n]] * 2 for n in (1, 2, 3)], "the order of reading is undone"
    # two people 0.0004 apart, no scatter: their standard deviation is 0.0004/√2
    assert (found["result"]["gauge"], found["result"]["people"]) == ("0.00000", "0.00028")
    assert found["result"]["fit"] == "usable", "six of it are 17 % of 0.010"
    assert found["result"]["share"] == "17"
    assert "study_reading" in {x["table"] for x in one.post(f"/api/people/{one.id}/data", {"pin": ""})["tables"]}


def test_everybody_is_asked_in_an_order_of_their_own_and_cannot_leave_it(shop: TestShop) -> None:
    student = shop.student()
    study = begin(shop, student)
    mine = order(study, student.id, 3, 2)
    assert student.get(f"/api/studies/{study}")["part"] == mine[0]
    assert read(student, study, 1, "0.4")["part"] == mine[1]
    path = f"/api/studies/{study}/readings"
    body = {"id": new_id(), "turn": 3, "value": "0.4", "unit": "in"}
    student.fails(409, path, body)
    student.fails(409, path, body | {"turn": 6})
    assert student.get(f"/api/studies/{study}")["turn"] == 2


def test_the_last_reading_can_be_entered_again_and_the_newest_counts(shop: TestShop) -> None:
    one, two = shop.student(), shop.student()
    study = begin(shop, one, two)
    read_all(one, study)
    read_all(two, study)
    view = read(two, study, 6, "0.9")
    assert view["last"] == "0.9"
    assert view["turn"] == 7
    shop.haldane.post(f"/api/studies/{study}/end", None)
    found = next(p for p in shop.haldane.get(f"/api/studies/{study}")["people"] if p["person"]["id"] == two.id)
    assert sum(part.count("0.9000") for part in found["readings"]) == 1


def test_a_reading_sent_twice_at_once_is_one_and_two_of_one_turn_do_not_skip(shop: TestShop) -> None:
    student = shop.student()
    study = begin(shop, student)
    body = {"id": new_id(), "turn": 1, "value": "0.4", "unit": "in"}
    asked = [body, body, body | {"id": new_id()}]
    path = f"/api/studies/{study}/readings"
    people = [shop.person(student.login) for _ in asked]
    acts = [lambda w=who, b=b: w.ask("POST", path, b).status_code for who, b in zip(people, asked, strict=True)]
    assert at_once(acts) == [200, 200, 200]
    assert people[-1].get(f"/api/studies/{study}")["turn"] == 2


def test_after_the_end_nothing_is_added_and_who_did_not_finish_does_not_count(shop: TestShop) -> None:
    one, late = shop.student(), shop.student()
    study = begin(shop, one, late)
    read_all(one, study)
    read(late, study, 1, "0.4")
    shop.haldane.post(f"/api/studies/{study}/end", None)
    late.fails(409, f"/api/studies/{study}/readings", {"id": new_id(), "turn": 2, "value": "0.4", "unit": "in"})
    found = shop.haldane.get(f"/api/studies/{study}")
    assert found["result"] is None, "one person alone tells nothing"
    again = shop.haldane.post(f"/api/studies/{study}/end", None)
    assert again == found


def test_another_group_does_not_see_it(shop: TestShop) -> None:
    student = shop.student()
    group_of(shop, student)
    study = begin(shop)
    assert student.ask("GET", f"/api/studies/{study}").status_code == 404
    assert study not in json.dumps(student.get("/api/studies"))


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"parts": 2}, "parts"),
        ({"parts": 11}, "parts"),
        ({"repeats": 1}, "repeats"),
        ({"repeats": 4}, "repeats"),
        ({"width": "0"}, "width"),
        ({"width": "wide"}, "width"),
        ({"what": "x"}, "what"),
    ],
)
def test_what_cannot_be_is_said_at_its_field(shop: TestShop, more: dict[str, Any], field: str) -> None:
    body = {"id": new_id(), "instrument": CALIPER, "group": TUESDAY, "what": "Blanks", "parts": 3, "repeats": 2}
    refused = shop.haldane.fails(422, "/api/studies", body | {"width": ""} | more)
    assert [e["field"] for e in refused["errors"]] == [field]


@pytest.mark.parametrize("value", ["", "two", "0,4", "99"])
def test_a_reading_that_cannot_be_is_said_at_its_field(shop: TestShop, value: str) -> None:
    student = shop.student()
    body = {"id": new_id(), "turn": 1, "value": value, "unit": "in"}
    refused = student.fails(422, f"/api/studies/{begin(shop, student)}/readings", body)
    assert [e["field"] for e in refused["errors"]] == ["value"]
