"""From an empty installation to a shop that can open a session: the first code, machines, gauges, what is left."""

from __future__ import annotations

import json
import threading
import uuid
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from typing import Any

import pytest

from incudo import shipped
from incudo.app.administration.first_run import first_code
from incudo.app.kernel.unit import find
from incudo.app.planning.made_with import piece_for, plan_shop
from incudo.core.planning.shop import PlanShop
from incudo.core.shop.kinds import as_walked, read_machine_kind
from incudo.launch.supervise import Supervisor
from incudo.store import schema as t
from tests.api.conftest import behind_the_application
from tests.at_once import at_once
from tests.loaded import empty_shop
from tests.shop import CALIPER, GOOD_BLOCK, M01, PETREL, PINS, TIDE_V1, Person, TestShop, new_id

OWN = "a password of one's own"
BEGIN = {
    "shop": "Harbour Road",
    "unit": "mm",
    "school": "bare_limits",
    "projection": "first",
    "zone": "Etc/GMT+5",
    "spelling": "american",
    "group": "Monday evening",
    "name": "Ada Quist",
    "login": "",
    "password": OWN,
    "pin": "4711",
}
#: Clocks and spellings that there are not.
CLOCKS = (("zone", "Harbour/Road"), ("zone", ""), ("zone", "../../etc/passwd"), ("spelling", "Latin"))


@pytest.fixture
def shop(shop_apart: TestShop) -> Iterator[TestShop]:
    """A shop that others do not look at: people, groups and machines are added to it."""
    yield shop_apart
    shop_apart.clock.ahead = timedelta(0)


@pytest.fixture
def empty(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestShop]:
    """An installation that nobody has set up."""
    started = Supervisor(empty_shop(tmp_path_factory.mktemp("empty")))
    try:
        started.start_database()
        yield from behind_the_application(started, tmp_path_factory.mktemp("web-empty"))
    finally:
        started.stop()


