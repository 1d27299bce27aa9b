"""Knowledge checks, the skill graph, class lists, past decisions, papers."""

from __future__ import annotations

import json
import re
import zlib
from datetime import timedelta
from typing import Any

import pytest

from incudo import shipped
from incudo.core.skills.questions import solve
from incudo.store import schema as t
from tests.shop import PETREL, PINS, Person, TestShop, new_id, shown, sign_off

BANK = "surroundings-person"
PATH = f"/api/checks/{BANK}"
LABELS = ("/api/machine-labels.pdf", "/api/gauge-labels.pdf", "/api/cutter-labels.pdf")


def answer(shop: TestShop, view: Any, *, right: bool) -> dict[str, Any]:
    """The body of an answer to the question that is asked."""
    import uuid

    row = shop.unit.run(lambda w: w.db.get(t.CheckTry, uuid.UUID(view["running"])))
    q = view["question"]
    places, number = solve(shipped.banks()[BANK].get(q["id"]), row.seed, shipped.sources())
    if not right:
        count = max(len(q["options"]), len(q["areas"]))
        wrong = [[p] for p in range(count) if (p,) != places]
        places, number = (tuple(reversed(places)) if q["kind"] == "order" else tuple(wrong[0]) if wrong else ()), "-1"
    return {"check": view["running"], "question": q["id"], "places": list(places), "number": number}


def take(shop: TestShop, student: Person, *, right: bool) -> Any:
    view = student.post(f"{PATH}/tries", {"id": new_id()})
    while view["running"]:
        view = student.post(f"{PATH}/answers", answer(shop, view, right=right))
    return view


def test_a_check_is_asked_answered_explained_and_passed(shop: TestShop) -> None:
    student = shop.student()
    assert shop.states(student)["person"] == "open"
    view = student.post(f"{PATH}/tries", {"id": new_id()})
    text = json.dumps(view["question"])
    q = shipped.banks()[BANK].get(view["question"]["id"])
    assert q.why not in text, "nothing of the answer goes out with the question"
    same = student.post(f"{PATH}/tries", {"id": new_id()})
    assert same["question"] == view["question"], "a check that runs goes on"
    first = answer(shop, view, right=True)
    after = student.post(f"{PATH}/answers", first)
    assert (after["last"]["right"], after["last"]["why"], after["last"]["otherwise"]) == (True, q.why, q.otherwise)
    student.post(f"{PATH}/answers", first)
    other = student.ask("POST", f"{PATH}/answers", first | {"places": [0], "number": "1"})
    assert other.status_code in (409, 422), "another answer to the same question is not taken, whatever its kind"
    view = after
    while view["running"]:
        view = student.post(f"{PATH}/answers", answer(shop, view, right=True))
    assert view["result"]["passed"]
    assert shop.states(student)["person"] == "ready"


def test_the_next_try_waits_longer_each_time(shop: TestShop) -> None:
    student = shop.student()
    shop.clock.stand()
    assert not take(shop, student, right=False)["result"]["passed"]
    assert "opens in 10 min" in student.fails(403, f"{PATH}/tries", {"id": new_id()})["detail"]
    shop.clock.ahead = timedelta(minutes=10)
    assert student.get(PATH)["may_begin_at"] is None
    assert not take(shop, student, right=False)["result"]["passed"]
    shop.clock.ahead = timedelta(minutes=29, seconds=59)
    assert "opens in" in student.fails(403, f"{PATH}/tries", {"id": new_id()})["detail"]
    shop.clock.ahead = timedelta(minutes=30)
    assert take(shop, student, right=True)["passed"]
    hardest = shop.haldane.get("/api/banks")["hardest"]
    assert hardest
    assert all(h["wrong"] <= h["answered"] for h in hardest)


def test_another_students_check_is_not_mine(shop: TestShop) -> None:
    one, other = shop.student(), shop.student()
    view = one.post(f"{PATH}/tries", {"id": new_id()})
    other.fails(404, f"{PATH}/answers", answer(shop, view, right=True))
    wrong = answer(shop, view, right=True) | {"question": "no-such"}
    one.fails(422, f"{PATH}/answers", wrong)
    assert one.ask("GET", "/api/checks/ghost").status_code == 404


