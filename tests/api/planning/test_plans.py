"""Plans over the real operations: built, saved, handed in, sent back, approved; who may see what; two at once."""

from __future__ import annotations

import csv
import io
import json
import re
import uuid
from typing import Any

import pytest

from incudo.app.kernel.unit import Who
from incudo.app.planning import acts
from incudo.app.planning.keeping import DecidePlan, SavePlan, decide_plan, keep_plan
from incudo.core.kernel.errors import Conflict
from incudo.core.people.roles import Role
from incudo.core.planning.file import Plan
from incudo.demo.story import key
from incudo.store import schema as t
from tests.at_once import at_once
from tests.shop import DUNLIN, FOR_TIDE, FULMAR, GAUGE, GAUGE_V1, PETREL, POINTS, TUESDAY, Person, TestShop, new_id

FAIRLEAD = str(key("version", "fairlead-plate"))
EMPTY: dict[str, Any] = {"format": "incudo-plan/1", "holdings": []}


@pytest.fixture
def card(shop: TestShop) -> tuple[Person, str]:
    """A student with the Keel step gauge on Petrel."""
    student = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    assignment, _ = shop.assign(student, GAUGE_V1, machine=PETREL)
    return student, assignment


def page(who: Person, assignment: str) -> Any:
    return who.get(f"/api/job-cards/{assignment}/plan")


def look(who: Person, assignment: str, plan: Any, **act: Any) -> Any:
    body = {"plan": plan, **({"act": act} if act else {})}
    return who.post(f"/api/job-cards/{assignment}/plan/look", body)


def own(shop: TestShop, assignment: str) -> Any:
    """Incudo's own plan, as an instructor sees it any time."""
    boss = shop.person("haldane")
    return boss.post(f"/api/job-cards/{assignment}/plan/own", {"plan": EMPTY})


def save(who: Person, assignment: str, plan: Any, number: int = 0) -> Any:
    return who.post(f"/api/job-cards/{assignment}/plan", {"id": new_id(), "number": number, "plan": plan})


def hand_in(who: Person, assignment: str, number: int = 1) -> Any:
    return who.post(f"/api/job-cards/{assignment}/plan/hand-ins", {"id": new_id(), "number": number})


def set_task(shop: TestShop, assignment: str, **task: Any) -> Any:
    body = {"id": new_id(), "number": 0, "mode": "free", **task}
    return shop.person("haldane").post(f"/api/job-cards/{assignment}/plan/task", body)


def spoilt(plan: Any) -> Any:
    """The same plan with the steps' zero along X forgotten."""
    made = json.loads(json.dumps(plan))
    for h in made["holdings"]:
        for o in h["operations"]:
            if o["kind"] == "step":
                o["x"] = ""
    return made


def codes(found: Any) -> set[str]:
    return {f["code"] for f in found["findings"] if f["weight"] in ("breaks", "spoils")}


# ── building ──────────────────────────────────────────────────────────────


def test_a_plan_is_built_operation_by_operation(card: tuple[Person, str], monkeypatch: pytest.MonkeyPatch) -> None:
    student, assignment = card
    first = page(student, assignment)
    assert (first["number"], first["look"]["stages"]) == (0, [])
    assert {x["of"] for x in first["look"]["left"]} == {
        "left", "right", "front", "rear", "bottom", "top", "first step", "second step",
    }  # fmt: skip
    held = look(student, assignment, first["look"]["plan"], act="hold", up="top")
    holding = held["plan"]["holdings"][0]
    assert (holding["up"], holding["held"]) == ("top", "vise")
    monkeypatch.setattr(acts, "MOST_HOLDINGS", 1)
    one_more = {"plan": held["plan"], "act": {"act": "hold", "up": "top"}}
    refused = student.fails(422, f"/api/job-cards/{assignment}/plan/look", one_more)
    assert refused["errors"] == [{"field": "holdings", "value": "1", "bound": "must be at most 1"}]
    offered = student.post(
        f"/api/job-cards/{assignment}/plan/offers",
        {"plan": held["plan"], "holding": holding["id"], "name": "second step.floor"},
    )
    assert offered["name"] == "second step"
    (step,) = offered["offers"]
    assert step["why_not"] == ""
    assert step["cutters"][0]["why_not"] == ""
    assert any(c["why_not"] for c in step["cutters"])
    made = look(
        student, assignment, held["plan"], act="add", holding=holding["id"], operation="step", of=["second step"]
    )
    (stage,) = made["stages"]
    assert stage["cutter"] == step["cutters"][0]["name"]
    lines = {x["name"]: x for x in stage["lines"]}
    # 24 m/min on 5/8 in are 481 rpm; Petrel's step at or below is 370
    assert lines["speed"]["value"] == "370 rpm (calculated 481)"
    assert lines["speed"]["working"]
    assert lines["passes"]["value"]
    assert {"no-zero", "no-soft-bar"} <= codes(made)
    fault = next(f for f in made["findings"] if f["code"] == "no-soft-bar")
    cured = look(student, assignment, made["plan"], act="cure", code=fault["code"], holding=fault["holding"])
    assert "no-soft-bar" not in codes(cured)
    frames = student.post(f"/api/job-cards/{assignment}/plan/frames", {"plan": cured["plan"], "large": stage["id"]})
    assert frames["frames"][0]["metal"]
    assert frames["large"]["cutter"]
    assert frames["large"]["behind"]
    student.fails(
        422,
        f"/api/job-cards/{assignment}/plan/look",
        {"plan": cured["plan"], "act": {"act": "cure", "code": "no-soft-bar", "holding": holding["id"]}},
    )