def test_an_empty_installation_becomes_a_shop_once(empty: TestShop) -> None:
    anybody = empty.person()
    found_empty = anybody.get("/api/first-run")
    assert found_empty["empty"]
    assert {s["key"]: s["words"] for s in found_empty["spellings"]} == {
        "": "centre, grey, aluminium, vise, wrench",
        "american": "center, gray, aluminum, vise, wrench",
        "british": "centre, grey, aluminium, vice, spanner",
    }
    assert anybody.get("/api/health") == {"ok": True}, "nothing is wrong with an empty one"
    empty.clock.stand()
    old, code = (empty.unit.run(first_code) for _ in range(2))
    anybody.fails(403, "/api/first-run", {**BEGIN, "code": old})
    empty.clock.ahead = timedelta(hours=24)
    anybody.fails(403, "/api/first-run", {**BEGIN, "code": code})
    empty.clock.ahead, empty.clock.still = timedelta(0), None
    for field, value in (
        ("name", "7"),
        ("login", "Ada Quist"),
        ("pin", "47"),
        ("password", "short"),
        ("shop", " "),
        *CLOCKS,
    ):
        problem = anybody.fails(422, "/api/first-run", {**BEGIN, "code": code, field: value})
        assert [e["field"] for e in problem["errors"]] == [field]

    found: list[int] = []

    def begin() -> None:
        found.append(empty.person().ask("POST", "/api/first-run", {**BEGIN, "code": code.upper()}).status_code)

    threads = [threading.Thread(target=begin) for _ in range(3)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    assert sorted(found) == [200, 409, 409], "of three at once one sets it up"
    assert not anybody.get("/api/first-run")["empty"]
    assert anybody.get("/api/language")["spelling"]["centre"] == "center"
    assert empty.unit.run(first_code) == "", "no code for a shop that is there"

    ada = empty.person("ada.q", OWN)
    assert (ada.me["shop"], ada.me["unit"], ada.me["role"], ada.me["has_pin"]) == (
        "Harbour Road",
        "mm",
        "instructor",
        True,
    )
    shop = ada.get("/api/shop")
    assert (shop["school"], shop["projection"], shop["setup_rules"]["unit"]) == ("bare_limits", "first", "mm")
    assert (shop["zone"], shop["spelling"]) == ("Etc/GMT+5", "american")
    assert len(ada.get("/api/projects")["projects"]) == len(shipped.parts())
    assert {i["what"]: i["count"] for i in ada.get("/api/ready")["items"]} == {
        "machines": 0,
        "groups": 1,
        "students": 0,
        "gauges": 0,
        "holding": 0,
        "cutters": 0,
        "parts": len(shipped.parts()),
        "cards": 0,
    }
    assert ada.get("/api/ready")["missing"] == 2
    machine = add(ada)
    ada.post("/api/gauges", gauge())
    (group,) = ada.get("/api/people")["groups"]
    body = {"id": new_id(), "name": "Bo Lind", "login": "", "role": "student", "group": group["id"], "pin": "4711"}
    slip = ada.post("/api/people", body)
    bo = empty.person()
    bo.post("/api/codes/take", {"code": slip["code"], "password": OWN, "pin": None})
    assert empty.person("bo.l", OWN).me["group"] == "Monday evening"
    assert ada.get("/api/ready")["missing"] == 0
    opened = {"id": new_id(), "group": group["id"], "machines": [machine["machine"]["id"]], "pin": "4711"}
    assert ada.post("/api/session", opened)


def test_five_wrong_codes_close_setting_up_for_a_while(empty: TestShop) -> None:
    code, anybody = empty.unit.run(first_code), empty.person()
    for _ in range(5):
        anybody.fails(403, "/api/first-run", {**BEGIN, "code": "abcd-efgh-jkmn"})
    anybody.fails(429, "/api/first-run", {**BEGIN, "code": code})
    empty.clock.ahead = timedelta(minutes=16)
    anybody.post("/api/first-run", {**BEGIN, "code": code})


def test_clock_and_spelling_are_changed_where_they_are_shown(shop: TestShop) -> None:
    haldane = shop.haldane
    change = {"school": "guard_band"}
    for field, value in CLOCKS:
        problem = haldane.fails(422, "/api/shop", {**change, field: value}, method="PUT")
        assert [e["field"] for e in problem["errors"]] == [field]
    assert haldane.put("/api/shop", {**change, "zone": "Etc/GMT+5", "spelling": "british"})["zone"] == "Etc/GMT+5"
    said = haldane.get("/api/language")
    assert (said["zone"], said["spelling"]["vise"]) == ("Etc/GMT+5", "vice")
    assert "Machine vice, 6 in jaws" in [k["name"] for k in haldane.get("/api/workholding")["kinds"]]
    words = [a["words"] for a in haldane.get("/api/gone")["acts"]]
    assert "Time zone: Etc/GMT+5; before: UTC" in words
    assert "English is spelled: british; before: as the texts stand" in words
    assert haldane.put("/api/shop", {**change, "zone": "UTC", "spelling": ""})["spelling"] == ""
    assert haldane.get("/api/language")["spelling"] == {}


# ---- machines


def walked(kind: str = "knee-inch", **change: Any) -> dict[str, Any]:
    """A machine as its kind has it, with what was found otherwise."""
    spec = next(k for k in shipped.machine_kinds() if k.id == kind).spec.model_dump(mode="json")
    fields = ("make", "travel", "quill_travel", "handles", "readout", "power_feed")
    spindle = {k: spec["spindle"][k] for k in ("watts", "steps", "ranges")}
    return {**{k: spec[k] for k in fields}, **spindle, **change}


def add(person: Person, name: str = "", kind: str = "knee-inch", **change: Any) -> dict[str, Any]:
    body = {"id": new_id(), "name": name or f"Tern {new_id()[-6:]}", "about": "", "kind": kind}
    found: dict[str, Any] = person.post("/api/machines", {**body, "walked": walked(kind, **change)})
    return found


def test_a_machine_is_its_kind_with_what_was_found_at_it(shop: TestShop) -> None:
    handles = walked()["handles"]
    handles[0] |= {"clockwise": "left", "dial_up": "anticlockwise", "per_turn": "0.250", "graduations": 250}
    found = add(shop.haldane, steps=[100, 200, 400], travel=["20", "8", "14"], handles=handles[:3], power_feed=["x"])
    spec = found["spec"]
    assert (spec["spindle"]["steps"], spec["travel"], spec["power_feed"]) == ([100, 200, 400], ["20", "8", "14"], ["x"])
    assert spec["spindle"]["taper"] == "collet taper with drawbar", "what was not looked at is as the kind has it"
    assert found["divisions"][0] == "0.001 in"
    assert [h["axis"] for h in spec["handles"]] == ["x", "y", "knee"]
    assert found["machine"]["name"] in [m["name"] for m in shop.haldane.get("/api/shop")["machines"]]


def test_another_of_the_same_model_has_everything_but_the_backlash(shop: TestShop) -> None:
    kinds = shop.haldane.get("/api/machine-kinds")["kinds"]
    model = shop.haldane.get(f"/api/machines/{PETREL}")["spec"]
    assert any(h["backlash"] for h in model["handles"]), "there is something to leave out"
    own = next(k for k in kinds if k["id"] == PETREL)
    assert (own["own"], own["name"]) == (True, "Another like Petrel")
    spec = own["spec"]
    fields = ("make", "travel", "quill_travel", "handles", "readout", "power_feed")
    seen = {k: spec[k] for k in fields} | {k: spec["spindle"][k] for k in ("watts", "steps", "ranges")}
    body = {"id": new_id(), "name": "Petrel the second", "about": "", "kind": PETREL, "walked": seen}
    made = shop.haldane.post("/api/machines", body)
    assert made["spec"] == {**model, "handles": [h | {"backlash": None, "measured": None} for h in model["handles"]]}
    assert made["about"] == shop.haldane.get(f"/api/machines/{PETREL}")["about"]


def test_the_shops_unit_is_changed_alone(shop: TestShop) -> None:
    before = shop.haldane.get("/api/shop")
    sent = {"school": before["school"], "unit": "mm"}
    assert shop.haldane.ask("PUT", "/api/shop", sent).get_json() == before | {"unit": "mm"}
    assert shop.person("orla").me["unit"] == "mm"
    assert shop.haldane.fails(422, "/api/shop", sent | {"unit": "deg"}, method="PUT")["errors"][0]["field"] == "unit"
    shop.haldane.ask("PUT", "/api/shop", sent | {"unit": before["unit"]})


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"steps": [400, 200]}, "spindle"),
        ({"steps": []}, "spindle"),
        ({"steps": [5]}, "spindle.steps.0"),
        ({"watts": 49}, "walked.watts"),
        ({"handles": []}, "walked.handles"),
        ({"travel": ["24", "11"]}, "walked.travel.2"),
        ({"travel": ["far", "11", "15"]}, "walked.travel.0"),
        ({"readout": ["w"]}, "readout.0"),
        ({"make": ""}, "walked.make"),
    ],
)
def test_a_machine_that_cannot_be_is_refused_at_its_field(shop: TestShop, change: dict[str, Any], field: str) -> None:
    body = {"id": new_id(), "name": "Razorbill", "about": "", "kind": "knee-inch", "walked": walked(**change)}
    problem = shop.haldane.fails(422, "/api/machines", body)
    assert [e["field"] for e in problem["errors"]] == [field]
    assert problem["errors"][0]["bound"]