def test_an_instructor_edits_a_bank_and_asked_questions_stay(shop: TestShop) -> None:
    student = shop.student()
    take(shop, student, right=True)
    detail = shop.haldane.get(f"/api/banks/{BANK}")
    data = json.loads(detail["file"])
    asked = {q["id"] for q in detail["questions"] if q["answered"]}
    keep = [q for q in data["questions"] if q["id"] != min(asked)]
    gone = {"file": json.dumps(data | {"questions": keep})}
    assert "set retired" in shop.haldane.fails(422, f"/api/banks/{BANK}", gone, "PUT")["detail"]
    shop.haldane.fails(422, f"/api/banks/{BANK}", {"file": "{"}, "PUT")
    new = data["questions"][0] | {"id": "brand-new", "text": "Is this question new?"}
    saved = shop.haldane.ask(
        "PUT", f"/api/banks/{BANK}", {"file": json.dumps(data | {"questions": [*data["questions"], new]})}
    )
    assert saved.get_json()["number"] == detail["number"] + 1
    back = shop.haldane.ask("PUT", f"/api/banks/{BANK}", {"file": detail["file"]})
    assert back.status_code == 200


def test_the_graph_goes_out_and_comes_back_the_same(shop: TestShop) -> None:
    kept = shop.haldane.get("/api/skill-graph")
    check = shop.haldane.post("/api/skill-graph/check", {"file": kept["file"]})
    assert (check["added"], check["removed"], check["changed"]) == ([], [], [])
    data = json.loads(kept["file"])
    data["skills"][-1]["shown"].append("says which hole was first")
    change = {"file": json.dumps(data), "number": kept["number"]}
    assert shop.haldane.post("/api/skill-graph/check", {"file": change["file"]})["changed"] == ["Bolt circle"]
    saved = shop.haldane.ask("PUT", "/api/skill-graph", change).get_json()
    assert saved["number"] == kept["number"] + 1
    shop.haldane.fails(409, "/api/skill-graph", change | {"file": kept["file"]}, "PUT")
    shop.haldane.ask("PUT", "/api/skill-graph", {"file": kept["file"], "number": saved["number"]})
    data["skills"] = [s for s in data["skills"] if s["id"] != "square-block"]
    lost = shop.haldane.fails(422, "/api/skill-graph/check", {"file": json.dumps(data)})
    assert lost["errors"]
    assert "square-block" in json.dumps(lost)


def test_the_map_shows_a_student_where_they_are_and_what_is_next(shop: TestShop) -> None:
    student = shop.ready_student()
    mine = student.get("/api/skill-map")
    boxes = {b["skill"]: b for b in mine["boxes"]}
    assert boxes["facing"]["state"] == "signed"
    assert boxes["edge-finding"]["next"]
    assert not boxes["boring"]["next"]
    other = shop.student()
    assert other.ask("GET", f"/api/skill-map?student={student.id}").status_code == 404
    assert shop.haldane.get(f"/api/skill-map?student={student.id}")["held"] == mine["held"]


