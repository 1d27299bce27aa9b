"""One meeting of a group: opening it, the roll, who supervises, which machines are open, its end."""

from __future__ import annotations

import json
import uuid
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, View
from incudo.app.parts.attempts import AttemptFile, newest_attempts
from incudo.app.people.accounts import Pin
from incudo.app.shop.crib import OutView, not_back
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.tags import closed_words
from incudo.app.skills.records import event_of, machine_names
from incudo.core.kernel.errors import Conflict, FieldError, NotFound, NotPermitted, Refused
from incudo.core.measuring.instrument import Suitability
from incudo.core.session.at_machine import AtMachine, EventKind, fold
from incudo.core.session.duties import Needed, lay_out_for, share_out
from incudo.store import schema as t
from incudo.store.parts import attempts as attempt_store
from incudo.store.people import people as people_store
from incudo.store.session import sessions as store
from incudo.store.shop import shop as shop_store

#: A supervisor's sign-in to a session ends after so long, so that a forgotten session opens nothing.
SUPERVISED = timedelta(hours=12)


class Presence(StrEnum):
    HERE = "here"
    LATE = "late"
    ABSENT = "absent"
    GONE = "gone"

    @property
    def present(self) -> bool:
        return self in (Presence.HERE, Presence.LATE)


class RollLine(View):
    """One student on the roll; ``presence`` is empty until it was called."""

    student: Named
    presence: Presence | None
    at: datetime | None


class SessionMachine(View):
    """A machine in the session."""

    machine: Named
    open: bool
    tagged_out: str
    people: tuple[Named, ...]
    handles: uuid.UUID | None
    running: bool
    handed_back: bool


class NeededView(View):
    """Something to lay out before the group comes, and for whom."""

    what: str
    people: tuple[str, ...]


class DutyView(View):
    """Who cleans what."""

    person: str
    what: str


class SessionView(View):
    """The session that is open."""

    id: uuid.UUID
    group: Named
    opened_at: datetime
    opened_by: str
    supervisors: tuple[Named, ...]
    roll: tuple[RollLine, ...]
    machines: tuple[SessionMachine, ...]
    duties: tuple[DutyView, ...]
    out: tuple[OutView, ...]


class GroupPlan(View):
    """A group, and what to lay out before it comes."""

    group: Named
    students: tuple[Named, ...]
    stock: tuple[NeededView, ...]
    gauges: tuple[NeededView, ...]


class PastSession(View):
    """A session that is over."""

    id: uuid.UUID
    group: str
    opened_at: datetime
    ended_at: datetime | None
    duties: tuple[DutyView, ...]


class SessionPage(View):
    """The open session, or what is needed to open one."""

    session: SessionView | None
    groups: tuple[GroupPlan, ...]
    machines: tuple[Named, ...]
    past: tuple[PastSession, ...]


class OpenSession(Command):
    """Open a meeting of a group; whoever opens it supervises."""

    id: uuid.UUID
    group: uuid.UUID
    machines: Annotated[tuple[uuid.UUID, ...], Field(max_length=40)] = ()
    pin: Pin


class RollMark(Command):
    student: uuid.UUID
    presence: Presence


class RollCommand(Command):
    """Marks on the roll, several at once."""

    id: uuid.UUID
    marks: Annotated[tuple[RollMark, ...], Field(min_length=1, max_length=60)]


class SuperviseCommand(Command):
    """Take over the supervision, or leave it to the others."""

    id: uuid.UUID
    on: bool
    pin: Pin


class MachineOpenCommand(Command):
    """Open or close a machine for this session."""

    id: uuid.UUID
    machine: uuid.UUID
    open: bool


class EndSession(Command):
    """End the session: every machine must be handed back, clean and standing."""

    id: uuid.UUID
    handed_back: Annotated[tuple[uuid.UUID, ...], Field(max_length=40)] = ()
    pin: Pin


