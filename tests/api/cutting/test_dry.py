"""The dry run over the real operations: who reads the card aloud gets a good part, who slips is told at which act."""

from __future__ import annotations

import json
import re
import uuid
from typing import Any

import pytest

from incudo.app.cutting.dry import dry_act
from incudo.app.cutting.dry_views import DryActCommand
from incudo.app.kernel.unit import Who, Work
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.records import skill_book
from incudo.core.kernel.errors import Conflict
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.kernel.changes import touched
from tests.api.planning.test_plans import own, save
from tests.at_once import at_once
from tests.shop import FOR_TIDE, GAUGE_V1, PETREL, Person, TestShop, new_id

_TURN = re.compile(r"Turn (?P<way>clockwise|anticlockwise): (?:(?P<turns>\d+) whole turns?)?")
_SHOWS = re.compile(r"Then the dial shows (?P<reading>[\d.]+) ")


@pytest.fixture
def planned(shop: TestShop) -> tuple[Person, str]:
    """A student with a sound plan of the Keel step gauge on Petrel."""
    student = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    assignment, _ = shop.assign(student, GAUGE_V1, machine=PETREL)
    save(student, assignment, own(shop, assignment)["look"]["plan"])
    return student, assignment


def page(who: Person, assignment: str) -> Any:
    return who.get(f"/api/job-cards/{assignment}/dry")


def begin(who: Person, assignment: str) -> Any:
    return who.post(f"/api/job-cards/{assignment}/dry", {"id": new_id()})


def read_aloud(place: Any) -> list[dict[str, Any]]:
    """What somebody turns who reads a place of the card, sentence by sentence."""
    if place["zero"]:
        half = re.search(r"[0-9]+[.][0-9]+", place["told"][0])
        assert half
        return [{"turning": way_of(place), "turns": 0, "reading": half[0]}]
    legs: list[dict[str, Any]] = []
    for line in place["told"]:
        if found := _TURN.match(line):
            legs.append({"turning": found["way"], "turns": int(found["turns"] or 0), "reading": ""})
        elif found := _SHOWS.match(line):
            legs[-1]["reading"] = found["reading"]
    return legs


def way_of(place: Any) -> str:
    """On the way the finder came: from the left and from the front the coordinate grows; the table goes left, or
    towards you.
    """
    grows = "left" if place["axis"] == "X" else "towards"
    return "clockwise" if place["dial"]["clockwise"].startswith(grows) else "anticlockwise"


def body(found: Any, places: list[Any]) -> dict[str, Any]:
    return {"id": new_id(), "number": found["at"] + 1, "step": found["step"]["id"], "places": places}


def perform(who: Person, found: Any, places: list[Any] | None = None) -> Any:
    told = [read_aloud(p) for p in found["step"]["places"]] if places is None else places
    return who.post(f"/api/dry-runs/{found['run']}/acts", body(found, told))


def to_kind(who: Person, found: Any, kind: str) -> Any:
    while found["step"]["kind"] != kind or not found["step"]["places"]:
        found = perform(who, found)
    return found


def to_the_end(who: Person, found: Any) -> Any:
    while found["step"]:
        found = perform(who, found)
    return found


def test_without_a_plan_there_is_none(shop: TestShop) -> None:
    student = shop.student(*FOR_TIDE, "measure-micrometer", "square-block", "mill-steps")
    assignment, _ = shop.assign(student, GAUGE_V1, machine=PETREL)
    assert "no plan yet" in page(student, assignment)["cannot"]
    student.fails(409, f"/api/job-cards/{assignment}/dry", {"id": new_id()})


@pytest.mark.long
def test_who_reads_the_card_aloud_gets_a_good_part(planned: tuple[Person, str]) -> None:
    student, assignment = planned
    assert page(student, assignment)["run"] is None
    found = to_the_end(student, begin(student, assignment))
    assert found["at"] == found["of"]
    assert found["outcome"]["causes"] == []
    assert all(line["good"] for line in found["outcome"]["lines"])
    assert page(student, assignment)["outcome"] == found["outcome"]


GOOD, BAD = {"number": 1, "good": True}, {"number": 2, "good": False}
SLIP = {"step": "Zero along X", "words": "half a tip", "numbers": []}


