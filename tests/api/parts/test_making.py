"""Making a part: drafts, saving, two who change the same part, retiring, giving it to a group."""

from __future__ import annotations

import json
from typing import Any

import pytest
import yaml

from incudo.core.parts.drawing import lay_out, render
from incudo.core.parts.project import read_project
from tests.at_once import at_once
from tests.core.parts.features.making import BAR, PLATE, changed
from tests.core.parts.features.test_plate import dxf, text_of
from tests.paths import VERSION_1
from tests.shop import PETREL, TIDE_V1, TestShop, new_id


def draft(shop: TestShop, data: Any, **act: Any) -> Any:
    file = data if isinstance(data, str) else json.dumps(data)
    return shop.haldane.post("/api/part-drafts", {"file": file, "act": act or None})


def new_part(shop: TestShop, name: str) -> Any:
    body = {"id": new_id(), "version": new_id(), "file": json.dumps(changed(PLATE, "name", name))}
    return shop.haldane.post("/api/projects", body)


@pytest.mark.parametrize("unit", ["in", "mm"])
@pytest.mark.parametrize("form", ["flat", "square", "block", "round"])
def test_a_part_begins_from_a_piece_of_bar_and_lacks_only_what_is_asked(shop: TestShop, unit: str, form: str) -> None:
    made = draft(shop, "", kind="begin", unit=unit, form=form)
    assert [f["field"] for f in made["faults"]] == ["characteristics"]
    assert made["svg"].startswith("<svg")
    assert {p["name"] for p in made["picks"]} >= {"left", "right", "top", "front"}
    assert all(unit in a["text"] for a in made["allowances"])
    # one requirement makes it whole
    asked = draft(shop, made["file"], kind="ask", of=["left", "right"])
    assert asked["faults"] == []
    assert asked["rows"][0]["name"] == "Length"


def test_a_requirement_becomes_one_of_another_kind_of_the_same_face(shop: TestShop) -> None:
    made = draft(shop, "", kind="begin", unit="mm", form="flat")
    made = draft(shop, made["file"], kind="ask", of=["top"])
    assert made["rows"][0]["name"] == "Top parallel to A"
    made = draft(shop, made["file"], kind="ask_as", characteristic=0, as_kind="flat")
    assert (len(made["rows"]), made["rows"][0]["number"], made["rows"][0]["name"]) == (1, 1, "Top flat")


def test_features_are_added_varied_and_threaded(shop: TestShop) -> None:
    made = draft(shop, "", kind="begin", unit="mm", form="flat")
    for kind, face in (("step", "top"), ("hole", "step.floor"), ("hole", "top")):
        made = draft(shop, made["file"], kind="add", feature=kind, face=face)
    assert [f["name"] for f in json.loads(made["file"])["features"]] == ["step", "hole", "hole 2"]
    made = draft(shop, made["file"], kind="vary", feature=2, group="layout", variant="circle")
    assert json.loads(made["file"])["features"][2]["layout"]["layout"] == "circle"
    made = draft(shop, made["file"], kind="vary", feature=1, group="thread", variant="given")
    made = draft(shop, made["file"], kind="thread", feature=1, thread="M8")
    tapped = json.loads(made["file"])["features"][1]
    assert (tapped["made"], tapped["diameter"], tapped["thread"]["pitch"]) == ("tapped", "6.8", "1.25")
    assert "M8 through, drill 6.8" in made["svg"]
    made = draft(shop, made["file"], kind="vary", feature=1, group="thread", variant="")
    assert json.loads(made["file"])["features"][1]["made"] == "drilled"
    operations = [s["id"] for s in made["operations"]]
    assert operations == ["square-block", "mill-steps", "drilling", "bolt-circle"]
    assert made["axes"] == [["X", "Y"]] * 3


@pytest.mark.parametrize(
    ("act", "field"),
    [
        ({"kind": "add", "feature": "dovetail", "face": "top"}, "kind"),
        ({"kind": "add", "feature": "slot", "face": "lid"}, "face"),
        ({"kind": "thread", "feature": 3, "thread": "1/4-20"}, "thread"),
        ({"kind": "thread", "feature": 0, "thread": "M8"}, "feature"),
        ({"kind": "vary", "feature": 5, "group": "layout", "variant": "row"}, "feature"),
        ({"kind": "ask_as", "characteristic": 5, "as_kind": "flat"}, "characteristic"),
        ({"kind": "ask_as", "characteristic": 4, "as_kind": "round"}, "kind"),
        ({"kind": "vary", "feature": 9, "group": "layout", "variant": "row"}, "feature"),
        ({"kind": "ask", "of": ["left", "top"]}, "of"),
    ],
)
def test_an_act_that_cannot_be_done_says_why(shop: TestShop, act: dict[str, Any], field: str) -> None:
    problem = shop.haldane.fails(422, "/api/part-drafts", {"file": json.dumps(PLATE), "act": act})
    assert problem["errors"][0]["field"] == field


