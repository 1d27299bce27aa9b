"""Every time limit of a session, on both sides."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

import pytest

from incudo.app.kernel.unit import Unit
from incudo.app.session.floor import floor
from incudo.app.session.now import supervisors, the_session
from incudo.app.session.shopfloor import device_of
from incudo.app.skills.standing import open_shows
from incudo.store import schema as t
from tests.shop import PETREL, TestShop, new_id

At = Callable[[datetime], Unit]
SECOND = timedelta(seconds=1)


@pytest.mark.parametrize(("later", "counts"), [(timedelta(hours=12) - SECOND, 1), (timedelta(hours=12), 0)])
def test_a_supervisors_sign_in_ends_after_twelve_hours(
    shop: TestShop, at: At, moment: datetime, later: timedelta, counts: int
) -> None:
    meeting = uuid.UUID(shop.session())
    begun = at(moment).run(lambda w: w.db.get(t.Meeting, meeting).opened_at)  # type: ignore[union-attr]
    assert len(at(begun + later).run(lambda w: supervisors(w, the_session(w)))) == counts


@pytest.mark.parametrize(("ago", "heard"), [(9.999, True), (10, False), (60, False)])
def test_a_device_that_was_silent_for_ten_seconds_has_lost_its_link(
    shop: TestShop, at: At, moment: datetime, ago: float, heard: bool
) -> None:
    shop.interlock(PETREL)
    machine = uuid.UUID(PETREL)

    def put(w: Any) -> None:
        w.db.get(t.DeviceState, machine).at = moment

    at(moment).run(put)
    found = at(moment + timedelta(seconds=ago)).run(lambda w: device_of(w, machine) is not None)
    assert found is heard


@pytest.mark.parametrize(
    ("later", "waits"), [(timedelta(hours=14) - SECOND, True), (timedelta(hours=14) + SECOND, False)]
)
def test_a_call_that_nobody_answered_is_forgotten_after_fourteen_hours(
    shop: TestShop, at: At, moment: datetime, later: timedelta, waits: bool
) -> None:
    student = shop.can_show_person()
    call = uuid.uuid4()

    def place(w: Any) -> None:
        w.db.add(
            t.Call(
                id=call, student_id=uuid.UUID(student.id), kind="show", what="person", machine_id=None,
                assignment_id=None, words="", at=moment,
            )
        )  # fmt: skip

    at(moment).run(place)
    shows = at(moment + later).run(lambda w: open_shows(w, uuid.UUID(student.id)))
    assert (call in shows.values()) is waits
    line = at(moment + later).run(lambda w: {x.call for x in floor(w).line})
    assert (call in line) is waits


@pytest.mark.parametrize(("later", "there"), [(timedelta(hours=2) - SECOND, True), (timedelta(hours=2), False)])
def test_who_entered_nothing_for_two_hours_is_not_at_work(shop: TestShop, later: timedelta, there: bool) -> None:
    student = shop.ready_student()
    assignment, attempt = shop.assign(student, machine=PETREL)
    shop.clock.stand()
    tick = {"id": new_id(), "station": "plan", "at": "2026-11-28T18:00:00Z"}
    student.post(f"/api/attempts/{attempt}/stations", tick)
    shop.clock.ahead = later
    found = {a.assignment for p in shop.unit.run(floor).plates for a in p.at_work}
    assert (uuid.UUID(assignment) in found) is there
