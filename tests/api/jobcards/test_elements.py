"""Requirements that take more than a size: read thing by thing, judged together, checked blind, said at the field."""

from __future__ import annotations

import json
from typing import Any

import pytest

from incudo.demo.story import key
from tests.shop import CALIPER, FOR_TIDE, INDICATOR, TestShop, new_id, reading, stamp

BEVEL, PLUG, OTHER_PLUG, SPECIMENS = (str(key("instrument", k)) for k in ("bevel", "plug38", "plug8", "spec"))
LANTERN, MAST, THOLE = (str(key("version", v)) for v in ("lantern-foot", "mast-step-pad", "thole-block"))
SIGNED = (
    *FOR_TIDE,
    "measure-micrometer", "measure-indicator", "square-block", "mill-slots", "bolt-circle", "hand-tapping",
    "reaming", "side-milling", "countersinking", "edge-finding",
)  # fmt: skip
#: Position of the foot hole: where it should be, along both, and its diameter.
POSITION = 9
LANTERN_SIZES = (
    (1, "2.501"), (2, "2.501"), (3, "0.501"), (4, "1.250"), (5, "1.250"), (6, "1.750"), (6, "1.751"),
    *((7, "0.204"),) * 4, (8, "0.2040"),
)  # fmt: skip


def at_work(shop: TestShop, version: str) -> tuple[Any, str, str]:
    student = shop.student(*SIGNED)
    assignment, attempt = shop.assign(student, version)
    return student, assignment, attempt


def found(person: Any, assignment: str, number: int) -> Any:
    card = person.get(f"/api/job-cards/{assignment}")
    return next(c for c in card["characteristics"] if c["number"] == number)


def test_a_position_is_judged_from_its_readings_together(shop: TestShop) -> None:
    student, assignment, attempt = at_work(shop, LANTERN)
    c = found(student, assignment, POSITION)
    assert [e["key"] for e in c["elements"]] == ["x", "y", "size"]
    one = student.read(attempt, POSITION, "1.8717", CALIPER, element="x")
    assert one["reading"]["verdict"] == "not_measured"
    assert "0.003" in one["reading"]["against"]
    assert one["finding"]["verdict"] == "not_measured"
    student.read(attempt, POSITION, "1.8687", CALIPER, element="y")
    last = student.read(attempt, POSITION, "0.2040", CALIPER, element="size")
    # 2 · 0.003 of 0.014 + 0.003, sure to √(4 · 2 + 1) · 0.0015
    assert last["finding"]["verdict"] == "in"
    assert last["finding"]["value"]["inch"].startswith("0.006")
    assert last["finding"]["upper"]["inch"] == "0.017"
    assert found(student, assignment, POSITION)["wants"] is False


def test_a_reading_takes_the_place_of_one_of_the_same_thing_only(shop: TestShop) -> None:
    student, _, attempt = at_work(shop, LANTERN)
    first = student.read(attempt, POSITION, "1.9687", CALIPER, element="x")["reading"]["id"]
    body = reading(POSITION, "1.8687", CALIPER, element="y", supersedes=first)
    refused = student.fails(422, f"/api/attempts/{attempt}/readings", body)
    assert refused["errors"][0]["field"] == "supersedes"
    student.read(attempt, POSITION, "1.8687", CALIPER, element="x", supersedes=first)


def test_the_same_entry_twice_with_another_thing_is_a_conflict(shop: TestShop) -> None:
    student, _, attempt = at_work(shop, LANTERN)
    body = reading(POSITION, "1.8687", CALIPER, element="x")
    student.post(f"/api/attempts/{attempt}/readings", body)
    student.post(f"/api/attempts/{attempt}/readings", body)
    student.fails(409, f"/api/attempts/{attempt}/readings", {**body, "element": "y"})


def test_a_thread_by_both_ends_of_its_gauge(shop: TestShop) -> None:
    student, assignment, attempt = at_work(shop, MAST)
    c = found(student, assignment, 11)
    assert c["callout"] == "3/8-16 2B"
    assert [e["offers"] for e in c["elements"]] == [PLUG, PLUG]
    fits = {f["instrument"]: f["suitability"] for f in c["elements"][0]["fits"]}
    assert (fits[PLUG], fits[OTHER_PLUG], fits[CALIPER]) == ("ideal", "unfit", "unfit")
    go = student.read(attempt, 11, "yes", PLUG, unit="", element="go")
    assert (go["reading"]["verdict"], go["reading"]["said"], go["reading"]["value"]) == ("in", "It enters", None)
    assert go["finding"]["verdict"] == "not_measured"
    no_go = student.read(attempt, 11, "no", PLUG, unit="", element="no_go")
    assert no_go["finding"]["verdict"] == "in"
    worse = student.read(attempt, 11, "yes", PLUG, unit="", element="no_go")
    assert worse["finding"]["verdict"] == "out_metal_gone"


