"""The line: who waits for an assessor, for what, since when."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import datetime

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Named, View
from incudo.app.parts.attempts import projects_of
from incudo.app.people.names import names_of
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.standings import ready_to_sign
from incudo.core.kernel.say import say, together
from incudo.core.parts.holds import WORDS, Hold
from incudo.core.session.calls import KEPT, CallKind
from incudo.store.parts import attempts
from incudo.store.parts.attempts import WaitingPart
from incudo.store.planning import plans
from incudo.store.session import calling


class Waiting(View):
    """Somebody who waits: a call, a part to check, a skill to sign."""

    kind: str
    call: uuid.UUID | None
    hand_in: uuid.UUID | None
    student: Named
    machine: Named | None
    assignment: uuid.UUID | None
    skill: str
    what: str
    detail: str
    since: datetime


#: What stands in the line for each kind of call.
CALLED = {
    CallKind.START: say("wants to start with you beside them"),
    CallKind.HOLD: say("hold point"),
    CallKind.SHOW: say("wants to show a skill"),
    CallKind.HELP: say("calls for help"),
}


def line_of(w: Work, handed_in: list[WaitingPart], machines: Mapping[str, str]) -> tuple[Waiting, ...]:
    """Calls from the machines first, since somebody stands there; then parts and skills; each longest first."""
    planned = plans.waiting(w.db)
    parts = projects_of(w, {x.version for x in handed_in} | {x.version for x in planned})
    waiting = [*_to_sign(w), *_calls(w, machines)]
    for p in planned:
        again = "" if p.number == 1 else say("plan {number}", number=p.number)
        waiting.append(
            _waiting(
                "plan",
                Named(id=p.student, name=p.student_name),
                say("plan to approve"),
                together((y for y in (parts[p.version].name, again) if y), " · "),
                p.at,
                assignment=p.assignment,
            )
        )
    for x in handed_in:
        again = "" if x.number == 1 else say("reworked, hand-in {number}", number=x.number)
        waiting.append(
            _waiting(
                "check",
                Named(id=x.student, name=x.student_name),
                say("part handed in"),
                together((y for y in (parts[x.version].name, again) if y), " · "),
                x.at,
                hand_in=x.hand_in,
                assignment=x.assignment,
            )
        )
    return tuple(sorted(waiting, key=lambda x: (x.call is None, x.since)))


def _waiting(
    kind: str,
    student: Named,
    what: str,
    detail: str,
    since: datetime,
    *,
    call: uuid.UUID | None = None,
    hand_in: uuid.UUID | None = None,
    machine: Named | None = None,
    assignment: uuid.UUID | None = None,
    skill: str = "",
) -> Waiting:
    return Waiting(
        kind=kind,
        call=call,
        hand_in=hand_in,
        student=student,
        machine=machine,
        assignment=assignment,
        skill=skill,
        what=what,
        detail=detail,
        since=since,
    )


def _calls(w: Work, machines: Mapping[str, str]) -> list[Waiting]:
    graph, calls = skill_graph(w), calling.open_calls(w.db, w.now - KEPT)
    given = attempts.versions_given(w.db, {c.assignment_id for c, _ in calls if c.assignment_id})
    projects = projects_of(w, set(given.values()))
    parts = {assignment: projects[version].name for assignment, version in given.items()}
    found = []
    for c, name in calls:
        kind = CallKind(c.kind)
        machine = Named(id=c.machine_id, name=machines[str(c.machine_id)]) if c.machine_id else None
        about = ""
        if kind in (CallKind.START, CallKind.SHOW):
            about = graph.get(c.what).name
        elif kind is CallKind.HOLD:
            about = WORDS[Hold(c.what)]
        part = parts.get(c.assignment_id, "") if c.assignment_id else ""
        details = (about, machine.name if machine else "", part, c.words)
        found.append(
            _waiting(
                kind.value,
                Named(id=c.student_id, name=name),
                CALLED[kind],
                together((x for x in details if x), " · "),
                c.at,
                call=c.id,
                machine=machine,
                assignment=c.assignment_id,
                skill=c.what if kind in (CallKind.START, CallKind.SHOW) else "",
            )
        )
    return found


def _to_sign(w: Work) -> list[Waiting]:
    """Skills whose inspected parts are complete and that nobody has signed yet."""
    graph, ready = skill_graph(w), ready_to_sign(w)
    names = names_of(w, {student for student, _, _ in ready})
    return [
        _waiting(
            "sign",
            Named(id=student, name=names[student]),
            say("skill ready to be signed"),
            graph.get(skill).name,
            at,
            skill=skill,
        )
        for student, skill, at in ready
    ]
