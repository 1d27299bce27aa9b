"""A session from opening to its end: roll, starts, an assessor beside, interlock, tags, stop, calls, holds."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta
from typing import Any

import pytest

from incudo.app.session import now
from tests.shop import DUNLIN, FULMAR, PETREL, PINS, POINTS, TUESDAY, Person, TestShop, new_id, shown, sign_off


@pytest.fixture(autouse=True)
def _open_again(shop: TestShop) -> Iterator[None]:
    """What a test has stopped or tagged is cleared, so that the next one starts fresh."""
    yield
    shop.clock.ahead = timedelta()
    tags = shop.haldane.get("/api/tags")
    if tags["stopped"]:
        shop.haldane.post("/api/stops/clear", {"note": "all clear", "pin": PINS["haldane"]})
    for tag in tags["tags"]:
        if tag["machine"]:
            shop.haldane.post(f"/api/tags/{tag['id']}/clear", {"note": "repaired", "pin": PINS["haldane"]})


def learner(shop: TestShop) -> Person:
    """Someone on the roll, at Petrel, who may face alone and square with an assessor."""
    student = shop.ready_student()
    shop.session(student)
    shop.at_machine(student)
    return student


def option(page: Any, operation: str) -> Any:
    return next(o for o in page["options"] if o["operation"] == operation)


def test_alone_beside_an_assessor_or_not_at_all(shop: TestShop) -> None:
    student = learner(shop)
    alone = shop.start(student, "facing")
    assert (alone["answer"], alone["started"]) == ("allowed", True)
    assert shop.interlock()["enable"]
    shop.haldane.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    refused = shop.start(student, "boring")
    assert (refused["answer"], refused["started"], refused["called"]) == ("refused", False, False)
    assert "Spotting and drilling" in " ".join(refused["reasons"])
    asked = shop.start(student, "square-block")
    assert (asked["answer"], asked["started"], asked["called"]) == ("with_assessor", False, True)
    assert "Mara Haldane" in asked["assessors"]
    assert "Wren Dacosta" not in asked["assessors"], "not delegated to them"
    waiting = [x for x in shop.haldane.get("/api/floor")["line"] if x["student"]["id"] == student.id]
    assert [(x["kind"], x["skill"]) for x in waiting] == [("start", "square-block")]
    shop.start(student, "square-block")
    again = [x for x in shop.haldane.get("/api/floor")["line"] if x["student"]["id"] == student.id]
    assert len(again) == 1, "asked twice, called once"
    assert not shop.interlock()["enable"]
    shop.confirm(student, "square-block")
    assert not [x for x in shop.haldane.get("/api/floor")["line"] if x["student"]["id"] == student.id]
    assert shop.start(student, "square-block")["started"]
    run = student.get(f"/api/machines/{PETREL}/start")["run"]
    assert (run["beside"], run["still_may"]) == ("Mara Haldane", True)
    shop.clock.ahead = timedelta(minutes=31)
    over = shop.interlock(spindle=True)
    assert (over["enable"], over["lamp"], over["stop"]) == (False, "alarm", False)
    assert "time with an assessor beside you is over" in over["why"][0]


def test_a_confirmation_is_for_one_student(shop: TestShop) -> None:
    """Who comes to the same machine after them is not beside anybody."""
    first, second = shop.ready_student(), shop.ready_student()
    shop.session(first, second)
    shop.at_machine(first)
    shop.confirm(first, "square-block")
    first.post(f"/api/machines/{PETREL}/steps", {"id": new_id(), "step": "go"})
    shop.at_machine(second)
    asked = shop.start(second, "square-block")
    assert (asked["answer"], asked["started"]) == ("with_assessor", False)


def test_a_start_calls_an_assessor_once_whatever_else_was_called_for(shop: TestShop) -> None:
    student = learner(shop)

    def mine() -> list[Any]:
        return [x for x in shop.haldane.get("/api/floor")["line"] if x["student"]["id"] == student.id]

    def waiting() -> list[tuple[str, str]]:
        return sorted((x["kind"], x["skill"]) for x in mine())

    student.post("/api/calls", {"id": new_id(), "kind": "help"})
    for _ in range(2):
        shop.start(student, "square-block")
    assert waiting() == [("help", ""), ("start", "square-block")]
    options = student.get(f"/api/machines/{PETREL}/start")["options"]
    other = next(o["operation"] for o in options if o["answer"] == "with_assessor" and o["operation"] != "square-block")
    shop.start(student, other)
    assert ("start", other) in waiting()
    call = next(x["call"] for x in mine() if x["skill"] == "square-block")
    student.post(f"/api/calls/{call}/end", {"outcome": "cancelled"})
    assert ("start", "square-block") not in waiting()
    shop.start(student, "square-block")
    assert ("start", "square-block") in waiting(), "what was answered before is no call now"


def test_who_may_stand_beside_whom(shop: TestShop) -> None:
    student = learner(shop)
    body = {"id": new_id(), "student": student.id, "operation": "square-block"}
    path = f"/api/machines/{PETREL}/confirmations"
    assert "instructor only" in shop.dacosta.fails(403, path, body | {"pin": PINS["dacosta"]})["detail"]
    shop.haldane.fails(403, path, body | {"pin": "9999"})
    student.fails(403, path, body | {"pin": "1234"})
    boring = body | {"operation": "boring", "pin": PINS["haldane"]}
    assert "drilling" in shop.haldane.fails(403, path, boring)["detail"], "not even with an assessor"
    away = body | {"pin": PINS["haldane"]}
    shop.haldane.fails(403, f"/api/machines/{FULMAR}/confirmations", away | {"id": new_id()})


@pytest.mark.parametrize(
    ("break_", "words"),
    [
        ("absent", "not on the roll"),
        ("closed", "not opened in this session"),
        ("unsupervised", "Nobody supervises"),
        ("forgotten", "Nobody supervises"),
        ("tagged", "belt slips"),
        ("stopped", "All machines are stopped"),
        ("handles", "not at the handles"),
        ("ended", "No session is open"),
    ],
)
def test_no_start_unless_the_shop_is_as_it_should(
    shop: TestShop, break_: str, words: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    student = learner(shop)
    pin = PINS["haldane"]
    match break_:
        case "absent":
            for nobody in (new_id(), shop.haldane.id):
                other = {"student": nobody, "presence": "here"}
                shop.haldane.fails(404, "/api/session/roll", {"id": new_id(), "marks": [other]})
            marks = [{"student": student.id, "presence": "gone"}]
            shop.haldane.post("/api/session/roll", {"id": new_id(), "marks": marks})
        case "closed":
            shop.haldane.post("/api/session/machines", {"id": new_id(), "machine": PETREL, "open": False})
        case "unsupervised":
            shop.haldane.post("/api/session/supervision", {"id": new_id(), "on": False, "pin": pin})
        case "forgotten":
            monkeypatch.setattr(now, "SUPERVISED", timedelta(hours=2))
            shop.clock.ahead = timedelta(hours=2, minutes=1)
        case "tagged":
            student.post("/api/tags", {"id": new_id(), "machine": PETREL, "note": "belt slips"})
        case "stopped":
            shop.haldane.post("/api/stops", {"id": new_id()})
        case "handles":
            pair = shop.ready_student()
            marks = [{"student": pair.id, "presence": "here"}]
            shop.haldane.post("/api/session/roll", {"id": new_id(), "marks": marks})
            shop.at_machine(pair)
            pair.post(f"/api/machines/{PETREL}/steps", {"id": new_id(), "step": "handles"})
        case "ended":
            shop.close_session()
    answer = shop.start(student, "facing")
    assert (answer["answer"], answer["started"]) == ("refused", False)
    assert words in " ".join(answer["reasons"])
    page = student.get(f"/api/machines/{PETREL}/start")
    assert option(page, "facing")["answer"] == "refused", "the page says the same as the start"


def test_the_points_come_before_the_answer(shop: TestShop) -> None:
    student = learner(shop)
    body = {"id": new_id(), "operation": "facing", "points": ["cutter", "work", "speed"]}
    path = f"/api/machines/{PETREL}/starts"
    assert "Hand on the stop" in student.fails(422, path, body)["detail"]
    student.post(path, body | {"points": POINTS})
    student.post(path, body | {"points": POINTS})
    student.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    page = student.get(f"/api/machines/{PETREL}/start")
    assert page["listed"]
    assert len(page["points"]) == 3
    assert student.post(path, body | {"id": new_id()})["started"], "three points at the next start"


def test_a_withdrawal_alarms_closes_the_next_start_and_stops_no_cut(shop: TestShop) -> None:
    student = learner(shop)
    shop.start(student, "facing")
    assert shop.interlock(spindle=True)["lamp"] == "running"
    shop.withdraw(student, "person")
    told = shop.interlock(spindle=True)
    assert (told["enable"], told["lamp"], told["stop"]) == (False, "alarm", False)
    assert any("withdrawn" in r for r in told["why"])
    plate = next(p for p in shop.haldane.get("/api/floor")["plates"] if p["machine"]["id"] == PETREL)
    assert (plate["alarm"], plate["run"]["still_may"]) == (True, False)
    student.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    assert shop.start(student, "facing")["answer"] == "refused"


def test_a_tag_alarms_and_only_stop_all_stops(shop: TestShop) -> None:
    student = learner(shop)
    shop.start(student, "facing")
    student.post("/api/tags", {"id": new_id(), "machine": PETREL, "note": "guard does not close"})
    tagged = shop.interlock(spindle=True)
    assert (tagged["enable"], tagged["lamp"], tagged["stop"]) == (False, "alarm", False)
    shop.haldane.post("/api/stops", {"id": new_id(), "reason": "somebody fell"})
    for machine in (PETREL, DUNLIN):
        told = shop.interlock(machine, spindle=True)
        assert (told["enable"], told["lamp"], told["stop"]) == (False, "stopped", True)
    shop.dacosta.fails(403, "/api/stops/clear", {"note": "all clear", "pin": PINS["dacosta"]})
    shop.haldane.post("/api/stops/clear", {"note": "all clear", "pin": PINS["haldane"]})
    assert not shop.interlock(DUNLIN)["stop"]
    assert not shop.interlock(DUNLIN)["enable"], "nothing starts by itself"


def test_a_tagged_instrument_decides_nothing(shop: TestShop) -> None:
    student = shop.ready_student()
    tools = {i["id"]: i for i in shop.haldane.get("/api/shop")["instruments"]}
    fine = next(i for i in tools.values() if not i["cannot_decide"] and i["kind"] == "depth micrometer")
    tag = new_id()
    student.post("/api/tags", {"id": tag, "instrument": fine["id"], "note": "ratchet slips"})
    after = {i["id"]: i for i in shop.haldane.get("/api/shop")["instruments"]}[fine["id"]]
    assert "ratchet slips" in after["cannot_decide"]
    shop.haldane.fails(422, "/api/tags", {"id": new_id(), "note": "neither is named"})
    shop.haldane.post(f"/api/tags/{tag}/clear", {"note": "new ratchet", "pin": PINS["haldane"]})
    shop.haldane.post(f"/api/tags/{tag}/clear", {"note": "new ratchet", "pin": PINS["haldane"]})
    shop.haldane.fails(409, f"/api/tags/{tag}/clear", {"note": "again", "pin": PINS["haldane"]})


def test_one_machine_at_a_time_and_no_leaving_while_it_runs(shop: TestShop) -> None:
    student = learner(shop)
    shop.start(student, "facing")
    gone = {"id": new_id(), "step": "go"}
    assert "End the run" in student.fails(409, f"/api/machines/{PETREL}/steps", gone)["detail"]
    come = {"id": new_id(), "step": "come"}
    assert "end that run" in student.fails(409, f"/api/machines/{DUNLIN}/steps", come)["detail"]
    student.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    student.post(f"/api/machines/{DUNLIN}/steps", come)
    assert student.get(f"/api/machines/{PETREL}/start")["people"] == []
    stranger = shop.ready_student()
    assert "roll" in stranger.fails(403, f"/api/machines/{DUNLIN}/steps", come | {"id": new_id()})["detail"]


def test_a_hold_point_holds_until_an_instructor_releases_it(shop: TestShop) -> None:
    student = learner(shop)
    assignment, attempt = shop.assign(student, machine=PETREL)
    for hold in ("first_start", "last_pass"):
        body = {"id": new_id(), "student": student.id, "assignment": assignment, "hold": hold, "on": True}
        shop.haldane.post("/api/hold-points", body)
    refused = shop.start(student, "facing", assignment=assignment)
    assert refused["answer"] == "refused"
    assert "before the first start" in refused["reasons"][0]
    call = {"id": new_id(), "kind": "hold", "assignment": assignment, "what": "first_start"}
    student.post("/api/calls", call)
    path = f"/api/calls/{call['id']}/end"
    assert "instructor" in shop.dacosta.fails(403, path, {"outcome": "done"})["detail"]
    student.fails(403, path, {"outcome": "done"})
    shop.haldane.post(path, {"outcome": "done"})
    assert shop.start(student, "facing", assignment=assignment)["started"]
    for station in ("plan", "set_up", "locate"):
        tick = {"id": new_id(), "station": station, "at": "2026-01-01T00:00:00Z"}
        student.post(f"/api/attempts/{attempt}/stations", tick)
    cut = {"id": new_id(), "station": "cut", "at": "2026-01-01T00:00:00Z"}
    assert "last pass" in student.fails(403, f"/api/attempts/{attempt}/stations", cut)["detail"]

    def last_pass() -> Any:
        return next(h for h in student.get(f"/api/job-cards/{assignment}")["holds"] if h["hold"] == "last_pass")

    for outcome, released in (("refused", False), ("done", True)):
        call = {"id": new_id(), "kind": "hold", "assignment": assignment, "what": "last_pass"}
        student.post("/api/calls", call)
        hold = last_pass()
        assert (hold["called"], hold["released"]) == (call["id"], False)
        shop.haldane.post(f"/api/calls/{call['id']}/end", {"outcome": outcome, "words": "deburr first"})
        hold = last_pass()
        assert (hold["called"], hold["released"]) == (None, released)
        if not released:
            assert "last pass" in student.fails(403, f"/api/attempts/{attempt}/stations", cut)["detail"]
    assert student.post(f"/api/attempts/{attempt}/stations", cut)["now"] == "measure"


def test_calling_to_show_a_skill(shop: TestShop) -> None:
    student = shop.ready_student()
    early = {"id": new_id(), "kind": "show", "what": "edge-finding"}
    assert "knowledge check: Locating the work" in student.fails(403, "/api/calls", early)["detail"]
    ready = {"id": new_id(), "kind": "show", "what": "align-vise"}
    shop.sign(student.id, "measure-indicator", "lift-vise", "wrench")
    assert "Vise rig" in student.fails(403, "/api/calls", ready)["detail"]
    shop.reach(student, "vise", 2, times=3)
    shop.answer_right(student, "vise-taper", times=3)
    student.post("/api/calls", ready)
    student.post("/api/calls", ready | {"id": new_id()})
    student.fails(422, "/api/calls", ready | {"id": new_id(), "machine": PETREL})
    shop.haldane.post("/api/sign-offs", sign_off(student.id, PINS["haldane"], shown("measure-depth")))
    mine = [x for x in shop.haldane.get("/api/floor")["line"] if x["student"]["id"] == student.id]
    assert [(x["kind"], x["detail"]) for x in mine] == [("show", "Aligning a vise")]
    shop.haldane.post("/api/sign-offs", sign_off(student.id, PINS["haldane"], shown("align-vise")))
    mine = [x for x in shop.haldane.get("/api/floor")["line"] if x["student"]["id"] == student.id]
    assert mine == [], "signing answers the call"
    step = {"id": new_id(), "kind": "start", "what": "facing", "machine": PETREL}
    student.fails(422, "/api/calls", step)


def test_a_session_opens_once_and_ends_when_all_is_handed_back(shop: TestShop) -> None:
    student = learner(shop)
    again = {"id": new_id(), "group": TUESDAY, "pin": PINS["haldane"]}
    assert "end it first" in shop.haldane.fails(409, "/api/session", again)["detail"]
    shop.start(student, "facing")
    page = shop.haldane.get("/api/session")["session"]
    end = {"id": page["id"], "pin": PINS["haldane"]}
    assert "still runs" in shop.haldane.fails(422, "/api/session/end", end)["detail"]
    leave = {"id": new_id(), "on": False, "pin": PINS["haldane"]}
    assert "another instructor" in shop.haldane.fails(403, "/api/session/supervision", leave)["detail"]
    student.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    assert "not handed back" in shop.haldane.fails(422, "/api/session/end", end)["detail"]
    duties = shop.haldane.post("/api/session/duties", {})["session"]["duties"]
    assert [d for d in duties if d["what"].startswith("Petrel") and d["person"] == student.me["name"]]
    shop.haldane.post("/api/session/end", end | {"handed_back": [PETREL]})
    assert shop.haldane.post("/api/session/end", end)["session"] is None, "sent twice, ended once"
    plan = next(g for g in shop.haldane.get("/api/session")["groups"] if g["group"]["id"] == TUESDAY)
    assert any("Juno Abara" in s["people"] for s in plan["stock"]), "stock to saw for who has not cut yet"


def test_hours_come_from_the_runs(shop: TestShop) -> None:
    """Hours count as evidence from starts and ends; seen through the store, since no shipped skill asks yet."""
    import uuid

    from incudo.app.skills.records import _hours

    student = learner(shop)
    shop.start(student, "facing")
    shop.clock.ahead = timedelta(minutes=25)
    student.post(f"/api/machines/{PETREL}/ends", {"id": new_id()})
    worked = shop.unit.run(lambda w: _hours(w, [uuid.UUID(student.id)]))[uuid.UUID(student.id)]
    assert [(e.machine, e.minutes) for e in worked] == [(PETREL, 25)]
