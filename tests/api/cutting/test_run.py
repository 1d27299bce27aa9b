"""The run card over the real operations: in order, once, by one student; readings, hold points, two devices."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
import weasyprint
from sqlalchemy import select

from incudo.app.cutting.run import RunTickCommand, keep_run_tick
from incudo.app.kernel.unit import Who
from incudo.core.kernel.errors import Conflict
from incudo.core.people.roles import Role
from incudo.store import schema as t
from tests.api.planning.test_plans import EMPTY, own, save, spoilt
from tests.at_once import at_once
from tests.shop import FOR_TIDE, GAUGE_V1, PETREL, Person, TestShop, new_id

AT = "2026-11-28T18:00:00Z"


@pytest.fixture
def running(shop: TestShop) -> tuple[Person, str, str]:
    """A student with a sound plan of the Keel step gauge on Petrel: the card and its attempt."""
    student = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    assignment, attempt = shop.assign(student, GAUGE_V1, machine=PETREL)
    save(student, assignment, own(shop, assignment)["look"]["plan"])
    return student, assignment, attempt


def card(who: Person, assignment: str) -> Any:
    return who.get(f"/api/job-cards/{assignment}/run")


def tick(step: str, kind: str = "done", value: str = "") -> dict[str, str]:
    return {"id": new_id(), "step": step, "kind": kind, "value": value, "at": AT}


def go_to(who: Person, assignment: str, attempt: str, kind: str) -> Any:
    """Everything in order until the first step of a kind; the card then."""
    found = card(who, assignment)
    while found["steps"][found["at"]]["kind"] != kind:
        found = who.post(f"/api/attempts/{attempt}/run", tick(found["steps"][found["at"]]["id"]))
    return found


def now(found: Any) -> Any:
    return found["steps"][found["at"]]


def test_without_a_plan_there_is_no_card(shop: TestShop) -> None:
    student = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    assignment, attempt = shop.assign(student, GAUGE_V1, machine=PETREL)
    assert "no plan yet" in card(student, assignment)["cannot"]
    student.fails(403, f"/api/attempts/{attempt}/run", tick("h1.hold"))
    save(student, assignment, EMPTY)
    assert (card(student, assignment)["cannot"], card(student, assignment)["steps"]) == ("", [])


def test_a_plan_that_waits_for_its_approval_gives_no_card(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    body = {"id": new_id(), "number": 0, "mode": "free", "approval": True}
    shop.haldane.post(f"/api/job-cards/{assignment}/plan/task", body)
    assert "approved first" in card(student, assignment)["cannot"]
    student.fails(403, f"/api/attempts/{attempt}/run", tick("h1.hold"))


def test_steps_are_done_one_after_the_other(running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    first = card(student, assignment)
    assert (first["at"], first["steps"][0]["kind"], first["machine"]["name"]) == (0, "hold", "Petrel")
    later = first["steps"][2]["id"]
    student.fails(409, f"/api/attempts/{attempt}/run", tick(later))
    student.fails(409, f"/api/attempts/{attempt}/run", tick("nothing"))
    one = tick(first["steps"][0]["id"])
    assert student.post(f"/api/attempts/{attempt}/run", one)["at"] == 1
    assert student.post(f"/api/attempts/{attempt}/run", one)["at"] == 1, "sent twice, done once"
    student.fails(409, f"/api/attempts/{attempt}/run", {**one, "step": first["steps"][1]["id"]})
    # another device says the same
    assert student.post(f"/api/attempts/{attempt}/run", tick(first["steps"][0]["id"]))["at"] == 1
    done = card(student, assignment)["steps"][0]
    assert (done["by"], done["done"][:19]) == (student.me["name"], AT[:19])
    back = student.post(f"/api/attempts/{attempt}/run", tick(first["steps"][0]["id"], "back"))
    assert (back["at"], back["steps"][0]["done"]) == (0, None)
    assert student.post(f"/api/attempts/{attempt}/run", tick(first["steps"][0]["id"], "back"))["at"] == 0, "still there"
    student.fails(409, f"/api/attempts/{attempt}/run", tick(first["steps"][1]["id"], "back"))
    student.fails(409, f"/api/attempts/{attempt}/run", tick(later, "back"))


def test_the_stations_of_the_job_card_follow_the_card(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running

    def stations() -> list[str]:
        return [s["station"] for s in student.get(f"/api/job-cards/{assignment}")["stations"] if s["state"] == "done"]

    assert stations() == ["ready"]
    go_to(student, assignment, attempt, "cutter")
    assert stations() == ["ready", "plan", "set_up"]
    found = go_to(student, assignment, attempt, "pass")
    assert stations() == ["ready", "plan", "set_up"], "not located before the first chip"
    student.post(f"/api/attempts/{attempt}/run", tick(now(found)["id"]))
    assert stations() == ["ready", "plan", "set_up", "locate"]
    # what was ticked by hand in between stays one tick, and so does what is done again
    student.post(f"/api/attempts/{attempt}/stations", {"id": new_id(), "station": "cut", "at": AT})
    student.post(f"/api/attempts/{attempt}/run", tick(now(found)["id"], "back"))
    student.post(f"/api/attempts/{attempt}/run", tick(now(found)["id"]))
    assert stations() == ["ready", "plan", "set_up", "locate", "cut"]


def test_nobody_is_past_ready_by_a_card_who_lacks_a_sign_off(shop: TestShop) -> None:
    student = shop.student("general-safety")
    assignment, attempt = shop.assign(student, GAUGE_V1, machine=PETREL, not_before_signed=True)
    save(student, assignment, own(shop, assignment)["look"]["plan"])
    go_to(student, assignment, attempt, "cutter")
    states = {s["station"]: s["state"] for s in student.get(f"/api/job-cards/{assignment}")["stations"]}
    assert (states["ready"], states["plan"]) == ("waiting", "not_yet")


def test_two_devices_at_once_are_heard_once(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    who, steps = Who(uuid.UUID(student.id), "", Role.STUDENT), card(student, assignment)["steps"]

    def one() -> Any:
        command = RunTickCommand(
            id=uuid.uuid4(), step=steps[0]["id"], kind="done", at=datetime(2026, 11, 28, tzinfo=UTC)
        )
        return shop.unit.run(lambda w: keep_run_tick(w, who, uuid.UUID(attempt), command).at)

    assert at_once([one, one, one]) == [1, 1, 1]

    def on_and_back(kind: str, step: str) -> Any:
        command = RunTickCommand(id=uuid.uuid4(), step=step, kind=kind, at=datetime(2026, 11, 28, tzinfo=UTC))  # type: ignore[arg-type]
        return shop.unit.run(lambda w: keep_run_tick(w, who, uuid.UUID(attempt), command).at)

    found = at_once([lambda: on_and_back("done", steps[1]["id"]), lambda: on_and_back("back", steps[0]["id"])])
    # whichever came first: the step comes after the one that is to be done again
    assert card(student, assignment)["at"] == 0
    assert all(isinstance(f, int | Conflict) for f in found)


def test_a_reading_sets_the_last_pass(running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    found = go_to(student, assignment, attempt, "measure")
    step, path = now(found), f"/api/attempts/{attempt}/run"
    assert "0.910 in is expected" in step["do"][0]
    student.fails(422, path, tick(step["id"]))
    student.fails(422, path, tick(step["id"], "reading", "wide"))
    planned = found["steps"][found["at"] + 1]["go"][0]["reading"]
    assert planned == "0.050 in"
    odd = student.post(path, tick(step["id"], "reading", "0.950"))
    assert odd["at"] == found["at"], "one that cannot be right does not go on"
    assert "has taken nothing" in now(odd)["reading"]["words"]
    good = student.post(path, tick(step["id"], "reading", "0.913"))
    assert good["at"] == found["at"] + 1
    # 0.013 to the middle, 0.900, instead of ten thou from 0.040
    assert now(good)["go"][0]["reading"] == "0.053 in"
    # once the last pass is cut, its reading stands
    after = student.post(path, tick(now(good)["id"]))
    student.fails(409, path, tick(step["id"], "reading", "0.905"))
    again = student.post(path, tick(step["id"], "back"))
    assert (again["at"], now(again)["reading"]) == (found["at"], None)
    assert again["steps"][again["at"] + 1]["go"][0]["reading"] == planned
    assert after["at"] == found["at"] + 2
    student.fails(422, path, tick(now(student.post(path, tick(step["id"], "reading", "0.910")))["id"], "reading", "1"))


def test_a_hold_point_is_waited_for(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    hold = {"id": new_id(), "student": student.id, "assignment": assignment, "hold": "last_pass", "on": True}
    shop.haldane.post("/api/hold-points", hold)
    found = go_to(student, assignment, attempt, "pass")
    on = student.post(f"/api/attempts/{attempt}/run", tick(now(found)["id"]))
    last = now(on)
    assert (last["title"], last["held"]) == ("Last pass", ["before the last pass"])
    refused = student.fails(403, f"/api/attempts/{attempt}/run", tick(last["id"]))
    assert "call your instructor" in refused["detail"]
    call = {"id": new_id(), "kind": "hold", "what": "last_pass", "machine": PETREL, "assignment": assignment}
    student.post("/api/calls", call)
    shop.haldane.post(f"/api/calls/{call['id']}/end", {"outcome": "done"})
    assert student.post(f"/api/attempts/{attempt}/run", tick(last["id"]))["at"] == on["at"] + 1


def test_a_changed_plan_keeps_what_is_done_and_still_there(running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    found = go_to(student, assignment, attempt, "pass")
    save(student, assignment, spoilt(student.get(f"/api/job-cards/{assignment}/plan")["look"]["plan"]), 1)
    changed = card(student, assignment)
    assert (changed["plan"], changed["at"]) == (2, found["at"])


def test_a_card_is_its_students_and_is_looked_at_by_staff(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    other = shop.student()
    other.fails(404, f"/api/attempts/{attempt}/run", tick("h1.hold"))
    assert other.ask("GET", f"/api/job-cards/{assignment}/run").status_code == 404
    assert card(shop.person("selby"), assignment)["student"]["id"] == student.id
    shop.haldane.fails(403, f"/api/attempts/{attempt}/run", tick("h1.hold"))
    frames = student.get(f"/api/job-cards/{assignment}/run/frames")
    operations = {s["operation"] for s in card(student, assignment)["steps"]} - {""}
    assert {f["operation"] for f in frames["frames"]} == operations
    assert len(frames["signs"][0]["signs"]) >= 25


@pytest.mark.parametrize(("minutes_ago", "late"), [(0, False), (180, True)])
def test_the_floor_says_where_a_card_stands(
    shop: TestShop, running: tuple[Person, str, str], minutes_ago: int, late: bool
) -> None:
    student, assignment, attempt = running
    begun = (shop.clock() - timedelta(minutes=minutes_ago)).isoformat()
    first, second, third = card(student, assignment)["steps"][:3]
    student.post(f"/api/attempts/{attempt}/run", {**tick(first["id"]), "at": begun})
    student.post(f"/api/attempts/{attempt}/run", {**tick(second["id"]), "at": shop.clock().isoformat()})
    plates = shop.haldane.get("/api/floor")["plates"]
    (work,) = (x for p in plates for x in p["at_work"] if x["assignment"] == assignment)
    count = len(card(student, assignment)["steps"])
    assert work["at_step"] == f"Run card 3 of {count}: {third['head']}: {third['title']}"
    assert (work["late"] > 0) is late


def times_of(shop: TestShop, ids: set[str]) -> list[tuple[str, int]]:
    """What was kept of the times of operations that these ticks ended."""
    of = t.OperationTime
    query = select(of.work, of.taken).where(of.id.in_([uuid.UUID(i) for i in ids]))
    return [(work, taken) for work, taken in shop.unit.run(lambda w: w.db.execute(query).all())]


def test_the_shop_learns_how_long_an_operation_takes(shop: TestShop, running: tuple[Person, str, str]) -> None:
    """From the step in front of it to its last, once; who does it over teaches nothing."""
    student, assignment, attempt = running
    at, path = shop.clock() - timedelta(hours=5), f"/api/attempts/{attempt}/run"
    found = card(student, assignment)
    first = found["steps"][1]["operation"]
    part = [s["id"] for s in found["steps"] if s["operation"] == first]
    kind = next(s["kind"] for s in own(shop, assignment)["look"]["stages"] if s["id"] == first)
    sent, taken = [], 0
    for step in (found["steps"][0]["id"], *part):
        gap = 100 + len(sent)
        taken += gap if sent else 0
        at += timedelta(seconds=gap)
        sent.append({**tick(step), "at": at.isoformat()})
        student.post(path, sent[-1])
    ids = {b["id"] for b in sent}
    assert times_of(shop, ids) == [(kind, taken)]
    student.post(path, sent[-1])
    student.post(path, tick(part[0], "back"))
    over = [tick(step) for step in part]
    for body in over:
        student.post(path, {**body, "at": (at := at + timedelta(seconds=100)).isoformat()})
    assert times_of(shop, ids | {b["id"] for b in over}) == [(kind, taken)]


def test_a_plan_says_from_how_many_runs_its_time_is(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, _ = running
    look = own(shop, assignment)["look"]
    assert "operations and holdings took on Petrel before; by the rules alone" in look["costs"]["paced"]
    faces = [x for s in look["stages"] if s["kind"] == "face" for x in s["lines"] if x["name"] == "time"]
    assert faces
    assert all("min here, by" in x["value"] for x in faces)
    assert card(student, assignment)["paced"].startswith("Time as ")


def test_what_was_noticed_is_kept_and_counted_for_the_class(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    step = now(card(student, assignment))
    one = {"id": new_id(), "step": step["id"], "sign": "chatter", "at": AT}
    path = f"/api/attempts/{attempt}/signs"
    assert student.post(path, one) == {"sign": "chatter"}
    assert student.post(path, one) == {"sign": "chatter"}, "sent twice, kept once"
    student.fails(409, path, {**one, "sign": "broke"})
    student.fails(422, path, {**one, "id": new_id(), "sign": "hunger"})
    student.fails(409, path, {**one, "id": new_id(), "step": "nothing"})
    student.post(path, {**one, "id": new_id()})
    lines = shop.haldane.get("/api/signs")["lines"]
    assert [(x["sign"], x["count"], x["students"], x["machines"]) for x in lines] == [("chatter", 2, 1, ["Petrel"])]
    # of four places where it was noticed the three are named where it was most
    steps, heads = card(student, assignment)["steps"], {}
    for s in steps:
        heads.setdefault(s["head"], s["id"])
    where = list(heads.values())[:4]
    assert len(where) == 4
    for n, place in enumerate(where):
        for _ in range(4 - n):
            student.post(path, {**one, "id": new_id(), "step": place})
    (line,) = shop.haldane.get("/api/signs")["lines"]
    assert (line["count"], len(line["during"])) == (2 + 4 + 3 + 2 + 1, 3)
    assert line["during"][0] == step["title"]
    other = shop.student(*FOR_TIDE)
    other.fails(404, path, {**one, "id": new_id()})


@pytest.mark.long
def test_after_trouble_the_card_goes_on_from_a_step_of_this_holding(running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    found = go_to(student, assignment, attempt, "measure")
    again = now(found)["again"]
    ids = [s["id"] for s in found["steps"]]
    assert {"hold", "zero"} <= set(again) <= {"hold", "cutter", "zero"}
    for kind, ident in again.items():
        step = found["steps"][ids.index(ident)]
        assert (step["kind"], step["holding"]) == (kind, now(found)["holding"])
    back = student.post(f"/api/attempts/{attempt}/run", tick(again["hold"], "back"))
    assert now(back)["id"] == again["hold"]


def test_whoever_teaches_can_say_something_on_a_running_card(shop: TestShop, running: tuple[Person, str, str]) -> None:
    student, assignment, attempt = running
    step = now(card(student, assignment))["id"]
    path, one = (
        f"/api/attempts/{attempt}/remarks",
        {"id": new_id(), "step": step, "words": "Deburr it before you turn it."},
    )
    student.fails(403, path, one)
    shop.haldane.post(path, one)
    shop.haldane.post(path, one)
    shop.haldane.fails(409, path, {**one, "words": "Never mind."})
    shop.haldane.fails(409, path, {**one, "id": new_id(), "step": "nothing"})
    shop.haldane.fails(422, path, {**one, "id": new_id(), "words": " "})
    (said,) = card(student, assignment)["remarks"]
    assert (said["words"], said["by"], said["step"]) == (one["words"], shop.haldane.me["name"], step)


def test_the_card_is_printed_whole(
    shop: TestShop, running: tuple[Person, str, str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """Every step with its reading stands on the paper, and a line for what is measured."""
    student, assignment, _ = running
    printed: list[str] = []

    class Watched(weasyprint.HTML):  # type: ignore[misc]
        def __init__(self, string: str, base_url: str) -> None:
            printed.append(string)
            super().__init__(string=string, base_url=base_url)

    monkeypatch.setattr(weasyprint, "HTML", Watched)
    answer = student.ask("GET", f"/api/job-cards/{assignment}/run.pdf?paper=A4")
    assert answer.get_data()[:5] == b"%PDF-"
    (text,) = printed
    steps = text.split('<tr class="step">')[1:]
    found = card(student, assignment)["steps"]
    assert len(steps) == len(found)
    for n, (step, lines) in enumerate(zip(found, steps, strict=True), 1):
        assert f"<b>{n}. " in lines
        assert all(f'<td class="dial">{go["reading"]}</td>' in lines for go in step["go"]), step["title"]
        assert ("Measured, " in lines) == (step["kind"] == "measure")
    assert student.ask("GET", f"/api/job-cards/{new_id()}/run.pdf?paper=A4").status_code == 404
