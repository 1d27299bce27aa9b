"""How long sign-offs hold: looked at before it is saved, saved as a version of the skills, with who did it."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest

from incudo.app.skills.lapses import LapseChange, LapsesCommand, lapses_look
from tests.shop import TestShop


def of(page: dict[str, Any], skill: str) -> dict[str, Any]:
    return next(x for x in page["lines"] if x["skill"] == skill)


def change(skill: str, after: int | None, away: int | None = None) -> dict[str, Any]:
    return {"skill": skill, "after_days": after, "absence_days": away}


def a_skill_that_nobody_holds(shop: TestShop) -> str:
    skills = [s["id"] for s in shop.haldane.get("/api/skill-map")["skills"] if not s["per_machine"]]
    body = {"number": 0, "changes": [change(s, 3660) for s in skills]}
    page = shop.haldane.post("/api/lapses/look", body)
    return next(x["skill"] for x in page["lines"] if x["skill"] in skills and x["holders"] == 0)


@pytest.mark.parametrize(("late", "lapsing"), [(timedelta(minutes=-2), 0), (timedelta(minutes=2), 1)])
def test_it_says_for_whom_it_would_lapse_on_both_sides_of_the_moment(
    shop: TestShop, late: timedelta, lapsing: int
) -> None:
    skill = a_skill_that_nobody_holds(shop)
    student = shop.student(skill)
    try:
        shop.clock.ahead += timedelta(days=10) + late
        command = LapsesCommand(number=0, changes=(LapseChange(skill=skill, after_days=10, absence_days=None),))
        page = shop.unit.run(lambda w: lapses_look(w, command))
        line = next(x for x in page.lines if x.skill == skill)
        assert (line.holders, line.lapsing) == (1, lapsing)
    finally:
        shop.clock.ahead = timedelta()
        shop.withdraw(student, skill)


def test_it_is_saved_as_a_version_with_who_changed_it_and_looking_saves_nothing(shop: TestShop) -> None:
    before = shop.haldane.get("/api/lapses")
    old = of(before, "facing")
    body = {"number": before["number"], "changes": [change("facing", 400, 90)]}
    looked = shop.haldane.post("/api/lapses/look", body)
    assert of(looked, "facing")["after_days"] == 400
    assert shop.haldane.get("/api/lapses") == before
    try:
        after = shop.haldane.put("/api/lapses", body)
        assert after["number"] == before["number"] + 1
        assert (of(after, "facing")["after_days"], of(after, "facing")["absence_days"]) == (400, 90)
        assert [x for x in after["lines"] if x != of(after, "facing")] == [
            x for x in before["lines"] if x["skill"] != "facing"
        ]
        act = shop.haldane.get("/api/gone")["acts"][0]
        assert act["by"] == "Mara Haldane"
        assert act["words"] == f"Skills, version {after['number']}: Facing"
        shop.haldane.fails(409, "/api/lapses", body | {"changes": [change("facing", 401)]}, method="PUT")
        # the same again is no change, whoever saved it
        assert shop.haldane.put("/api/lapses", body) == after
    finally:
        now = shop.haldane.get("/api/lapses")["number"]
        back = [change("facing", old["after_days"], old["absence_days"])]
        shop.haldane.put("/api/lapses", {"number": now, "changes": back})


@pytest.mark.parametrize(
    ("line", "field"),
    [
        (change("facing", 0), "changes.0.after_days"),
        (change("facing", 3661), "changes.0.after_days"),
        (change("facing", None, 0), "changes.0.absence_days"),
        (change("facing", None, 3661), "changes.0.absence_days"),
        (change("juggling", 10), "changes.0.skill"),
    ],
)
def test_what_cannot_be_is_said_at_its_field(shop: TestShop, line: dict[str, Any], field: str) -> None:
    refused = shop.haldane.fails(422, "/api/lapses/look", {"number": 0, "changes": [line]})
    assert [e["field"] for e in refused["errors"]] == [field]


@pytest.mark.parametrize("days", [1, 3660])
def test_the_shortest_and_the_longest_are_taken(shop: TestShop, days: int) -> None:
    page = shop.haldane.post("/api/lapses/look", {"number": 0, "changes": [change("facing", days, days)]})
    assert of(page, "facing")["after_days"] == days