def the_session(w: Work) -> t.Meeting:
    """The session that is open. Raises ``Conflict`` when there is none."""
    meeting = store.open_meeting(w.db)
    if meeting is None:
        raise Conflict("No session is open.")
    return meeting


def session_page(w: Work) -> SessionPage:
    """The open session, what to lay out for each group, and the last sessions."""
    meeting, files = store.open_meeting(w.db), _open_files(w)
    return SessionPage(
        session=session_view(w, meeting) if meeting else None,
        groups=tuple(_plan(w, g, files) for g in store.groups(w.db)),
        machines=tuple(Named(id=m.id, name=m.name) for m in shop_store.machines(w.db)),
        past=tuple(
            PastSession(id=m.id, group=g, opened_at=m.opened_at, ended_at=m.ended_at, duties=_duties(m.duties))
            for m, g in store.meetings(w.db, 6)
            if m.ended_at
        ),
    )


def _duties(text: str) -> tuple[DutyView, ...]:
    return tuple(DutyView(person=p, what=x) for p, x in json.loads(text or "[]"))


def _open_files(w: Work) -> list[AttemptFile]:
    """The job cards that are being worked on, of everybody."""
    files = newest_attempts(w, attempt_store.open_assignments(w.db, w.now - timedelta(days=365)))
    return [f for f in files if not f.over and f.pending is None]


def _plan(w: Work, group: t.Group, open_files: list[AttemptFile]) -> GroupPlan:
    students = people_store.students_of(w.db, group.id)
    members = {s.id for s in students}
    files = [f for f in open_files if f.student.id in members]
    stock = lay_out_for((f"{f.project.stock}, {f.project.material}", f.student.name) for f in files if not f.ticked)
    gauges = lay_out_for((g, f.student.name) for f in files for g in _gauges(w, f))
    return GroupPlan(
        group=Named(id=group.id, name=group.name),
        students=tuple(Named(id=s.id, name=s.name) for s in students),
        stock=_needed(stock),
        gauges=_needed(gauges),
    )


def _needed(found: tuple[Needed, ...]) -> tuple[NeededView, ...]:
    return tuple(NeededView(what=n.what, people=n.people) for n in found)


def _gauges(w: Work, file: AttemptFile) -> list[str]:
    """For each characteristic the first instrument that suits it ideally and may decide today."""
    tools = [instrument_of(row, closed_words(w)) for row in shop_store.instruments(w.db)]
    found = []
    for c in file.project.characteristics:
        limits = file.project.limits(c)
        fits = {
            tool.name: tool.suitability(limits, difference=c.difference)
            for tool in tools
            if not tool.cannot_decide(w.now.date())
        }
        best = [n for wanted in (Suitability.IDEAL, Suitability.ALLOWED) for n, s in fits.items() if s is wanted]
        found += best[:1]
    return found


def session_view(w: Work, meeting: t.Meeting) -> SessionView:
    """One session as it stands."""
    group = find(w, t.Group, meeting.group_id, "group")
    roll = store.roll(w.db, meeting.id)
    students = people_store.students_of(w.db, group.id)
    others = [find(w, t.Person, p, "person") for p in roll if p not in {s.id for s in students}]
    return SessionView(
        id=meeting.id,
        group=Named(id=group.id, name=group.name),
        opened_at=meeting.opened_at,
        opened_by=find(w, t.Person, meeting.opened_by, "person").name,
        supervisors=supervisors(w, meeting),
        roll=tuple(_roll_line(s, roll.get(s.id)) for s in (*students, *others)),
        machines=machines_in(w, meeting),
        duties=_duties(meeting.duties),
        out=not_back(w, meeting),
    )


def _roll_line(person: t.Person, row: t.Roll | None) -> RollLine:
    return RollLine(
        student=Named(id=person.id, name=person.name),
        presence=Presence(row.presence) if row else None,
        at=row.at if row else None,
    )


