"""Calling an instructor with one touch, answering a call, and hold points."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from datetime import datetime
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Note, View
from incudo.app.parts.attempts import AttemptFile, newest_attempt
from incudo.app.people.students import student_of
from incudo.app.shop.machines import machine_here
from incudo.app.skills.records import skill_book
from incudo.app.skills.shows import end_call
from incudo.core.kernel.errors import NotFound, NotPermitted, Refused
from incudo.core.kernel.say import say, together
from incudo.core.parts.holds import WORDS, Hold
from incudo.core.people.roles import Role
from incudo.core.session.calls import KEPT, CallKind, CallOutcome
from incudo.core.skills.standing import State
from incudo.store import schema as t
from incudo.store.session import calling


class CallCommand(Command):
    """A call. ``what`` is the skill to show or the hold point; help needs nothing."""

    id: uuid.UUID
    kind: CallKind
    machine: uuid.UUID | None = None
    assignment: uuid.UUID | None = None
    what: Annotated[str, StringConstraints(max_length=60)] = ""
    words: Note = ""


class AnswerCallCommand(Command):
    """A call is answered, or taken back by the one who called."""

    outcome: CallOutcome
    words: Note = ""


class CallView(View):
    """One's own call and what came of it."""

    id: uuid.UUID
    kind: CallKind
    machine: uuid.UUID | None
    assignment: uuid.UUID | None
    what: str
    at: datetime
    outcome: CallOutcome | None
    by: str
    words: str


class CallList(View):
    """Everybody who calls, the longest waiting first."""

    calls: tuple[CallView, ...]


class HoldView(View):
    """A hold point of a job card and where it stands."""

    hold: Hold
    words: str
    set_by: str
    called: uuid.UUID | None
    released: bool


class HoldCommand(Command):
    """Set or lift a hold point for a student, on one job card or on all of theirs."""

    id: uuid.UUID
    student: uuid.UUID
    assignment: uuid.UUID | None = None
    hold: Hold
    on: bool


def my_calls(w: Work, who: Who) -> CallList:
    """A student's calls of this session, the newest first."""
    rows = calling.calls_of(w.db, who.id, w.now - KEPT)
    return CallList(calls=tuple(_call_view(c, end, by) for c, end, by in rows))


def _call_view(c: t.Call, end: t.CallEnd | None, by: str) -> CallView:
    return CallView(
        id=c.id,
        kind=CallKind(c.kind),
        machine=c.machine_id,
        assignment=c.assignment_id,
        what=c.what,
        at=c.at,
        outcome=CallOutcome(end.outcome) if end else None,
        by=by,
        words=end.words if end else c.words,
    )


def call(w: Work, who: Who, command: CallCommand) -> CallList:
    """A student calls. The same thing is not called for twice while the first call is open."""
    if command.machine:
        machine_here(w, command.machine)
    if command.assignment:
        file = newest_attempt(w, command.assignment)
        if file.student.id != who.id:
            raise NotFound(say("There is no such job card."))
    if command.kind is CallKind.START:
        raise Refused.of("kind", command.kind, say("a start is asked for at the machine"))
    if command.kind is CallKind.SHOW and w.db.get(t.Call, command.id) is None:
        _may_show(w, who, command)
    if command.kind is CallKind.HOLD:
        if command.what not in list(Hold):
            raise Refused.of("what", command.what, say("must be one of: {listed}", listed=together(Hold, ", ")))
        if command.assignment is None:
            raise Refused.of("assignment", "", say("say which job card"))
    for c, end, _ in calling.calls_of(w.db, who.id, w.now - KEPT):
        same = (c.kind, c.what, c.machine_id, c.assignment_id) == (
            command.kind,
            command.what,
            command.machine,
            command.assignment,
        )
        if end is None and same and c.id != command.id:
            return my_calls(w, who)
    place_call(w, who.id, command)
    return my_calls(w, who)


def _may_show(w: Work, who: Who, command: CallCommand) -> None:
    """A skill is shown when it is ready, or for a refresher. Raises ``NotPermitted`` with what is missing."""
    book = skill_book(w, who.id)
    skill = book.graph.get(command.what)
    if skill.per_machine is not (command.machine is not None):
        raise Refused.of("machine", command.machine, say("name the machine if the skill is signed per machine"))
    s = book.standing(skill.id, str(command.machine) if command.machine else None)
    if s.state is not State.READY and not s.state.refreshed:
        raise NotPermitted(say("{name}: {reason}.", name=skill.name, reason=s.reason))


