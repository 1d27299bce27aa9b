"""Machines, gauges and workholding leave the shop and come back; what is recorded on them stays."""

from __future__ import annotations

import uuid
from typing import Any

import pytest

from incudo import shipped
from incudo.app.kernel.unit import Who
from incudo.app.session.sessions import MachineOpenCommand, open_machine
from incudo.app.shop.crib import IssueCommand, issue
from incudo.app.shop.gone import GoneCommand, Thing, gone_change
from incudo.core.kernel.errors import Conflict
from incudo.core.people.roles import Role
from tests.at_once import at_once
from tests.shop import (
    CALIPER,
    DUNLIN,
    GANNET,
    M12,
    PETREL,
    PINS,
    TIDE_V1,
    TUESDAY,
    VISE,
    VISE_SETTINGS,
    TestShop,
    new_id,
    reading,
    shown,
    sign_off,
)


def leaves(thing: str, key: str, why: str = "old", **more: Any) -> dict[str, Any]:
    return {"id": new_id(), "thing": thing, "key": key, "gone": True, "why": why, **more}


def back(thing: str, key: str) -> dict[str, Any]:
    return {"id": new_id(), "thing": thing, "key": key, "gone": False, "why": ""}


def test_a_machine_that_has_left_is_offered_nowhere_and_what_is_recorded_keeps_its_name(shop: TestShop) -> None:
    shop.close_session()
    student = shop.student(f"machine-familiarisation@{GANNET}", "facing")
    before = student.get(f"/api/students/{student.id}/skills")
    assert "Gannet" in str(before)
    found = shop.haldane.post("/api/gone", leaves("machine", GANNET))
    try:
        assert [(g["thing"], g["what"]["name"], g["why"]) for g in found["gone"]] == [("machine", "Gannet", "old")]
        assert found["acts"][0]["words"] == "Gannet was removed from the shop: old"
        assert found["acts"][0]["by"] == shop.haldane.me["name"]
        for path in ("/api/shop", "/api/session", "/api/tags"):
            assert "Gannet" not in [m["name"] for m in shop.haldane.get(path).get("machines", [])], path
        skills = student.get(f"/api/students/{student.id}/skills")
        on = [x["machine"]["name"] for s in skills["skills"] for x in s["on"] if x["machine"]]
        assert on, "the others are there"
        assert "Gannet" not in on
        signed = [e for s in skills["skills"] for e in s["events"] if e["machine"] == "Gannet"]
        assert signed, "who signed it when is still said"
        assert shop.haldane.get(f"/api/machines/{GANNET}")["gone"] == "old"
        opened = {"id": new_id(), "group": TUESDAY, "machines": [GANNET], "pin": PINS["haldane"]}
        refused = shop.haldane.fails(409, "/api/session", opened)
        assert refused["detail"] == "Gannet is no longer in the shop: old"
        given = {"id": new_id(), "version": TIDE_V1, "student": student.id, "not_before_signed": True}
        shop.haldane.fails(409, "/api/assignments", given | {"machine": GANNET})
        body = sign_off(student.id, PINS["haldane"], shown("machine-familiarisation", GANNET))
        shop.haldane.fails(409, "/api/sign-offs", body)
        shop.session(student, machines=(PETREL,))
        shop.haldane.fails(409, "/api/session/machines", {"id": new_id(), "machine": GANNET, "open": True})
        student.fails(409, f"/api/machines/{GANNET}/steps", {"id": new_id(), "step": "come"})
    finally:
        shop.haldane.post("/api/gone", back("machine", GANNET))
    shop.close_session()
    assert student.get(f"/api/students/{student.id}/skills") == before
    assert shop.haldane.get("/api/gone")["gone"] == []
    assert shop.haldane.get("/api/gone")["acts"][0]["words"] == "Gannet is back in the shop."


def test_what_is_in_use_does_not_leave(shop: TestShop) -> None:
    shop.session(machines=(PETREL,))
    refused = shop.haldane.fails(409, "/api/gone", leaves("machine", PETREL))
    assert refused["detail"] == "Petrel is open in the session: close it there first."
    shop.close_session()
    issue_id = new_id()
    shop.dacosta.post("/api/crib/issues", {"id": issue_id, "person": shop.haldane.id, "instrument": M12})
    refused = shop.haldane.fails(409, "/api/gone", leaves("gauge", M12))
    assert "is out with Mara Haldane: it has to come back first." in refused["detail"]
    shop.dacosta.post(f"/api/crib/issues/{issue_id}/return", {"condition": "fine"})


