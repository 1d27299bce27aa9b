"""Starting at a machine: who is at it, the pre-start list, the decision, the assessor beside, the end."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, SkillId, View
from incudo.app.parts.attempts import newest_attempt
from incudo.app.people.accounts import Pin
from incudo.app.people.students import student_of
from incudo.app.session.calls import CallCommand, place_call
from incudo.app.session.now import is_present, one_after_the_other, states_at_machines, the_session
from incudo.app.session.prestart import StartPage, open_cards, start_page
from incudo.app.session.shopfloor import as_listed, here, shop_now
from incudo.app.shop.machines import machine_here, machine_names
from incudo.app.skills.shows import end_call
from incudo.app.skills.standing import assessor_of
from incudo.app.skills.standings import standing_of
from incudo.core.kernel.errors import Conflict, NotFound, NotPermitted, Refused
from incudo.core.kernel.say import say
from incudo.core.session.at_machine import AtMachine, EventKind, check_may_take_handles
from incudo.core.session.calls import KEPT, CallKind, CallOutcome
from incudo.core.session.prestart import check_points
from incudo.core.skills.permission import Answer, Decision, decide
from incudo.store import schema as t
from incudo.store.session import calling


class Step(StrEnum):
    """What a student does at a machine besides starting it."""

    COME = "come"
    GO = "go"
    HANDLES = "handles"


class StepCommand(Command):
    """Come to a machine, leave it, take its handles."""

    id: uuid.UUID
    step: Step


class StartCommand(Command):
    """About to start: the operation, for which job card, and the points ticked."""

    id: uuid.UUID
    operation: SkillId
    assignment: uuid.UUID | None = None
    points: Annotated[tuple[Annotated[str, StringConstraints(max_length=20)], ...], Field(max_length=30)] = ()


class StartAnswer(View):
    """What Incudo answers. ``started`` says whether the start is enabled now."""

    answer: Answer
    started: bool
    called: bool
    reasons: tuple[str, ...]
    assessors: tuple[str, ...]
    page: StartPage


class EndCommand(Command):
    """The spindle has stopped; this operation is over."""

    id: uuid.UUID


class ConfirmCommand(Command):
    """An assessor stands beside this student for this operation."""

    id: uuid.UUID
    student: uuid.UUID
    operation: SkillId
    pin: Pin


def step(w: Work, who: Who, machine_id: uuid.UUID, command: StepCommand) -> StartPage:
    """Come, go, or take the handles. One machine at a time; a run must be ended before one leaves."""
    one_after_the_other(w)
    machine_here(w, machine_id)
    meeting = the_session(w)
    states = states_at_machines(w, meeting)
    state, me = states[machine_id], str(who.id)
    row = _event(meeting, machine_id, command.id, EventKind(command.step.value), who.id, w.now)
    if w.db.get(t.MachineEvent, command.id) is None:
        match command.step:
            case Step.COME:
                if not is_present(w, meeting, who.id):
                    raise NotPermitted(
                        say("You are not on the roll of this session: tell the instructor that you are here.")
                    )
                _leave_others(w, meeting, states, machine_id, who, command.id)
            case Step.GO:
                if state.run and state.run.person == me:
                    raise Conflict(say("End the run first, then leave the machine."))
            case Step.HANDLES:
                check_may_take_handles(state, me)
    insert_once(w, row, ignoring=("at", "meeting_id"))
    return start_page(w, who, machine_id)


def _leave_others(
    w: Work,
    meeting: t.Meeting,
    states: Mapping[uuid.UUID, AtMachine],
    coming_to: uuid.UUID,
    who: Who,
    command: uuid.UUID,
) -> None:
    for machine, state in states.items():
        if machine == coming_to or str(who.id) not in state.people:
            continue
        if state.run and state.run.person == str(who.id):
            raise Conflict(
                say(
                    "You are running {machine_names}: end that run first.", machine_names=machine_names(w)[str(machine)]
                )
            )
        left = uuid.uuid5(command, f"left {machine}")
        w.db.add(_event(meeting, machine, left, EventKind.GO, who.id, w.now))


def _event(
    meeting: t.Meeting,
    machine: uuid.UUID,
    row_id: uuid.UUID,
    kind: EventKind,
    person: uuid.UUID,
    at: datetime,
    *,
    operation: str = "",
    assignment: uuid.UUID | None = None,
    by: uuid.UUID | None = None,
    until: datetime | None = None,
) -> t.MachineEvent:
    return t.MachineEvent(
        id=row_id,
        meeting_id=meeting.id,
        machine_id=machine,
        kind=kind.value,
        person_id=person,
        operation=operation,
        assignment_id=assignment,
        by_id=by,
        until=until,
        words="",
        at=at,
    )


def start(w: Work, who: Who, machine_id: uuid.UUID, command: StartCommand) -> StartAnswer:
    """A student is about to start.

    The points come first; then the decision. Allowed: the start is enabled.
    With an assessor: they are called, unless they have confirmed already. Refused: the
    reasons. Raises ``Refused`` naming the points that are not ticked, ``Conflict`` where
    somebody runs this machine, this person runs another, or the id belongs to another act.
    """
    one_after_the_other(w)
    machine_here(w, machine_id)
    if command.assignment:
        files = [newest_attempt(w, command.assignment)]
        if files[0].student.id != who.id:
            raise NotFound(say("There is no such job card."))
    else:
        # who names none may not pass by a hold point of any part that they are making
        files = open_cards(w, who, machine_id)
    book = standing_of(w, who.id)
    if not book.graph.get(command.operation).operation:
        raise Refused.of("operation", command.operation, say("is not an operation at a machine"))
    shop = shop_now(w)
    state = shop.states.get(machine_id, AtMachine())
    if _done_before(w, command.id, EventKind.START, machine_id, who.id, command.operation):
        return _answer(w, who, machine_id, Decision(Answer.ALLOWED), started=True, called=False)
    for other, there in shop.states.items():
        if other != machine_id and there.run and there.run.person == str(who.id):
            raise Conflict(
                say("You are running {machine_names}: end that run first.", machine_names=machine_names(w)[str(other)])
            )
    if state.run is not None and state.run.person != str(who.id):
        raise Conflict(say("This machine is running already: end that run first."))
    check_points(command.points, listed=state.listed)
    if shop.meeting and not state.listed and state.handles == str(who.id):
        listed = uuid.uuid5(command.id, "listed")
        w.db.add(_event(shop.meeting, machine_id, listed, EventKind.LISTED, who.id, w.now))
        w.db.flush()
    facts = as_listed(here(w, shop, who.id, machine_id, command.operation, files))
    d = decide(book, (command.operation,), str(machine_id), facts)
    if d.starts and shop.meeting:
        beside = _assessor_beside(state) if d.answer is Answer.WITH_ASSESSOR else None
        w.db.add(
            _event(
                shop.meeting,
                machine_id,
                command.id,
                EventKind.START,
                who.id,
                w.now,
                operation=command.operation,
                assignment=command.assignment,
                by=beside,
            )
        )
        w.db.flush()
        return _answer(w, who, machine_id, d, started=True, called=False)
    called = d.answer is Answer.WITH_ASSESSOR
    if called:
        _call_assessor(w, who, machine_id, command)
    return _answer(w, who, machine_id, d, started=False, called=called)


def _done_before(
    w: Work, event: uuid.UUID, kind: EventKind, machine: uuid.UUID, person: uuid.UUID | None, operation: str = ""
) -> bool:
    """Whether this very act was kept before. Raises ``Conflict`` where the id belongs to another act."""
    row = w.db.get(t.MachineEvent, event)
    if row is None:
        return False
    same = (row.kind, row.machine_id, row.operation) == (kind.value, machine, operation)
    if not same or person not in (None, row.person_id):
        raise Conflict(say("This id was used before for something else."))
    return True


def _assessor_beside(state: AtMachine) -> uuid.UUID | None:
    return uuid.UUID(state.confirmed.by) if state.confirmed else None


def _call_assessor(w: Work, who: Who, machine: uuid.UUID, command: StartCommand) -> None:
    for c, end, _ in calling.calls_of(w.db, who.id, w.now - KEPT):
        if end is None and c.kind == CallKind.START and (c.machine_id, c.what) == (machine, command.operation):
            return
    place_call(
        w,
        who.id,
        CallCommand(
            id=uuid.uuid5(command.id, "call"),
            kind=CallKind.START,
            machine=machine,
            assignment=command.assignment,
            what=command.operation,
        ),
    )


def _answer(w: Work, who: Who, machine: uuid.UUID, d: Decision, *, started: bool, called: bool) -> StartAnswer:
    return StartAnswer(
        answer=d.answer,
        started=started,
        called=called,
        reasons=() if started else d.reasons,
        assessors=d.assessors,
        page=start_page(w, who, machine),
    )


def end(w: Work, who: Who, machine_id: uuid.UUID, command: EndCommand) -> StartPage:
    """End a run: the one who runs it, or an assessor who sees that the spindle has stopped."""
    one_after_the_other(w)
    machine_here(w, machine_id)
    meeting = the_session(w)
    run = states_at_machines(w, meeting)[machine_id].run
    if not _done_before(w, command.id, EventKind.END, machine_id, None):
        if run is None:
            raise Conflict(say("Nothing is running at this machine."))
        if run.person != str(who.id) and not who.assesses:
            raise NotPermitted(say("Whoever runs the machine ends the run."))
        person = uuid.UUID(run.person)
        w.db.add(_event(meeting, machine_id, command.id, EventKind.END, person, w.now, by=who.id))
        w.db.flush()
    return start_page(w, who, machine_id)


def confirm(w: Work, who: Who, machine_id: uuid.UUID, command: ConfirmCommand) -> StartPage:
    """An assessor confirms that they stand beside the student: for this operation, for so many minutes.

    The PIN was confirmed before. Raises ``NotPermitted`` when they may not assess
    the operation, or when the student may not start even with them.
    """
    one_after_the_other(w)
    machine_here(w, machine_id)
    student_of(w, command.student)
    if command.student == who.id:
        raise NotPermitted(say("You cannot stand beside yourself: somebody else confirms it."))
    meeting, shop = the_session(w), shop_now(w)
    book = standing_of(w, command.student)
    skill = book.graph.get(command.operation)
    if refused := assessor_of(w, who).may_assess(skill):
        raise NotPermitted(refused)
    if not _done_before(w, command.id, EventKind.CONFIRMED, machine_id, command.student, skill.id):
        facts = as_listed(here(w, shop, command.student, machine_id, skill.id))
        d = decide(book, (skill.id,), str(machine_id), facts)
        if d.answer is Answer.REFUSED:
            raise NotPermitted(*d.reasons)
        minutes = find(w, t.Shop, 1, "shop").confirmed_minutes
        until = w.now + timedelta(minutes=minutes)
        event = _event(
            meeting,
            machine_id,
            command.id,
            EventKind.CONFIRMED,
            command.student,
            w.now,
            operation=skill.id,
            by=who.id,
            until=until,
        )
        w.db.add(event)
        w.db.flush()
    for c, ended, _ in calling.calls_of(w.db, command.student, w.now - KEPT):
        if ended is None and c.kind == CallKind.START and (c.machine_id, c.what) == (machine_id, skill.id):
            end_call(w, c.id, who.id, CallOutcome.DONE, "")
    return start_page(w, who, machine_id)
