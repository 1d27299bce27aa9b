"""What a run card that has come so far makes of the stations of its job card."""

from __future__ import annotations

import pytest

from incudo.core.cutting.reached import reached
from incudo.core.cutting.step import StepKind
from incudo.core.parts.stations import TICKED, Station
from tests.core.cutting.test_procedures import card_of
from tests.core.cutting.test_worker import looked_at


@pytest.mark.parametrize(("machine", "part"), [("petrel", "keel-step-gauge"), ("gannet", "bilge-strainer")])
def test_a_station_is_done_when_the_first_of_its_work_is_and_cut_when_all_is(machine: str, part: str) -> None:
    steps = card_of(looked_at(part, machine), machine)
    before: tuple[Station, ...] = ()
    came = {}
    for n in range(len(steps) + 1):
        found = reached(steps, {s.id for s in steps[:n]})
        assert found == TICKED[: len(found)]
        assert len(found) >= len(before), "nothing is taken back by going on"
        for station in set(found) - set(before):
            came[station] = n
        before = found
    first = {kind: next(n for n, s in enumerate(steps, 1) if s.kind is kind) for kind in (StepKind.HOLD, StepKind.PASS)}
    assert came == {
        Station.PLAN: 1,
        Station.SET_UP: first[StepKind.HOLD],
        Station.LOCATE: first[StepKind.PASS],
        Station.CUT: len(steps),
    }


def test_where_nothing_is_done_nothing_is_reached() -> None:
    steps = card_of(looked_at("keel-step-gauge", "petrel"), "petrel")
    assert reached(steps, ()) == ()
    assert reached((), {"s1"}) == ()
