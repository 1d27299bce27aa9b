"""This evening in the demo shop: an open session of the Tuesday group, at work."""

from __future__ import annotations

import uuid
from datetime import timedelta

from incudo.app.locating import views as findviews
from incudo.app.practice import rig_views, rigs
from incudo.app.session import calls, roll, sessions, views
from incudo.app.session import starts as machines
from incudo.app.shop import tags
from incudo.app.shop.crib import Condition
from incudo.core.locating.datum import Scale
from incudo.core.locating.finders import Face
from incudo.core.parts.holds import Hold
from incudo.core.session.calls import CallKind
from incudo.core.session.prestart import EACH, FULL
from incudo.demo import people as cast
from incudo.demo.planning import BLIND, IN_CHUCK, planned
from incudo.demo.practising import (
    back,
    counter,
    reckoned_today,
    repeated_readings,
    right_in_a_row,
    sheet_of_the_week,
    stumble,
)
from incudo.demo.setting import found_today, hold_today, moved_today
from incudo.demo.signing import reach_standard, run_exercise, take_check
from incudo.demo.story import Story, key, who

GROUP = "Tuesday group"
#: Who is late, who is not here; the others are.
LATE, ABSENT = ("kaia",), ("ruari", "edda")
#: Machine → who stands there, the first at the handles.
STANDS = {
    "petrel": ("orla", "juno"),
    "fulmar": ("tavish", "ines"),
    "gannet": ("bryn",),
    "dunlin": ("senna", "kaia"),
}
_ALL = tuple(c.id for c in (*FULL, *EACH))


def open_today(story: Story) -> None:
    """Open the session, call the roll, put people at the machines, let some work and some call."""
    boss = who("haldane")
    story.at(2)
    tag = tags.TagCommand(
        id=key("tag", "m50"),
        instrument=key("instrument", "m50"),
        note="dropped on the floor, spindle feels rough between 31 and 34 mm",
    )
    story.run(lambda w: tags.tag_out(w, who("bryn"), tag))
    story.at(0, 62)
    opened = sessions.OpenSession(
        id=key("today"),
        group=key("group", GROUP),
        machines=tuple(key("machine", m) for m, _, _ in cast.MACHINES),
        pin="0000",
    )
    story.run(lambda w: sessions.open_session(w, boss, opened))
    story.at(0, 60)
    called = roll.RollCommand(
        id=key("today", "roll"),
        marks=tuple(
            roll.RollMark(student=key("person", login), presence=_presence(login))
            for login, p in cast.PEOPLE.items()
            if p.group == GROUP
        ),
    )
    story.run(lambda w: roll.mark_roll(w, boss, called))
    _stand(story)
    _set_up(story)
    _work(story)


def _presence(login: str) -> views.Presence:
    if login in ABSENT:
        return views.Presence.ABSENT
    return views.Presence.LATE if login in LATE else views.Presence.HERE


def _stand(story: Story) -> None:
    for n, (machine, people) in enumerate(STANDS.items()):
        for i, login in enumerate(people):
            story.at(0, 56 - 3 * n - i)
            come = machines.StepCommand(id=key("come", machine, login), step=machines.Step.COME)
            place, person = key("machine", machine), who(login)
            story.run(lambda w, c=come, p=place, x=person: machines.step(w, x, p, c))  # type: ignore[misc]


def _start(story: Story, login: str, machine: str, operation: str, assignment: uuid.UUID | None = None) -> None:
    command = machines.StartCommand(
        id=key("start", login, machine, operation, story.now),
        operation=operation,
        assignment=assignment,
        points=_ALL,
    )
    place = key("machine", machine)
    story.run(lambda w: machines.start(w, who(login), place, command))


def _assignment(login: str, project: str) -> uuid.UUID:
    """The newest assignment of this project to this student."""
    found = [n for n, p in enumerate(cast.PARTS) if (p.student, p.project) == (login, project)]
    return key("assignment", found[-1])


def _set_up(story: Story) -> None:
    """Gannet's vise was bumped; Orla holds the work; an exercise waits for the group."""
    story.at(0, 45)
    moved_today(story)
    story.at(0, 30)
    hold_today(story, "orla", _assignment("orla", "keel-step-gauge"), ("0.950", "3.300", "1.060"), ("first step",))
    _found(story)
    _plan(story)
    _reckon(story)
    story.at(2)
    exercise = rig_views.SetExercise(
        id=key("exercise"),
        group=key("group", GROUP),
        rig="vise",
        level=1,
        seed="harbour",
        words="Petrel's vise, before you touch the real one. Three passes are enough.",
    )
    story.run(lambda w: rigs.set_exercise(w, who("haldane"), exercise))
    story.at(1)
    for login, follows in (("orla", True), ("ines", True), ("kaia", False)):
        run_exercise(story, who(login), key("exercise"), follows=follows)


