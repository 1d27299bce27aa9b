"""At a machine: who is there and runs it, the pre-start points, the interlock, the checklist, the duties."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.people.class_list import read_class_list, suggest_login
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
    with pytest.raises(Conflict, match="Come"):
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


@pytest.mark.parametrize(
    ("text", "faults"),
    [
        ("name,login\nAda Quist,ada\nBo Renn,bo", ["", ""]),
        ("name;login\nAda Quist;ada", [""]),
        ("\ufeffname\nÖdön Vik\n\n", [""]),
        ("name,login\nAda Quist,orla", ["taken"]),
        ("name,login\nAda Quist,ada\nAda Quast,ada", ["", "stands in line 2"]),
        ("name,login\nA,ada\n1234,x1\n李,\nFine Name,UP CASE", ["name", "must be a name", "name", "login"]),
        ("name\nAda Quist,more,cells", ["cells"]),
    ],
)
def test_a_class_list_is_judged_line_by_line(text: str, faults: list[str]) -> None:
    lines = read_class_list(text, {"orla"})
    assert len(lines) == len(faults)
    for line, words in zip(lines, faults, strict=True):
        assert words in "; ".join(line.faults) if words else not line.faults, line


@pytest.mark.parametrize("text", ["", "Ada Quist", "name", "name,size\nAda,4", "name\n" + "Ada Quist\n" * 201])
def test_what_is_no_class_list_is_refused(text: str) -> None:
    with pytest.raises(Refused):
        read_class_list(text, ())


@given(st.text(max_size=60))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        lines: Any = read_class_list("name\n" + text, ())
    except Refused:
        return
    assert all(line.faults or (line.name and line.login) for line in lines)


def test_sign_in_names_are_plain() -> None:
    assert suggest_login("Ödön Vik") == "odon.v"
    assert suggest_login("Ada") == "ada"
    assert suggest_login("李") == ""
