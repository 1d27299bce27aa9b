"""Giving a part to a student: who could have it, and the assignment."""

from __future__ import annotations

import uuid
from datetime import date
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, View
from incudo.app.parts import library
from incudo.app.parts.views import MissingView
from incudo.app.people.groups import choose_group
from incudo.app.people.students import student_of
from incudo.app.shop.machines import machine_here
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.standings import standing_of, standings
from incudo.core.kernel.errors import NotPermitted, Refused
from incudo.core.kernel.say import say
from incudo.core.parts.features.versions import project_of
from incudo.core.skills.permission import Missing, missing_for, needed_for
from incudo.store import schema as t
from incudo.store.parts import projects as store
from incudo.store.people import people as people_store

#: So many job cards are given in one act.
MOST_AT_ONCE = 60


class Candidate(View):
    """A student who could be given this project."""

    student: Named
    group: str
    missing: tuple[MissingView, ...]
    at_work: bool


class AssignCommand(Command):
    """Give a project to a student."""

    id: uuid.UUID
    version: uuid.UUID
    student: uuid.UUID
    machine: uuid.UUID | None = None
    due: date | None = None
    not_before_signed: bool = False


class GiveOne(Command):
    """One job card of a giving."""

    id: uuid.UUID
    student: uuid.UUID
    not_before_signed: bool = False


class GiveCommand(Command):
    """Give a part to several students in one act: all of them or none."""

    version: uuid.UUID
    machine: uuid.UUID | None = None
    due: date | None = None
    to: Annotated[tuple[GiveOne, ...], Field(min_length=1, max_length=MOST_AT_ONCE)]


class Assigned(View):
    """The new job card."""

    assignment: uuid.UUID
    attempt: uuid.UUID
    student: Named
    name: str
    missing: tuple[MissingView, ...]


class Candidates(View):
    """The students of a group who could be given a part."""

    group: Named | None
    choices: tuple[Named, ...]
    candidates: tuple[Candidate, ...]


def project_candidates(
    w: Work, project_id: uuid.UUID, machine: uuid.UUID | None, group: uuid.UUID | None
) -> Candidates:
    """The students of a group with what each still lacks for this project (on this machine)."""
    v = next(x for x in library.current_versions(w) if x.project_id == find(w, t.Project, project_id, "project").id)
    p = project_of(v.content)
    if machine:
        machine_here(w, machine)
    chosen = choose_group(w, group, people_store.meets_now(w.db))
    people = [x.id for x, _ in chosen.students]
    books, have = standings(w, people), store.students_with(w.db, project_id, people)
    on = str(machine) if machine else None
    needed = needed_for(skill_graph(w), p.needs, p.operations)
    return Candidates(
        group=chosen.group,
        choices=chosen.choices,
        candidates=tuple(
            Candidate(
                student=Named(id=x.id, name=x.name),
                group=name,
                missing=_missing(missing_for(books[x.id], needed, on)),
                at_work=x.id in have,
            )
            for x, name in chosen.students
        ),
    )


def _missing(found: tuple[Missing, ...]) -> tuple[MissingView, ...]:
    return tuple(MissingView(skill=m.skill, name=m.name, reason=m.reason) for m in found)


def assign(w: Work, who: Who, command: AssignCommand) -> Assigned:
    """Give a project to a student.

    A student who lacks a needed skill can only get it as "not before signed";
    otherwise raises ``NotPermitted`` with what is missing and why.
    """
    v = find(w, t.ProjectVersion, command.version, say("project version"))
    student = student_of(w, command.student)
    if command.machine:
        machine_here(w, command.machine)
    p = project_of(v.content)
    on = str(command.machine) if command.machine else None
    needed = needed_for(skill_graph(w), p.needs, p.operations)
    missing = missing_for(standing_of(w, student.id), needed, on)
    row = t.Assignment(
        id=command.id,
        project_version_id=v.id,
        student_id=student.id,
        machine_id=command.machine,
        due=command.due,
        not_before_signed=command.not_before_signed,
        assigned_by=who.id,
        assigned_at=w.now,
    )
    if w.db.get(t.Assignment, command.id) is None:
        if v.project_id in store.retired(w.db):
            raise NotPermitted(say("{name} is out of the library. Put it back first.", name=p.name))
        if command.due and command.due < w.today:
            raise Refused.of("due", command.due, say("must not be in the past"))
        if missing and not command.not_before_signed:
            reasons = [say("{name}: {reason}.", name=m.name, reason=m.reason) for m in missing]
            raise NotPermitted(*reasons, say("Assign it with the start after the sign-offs."))
    attempt_id = uuid.uuid5(command.id, "first attempt")
    if insert_once(w, row, ignoring=("assigned_at",)):
        w.db.add(t.Attempt(id=attempt_id, assignment_id=row.id, number=1, started_at=w.now))
        w.db.flush()
    return Assigned(
        assignment=command.id,
        attempt=attempt_id,
        student=Named(id=student.id, name=student.name),
        name=p.name,
        missing=_missing(missing),
    )


def give(w: Work, who: Who, command: GiveCommand) -> tuple[Assigned, ...]:
    """Give a part to several students at once; when one cannot have it, none gets it.

    Raises ``Refused`` for a student who is named twice, and ``NotPermitted`` as ``assign`` does.
    """
    seen: set[uuid.UUID] = set()
    for n, one in enumerate(command.to):
        if one.student in seen:
            raise Refused.of(f"to.{n}.student", one.student, say("must be named once"))
        seen.add(one.student)
    rest = command.model_dump(exclude={"to"})
    return tuple(assign(w, who, AssignCommand(**rest, **one.model_dump())) for one in command.to)