def _plan(story: Story) -> None:
    """Orla's plan is good, Juno's waits for approval, Tam's came back at once, Freya has begun one."""
    story.at(1, 30)
    planned(story, "orla", _assignment("orla", "keel-step-gauge"))
    story.at(1, 10)
    planned(story, "tam", _assignment("tam", "tide-block"), IN_CHUCK)
    story.at(0, 50)
    planned(story, "freya", _assignment("freya", "keel-step-gauge"), holdings=2, hand_in=False)
    story.at(0, 26)
    planned(story, "juno", _assignment("juno", "keel-step-gauge"), BLIND, approval=True)


def _reckon(story: Story) -> None:
    """A sheet for the group, what some of them practised, and the crib's counter this evening."""
    story.at(3)
    repeated_readings(story, GROUP)
    sheet_of_the_week(story, GROUP)
    story.at(2)
    stumble(story, who("kaia"), "spindle-speed", [None, 0, None, 2, None, None, None])
    stumble(story, who("juno"), "table-feed", [0, None, 1, None, None])
    story.at(7)
    counter(story, "kaia", cutter="End mill 10 mm, 4 flutes", note="for the shackle pin")
    broken = counter(story, "juno", cutter="End mill 1/8 in, 2 flutes")
    story.now += timedelta(minutes=50)
    back(story, broken, Condition.BROKEN, "fed by hand into a corner")
    story.at(0, 35)
    reckoned_today(story, "orla", _assignment("orla", "keel-step-gauge"))
    counter(story, "orla", cutter="End mill 1/2 in, 4 flutes")
    counter(story, "orla", instrument="m01")
    story.at(0, 33)
    counter(story, "orla", cutter="Edge finder, tip 0.200 in")
    counter(story, "tavish", cutter="Drill F")
    counter(story, "senna", cutter="Face mill 63 mm, carbide tips")


def _found(story: Story) -> None:
    """Orla touched the left end of the part twice and its top over paper."""
    card = _assignment("orla", "keel-step-gauge")
    story.at(0, 24)
    edge = findviews.EdgeFind(
        handle=0, scale=Scale.DIAL, face=Face.LEFT, finder="kick-in", touches=("0.0380", "0.0385")
    )
    found_today(story, "orla", card, edge)
    story.at(0, 21)
    top = findviews.DepthFind(handle=3, scale=Scale.DIAL, how="paper", thickness="0.003", reading="0.0450")
    found_today(story, "orla", card, top)


def _work(story: Story) -> None:
    """Orla steps with Mara Haldane beside them, Tavish drills alone, Senna waits, Bryn has a hold point."""
    boss = who("haldane")
    step_gauge = _assignment("orla", "keel-step-gauge")
    story.at(0, 14)
    _start(story, "orla", "petrel", "mill-steps", step_gauge)
    story.at(0, 11)
    beside = machines.ConfirmCommand(
        id=key("beside", "orla"), student=key("person", "orla"), operation="mill-steps", pin="0000"
    )
    story.run(lambda w: machines.confirm(w, boss, key("machine", "petrel"), beside))
    story.now += timedelta(minutes=1)
    _start(story, "orla", "petrel", "mill-steps", step_gauge)
    story.at(0, 18)
    _start(story, "tavish", "fulmar", "drilling")
    story.at(0, 40)
    hold = calls.HoldCommand(
        id=key("hold", "bryn"),
        student=key("person", "bryn"),
        assignment=_assignment("bryn", "shackle-pin"),
        hold=Hold.FIRST_START,
        on=True,
    )
    story.run(lambda w: calls.set_hold(w, boss, hold))
    story.at(0, 7)
    held = calls.CallCommand(
        id=key("call", "bryn"),
        kind=CallKind.HOLD,
        machine=key("machine", "gannet"),
        assignment=_assignment("bryn", "shackle-pin"),
        what=Hold.FIRST_START,
    )
    story.run(lambda w: calls.call(w, who("bryn"), held))
    story.at(0, 4)
    _start(story, "senna", "dunlin", "facing")
    story.at(0, 9)
    reach_standard(story, who("kaia"), "edge", 2, 2)
    take_check(story, who("kaia"), "locating")
    right_in_a_row(story, who("kaia"), "edge", 3)
    show = calls.CallCommand(id=key("call", "kaia"), kind=CallKind.SHOW, what="edge-finding")
    story.run(lambda w: calls.call(w, who("kaia"), show))