def test_a_gauge_that_has_left_decides_nothing(shop: TestShop) -> None:
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    gone = leaves("gauge", CALIPER)
    shop.haldane.post("/api/gone", gone)
    try:
        assert CALIPER not in [i["id"] for i in shop.haldane.get("/api/shop")["instruments"]]
        assert CALIPER not in [x["id"] for x in shop.dacosta.get("/api/crib")["things"]]
        refused = student.fails(409, f"/api/attempts/{attempt}/readings", reading(1, "2.4985", CALIPER))
        assert refused["detail"].endswith("is no longer in the shop: old")
        shop.dacosta.fails(409, "/api/crib/issues", {"id": new_id(), "person": student.id, "instrument": CALIPER})
        name = next(g["what"]["name"] for g in shop.haldane.get("/api/gone")["gone"])
        kind = shop.haldane.get("/api/gauge-kinds")["kinds"][0]
        new = {"id": new_id(), "name": name.upper(), "entry": kind["entry"], "thread": "", "due": "2099-01-01"}
        assert shop.haldane.fails(422, "/api/gauges", new)["errors"][0]["field"] == "name"
    finally:
        shop.haldane.post("/api/gone", back("gauge", CALIPER))
    # sent again, the first act changes nothing any more
    assert shop.haldane.post("/api/gone", gone)["gone"] == []
    shop.haldane.fails(409, "/api/gone", gone | {"key": M12})
    student.read(attempt, 1, "2.4985", CALIPER)


def test_a_vise_that_has_left_is_not_set_up_and_holds_nothing(shop: TestShop) -> None:
    shop.haldane.post("/api/gone", leaves("holding", VISE))
    try:
        assert VISE not in [h["id"] for h in shop.haldane.get("/api/workholding")["holding"]]
        setup = {"id": new_id(), "settings": VISE_SETTINGS}
        refused = shop.haldane.fails(409, f"/api/machines/{PETREL}/setups", setup)
        assert "is no longer in the shop" in refused["detail"]
    finally:
        shop.haldane.post("/api/gone", back("holding", VISE))
    assert VISE in [h["id"] for h in shop.haldane.get("/api/workholding")["holding"]]
    # a second time there is nothing to do, and nothing is written down
    many = len(shop.haldane.get("/api/gone")["acts"])
    shop.haldane.post("/api/gone", back("holding", VISE))
    assert len(shop.haldane.get("/api/gone")["acts"]) == many


def test_a_cutter_that_has_left_is_not_handed_out_nor_planned_with(shop: TestShop) -> None:
    cutter = shop.haldane.get("/api/stock")["cutters"][0]
    key, name = cutter["id"], cutter["of"]["name"]
    issue_id = new_id()
    shop.dacosta.post("/api/crib/issues", {"id": issue_id, "person": shop.haldane.id, "cutter": key})
    refused = shop.haldane.fails(409, "/api/gone", leaves("cutter", key))
    assert refused["detail"] == f"{name} is out with Mara Haldane: it has to come back first."
    shop.dacosta.post(f"/api/crib/issues/{issue_id}/return", {"condition": "fine"})
    page = shop.haldane.get("/api/stock")
    gone = shop.haldane.post("/api/gone", leaves("cutter", key, "worn out"))
    assert [(g["thing"], g["what"]["name"]) for g in gone["gone"]] == [("cutter", name)]
    try:
        assert key not in [c["id"] for c in shop.haldane.get("/api/stock")["cutters"]]
        assert key not in [x["id"] for x in shop.dacosta.get("/api/crib")["things"]]
        again = {"id": new_id(), "person": shop.haldane.id, "cutter": key}
        refused = shop.dacosta.fails(409, "/api/crib/issues", again)
        assert refused["detail"] == f"{name} is no longer in the shop: worn out"
    finally:
        shop.haldane.post("/api/gone", back("cutter", key))
    assert shop.haldane.get("/api/stock") == page


