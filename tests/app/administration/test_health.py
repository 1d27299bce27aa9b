"""The pulse of the database: written at most every two seconds."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta

import pytest

from incudo.app.administration import health
from incudo.app.kernel.unit import Unit
from incudo.store import schema as t

LATE = datetime(2040, 1, 1, tzinfo=UTC)


@pytest.mark.parametrize(("after", "written"), [(2.0, False), (2.1, True), (-2.0, False), (-2.1, True)])
def test_a_pulse_is_written_when_the_last_one_is_old(
    at: Callable[[datetime], Unit], after: float, written: bool
) -> None:
    def beat(when: datetime) -> datetime:
        at(when).run(health.beat)
        return at(when).run(lambda w: w.db.get_one(t.Pulse, 1).at)

    first = LATE + timedelta(days=round(after * 1000))
    assert beat(first) == first
    now = first + timedelta(seconds=after)
    assert (beat(now) == now) is written
