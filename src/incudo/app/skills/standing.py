"""The class table, one student's skills, what they may do."""

from __future__ import annotations

import uuid
from collections.abc import Container, Mapping, Sequence
from datetime import datetime

from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Named, View
from incudo.app.people.groups import choose_group
from incudo.app.people.students import group_of, student_of
from incudo.app.shop.machines import machine_names, machines_here
from incudo.app.shop.tags import closed_words
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.records import skill_book
from incudo.app.skills.standings import standings
from incudo.app.skills.views import (
    CellView,
    CheckToTake,
    EventView,
    ExerciseToDo,
    GroupCell,
    GroupView,
    MayView,
    MetView,
    OnMachine,
    SkillName,
    SkillStep,
    StudentSkill,
    StudentSkills,
    group_views,
    skill_view,
)
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say, together
from incudo.core.people.roles import Role
from incudo.core.practice.rigs import RIGS
from incudo.core.reckoning import CALCULATIONS
from incudo.core.session.calls import KEPT
from incudo.core.skills.evidence import EvidenceKind
from incudo.core.skills.graph import DryRunParts, Knowledge, PlannedParts, Skill
from incudo.core.skills.kept import Kept
from incudo.core.skills.permission import Answer, Assessor, decide, why_not_sign
from incudo.core.skills.standing import IN_REACH, Book, Standings, State, most_telling, worst
from incudo.store import schema as t
from incudo.store.people import people as people_store
from incudo.store.session import calling
from incudo.store.skills import acts as store


class ClassRow(View):
    """One student in the class table."""

    student: Named
    group: str
    cells: tuple[CellView, ...]
    groups: tuple[GroupCell, ...]
    worst: State
    may_alone: tuple[str, ...]


class ClassTable(View):
    """The students of a group by skills. ``groups`` are those of the skills."""

    group: Named | None
    choices: tuple[Named, ...]
    groups: tuple[GroupView, ...]
    skills: tuple[SkillName, ...]
    rows: tuple[ClassRow, ...]


def class_table(w: Work, group: uuid.UUID | None) -> ClassTable:
    """A group by skills with each cell's state and reason, and the machines each may use alone. Raises ``NotFound``."""
    graph, machines = skill_graph(w), machines_here(w)
    chosen = choose_group(w, group, people_store.meets_now(w.db))
    books = standings(w, [p.id for p, _ in chosen.students])
    return ClassTable(
        group=chosen.group,
        choices=chosen.choices,
        groups=group_views(graph),
        skills=tuple(SkillName(id=s.id, name=s.name, group=s.group) for s in graph.skills),
        rows=tuple(_class_row(books[p.id], machines, p, g) for p, g in chosen.students),
    )


def _class_row(book: Kept, machines: dict[str, str], person: t.Person, group: str) -> ClassRow:
    cells = []
    for skill in book.graph.skills:
        s = book.standing(skill.id, None)
        on: tuple[str, ...] = ()
        if skill.per_machine:
            each = ((m, book.standing(skill.id, m)) for m in machines)
            on = tuple(machines[m] for m, x in each if x.state.current)
        cells.append(CellView(skill=skill.id, state=s.state, reason=s.reason, until=s.until, machines=on))
    may = {m: set(book.alone(m)) for m in machines}
    alone = tuple(
        say("{name} on {name2}", name=s.name, name2=name)
        for s in book.graph.skills
        if s.operation
        for m, name in machines.items()
        if s.id in may[m]
    )
    return ClassRow(
        student=Named(id=person.id, name=person.name),
        group=group,
        cells=tuple(cells),
        groups=tuple(_group_cell(book, g.id) for g in book.graph.groups),
        worst=worst(c.state for c in cells),
        may_alone=alone,
    )


def _group_cell(book: Standings, group: str) -> GroupCell:
    standings = [book.standing(s.id, None) for s in book.graph.skills if s.group == group]
    told, held = most_telling(standings), sum(s.state.current for s in standings)
    return GroupCell(
        group=group,
        held=held,
        count=len(standings),
        skill=told.skill,
        state=told.state,
        reason=say("{name}: {reason}", name=book.graph.get(told.skill).name, reason=told.reason),
    )


def student_skills(w: Work, who: Who, student_id: uuid.UUID) -> StudentSkills:
    """One student's skills with evidence. A student sees only their own."""
    if who.role is Role.STUDENT and who.id != student_id:
        raise NotFound(say("There is no such student."))
    person = student_of(w, student_id)
    book, machines = skill_book(w, student_id), machines_here(w)
    assessor = assessor_of(w, who)
    shown = store.demonstrations(w.db, student_id)
    calls = open_shows(w, student_id)
    written = {
        (row.skill, row.at): together((x for x in (row.place, row.witness, row.done) if x), " · ")
        for row, _, _ in store.withdrawals(w.db, [student_id])
    }
    skills = []
    for skill in book.graph.skills:
        places: list[str | None] = [*machines] if skill.per_machine else [None]
        skills.append(
            StudentSkill(
                skill=skill_view(book.graph, skill.id, book.names),
                on=tuple(_on_machine(book, assessor, student_id, skill, m, machines, calls) for m in places),
                events=_events(book, skill, machine_names(w), shown, written),
            )
        )
    closed = closed_words(w)
    group = group_of(w, student_id)
    return StudentSkills(
        student=Named(id=person.id, name=person.name),
        group=group.name if group else "",
        groups=group_views(book.graph),
        skills=tuple(skills),
        may=tuple(
            _may(book, s, m, name, closed) for s in book.graph.skills if s.operation for m, name in machines.items()
        ),
    )