def test_what_is_wrong_is_in_the_answer_and_the_rest_is_drawn(shop: TestShop) -> None:
    found = draft(shop, changed(PLATE, "features.3.diameter", "0"))
    assert [f["field"] for f in found["faults"]] == ["features.3.diameter"]
    assert found["svg"]
    unread = draft(shop, changed(PLATE, "features.3.diameter", "five"))
    assert unread["svg"] is None
    assert unread["faults"][0]["field"].endswith("diameter")
    skill = draft(shop, {**PLATE, "needs": ["juggling"]})
    assert [(f["field"], f["value"]) for f in skill["faults"]] == [("needs", "juggling")]
    idle = draft(shop, {**PLATE, "operations": ["drilling", "dials"]})
    assert [(f["field"], f["value"]) for f in idle["faults"]] == [("operations", "dials")]


def test_a_new_part_is_saved_once_under_a_code_of_its_own(shop: TestShop) -> None:
    body = {"id": new_id(), "version": new_id(), "file": json.dumps(changed(PLATE, "name", "Gunwale clamp"))}
    first = shop.haldane.post("/api/projects", body)
    assert shop.haldane.post("/api/projects", body) == first
    assert json.loads(first["file"])["code"] == "gunwale-clamp"
    other = shop.haldane.post("/api/projects", body | {"id": new_id(), "version": new_id()})
    assert json.loads(other["file"])["code"] == "gunwale-clamp-2"
    shop.haldane.fails(409, "/api/projects", body | {"version": new_id()})
    shop.haldane.fails(422, "/api/projects", {**body, "id": new_id(), "file": json.dumps({**PLATE, "features": 3})})
    card = next(p for p in shop.haldane.get("/api/projects")["projects"] if p["id"] == first["id"])
    assert card["features"] == ["Step", "Slot", "Pocket", "Hole", "Chamfer"]
    assert "Milling pockets" in card["operations"]


def test_of_two_who_change_the_same_part_the_later_is_told(shop: TestShop) -> None:
    part = new_part(shop, "Stem band")
    path = f"/api/projects/{part['id']}/versions"
    file = json.dumps(changed(json.loads(part["file"]), "features.0.depth", "7"))
    mine = {"id": new_id(), "after": part["version"], "file": file, "change": "deeper"}
    theirs = {**mine, "id": new_id(), "change": "deeper too"}
    found = at_once([lambda b=b: shop.haldane.ask("POST", path, b).status_code for b in (mine, theirs)])  # type: ignore[misc]
    assert sorted(found) == [200, 409]
    assert shop.haldane.get(f"/api/projects/{part['id']}")["version_number"] == 2
    late = shop.haldane.fails(409, path, {**mine, "id": new_id()})
    assert "changed this part meanwhile: version 2" in late["detail"]


def test_a_retired_part_is_not_given_and_can_be_put_back(shop: TestShop) -> None:
    part, student = new_part(shop, "Old hook"), shop.ready_student()
    path = f"/api/projects/{part['id']}/shelf"
    body = {"id": new_id(), "retired": True}
    assert shop.haldane.post(path, body)["retired"]
    assert shop.haldane.post(path, body)["retired"]
    shop.haldane.fails(409, path, body | {"retired": False})
    give = {"id": new_id(), "version": part["version"], "student": student.id, "not_before_signed": True}
    assert "out of the library" in shop.haldane.fails(403, "/api/assignments", give)["detail"]
    assert not shop.haldane.post(path, {"id": new_id(), "retired": False})["retired"]
    shop.haldane.post("/api/assignments", give)


