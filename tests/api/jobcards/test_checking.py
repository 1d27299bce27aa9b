"""The blind check, the comparison, the decision, and what they are evidence for."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.shop import (
    CALIPER,
    GOOD_BLOCK,
    INDICATOR,
    M01,
    M12,
    PINS,
    TestShop,
    new_id,
    reading,
    shown,
    sign_off,
)

#: Values that occur nowhere else, so that finding one in a body means it leaked.
MARKED = (
    (1, "2.49873", CALIPER),
    (2, "1.50037", M12),
    (2, "1.50029", M12),
    (3, "0.998173", M01),
    (3, "0.998127", M01),
    (4, "0.000817", INDICATOR),
    (5, "0.001023", INDICATOR),
)
SECRETS = [v for _, v, _ in MARKED] + ["0.99815", "1.50033"]


def everything(shop: TestShop, person: Any, student: Any, assignment: str, hand_in: str) -> str:
    """The body of every response that an assessor can get at, in one text."""
    paths = [
        "/api/floor",
        "/api/class",
        "/api/shop",
        "/api/projects",
        f"/api/students/{student.id}/skills",
        f"/api/job-cards/{assignment}",
        f"/api/hand-ins/{hand_in}",
        *(
            f"/api/registers/{name}{end}"
            for name in ("readings", "decisions", "sign_offs", "withdrawals", "assignments")
            for end in ("?page=1", "?page=2", "/file")
        ),
    ]
    bodies = []
    for path in paths:
        answer = person.ask("GET", path)
        assert answer.status_code in (200, 403), path
        bodies.append(answer.get_data(as_text=True))
    if person.me["role"] == "instructor":
        taken = person.ask("POST", f"/api/people/{student.id}/data", {"pin": PINS["haldane"]})
        assert taken.status_code == 200
        bodies.append(taken.get_data(as_text=True).partition('"not_in_it"')[0])
    return "\n".join(bodies)


def test_no_body_holds_the_students_values_before_ones_own_are_saved(shop: TestShop) -> None:
    student, assignment, attempt, hand_in = shop.handed_in(MARKED)
    for person in (shop.haldane, shop.dacosta):
        seen = everything(shop, person, student, assignment, hand_in)
        assert not [s for s in SECRETS if s in seen]
        assert "out_metal" not in person.ask("GET", f"/api/job-cards/{assignment}").get_data(as_text=True)
        refused = person.fails(403, f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
        assert "at least one reading of your own" in refused["detail"]
    saved = shop.haldane.check(attempt, 3, "0.9981", M01)
    assert not [s for s in SECRETS if s in json.dumps(saved)], "nor does the answer to their own reading"
    seen = everything(shop, shop.haldane, student, assignment, hand_in)
    assert not [s for s in SECRETS if s in seen], "saved, but not opened yet"
    opened = shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    assert "0.998173" in json.dumps(opened)
    assert "0.998173" in everything(shop, shop.haldane, student, assignment, hand_in)
    seen = everything(shop, shop.dacosta, student, assignment, hand_in)
    assert not [s for s in SECRETS if s in seen], "the other assessor still measures blind"
    assert "0.998173" in everything(shop, shop.thorley, student, assignment, hand_in), "the auditor reads all"


def test_before_hand_in_an_assessor_sees_no_values_either(shop: TestShop) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    student.read(attempt, 3, "0.998173", M01)
    card = shop.haldane.get(f"/api/job-cards/{assignment}")
    assert "0.998173" not in json.dumps(card)
    assert card["hidden"]
    assert card["pointer"] > 5, "that they measure is no secret"
    shop.haldane.fails(409, f"/api/attempts/{attempt}/check-readings", reading(3, "0.9981", M01))


def test_the_student_does_not_see_the_check_before_it_is_decided(shop: TestShop) -> None:
    student, assignment, attempt, hand_in = shop.handed_in()
    shop.haldane.check(attempt, 3, "0.997973", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    for path in (f"/api/job-cards/{assignment}", "/api/bench"):
        assert "0.997973" not in json.dumps(student.get(path))


def test_a_reading_after_seeing_is_marked(shop: TestShop) -> None:
    _, _, attempt, hand_in = shop.compared()
    shop.haldane.check(attempt, 5, "0.0011", INDICATOR)
    rows = shop.haldane.get(f"/api/hand-ins/{hand_in}")["rows"]
    assert [r["blind"] for r in rows[2]["mine"]] == [True]
    assert [r["blind"] for r in rows[4]["mine"]] == [False]


@pytest.mark.parametrize(
    ("mine", "agrees"), [("0.99815", True), ("0.9984", True), ("0.9985", False), ("0.9978", False)]
)
def test_both_agree_within_their_uncertainties(shop: TestShop, mine: str, agrees: bool) -> None:
    """U of both is 0.0002, so they agree up to 0.00028 apart: 0.9984 is 0.00025 off, 0.9985 too much."""
    _, _, _, hand_in = shop.compared(GOOD_BLOCK, (3, mine, M01))
    row = shop.haldane.get(f"/api/hand-ins/{hand_in}")["rows"][2]
    assert row["agrees"] is agrees


def test_two_characteristics_are_proposed_and_the_tightest_is_one(shop: TestShop) -> None:
    _, _, _, hand_in = shop.handed_in()
    rows = shop.haldane.get(f"/api/hand-ins/{hand_in}")["rows"]
    proposed = [r["number"] for r in rows if r["proposed"]]
    assert len(proposed) == 2
    assert 4 in proposed


OUT = tuple((n, "1.5046" if n == 2 else v, t) for n, v, t in GOOD_BLOCK)


def test_rework_begins_a_new_round(shop: TestShop) -> None:
    student, assignment, attempt, hand_in = shop.compared(OUT)
    problem = shop.haldane.fails(422, f"/api/hand-ins/{hand_in}/decision", {"id": new_id(), "dispositions": []})
    assert [e["field"] for e in problem["errors"]] == ["dispositions.2"]
    sheet = shop.decide(hand_in, {"characteristic": 2, "kind": "rework", "reason": "take 0.002 off"}, remark="Nearly.")
    assert sheet["card"]["decisions"][0]["outcome"] == "rework"
    card = student.get(f"/api/job-cards/{assignment}")
    width = card["characteristics"][1]
    assert width["rework"]
    assert width["finding"]["verdict"] == "not_measured", "what was measured before the rework is gone"
    assert card["characteristics"][2]["finding"]["verdict"] == "in", "the others carry over"
    assert next(s["state"] for s in card["stations"] if s["station"] == "cut") == "repeat"
    student.fails(422, f"/api/attempts/{attempt}/hand-ins", {"id": new_id(), "at": "2026-11-24T10:00:00Z"})
    for value in ("1.5010", "1.5012"):
        student.read(attempt, 2, value, M12)
    second = student.hand_in(attempt)
    blind = shop.haldane.get(f"/api/hand-ins/{second}")
    assert not blind["opened"]
    assert "1.5012" not in json.dumps(blind), "the second round is blind again"
    bench = student.get("/api/bench")
    assert bench["said"]["decision"]["remark"] == "Nearly."
    shop.haldane.check(attempt, 2, "1.5011", M12)
    shop.haldane.post(f"/api/hand-ins/{second}/comparison", {"id": new_id()})
    shop.decide(second)
    skills = shop.haldane.get(f"/api/students/{student.id}/skills")["skills"]
    state = {s["skill"]["id"]: s["on"][0]["state"] for s in skills}
    assert state["square-block"] == "open", "a reworked characteristic is no evidence by itself"


def test_what_was_handed_in_goes_no_further_and_is_not_handed_in_again(shop: TestShop) -> None:
    """Neither while it waits nor when it is accepted, though not a station was ticked before."""
    student, _, attempt, hand_in = shop.compared()

    def refused() -> None:
        plan = {"id": new_id(), "station": "plan", "at": "2026-11-28T18:00:00Z"}
        student.fails(409, f"/api/attempts/{attempt}/stations", plan)
        again = {"id": new_id(), "at": "2026-11-28T18:00:00Z"}
        student.fails(409, f"/api/attempts/{attempt}/hand-ins", again)

    refused()
    shop.decide(hand_in)
    refused()


def test_scrap_starts_a_new_piece(shop: TestShop) -> None:
    gone = tuple((n, "0.9948" if n == 3 else v, t) for n, v, t in GOOD_BLOCK)
    student, assignment, attempt, hand_in = shop.compared(gone, (3, "0.9948", M01))
    decision = f"/api/hand-ins/{hand_in}/decision"
    rework = {"id": new_id(), "dispositions": [{"characteristic": 3, "kind": "rework"}]}
    assert "metal is gone" in shop.haldane.fails(422, decision, rework)["detail"]
    unreasoned = {"id": new_id(), "dispositions": [{"characteristic": 3, "kind": "accept"}]}
    assert "needs a reason" in shop.haldane.fails(422, decision, unreasoned)["detail"]
    shop.decide(hand_in, {"characteristic": 3, "kind": "scrap", "reason": "knee crept"})
    card = student.get(f"/api/job-cards/{assignment}")
    assert card["attempt_number"] == 2
    assert card["attempt"] != attempt
    assert not any(c["readings"] for c in card["characteristics"])
    late = student.read(attempt, 3, "0.9948", M01)
    assert late["reading"]["late"], "the old piece takes nothing more that counts"


def test_the_assessors_reading_is_the_record(shop: TestShop) -> None:
    """The student reads it in, the instructor measures it out: it is out."""
    _, _, _, hand_in = shop.compared(GOOD_BLOCK, (3, "1.0012", M01))
    row = shop.haldane.get(f"/api/hand-ins/{hand_in}")["rows"][2]
    assert row["their_finding"]["verdict"] == "in"
    assert row["of_record"] == "out_metal_left"


def test_one_good_check_does_not_make_the_students_bad_spot_good(shop: TestShop) -> None:
    _, _, _, hand_in = shop.compared(OUT, (2, "1.5004", M12))
    row = shop.haldane.get(f"/api/hand-ins/{hand_in}")["rows"][1]
    assert row["my_finding"]["verdict"] == "in"
    assert row["of_record"] == "out_metal_left", "two spots are asked for, one was checked"


def test_accepted_parts_become_evidence_and_skills_are_signed(shop: TestShop) -> None:
    student, assignment, _, hand_in = shop.compared()
    before = shop.haldane.get("/api/floor")["line"]
    assert [w for w in before if w["hand_in"] == hand_in]
    one = {"id": new_id(), "dispositions": [], "remark": "Good."}
    path = f"/api/hand-ins/{hand_in}/decision"
    first = shop.haldane.post(path, one)
    assert shop.haldane.post(path, one) == first, "sent twice, decided once"
    assert "another decision" in shop.haldane.fails(409, path, one | {"remark": "Bad."})["detail"]
    assert "decided already" in shop.haldane.fails(409, path, one | {"id": new_id()})["detail"]
    line = shop.haldane.get("/api/floor")["line"]
    assert not [w for w in line if w["hand_in"] == hand_in]
    ready = {w["detail"] for w in line if w["student"]["id"] == student.id}
    assert ready == {"Squaring a block"}, "for the micrometer, its reading is practised as well"
    shop.reach(student, "reading", 2, times=2)
    line = shop.haldane.get("/api/floor")["line"]
    ready = {w["detail"] for w in line if w["student"]["id"] == student.id}
    assert ready == {"Measuring with a micrometer", "Squaring a block"}
    shop.sign(student.id, "measure-micrometer", "square-block")
    skills = student.get(f"/api/students/{student.id}/skills")
    assert {
        m["answer"] for m in skills["may"] if m["operation"] == "Squaring a block" and m["machine"] == "Petrel"
    } == {"allowed"}
    card = student.get(f"/api/job-cards/{assignment}")
    assert card["pointer"] == 7


def test_accepted_with_a_reason_is_evidence_only_if_the_instructor_says_so(shop: TestShop) -> None:
    for counts, state in ((False, "open"), (True, "ready")):
        student, _, _, hand_in = shop.compared(OUT)
        shop.decide(hand_in, {"characteristic": 2, "kind": "accept", "reason": "it serves", "counts": counts})
        skills = shop.haldane.get(f"/api/students/{student.id}/skills")["skills"]
        assert {s["skill"]["id"]: s["on"][0]["state"] for s in skills}["square-block"] == state


def sign(student: str, skill: str, pin: str, machine: str | None = None) -> dict[str, Any]:
    return sign_off(student, pin, shown(skill, machine))


def test_nobody_signs_what_is_not_theirs_to_sign(shop: TestShop) -> None:
    student = shop.ready_student()
    own_ = sign(shop.haldane.id, "person", PINS["haldane"])
    assert "for themselves" in shop.haldane.fails(403, "/api/sign-offs", own_)["detail"]
    early = sign(student.id, "square-block", PINS["haldane"])
    assert "inspected parts: 0 of 1" in shop.haldane.fails(403, "/api/sign-offs", early)["detail"]
    fresh = shop.can_show_person()
    beyond = sign(fresh.id, "person", PINS["dacosta"])
    assert "not delegated to you" in shop.dacosta.fails(403, "/api/sign-offs", beyond)["detail"]
    shop.sign(fresh.id, "measure-rule", "deburr")
    shop.pass_check(fresh, "measuring")
    shop.reach(fresh, "reading", 1, times=2)
    shop.dacosta.post("/api/sign-offs", sign(fresh.id, "measure-caliper", PINS["dacosta"]))
    nobody = sign(shop.thorley.id, "person", PINS["haldane"])
    shop.haldane.fails(404, "/api/sign-offs", nobody)
    own = sign(student.id, "edge-finding", "1234")
    student.fails(403, "/api/sign-offs", own)


def test_what_is_delegated_is_changed_by_the_instructor_and_holds_at_once(shop: TestShop) -> None:
    fresh = shop.can_show_person()
    person = sign_off(fresh.id, PINS["dacosta"], shown("person"))
    before = ["machine-familiarisation", "measure-caliper"]

    def delegate(*skills: str) -> Any:
        return shop.haldane.ask("PUT", "/api/delegations", {"assistant": shop.dacosta.id, "skills": skills})

    shop.dacosta.fails(403, "/api/sign-offs", person)
    try:
        names = [s["name"] for s in delegate("person").get_json()["assistants"][0]["skills"]]
        assert len(names) == 1
        shop.dacosta.post("/api/sign-offs", person)
        caliper = sign_off(shop.ready_student().id, PINS["dacosta"], shown("measure-caliper"))
        assert "not delegated to you" in shop.dacosta.fails(403, "/api/sign-offs", caliper)["detail"]
        for skills, words in ((("facing",), "may sign"), (("no-such",), "may sign")):
            assert words in delegate(*skills).get_json(force=True)["detail"]
        student = {"assistant": fresh.id, "skills": []}
        assert "must be an assistant" in shop.haldane.fails(422, "/api/delegations", student, method="PUT")["detail"]
    finally:
        assert delegate(*before).status_code == 200


def test_several_skills_under_one_pin_are_all_signed_or_none(shop: TestShop) -> None:
    student = shop.can_show_person()
    both = sign_off(student.id, PINS["haldane"], shown("person"), shown("square-block"))
    shop.haldane.fails(403, "/api/sign-offs", both)
    assert shop.states(student)["person"] == "ready", "the first one was not signed either"
    both["skills"] = [shown("person"), shown("wrench")]
    shop.haldane.post("/api/sign-offs", both)
    again = shop.haldane.post("/api/sign-offs", both)
    events = {s["skill"]["id"]: [e["kind"] for e in s["events"]] for s in again["skills"]}
    assert events["person"].count("sign_off") == 1, "sent twice, signed once"
    assert shop.states(student)["wrench"] == "signed", "it rests on the one before it"


def test_not_yet_says_what_to_repeat_and_signs_nothing(shop: TestShop) -> None:
    student = shop.can_show_person()
    after = shop.haldane.post("/api/sign-offs", sign_off(student.id, PINS["haldane"], shown("person", no=(1,))))
    found = next(s for s in after["skills"] if s["skill"]["id"] == "person")
    assert found["on"][0]["state"] == "ready"
    assert found["events"][0]["kind"] == "not_yet"
    assert found["skill"]["points"][0]["text"] in found["events"][0]["words"]
    left_open = shown("person") | {"seen": [{"number": 2, "ok": True}]}
    problem = shop.haldane.fails(422, "/api/sign-offs", sign_off(student.id, PINS["haldane"], left_open))
    assert "answer this point" in problem["detail"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"skills": []}, "skills"),
        ({"skills": [shown("person"), shown("person")]}, "skills"),
        ({"skills": [{"skill": "juggling"}]}, "skill"),
        ({"skills": [{"skill": "x" * 50_000}]}, "skills.0.skill"),
        ({"note": "x" * 401}, "note"),
        ({"student": "orla"}, "student"),
    ],
)
def test_bad_sign_offs(shop: TestShop, change: dict[str, Any], field: str) -> None:
    student = shop.can_show_person()
    body = sign(student.id, "person", PINS["haldane"]) | change
    problem = shop.haldane.fails(422, "/api/sign-offs", body)
    assert field in [e["field"] for e in problem["errors"]]


def test_withdrawing_and_giving_back(shop: TestShop) -> None:
    student = shop.ready_student()
    path = "/api/withdrawals"
    body = {
        "id": new_id(),
        "student": student.id,
        "skill": "while-cutting",
        "reason": "brushed chips beside the turning cutter",
        "place": "Petrel",
        "witness": "Wren Dacosta",
        "done": "stopped, talked through",
        "pin": PINS["haldane"],
    }
    shop.haldane.fails(422, path, body | {"reason": "no"})
    shop.haldane.fails(422, path, body | {"skill": "machine-familiarisation"})
    after = shop.haldane.post(path, body)
    assert shop.haldane.post(path, body) == after
    state = shop.states(student)
    written = next(s["events"][0] for s in after["skills"] if s["skill"]["id"] == "while-cutting")
    assert written["words"].endswith("Petrel · Wren Dacosta · stopped, talked through")
    assert state["while-cutting"] == "withdrawn"
    assert state["general-safety"] == "suspended"
    assert state["facing"] == "suspended"
    shop.haldane.fails(403, path, body | {"id": new_id()})
    row = next(r for r in shop.haldane.get("/api/class")["rows"] if r["student"]["id"] == student.id)
    assert row["worst"] == "withdrawn"
    assert row["may_alone"] == []
    back = {k: body[k] for k in ("student", "skill", "pin")} | {"id": new_id(), "reason": "shown again, sure now"}
    shop.dacosta.fails(403, "/api/restorations", back)
    shop.haldane.post("/api/restorations", back)
    assert shop.states(student)["facing"] == "signed"
    shop.haldane.fails(403, "/api/restorations", back | {"id": new_id()})
