"""The library of parts: list, drawing, versions, who may be given one, assigning."""

from __future__ import annotations

import json
import uuid
from datetime import datetime
from typing import Any

from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Both, Command, Note, View
from incudo.app.skills.graph import skill_graph
from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.parts.drawing import lay_out, render
from incudo.core.parts.holds import WORDS
from incudo.core.parts.project import Project, project_of, read_project
from incudo.store import schema as t
from incudo.store.parts import projects as store

#: A project file may be this long as text.
MOST_TEXT = 200_000


class ProjectCard(View):
    """A project in the library."""

    id: uuid.UUID
    version: uuid.UUID
    version_number: int
    name: str
    about: str
    unit: Unit
    material: str
    characteristics: int
    tightest: Both | None
    needs: tuple[str, ...]
    gives: tuple[str, ...]
    at_work: int


class RowView(View):
    """A characteristic as the library lists it."""

    number: int
    name: str
    where: str
    nominal: Both
    tolerance: tuple[str, ...]
    lower: Both | None
    upper: Both | None


class VersionView(View):
    """One version of a project."""

    id: uuid.UUID
    number: int
    made_at: datetime
    made_by: str
    change: str


class GivesView(View):
    skill: str
    characteristics: tuple[int, ...]


class ProjectDetail(View):
    """A project with its newest version."""

    id: uuid.UUID
    version: uuid.UUID
    version_number: int
    name: str
    about: str
    unit: Unit
    material: str
    stock: str
    needs: tuple[str, ...]
    operations: tuple[str, ...]
    hold_points: tuple[str, ...]
    gives: tuple[GivesView, ...]
    rows: tuple[RowView, ...]
    versions: tuple[VersionView, ...]
    file: str


class CheckedProject(View):
    """What a changed project file would look like."""

    name: str
    svg: str
    rows: tuple[RowView, ...]


class ProjectFile(Command):
    """A project file's text (JSON)."""

    file: str


class ChangeCommand(ProjectFile):
    """A changed project file; it becomes the next version."""

    id: uuid.UUID
    change: Note


def current_versions(w: Work) -> list[t.ProjectVersion]:
    return sorted(store.newest_versions(w.db), key=lambda v: project_of(v.content).name)


def project_list(w: Work) -> tuple[ProjectCard, ...]:
    """The library: every project in its newest version."""
    graph = skill_graph(w)
    assigned = store.assigned_counts(w.db)
    cards = []
    for v in current_versions(w):
        p = project_of(v.content)
        widths = [(width, c) for c in p.characteristics if (width := p.limits(c).width) is not None]
        tightest = min(widths, key=lambda wc: wc[0])[0] if widths else None
        cards.append(
            ProjectCard(
                id=v.project_id,
                version=v.id,
                version_number=v.number,
                name=p.name,
                about=p.about,
                unit=p.unit,
                material=p.material,
                characteristics=len(p.characteristics),
                tightest=None if tightest is None else Both.exactly(tightest, p.unit, 3),
                needs=tuple(graph.get(n).name for n in p.needs),
                gives=tuple(graph.get(g.skill).name for g in p.gives),
                at_work=assigned.get(v.project_id, 0),
            )
        )
    return tuple(cards)


def _rows(p: Project) -> tuple[RowView, ...]:
    rows = []
    for c in p.characteristics:
        x = p.limits(c)
        rows.append(
            RowView(
                number=c.number,
                name=c.name,
                where=c.where,
                nominal=Both.of(p.length(c.nominal)),
                tolerance=tuple(line for line in p.tolerance_words(c) if line),
                lower=None if x.lower is None else Both.exactly(x.lower, x.unit, x.places),
                upper=None if x.upper is None else Both.exactly(x.upper, x.unit, x.places),
            )
        )
    return tuple(rows)


def project_detail(w: Work, project_id: uuid.UUID) -> ProjectDetail:
    """A project with its newest version and the list of all."""
    find(w, t.Project, project_id, "project")
    rows = store.versions_of(w.db, project_id)
    v = rows[0][0]
    p, graph = project_of(v.content), skill_graph(w)
    return ProjectDetail(
        id=project_id,
        version=v.id,
        version_number=v.number,
        name=p.name,
        about=p.about,
        unit=p.unit,
        material=p.material,
        stock=p.stock,
        needs=tuple(graph.get(n).name for n in p.needs),
        operations=tuple(graph.get(o).name for o in p.operations),
        hold_points=tuple(WORDS[h] for h in p.hold_points),
        gives=tuple(GivesView(skill=graph.get(g.skill).name, characteristics=g.characteristics) for g in p.gives),
        rows=_rows(p),
        versions=tuple(
            VersionView(
                id=x.id, number=x.number, made_at=x.made_at, made_by=by, change=x.change or say("first version")
            )
            for x, by in rows
        ),
        file=v.content,
    )


def _read(w: Work, text: str) -> Project:
    data = parsed(text, most=MOST_TEXT)
    project = read_project(data)
    known = {s.id for s in skill_graph(w).skills}
    named = [("needs", n) for n in project.needs] + [("gives", g.skill) for g in project.gives]
    named += [("operations", o) for o in project.operations]
    unknown = [FieldError(f, s, say("there is no such skill in this shop")) for f, s in named if s not in known]
    if unknown:
        raise Refused(*unknown)
    for o in project.operations:
        if not skill_graph(w).get(o).operation:
            raise Refused.of("operations", o, say("is a skill, but not an operation at a machine"))
    return project


def project_check(w: Work, command: ProjectFile) -> CheckedProject:
    """What a project file would look like; saves nothing. Raises ``Refused`` with all faults."""
    p = _read(w, command.file)
    return CheckedProject(name=p.name, svg=render(lay_out(p, speak)), rows=_rows(p))


def project_change(w: Work, who: Who, project_id: uuid.UUID, command: ChangeCommand) -> ProjectDetail:
    """Save a changed file as the next version; assignments keep theirs."""
    project = find(w, t.Project, project_id, "project")
    p = _read(w, command.file)
    if p.code != project.code:
        raise Refused.of("code", p.code, say("must stay {code}: another code is another project", code=project.code))
    there = w.db.get(t.ProjectVersion, command.id)
    row = t.ProjectVersion(
        id=command.id,
        project_id=project_id,
        number=there.number if there else store.versions_of(w.db, project_id)[0][0].number + 1,
        content=json.dumps(p.model_dump(mode="json"), indent=1),
        made_by=who.id,
        made_at=w.now,
        change=command.change,
    )
    insert_once(w, row, ignoring=("made_at",))
    return project_detail(w, project_id)


def add_project(w: Work, who: Who, project_id: uuid.UUID, version_id: uuid.UUID, data: Any) -> None:
    """Put a new project into the library."""
    p = read_project(data)
    insert_once(w, t.Project(id=project_id, code=p.code), ignoring=())
    row = t.ProjectVersion(
        id=version_id,
        project_id=project_id,
        number=1,
        content=json.dumps(p.model_dump(mode="json"), indent=1),
        made_by=who.id,
        made_at=w.now,
        change="",
    )
    insert_once(w, row, ignoring=("made_at",))