def test_a_class_list_with_errors_takes_nothing_unless_told(shop: TestShop) -> None:
    mark = new_id()[:8]
    text = f"name,login\nAri Quist,ada{mark}\nBo Renn,orla\nCy Tarn,cy{mark}"
    report = shop.haldane.post("/api/class-lists/check", {"group": "Saturday group", "text": text})
    assert [bool(x["faults"]) for x in report["lines"]] == [False, True, False]
    assert report["new_group"]
    body = {"id": new_id(), "group": "Saturday group", "text": text, "pin": PINS["haldane"]}
    shop.haldane.fails(403, "/api/class-lists", body | {"skip_faulty": True, "pin": "0000"})
    refused = shop.haldane.fails(422, "/api/class-lists", body)
    assert [e["field"] for e in refused["errors"]] == ["line 3"]
    assert "Ari Quist" not in json.dumps(shop.haldane.get("/api/class"))
    taken = shop.haldane.post("/api/class-lists", body | {"skip_faulty": True})
    assert taken["imported"] == 2
    assert [bool(x["code"]) for x in taken["lines"]] == [True, False, True]
    ada = shop.by_slip(taken["lines"][0], "a password of hers")
    assert ada.me["group"] == "Saturday group"
    assert not ada.me["notice_signed"]
    shop.haldane.fails(409, "/api/class-lists", body | {"skip_faulty": True})
    acts = shop.haldane.get(f"/api/people/{ada.id}/acts")["acts"]
    assert [(a["by"], "Added as student" in a["words"]) for a in acts] == [("Ari Quist", False), ("Mara Haldane", True)]
    ada.fails(403, "/api/password", {"old": "guess", "new": "long enough now"})
    ada.post("/api/password", {"old": "a password of hers", "new": "long enough now"})
    assert shop.person(f"ada{mark}", "long enough now").me["name"] == "Ari Quist"


def test_the_notice_is_signed_once_and_stands_in_the_register(shop: TestShop) -> None:
    mark = new_id()[:8]
    body = {"id": new_id(), "group": "Saturday group", "text": f"name,login\nEv Lorn,ev{mark}", "pin": PINS["haldane"]}
    ev = shop.by_slip(shop.haldane.post("/api/class-lists", body)["lines"][0])
    notice = ev.get("/api/notice")
    ev.fails(409, "/api/notice", {"id": new_id(), "version": notice["version"] + 1})
    signed = ev.post("/api/notice", {"id": new_id(), "version": notice["version"]})
    assert ev.post("/api/notice", {"id": new_id(), "version": notice["version"]}) == signed
    assert ev.get("/api/me")["notice_signed"]
    register = shop.thorley.get("/api/registers/safety")["entries"]
    assert next(e["by"] for e in register if "notice" in e["what"]) == "Ev Lorn"


def test_a_decision_of_the_past_is_asked_again(shop: TestShop) -> None:
    student = shop.ready_student()
    before = shop.clock().isoformat()
    path = f"/api/students/{student.id}/decision?operation=facing&machine={PETREL}"
    assert shop.thorley.get(path)["answer"] == "allowed"
    shop.withdraw(student, "facing")
    assert shop.thorley.get(path)["answer"] == "refused"
    from urllib.parse import quote

    then = shop.thorley.get(f"{path}&as_of={quote(before)}&known_at={quote(before)}")
    assert then["answer"] == "allowed"
    assert student.ask("GET", path).status_code == 403


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_papers_are_made_on_both_sheets(shop: TestShop, paper: str) -> None:
    student = shop.ready_student()
    sizes = {"A4": b"/MediaBox [0 0 595.", "Letter": b"/MediaBox [0 0 612 792]"}
    for path in (f"/api/students/{student.id}/skill-record.pdf", "/api/leaflet.pdf", *LABELS):
        response = shop.haldane.client.get(f"{path}?paper={paper}")
        assert response.data.startswith(b"%PDF-"), path
        streams = re.findall(rb"stream\n(.*?)\nendstream", response.data, re.DOTALL)
        assert sizes[paper] in b"".join(zlib.decompressobj().decompress(s) for s in streams), path
    other = shop.student()
    assert other.ask("GET", f"/api/students/{student.id}/skill-record.pdf").status_code == 404


def test_the_assistant_signs_only_what_is_delegated(shop: TestShop) -> None:
    student = shop.student("measure-rule", "deburr")
    shop.pass_check(student, "measuring")
    shop.reach(student, "reading", 1, times=2)
    shop.dacosta.post("/api/sign-offs", sign_off(student.id, PINS["dacosta"], shown("measure-caliper")))
    refused = sign_off(student.id, PINS["dacosta"], shown("wrench"))
    assert "not delegated to you" in shop.dacosta.fails(403, "/api/sign-offs", refused)["detail"]