def place_call(w: Work, student: uuid.UUID, command: CallCommand) -> None:
    """Write the call down; once per id."""
    row = t.Call(
        id=command.id,
        student_id=student,
        kind=command.kind.value,
        machine_id=command.machine,
        assignment_id=command.assignment,
        what=command.what,
        words=command.words,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))


def answer_call(w: Work, who: Who, call_id: uuid.UUID, command: AnswerCallCommand) -> CallList:
    """Answer a call. A hold point only an instructor releases; the caller may take their call back."""
    row = find(w, t.Call, call_id, "call")
    own = row.student_id == who.id
    if who.role is Role.STUDENT and not own:
        raise NotFound(say("There is no such call."))
    if own is not (command.outcome is CallOutcome.CANCELLED):
        raise NotPermitted(say("Whoever called cancels the call; an assessor answers it."))
    if row.kind == CallKind.HOLD and not own and who.role is not Role.INSTRUCTOR:
        raise NotPermitted(say("A hold point is released by an instructor."))
    if row.kind == CallKind.START and command.outcome is CallOutcome.DONE:
        raise NotPermitted(say("A start is confirmed at the machine, with your PIN."))
    end_call(w, call_id, who.id, command.outcome, command.words)
    return my_calls(w, who)


def set_hold(w: Work, who: Who, command: HoldCommand) -> None:
    """Set or lift a hold point for a student."""
    student_of(w, command.student)
    if command.assignment:
        file = newest_attempt(w, command.assignment)
        if file.student.id != command.student:
            raise Refused.of("assignment", command.assignment, say("is another student's"))
    row = t.HoldPoint(
        id=command.id,
        student_id=command.student,
        assignment_id=command.assignment,
        hold=command.hold.value,
        on=command.on,
        by_id=who.id,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))


def load_holds(w: Work, files: Sequence[AttemptFile]) -> None:
    """Read what is set and called at hold points of several job cards at once, each once in a use case."""
    points: dict[uuid.UUID, list[t.HoldPoint]] = w.memo.setdefault("hold points", {})
    calls: dict[uuid.UUID, list[tuple[t.Call, t.CallEnd | None]]] = w.memo.setdefault("hold calls", {})
    if students := {f.student.id for f in files} - points.keys():
        points |= {s: [] for s in students}
        for row in calling.hold_points(w.db, students):
            points[row.student_id].append(row)
    if cards := {f.assignment.id for f in files} - calls.keys():
        calls |= {a: [] for a in cards}
        for c, end in calling.hold_calls(w.db, cards):
            if c.assignment_id is not None:
                calls[c.assignment_id].append((c, end))


def holds_of(w: Work, file: AttemptFile) -> tuple[HoldView, ...]:
    """The hold points of a job card, from its project, the student and the card, and what is released.

    A release counts for the attempt in which it was given.
    """
    load_holds(w, [file])
    rows = w.memo["hold points"][file.student.id]
    by: dict[Hold, str] = {Hold(h): "part" for h in file.project.hold_points}
    newest: dict[tuple[str, bool], bool] = {}
    for r in rows:
        if r.assignment_id in (None, file.assignment.id):
            newest[(r.hold, r.assignment_id is None)] = r.on
    for (hold, general), on in newest.items():
        if on:
            by.setdefault(Hold(hold), "student" if general else say("job card"))
    calls = [(c, end) for c, end in w.memo["hold calls"][file.assignment.id] if c.at >= file.attempt.started_at]
    return tuple(_hold_view(h, by[h], calls) for h in Hold if h in by)


def _hold_view(hold: Hold, by: str, calls: Sequence[tuple[t.Call, t.CallEnd | None]]) -> HoldView:
    mine = [(c, end) for c, end in calls if c.what == hold]
    return HoldView(
        hold=hold,
        words=WORDS[hold],
        set_by=by,
        called=next((c.id for c, end in mine if end is None), None),
        released=CallOutcome.DONE in {end.outcome for _, end in mine if end},
    )