@pytest.mark.parametrize(
    ("lines", "causes", "right", "counts"),
    [
        ([GOOD], [], None, True),
        ([GOOD, BAD], [], None, False),
        ([GOOD], [SLIP], None, False),
        ([GOOD, GOOD], [], True, True),
        # the vise was out of line: what is out is not the student's
        ([GOOD, BAD], [SLIP], True, True),
        ([GOOD, BAD], [SLIP], False, False),
    ],
)
@pytest.mark.parametrize("by", ["the student", "an instructor"])
def test_a_dry_run_speaks_for_its_student_when_nothing_went_wrong(
    planned: tuple[Person, str],
    shop: TestShop,
    lines: list[Any],
    causes: list[Any],
    right: bool | None,
    counts: bool,
    by: str,
) -> None:
    student, assignment = planned
    run = uuid.UUID(begin(student, assignment)["run"])
    me = uuid.UUID(student.id)

    def met(w: Work) -> bool:
        skill = skill_graph(w).get("trace-error")
        return next(m.ok for m in skill_book(w, me).evidence(skill, None) if m.kind == "dry-runs")

    def act(w: Work, number: int, outcome: str) -> bool:
        w.db.add(
            t.DryAct(id=uuid.uuid4(), run_id=run, number=number, step="s", content="{}", outcome=outcome, at=w.now)
        )
        return me in touched(w.db)

    assert not shop.unit.run(met)
    if by == "an instructor":
        boss = uuid.UUID(shop.haldane.id)
        run, begun = uuid.uuid4(), run
        shop.unit.run(lambda w: w.db.add(copied(w.db.get_one(t.DryRun, begun), id=run, person_id=boss)))
    assert not shop.unit.run(lambda w: act(w, 1, "")), "nothing is worked out anew on the way"
    assert shop.unit.run(
        lambda w: act(
            w, 2, json.dumps({"lines": lines, "causes": causes} | ({} if right is None else {"right": right}))
        )
    )
    assert shop.unit.run(met) is (counts and by == "the student")


def copied(row: t.DryRun, **changes: Any) -> t.DryRun:
    """The same row with some columns changed."""
    return t.DryRun(**{c.name: getattr(row, c.name) for c in t.DryRun.__table__.columns} | changes)


@pytest.mark.long
def test_one_turn_too_many_is_named_with_what_it_spoilt(planned: tuple[Person, str]) -> None:
    student, assignment = planned
    found = begin(student, assignment)
    # the wall of a step: nothing sets it right afterwards
    while [p["place"][:1] for p in found["step"]["places"][:1]] != ["X"] or "Mill the step" not in found["step"][
        "head"
    ]:
        found = perform(student, found)
    spoilt = [read_aloud(p) for p in found["step"]["places"]]
    spoilt[0][-1]["turns"] += 1
    title = found["step"]["head"]
    found = to_the_end(student, perform(student, found, spoilt))
    out = [line["number"] for line in found["outcome"]["lines"] if not line["good"]]
    named = found["outcome"]["causes"][0]
    assert out
    assert "miscounted by 1 whole turn" in named["words"]
    assert named["step"].startswith(title)
    assert named["numbers"]
    for cause in found["outcome"]["causes"]:
        assert set(cause["numbers"]) <= set(out), "what came out good is laid to nobody's charge"


def test_a_step_is_done_once_and_in_its_order(planned: tuple[Person, str], shop: TestShop) -> None:
    student, assignment = planned
    found = begin(student, assignment)
    first = body(found, [])
    url = f"/api/dry-runs/{found['run']}/acts"
    assert student.post(url, first)["at"] == 1
    assert student.post(url, first)["at"] == 1, "sent twice, done once"
    student.fails(409, url, {**first, "step": "other"})
    student.fails(409, url, {**body(found, []), "number": 3})
    other = shop.student(*FOR_TIDE)
    other.fails(404, url, body(page(student, assignment), []))
    shop.haldane.fails(403, url, body(page(student, assignment), []))
    assert shop.haldane.get(f"/api/job-cards/{assignment}/dry")["at"] == 1


def test_a_reading_must_be_on_the_dial(planned: tuple[Person, str]) -> None:
    student, assignment = planned
    found = to_kind(student, begin(student, assignment), "pass")
    url = f"/api/dry-runs/{found['run']}/acts"
    turn = {"turning": "clockwise", "turns": 0, "reading": "7.5"}
    refused = student.fails(422, url, body(found, [[turn]]))
    assert "on the dial" in str(refused)
    assert "places.0.0.reading" in str(refused)
    assert page(student, assignment)["at"] == found["at"]


def test_two_devices_at_once_do_a_step_once(planned: tuple[Person, str], shop: TestShop) -> None:
    student, assignment = planned
    found, who = begin(student, assignment), Who(uuid.UUID(student.id), "", Role.STUDENT)

    def one() -> Any:
        command = DryActCommand.model_validate(body(found, []))
        return shop.unit.run(lambda w: dry_act(w, who, uuid.UUID(found["run"]), command).at)

    answers = at_once([one, one, one])
    assert answers.count(1) == 1
    assert sum(isinstance(a, Conflict) for a in answers) == 2
    assert page(student, assignment)["at"] == 1
