"""The crib: who has what, what is missing; registers in and out as CSV; reckonings kept on job cards."""

from __future__ import annotations

import threading
from typing import Any

import pytest

from incudo.core.reckoning import CALCULATIONS
from tests.shop import M01, METRIC, MILL, PETREL, PINS, Person, TestShop, new_id


def thing(page: Any, name: str) -> Any:
    return next(t for t in page["things"] if t["name"] == name)


def give(shop: TestShop, to: Person, **what: str) -> tuple[str, Any]:
    ident = new_id()
    return ident, shop.dacosta.post("/api/crib/issues", {"id": ident, "person": to.id, **what})


def cutter(shop: TestShop, name: str) -> str:
    return str(next(c["id"] for c in shop.haldane.get("/api/stock")["cutters"] if c["of"]["name"] == name))


def test_a_cutter_goes_out_and_comes_back(shop: TestShop) -> None:
    student, other = shop.student(), shop.student()
    before = thing(shop.dacosta.get("/api/crib"), "End mill 1/2 in, 4 flutes")
    ident, page = give(shop, student, cutter=MILL)
    assert thing(page, "End mill 1/2 in, 4 flutes")["inside"] == before["inside"] - 1
    assert any("creeps" in c for c in before["cautions"])
    # the same again changes nothing; another person under the same id is refused
    again = {"id": ident, "person": student.id, "cutter": MILL}
    assert thing(shop.dacosta.post("/api/crib/issues", again), before["name"])["inside"] == before["inside"] - 1
    shop.dacosta.fails(409, "/api/crib/issues", again | {"person": other.id})
    mine = student.get("/api/crib")
    assert [o["thing"]["name"] for o in mine["out"]] == ["End mill 1/2 in, 4 flutes"]
    assert mine["people"] == []
    assert other.get("/api/crib")["out"] == []
    back = shop.dacosta.post(f"/api/crib/issues/{ident}/return", {})
    assert thing(back, before["name"])["inside"] == before["inside"]
    assert student.get("/api/crib")["back"][0]["condition"] == "fine"
    shop.dacosta.fails(409, f"/api/crib/issues/{ident}/return", {"condition": "worn", "note": "blunt"})


def test_the_last_one_is_handed_out_once(shop: TestShop) -> None:
    students = [shop.student() for _ in range(6)]
    name = "Boring head 50 mm"
    only = cutter(shop, name)
    statuses: list[int] = []
    people = [shop.person("dacosta") for _ in students]

    def send(by: Person, to: Person) -> None:
        answer = by.ask("POST", "/api/crib/issues", {"id": new_id(), "person": to.id, "cutter": only})
        statuses.append(answer.status_code)

    threads = [threading.Thread(target=send, args=x) for x in zip(people, students, strict=True)]
    for x in threads:
        x.start()
    for x in threads:
        x.join(60)
    assert sorted(statuses) == [200, *[409] * 5]
    page = shop.dacosta.get("/api/crib")
    assert thing(page, name)["inside"] == 0
    out = [o for o in page["out"] if o["thing"]["name"] == name]
    refused = shop.dacosta.fails(409, "/api/crib/issues", {"id": new_id(), "person": students[0].id, "cutter": only})
    assert f"out with {out[0]['person']['name']}" in refused["detail"]
    shop.dacosta.post(f"/api/crib/issues/{out[0]['id']}/return", {})


