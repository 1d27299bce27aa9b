"""What was handed in is frozen: nothing that comes later changes what a decision stood on."""

from __future__ import annotations

import random
import uuid
from collections import Counter
from dataclasses import replace
from datetime import timedelta

import pytest

from incudo.app.kernel.unit import Work
from incudo.app.parts.attempts import (
    A_DAY_AT_WORK,
    AttemptFile,
    load_attempt,
    progress_of,
    stations_in,
    stations_of,
)
from incudo.app.skills.standings import standing_of
from incudo.core.parts.project import Characteristic, Method, Project
from incudo.core.reckoning import CALCULATIONS
from incudo.store import schema as t
from tests.shop import GOOD_BLOCK, M01, Person, TestShop, new_id, reading


def shown(student: Person, assignment: str) -> list[tuple[str, bool]]:
    """The readings of the third characteristic, each with whether it was superseded."""
    card = student.get(f"/api/job-cards/{assignment}")
    return [(r["value"]["inch"], r["superseded"]) for r in card["characteristics"][2]["readings"]]


def finding(shop: TestShop, hand_in: str) -> tuple[str, list[str]]:
    """What the check's page shows of the third characteristic: the student's verdict and counting values."""
    sheet = shop.haldane.get(f"/api/hand-ins/{hand_in}")
    c = sheet["card"]["characteristics"][2]
    return c["finding"]["verdict"], [r["value"]["inch"] for r in c["readings"] if not r["superseded"]]


