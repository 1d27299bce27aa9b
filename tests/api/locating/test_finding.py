"""Finding over the real operations: moves, backlash, edges and centres, the datum record and what follows."""

from __future__ import annotations

from typing import Any

import pytest

from incudo.demo.story import key
from tests.shop import DUNLIN, FULMAR, GANNET, GAUGE_V1, HOLD_SO, PETREL, Person, TestShop, new_id

FAIRLEAD_V1, PIN_V1 = (str(key("version", name)) for name in ("fairlead-plate", "shackle-pin"))

EDGE = {"kind": "edge", "handle": 0, "scale": "dial", "face": "left", "finder": "kick-in"}


def card_of(shop: TestShop, student: Person, machine: str | None = PETREL, version: str = GAUGE_V1) -> str:
    return shop.assign(student, version, machine=machine, not_before_signed=True)[0]


def check(who: Person, card: str, find: dict[str, Any]) -> Any:
    return who.post(f"/api/job-cards/{card}/datums/check", {"find": find})


def keep(who: Person, card: str, find: dict[str, Any]) -> Any:
    return who.post(f"/api/job-cards/{card}/datums", {"id": new_id(), "find": find})


def readings(page: Any, axis: str) -> dict[str, str]:
    plan = next(a for a in page["plan"] if a["axis"] == axis)
    return {x["name"]: x["move"]["reading"] for x in plan["lines"]}


# ── moves ─────────────────────────────────────────────────────────────────


def test_a_move_says_turns_divisions_and_the_dial(shop: TestShop) -> None:
    student = shop.ready_student()
    q = {"handle": 2, "unit": "in", "places": ["1.3435", "-0.4"]}
    answer = student.post(f"/api/machines/{PETREL}/moves", q)
    past, far = answer["lines"]
    assert [(g["turning"], g["turns"], g["divisions"]) for g in past["legs"]] == [
        ("clockwise", 3, "16"),
        ("anticlockwise", 1, "16"),
    ]
    assert past["reading"] == "0.000 in"
    assert far["legs"][0]["turns"] == 8
    assert far["reading"] == "0.0565 in"
    metric = student.post(f"/api/machines/{PETREL}/moves", {"handle": 2, "unit": "mm", "places": ["12.4"]})
    # 12.4 mm are 0.48819 in; the nearest half division of 0.001 in is 0.4880
    assert "0.00019 in off" in metric["lines"][0]["rounding"]
    student.fails(422, f"/api/machines/{PETREL}/moves", q | {"handle": 9})
    wrong = student.fails(422, f"/api/machines/{PETREL}/moves", q | {"dial": "0.2"})
    assert "one turn" in str(wrong)


def test_measured_backlash_is_what_moves_reckon_with(shop: TestShop) -> None:
    student, other = shop.ready_student(), shop.ready_student()
    page = student.get(f"/api/machines/{DUNLIN}/moves")
    assert page["handles"][0]["lost"] == "0.15 mm"
    body = {"id": new_id(), "handle": 0, "numbers": "rise", "middle": ["0.60", "0.60"], "end": ["0.40"]}
    page = student.post(f"/api/machines/{DUNLIN}/backlash", body)
    assert page["handles"][0]["lost"] == "0.15 mm", "one student's measurement is a proposal"
    assert not page["history"][-1]["confirmed"]
    again = body | {"id": new_id()}
    assert student.post(f"/api/machines/{DUNLIN}/backlash", again)["handles"][0]["lost"] == "0.15 mm"
    page = other.post(f"/api/machines/{DUNLIN}/backlash", body | {"id": new_id()})
    assert page["history"][-1]["confirmed"]
    assert page["handles"][0]["lost"] == "0.60 mm", "another person found the same"
    assert "worn by 0.20 mm" in page["history"][-1]["words"]
    assert len(student.post(f"/api/machines/{DUNLIN}/backlash", body)["history"]) == len(page["history"])
    q = {"handle": 0, "unit": "mm", "places": ["-10"]}
    back = student.post(f"/api/machines/{DUNLIN}/moves", q)["lines"][0]["legs"][-1]
    assert (back["turns"], back["divisions"], back["takes_up"]) == (1, "12", True)
    student.fails(422, f"/api/machines/{DUNLIN}/backlash", body | {"id": new_id(), "middle": ["0.6"]})
    student.fails(422, f"/api/machines/{DUNLIN}/backlash", body | {"id": new_id(), "middle": ["0.6", "0.9"]})
    shop.thorley.fails(403, f"/api/machines/{DUNLIN}/backlash", body | {"id": new_id()})


# ── the datum record ──────────────────────────────────────────────────────