@pytest.mark.parametrize(
    ("handle", "field"),
    [
        ({"clockwise": "up"}, "walked.handles.0"),
        ({"per_turn": "0"}, "walked.handles.0"),
        ({"graduations": 9}, "walked.handles.0.graduations"),
        ({"graduations": 1001}, "walked.handles.0.graduations"),
        ({"unit": "ft"}, "walked.handles.0.unit"),
    ],
)
def test_a_handle_that_cannot_be_is_refused_at_its_field(shop: TestShop, handle: dict[str, Any], field: str) -> None:
    handles = walked()["handles"]
    handles[0] |= handle
    body = {"id": new_id(), "name": "Razorbill", "about": "", "kind": "knee-inch", "walked": walked(handles=handles)}
    assert [e["field"] for e in shop.haldane.fails(422, "/api/machines", body)["errors"]] == [field]


def test_a_machine_is_entered_once_and_under_a_name_of_its_own(shop: TestShop) -> None:
    body = {
        "id": new_id(),
        "name": "Guillemot",
        "about": "by the door",
        "kind": "bench-metric",
        "walked": walked("bench-metric"),
    }
    one, two = shop.haldane.post("/api/machines", body), shop.haldane.post("/api/machines", body)
    assert one == two
    shop.haldane.fails(409, "/api/machines", {**body, "name": "Auk"})
    assert shop.haldane.fails(422, "/api/machines", {**body, "id": new_id()})["errors"][0]["field"] == "name"
    petrel = shop.haldane.get(f"/api/machines/{PETREL}")["machine"]["name"].upper()
    assert shop.haldane.fails(422, "/api/machines", {**body, "id": new_id(), "name": petrel})["errors"]
    assert (
        shop.haldane.fails(422, "/api/machines", {**body, "id": new_id(), "name": "Auk", "kind": "lathe"})["errors"][0][
            "field"
        ]
        == "kind"
    )


@pytest.mark.parametrize("kind", [k.id for k in shipped.machine_kinds()])
def test_every_kind_is_an_entry_that_can_be(kind: str) -> None:
    found = next(k for k in shipped.machine_kinds() if k.id == kind)
    assert read_machine_kind(found.model_dump(mode="json")) == found
    from incudo.core.shop.kinds import Walked

    assert as_walked(found, Walked(**walked(kind))) == found.spec


# ---- checks of gauges


#: The day of the next check.
NEXT = (datetime.now(UTC).date() + timedelta(days=400)).isoformat()