def test_an_angle_in_degrees_and_a_surface_beside_specimens(shop: TestShop) -> None:
    student, assignment, attempt = at_work(shop, THOLE)
    c = found(student, assignment, 10)
    assert (c["nominal"]["given"], c["lower"]["mm"], c["upper"]["inch"]) == ("deg", "29.5", "30.5")
    read = student.read(attempt, 10, "30.3", BEVEL, unit="deg")
    assert (read["finding"]["verdict"], read["reading"]["value"]["inch"]) == ("in", "30.3")
    assert student.read(attempt, 11, "no", SPECIMENS, unit="", element="look")["finding"]["verdict"] == "out"
    assert student.read(attempt, 11, "no", SPECIMENS, unit="", element="look")["reading"]["bar"] is None


@pytest.mark.parametrize(
    ("version", "body", "field"),
    [
        (LANTERN, reading(POSITION, "1.8687", CALIPER), "element"),
        (LANTERN, reading(POSITION, "1.8687", CALIPER, element="z"), "element"),
        (LANTERN, reading(POSITION, "yes", CALIPER, element="x"), "value"),
        (LANTERN, reading(1, "2.5", CALIPER, element="x"), "element"),
        (LANTERN, reading(1, "2.5", BEVEL), "instrument"),
        (MAST, reading(11, "0.375", PLUG, element="go"), "value"),
        (MAST, reading(11, "yes", CALIPER, element="go"), "instrument"),
        (THOLE, reading(10, "30", CALIPER), "instrument"),
        (THOLE, reading(10, "180.1", BEVEL, unit="deg"), "value"),
        (THOLE, reading(10, "-1", BEVEL, unit="deg"), "value"),
        (THOLE, reading(11, "maybe", SPECIMENS, element="look"), "value"),
        (THOLE, reading(1, "92", CALIPER, unit="deg"), "value.unit"),
    ],
)
def test_what_cannot_be_read_is_said_at_its_field(
    shop: TestShop, version: str, body: dict[str, Any], field: str
) -> None:
    student, _, attempt = at_work(shop, version)
    refused = student.fails(422, f"/api/attempts/{attempt}/readings", {**body, "id": new_id()})
    assert refused["errors"][0]["field"] == field


def test_the_check_is_blind_and_a_begun_one_decides_nothing(shop: TestShop) -> None:
    """Two who are equally far off on opposite sides do not agree; half a check leaves the student's finding."""
    student, assignment, attempt = at_work(shop, LANTERN)
    student.read(attempt, POSITION, "1.87173", CALIPER, element="x")
    for number, value in LANTERN_SIZES:
        student.read(attempt, number, value, CALIPER)
    refused = student.fails(422, f"/api/attempts/{attempt}/hand-ins", {"id": new_id(), "at": stamp()})
    assert [e["field"] for e in refused["errors"]] == [f"characteristics.{POSITION}"], "half of it is not measured"
    for element, value in (("y", "1.8687"), ("size", "0.2040")):
        student.read(attempt, POSITION, value, CALIPER, element=element)
    hand_in = student.hand_in(attempt)
    assert "1.87173" not in json.dumps(shop.haldane.get(f"/api/job-cards/{assignment}"))
    shop.haldane.check(attempt, POSITION, "1.8657", CALIPER, element="x")
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})

    def row() -> Any:
        rows = shop.haldane.get(f"/api/hand-ins/{hand_in}")["rows"]
        return next(r for r in rows if r["number"] == POSITION)

    assert (row()["of_record"], row()["agrees"]) == ("in", False)
    for element, value in (("y", "1.8817"), ("size", "0.2040")):
        shop.haldane.check(attempt, POSITION, value, CALIPER, element=element)
    assert (row()["of_record"], row()["agrees"]) == ("out", False)
    register = shop.thorley.ask("GET", "/api/registers/readings/file").get_data(as_text=True)
    assert "x 1.87173 in" in register


def test_a_movement_over_four_places(shop: TestShop) -> None:
    student = shop.student(*SIGNED, "boring", "clamp-table")
    _, attempt = shop.assign(student, str(key("version", "sheave-housing")))
    # in inches, set to zero at the first corner: it reads to either side
    for value in ("0.0000", "0.0003", "-0.0002"):
        begun = student.read(attempt, 12, value, INDICATOR)["finding"]
        assert begun["verdict"] == "not_measured"
    found = student.read(attempt, 12, "0.0001", INDICATOR)["finding"]
    assert (found["verdict"], found["value"]["inch"][:6]) == ("in", "0.0005")
    for value in ("-0.0301", "0.0301"):
        refused = student.fails(422, f"/api/attempts/{attempt}/readings", reading(12, value, INDICATOR))
        assert refused["errors"][0]["field"] == "value"
    # a movement as it is read over the whole face is a size, and never negative
    refused = student.fails(422, f"/api/attempts/{attempt}/readings", reading(10, "-0.0010", INDICATOR))
    assert refused["errors"][0]["field"] == "value"