def test_later_dial_readings_follow_the_datum(shop: TestShop) -> None:
    student = shop.ready_student()
    card = card_of(shop, student)
    page = student.get(f"/api/job-cards/{card}/datums")
    assert (page["datums"], page["plan"], page["missing"]) == ([], [], ["x", "y", "z"])
    page = keep(student, card, EDGE | {"touches": ["0.0380", "0.0380"]})
    assert page["datums"][0]["words"] == "over X 0.000 in the dial shows 0.138 in"
    assert page["datums"][0]["stands"]
    # the shoulder at 1.100 with a half-inch cutter: centre at 1.350, numbers falling: 0.138 - 1.350 = -1.212 + 7 turns
    assert readings(page, "x") == {"first step, left wall": "0.188 in", "second step, left wall": "0.088 in"}
    wider = student.get(f"/api/job-cards/{card}/datums?cutter=0.750")
    assert readings(wider, "x")["first step, left wall"] == "0.063 in"
    again = keep(student, card, EDGE | {"touches": ["0.0510", "0.0510"]})
    assert readings(again, "x")["first step, left wall"] != readings(page, "x")["first step, left wall"]
    assert readings(again, "x")["first step, left wall"] == "0.001 in"
    zero = {"id": new_id(), "find": EDGE | {"touches": ["0.0380", "0.0380"]}, "zeroed": True}
    zeroed = student.post(f"/api/job-cards/{card}/datums", zero)
    assert zeroed["datums"][0]["words"] == "over X 0.000 in the dial shows 0.000 in"
    # set to 0 over the edge, the numbers fall to the right: 1.350 in are six turns and 150 divisions
    assert readings(zeroed, "x")["first step, left wall"] == "0.050 in"
    assert [d["axis"] for d in student.get(f"/api/job-cards/{card}")["datums"]] == ["x"]
    assert len(again["history"]) == 2
    assert len(zeroed["history"]) == 3


def test_a_datum_falls_when_the_vise_moves_or_the_work_is_held_anew(shop: TestShop) -> None:
    student = shop.ready_student()
    card = card_of(shop, student, FULMAR)
    keep(student, card, EDGE | {"touches": ["0.0380", "0.0380"]})
    note = {"id": new_id(), "kind": "vise", "words": "bumped with the bar"}
    student.post(f"/api/machines/{FULMAR}/notes", note)
    (datum,) = student.get(f"/api/job-cards/{card}")["datums"]
    assert (datum["stands"], datum["reason"]) == (False, "the vise was moved since: bumped with the bar")
    keep(student, card, EDGE | {"touches": ["0.0380", "0.0380"]})
    assert student.get(f"/api/job-cards/{card}")["datums"][0]["stands"]
    student.post(f"/api/job-cards/{card}/holding", HOLD_SO | {"id": new_id()})
    assert student.get(f"/api/job-cards/{card}")["datums"][0]["reason"] == "the work was clamped again since"


@pytest.mark.parametrize(
    ("find", "words"),
    [
        (EDGE | {"touches": ["0.0380"]}, "One touch checks nothing"),
        (EDGE | {"touches": ["0.0380", "0.0620"]}, "just this axis' backlash"),
        (EDGE | {"touches": ["0.0380", "0.0450"]}, "The touches differ"),
    ],
)
def test_what_does_not_hold_is_said_and_not_kept(shop: TestShop, find: dict[str, Any], words: str) -> None:
    student = shop.ready_student()
    card = card_of(shop, student)
    answer = check(student, card, find)
    assert not answer["good"]
    assert words in " ".join([*answer["wrong"], *answer["next"]])
    refused = student.fails(403, f"/api/job-cards/{card}/datums", {"id": new_id(), "find": find})
    assert words in str(refused)
    assert student.get(f"/api/job-cards/{card}/datums")["history"] == []


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"scale": "readout"}, "has no readout"),
        ({"face": "front"}, "must move y"),
        ({"handle": 8}, "handle"),
        ({"finder": "candle"}, "finder"),
        ({"touches": ["0.038", "0,038"]}, "decimal point"),
        ({"touches": ["0.038", "0.3"]}, "one turn"),
    ],
)
def test_bad_finds_name_the_field(shop: TestShop, change: dict[str, Any], words: str) -> None:
    student = shop.ready_student()
    card = card_of(shop, student)
    body = {"find": EDGE | {"touches": ["0.0380", "0.0380"]} | change}
    assert words in str(student.fails(422, f"/api/job-cards/{card}/datums/check", body))


def test_a_readout_gives_coordinates_and_a_bore_gives_both_axes(shop: TestShop) -> None:
    student = shop.ready_student()
    card = card_of(shop, student, GANNET, FAIRLEAD_V1)
    sweep = {
        "kind": "round",
        "x_handle": 0,
        "y_handle": 1,
        "scale": "readout",
        "feature": "rear hole",
        "unit": "mm",
        "division": "0.01",
        "here_x": "100",
        "here_y": "40",
    }
    far = check(student, card, sweep | {"east": "0.30", "north": "0", "west": "0", "south": "0.10"})
    assert not far["good"]
    assert far["off"] == [0.15, -0.05]
    assert "to 99.85 mm" in " ".join(far["next"])
    near = sweep | {"east": "0.005", "north": "0", "west": "0", "south": "0"}
    page = keep(student, card, near)
    assert [(d["axis"], d["stands"]) for d in page["datums"]] == [("x", True), ("y", True)]
    lines = {x["name"]: x["move"]["coordinate"] for x in page["plan"][0]["lines"]}
    assert lines["rear hole"] == "100.00 mm"
    assert lines["front hole"] == "146.00 mm"
    student.fails(422, f"/api/job-cards/{card}/datums/check", {"find": near | {"feature": "no hole"}})
    student.fails(422, f"/api/job-cards/{card}/datums/check", {"find": near | {"division": "0"}})


