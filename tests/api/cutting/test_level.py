"""A horizontal mill through all layers: entered with its cutters, planned for, and cut by its run card."""

from __future__ import annotations

import json
from typing import Any

from tests.api.cutting.test_run import card, now, tick
from tests.api.planning.test_plans import own, save
from tests.shop import FOR_TIDE, TIDE_V1, TestShop, new_id

DRAWER: dict[str, Any] = {
    "unit": "in", "owned": 1, "keep": 0, "name": "", "made_of": "high-speed steel", "angle": "", "tap": "", "dial": "",
    "holder": "arbor-support", "place": "arbor rack", "stickout": "",
}  # fmt: skip


def test_it_is_entered_planned_for_and_cut_by_its_card(shop_apart: TestShop) -> None:
    shop = shop_apart
    kind = next(k for k in shop.haldane.get("/api/machine-kinds")["kinds"] if k["id"] == "horizontal-inch")
    spec = kind["spec"]
    walked = {k: spec[k] for k in ("make", "travel", "quill_travel", "handles", "readout", "power_feed")}
    walked |= {k: spec["spindle"][k] for k in ("watts", "steps", "ranges")}
    made = {"id": new_id(), "name": "Whimbrel", "about": "", "kind": kind["id"], "walked": walked}
    machine = shop.haldane.post("/api/machines", made)["machine"]["id"]
    mill = {"id": new_id(), "kind": "plain milling cutter", "sizes": ["2.5"], "teeth": 8, "length": "3", **DRAWER}
    assert "how wide" in str(shop.haldane.fails(422, "/api/cutters", mill | {"length": ""}))
    page = shop.haldane.post("/api/cutters", mill)
    one = next(c for c in page["cutters"] if c["on_arbor"])
    assert one["of"]["name"] == "Plain milling cutter 2.5 in, 3 in wide"
    student = shop.student(*FOR_TIDE, f"machine-familiarisation@{machine}")
    assignment, attempt = shop.assign(student, TIDE_V1, machine=machine)
    plan = own(shop, assignment)["look"]["plan"]
    assert {o["cutter"] for h in plan["holdings"] for o in h["operations"] if o["kind"] == "face"} == {
        one["of"]["name"]
    }
    save(student, assignment, plan)
    found = card(student, assignment)
    while found["at"] < len(found["steps"]):
        step = now(found)
        if step["kind"] == "measure":
            done = tick(step["id"], "reading", step["do"][0].split(": ")[1].split()[0])
        else:
            done = tick(step["id"])
        found = student.post(f"/api/attempts/{attempt}/run", done)
    told = json.dumps([s["do"] for s in found["steps"]])
    assert told.count("table to the right") >= 6
    assert "table to the left" not in told