def test_a_material_that_has_left_is_not_offered_and_its_parts_are_planned_as_before(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, _ = shop.assign(student, version=TIDE_V1)
    before = student.get(f"/api/job-cards/{assignment}/plan")["look"]
    page = shop.haldane.get("/api/stock")
    word = shipped.parts()["tide-block"]["material"]
    material = next(m for m in page["materials"] if m["of"]["material"]["name"].lower().startswith(word))
    made_of = material["of"]["material"]["name"]
    shop.haldane.post("/api/gone", leaves("material", material["id"], "no longer bought"))
    try:
        assert material not in shop.haldane.get("/api/stock")["materials"]
        assert made_of not in shop.haldane.get("/api/part-choices")["materials"]
        key = material["of"]["material"]["key"]
        assert key not in [m["key"] for m in shop.haldane.get("/api/reckonings")["materials"]]
        entry = shop.haldane.get("/api/materials")["materials"][0]["entry"] | {"name": made_of, "id": new_id()}
        refused = shop.haldane.fails(409, "/api/materials", entry)
        assert refused["detail"].startswith(f"{made_of} was removed from the shop: put it back")
        assert student.get(f"/api/job-cards/{assignment}/plan")["look"] == before
    finally:
        shop.haldane.post("/api/gone", back("material", material["id"]))
    assert shop.haldane.get("/api/stock") == page
    shop.haldane.fails(404, "/api/gone", leaves("material", new_id()))


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"why": ""}, "why"),
        ({"why": "  x "}, "why"),
        ({"why": "w" * 201}, "why"),
        ({"thing": "lathe"}, "thing"),
        ({"key": "7"}, "key"),
        ({"gone": "maybe"}, "gone"),
    ],
)
def test_what_is_wrong_is_said_at_its_field(shop: TestShop, change: dict[str, Any], field: str) -> None:
    refused = shop.haldane.fails(422, "/api/gone", leaves("machine", DUNLIN) | change)
    assert [e["field"] for e in refused["errors"]] == [field]
    assert shop.haldane.get("/api/gone")["gone"] == []


def test_of_leaving_and_being_opened_at_the_same_moment_one_is_refused(shop: TestShop) -> None:
    """A machine never stands open in a session that has left the shop; a gauge is never out that has."""
    haldane = Who(uuid.UUID(shop.haldane.id), "", Role.INSTRUCTOR)
    dunlin, gauge = uuid.UUID(DUNLIN), uuid.UUID(M12)
    shop.session(machines=(PETREL,))
    for _ in range(4):
        opening = MachineOpenCommand(id=uuid.uuid4(), machine=dunlin, open=True)
        leaving = GoneCommand(id=uuid.uuid4(), thing=Thing.MACHINE, key=dunlin, gone=True, why="sold")
        giving = IssueCommand(id=uuid.uuid4(), person=haldane.id, instrument=gauge)
        losing = GoneCommand(id=uuid.uuid4(), thing=Thing.GAUGE, key=gauge, gone=True, why="lost")
        done = at_once(
            [
                lambda o=opening: shop.unit.run(lambda w: open_machine(w, haldane, o)),
                lambda g=leaving: shop.unit.run(lambda w: gone_change(w, haldane, g)),
                lambda i=giving: shop.unit.run(lambda w: issue(w, haldane, i)),
                lambda g=losing: shop.unit.run(lambda w: gone_change(w, haldane, g)),
            ]
        )
        assert [isinstance(d, Conflict) for d in done[:2]].count(True) == 1, done[:2]
        assert [isinstance(d, Conflict) for d in done[2:]].count(True) == 1, done[2:]
        shop.haldane.post("/api/gone", back("machine", DUNLIN))
        shop.haldane.post("/api/gone", back("gauge", M12))
        shop.haldane.post("/api/session/machines", {"id": new_id(), "machine": DUNLIN, "open": False})
        if not isinstance(done[2], Exception):
            shop.dacosta.post(f"/api/crib/issues/{giving.id}/return", {"condition": "fine"})
    shop.close_session()


def test_what_is_changed_of_the_shop_stays_with_what_was_before(shop: TestShop) -> None:
    before = shop.haldane.get("/api/shop")
    rules = before["setup_rules"]
    changed = {"school": "bare_limits", "confirmed_minutes": 45, "setup_rules": rules | {"hours": rules["hours"] + 1}}
    shop.haldane.put("/api/shop", changed)
    words = [a["words"] for a in shop.haldane.get("/api/gone")["acts"]][:3]
    assert sorted(words) == [
        f"A confirmation holds for 45 minutes; before: {before['confirmed_minutes']}",
        "Readings are judged by: bare limits; before: guard band",
        f"Setting up: a setup is good for {rules['hours'] + 1} hours; "
        f"before: a setup is good for {rules['hours']} hours",
    ]
    many = len(shop.haldane.get("/api/gone")["acts"])
    shop.haldane.put("/api/shop", changed)
    assert len(shop.haldane.get("/api/gone")["acts"]) == many, "what is as it was is no change"
    undone = {k: before[k] for k in ("school", "confirmed_minutes", "setup_rules")}
    shop.haldane.put("/api/shop", undone)
    of = before["assistants"][0]
    skills = [s["id"] for s in of["skills"]]
    shop.haldane.put("/api/delegations", {"assistant": of["person"]["id"], "skills": skills[1:]})
    said = shop.haldane.get("/api/gone")["acts"][0]["words"]
    assert said.startswith(f"{of['person']['name']} may sign: ")
    assert of["skills"][0]["name"] in said.partition("; before: ")[2]
    shop.haldane.put("/api/delegations", {"assistant": of["person"]["id"], "skills": skills})