def test_what_is_broken_leaves_the_number_and_a_gauge_is_tagged_out(shop: TestShop) -> None:
    student = shop.student()
    name = "End mill 3/16 in, 4 flutes"
    ident, page = give(shop, student, cutter=cutter(shop, name))
    owned = thing(page, name)["owned"]
    shop.dacosta.fails(422, f"/api/crib/issues/{ident}/return", {"condition": "broken"})
    page = shop.dacosta.post(f"/api/crib/issues/{ident}/return", {"condition": "broken", "note": "in a corner"})
    assert (thing(page, name)["owned"], thing(page, name)["inside"]) == (owned - 1, owned - 1)
    ident, _ = give(shop, student, instrument=METRIC)
    page = shop.dacosta.post(f"/api/crib/issues/{ident}/return", {"condition": "broken", "note": "fell on the floor"})
    assert "fell on the floor" in thing(page, "Caliper, metric no. 8")["closed"]
    refused = shop.dacosta.fails(409, "/api/crib/issues", {"id": new_id(), "person": student.id, "instrument": METRIC})
    assert "tagged out" in refused["detail"]
    tag = next(t for t in shop.haldane.get("/api/tags")["tags"] if t["instrument"] == METRIC)
    clear = {"note": "repaired and checked", "pin": PINS["haldane"]}
    shop.haldane.post(f"/api/tags/{tag['id']}/clear", clear)


def test_a_cutter_that_is_tagged_out_stays_in(shop: TestShop) -> None:
    student = shop.student()
    blunt = cutter(shop, "Reamer 0.375 in")
    student.post("/api/tags", {"id": new_id(), "cutter": blunt, "note": "one edge is chipped"})
    page = shop.dacosta.get("/api/crib")
    assert "chipped" in thing(page, "Reamer 0.375 in")["closed"]
    body = {"id": new_id(), "person": student.id, "cutter": blunt}
    assert "chipped" in shop.dacosta.fails(409, "/api/crib/issues", body)["detail"]
    both = {"id": new_id(), "person": student.id, "cutter": blunt, "instrument": M01}
    assert shop.dacosta.fails(422, "/api/crib/issues", both)["errors"][0]["field"] == "cutter"
    shop.dacosta.fails(404, "/api/crib/issues", body | {"id": new_id(), "person": new_id()})
    register = shop.haldane.get("/api/registers/safety")
    assert "Reamer 0.375 in" in str(register)


def test_what_is_missing_at_the_end_of_a_session_is_said(shop: TestShop) -> None:
    student = shop.student()
    ident, _ = give(shop, student, cutter=cutter(shop, "Countersink 0.5 in, 82°"))
    shop.session(student)
    session = shop.haldane.get("/api/session")["session"]
    mine = next(o for o in session["out"] if o["id"] == ident)
    assert mine["late"]
    assert mine["thing"]["name"] == "Countersink 0.5 in, 82°"
    later, _ = give(shop, student, cutter=cutter(shop, "Countersink 0.5 in, 100°"))
    out = {o["id"]: o["late"] for o in shop.dacosta.get("/api/crib")["out"]}
    assert (out[ident], out[later]) == (True, False)
    for x in (ident, later):
        shop.dacosta.post(f"/api/crib/issues/{x}/return", {})


# ── registers ─────────────────────────────────────────────────────────────


def csv_of(person: Person, name: str) -> str:
    answer = person.ask("GET", f"/api/tables/{name}.csv")
    assert answer.status_code == 200
    return answer.get_data(as_text=True)


@pytest.mark.parametrize("name", ["cutters", "materials", "ranges", "toolholders"])
def test_a_table_that_goes_out_comes_in_unchanged(shop: TestShop, name: str) -> None:
    text = csv_of(shop.haldane, name)
    report = shop.haldane.post(f"/api/tables/{name}/check", {"text": text})
    assert (report["new"], report["changed"], report["refused"]) == (0, 0, 0)
    assert len(report["lines"]) == len(text.splitlines()) - 1


