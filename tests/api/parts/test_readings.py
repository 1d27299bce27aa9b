"""Readings: judged at once, refused with field and bound, never changed, sent twice saved once."""

from __future__ import annotations

from typing import Any

import pytest

from tests.shop import (
    CALIPER,
    DROPPED,
    GOOD_BLOCK,
    INDICATOR,
    M01,
    METRIC,
    OVERDUE,
    PETREL,
    PINS,
    TestShop,
    new_id,
    reading,
    stamp,
)


@pytest.fixture(scope="module")
def at_work(whole_shop: TestShop) -> tuple[Any, str]:
    student = whole_shop.ready_student()
    return student, whole_shop.assign(student)[1]


@pytest.mark.parametrize(
    ("change", "field", "bound"),
    [
        ({"value": "abc"}, "value", "plain number"),
        ({"value": "1e999"}, "value", "plain number"),
        ({"value": ""}, "value", "must not be empty"),
        ({"value": "   "}, "value", "plain number"),
        ({"value": "-0.5"}, "value", "must be above 0"),
        ({"value": "0"}, "value", "must be above 0"),
        ({"value": "30.000001"}, "value", "under 30 times the drawing's 1.000 in"),
        ({"value": "30"}, "value", "what Micrometer 0–1 in no. 3 can show"),
        ({"value": "400"}, "value", "between -393.7 and 393.7 in"),
        ({"value": "1,5"}, "value", "decimal point"),
        ({"value": "0.12345678"}, "value", "at most 6 decimal places"),
        ({"value": "9" * 50_000}, "value", "at most 40 characters"),
        ({"value": 0.9981}, "value", "must be text"),
        ({"value": None}, "value", "must be text"),
        ({"unit": "furlong"}, "value.unit", "one of: in, mm"),
        ({"unit": ""}, "value.unit", "one of: in, mm"),
        ({"unit": "i" * 50_000}, "unit", "at most 10 characters"),
        ({"characteristic": 9}, "characteristic", "must be one of: 1, 2, 3, 4, 5"),
        ({"characteristic": 0}, "characteristic", "at least 1"),
        ({"characteristic": -1}, "characteristic", "at least 1"),
        ({"characteristic": 1e999}, "characteristic", ""),
        ({"characteristic": "three"}, "characteristic", "whole number"),
        ({"instrument": "caliper"}, "instrument", "must be an id"),
        ({"id": "1"}, "id", "must be an id"),
        ({"supersedes": "x"}, "supersedes", "must be an id"),
        ({"supersedes": "00000000-0000-4000-8000-000000000000"}, "supersedes", "your own reading"),
        ({"why": "x" * 201}, "why", "at most 200 characters"),
        ({"measured_at": "yesterday"}, "measured_at", ""),
        ({"measured_at": "2026-11-24T10:00:00"}, "measured_at", "with its zone"),
        ({"surprise": 1}, "surprise", "not a known field"),
    ],
)
def test_each_field_says_what_is_wrong(
    shop: TestShop, at_work: tuple[Any, str], change: dict[str, Any], field: str, bound: str
) -> None:
    student, attempt = at_work
    problem = student.fails(422, f"/api/attempts/{attempt}/readings", reading(3, "0.9981", M01) | change)
    found = [e for e in problem["errors"] if e["field"] == field]
    assert found, problem
    assert bound in found[0]["bound"]
    assert len(str(problem)) < 3000, "a long input is not sent back"


@pytest.mark.parametrize("text", ["", "{", "[]", "null", '"x"', "\x00", "{" * 60_000])
def test_a_body_that_is_no_reading(shop: TestShop, at_work: tuple[Any, str], text: str) -> None:
    student, attempt = at_work
    answer = student.client.post(
        f"/api/attempts/{attempt}/readings",
        data=text,
        content_type="application/json",
        headers={"X-Incudo-Token": student.me["token"]},
    )
    assert answer.status_code == 422
    assert answer.get_json(force=True)["errors"], "it says where"


