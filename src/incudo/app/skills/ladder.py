"""The shop's skill graph: its picture, its file, changing it; and decisions about past moments."""

from __future__ import annotations

import json
import uuid
from datetime import datetime
from typing import Annotated

from pydantic import AwareDatetime, BaseModel, StringConstraints

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Command, Named, SkillId, View
from incudo.app.people.students import student_of
from incudo.app.shop.gone import note_change
from incudo.app.skills.graph import banks, graph_of, names_in_words, skill_graph
from incudo.app.skills.records import skill_book, skill_records
from incudo.app.skills.views import GroupView, SkillView, group_views, skill_view
from incudo.core.kernel.errors import Conflict, FieldError, NotFound, Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.versions import project_of
from incudo.core.people.roles import Role
from incudo.core.practice.rigs import RIGS
from incudo.core.reckoning import MAKERS
from incudo.core.skills.graph import SkillGraph, read_graph
from incudo.core.skills.permission import Answer, decide
from incudo.core.skills.picture_of_graph import BOX_HEIGHT, BOX_WIDTH, lay_out
from incudo.core.skills.standing import State, book_at
from incudo.store import schema as t
from incudo.store.parts import projects as project_store
from incudo.store.skills import files

MOST_TEXT = 400_000


class BoxView(View):
    """A skill in the picture; with a student, where they stand."""

    skill: str
    name: str
    x: int
    y: int
    state: State | None
    reason: str
    next: bool


class LaneView(View):
    """A stripe of the picture."""

    group: str
    name: str
    y: int
    height: int


class LinkView(View):
    """A line of the picture, drawn stronger when its first end holds."""

    before: str
    after: str
    path: str
    held: bool


class SkillMapView(View):
    """The skill graph as a picture."""

    number: int
    student: Named | None
    width: int
    height: int
    box_width: int
    box_height: int
    lanes: tuple[LaneView, ...]
    boxes: tuple[BoxView, ...]
    links: tuple[LinkView, ...]
    held: int
    groups: tuple[GroupView, ...]
    skills: tuple[SkillView, ...]


class GraphFile(View):
    """The skill graph as an open file."""

    number: int
    file: str


class GraphText(Command):
    """A skill file's text (JSON)."""

    file: Annotated[str, StringConstraints(min_length=2, max_length=MOST_TEXT)]


class GraphCommand(GraphText):
    """A changed skill file; it becomes the next version after ``number``."""

    number: int


class GraphCheck(View):
    """What a skill file would change."""

    skills: int
    added: tuple[str, ...]
    removed: tuple[str, ...]
    changed: tuple[str, ...]


class PastDecision(View):
    """What the rules of skills say about a moment, by what was known at another."""

    student: Named
    operation: str
    machine: str
    as_of: datetime
    known_at: datetime
    answer: Answer
    reasons: tuple[str, ...]


class PastQuestion(BaseModel):
    """May they do this on this machine, as of one moment, as known at another?"""

    operation: SkillId
    machine: uuid.UUID
    as_of: AwareDatetime | None = None
    known_at: AwareDatetime | None = None


def skill_map(w: Work, who: Who, student: uuid.UUID | None) -> SkillMapView:
    """The graph drawn; with a student, each skill with their state. A student sees only themselves."""
    person = who.id if who.role is Role.STUDENT else student
    if who.role is Role.STUDENT and student not in (None, who.id):
        raise NotFound(say("There is no such student."))
    graph = skill_graph(w)
    named, states = None, {}
    if person is not None:
        row = student_of(w, person)
        named, book = Named(id=row.id, name=row.name), skill_book(w, person)
        states = {s.id: book.standing(s.id, None) for s in graph.skills}
    picture = lay_out(graph)
    reach = (State.OPEN, State.READY, State.LAPSED)
    held = {s for s, standing in states.items() if standing.state.current}
    return SkillMapView(
        number=files.newest_skill_number(w.db),
        student=named,
        width=picture.width,
        height=picture.height,
        box_width=BOX_WIDTH,
        box_height=BOX_HEIGHT,
        lanes=tuple(
            LaneView(
                group=x.group,
                name=next(g.name for g in graph.groups if g.id == x.group),
                y=x.y,
                height=x.height,
            )
            for x in picture.lanes
        ),
        boxes=tuple(
            BoxView(
                skill=b.skill,
                name=graph.get(b.skill).name,
                x=b.x,
                y=b.y,
                state=states[b.skill].state if states else None,
                reason=states[b.skill].reason if states else "",
                next=bool(states) and states[b.skill].state in reach,
            )
            for b in picture.boxes
        ),
        links=tuple(
            LinkView(before=x.before, after=x.after, path=x.path, held=x.before in held) for x in picture.links
        ),
        held=len(held),
        groups=group_views(graph),
        skills=tuple(skill_view(graph, s.id, names_in_words(w)) for s in graph.skills),
    )