def test_what_is_not_on_the_part_is_refused_at_its_place(card: tuple[Person, str]) -> None:
    student, assignment = card
    plan = {**EMPTY, "holdings": [{"id": "h1", "up": "top", "fixed": "rear", "operations": [
        {"id": "o1", "kind": "pocket", "of": ["first step"]}]}]}  # fmt: skip
    refused = student.fails(422, f"/api/job-cards/{assignment}/plan/look", {"plan": plan})
    assert refused["errors"][0]["field"] == "holdings.0.operations.0.of.0"
    crooked = {**EMPTY, "holdings": [{"id": "h1", "up": "top", "fixed": "bottom"}]}
    student.fails(422, f"/api/job-cards/{assignment}/plan/look", {"plan": crooked})


def test_a_card_without_a_machine_asks_for_one(shop: TestShop) -> None:
    student = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    assignment, _ = shop.assign(student, GAUGE_V1)
    first = page(student, assignment)
    assert (first["machine"], first["look"]) == (None, None)
    assert len(first["machines"]) == 4
    student.fails(422, f"/api/job-cards/{assignment}/plan/look", {"plan": EMPTY})
    chosen = student.get(f"/api/job-cards/{assignment}/plan?machine={FULMAR}")
    assert chosen["look"]["machine"]["name"] == "Fulmar"
    student.post(f"/api/job-cards/{assignment}/plan", {"id": new_id(), "number": 0, "plan": EMPTY, "machine": FULMAR})
    assert page(student, assignment)["look"]["machine"]["name"] == "Fulmar"


# ── saving, handing in, deciding ──────────────────────────────────────────