def test_a_body_beyond_all_measure(shop: TestShop, at_work: tuple[Any, str]) -> None:
    student, attempt = at_work
    problem = student.fails(413, f"/api/attempts/{attempt}/readings", {"value": "9" * 9_000_000})
    assert problem["errors"][0]["field"] == "body"
    assert "65536 bytes" in problem["errors"][0]["bound"]


def test_unknown_things_are_not_found(shop: TestShop, at_work: tuple[Any, str]) -> None:
    student, attempt = at_work
    student.fails(404, f"/api/attempts/{attempt}/readings", reading(3, "0.9981", new_id()))
    student.fails(404, f"/api/attempts/{new_id()}/readings", reading(3, "0.9981", M01))
    assert student.ask("POST", "/api/attempts/seven/readings", reading(3, "1", M01)).status_code in (404, 405)


def test_a_reading_is_judged_at_once_with_its_working(shop: TestShop) -> None:
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    saved = student.read(attempt, 3, "1.0025", M01)
    assert saved["reading"]["verdict"] == "out_metal_left"
    assert saved["reading"]["against"] == "0.0025 in above the top limit 1.000"
    assert saved["reading"]["bar"]["off"] == "0.0025 in"
    assert saved["finding"]["ask_again"] == "one more reading wanted"
    assert saved["finding"]["working"][-1]["result"] == "out, metal left"
    gone = student.read(attempt, 3, "0.9950", M01)
    assert gone["reading"]["verdict"] == "out_metal_gone"
    assert "differ by 0.0075 in" in gone["finding"]["ask_again"]
    close = student.read(attempt, 1, "2.4951", CALIPER)
    assert close["reading"]["verdict"] == "too_close"


def test_millimetres_against_an_inch_drawing(shop: TestShop) -> None:
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    saved = student.read(attempt, 1, "63.5", METRIC, unit="mm")
    assert saved["reading"]["value"] == {"given": "mm", "mm": "63.5", "inch": "2.500"}
    assert saved["reading"]["verdict"] == "in"