def supervisors(w: Work, meeting: t.Meeting) -> tuple[Named, ...]:
    """Who supervises now: signed in to this session, and not too long ago."""
    on = store.supervisors(w.db, meeting.id)
    valid = [p for p, s in on.items() if w.now - s.at < SUPERVISED]
    names = people_store.names(w.db, valid)
    return tuple(Named(id=p, name=names[p]) for p in valid)


def states_at_machines(w: Work, meeting: t.Meeting) -> dict[uuid.UUID, AtMachine]:
    """Every machine of the shop, folded from this session's events."""
    events = store.machine_events(w.db, meeting.id)
    return {m.id: fold(event_of(e) for e in events.get(m.id, [])) for m in shop_store.machines(w.db)}


def machines_in(w: Work, meeting: t.Meeting) -> tuple[SessionMachine, ...]:
    """Every machine of the shop as it stands in this session."""
    open_, states, closed = (
        store.open_machines(w.db, meeting.id),
        states_at_machines(w, meeting),
        closed_words(w),
    )
    people = {uuid.UUID(p) for s in states.values() for p in s.people}
    names = people_store.names(w.db, people)
    return tuple(
        SessionMachine(
            machine=Named(id=uuid.UUID(m), name=name),
            open=uuid.UUID(m) in open_,
            tagged_out=closed.get(uuid.UUID(m), ""),
            people=tuple(Named(id=uuid.UUID(p), name=names[uuid.UUID(p)]) for p in states[uuid.UUID(m)].people),
            handles=uuid.UUID(states[uuid.UUID(m)].handles) if states[uuid.UUID(m)].handles else None,
            running=states[uuid.UUID(m)].run is not None,
            handed_back=states[uuid.UUID(m)].handed_back,
        )
        for m, name in machine_names(w).items()
    )


def open_session(w: Work, who: Who, command: OpenSession) -> SessionPage:
    """Open a session; the opener supervises it. Only one can be open."""
    find(w, t.Group, command.group, "group")
    there = store.open_meeting(w.db)
    if there is not None and there.id != command.id:
        group = find(w, t.Group, there.group_id, "group")
        raise Conflict(f"A session of {group.name} is open: end it first.")
    if there is None:
        if w.db.get(t.Meeting, command.id) is not None:
            raise Conflict("That session is over already.")
        w.db.add(
            t.Meeting(
                id=command.id,
                group_id=command.group,
                opened_by=who.id,
                opened_at=w.now,
                duties="",
                open_slot=1,
            )
        )
        w.db.flush()
        w.db.add(_supervision(command.id, command.id, who, on=True, at=w.now))
        for machine in dict.fromkeys(command.machines):
            find(w, t.Machine, machine, "machine")
            w.db.add(
                t.MeetingMachine(
                    id=uuid.uuid5(command.id, f"open {machine}"),
                    meeting_id=command.id,
                    machine_id=machine,
                    open=True,
                    by_id=who.id,
                    at=w.now,
                )
            )
        w.db.flush()
    return session_page(w)


def _supervision(row_id: uuid.UUID, meeting: uuid.UUID, who: Who, *, on: bool, at: datetime) -> t.Supervision:
    return t.Supervision(id=uuid.uuid5(row_id, "supervision"), meeting_id=meeting, person_id=who.id, on=on, at=at)


def mark_roll(w: Work, who: Who, command: RollCommand) -> SessionPage:
    """Call the roll. A student of another group who is here may be marked as well."""
    meeting = the_session(w)
    for mark in command.marks:
        person = w.db.get(t.Person, mark.student)
        if person is None or person.role != "student":
            raise NotFound("There is no such student.")
        row = t.Roll(
            id=uuid.uuid5(command.id, str(mark.student)),
            meeting_id=meeting.id,
            person_id=mark.student,
            presence=mark.presence.value,
            by_id=who.id,
            at=w.now,
        )
        insert_once(w, row, ignoring=("at",))
    return session_page(w)