@pytest.mark.parametrize("state", ["handed in", "accepted"])
def test_a_reading_after_the_hand_in_takes_no_other_away(shop: TestShop, state: str) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student)
    ids = {}
    for number, value, tool in GOOD_BLOCK:
        ids[number] = student.read(attempt, number, value, tool)["reading"]["id"]
    hand_in = student.hand_in(attempt)
    shop.haldane.check(attempt, 3, "0.9981", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    if state == "accepted":
        shop.decide(hand_in)
    before = finding(shop, hand_in)
    path = f"/api/attempts/{attempt}/readings"
    late = reading(3, "0.8981", M01, supersedes=ids[3], why="a copy of the assessor's")
    assert "what was handed in stands" in student.fails(409, path, late)["detail"]
    assert finding(shop, hand_in) == before
    assert all(not gone for _, gone in shown(student, assignment))


def test_a_reading_that_comes_late_is_kept_beside_and_decides_nothing(shop: TestShop) -> None:
    student, assignment, attempt, hand_in = shop.handed_in()
    student.read(attempt, 3, "0.8981", M01)
    assert ("0.8981", False) in shown(student, assignment)
    shop.haldane.check(attempt, 3, "0.9981", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    assert finding(shop, hand_in)[0] == "in"


def test_rework_supersedes_in_its_own_round_and_leaves_the_decided_one(shop: TestShop) -> None:
    """A new round's reading may take an old one's place for the new decision; the old decision keeps its own."""
    student = shop.ready_student()
    _, attempt = shop.assign(student)
    old = student.read(attempt, 3, "1.0020", M01)["reading"]["id"]
    for number, value, tool in GOOD_BLOCK:
        if number != 3:
            student.read(attempt, number, value, tool)
    hand_in = student.hand_in(attempt)
    shop.haldane.check(attempt, 3, "1.0021", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    shop.decide(hand_in, {"characteristic": 3, "kind": "rework"})
    assert counting(shop, attempt, 1) == ["1.0020"]
    student.read(attempt, 3, "0.9981", M01, supersedes=old, why="cut again")
    assert counting(shop, attempt, 1) == ["1.0020"], "the first decision goes on standing on what it stood on"
    assert counting(shop, attempt, 2) == ["0.9981"]


def test_the_database_counts_readings_as_the_rule_does(shop: TestShop) -> None:
    """Where many cards are read at once their readings are counted in the database: the same over random histories."""
    student, assignment, attempt, hand_in = shop.handed_in()
    shop.haldane.check(attempt, 3, "1.0021", M01)
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    shop.decide(hand_in, {"characteristic": 3, "kind": "rework"})
    seen = Counter[str]()

    def histories(w: Work) -> None:
        for seed in range(120):
            step = w.db.begin_nested()
            for row in entered(random.Random(seed), load_attempt(w, uuid.UUID(attempt)), w):
                w.db.add(row)
                w.db.flush()
            w.db.expire_all()
            file, (card,) = load_attempt(w, uuid.UUID(attempt)), progress_of(w, [uuid.UUID(assignment)])
            part = file.project.model_copy(update={"characteristics": measured_so(file.project)})
            file, card = replace(file, project=part), replace(card, project=part)
            for c in file.project.characteristics:
                whole = Counter(r.element for r in file.counting(c.number, file.round))
                assert card.counts(c.number) == whole, (seed, c.number)
                seen["nothing" if not whole else "something"] += 1
            (line,) = stations_of(w, [card])
            assert line == stations_in(standing_of(w, uuid.UUID(student.id)), file), seed
            seen["begun"] += len(card.begun)
            recent = [x for x in file.worked if w.now - x < A_DAY_AT_WORK]
            assert min(recent) == min(x for x in card.worked if w.now - x < A_DAY_AT_WORK), seed
            assert max(card.worked) == max(file.worked), seed
            step.rollback()

    shop.unit.run(histories)
    assert min(seen[k] for k in ("nothing", "something", "begun")) > 20, seen


def measured_so(part: Project) -> tuple[Characteristic, ...]:
    """The second requirement takes three readings, the third two ends of a gauge; the others one."""
    ways = {2: {"method": Method.MOVEMENT, "readings": 3}, 3: {"method": Method.THREAD}}
    return tuple(c.model_copy(update=ways.get(c.number, {})) for c in part.characteristics)


def entered(chance: random.Random, file: AttemptFile, w: Work) -> list[t.Reading]:
    """Readings as they could come in any order: checked, late, not decided, of either round, in another's place."""
    rows: list[t.Reading] = []
    free = list(file.readings)
    like = file.readings[0]
    for n in range(chance.randrange(14)):
        old = free.pop(chance.randrange(len(free))) if chance.random() < 0.4 else None
        checking = chance.random() < 0.2 if old is None else old.checking
        row = t.Reading(**{c.name: getattr(like, c.name) for c in t.Reading.__table__.columns})
        row.id = uuid.UUID(int=chance.getrandbits(128), version=4)
        row.characteristic = old.characteristic if old else chance.choice([1, 2, 3])
        if row.characteristic == 3:
            row.element, row.text, row.unit = chance.choice(["go", "no_go"]), chance.choice(["yes", "no"]), ""
        row.round = max(old.round if old else 1, chance.choice([1, 2]))
        row.checking, row.late = checking, chance.random() < 0.2
        row.undecided = chance.choice(["", "", "", "the gauge was away"])
        row.supersedes_id = old.id if old else None
        row.saved_at = w.now - timedelta(minutes=chance.randrange(1, 1500), seconds=n)
        rows.append(row)
        free.append(row)
    return rows


def counting(shop: TestShop, attempt: str, round_: int) -> list[str]:
    """The student's readings of the third characteristic that decide in a round."""
    return shop.unit.run(lambda w: [r.text for r in load_attempt(w, uuid.UUID(attempt)).counting(3, round_)])


# ── the blind check ───────────────────────────────────────────────────────


def test_what_holds_no_reading_is_shown_to_whoever_helps() -> None:
    told = {name for name, c in CALCULATIONS.items() if c.holds_reading}
    assert told == {"verdict", "growth", "agreement", "position", "replan", "boring-head", "form"}
    asked = {i.name for name in CALCULATIONS.keys() - told for i in CALCULATIONS[name].inputs}
    assert not asked & {"reading", "measured", "actual", "second"}


def kept(student: Person, assignment: str) -> None:
    """A verdict that the student worked out and keeps on the job card, reading and all."""
    given = {
        "reading": {"value": "0.9982", "unit": "in"},
        "lower": {"value": "0.997", "unit": "in"},
        "upper": {"value": "0.999", "unit": "in"},
        "unsure": {"value": "0.0001", "unit": "in"},
    }
    body = {"id": new_id(), "name": "verdict", "given": given, "note": ""}
    student.post(f"/api/job-cards/{assignment}/reckonings", body)


def test_what_a_student_worked_out_does_not_colour_the_assessors_measuring(shop: TestShop) -> None:
    student, assignment, attempt, hand_in = shop.handed_in()
    kept(student, assignment)
    path = f"/api/job-cards/{assignment}"
    assert len(student.get(path)["reckoned"]) == 1
    assert shop.haldane.get(path)["reckoned"] == []
    assert shop.haldane.get(f"/api/hand-ins/{hand_in}")["card"]["reckoned"] == []
    shop.haldane.check(attempt, 3, "0.9981", M01)
    assert shop.haldane.get(path)["reckoned"] == [], "measured, and not yet compared"
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    assert len(shop.haldane.get(path)["reckoned"]) == 1
    assert shop.person("selby").get(path)["reckoned"] == [], "another assessor has not measured"
    shop.decide(hand_in)
    assert len(shop.person("selby").get(path)["reckoned"]) == 1


@pytest.mark.parametrize(
    ("value", "taken"), [("25.0000", False), ("1.0101", False), ("1.0100", True), ("0.9981", True), ("0.0001", True)]
)
def test_a_reading_that_its_instrument_cannot_show_is_none(shop: TestShop, value: str, taken: bool) -> None:
    """25 in on a micrometer of 0 to 1 in once opened every value of the student's."""
    _, _, attempt, hand_in = shop.handed_in()
    body = reading(3, value, M01)
    path = f"/api/attempts/{attempt}/check-readings"
    if taken:
        shop.haldane.post(path, body)
        shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
        return
    refused = shop.haldane.fails(422, path, body)
    assert refused["errors"][0]["field"] == "value"
    assert "can show" in refused["detail"] or "decimal point" in refused["detail"]
    opened = shop.haldane.fails(403, f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    assert "at least one reading of your own" in opened["detail"]


def test_the_reading_that_opened_the_comparison_stands(shop: TestShop) -> None:
    _, _, attempt, hand_in = shop.handed_in()
    slip = shop.haldane.check(attempt, 3, "0.8981", M01)["reading"]["id"]
    mended = shop.haldane.check(attempt, 3, "0.9971", M01, supersedes=slip, why="misread")["reading"]["id"]
    shop.haldane.post(f"/api/hand-ins/{hand_in}/comparison", {"id": new_id()})
    copy = reading(3, "0.9982", M01, supersedes=mended, why="as the student has it")
    refused = shop.haldane.fails(409, f"/api/attempts/{attempt}/check-readings", copy)
    assert "your reading stands" in refused["detail"]
    mine = shop.haldane.get(f"/api/hand-ins/{hand_in}")["rows"][2]["mine"]
    assert [r["value"]["inch"] for r in mine if not r["superseded"]] == ["0.9971"]
