"""Pages that are asked for again and again: 304 when nothing changed, and never when what they show did."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from typing import Any

import pytest
from sqlalchemy import event

from incudo.api.kernel.common import LIVE, SLOW
from tests.shop import (
    CALIPER,
    FULMAR,
    METRIC,
    PETREL,
    PINS,
    TIDE_V1,
    Person,
    TestShop,
    new_id,
)

#: A shop of its own, looked at for a whole day.
pytestmark = pytest.mark.long


class Still:
    """A clock that goes on only when it is told to."""

    def __init__(self, moment: datetime) -> None:
        self.moment = moment

    def __call__(self) -> datetime:
        return self.moment

    def forward(self, seconds: float) -> None:
        self.moment += timedelta(seconds=seconds)


def ask(person: Person, path: str, mark: str = "") -> Any:
    return person.client.get(path, headers={"If-None-Match": mark} if mark else {})


@pytest.fixture
def still(shop_apart: TestShop) -> Iterator[Still]:
    """The shop's clock stands still, at the beginning of a stretch after which every page is made anew."""
    running, moment = shop_apart.unit.clock, shop_apart.clock()
    clock = Still(moment + timedelta(seconds=SLOW - moment.timestamp() % SLOW))
    shop_apart.unit.clock = clock
    yield clock
    shop_apart.unit.clock = running


def pages(shop: TestShop, student: Person, card: str) -> list[tuple[str, Person, str]]:
    """Every page that is asked for again and again, as who teaches and as a student see it."""
    taught = ("floor", "session", "crib", "tags", f"job-cards/{card}")
    own = ("bench", f"job-cards/{card}", f"machines/{PETREL}/start", "calls", "tags", "crib")
    return [
        (f"{path} of {who.login}", who, f"/api/{path}")
        for who, each in ((shop.haldane, taught), (student, own))
        for path in each
    ]


def acts(shop: TestShop, still: Still, student: Person, other: Person, card: dict[str, str]) -> list[Callable[[], Any]]:
    """Things that people do in an evening, by this student, by another, and by who teaches."""
    issue, tag, call, reading = new_id(), new_id(), new_id(), new_id()
    pin = {"pin": PINS["haldane"]}
    mark = {"id": new_id(), "marks": [{"student": x.id, "presence": "here"} for x in (student, other)]}
    sample = {"characteristic": 1, "value": "2.4985", "unit": "in", "instrument": CALIPER}
    sign = {"student": student.id, "skill": "facing", "machine": None}
    steps = f"/api/machines/{PETREL}/steps"
    haldane = shop.haldane
    return [
        lambda: haldane.post("/api/session/roll", mark),
        lambda: student.post(steps, {"id": new_id(), "step": "come"}),
        lambda: other.post(steps, {"id": new_id(), "step": "come"}),
        lambda: other.post(f"/api/machines/{FULMAR}/steps", {"id": new_id(), "step": "come"}),
        lambda: student.post("/api/calls", {"id": call, "kind": "help"}),
        lambda: haldane.post(f"/api/calls/{call}/end", {"outcome": "done", "words": "look at the drawing"}),
        lambda: student.post(
            f"/api/attempts/{card['attempt']}/stations", {"id": new_id(), "station": "plan", "at": still().isoformat()}
        ),
        lambda: student.post(
            f"/api/attempts/{card['attempt']}/readings", {"id": reading, "measured_at": still().isoformat(), **sample}
        ),
        lambda: haldane.post("/api/crib/issues", {"id": issue, "person": other.id, "instrument": METRIC}),
        lambda: haldane.post("/api/tags", {"id": tag, "machine": PETREL, "note": "the belt squeals"}),
        lambda: haldane.post(f"/api/tags/{tag}/clear", {"note": "new belt", **pin}),
        lambda: haldane.post(
            "/api/hold-points",
            {
                "id": new_id(),
                "student": student.id,
                "assignment": card["assignment"],
                "hold": "first_start",
                "on": True,
            },
        ),
        lambda: haldane.post(
            "/api/withdrawals", {"id": new_id(), **sign, **pin, "reason": "reached over the cutter", "done": "stopped"}
        ),
        lambda: haldane.post("/api/restorations", {"id": new_id(), **sign, **pin, "reason": "shown again, sure now"}),
        lambda: haldane.post("/api/session/machines", {"id": new_id(), "machine": PETREL, "open": False}),
        lambda: haldane.post(
            f"/api/machines/{PETREL}/notes", {"id": new_id(), "kind": "vise", "words": "the vise was bumped"}
        ),
        lambda: haldane.post("/api/stops", {"id": new_id(), "reason": "the fire bell"}),
        lambda: haldane.post("/api/stops/clear", {"note": "a drill", **pin}),
        lambda: student.post(steps, {"id": new_id(), "step": "go"}),
    ]


def test_a_page_that_shows_something_else_is_sent(shop_apart: TestShop, still: Still) -> None:
    """After each of many acts every page is asked for with its mark: what is not sent has not changed."""
    shop = shop_apart
    student, other = shop.ready_student(), shop.ready_student()
    given = {"id": new_id(), "version": TIDE_V1, "student": student.id, "machine": PETREL, "not_before_signed": True}
    card = shop.haldane.post("/api/assignments", given)
    sent = kept = 0
    watched = pages(shop, student, card["assignment"])
    before = {name: ask(who, path) for name, who, path in watched}
    for number, act in enumerate(acts(shop, still, student, other, card)):
        act()
        for name, who, path in watched:
            asked = ask(who, path, before[name].headers["ETag"])
            whole = ask(who, path)
            if asked.status_code == 304:
                kept += 1
                assert asked.get_data() == b""
                assert whole.get_json() == before[name].get_json(), f"act {number} changed {name}"
            else:
                sent += 1
                assert asked.get_json() == whole.get_json()
            before[name] = whole
    assert sent > 40
    assert kept > 20, "what others do at their own work is not sent to a student again"


@pytest.mark.parametrize(("path", "seconds"), [("/api/floor", LIVE), ("/api/session", SLOW)])
def test_what_changes_by_time_alone_is_looked_at_again(
    shop_apart: TestShop, still: Still, path: str, seconds: int
) -> None:
    mark = ask(shop_apart.haldane, path).headers["ETag"]
    still.forward(seconds - 0.001)
    assert ask(shop_apart.haldane, path, mark).status_code == 304
    still.forward(0.002)
    assert ask(shop_apart.haldane, path, mark).status_code == 200


def test_a_mark_is_one_persons_and_one_pages(shop_apart: TestShop, still: Still) -> None:
    shop = shop_apart
    mark = ask(shop.haldane, "/api/tags").headers["ETag"]
    assert ask(shop.haldane, "/api/tags", mark).status_code == 304
    assert ask(shop.person("selby"), "/api/tags", mark).status_code == 200
    assert ask(shop.haldane, "/api/crib", mark).status_code == 200
    assert ask(shop.person(), "/api/tags", mark).status_code == 401


def test_nothing_new_costs_one_look_besides_the_sign_in(shop_apart: TestShop, still: Still) -> None:
    shop, seen = shop_apart, []
    mark = ask(shop.haldane, "/api/floor").headers["ETag"]

    def note(_connection: Any, _cursor: Any, statement: str, *_rest: Any) -> None:
        seen.append(statement)

    event.listen(shop.unit.engine, "before_cursor_execute", note)
    try:
        assert ask(shop.haldane, "/api/floor", mark).status_code == 304
    finally:
        event.remove(shop.unit.engine, "before_cursor_execute", note)
    assert [s for s in seen if "change_count" in s], "the counters are compared"
    assert len(seen) <= 2, seen