def supervise(w: Work, who: Who, command: SuperviseCommand) -> SessionPage:
    """An instructor takes over or leaves; somebody must stay while a machine runs."""
    meeting = the_session(w)
    others = [s for s in supervisors(w, meeting) if s.id != who.id]
    running = any(s.run for s in states_at_machines(w, meeting).values())
    if not command.on and not others and running:
        raise NotPermitted("Machines run: another instructor takes over before you leave.")
    insert_once(w, _supervision(command.id, meeting.id, who, on=command.on, at=w.now), ignoring=("at",))
    return session_page(w)


def open_machine(w: Work, who: Who, command: MachineOpenCommand) -> SessionPage:
    """Open or close a machine for this session; closing ends no running cut."""
    meeting = the_session(w)
    find(w, t.Machine, command.machine, "machine")
    row = t.MeetingMachine(
        id=command.id,
        meeting_id=meeting.id,
        machine_id=command.machine,
        open=command.open,
        by_id=who.id,
        at=w.now,
    )
    insert_once(w, row, ignoring=("at",))
    return session_page(w)


def duties_now(w: Work) -> SessionPage:
    """Share out the cleaning: who was at a machine cleans it, the others take the rest in turn."""
    _share_duties(w, the_session(w))
    return session_page(w)


def _share_duties(w: Work, meeting: t.Meeting) -> None:
    if meeting.duties:
        return
    roll = store.roll(w.db, meeting.id)
    names = people_store.names(w.db, roll)
    present = sorted(names[p] for p, row in roll.items() if Presence(row.presence).present)
    turn = store.meeting_count(w.db, meeting.group_id)
    shared = share_out(_who_was_where(w, meeting), present, turn)
    meeting.duties = json.dumps([[d.person, d.what] for d in shared], ensure_ascii=False)
    w.db.flush()


def _who_was_where(w: Work, meeting: t.Meeting) -> dict[str, list[str]]:
    events, names = store.machine_events(w.db, meeting.id), machine_names(w)
    people = people_store.names(w.db, {e.person_id for found in events.values() for e in found})
    return {
        names[str(machine)]: list(dict.fromkeys(people[e.person_id] for e in found if e.kind == EventKind.COME))
        for machine, found in events.items()
    }


def end_session(w: Work, who: Who, command: EndSession) -> SessionPage:
    """End the session. Every machine that was used must be handed back, and none may run."""
    meeting = store.open_meeting(w.db)
    if meeting is None:
        ended = w.db.get(t.Meeting, command.id)
        if ended is not None and ended.ended_at:
            return session_page(w)
        raise Conflict("No session is open.")
    if meeting.id != command.id:
        raise Conflict("Another session is open than the one you want to end.")
    states, names = states_at_machines(w, meeting), machine_names(w)
    faults = []
    for machine, state in states.items():
        if state.run is not None:
            faults.append(FieldError("handed_back", names[str(machine)], "still runs: end the run first"))
        elif state.people and machine not in command.handed_back:
            faults.append(FieldError("handed_back", names[str(machine)], "is not handed back yet"))
    if faults:
        raise Refused(*faults)
    _share_duties(w, meeting)
    for machine in dict.fromkeys(command.handed_back):
        find(w, t.Machine, machine, "machine")
        w.db.add(
            t.MachineEvent(
                id=uuid.uuid5(command.id, f"back {machine}"),
                meeting_id=meeting.id,
                machine_id=machine,
                kind=EventKind.HANDED_BACK.value,
                person_id=who.id,
                operation="",
                words="",
                at=w.now,
            )
        )
    meeting.ended_at, meeting.ended_by, meeting.open_slot = w.now, who.id, None
    w.db.flush()
    return session_page(w)


def is_present(w: Work, meeting: t.Meeting, person: uuid.UUID) -> bool:
    """Whether somebody is on the roll of a session as here."""
    row = store.roll(w.db, meeting.id).get(person)
    return row is not None and Presence(row.presence).present