def look_of(*read: tuple[str, str], **change: Any) -> dict[str, Any]:
    """What a micrometer of 0 to 1 in read on blocks: each with its readings."""
    given = read or (("0", "0.0000"), ("0.5", "0.5001 0.5000"), ("1", "1.0001"))
    blocks = [{"size": s, "readings": r.split()} for s, r in given]
    return {"blocks": blocks, "blocks_sure": "0.00002", "uncertainty": "0.0002", **change}


def checked(*read: tuple[str, str], **change: Any) -> dict[str, Any]:
    named = {"id": new_id(), "standard": "Gauge blocks, set 1", "fine": True, "due": NEXT}
    return {**look_of(*read), **named, "pin": PINS["haldane"], **change}


def new_gauge(shop: TestShop, **change: Any) -> str:
    body = gauge(**change)
    shop.haldane.post("/api/gauges", body)
    return str(body["id"])


def row_of(shop: TestShop, ident: str) -> dict[str, Any]:
    found: dict[str, Any] = next(i for i in shop.haldane.get("/api/shop")["instruments"] if i["id"] == ident)
    return found


def test_a_check_that_holds_moves_the_zero_and_the_day_of_the_next(shop: TestShop) -> None:
    ident = new_gauge(shop)
    path = f"/api/gauges/{ident}/checks"
    read = (("0", "0.0004"), ("0.5", "0.5004 0.5005"), ("1", "1.0005"))
    seen = shop.haldane.post(f"{path}/look", look_of(*read))
    assert (seen["zero_error"], seen["holds"]) == ("0.0004", True)
    assert [p["left"] for p in seen["points"]] == ["0.00000", "0.00005", "0.00010"]
    assert shop.haldane.get(path)["past"] == [], "a look keeps nothing"
    body = checked(*read)
    first, again = shop.haldane.post(path, body), shop.haldane.post(path, body)
    assert first == again
    assert [(c["by"], c["holds"], c["due"]) for c in first["past"]] == [("Mara Haldane", True, NEXT)]
    row = row_of(shop, ident)
    assert (row["zero_error"], row["due"], row["cannot_decide"]) == ("0.0004", NEXT, "")
    shop.haldane.fails(409, f"/api/gauges/{new_gauge(shop)}/checks", body)


def test_a_check_that_fails_closes_the_gauge_until_it_is_mended_or_called_less_sure(shop: TestShop) -> None:
    ident = new_gauge(shop)
    path = f"/api/gauges/{ident}/checks"
    read = (("0", "0"), ("0.5", "0.5"), ("1", "1.0004"))
    before = row_of(shop, ident)
    failed = shop.haldane.post(path, checked(*read))
    assert not failed["past"][0]["holds"]
    assert "Outside its uncertainty of ±0.0002 in" in failed["past"][0]["words"]
    assert failed["past"][0]["due"] is None
    row = row_of(shop, ident)
    assert "failed its check" in row["tagged_out"]
    assert (row["due"], row["zero_error"]) == (before["due"], before["zero_error"])
    # entered as less sure it holds; the tag is an instructor's to clear
    assert shop.haldane.post(path, checked(*read, uncertainty="0.0004"))["past"][0]["holds"]
    row = row_of(shop, ident)
    assert "failed its check" in row["tagged_out"]
    assert row["sure"]["inch"] == "0.0004"
    tag = next(x for x in shop.haldane.get("/api/tags")["tags"] if "failed its check" in x["note"])
    shop.haldane.post(f"/api/tags/{tag['id']}/clear", {"note": "called less sure", "pin": PINS["haldane"]})
    assert row_of(shop, ident)["cannot_decide"] == ""
    past = shop.haldane.get(path)["past"]
    assert [(c["holds"], c["uncertainty"]) for c in past] == [(True, "0.0004"), (False, "0.0002")]


def test_what_was_measured_since_it_passed_is_named(shop: TestShop) -> None:
    """What a check that fails calls into question: the parts since the last one that it passed, and no others."""
    ident = new_gauge(shop)
    path = f"/api/gauges/{ident}/checks"
    values = tuple((n, v, ident if n == 3 else tool) for n, v, tool in GOOD_BLOCK)
    first, assignment, _, hand_in = shop.compared(values, (3, "0.9981", M01))
    page = shop.haldane.get(path)
    assert page["since"] is None
    assert [(j["assignment"], j["part"], j["readings"], j["accepted"]) for j in page["judged"]] == [
        (assignment, "Tide block", 2, False)
    ]
    assert page["judged"][0]["student"] == first.me["name"]
    shop.decide(hand_in)
    assert [j["accepted"] for j in shop.haldane.get(path)["judged"]] == [True]
    passed = shop.haldane.post(path, checked())
    assert (passed["since"], passed["judged"]) == (passed["past"][0]["at"], [])
    second = shop.ready_student()
    again, attempt = shop.assign(second)
    second.read(attempt, 3, "0.9982", ident)
    second.read(attempt, 1, "2.4985", CALIPER)
    failed = shop.haldane.post(path, checked(("0", "0"), ("0.5", "0.5"), ("1", "1.001")))
    assert [(j["assignment"], j["readings"]) for j in failed["judged"]] == [(again, 1)]


