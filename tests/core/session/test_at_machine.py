"""At a machine: who is there and runs it, the pre-start points, the interlock, the checklist, the duties."""

from __future__ import annotations

from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.session.at_machine import AtMachine, Event, EventKind, check_may_take_handles, fold, hours
from incudo.core.session.duties import SHARED, lay_out_for, share_out
from incudo.core.session.interlock import Command, Facts, Lamp, Motion, command, follow, press_start
from incudo.core.session.prestart import EACH, FULL, check_points, points
from incudo.core.skills.checklist import Outcome, judge_demonstration
from incudo.core.skills.graph import Point
from tests.core.skills.records import ago

K = EventKind


def events(*pairs: tuple[EventKind, str]) -> list[Event]:
    start = ago(1)
    return [
        Event(kind, person, start + timedelta(minutes=10 * n), operation="facing")
        for n, (kind, person) in enumerate(pairs)
    ]


def test_the_first_who_comes_has_the_handles_and_hands_them_on() -> None:
    pair = events((K.COME, "orla"), (K.COME, "juno"))
    assert (fold(pair).people, fold(pair).handles) == (("orla", "juno"), "orla")
    assert fold(pair + events((K.HANDLES, "juno"))).handles == "juno"
    left = fold(pair + events((K.GO, "orla")))
    assert (left.people, left.handles) == (("juno",), "juno")
    assert fold(pair + events((K.GO, "orla"), (K.GO, "juno"))) == AtMachine()


def test_a_confirmation_belongs_to_whoever_had_the_handles() -> None:
    beside = events((K.COME, "orla"), (K.COME, "juno"), (K.CONFIRMED, "orla"))
    assert fold(beside).confirmed is not None
    assert fold(beside + events((K.HANDLES, "juno"))).confirmed is None


def test_handles_never_change_while_it_runs() -> None:
    running = fold(events((K.COME, "orla"), (K.COME, "juno"), (K.LISTED, "orla"), (K.START, "orla")))
    assert running.run is not None
    with pytest.raises(Conflict, match="runs"):
        check_may_take_handles(running, "juno")
    with pytest.raises(Conflict, match="Go to"):
        check_may_take_handles(AtMachine(), "juno")


def test_hours_are_from_start_to_end_and_open_runs_do_not_count() -> None:
    found = hours(events((K.START, "orla"), (K.COME, "juno"), (K.END, "orla"), (K.START, "juno")))
    assert [(p, m) for p, _, m in found] == [("orla", 20)]
    back = hours(events((K.START, "orla"), (K.GO, "juno"), (K.HANDED_BACK, "haldane")))
    assert [(p, m) for p, _, m in back] == [("orla", 20)], "another's going ends no run"


def test_the_full_list_first_and_three_points_later() -> None:
    assert len(points(listed=True)) == 3
    assert {"guards", "stop", "light", "floor", "eyes", "sleeves", "hair", "phone"} == {c.id for c in FULL}
    each = [c.id for c in EACH]
    check_points(each, listed=True)
    with pytest.raises(Refused, match="Guards"):
        check_points(each, listed=False)
    with pytest.raises(Refused, match="Work tight"):
        check_points(["cutter", "speed"], listed=True)


BOOL = st.booleans()


@given(BOOL, BOOL, BOOL, BOOL, BOOL, BOOL)
def test_the_interlock_gates_starting_only(
    started: bool, still_may: bool, closed: bool, stop_all: bool, spindle: bool, feed: bool
) -> None:
    told = command(Facts(started, still_may, closed, stop_all))
    assert told.enable is (started and still_may and not closed and not stop_all)
    assert told.stop is stop_all, "nothing but an instructor's stop of all machines stops a cut"
    motion, shown = follow(Motion(spindle, feed), told)
    assert motion == (Motion() if stop_all else Motion(spindle, feed))
    if started and not still_may and not stop_all:
        assert shown.lamp is Lamp.ALARM
    after = press_start(motion, shown)
    assert after.spindle is (motion.spindle or told.enable)


