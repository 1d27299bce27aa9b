"""What to check, what a decision means, and where a job card stands."""

from __future__ import annotations

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.measuring.verdict import Verdict
from incudo.core.parts.inspection import Disposition, Outcome, settle, what_to_check
from incudo.core.parts.project import read_project
from incudo.core.parts.stations import TICKED, Facts, Station, StationState, line_of, may_tick
from tests.paths import VERSION_1

GAUGE = read_project(yaml.safe_load((VERSION_1 / "keel-step-gauge.yaml").read_text()))


@given(st.text(max_size=20))
def test_the_tightest_is_always_checked_with_one_other(seed: str) -> None:
    tightest, other = what_to_check(GAUGE, seed)
    assert tightest == 4, "0.002 wide"
    assert other in {1, 2, 3, 5, 6, 7}
    assert what_to_check(GAUGE, seed) == (tightest, other), "the same for the same hand-in"


def test_the_random_one_reaches_every_other() -> None:
    assert {what_to_check(GAUGE, str(i))[1] for i in range(200)} == {1, 2, 3, 5, 6, 7}


A, R, S = Disposition.ACCEPT, Disposition.REWORK, Disposition.SCRAP
VERDICTS = {1: Verdict.IN, 2: Verdict.METAL_LEFT, 3: Verdict.METAL_GONE, 4: Verdict.TOO_CLOSE}


@pytest.mark.parametrize(
    ("chosen", "outcome"),
    [
        ({2: (R, ""), 3: (A, "serves"), 4: (A, "serves")}, Outcome.REWORK),
        ({2: (A, " fit "), 3: (A, "serves"), 4: (A, "serves")}, Outcome.ACCEPTED),
        ({2: (R, ""), 3: (S, ""), 4: (R, "")}, Outcome.SCRAPPED),
    ],
)
def test_the_outcome_of_a_decision(chosen: dict[int, tuple[Disposition, str]], outcome: Outcome) -> None:
    assert settle(VERDICTS, chosen) is outcome


@pytest.mark.parametrize(
    ("chosen", "field", "bound"),
    [
        ({2: (R, ""), 3: (S, "")}, "dispositions.4", "decide: rework, accept or scrap"),
        ({2: (A, " ok "), 3: (S, ""), 4: (R, "")}, "dispositions.2.reason", "needs a reason"),
        ({1: (R, ""), 2: (R, ""), 3: (S, ""), 4: (R, "")}, "dispositions.1", "nothing to decide"),
        ({2: (R, ""), 3: (R, ""), 4: (R, "")}, "dispositions.3", "the metal is gone"),
        ({2: (R, ""), 3: (S, ""), 4: (R, ""), 9: (R, "")}, "dispositions.9", "no such characteristic"),
    ],
)
def test_what_a_decision_lacks_is_named(chosen: dict[int, tuple[Disposition, str]], field: str, bound: str) -> None:
    with pytest.raises(Refused) as refused:
        settle(VERDICTS, chosen)
    assert [(e.field, bound in e.bound) for e in refused.value.errors] == [(field, True)]


def facts(
    missing: tuple[str, ...] = (),
    ticked: tuple[Station, ...] = (),
    measured: int = 0,
    handed_in: bool = False,
    outcome: Outcome | None = None,
    rework: tuple[int, ...] = (),
) -> Facts:
    return Facts(missing, frozenset(ticked), measured, 7, handed_in, outcome, rework)


def test_the_one_next_thing() -> None:
    closed = line_of(facts(missing=("General safety",)))
    assert (closed.now, closed.pointer) == (Station.READY, 0)
    assert closed.states[Station.READY] is StationState.WAITING
    assert "General safety" in closed.next_thing
    fresh = line_of(facts())
    assert fresh.now is Station.PLAN
    cutting = line_of(facts(ticked=TICKED[:3]))
    assert cutting.now is Station.CUT
    measuring = line_of(facts(measured=3))
    assert measuring.now is Station.MEASURE
    assert measuring.states[Station.CUT] is StationState.DONE, "what is measured was cut"
    assert "4 of 7" in measuring.next_thing
    assert "hand the part in" in line_of(facts(measured=7)).next_thing
    waiting = line_of(facts(measured=7, handed_in=True))
    assert waiting.states[Station.SIGN] is StationState.WAITING
    again = line_of(facts(measured=6, outcome=Outcome.REWORK, rework=(2,)))
    assert again.states[Station.CUT] is StationState.REPEAT
    assert "Rework characteristic 2" in again.next_thing
    done = line_of(facts(measured=7, outcome=Outcome.ACCEPTED))
    assert set(done.states.values()) == {StationState.DONE}
    assert done.pointer == 7


@given(st.sets(st.sampled_from(TICKED)), st.integers(0, 7), st.booleans())
def test_the_pointer_stays_on_the_rule_and_one_thing_is_next(
    ticked: set[Station], measured: int, handed_in: bool
) -> None:
    line = line_of(facts(ticked=tuple(ticked), measured=measured, handed_in=handed_in))
    assert 0 <= line.pointer <= 7
    assert line.next_thing
    assert line.states[line.now] is not StationState.NOT_YET


def test_stations_are_ticked_in_order_and_once() -> None:
    done: list[Station] = []
    for station in TICKED:
        assert not any(may_tick(done, s) for s in TICKED if s is not station)
        assert may_tick(done, station)
        done.append(station)
    assert not any(may_tick(done, s) for s in Station)