def test_one_check_after_the_other_and_each_once(shop: TestShop) -> None:
    ident = new_gauge(shop)
    path = f"/api/gauges/{ident}/checks"
    body = checked()
    fails = [checked(("0", "0"), ("0.5", "0.5"), ("1", "1.001")) for _ in range(3)]
    bosses = [shop.person("haldane") for _ in range(3)]
    for bodies in ([body] * 3, fails):
        acts = [
            lambda b=b, who=who: who.ask("POST", path, b).status_code for who, b in zip(bosses, bodies, strict=True)
        ]
        assert set(at_once(acts)) == {200}
    assert len(shop.haldane.get(path)["past"]) == 4
    open_tags = [x for x in shop.haldane.get("/api/tags")["tags"] if "failed its check" in x["note"]]
    assert len([x for x in open_tags if x["instrument"] == ident]) == 1


def test_a_gauge_that_answers_is_looked_at(shop: TestShop) -> None:
    ident = new_gauge(shop, like="finish")
    path = f"/api/gauges/{ident}/checks"
    assert shop.haldane.get(path)["sizes"] == []
    by_eye = checked(blocks=[], blocks_sure="0", uncertainty="0")
    assert shop.haldane.post(path, by_eye)["past"][0]["words"] == "Inspected: undamaged."
    shop.haldane.post(path, by_eye | {"id": new_id(), "fine": False})
    assert "failed its check" in row_of(shop, ident)["tagged_out"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"blocks": []}, "blocks"),
        ({"blocks": [{"size": "0", "readings": ["0"]}] * 3}, "blocks"),
        ({"blocks": [{"size": str(n), "readings": ["x"]} for n in (0, 0.5, 1)]}, "blocks.0.readings.0"),
        ({"blocks": [{"size": str(n), "readings": ["0"]} for n in (0, 0.5, 2)]}, "blocks.2.size"),
        ({"blocks_sure": "0.001"}, "blocks_sure"),
        ({"blocks_sure": "sure"}, "blocks_sure"),
        ({"uncertainty": "0.00001"}, "uncertainty"),
        ({"uncertainty": "0.6"}, "uncertainty"),
        ({"standard": " "}, "standard"),
        ({"due": "2020-01-01"}, "due"),
        ({"due": "2099-01-01"}, "due"),
        ({"due": "soon"}, "due"),
    ],
)
def test_a_wrong_check_is_said_at_its_field_and_nothing_is_kept(
    shop: TestShop, change: dict[str, Any], field: str
) -> None:
    path = f"/api/gauges/{new_gauge(shop)}/checks"
    refused = shop.haldane.fails(422, path, checked(**change))
    assert [e["field"] for e in refused["errors"]] == [field], refused
    assert shop.haldane.get(path)["past"] == []


# ---- workholding and cutters


@pytest.mark.parametrize("kind", [k.id for k in shipped.holding_kinds()])
def test_each_kind_of_workholding_can_be_entered_as_it_is_offered(shop: TestShop, kind: str) -> None:
    offered = next(k for k in shop.haldane.get("/api/workholding")["kinds"] if k["id"] == kind)
    body = {"id": new_id(), "name": f"{kind} {new_id()[-6:]}", "of": offered["of"]}
    for _ in range(2):
        listed = shop.haldane.ask("PUT", "/api/workholding", body).get_json()["holding"]
        assert [h["of"] for h in listed if h["id"] == body["id"]] == [offered["of"]]


@pytest.mark.parametrize(
    ("of", "said"),
    [
        ({"jaw": "60"}, "jaw: must be from 0.98 to 15.75 in"),
        ({"depth": "0"}, "depth"),
        ({"opening": "x"}, "opening"),
        ({"bolts": ""}, "bolts"),
        ({"bolts_before": "-1"}, "bolts_before"),
        ({"kind": "magnet"}, "of"),
    ],
)
def test_wrong_workholding_is_said_at_its_field(shop: TestShop, of: dict[str, str], said: str) -> None:
    vise = next(k["of"] for k in shop.haldane.get("/api/workholding")["kinds"] if k["id"] == "vise-6in")
    body = {"id": new_id(), "name": "Wrong vise", "of": vise | of}
    refused = shop.haldane.fails(422, "/api/workholding", body, method="PUT")
    assert said in str(refused["errors"]), refused
    assert "Wrong vise" not in str(shop.haldane.get("/api/workholding"))


