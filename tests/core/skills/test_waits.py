"""How long one waits after failed tries: twice as long each time, a day at most."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from incudo.core.skills.questions import next_try

NOW = datetime(2026, 11, 27, 18, 0, tzinfo=UTC)


@pytest.mark.parametrize(
    ("failed", "minutes"),
    [(1, 10), (2, 20), (3, 40), (4, 80), (7, 640), (8, 1280), (9, 1440), (13, 1440), (40, 1440)],
)
def test_the_wait_doubles_up_to_a_day(failed: int, minutes: int) -> None:
    failures = [NOW - timedelta(minutes=n) for n in range(failed)]
    assert next_try(failures) == NOW + timedelta(minutes=minutes)


def test_whoever_has_not_failed_begins_at_once() -> None:
    assert next_try([]) is None


def test_the_wait_counts_from_the_last_failure_in_whatever_order_they_are_told() -> None:
    early, late = NOW - timedelta(days=3), NOW
    assert next_try([late, early]) == next_try([early, late]) == NOW + timedelta(minutes=20)