def test_a_readout_s_coordinates_are_in_its_own_unit(shop: TestShop) -> None:
    """A drawing in inches at a machine whose readout shows millimetres."""
    student = shop.ready_student()
    card = card_of(shop, student, GANNET)
    page = keep(student, card, EDGE | {"scale": "readout", "touches": ["30.00", "30.00"]})
    assert page["datums"][0]["words"] == "over X 0.000 in the readout shows 32.54 mm"
    # 1.350 in are 34.29 mm
    assert page["plan"][0]["lines"][0]["move"]["coordinate"] == "66.83 mm"


def test_a_bar_by_both_flanks_by_a_spot_and_its_top(shop: TestShop) -> None:
    student = shop.ready_student()
    card = card_of(shop, student, GANNET, PIN_V1)
    flanks = {
        "kind": "middle",
        "handle": 1,
        "scale": "readout",
        "finder": "light-mm",
        "low": "20",
        "high": "46",
        "width": "16",
        "unsure": "0.02",
        "above": "3",
    }
    hits = check(student, card, flanks)
    assert (hits["clearance"]["clear"], hits["good"]) == (False, False)
    assert "meets the bar" in hits["wrong"][0]
    page = keep(student, card, flanks | {"above": "12"})
    assert page["datums"][0]["words"] == "over Y 0.00 mm the readout shows 33.00 mm"
    spot = {"kind": "flat", "handle": 1, "scale": "readout", "here": "33.4", "mill": "4", "depth": "1"}
    page = keep(student, card, spot | {"near": "6.4", "far": "5.6"})
    assert page["datums"][0]["words"].endswith("33.00 mm")
    top = {"kind": "depth", "handle": 2, "scale": "dial", "how": "paper", "thickness": "0.08", "reading": "0.50"}
    page = keep(student, card, top)
    assert page["datums"][1]["words"] == "over Z 8.00 mm the dial shows 0.58 mm"
    block = card_of(shop, student, GANNET)
    student.fails(422, f"/api/job-cards/{block}/datums/check", {"find": spot | {"near": "1", "far": "1"}})


def test_others_cards_and_cards_without_a_machine(shop: TestShop) -> None:
    student = shop.ready_student()
    card = card_of(shop, student)
    shop.ready_student().fails(404, f"/api/job-cards/{card}/datums", None, "GET")
    find = {"id": new_id(), "find": EDGE | {"touches": ["0.0380", "0.0380"]}}
    shop.thorley.fails(403, f"/api/job-cards/{card}/datums", find)
    bare = card_of(shop, student, None)
    assert "no machine yet" in str(student.fails(422, f"/api/job-cards/{bare}/datums", None, "GET"))
    student.fails(422, f"/api/job-cards/{card}/datums?cutter=0", None, "GET")


# ── the reckoner ──────────────────────────────────────────────────────────


def test_a_calculation_is_listed_worked_out_and_refused_by_field(shop: TestShop) -> None:
    student = shop.ready_student()
    listed = student.get("/api/reckonings")
    speed = next(c for c in listed["calculations"] if c["id"] == "spindle-speed")
    assert [i["name"] for i in speed["inputs"]] == ["surface", "diameter", "steps", "ranges", "school"]
    steps = student.get(f"/api/reckoning-fills?machine={PETREL}")["values"]["machine.steps"]["value"]
    given = {
        "surface": {"value": "90", "unit": "ft/min"},
        "diameter": {"value": "0.625", "unit": "in"},
        "steps": {"value": steps},
        "school": {"value": "below"},
    }
    answer = student.post("/api/reckonings/spindle-speed", {"given": given})
    shown = {r["name"]: r["values"][0]["value"] for r in answer["results"]}
    assert (shown["speed"], shown["step"]) == ("550", "370")
    assert answer["working"]
    assert {s["ink"] for s in answer["picture"]["shapes"]} >= {"work", "cutter", "answer"}
    assert answer["plot"]["shapes"]
    free = student.post("/api/reckonings/spindle-speed", {"given": given | {"steps": {"value": ""}}})
    shares = {x["name"]: x["share"] for x in free["levers"]}
    assert shares["surface"] == pytest.approx(0.1)
    assert shares["diameter"] == pytest.approx(-1 / 11)
    wrong = student.fails(422, "/api/reckonings/spindle-speed", {"given": given | {"diameter": {"value": "0"}}})
    assert wrong["errors"][0]["field"] == "diameter"
    assert "more than 0" in wrong["errors"][0]["bound"]
    assert "there are: spindle-speed" in student.fails(404, "/api/reckonings/guess", {"given": {}})["detail"]