def test_a_cutter_that_nothing_holds_is_not_planned_with(shop: TestShop) -> None:
    """Nothing is said of holders until some are entered for a machine's taper; then of each cutter that none holds."""
    haldane, student = shop.haldane, uuid.UUID(shop.student().id)
    taper = f"Taper {new_id()[-6:]}"
    collets = {"kind": "tool-holders", "way": "collet", "taper": taper.upper(), "unit": "mm", "count": 1}

    def there() -> PlanShop:
        """What a plan is made with on Petrel, had it another taper."""

        def ask(w: Any) -> PlanShop:
            spec = json.loads(find(w, t.Machine, uuid.UUID(PETREL), "machine").spec)
            spec["spindle"]["taper"] = taper
            machine = t.Machine(id=uuid.UUID(PETREL), name="Petrel", spec=json.dumps(spec))
            return plan_shop(w, machine, student, piece_for(w, uuid.UUID(TIDE_V1)))

        return shop.unit.run(ask)

    def unheld() -> dict[str, str]:
        """How cutters are held that cannot be, and what is said of it."""
        return {c.cutter.holder: c.unheld for c in there().crib.values() if c.unheld}

    assert unheld() == {}
    for way in ("tap-wrench", "magnet", ""):
        body = {"id": new_id(), "name": "Odd holders", "of": {**collets, "way": way}}
        refused = haldane.fails(422, "/api/workholding", body, method="PUT")
        assert next(e["field"] for e in refused["errors"]).startswith("of"), refused
    assert unheld() == {}
    haldane.put("/api/workholding", {"id": new_id(), "name": f"Collets {taper}", "of": collets})
    # what is held in a collet can be held now; a guided tap wrench sits in no taper
    assert not {"collet", "tap-wrench"} & unheld().keys()
    assert unheld()["chuck"] == f"It is held in: Drill chuck. The shop has none for a {taper}."
    # how wide they are: as is usual, until it was measured; of several the widest, since nobody says which it will be
    assert (there().nose("collet"), there().nose("chuck")) == (50, 50)
    for unit, nose, widest in (("mm", "44", "44"), ("in", "1.9", "48.26"), ("mm", "30", "48.26")):
        of = collets | {"unit": unit, "nose": nose}
        haldane.put("/api/workholding", {"id": new_id(), "name": f"Collets {nose} {taper}", "of": of})
        assert there().nose("collet") == Fraction(widest)
    for nose in ("4.9", "201"):
        body = {"id": new_id(), "name": "Odd holders", "of": collets | {"nose": nose}}
        assert "from 5 to 200 mm" in str(haldane.fails(422, "/api/workholding", body, method="PUT"))


def drawer(**change: Any) -> dict[str, Any]:
    body = {"id": new_id(), "kind": "end mill", "unit": "in", "sizes": ["1/8", "3/8"], "owned": 2, "teeth": 4}
    empty = dict.fromkeys(("length", "angle", "tap", "dial", "holder", "place"), "")
    return {**empty, **body, "made_of": "high-speed steel", "name": f"Mill {new_id()[-8:]}", **change}


def test_what_is_low_is_what_there_are_fewer_of_than_the_shop_keeps(shop: TestShop) -> None:
    haldane = shop.haldane

    def low() -> dict[str, int]:
        return {x["name"]: x["lacking"] for x in haldane.get("/api/stock")["low"] if x["name"].startswith(called)}

    called = f"Mill {new_id()[-8:]}"
    page = haldane.post("/api/cutters", drawer(name=called, owned=3, keep=3, sizes=["3/8"]))
    (mill,) = (c for c in page["cutters"] if c["of"]["name"].startswith(called))
    name, where = mill["of"]["name"], f"/api/cutters/{mill['id']}"
    assert low() == {}
    issue = {"id": new_id(), "person": shop.student().id, "cutter": mill["id"], "instrument": None, "note": ""}
    haldane.post("/api/crib/issues", issue)
    assert low() == {}, "what is out comes back"
    haldane.post(f"/api/crib/issues/{issue['id']}/return", {"condition": "broken", "note": "in the slot"})
    assert low() == {name: 1}
    # who does not say how many are kept leaves it as it is
    haldane.put(where, {"measured": "", "owned": 1, "place": ""})
    assert low() == {name: 2}
    haldane.post("/api/tags", {"id": new_id(), "cutter": mill["id"], "note": "chipped corner"})
    assert low() == {name: 3}, "a tagged one is not there"
    haldane.put(where, {"measured": "", "owned": 1, "keep": 0, "place": ""})
    assert low() == {}
    # how far it stands out of its holder: kept until somebody says otherwise, and never less than it cuts
    page = haldane.post("/api/cutters", drawer(name=f"{called} long", sizes=["1/2"], length="1.25", stickout="1.75"))
    (long,) = (c for c in page["cutters"] if c["of"]["name"].startswith(f"{called} long"))
    its_own = f"/api/cutters/{long['id']}"

    def stickout(**change: str) -> str | None:
        page = haldane.put(its_own, {"measured": "", "owned": 2, "place": "", **change})
        return next(c["of"]["stickout"] for c in page["cutters"] if c["id"] == long["id"])

    assert [stickout(), stickout(stickout="1.25"), stickout(stickout="")] == ["1.75", "1.25", None]
    for wrong in ("1.249", "14"):
        body = {"measured": "", "owned": 2, "place": "", "stickout": wrong}
        assert [e["field"] for e in haldane.fails(422, its_own, body, method="PUT")["errors"]] == ["stickout"]
    several = drawer(stickout="1.75")
    assert [e["field"] for e in haldane.fails(422, "/api/cutters", several)["errors"]] == ["stickout"]
    for keep in (-1, 1000):
        refused = haldane.fails(422, where, {"measured": "", "owned": 1, "keep": keep, "place": ""}, method="PUT")
        assert [e["field"] for e in refused["errors"]] == ["keep"]