def test_a_file_is_looked_at_line_by_line_and_taken_as_a_whole(shop: TestShop) -> None:
    head, first, *_ = csv_of(shop.haldane, "cutters").splitlines()
    ground = first.replace(",0.125,4,high-speed steel,,", ",0.125,4,high-speed steel,0.120,")
    ground = ground.replace(",0.125,3,high-speed steel,,", ",0.125,3,high-speed steel,0.120,")
    row = dict(zip(head.split(","), ["Ball end mill 8 mm", "ball end mill", "mm", "8", "2"], strict=False))
    new = ",".join({**dict.fromkeys(head.split(","), ""), **row, "teeth": "2"}.values())
    bad = new.replace("Ball end mill 8 mm", "Ball end mill 9 mm").replace(",2,,", ",7,,", 1)
    text = "\n".join([head, ground, new, new, bad.replace("ball end mill,mm,8", "ball end mill,mm,0")])
    report = shop.haldane.post("/api/tables/cutters/check", {"text": text})
    assert [x["status"] for x in report["lines"]] == ["changed", "new", "refused", "refused"]
    assert "measured: nothing → 0.120" in report["lines"][0]["words"]
    assert "appears twice" in report["lines"][2]["words"][0]
    refused = shop.haldane.fails(422, "/api/tables/cutters", {"text": text}, "PUT")
    assert [e["field"] for e in refused["errors"]] == ["line 4", "line 5"]
    names = {c["of"]["name"] for c in shop.haldane.get("/api/stock")["cutters"]}
    assert "Ball end mill 8 mm" not in names
    done = shop.haldane.ask("PUT", "/api/tables/cutters", {"text": "\n".join([head, ground, new])}).get_json()
    assert (done["new"], done["changed"], done["taken"]) == (1, 1, True)
    stock = {c["of"]["name"]: c for c in shop.haldane.get("/api/stock")["cutters"]}
    assert stock["Ball end mill 8 mm"]["of"]["owned"] == 2
    assert stock[first.split('"')[1] if first.startswith('"') else first.split(",")[0]]["of"]["measured"] == "0.120"
    for name in ("threads", "drills", "holders"):
        shop.haldane.fails(422, f"/api/tables/{name}/check", {"text": csv_of(shop.haldane, name)})
    text = csv_of(shop.haldane, "ranges") + "butter,carbide,milling,40,60,10:0.1-0.2,\n"
    wrong = shop.haldane.post("/api/tables/ranges/check", {"text": text})
    assert "butter is not in the register" in wrong["lines"][-1]["words"][0]


def test_holders_come_in_as_a_list(shop: TestShop) -> None:
    head = "name,way,taper,unit,sizes,count"
    lines = (
        "Steep collets,collet,steep taper with drawbar,mm,6;8;10,5",
        "Too few of them,collet,steep taper,mm,6;8;10,2",
        "Odd way,magnet,steep taper,mm,,1",
        "Loose,tap-wrench,steep taper,mm,,1",
        '"CLAMP set, 5/8 slots",chuck,steep taper,mm,,1',
        "Huge,collet,steep taper,mm,600,1",
        "Feet,collet,steep taper,ft,1,1",
    )
    report = shop.haldane.post("/api/tables/toolholders/check", {"text": "\n".join([head, *lines])})
    said = [(x["status"], str(x["words"])) for x in report["lines"]]
    assert [status for status, _ in said] == ["new", *["refused"] * 6]
    for (_, words), part in zip(
        said[1:],
        ("at least one for each size, 3", "way: must be one of", "way: must be", "holds work", "size 1", "unit"),
        strict=True,
    ):
        assert part in words
    one = "\n".join([head, lines[0]])
    assert shop.haldane.ask("PUT", "/api/tables/toolholders", {"text": one}).get_json()["taken"]
    again = shop.haldane.post("/api/tables/toolholders/check", {"text": one})
    assert [x["status"] for x in again["lines"]] == ["same"]
    listed = {h["name"]: h for h in shop.haldane.get("/api/workholding")["holding"]}
    assert listed["Steep collets"]["words"] == "5 for a steep taper with drawbar: 6 · 8 · 10 mm"
    # what left the shop is back when a list has it
    gone = {"id": new_id(), "thing": "holding", "key": listed["Steep collets"]["id"], "gone": True, "why": "sold"}
    shop.haldane.post("/api/gone", gone)
    assert "Steep collets" not in str(shop.haldane.get("/api/workholding")["holding"])
    shop.haldane.ask("PUT", "/api/tables/toolholders", {"text": one.replace(",5", ",6")})
    assert "6 for a steep taper with drawbar" in str(shop.haldane.get("/api/workholding")["holding"])


