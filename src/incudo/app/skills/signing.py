"""Acts of assessors: signing after a demonstration, withdrawing, giving back."""

from __future__ import annotations

import json
import uuid
from dataclasses import replace
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Note, Reason, SkillId
from incudo.app.people.accounts import Pin
from incudo.app.people.students import student_of
from incudo.app.register.chain import record
from incudo.app.shop.machines import machine_here
from incudo.app.skills.records import skill_book
from incudo.app.skills.shows import answer_shows
from incudo.app.skills.standing import assessor_of, student_skills
from incudo.app.skills.views import StudentSkills
from incudo.core.kernel.errors import NotPermitted, Refused
from incudo.core.kernel.say import say, together
from incudo.core.session.calls import CallOutcome
from incudo.core.skills.checklist import Outcome, judge_demonstration
from incudo.core.skills.evidence import Act, ActKind
from incudo.core.skills.permission import check_may_sign
from incudo.core.skills.standing import Book, State
from incudo.store import schema as t

Place = Annotated[str, StringConstraints(max_length=200, strip_whitespace=True)]


class SeenPoint(Command):
    """One point of the checklist: shown or not."""

    number: Annotated[int, Field(ge=1, le=12)]
    ok: bool


class SignOne(Command):
    """A skill that was seen, on one machine if it is signed per machine, point by point."""

    skill: SkillId
    machine: uuid.UUID | None = None
    seen: Annotated[tuple[SeenPoint, ...], Field(max_length=12)] = ()


class SignCommand(Command):
    """Several skills of one student under one PIN."""

    id: uuid.UUID
    student: uuid.UUID
    skills: Annotated[tuple[SignOne, ...], Field(min_length=1, max_length=20)]
    note: Note = ""
    pin: Pin


class WithdrawCommand(Command):
    """A skill to withdraw after an unsafe act: what happened, where, who saw it, what was done."""

    id: uuid.UUID
    student: uuid.UUID
    skill: SkillId
    machine: uuid.UUID | None = None
    reason: Reason
    place: Place = ""
    witness: Place = ""
    done: Note = ""
    pin: Pin


class RestoreCommand(Command):
    """A withdrawn skill is reinstated; the earlier sign-off holds again."""

    id: uuid.UUID
    student: uuid.UUID
    skill: SkillId
    machine: uuid.UUID | None = None
    reason: Reason
    pin: Pin


def sign_skills(w: Work, who: Who, command: SignCommand) -> StudentSkills:
    """Record what was seen, sign what was shown, and say where the student stands now."""
    keep_signs(w, who, command)
    return student_skills(w, who, command.student)


def keep_signs(w: Work, who: Who, command: SignCommand) -> None:
    """Record what was seen and sign what was shown, several skills at once; all or none.

    The PIN was confirmed before. A skill that asks for a demonstration is signed
    when every point was shown, and recorded as "not yet" otherwise. Raises
    ``NotPermitted`` with every reason, ``Refused`` naming the points left open.
    The same command twice acts once.
    """
    if command.student == who.id:
        raise NotPermitted(say("Nobody can sign for themselves."))
    student_of(w, command.student)
    book = skill_book(w, command.student)
    asked: set[tuple[str, uuid.UUID | None]] = set()
    for one in command.skills:
        if (one.skill, one.machine) in asked:
            raise Refused.of("skills", one.skill, say("each skill may appear only once"))
        asked.add((one.skill, one.machine))
        if one.machine:
            machine_here(w, one.machine)
        book = _sign_one(w, who, command, one, book)