def test_workholding_goes_out_as_a_file_and_comes_in(shop: TestShop) -> None:
    for one in shop.haldane.get("/api/workholding")["holding"]:
        whole = {k: one[k] for k in ("name", "of")}
        assert shop.haldane.post("/api/workholding/read", {"file": json.dumps(whole)}) == whole


@pytest.mark.parametrize(
    ("file", "field"),
    [
        ("no JSON", "file"),
        ("[]", "file"),
        ("{}", "name"),
        ('{"name": "x", "of": {}}', "name"),
        ('{"name": "Vise"}', "of"),
        ('{"name": "Vise", "of": {"kind": "magnet"}}', "of"),
        ('{"name": "Vise", "of": {"kind": "clamps"}}', "of.clamps.unit"),
    ],
)
def test_a_file_that_holds_no_workholding_is_refused_at_its_field(shop: TestShop, file: str, field: str) -> None:
    refused = shop.haldane.fails(422, "/api/workholding/read", {"file": file})
    assert field in [e["field"] for e in refused["errors"]]


def test_a_drawer_is_entered_at_once_and_once(shop: TestShop) -> None:
    body = drawer(holder="collet", place="drawer 9")
    first, again = (shop.haldane.post("/api/cutters", body)["cutters"] for _ in range(2))
    assert first == again
    mine = [c["of"] for c in first if c["of"]["name"].startswith(body["name"])]
    assert [(c["diameter"], c["owned"], c["place"]) for c in mine] == [
        ("0.125", 2, "drawer 9"),
        ("0.375", 2, "drawer 9"),
    ]
    assert shop.haldane.fails(422, "/api/cutters", body | {"id": new_id()})["errors"][0]["field"] == "sizes"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"sizes": []}, "sizes"),
        ({"sizes": ["1/8", "one"]}, "sizes"),
        ({"sizes": ["1/8", ""]}, "sizes"),
        ({"owned": 0}, "owned"),
        ({"owned": 1000}, "owned"),
        ({"teeth": 9}, "teeth"),
        ({"made_of": "cheese"}, "made_of"),
        ({"kind": "spoon"}, "kind"),
        ({"holder": "pocket"}, "holder"),
        ({"length": "-1"}, "length"),
        ({"place": "x" * 41}, "place"),
        ({"id": "no id"}, "id"),
    ],
)
def test_a_wrong_drawer_is_said_at_its_field_and_nothing_of_it_is_entered(
    shop: TestShop, change: dict[str, Any], field: str
) -> None:
    body = drawer(**change)
    refused = shop.haldane.fails(422, "/api/cutters", body)
    assert [e["field"].split(".")[0] for e in refused["errors"]] == [field], refused
    assert body["name"] not in str(shop.haldane.get("/api/stock"))


# ---- gauges


def gauge(like: str = "micrometer-1", **change: Any) -> dict[str, Any]:
    entry = next(k for k in shipped.gauge_kinds() if k.id == like).model_dump(exclude={"id", "name"})
    fields = {k: change.pop(k) for k in list(change) if k in entry}
    body = {"id": new_id(), "name": f"Gauge {new_id()[-8:]}", "entry": {**entry, **fields}, "thread": ""}
    return {**body, "due": "2036-01-01", **change}