def test_a_lost_link_alarms_enables_nothing_and_stops_nothing() -> None:
    turning = Motion(spindle=True, feed=True)
    motion, shown = follow(turning, None)
    assert motion == turning
    assert shown == Command(enable=False, lamp=Lamp.ALARM, stop=False)
    assert press_start(Motion(), shown) == Motion()


POINTS = (Point(1, "cutter tight", True), Point(2, "swarf brushed off", False), Point(3, "stop found blind", True))


def test_a_demonstration_is_signed_when_every_point_was_shown() -> None:
    assert judge_demonstration(POINTS, {1: True, 2: True, 3: True}, "seen").outcome is Outcome.SIGNED
    not_yet = judge_demonstration(POINTS, {1: True, 2: False, 3: True}, "seen")
    assert (not_yet.outcome, not_yet.repeat) == (Outcome.NOT_YET, ("swarf brushed off",))


def test_one_no_at_a_critical_point_ends_it_at_once() -> None:
    assert judge_demonstration(POINTS, {1: False}, "seen").outcome is Outcome.NOT_YET
    with pytest.raises(Refused, match="stop found blind"):
        judge_demonstration(POINTS, {1: True, 2: False}, "seen")
    with pytest.raises(Refused, match="not a point"):
        judge_demonstration(POINTS, {1: True, 2: True, 3: True, 9: True}, "seen")


def test_duties_go_round_and_leave_nothing_out() -> None:
    at = {"Petrel": ["Orla", "Juno"], "Fulmar": ["Tavish"]}
    present = ["Orla", "Juno", "Tavish", "Ines", "Bryn"]
    first, second = share_out(at, present, 1), share_out(at, present, 2)
    for found in (first, second):
        assert {d.person for d in found if d.what.startswith(("Petrel", "Fulmar"))} == {"Orla", "Juno", "Tavish"}
        assert {d.what for d in found} >= set(SHARED)
    swept = [next(d.person for d in found if d.what == SHARED[0]) for found in (first, second)]
    assert swept[0] != swept[1]
    assert {d.person for d in share_out({}, ["Ines"], 0)} == {"Ines"}
    assert share_out({}, [], 0) == ()


def test_what_to_lay_out_is_gathered_most_wanted_first() -> None:
    found = lay_out_for([("brass", "Ines"), ("steel", "Orla"), ("steel", "Juno"), ("steel", "Orla")])
    assert [(n.what, n.people) for n in found] == [("steel", ("Orla", "Juno")), ("brass", ("Ines",))]


# ── whatever happens at a machine ─────────────────────────────────────────

PEOPLE = ("orla", "juno", "tam")
happenings = st.lists(
    st.tuples(st.sampled_from(tuple(EventKind)), st.sampled_from(PEOPLE)).map(lambda pair: (pair[0], pair[1])),
    max_size=25,
)


@given(happenings)
def test_whatever_happens_the_handles_are_with_somebody_who_is_there(pairs: list[tuple[EventKind, str]]) -> None:
    """Only what is allowed is recorded: the handles change hands among those who are there, and nobody else runs."""
    recorded: list[Event] = []
    for e in events(*pairs):
        now = fold(recorded)
        if e.kind is K.HANDLES:
            try:
                check_may_take_handles(now, e.person)
            except Conflict:
                continue
        if e.kind is K.START and (now.handles != e.person or now.run is not None):
            continue
        recorded.append(e)
        now = fold(recorded)
        assert len(set(now.people)) == len(now.people)
        assert (now.handles in now.people) if now.people else now.handles == ""
        assert (now.since is None) == (not now.people)
        if now.run is not None:
            assert now.run.person in now.people
            assert now.run.person == now.handles, "whoever runs it has the handles"
    if recorded and recorded[-1].kind is K.HANDED_BACK:
        assert fold(recorded) == AtMachine(handed_back=True)