def test_a_reground_cutter_is_reckoned_with_as_it_is(shop: TestShop) -> None:
    mill = cutter(shop, "End mill 5/16 in, 2 flutes")
    body = {"measured": "0.3050", "owned": 3, "place": "drawer 1, reground"}
    shop.dacosta.ask("PUT", f"/api/cutters/{mill}", body)
    fills = shop.student().get(f"/api/reckoning-fills?machine={PETREL}&material=brass&cutter={mill}")
    assert fills["values"]["cutter.diameter"]["value"] == "0.3050"
    assert any("screws itself in" in c for c in fills["cautions"])
    for bad, field in (({"measured": "0.2"}, "measured"), ({"measured": "x"}, "measured"), ({"owned": 1000}, "owned")):
        refused = shop.dacosta.fails(422, f"/api/cutters/{mill}", body | bad, "PUT")
        assert field in refused["errors"][0]["field"]
    shop.student().fails(403, f"/api/cutters/{mill}", body, "PUT")


# ── reckonings ────────────────────────────────────────────────────────────


def test_a_reckoning_is_kept_on_the_job_card_with_its_working(shop: TestShop) -> None:
    student, other = shop.ready_student(), shop.student()
    card, _ = shop.assign(student, machine=PETREL)
    wide, hole = ({"value": x, "unit": "in"} for x in ("0.480", "0.257"))
    given = {"wide": wide, "hole": hole, "angle": {"value": "82"}}
    body = {"id": new_id(), "name": "countersink-depth", "given": given, "note": "both holes"}
    for _ in range(2):
        student.post(f"/api/job-cards/{card}/reckonings", body)
    (kept,) = student.get(f"/api/job-cards/{card}")["reckoned"]
    assert (kept["name"], kept["note"]) == ("Depth of a countersink", "both holes")
    assert kept["results"][0]["values"][1] == {"unit": "in", "value": "0.1283"}
    assert kept["working"][0]["put_in"] == "(0.48 − 0.257) / 2 / tan(41°)"
    assert shop.haldane.get(f"/api/job-cards/{card}")["reckoned"] == [kept]
    other.fails(404, f"/api/job-cards/{card}/reckonings", body | {"id": new_id()})
    wrong = body | {"id": new_id(), "given": given | {"angle": {"value": "5"}}}
    assert student.fails(422, f"/api/job-cards/{card}/reckonings", wrong)["errors"][0]["field"] == "angle"
    student.fails(404, f"/api/job-cards/{card}/reckonings", body | {"id": new_id(), "name": "guess"})


@pytest.mark.parametrize("name", CALCULATIONS)
def test_each_calculation_refuses_bad_input_by_field_over_http(shop: TestShop, name: str) -> None:
    student = shop.person("orla")
    for i in CALCULATIONS[name].inputs:
        for value in ("", "x", "-99999", "1e5", "\u066b"):
            answer = student.ask("POST", f"/api/reckonings/{name}", {"given": {i.name: {"value": value}}})
            assert answer.status_code in (200, 422)
            errors = answer.get_json(force=True).get("errors", [])
            mine = [e for e in errors if e["field"] == i.name]
            assert mine or ((i.optional or i.default) and value == "")
            assert all(e["bound"] for e in errors)


def test_who_is_in_the_session_stands_first_at_the_counter(shop: TestShop) -> None:
    student = shop.student()
    shop.session(student)
    people = [p["id"] for p in shop.dacosta.get("/api/crib")["people"]]
    roll = shop.haldane.get("/api/session")["session"]["roll"]
    members = {r["student"]["id"] for r in roll if r["presence"]}
    assert set(people[: len(members)]) == members