def _sign_one(w: Work, who: Who, command: SignCommand, one: SignOne, book: Book) -> Book:
    """Sign one skill; gives the book with it, for the next one that may rest on it."""
    row_id = uuid.uuid5(command.id, f"{one.skill}|{one.machine}")
    shown_id = uuid.uuid5(row_id, "demonstration")
    known = w.db.get(t.SignOff, row_id) or w.db.get(t.Demonstration, shown_id)
    machine = str(one.machine) if one.machine else None
    skill = book.graph.get(one.skill)
    state = book.standing(one.skill, machine).state
    refresher = state.refreshed if known is None else _was_refresher(known)
    if known is None:
        check_may_sign(book, assessor_of(w, who), str(command.student), one.skill, machine)
    outcome = Outcome.SIGNED
    if skill.demonstrated:
        seen = {p.number: p.ok for p in one.seen}
        judged = judge_demonstration(skill.points(refresher=refresher), seen, f"skills.{one.skill}.seen")
        outcome = judged.outcome
        shown = t.Demonstration(
            id=shown_id,
            batch_id=command.id,
            student_id=command.student,
            skill=one.skill,
            machine_id=one.machine,
            assessor_id=who.id,
            outcome=outcome.value,
            seen=json.dumps({str(n): ok for n, ok in sorted(seen.items())}),
            repeat=together(judged.repeat, "; "),
            note=command.note,
            at=w.now,
        )
        if insert_once(w, shown, ignoring=("at",)):
            record(w, shown)
    elif one.seen:
        raise Refused.of(f"skills.{one.skill}.seen", len(one.seen), say("has no checklist: inspected parts decide"))
    if outcome is not Outcome.SIGNED:
        answer_shows(w, who, command.student, one.skill, one.machine, CallOutcome.REFUSED)
        return book
    row = t.SignOff(
        id=row_id,
        batch_id=command.id,
        student_id=command.student,
        skill=one.skill,
        machine_id=one.machine,
        assessor_id=who.id,
        refresher=refresher,
        note=command.note,
        at=w.now,
    )
    if insert_once(w, row, ignoring=("at", "refresher")):
        record(w, row)
    answer_shows(w, who, command.student, one.skill, one.machine, CallOutcome.DONE)
    act = Act(ActKind.SIGN_OFF, one.skill, machine, row.at, who.name, command.note)
    acts = (*book.record.acts, act)
    return Book(book.graph, replace(book.record, acts=acts), w.now, book.names, book.zone)


def _was_refresher(known: t.SignOff | t.Demonstration) -> bool:
    return isinstance(known, t.SignOff) and known.refresher


def withdraw_skill(w: Work, who: Who, command: WithdrawCommand) -> StudentSkills:
    """Withdraw a skill that was signed. Raises ``NotPermitted`` when it was not."""
    state, name = _state(w, command)
    row = t.Withdrawal(
        id=command.id,
        student_id=command.student,
        skill=command.skill,
        machine_id=command.machine,
        assessor_id=who.id,
        reason=command.reason,
        place=command.place,
        witness=command.witness,
        done=command.done,
        at=w.now,
    )
    signed = state in (State.SIGNED, State.DUE_SOON, State.SUSPENDED, State.LAPSED)
    if not signed and w.db.get(t.Withdrawal, command.id) is None:
        raise NotPermitted(say("{name} is not signed, so there is nothing to withdraw.", name=name))
    if insert_once(w, row, ignoring=("at",)):
        record(w, row)
    return student_skills(w, who, command.student)


def restore_skill(w: Work, who: Who, command: RestoreCommand) -> StudentSkills:
    """Reinstate what was withdrawn. Raises ``NotPermitted`` when it is not withdrawn."""
    state, name = _state(w, command)
    row = t.Restoration(
        id=command.id,
        student_id=command.student,
        skill=command.skill,
        machine_id=command.machine,
        assessor_id=who.id,
        reason=command.reason,
        at=w.now,
    )
    if w.db.get(t.Restoration, command.id) is None and state is not State.WITHDRAWN:
        raise NotPermitted(say("{name} is not withdrawn, so there is nothing to reinstate.", name=name))
    if insert_once(w, row, ignoring=("at",)):
        record(w, row)
    return student_skills(w, who, command.student)


def _state(w: Work, command: WithdrawCommand | RestoreCommand) -> tuple[State, str]:
    student_of(w, command.student)
    book = skill_book(w, command.student)
    skill = book.graph.get(command.skill)
    if skill.per_machine is not (command.machine is not None):
        raise Refused.of("machine", command.machine, say("name the machine if the skill is signed per machine"))
    if command.machine:
        find(w, t.Machine, command.machine, "machine")
    return book.standing(skill.id, str(command.machine) if command.machine else None).state, skill.name