@given(happenings)
def test_hours_never_count_a_minute_twice(pairs: list[tuple[EventKind, str]]) -> None:
    """What is counted for all people together is at most the time that the machine could have run."""
    found = events(*pairs)
    counted = hours(found)
    if not found:
        assert counted == []
        return
    span = (found[-1].at - found[0].at).total_seconds() / 60
    assert sum(minutes for _, _, minutes in counted) <= span
    assert all(minutes >= 0 for _, _, minutes in counted)
    assert all(any(e.kind is K.START and (e.person, e.at) == (who, at) for e in found) for who, at, _ in counted)


def test_who_comes_back_comes_last_and_a_leaver_ends_only_their_own_run() -> None:
    back = fold(events((K.COME, "orla"), (K.COME, "juno"), (K.GO, "orla"), (K.COME, "orla")))
    assert (back.people, back.handles) == (("juno", "orla"), "juno")
    runs = events((K.COME, "orla"), (K.COME, "juno"), (K.START, "orla"), (K.GO, "juno"))
    assert fold(runs).run is not None
    assert fold([*runs, *events((K.GO, "orla"))]).run is None


def test_the_list_is_ticked_once_and_again_after_the_machine_was_handed_back() -> None:
    listed = events((K.COME, "orla"), (K.LISTED, "orla"))
    assert fold(listed).listed
    assert fold([*listed, *events((K.GO, "orla"), (K.COME, "juno"))]).listed, "it is the machine's, not a person's"
    assert not fold([*listed, *events((K.HANDED_BACK, "haldane"))]).listed


@pytest.mark.parametrize("left_out", [c.id for c in (*FULL, *EACH)])
def test_each_point_of_the_list_is_asked_for_by_its_words(left_out: str) -> None:
    every = [c.id for c in (*FULL, *EACH)]
    check_points(every, listed=False)
    text = next(c.text for c in (*FULL, *EACH) if c.id == left_out)
    with pytest.raises(Refused, match="still to do") as caught:
        check_points([p for p in every if p != left_out], listed=False)
    assert text in caught.value.errors[0].bound
    assert caught.value.errors[0].field == "points"


@given(st.dictionaries(st.sampled_from(("Petrel", "Fulmar")), st.lists(st.sampled_from(PEOPLE), unique=True)),
       st.lists(st.sampled_from((*PEOPLE, "ines", "bryn")), unique=True), st.integers(0, 30))  # fmt: skip
def test_every_duty_is_somebodys_and_whoever_was_at_a_machine_cleans_it(
    at: dict[str, list[str]], present: list[str], turn: int
) -> None:
    found = share_out(at, present, turn)
    for machine, people in at.items():
        for person in people:
            assert any(d.person == person and d.what.startswith(machine) for d in found)
    shared = [d for d in found if d.what in SHARED]
    assert len(shared) == (len(SHARED) if present else 0)
    free = set(present) - {p for people in at.values() for p in people}
    assert {d.person for d in shared} <= (free or set(present))
    if free:
        counts = [sum(d.person == p for d in shared) for p in free]
        assert max(counts) - min(counts) <= 1, "shared evenly"


def test_a_duty_comes_round() -> None:
    swept = [share_out({}, ["a", "b", "c"], turn)[0].person for turn in range(6)]
    assert swept == ["a", "b", "c", "a", "b", "c"]


@given(st.lists(st.tuples(st.sampled_from(("brass", "steel", "gauge")), st.sampled_from(PEOPLE)), max_size=12))
def test_everything_wanted_is_laid_out_for_everybody_who_wants_it(wants: list[tuple[str, str]]) -> None:
    found = lay_out_for(wants)
    assert {(n.what, p) for n in found for p in n.people} == set(wants)
    assert [len(n.people) for n in found] == sorted((len(n.people) for n in found), reverse=True)
    assert all(len(set(n.people)) == len(n.people) for n in found)