def open_shows(w: Work, student: uuid.UUID) -> dict[tuple[str, uuid.UUID | None], uuid.UUID]:
    """Which skills (on which machines) a student has called to show, by call."""
    return {
        (c.what, c.machine_id): c.id
        for c, end, _ in calling.calls_of(w.db, student, w.now - KEPT)
        if end is None and c.kind == "show"
    }


def steps_for(w: Work, student: uuid.UUID, book: Kept, wanted: Container[str]) -> tuple[SkillStep, ...]:
    """What the student can do at once about these skills: those in reach, in the order of work."""
    machines, calls = machines_here(w), open_shows(w, student)
    found = []
    for skill in book.graph.skills:
        if skill.id not in wanted:
            continue
        places: list[str | None] = [*machines] if skill.per_machine else [None]
        for m in places:
            s = book.standing(skill.id, m)
            if s.state not in IN_REACH:
                continue
            on = uuid.UUID(m) if m else None
            open_checks = [x for x in book.evidence(skill, m) if not x.ok and x.kind == "knowledge"]
            found.append(
                SkillStep(
                    skill=skill.id,
                    name=skill.name,
                    state=s.state,
                    reason=s.reason,
                    machine=Named(id=on, name=machines[str(m)]) if on else None,
                    checks=tuple(CheckToTake(bank=x.key, words=x.words) for x in open_checks),
                    exercise=next(
                        (
                            ExerciseToDo(calculation=x.key, name=CALCULATIONS[x.key].name)
                            for x in book.evidence(skill, m)
                            if not x.ok and x.kind == "exercise"
                        ),
                        None,
                    ),
                    rig=next((RIGS[x.key].name for x in book.evidence(skill, m) if not x.ok and x.kind == "rig"), ""),
                    to_show=skill.demonstrated and s.state is not State.OPEN,
                    called=calls.get((skill.id, on)),
                )
            )
    return tuple(found)


def _may(book: Book, operation: Skill, machine: str, name: str, closed: dict[uuid.UUID, str]) -> MayView:
    d = decide(book, (operation.id,), machine)
    answer, reasons = d.answer, d.reasons
    if shut := closed.get(uuid.UUID(machine)):
        answer, reasons = Answer.REFUSED, (say("{name} is tagged out: {shut}", name=name, shut=shut), *reasons)
    return MayView(operation=operation.name, machine=name, answer=answer, reasons=reasons)


def _on_machine(
    book: Book,
    assessor: Assessor,
    student: uuid.UUID,
    skill: Skill,
    m: str | None,
    machines: dict[str, str],
    calls: dict[tuple[str, uuid.UUID | None], uuid.UUID],
) -> OnMachine:
    s = book.standing(skill.id, m)
    why_not = why_not_sign(book, assessor, str(student), skill.id, m)
    return OnMachine(
        machine=Named(id=uuid.UUID(m), name=machines[m]) if m else None,
        state=s.state,
        reason=s.reason,
        until=s.until,
        refresher=s.state.refreshed,
        met=tuple(MetView.of(x) for x in book.evidence(skill, m)),
        may_sign=not why_not,
        why_not=why_not,
        called=calls.get((skill.id, uuid.UUID(m) if m else None)),
    )


def _events(
    book: Book,
    skill: Skill,
    machines: dict[str, str],
    shown: Sequence[tuple[t.Demonstration, str]],
    written: Mapping[tuple[str, datetime], str],
) -> tuple[EventView, ...]:
    """What is recorded about one skill, the newest first; ``written`` are the records of unsafe acts."""
    events = [
        EventView(
            kind=a.kind.value,
            at=a.at,
            by=a.by,
            machine=machines.get(a.machine or "", ""),
            words=together((x for x in (a.words, written.get((a.skill, a.at), "")) if x), " · "),
        )
        for a in book.record.acts
        if a.skill == skill.id
    ]
    events += [
        EventView(
            kind=d.outcome,
            at=d.at,
            by=by,
            machine=machines.get(str(d.machine_id), ""),
            words=together(
                (x for x in (say("again: {repeat}", repeat=d.repeat) if d.repeat else "", d.note) if x), " · "
            ),
        )
        for d, by in shown
        if d.skill == skill.id and d.outcome == "not_yet"
    ]
    events += [EventView(kind="inspected", at=e.at, by="", machine="", words=e.words) for e in book.inspected(skill.id)]
    if any(isinstance(r, PlannedParts) for r in skill.evidence):
        events += [EventView(kind="planned", at=e.at, by="", machine="", words=e.words) for e in book.planned()]
    if any(isinstance(r, DryRunParts) for r in skill.evidence):
        events += [EventView(kind="dry_run", at=e.at, by="", machine="", words=e.words) for e in book.dry_runs()]
    banks = {r.bank for r in skill.evidence if isinstance(r, Knowledge)}
    events += [
        EventView(
            kind="check_passed" if e.passed else "check_failed",
            at=e.at,
            by="",
            machine="",
            words=say("{get}: {words}", get=book.names.get(e.key, e.key), words=e.words),
        )
        for e in book.record.evidence
        if e.kind is EvidenceKind.KNOWLEDGE and e.key in banks
    ]
    return tuple(sorted(events, key=lambda e: e.at, reverse=True))


def assessor_of(w: Work, who: Who) -> Assessor:
    """This person as the core's rules of signing know them."""
    return Assessor(str(who.id), who.role, people_store.delegated(w.db, who.id))