def graph_file(w: Work) -> GraphFile:
    """The newest skill file as text."""
    text = json.dumps(skill_graph(w).model_dump(mode="json"), indent=1, ensure_ascii=False)
    return GraphFile(number=files.newest_skill_number(w.db), file=text)


def _read(w: Work, text: str) -> SkillGraph:
    data = parsed(text)
    graph = read_graph(data, tuple(banks(w)), RIGS, MAKERS)
    names = {s.id for s in graph.skills}
    gone = []
    for v in project_store.newest_versions(w.db):
        p = project_of(v.content)
        used = {*p.needs, *p.operations, *(g.skill for g in p.gives)}
        gone += [FieldError("skills", s, say("is used by {name}", name=p.name)) for s in sorted(used - names)]
    signed = {s.id for s in skill_graph(w).skills} - names
    gone += [
        FieldError("skills", s, say("was signed before: keep it in the file"))
        for s in sorted(signed & files.signed_skills(w.db))
    ]
    if gone:
        raise Refused(*gone)
    return graph


def graph_check(w: Work, command: GraphText) -> GraphCheck:
    """What a skill file would change; saves nothing. Raises ``Refused`` with all faults."""
    new, old = _read(w, command.file), skill_graph(w)
    before, after = {s.id: s for s in old.skills}, {s.id: s for s in new.skills}
    return GraphCheck(
        skills=len(new.skills),
        added=tuple(s.name for s in new.skills if s.id not in before),
        removed=tuple(s.name for s in old.skills if s.id not in after),
        changed=tuple(s.name for s in new.skills if s.id in before and before[s.id] != s),
    )


def graph_change(w: Work, who: Who, command: GraphCommand) -> GraphFile:
    """Save a changed graph as the next version, with who changed what.

    Raises ``Conflict`` when somebody saved meanwhile.
    """
    graph, number = _read(w, command.file), files.newest_skill_number(w.db)
    if graph == skill_graph(w):
        return graph_file(w)
    if command.number != number:
        raise Conflict(say("The skill graph was changed meanwhile (version {number}): load it again.", number=number))
    check = graph_check(w, command)
    named = together((*check.changed, *check.added, *check.removed), ", ") or say("the groups")
    content = json.dumps(graph.model_dump(mode="json"), ensure_ascii=False)
    note_change(w, who, say("Skills, version {number}: {named}", number=number + 1, named=named))
    w.db.add(t.SkillFile(number=number + 1, content=content, made_at=w.now))
    w.db.flush()
    w.memo.clear()
    return graph_file(w)


def past_decision(w: Work, student_id: uuid.UUID, q: PastQuestion) -> PastDecision:
    """Ask a decision about skills again: with the record and the graph of then."""
    person = student_of(w, student_id)
    machine = find(w, t.Machine, q.machine, "machine")
    known = min(q.known_at or w.now, w.now)
    as_of = min(q.as_of or known, known)
    content = files.skill_file_at(w.db, as_of)
    graph = graph_of(content, tuple(banks(w))) if content else skill_graph(w)
    record = skill_records(w, [student_id])[student_id]
    book = book_at(graph, record, as_of, known, names_in_words(w))
    d = decide(book, (q.operation,), str(q.machine))
    return PastDecision(
        student=Named(id=person.id, name=person.name),
        operation=graph.get(q.operation).name,
        machine=machine.name,
        as_of=as_of,
        known_at=known,
        answer=d.answer,
        reasons=d.reasons,
    )
