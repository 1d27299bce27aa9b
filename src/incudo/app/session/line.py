"""The line: who waits for an assessor, for what, since when."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import datetime

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Named, View
from incudo.app.parts.attempts import AttemptFile
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.standings import ready_to_sign
from incudo.core.parts.holds import WORDS, Hold
from incudo.core.session.calls import KEPT, CallKind
from incudo.store.people import people as people_store
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
    CallKind.START: "wants to start, with you beside",
    CallKind.HOLD: "hold point",
    CallKind.SHOW: "wants to show a skill",
    CallKind.HELP: "calls for help",
}


def line_of(w: Work, files: list[AttemptFile], machines: Mapping[str, str]) -> tuple[Waiting, ...]:
    """Calls from the machines first, since somebody stands there; then parts and skills; each longest first."""
    waiting = [*_to_sign(w), *_calls(w, files, machines)]
    for file in files:
        if file.pending is None:
            continue
        again = "" if file.pending.number == 1 else f"reworked, hand-in {file.pending.number}"
        waiting.append(
            _waiting(
                "check",
                Named(id=file.student.id, name=file.student.name),
                "part handed in",
                " · ".join(x for x in (file.project.name, again) if x),
                file.pending.at,
                hand_in=file.pending.id,
                assignment=file.assignment.id,
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


def _calls(w: Work, files: list[AttemptFile], machines: Mapping[str, str]) -> list[Waiting]:
    graph = skill_graph(w)
    parts = {f.assignment.id: f.project.name for f in files}
    found = []
    for c, name in calling.open_calls(w.db, w.now - KEPT):
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
                " · ".join(x for x in details if x),
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
    names = people_store.names(w.db, {student for student, _, _ in ready})
    return [
        _waiting(
            "sign",
            Named(id=student, name=names[student]),
            "skill ready to be signed",
            graph.get(skill).name,
            at,
            skill=skill,
        )
        for student, skill, at in ready
    ]
