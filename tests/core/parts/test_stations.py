"""The line of stations: where a job card stands, what comes next, and which stations are ticked in which order."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.parts.inspection import Outcome
from incudo.core.parts.stations import TICKED, Facts, Station, StationState, line_of, may_tick

S, X = Station, StationState
FRESH = Facts(missing=(), ticked=frozenset(), measured=0, characteristics=5, handed_in=False, outcome=None)
CUT = replace(FRESH, ticked=frozenset(TICKED))


@pytest.mark.parametrize(
    ("facts", "now", "state", "words"),
    [
        (replace(FRESH, missing=("Dials",)), S.READY, X.WAITING, "Get signed first: Dials"),
        (replace(FRESH, missing=("Dials", "Facing")), S.READY, X.WAITING, "Get signed first: Dials; Facing"),
        (FRESH, S.PLAN, X.OPEN, "Read the drawing and plan the work"),
        (replace(FRESH, ticked=frozenset({S.PLAN})), S.SET_UP, X.OPEN, "Set up: head, vise, work holding"),
        (replace(FRESH, ticked=frozenset({S.PLAN, S.SET_UP})), S.LOCATE, X.OPEN, "Find the datum edges and set zero"),
        (replace(FRESH, ticked=frozenset({S.PLAN, S.SET_UP, S.LOCATE})), S.CUT, X.OPEN,
         "Cut, and measure before each last pass"),
        (CUT, S.MEASURE, X.OPEN, "Measure: 5 of 5 characteristics to go"),
        (replace(CUT, measured=1), S.MEASURE, X.DOING, "Measure: 4 of 5 characteristics to go"),
        (replace(CUT, measured=4), S.MEASURE, X.DOING, "Measure: 1 of 5 characteristics to go"),
        (replace(CUT, measured=5), S.MEASURE, X.DOING, "Everything is measured: hand the part in"),
        (replace(CUT, measured=5, handed_in=True), S.SIGN, X.WAITING, "Handed in: wait for your instructor's check"),
        (replace(CUT, measured=5, outcome=Outcome.ACCEPTED), S.SIGN, X.DONE, "Done: the part is accepted"),
    ],
)  # fmt: skip
def test_the_one_next_thing(facts: Facts, now: Station, state: StationState, words: str) -> None:
    line = line_of(facts)
    assert line.now is now
    assert line.states[now] is state
    assert line.next_thing == words
    before = list(Station)[: list(Station).index(now)]
    assert all(line.states[s] is X.DONE for s in before)


def test_rework_sends_back_to_the_cut_and_waits_at_the_measuring() -> None:
    line = line_of(replace(CUT, measured=4, outcome=Outcome.REWORK, rework=(3, 5)))
    assert line.states[S.CUT] is X.REPEAT
    assert line.now is S.MEASURE
    assert line.next_thing == "Rework characteristic 3, 5, measure it again and hand in"
    again = line_of(replace(CUT, measured=5, outcome=Outcome.REWORK, rework=(3,), handed_in=True))
    assert again.states[S.CUT] is X.DONE
    assert again.now is S.SIGN


def test_whoever_measured_has_cut_even_where_nothing_was_ticked() -> None:
    line = line_of(replace(FRESH, measured=1))
    assert all(line.states[s] is X.DONE for s in TICKED)
    assert line.now is S.MEASURE


def test_a_skill_that_lapsed_stops_the_card_but_not_one_that_is_handed_in() -> None:
    lapsed = replace(CUT, missing=("Dials",), measured=2)
    assert line_of(lapsed).now is S.READY
    assert line_of(replace(lapsed, handed_in=True)).now is S.SIGN
    assert line_of(replace(lapsed, outcome=Outcome.ACCEPTED)).next_thing == "Done: the part is accepted"


@pytest.mark.parametrize(
    ("facts", "pointer"),
    [
        (replace(FRESH, missing=("Dials",)), 0.0),
        (FRESH, 1.0),
        (CUT, 5.0),
        (replace(CUT, measured=1), 5.18),
        (replace(CUT, measured=5), 5.9),
        (replace(CUT, measured=5, handed_in=True), 6.5),
        (replace(CUT, measured=5, outcome=Outcome.ACCEPTED), 7.0),
        (replace(CUT, characteristics=0), 5.0),
    ],
)
def test_where_the_pointer_stands(facts: Facts, pointer: float) -> None:
    assert line_of(facts).pointer == pytest.approx(pointer)


facts = st.builds(
    Facts,
    missing=st.sampled_from(((), ("Dials",))),
    ticked=st.sets(st.sampled_from(TICKED)).map(frozenset),
    measured=st.integers(0, 5),
    characteristics=st.just(5),
    handed_in=st.booleans(),
    outcome=st.sampled_from((None, *Outcome)),
    rework=st.sampled_from(((), (1,))),
)


@given(facts)
def test_there_is_always_one_place_one_pointer_and_one_sentence(f: Facts) -> None:
    line = line_of(f)
    assert set(line.states) == set(Station)
    assert 0 <= line.pointer <= 7
    assert line.next_thing
    at = list(Station).index(line.now)
    if line.pointer < 7:
        assert at <= line.pointer < at + 1
    assert (line.pointer == 7) == (f.outcome is Outcome.ACCEPTED)


@given(st.integers(0, 4), st.integers(0, 4))
def test_more_measured_never_moves_the_pointer_back(one: int, more: int) -> None:
    low, high = sorted((one, more))
    first, second = (line_of(replace(CUT, measured=n)).pointer for n in (low, high))
    assert first <= second


@pytest.mark.parametrize(
    ("ticked", "station", "may"),
    [
        ((), S.PLAN, True),
        ((), S.SET_UP, False),
        ((S.PLAN,), S.SET_UP, True),
        ((S.PLAN,), S.PLAN, False),
        ((S.SET_UP,), S.LOCATE, False),
        ((S.PLAN, S.SET_UP, S.LOCATE), S.CUT, True),
        ((), S.READY, False),
        ((S.PLAN, S.SET_UP, S.LOCATE, S.CUT), S.MEASURE, False),
        ((S.PLAN, S.SET_UP, S.LOCATE, S.CUT), S.SIGN, False),
    ],
)
def test_stations_are_ticked_in_order_each_once(ticked: tuple[Station, ...], station: Station, may: bool) -> None:
    assert may_tick(ticked, station) is may