def test_a_sound_plan_is_handed_in_and_the_station_is_done(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    student.fails(403, f"/api/job-cards/{assignment}/plan/own", {"plan": EMPTY})
    plan = own(shop, assignment)["look"]["plan"]
    saved = save(student, assignment, plan)
    assert (saved["number"], codes(saved["look"])) == (1, set())
    handed = hand_in(student, assignment)
    assert handed["approved"] is True
    stations = {s["station"]: s["state"] for s in student.get(f"/api/job-cards/{assignment}")["stations"]}
    assert stations["plan"] == "done"
    beside = student.post(f"/api/job-cards/{assignment}/plan/own", {"plan": plan})
    assert (beside["mine"], beside["differences"]) == (beside["own"], [])


def test_a_spoilt_plan_comes_back_at_once_with_what_is_wrong(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    plan = spoilt(own(shop, assignment)["look"]["plan"])
    save(student, assignment, plan)
    handed = hand_in(student, assignment)
    assert (handed["approved"], handed["waiting"]) == (False, False)
    assert codes(handed["look"]) == {"no-zero"}
    assert handed["decisions"][0]["by"] == "Incudo"
    student.fails(409, f"/api/job-cards/{assignment}/plan/hand-ins", {"id": new_id(), "number": 7})


def test_an_instructor_sends_a_plan_back_and_approves_the_second(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    boss = shop.person("haldane")
    set_task(shop, assignment, approval=True)
    plan = own(shop, assignment)["look"]["plan"]
    save(student, assignment, plan)
    attempt = student.get(f"/api/job-cards/{assignment}")["attempt"]
    tick = {"id": new_id(), "station": "plan", "at": "2026-11-28T10:00:00Z"}
    refused = student.fails(403, f"/api/attempts/{attempt}/stations", tick)
    assert "approved" in refused["detail"]
    waits = hand_in(student, assignment)
    assert waits["waiting"] is True
    line = [x for x in boss.get("/api/floor")["line"] if x["assignment"] == assignment]
    assert [(x["kind"], x["what"]) for x in line] == [("plan", "plan to approve")]
    student.fails(409, f"/api/job-cards/{assignment}/plan", {"id": new_id(), "number": 1, "plan": plan})
    ident, first = waits["hand_in"], plan["holdings"][0]["operations"][0]["id"]
    boss.fails(422, f"/api/plans/{ident}/decision", {"id": new_id(), "approved": False})
    nowhere = {"id": new_id(), "approved": False, "remarks": [{"operation": "o99", "words": "Why?"}]}
    boss.fails(422, f"/api/plans/{ident}/decision", nowhere)
    decision = {"id": new_id(), "approved": False, "remark": "Think again.", "remarks": [
        {"operation": first, "words": "Which face first?"}]}  # fmt: skip
    back = boss.post(f"/api/plans/{ident}/decision", decision)
    assert back["decisions"][0]["remarks"] == [{"operation": first, "words": "Which face first?"}]
    assert boss.post(f"/api/plans/{ident}/decision", decision)["decisions"] == back["decisions"]
    boss.fails(409, f"/api/plans/{ident}/decision", {"id": new_id(), "approved": True})
    save(student, assignment, plan, 1)
    again = hand_in(student, assignment, 2)
    approved = boss.post(f"/api/plans/{again['hand_in']}/decision", {"id": new_id(), "approved": True})
    assert approved["approved"] is True
    stations = {s["station"]: s["state"] for s in student.get(f"/api/job-cards/{assignment}")["stations"]}
    assert stations["plan"] == "done"
    # a plan that is changed afterwards is not the one that was approved
    changed = save(student, assignment, spoilt(plan), 2)
    assert changed["approved"] is False


def test_no_first_start_without_an_approved_plan(shop: TestShop) -> None:
    student = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    assignment, _ = shop.assign(student, GAUGE_V1, machine=DUNLIN)
    set_task(shop, assignment, approval=True)
    body = {"id": new_id(), "operation": "mill-steps", "assignment": assignment, "points": POINTS}
    answer = student.post(f"/api/machines/{DUNLIN}/starts", body)
    assert answer["answer"] == "refused"
    assert any("approved before the first start" in r for r in answer["reasons"])


def test_two_devices_do_not_overwrite_each_other(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    who = Who(uuid.UUID(student.id), "", Role.STUDENT)

    def one() -> Any:
        command = SavePlan(id=uuid.uuid4(), number=0, plan=Plan.model_validate(own_plan), machine=None)
        return shop.unit.run(lambda w: keep_plan(w, who, uuid.UUID(assignment), command).number)

    own_plan = own(shop, assignment)["look"]["plan"]
    found = at_once([one, one])
    assert sorted(isinstance(f, Conflict) for f in found) == [False, True]
    assert page(student, assignment)["number"] == 1


def test_a_plan_is_decided_once(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    set_task(shop, assignment, approval=True)
    save(student, assignment, own(shop, assignment)["look"]["plan"])
    ident = uuid.UUID(hand_in(student, assignment)["hand_in"])
    boss = Who(uuid.UUID(shop.person("haldane").id), "", Role.INSTRUCTOR)

    def decide(*, approved: bool) -> Any:
        command = DecidePlan(id=uuid.uuid4(), approved=approved, remark="no")
        return shop.unit.run(lambda w: decide_plan(w, boss, ident, command).approved)

    found = at_once([lambda: decide(approved=True), lambda: decide(approved=False)])
    assert sum(isinstance(f, Conflict) for f in found) == 1
    assert len(page(student, assignment)["decisions"]) == 1


def test_the_same_id_saves_once_and_never_something_else(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    plan = own(shop, assignment)["look"]["plan"]
    body = {"id": new_id(), "number": 0, "plan": plan}
    student.post(f"/api/job-cards/{assignment}/plan", body)
    assert student.post(f"/api/job-cards/{assignment}/plan", body)["number"] == 1
    student.fails(409, f"/api/job-cards/{assignment}/plan", {**body, "plan": spoilt(plan)})


# ── how it is set ─────────────────────────────────────────────────────────


def test_a_plan_with_gaps_leaves_open_what_the_instructor_says(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    set_task(shop, assignment, mode="gaps", gaps=["cutters", "datums"])
    given = page(student, assignment)
    assert given["gaps"] == ["cutters", "datums"]
    ops = [o for h in given["look"]["plan"]["holdings"] for o in h["operations"]]
    assert ops
    assert {o["cutter"] for o in ops} == {""}
    assert {o["x"] for o in ops} == {""}
    assert {"no-cutter", "no-zero"} <= codes(given["look"]) or "no-cutter" in codes(given["look"])
    boss = shop.person("haldane")
    stale = {"id": new_id(), "number": 0, "mode": "free"}
    boss.fails(409, f"/api/job-cards/{assignment}/plan/task", stale)
    boss.fails(422, f"/api/job-cards/{assignment}/plan/task", {"id": new_id(), "number": 1, "mode": "gaps"})


def test_judged_at_the_end_nothing_is_said_before(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    plan = spoilt(own(shop, assignment)["look"]["plan"])
    set_task(shop, assignment, judged="end")
    quiet = look(student, assignment, plan)
    assert (quiet["judged"], quiet["findings"]) == (False, [])
    act = {"act": "cure", "code": "no-zero", "operation": "o10"}
    student.fails(403, f"/api/job-cards/{assignment}/plan/look", {"plan": plan, "act": act})
    saved = save(student, assignment, plan)
    assert (saved["look"]["judged"], saved["look"]["findings"]) == (False, [])
    handed = hand_in(student, assignment)
    assert codes(handed["look"]) == {"no-zero"}


def test_a_holding_is_shown_across_the_jaws_and_what_is_met_only_where_findings_are(
    shop: TestShop, card: tuple[Person, str]
) -> None:
    student, assignment = card
    plan = own(shop, assignment)["look"]["plan"]
    good = look(student, assignment, plan)["holdings"]
    assert [h["section"]["jaw_depth"] for h in good] == pytest.approx([1.735 * 25.4] * len(good))
    assert [h["hits"] for h in good] == [[]] * len(good)
    last = good[-1]["section"]
    # steps run out over both jaws, and end above them
    assert min(c["floor"] for c in last["cuts"]) + last["base"] > last["jaw_depth"]
    plan["holdings"][-1]["parallels"] = "bed"
    low = look(student, assignment, plan)["holdings"][-1]
    assert (low["section"]["base"], low["hits"]) == (0, ["jaw"])
    assert "its top 0.672 in below that of the jaws" in low["words"]
    set_task(shop, assignment, judged="end")
    quiet = look(student, assignment, plan)["holdings"][-1]
    assert (quiet["section"], quiet["hits"]) == (low["section"], [])


def test_a_plan_is_seen_by_its_own_student_and_staff_only(shop: TestShop, card: tuple[Person, str]) -> None:
    _, assignment = card
    stranger = shop.student()
    for path in ("plan", "plan.pdf", "plan.csv"):
        assert stranger.ask("GET", f"/api/job-cards/{assignment}/{path}").status_code == 404
    stranger.fails(404, f"/api/job-cards/{assignment}/plan/look", {"plan": EMPTY})
    stranger.fails(404, f"/api/job-cards/{assignment}/plan", {"id": new_id(), "number": 0, "plan": EMPTY})
    assert shop.person("haldane").get(f"/api/job-cards/{assignment}/plan")["may_see_own"] is True


# ── the result ──────────────────────────────────────────────────────


@pytest.mark.long
def test_a_group_sees_what_goes_wrong_most(shop: TestShop) -> None:
    boss = shop.person("haldane")
    members = [s["student"]["id"] for s in boss.get(f"/api/projects/{GAUGE}/candidates?group={TUESDAY}")["candidates"]]
    before = boss.get(f"/api/projects/{GAUGE}/plans?group={TUESDAY}")
    assert {p["student"]["id"] for p in before["plans"]} <= set(members)
    for line in before["often"]:
        assert line["plans"] >= 1
        assert line["why"]
        assert line["example"]
    for line in before["plans"]:
        shown = boss.get(f"/api/plans/{line['hand_in']}/shown")
        assert line["student"]["name"] not in json.dumps(shown)


@pytest.mark.long
def test_a_plan_on_paper_and_as_a_table(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    assert student.ask("GET", f"/api/job-cards/{assignment}/plan.csv").status_code == 404
    plan = own(shop, assignment)["look"]["plan"]
    save(student, assignment, plan)
    paper = student.ask("GET", f"/api/job-cards/{assignment}/plan.pdf?paper=A4")
    assert paper.get_data()[:5] == b"%PDF-"
    rows = list(csv.DictReader(io.StringIO(student.ask("GET", f"/api/job-cards/{assignment}/plan.csv").get_data(True))))
    ops = [o for h in plan["holdings"] for o in h["operations"]]
    assert [r["cutter"] for r in rows] == [o["cutter"] for o in ops]
    steps = [r for r in rows if r["operation"] == "Mill the step"]
    assert all("finish" in r["passes"] for r in steps)


# ── what of it counts for a skill ─────────────────────────────────────────


def counted(shop: TestShop, student: Person) -> list[str]:
    """What stands of plans at the skill, as an instructor reads it."""
    found = shop.haldane.get(f"/api/students/{student.id}/skills")["skills"]
    events = next(s["events"] for s in found if s["skill"]["id"] == "plan-work")
    return [e["words"] for e in events if e["kind"] == "planned"]


@pytest.mark.long
def test_the_first_plan_without_a_fault_counts(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    save(student, assignment, own(shop, assignment)["look"]["plan"])
    assert counted(shop, student) == []
    hand_in(student, assignment)
    assert counted(shop, student) == ["Keel step gauge, good as it was first handed in"]


@pytest.mark.long
def test_after_the_first_try_only_what_somebody_approved_counts(shop: TestShop, card: tuple[Person, str]) -> None:
    """From then on Incudo's own plan can be looked at, and copied."""
    student, assignment = card
    plan = own(shop, assignment)["look"]["plan"]
    save(student, assignment, spoilt(plan))
    hand_in(student, assignment)
    save(student, assignment, plan, 1)
    assert hand_in(student, assignment, 2)["approved"] is True
    assert counted(shop, student) == []
    set_task(shop, assignment, approval=True)
    save(student, assignment, plan, 2)
    waits = hand_in(student, assignment, 3)
    shop.haldane.post(f"/api/plans/{waits['hand_in']}/decision", {"id": new_id(), "approved": True})
    assert counted(shop, student) == ["Keel step gauge, handed in 3 times until it was good"]


def test_a_plan_that_was_given_whole_is_nobodys_own(shop: TestShop, card: tuple[Person, str]) -> None:
    student, assignment = card
    set_task(shop, assignment, mode="given")
    given = page(student, assignment)["look"]["plan"]
    save(student, assignment, given)
    assert hand_in(student, assignment)["approved"] is True
    assert counted(shop, student) == []


# ── before the group comes ────────────────────────────────────────────────


def test_what_a_groups_plans_are_cut_with_is_laid_out_for_those_who_come(
    shop: TestShop, card: tuple[Person, str]
) -> None:
    student, assignment = card
    group, name = new_id(), student.get("/api/me")["name"]
    shop.haldane.post("/api/groups", {"id": group, "name": f"Late {group[-6:]}", "begins": None, "ends": None})

    def joins(who: Person) -> None:
        row = {"person_id": uuid.UUID(who.id), "group_id": uuid.UUID(group), "begins": shop.clock().date()}
        shop.unit.run(lambda w: w.db.add(t.Enrolment(id=uuid.uuid4(), **row)))

    def laid_out() -> Any:
        return shop.haldane.get(f"/api/groups/{group}/plan-needs")

    assert (laid_out()["needs"], laid_out()["unplanned"]) == ([], []), "nobody comes"
    joins(student)

    assert (laid_out()["needs"], laid_out()["unplanned"]) == ([], [name])
    plan = own(shop, assignment)["look"]["plan"]
    save(student, assignment, plan)
    found = laid_out()
    assert found["unplanned"] == []
    mine = {n["need"]["name"]: n for n in found["needs"] if name in n["people"]}
    cutters = {o["cutter"] for h in plan["holdings"] for o in h["operations"] if o["cutter"]}
    assert cutters <= mine.keys()
    assert all(n["need"]["wanted"] >= len(n["people"]) for n in mine.values())
    # the newest plan counts, and another one wants its own cutters
    step = next(o for h in plan["holdings"] for o in h["operations"] if o["kind"] == "step")
    old, new = step["cutter"], "End mill 3/4 in, 4 flutes"
    assert old != new
    changed = json.loads(json.dumps(plan).replace(json.dumps(old), json.dumps(new)))
    save(student, assignment, changed, 1)
    mine = {n["need"]["name"] for n in laid_out()["needs"] if name in n["people"]}
    assert new in mine
    assert old not in mine
    # more people than there are cutters: said, and it stands first
    owned = next(n["need"] for n in laid_out()["needs"] if n["need"]["name"] == new)["left"]
    for _ in range(owned):
        other = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
        joins(other)
        given, _ = shop.assign(other, GAUGE_V1, machine=PETREL)
        save(other, given, changed)
    first = [n["need"] for n in laid_out()["needs"] if n["need"]["short"]]
    assert laid_out()["needs"][0]["need"]["short"]
    (few,) = (n for n in first if n["name"] == new)
    assert (few["left"], few["wanted"] > owned) == (owned, True)
    assert shop.haldane.ask("GET", f"/api/groups/{new_id()}/plan-needs").status_code == 404


def test_a_bad_plan_waits_for_the_instructor_where_one_approves(shop: TestShop, card: tuple[Person, str]) -> None:
    """Where nobody approves it is sent back by itself."""
    student, assignment = card
    bad = spoilt(own(shop, assignment)["look"]["plan"])
    set_task(shop, assignment, approval=True)
    save(student, assignment, bad)
    hand_in(student, assignment)
    found = page(student, assignment)
    assert (found["waiting"], found["approved"], found["decisions"]) == (True, False, [])
    other = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    alone, _ = shop.assign(other, GAUGE_V1, machine=PETREL)
    save(other, alone, bad)
    hand_in(other, alone)
    found = page(other, alone)
    assert (found["waiting"], found["approved"]) == (False, False)
    assert [d["approved"] for d in found["decisions"]] == [False]


def test_like_passes_are_said_together_and_the_finishing_one_by_name(shop: TestShop, card: tuple[Person, str]) -> None:
    """And only where there is another before it."""
    said = {}
    for stage in own(shop, card[1])["look"]["stages"]:
        for line in stage["lines"]:
            if line["name"] == "passes":
                said[stage["title"]] = line["value"]
    assert any(" + finish " in x for x in said.values())
    assert any(" × " in x for x in said.values())
    assert not any(re.search(r"(?<!\d)1 × ", x) or x.startswith(("+", " + ")) for x in said.values())


def test_straps_are_as_wide_as_the_shop_has_entered_them(shop: TestShop) -> None:
    student = shop.ready_student()
    fairlead = str(key("version", "fairlead-plate"))
    assignment, _ = shop.assign(student, fairlead, machine=PETREL, not_before_signed=True)
    plan = own(shop, assignment)["look"]["plan"]
    held = plan["holdings"][1]
    held |= {"held": "straps", "straps": 2}
    held["operations"] = [o for o in held["operations"] if o["kind"] not in ("face", "side")]
    (kit,) = (h for h in shop.haldane.get("/api/workholding")["holding"] if h["of"]["kind"] == "clamps")

    def across() -> float:
        (found,) = (h for h in look(shop.haldane, assignment, plan)["holdings"] if h["id"] == held["id"])
        nose = found["straps"]["places"][0]["nose"]
        return float(max(nose["right"] - nose["left"], nose["rear"] - nose["front"]))

    assert across() == pytest.approx(25), "nobody has measured it"
    entry = {k: kit[k] for k in ("id", "name")}
    shop.haldane.put("/api/workholding", entry | {"of": kit["of"] | {"width": "1.5"}})
    assert across() == pytest.approx(38.1)
    shop.haldane.put("/api/workholding", entry | {"of": kit["of"]})