def test_the_same_reading_sent_again_is_saved_once(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    body, path = reading(3, "0.9981", M01), f"/api/attempts/{attempt}/readings"
    first = student.post(path, body)
    assert student.post(path, body) == first
    problem = student.fails(409, path, body | {"value": "0.9982"})
    assert "used before" in problem["detail"]
    card = student.get(f"/api/job-cards/{assignment}")
    assert len(card["characteristics"][2]["readings"]) == 1


def test_a_mistaken_reading_is_superseded_not_erased(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    wrong = student.read(attempt, 3, "0.8981", M01)["reading"]["id"]
    right = student.read(attempt, 3, "0.9981", M01, supersedes=wrong, why="misread a mark")
    assert right["finding"]["verdict"] == "in"
    shown = student.get(f"/api/job-cards/{assignment}")["characteristics"][2]["readings"]
    assert [(r["value"]["inch"], r["superseded"]) for r in shown] == [("0.8981", True), ("0.9981", False)]
    path = f"/api/attempts/{attempt}/readings"
    student.fails(409, path, reading(3, "0.9980", M01, supersedes=wrong))
    student.fails(422, path, reading(2, "1.5000", M01, supersedes=right["reading"]["id"]))


@pytest.mark.parametrize(("tool", "words"), [(OVERDUE, "overdue"), (DROPPED, "tagged out: dropped")])
def test_a_doubtful_instrument_decides_nothing(shop: TestShop, tool: str, words: str) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    saved = student.read(attempt, 3, "0.9981", tool)
    assert saved["reading"]["verdict"] == "not_measured"
    assert words in saved["reading"]["undecided"]
    assert saved["finding"]["verdict"] == "not_measured", "kept, but it does not decide"
    card = student.get(f"/api/job-cards/{assignment}")
    assert len(card["characteristics"][2]["readings"]) == 1


def test_handing_in_needs_every_characteristic_and_happens_once(shop: TestShop) -> None:
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    for number, value, tool in GOOD_BLOCK[:-1]:
        student.read(attempt, number, value, tool)
    body = {"id": new_id(), "at": stamp()}
    path = f"/api/attempts/{attempt}/hand-ins"
    problem = student.fails(422, path, body)
    assert [e["field"] for e in problem["errors"]] == ["characteristics.5"]
    student.read(attempt, 5, "0.0010", INDICATOR)
    card = student.post(path, body)
    assert card["handed_in_at"]
    assert card["now"] == "sign"
    assert student.post(path, body)["handed_in_at"] == card["handed_in_at"]
    assert "already" in student.fails(409, path, {"id": new_id(), "at": stamp()})["detail"]
    late = student.read(attempt, 3, "0.9999", M01)
    assert late["reading"]["late"], "kept, marked"
    assert late["finding"]["value"]["inch"] == "0.99815", "and not counted"


def test_work_is_closed_while_a_needed_skill_is_missing(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student, machine=PETREL)
    kept = reading(3, "0.9981", M01)
    student.post(f"/api/attempts/{attempt}/readings", kept)
    withdrawal = {
        "id": new_id(),
        "student": student.id,
        "skill": "measure-caliper",
        "reason": "measured on the turning spindle",
        "pin": PINS["haldane"],
    }
    shop.haldane.post("/api/withdrawals", withdrawal)
    problem = student.fails(403, f"/api/attempts/{attempt}/readings", reading(3, "0.9981", M01))
    assert "Measuring with a caliper: withdrawn on" in problem["detail"]
    assert "turning spindle" in problem["detail"]
    student.fails(403, f"/api/attempts/{attempt}/hand-ins", {"id": new_id(), "at": stamp()})
    tick = {"id": new_id(), "station": "plan", "at": stamp()}
    student.fails(403, f"/api/attempts/{attempt}/stations", tick)
    card = student.get(f"/api/job-cards/{assignment}")
    assert card["now"] == "ready"
    assert [m["skill"] for m in card["missing"]] == ["measure-caliper"]
    student.post(f"/api/attempts/{attempt}/readings", kept)
    shop.sign(student.id, "measure-caliper")
    student.read(attempt, 3, "0.9980", M01)


def test_stations_are_ticked_in_order(shop: TestShop) -> None:
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    path = f"/api/attempts/{attempt}/stations"
    student.fails(409, path, {"id": new_id(), "station": "cut", "at": stamp()})
    student.fails(409, path, {"id": new_id(), "station": "sign", "at": stamp()})
    student.fails(422, path, {"id": new_id(), "station": "lunch", "at": stamp()})
    first = {"id": new_id(), "station": "plan", "at": stamp()}
    assert student.post(path, first)["now"] == "set_up"
    assert student.post(path, first)["now"] == "set_up", "sent twice, ticked once"
    student.fails(409, path, {"id": new_id(), "station": "plan", "at": stamp()})


def test_the_school_of_the_shop_decides_and_old_verdicts_stay(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    assert student.read(attempt, 3, "1.0000", M01)["reading"]["verdict"] == "too_close"
    put = shop.haldane.ask("PUT", "/api/shop", {"school": "bare_limits"})
    assert put.status_code == 200
    try:
        on_the_limit = student.read(attempt, 3, "1.0000", M01)
        assert on_the_limit["reading"]["verdict"] == "in"
        shown = student.get(f"/api/job-cards/{assignment}")["characteristics"][2]
        assert [r["verdict"] for r in shown["readings"]] == ["too_close", "in"]
        assert shown["finding"]["verdict"] == "in"
    finally:
        shop.haldane.ask("PUT", "/api/shop", {"school": "guard_band"})
    shop.haldane.fails(422, "/api/shop", {"school": "generous"}, "PUT")