def test_a_group_is_given_a_part_in_one_act_or_not_at_all(shop: TestShop) -> None:
    ready, other, fresh = shop.ready_student(), shop.ready_student(), shop.student()
    one, two, three = ({"id": new_id(), "student": s.id} for s in (ready, other, fresh))
    body = {"version": TIDE_V1, "machine": PETREL, "to": [one, two, three]}
    problem = shop.haldane.fails(403, "/api/givings", body)
    assert "General safety" in problem["detail"]
    assert all(s.get("/api/bench")["cards"] == [] for s in (ready, other, fresh)), "nobody has got it"
    shop.haldane.fails(422, "/api/givings", {**body, "to": [one, {**two, "student": ready.id}]})
    whole = {**body, "to": [one, two, {**three, "not_before_signed": True}]}
    found = at_once([lambda: shop.haldane.ask("POST", "/api/givings", whole).status_code] * 2)
    assert found == [200, 200]
    assert [len(s.get("/api/bench")["cards"]) for s in (ready, other, fresh)] == [1, 1, 1]


def test_a_version_of_the_first_format_is_drawn_as_it_was_given(shop: TestShop) -> None:
    """A part that was given in the first format keeps its places; the same part of features finds its own."""
    part = new_part(shop, "Slip block")
    old = {**yaml.safe_load((VERSION_1 / "tide-block.yaml").read_text()), "code": json.loads(part["file"])["code"]}
    body = {"id": new_id(), "after": part["version"], "file": json.dumps(old), "change": "as it was"}
    after = shop.haldane.post(f"/api/projects/{part['id']}/versions", body)
    assert not after["of_features"]
    svg = shop.haldane.get(f"/api/versions/{after['version']}/drawing")["svg"]
    assert svg == render(lay_out(read_project(old)))


def test_a_drawing_can_be_downloaded_as_dxf(shop: TestShop) -> None:
    answer = shop.haldane.ask("GET", f"/api/versions/{TIDE_V1}/drawing.dxf")
    assert answer.status_code == 200
    assert answer.headers["Content-Disposition"].startswith("attachment")
    assert "VISIBLE" in answer.get_data(as_text=True)


def test_a_plate_comes_in_as_dxf_and_what_is_left_out_is_said(shop: TestShop) -> None:
    file, space = dxf()
    space.add_circle((112, 60), 3)
    space.add_text("KEEL")
    act = {"kind": "plate", "text": text_of(file), "thickness": "8", "unit": "mm"}
    made = draft(shop, "", **act)
    assert [f["kind"] for f in json.loads(made["file"])["features"]] == ["hole"]
    assert [o["what"] for o in made["left_out"]] == ["TEXT"]
    assert made["stock"] == "flat bar 12 x 54, sawn 84 long"
    for wrong, field in (
        ({"thickness": "0"}, "thickness"),
        ({"thickness": "x"}, "thickness"),
        ({"text": "no"}, "text"),
    ):
        problem = shop.haldane.fails(422, "/api/part-drafts", {"file": "", "act": {**act, **wrong}})
        assert problem["errors"][0]["field"] == field


def test_a_saw_list_names_whose_piece_comes_off_which_bar(shop: TestShop) -> None:
    """Those who have the part and have not begun it; a piece is as long as its own version says."""
    part = new_part(shop, "Bollard cap")
    path = f"/api/projects/{part['id']}/saw-list"
    assert "nobody" in shop.haldane.fails(422, path, {"bars": ["500"], "kerf": "2"})["detail"]
    group = shop.haldane.get(f"/api/projects/{part['id']}/candidates")
    students = [c["student"] for c in group["candidates"]][:4]
    to = [{"id": new_id(), "student": s["id"], "not_before_signed": True} for s in students]
    shop.haldane.post("/api/givings", {"version": part["version"], "to": to})
    found = shop.haldane.post(path, {"bars": ["500", "180"], "kerf": "2"})
    assert (found["pieces"], found["stock"]) == (4, "flat bar 22 x 54, sawn 84 long")
    assert [(b["length"], len(b["pieces"]), b["left"]) for b in found["bars"]] == [("500 mm", 4, "156 mm")]
    assert {p["student"] for b in found["bars"] for p in b["pieces"]} == {s["name"] for s in students}
    assert "84 mm" in {p["length"] for b in found["bars"] for p in b["pieces"]}
    problem = shop.haldane.fails(422, path, {"bars": ["180"], "kerf": "2"})
    assert "344 mm" in problem["detail"]


def test_bars_are_drawn_from_the_end_too(shop: TestShop) -> None:
    found = draft(shop, BAR)
    assert found["faults"] == []
    assert any(p["kind"] == "ring" and p["name"] == "round" for p in found["picks"])