def test_another_gauge_like_one_of_the_shops_has_its_numbers_and_not_its_error(shop: TestShop) -> None:
    ident = new_gauge(shop, uncertainty="0.00015")
    shop.haldane.post(f"/api/gauges/{ident}/checks", checked(("0", "0.0004"), ("0.5", "0.5004"), ("1", "1.0004")))
    name = row_of(shop, ident)["name"]
    kinds = shop.haldane.get("/api/gauge-kinds")["kinds"]
    like = next(k for k in kinds if k["id"] == ident)
    assert (like["name"], like["own"]) == (f"Another like {name}", True)
    body = gauge() | {"entry": like["entry"], "thread": like["thread"]}
    shop.haldane.post("/api/gauges", body)
    row = row_of(shop, body["id"])
    assert (row["zero_error"], row["sure"]["inch"]) == ("0", "0.0002")
    assert [k["id"] for k in kinds if not k["own"]] == [k.id for k in shipped.gauge_kinds()]


@pytest.mark.parametrize("kind", [k.id for k in shipped.gauge_kinds()])
def test_each_kind_of_gauge_can_be_entered_as_it_is_offered(shop: TestShop, kind: str) -> None:
    body = gauge(kind, thread="M8" if kind == "thread" else "")
    assert shop.haldane.post("/api/gauges", body) == shop.haldane.post("/api/gauges", body)
    (row,) = (i for i in shop.haldane.get("/api/shop")["instruments"] if i["id"] == body["id"])
    assert row["cannot_decide"] == "", "it decides from the first day"


@pytest.mark.parametrize(
    ("kind", "change", "field"),
    [
        ("micrometer-1", {"most": "0"}, "entry"),
        ("micrometer-1", {"least": "1.01"}, "entry"),
        ("micrometer-1", {"resolution": "0"}, "entry"),
        ("micrometer-1", {"uncertainty": "0.51"}, "entry"),
        ("micrometer-1", {"uncertainty": "0.00002"}, "entry"),
        ("micrometer-1", {"unit": "ft"}, "entry.unit"),
        ("micrometer-1", {"kind": "ruler"}, "entry.kind"),
        ("micrometer-1", {"thread": "M8"}, "thread"),
        ("thread", {"thread": ""}, "thread"),
        ("thread", {"thread": "M7.5"}, "thread"),
        ("micrometer-1", {"due": "2020-01-01"}, "due"),
        ("micrometer-1", {"due": "soon"}, "due"),
        ("micrometer-1", {"name": "x"}, "name"),
    ],
)
def test_a_gauge_that_cannot_be_is_refused_at_its_field(
    shop: TestShop, kind: str, change: dict[str, str], field: str
) -> None:
    problem = shop.haldane.fails(422, "/api/gauges", gauge(kind, **change))
    assert [e["field"] for e in problem["errors"]] == [field]
    assert problem["errors"][0]["bound"]


def test_a_gauge_is_as_sure_as_a_quarter_of_its_step_at_best_and_due_today_at_the_earliest(shop: TestShop) -> None:
    today = str(shop.clock().date())
    shop.haldane.post("/api/gauges", gauge(uncertainty="0.000025", due=today))
    name = gauge()["name"]
    shop.haldane.post("/api/gauges", gauge(name=name))
    assert shop.haldane.fails(422, "/api/gauges", gauge(name=name.upper()))["errors"][0]["field"] == "name"


# ---- how the shop works


def test_what_is_not_said_of_the_shop_stays_as_it_is(shop: TestShop) -> None:
    was = shop.haldane.get("/api/shop")
    named = shop.haldane.put("/api/shop", {"school": was["school"], "name": "  Harbour Road ", "confirmed_minutes": 45})
    assert (named["name"], named["confirmed_minutes"]) == ("Harbour Road", 45)
    assert shop.haldane.get("/api/me")["shop"] == "Harbour Road"
    assert named["minutes_offered"] == [15, 30, 45, 60]
    odd = shop.haldane.put("/api/shop", {"school": was["school"], "confirmed_minutes": 50})
    assert odd["minutes_offered"] == [15, 30, 45, 50, 60]
    shop.haldane.put("/api/shop", {"school": was["school"], "confirmed_minutes": 45})
    after = shop.haldane.put("/api/shop", {"school": "bare_limits"})
    assert (after["school"], after["name"], after["confirmed_minutes"]) == ("bare_limits", "Harbour Road", 45)
    assert (after["projection"], after["setup_rules"]) == (was["projection"], was["setup_rules"])
    for field, value in (("name", "x"), ("confirmed_minutes", 4), ("confirmed_minutes", 241), ("school", "kind")):
        problem = shop.haldane.fails(422, "/api/shop", {"school": "bare_limits", field: value}, method="PUT")
        assert [e["field"] for e in problem["errors"]] == [field]
