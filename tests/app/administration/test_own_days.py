"""The days of a shop begin and end by its own clock, wherever its server stands."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfoNotFoundError

import pytest
import tzlocal

from incudo.app.administration.manner import KEPT, Manner, Manners
from incudo.app.administration.shop import ShopCommand, shop_change
from incudo.app.kernel.unit import DatabaseAway, Unit, Work
from incudo.app.people.students import group_of
from incudo.app.skills.standings import standing_of
from incudo.core.measuring.verdict import School
from incudo.demo.story import who
from incudo.store import schema as t
from incudo.store.kernel.clock import server_zone
from tests.shop import TestShop

#: Five hours behind UTC: nine in the evening there is two in the morning of the next day in UTC.
WEST = "Etc/GMT+5"


def at(shop: TestShop, moment: datetime) -> Unit:
    return Unit(shop.unit.engine, lambda: moment, shop.unit.key)


def move(unit: Unit, zone: str) -> None:
    unit.run(lambda w: shop_change(w, who("haldane"), ShopCommand(school=School.GUARD_BAND, zone=zone)))


@pytest.fixture
def west(shop_apart: TestShop) -> Iterator[TestShop]:
    move(shop_apart.unit, WEST)
    yield shop_apart
    move(shop_apart.unit, "UTC")


def test_a_day_ends_at_midnight_of_the_shop(west: TestShop) -> None:
    for moment, day in (
        (datetime(2026, 3, 2, 4, 59, 59, 999_999, UTC), date(2026, 3, 1)),
        (datetime(2026, 3, 2, 5, 0, tzinfo=UTC), date(2026, 3, 2)),
    ):
        assert at(west, moment).run(lambda w: w.today) == day


def test_a_place_in_a_group_ends_with_the_evening_of_its_last_day(west: TestShop) -> None:
    student, group, first, last = uuid.UUID(west.student().id), uuid.uuid4(), date(2020, 1, 1), date(2031, 3, 1)

    def join(w: Work) -> None:
        w.db.add(t.Group(id=group, name="Sunday"))
        w.db.flush()
        w.db.add(t.Enrolment(id=uuid.uuid4(), person_id=student, group_id=group, begins=first, ends=last))

    west.unit.run(join)
    evening = datetime(2031, 3, 2, 2, 0, tzinfo=UTC)
    assert at(west, evening).run(lambda w: group_of(w, student)) is not None
    assert at(west, evening + timedelta(hours=3)).run(lambda w: group_of(w, student)) is None


def test_what_was_signed_in_the_evening_was_signed_that_day_and_a_moved_clock_says_so_at_once(
    shop_apart: TestShop,
) -> None:
    """A standing that is kept says its days by the clock of then; it is not believed under another one."""
    evening = (datetime.now(UTC) - timedelta(days=1)).replace(hour=2, minute=0, second=0, microsecond=0)
    student = shop_apart.student().id
    replace(shop_apart, unit=at(shop_apart, evening)).sign(student, "person")

    def says() -> str:
        return shop_apart.unit.run(lambda w: standing_of(w, uuid.UUID(student)).standing("person", None).reason)

    by_utc, there = (f"signed on {x:%-d %B %Y}" for x in (evening, evening - timedelta(days=1)))
    assert by_utc in says()
    move(shop_apart.unit, WEST)
    assert there in says()
    move(shop_apart.unit, "UTC")
    assert by_utc in says()


def test_how_a_shop_writes_is_asked_again_after_some_seconds_or_when_it_was_changed(west: TestShop) -> None:
    now = [0.0]
    manners = Manners(west.unit, lambda: now[0])
    assert manners.now() == Manner("", WEST)
    move(west.unit, "UTC")
    now[0] = KEPT - 0.001
    assert manners.now().zone == WEST
    now[0] = KEPT
    assert manners.now().zone == "UTC"
    move(west.unit, WEST)
    manners.forget()
    assert manners.now().zone == WEST


def test_a_database_that_is_away_changes_nothing_and_is_asked_once_in_a_while(
    west: TestShop, monkeypatch: pytest.MonkeyPatch
) -> None:
    now, asked = [0.0], []
    manners = Manners(west.unit, lambda: now[0])
    assert manners.now().zone == WEST

    def away(_use_case: object) -> Manner:
        asked.append(now[0])
        raise DatabaseAway

    monkeypatch.setattr(manners._unit, "run", away)
    for now[0] in (KEPT, KEPT + 1, 2 * KEPT - 0.001, 2 * KEPT):
        assert manners.now().zone == WEST, "as it wrote before"
    assert asked == [KEPT, 2 * KEPT]


@pytest.mark.parametrize(
    ("said", "zone"),
    [("Etc/GMT+5", "Etc/GMT+5"), ("local", "UTC"), ("", "UTC"), (ZoneInfoNotFoundError("no zone"), "UTC")],
)
def test_a_machine_without_a_zone_that_is_known_has_utc(
    said: str | Exception, zone: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def local() -> str:
        if isinstance(said, Exception):
            raise said
        return said

    monkeypatch.setattr(tzlocal, "get_localzone_name", local)
    assert server_zone() == zone
