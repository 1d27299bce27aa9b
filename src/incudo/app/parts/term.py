"""A group's term: the parts it makes, how far each student is, and the next term with the same parts."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Container, Iterable
from datetime import date, timedelta
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, find_locked
from incudo.app.kernel.views import Command, Named, View
from incudo.app.parts import library
from incudo.app.people import accounts, everybody
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.standings import standings
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.parts.features.versions import project_of
from incudo.core.parts.inspection import Outcome
from incudo.core.people.roles import Role
from incudo.core.skills.permission import missing_for, needed_for
from incudo.store import schema as t
from incudo.store.parts import projects as project_store
from incudo.store.parts import results, terms
from incudo.store.people import groups, people
from incudo.store.people import joining as enrolments

MOST_PARTS = 30
#: Students of one group that are named at once.
MOST_STUDENTS = 200


class MadeState(StrEnum):
    """How far somebody is with a part."""

    NONE = "none"
    AT_WORK = "at_work"
    HANDED_IN = "handed_in"
    ACCEPTED = "accepted"
    SCRAPPED = "scrapped"


class TermPart(View):
    """A part of the term in its newest version; ``accepted`` of ``given`` students of the group."""

    project: uuid.UUID
    version: uuid.UUID
    name: str
    retired: bool
    given: int
    accepted: int


class TermCell(View):
    """How far one student is with one part; ``assignment`` is their newest job card for it."""

    state: MadeState
    assignment: uuid.UUID | None


class TermStudent(View):
    """A student of the group: a cell for each part of the term, and the first part they were not given yet.

    ``missing``: the skills that they lack for it.
    """

    student: Named
    cells: tuple[TermCell, ...]
    next: uuid.UUID | None
    missing: tuple[str, ...]


class TermPage(View):
    """A group's term. ``parts`` is what was given most where nobody has said which (``chosen`` is false then).

    ``offered`` are the parts that can be chosen.
    """

    group: Named
    begins: date | None
    ends: date | None
    over: bool
    chosen: bool
    parts: tuple[TermPart, ...]
    students: tuple[TermStudent, ...]
    offered: tuple[Named, ...]


class TermCommand(Command):
    """The parts of a term, in their order."""

    parts: Annotated[tuple[uuid.UUID, ...], Field(max_length=MOST_PARTS)]


class NextTermCommand(everybody.NewGroupCommand):
    """The next term of a group: ``until`` is the old one's last day.

    ``go_on`` are in the new group from its first day; ``leave`` are marked as left, which takes effect at once.
    """

    until: date
    go_on: Annotated[tuple[uuid.UUID, ...], Field(max_length=MOST_STUDENTS)]
    leave: Annotated[tuple[uuid.UUID, ...], Field(max_length=MOST_STUDENTS)]
    pin: accounts.Pin


def term_page(w: Work, group: uuid.UUID) -> TermPage:
    """How far a group is. Raises ``NotFound``."""
    row = find(w, t.Group, group, "group")
    day = w.today
    over = row.ends is not None and row.ends < day
    members = groups.ever_in(w.db, group)
    here = [Named(id=p.id, name=p.name) for p in groups.students_of(w.db, group, day)]
    shown = [Named(id=m.person, name=m.name) for m in members] if over else here
    given: dict[tuple[uuid.UUID, uuid.UUID], results.GivenPart] = {}
    for x in results.given_to(w.db, [s.id for s in shown]):
        given[x.student, x.project] = x
    newest = {v.project_id: v for v in library.current_versions(w)}
    chosen = terms.parts_of(w.db, group)
    order = chosen or _first_given(w, given.values(), row.begins)
    cells = {s.id: [given.get((s.id, p)) for p in order] for s in shown}
    retired = project_store.retired(w.db)
    return TermPage(
        group=Named(id=row.id, name=row.name),
        begins=row.begins,
        ends=row.ends,
        over=over,
        chosen=bool(chosen),
        parts=tuple(
            TermPart(
                project=p,
                version=newest[p].id,
                name=project_of(newest[p].content).name,
                retired=p in retired,
                given=sum(1 for c in cells.values() if c[n] is not None),
                accepted=sum(1 for c in cells.values() if _state(c[n]) is MadeState.ACCEPTED),
            )
            for n, p in enumerate(order)
        ),
        students=_students(w, shown, cells, [newest[p] for p in order], retired),
        offered=tuple(
            Named(id=p, name=project_of(v.content).name) for p, v in newest.items() if p not in retired or p in order
        ),
    )


def _students(
    w: Work,
    shown: list[Named],
    cells: dict[uuid.UUID, list[results.GivenPart | None]],
    parts: list[t.ProjectVersion],
    retired: Container[uuid.UUID],
) -> tuple[TermStudent, ...]:
    books, graph = standings(w, [s.id for s in shown]), skill_graph(w)
    found = []
    for s in shown:
        mine = cells[s.id]
        free = (v for v, c in zip(parts, mine, strict=True) if c is None and v.project_id not in retired)
        after = next(free, None)
        missing: tuple[str, ...] = ()
        if after is not None:
            part = project_of(after.content)
            needed = needed_for(graph, part.needs, part.operations)
            missing = tuple(m.name for m in missing_for(books[s.id], needed, None))
        found.append(
            TermStudent(
                student=s,
                cells=tuple(TermCell(state=_state(c), assignment=c.assignment if c else None) for c in mine),
                next=after.project_id if after else None,
                missing=missing,
            )
        )
    return tuple(found)


def _state(x: results.GivenPart | None) -> MadeState:
    if x is None:
        return MadeState.NONE
    if x.hand_ins > x.decisions:
        return MadeState.HANDED_IN
    return {Outcome.ACCEPTED.value: MadeState.ACCEPTED, Outcome.SCRAPPED.value: MadeState.SCRAPPED}.get(
        x.outcome, MadeState.AT_WORK
    )


def _first_given(w: Work, given: Iterable[results.GivenPart], since: date | None) -> list[uuid.UUID]:
    """The parts that were given since a day, each where most of the students had it: the first given first."""
    first: dict[uuid.UUID, list[float]] = defaultdict(list)
    for x in given:
        if since is None or w.day(x.given) >= since:
            first[x.project].append(x.given.timestamp())
    return sorted(first, key=lambda p: sorted(first[p])[len(first[p]) // 2])[:MOST_PARTS]


def change_term(w: Work, group: uuid.UUID, command: TermCommand) -> TermPage:
    """Say which parts a group makes, in which order. Raises ``Refused`` for a part that is unknown or named twice."""
    find_locked(w, t.Group, group, "group")
    known = {v.project_id for v in library.current_versions(w)}
    for n, p in enumerate(command.parts):
        if p not in known:
            raise Refused.of(f"parts.{n}", p, say("is not in the library"))
        if p in command.parts[:n]:
            raise Refused.of(f"parts.{n}", p, say("must be named once"))
    terms.set_parts(w.db, group, command.parts)
    return term_page(w, group)


def begin_next(w: Work, who: Who, group: uuid.UUID, command: NextTermCommand) -> TermPage:
    """End a group's term and begin the next one with the same parts; sent again it is done once.

    Raises ``Refused`` for days that do not follow each other, a name that is taken, and students of another group.
    """
    old = find_locked(w, t.Group, group, "group")
    if w.db.get(t.Group, command.id) is not None:
        return term_page(w, command.id)
    if command.begins is None:
        raise Refused.of("begins", "", say("is missing"))
    if command.begins <= command.until:
        raise Refused.of("begins", command.begins, say("must be after the last day of the term before"))
    if old.begins is not None and command.until < old.begins:
        raise Refused.of("until", command.until, say("must not be before it begins"))
    if command.leave and command.until > w.today:
        raise Refused.of("leave", len(command.leave), say("can be marked as left when the term is over, not before"))
    mine = {m.person for m in groups.ever_in(w.db, group)}
    for field, named in (("go_on", command.go_on), ("leave", command.leave)):
        for n, p in enumerate(named):
            # whoever learned here once and teaches now is not marked as left by somebody else
            if p not in mine or find_locked(w, t.Person, p, "person").role != Role.STUDENT:
                raise Refused.of(f"{field}.{n}", p, say("must be a student of this group"))
            if p in named[:n] or (field == "leave" and p in command.go_on):
                raise Refused.of(f"{field}.{n}", p, say("must be named once"))
    parts = [p.project for p in term_page(w, group).parts]
    everybody.add_group(w, command)
    terms.set_parts(w.db, command.id, parts)
    old.ends = min(old.ends or command.until, command.until)
    for p in command.go_on:
        _goes_on(w, p, command.id, command.begins)
    for p in command.leave:
        person = find_locked(w, t.Person, p, "person")
        if person.active:
            everybody.mark_left(w, who, person)
    w.db.flush()
    return term_page(w, command.id)


def _goes_on(w: Work, person: uuid.UUID, group: uuid.UUID, first: date) -> None:
    """In the new group from its first day; what was to hold then ends the day before."""
    people.lock_person(w.db, person)
    for e in enrolments.enrolments_of(w.db, person, first):
        if e.begins >= first:
            w.db.delete(e)
        else:
            e.ends = first - timedelta(days=1)
    w.db.add(t.Enrolment(id=uuid.uuid4(), person_id=person, group_id=group, begins=first))
    w.db.flush()
