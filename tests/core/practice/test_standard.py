"""When a run of a rig is to standard: passes to spare, critical faults, actions at most."""

from __future__ import annotations

import pytest

from incudo.core.kernel.errors import Refused
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import (
    MOST_ACTIONS,
    Action,
    Pass,
    RigSetup,
    State,
    begin,
    do,
    practised,
    practised_passes,
    result,
)

SETUP = RigSetup()


def well_played(rig: str = "vise", seed: str = "7") -> State:
    return practised(RIGS[rig], SETUP, 1, seed)


@pytest.mark.parametrize(("more", "passed"), [(0, True), (3, True), (4, False)])
def test_three_passes_more_than_a_practised_hand_are_allowed(more: int, passed: bool) -> None:
    s = well_played()
    s.passes += [Pass((), 0.0, "", tight=True)] * more
    found = result(RIGS["vise"], s)
    assert found.passed is passed
    assert found.passes == found.practised + more
    assert any("3 more are allowed" in r for r in found.reasons) is not passed


def test_a_critical_fault_ends_the_standard_and_another_does_not() -> None:
    s = well_played()
    s.fault("looked away")
    assert result(RIGS["vise"], s).passed
    s.fault("hit the moving jaw", critical=True)
    found = result(RIGS["vise"], s)
    assert not found.passed
    assert found.reasons == ("hit the moving jaw",)


def test_a_run_has_four_hundred_actions_and_no_more() -> None:
    rig = RIGS["vise"]
    s = begin(rig, SETUP, 1, "7")
    s.count = MOST_ACTIONS - 1
    do(rig, s, Action(do="touch"))
    with pytest.raises(Refused, match="at most 400 actions"):
        do(rig, s, Action(do="touch"))


def test_nothing_is_done_after_the_end() -> None:
    s = well_played()
    assert s.finished
    with pytest.raises(Refused, match="is finished"):
        do(RIGS["vise"], s, Action(do="touch"))


@pytest.mark.parametrize("level", [0, 4])
def test_a_level_that_is_not_there_is_refused_by_name(level: int) -> None:
    with pytest.raises(Refused, match="must be one of: 1, 2, 3"):
        begin(RIGS["vise"], SETUP, level, "7")


@pytest.mark.parametrize("rig", RIGS)
def test_what_is_remembered_of_a_practised_hand_is_what_it_does(rig: str) -> None:
    for seed in ("1", "2"):
        assert practised_passes(RIGS[rig], SETUP, 1, seed) == len(practised(RIGS[rig], SETUP, 1, seed).passes)
