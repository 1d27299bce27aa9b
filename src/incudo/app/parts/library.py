"""The library of parts: list, drawing, versions, who may be given one, assigning."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from incudo.app.kernel.language import speak
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Both, Command, Note, View
from incudo.app.parts.drawings import projection_of
from incudo.app.shop.machines import spec_of
from incudo.app.skills.graph import skill_graph
from incudo.core.kernel.errors import Conflict, FieldError, Refused
from incudo.core.kernel.fields import parsed
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.kernel.say import say
from incudo.core.parts.drawing import lay_out, render
from incudo.core.parts.features.kinds import kinds
from incudo.core.parts.features.part import code_for
from incudo.core.parts.features.versions import file_of, project_of, read_any
from incudo.core.parts.holds import WORDS
from incudo.core.parts.project import Project
from incudo.store import schema as t
from incudo.store.parts import projects as store
from incudo.store.shop import machines

#: A project file may be this long as text.
MOST_TEXT = 200_000


class ProjectCard(View):
    """A project in the library."""

    id: uuid.UUID
    version: uuid.UUID
    version_number: int
    name: str
    about: str
    minutes: int | None
    unit: LengthUnit
    material: str
    characteristics: int
    tightest: Both | None
    needs: tuple[str, ...]
    gives: tuple[str, ...]
    operations: tuple[str, ...]
    features: tuple[str, ...]
    at_work: int
    retired: bool
    #: Machines on which it lies within the table's travel.
    machines: tuple[str, ...]


class RowView(View):
    """A characteristic as the library lists it."""

    number: int
    name: str
    where: str
    nominal: Both
    callout: str
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
    given: int


class GivesView(View):
    """What a part teaches: a skill, and the characteristics that show it."""

    skill: str
    characteristics: tuple[int, ...]


class ProjectDetail(View):
    """A project with its newest version."""

    id: uuid.UUID
    version: uuid.UUID
    version_number: int
    name: str
    about: str
    minutes: int | None
    unit: LengthUnit
    material: str
    stock: str
    needs: tuple[str, ...]
    operations: tuple[str, ...]
    hold_points: tuple[str, ...]
    gives: tuple[GivesView, ...]
    rows: tuple[RowView, ...]
    versions: tuple[VersionView, ...]
    file: str
    of_features: bool
    retired: bool


class CheckedProject(View):
    """What a changed project file would look like."""

    name: str
    svg: str
    rows: tuple[RowView, ...]


class ProjectFile(Command):
    """A project file's text (JSON)."""

    file: str


class ChangeCommand(ProjectFile):
    """A changed project file; it becomes the version after the one that it was made from."""

    id: uuid.UUID
    after: uuid.UUID
    change: Note


class ShelveCommand(Command):
    """Take a part out of the library, or put it back."""

    id: uuid.UUID
    retired: bool


class NewCommand(ProjectFile):
    """A new part; its code follows from its name."""

    id: uuid.UUID
    version: uuid.UUID


def current_versions(w: Work) -> list[t.ProjectVersion]:
    """The newest version of every part, by name."""
    return sorted(store.newest_versions(w.db), key=lambda v: project_of(v.content).name)


def project_list(w: Work) -> tuple[ProjectCard, ...]:
    """The library: every project in its newest version."""
    graph = skill_graph(w)
    assigned, out = store.assigned_counts(w.db), store.retired(w.db)
    words = {k.key: k.words for k in kinds()}
    mills = [(m, spec_of(m)) for m in machines.machines(w.db)]
    cards = []
    for v in current_versions(w):
        p = project_of(v.content)
        widths = [(width, c) for c in p.characteristics if (width := p.width(c)) is not None]
        tightest = min(widths, key=lambda wc: wc[0])[0] if widths else None
        cards.append(
            ProjectCard(
                id=v.project_id,
                version=v.id,
                version_number=v.number,
                name=p.name,
                about=p.about,
                minutes=p.minutes,
                unit=p.unit,
                material=p.material,
                characteristics=len(p.characteristics),
                tightest=None if tightest is None else Both.exactly(tightest, p.unit, 3),
                needs=tuple(graph.get(n).name for n in p.needs),
                gives=tuple(graph.get(g.skill).name for g in p.gives),
                operations=tuple(graph.get(o).name for o in p.operations),
                features=_feature_words(v.content, words),
                at_work=assigned.get(v.project_id, 0),
                retired=v.project_id in out,
                machines=tuple(m.name for m, spec in mills if spec.reaches(*p.footprint)),
            )
        )
    return tuple(cards)


def _feature_words(content: str, words: dict[str, str]) -> tuple[str, ...]:
    """The kinds of feature of a part, each once, as they come; none of the older format."""
    file = file_of(content)
    return tuple(dict.fromkeys(words[f.kind] for f in file.features)) if file else ()


def rows_of(p: Project) -> tuple[RowView, ...]:
    """The requirements of a part with their limits."""
    rows = []
    for c in p.characteristics:
        x = p.limits(c)
        rows.append(
            RowView(
                number=c.number,
                name=c.name,
                where=c.where,
                nominal=Both.of(p.nominal(c)),
                callout=c.callout,
                tolerance=tuple(line for line in p.tolerance_words(c) if line),
                lower=None if x.lower is None else Both.exactly(x.lower, x.unit, x.places),
                upper=None if c.callout or x.upper is None else Both.exactly(x.upper, x.unit, x.places),
            )
        )
    return tuple(rows)


def project_detail(w: Work, project_id: uuid.UUID) -> ProjectDetail:
    """A project with its newest version and the list of all."""
    find(w, t.Project, project_id, "project")
    rows = store.versions_of(w.db, project_id)
    v = rows[0][0]
    p, graph = project_of(v.content), skill_graph(w)
    given = store.given_counts(w.db, project_id)
    return ProjectDetail(
        id=project_id,
        version=v.id,
        version_number=v.number,
        name=p.name,
        about=p.about,
        minutes=p.minutes,
        unit=p.unit,
        material=p.material,
        stock=p.stock,
        needs=tuple(graph.get(n).name for n in p.needs),
        operations=tuple(graph.get(o).name for o in p.operations),
        hold_points=tuple(WORDS[h] for h in p.hold_points),
        gives=tuple(GivesView(skill=graph.get(g.skill).name, characteristics=g.characteristics) for g in p.gives),
        rows=rows_of(p),
        versions=tuple(
            VersionView(
                id=x.id,
                number=x.number,
                made_at=x.made_at,
                made_by=by,
                change=x.change or say("first version"),
                given=given.get(x.id, 0),
            )
            for x, by in rows
        ),
        file=v.content,
        of_features=file_of(v.content) is not None,
        retired=project_id in store.retired(w.db),
    )


def read_file(w: Work, text: str) -> tuple[Project, str]:
    """A part from a file's text, and the text that is kept of it. Raises ``Refused`` with one error for each place."""
    project, kept = read_any(parsed(text, most=MOST_TEXT))
    _checked(w, project)
    return project, kept


def _checked(w: Work, project: Project) -> None:
    """Raises ``Refused`` for skills that the shop does not have, and operations that are none."""
    if wrong := skill_faults(w, project):
        raise Refused(*wrong)


def skill_faults(w: Work, project: Project) -> list[FieldError]:
    """Skills that a part names and the shop does not have, and operations that are no work at a machine."""
    known = {s.id: s for s in skill_graph(w).skills}
    named = [("needs", n) for n in project.needs] + [("gives", g.skill) for g in project.gives]
    named += [("operations", o) for o in project.operations]
    wrong = [FieldError(f, s, say("there is no such skill in this shop")) for f, s in named if s not in known]
    none = say("is a skill, but not an operation at a machine")
    return wrong + [
        FieldError("operations", o, none) for o in project.operations if o in known and not known[o].operation
    ]


def project_check(w: Work, command: ProjectFile) -> CheckedProject:
    """What a project file would look like; saves nothing. Raises ``Refused`` with all faults."""
    p, _ = read_file(w, command.file)
    return CheckedProject(name=p.name, svg=render(lay_out(p, speak, projection_of(w))), rows=rows_of(p))


def project_change(w: Work, who: Who, project_id: uuid.UUID, command: ChangeCommand) -> ProjectDetail:
    """Save a changed file as the next version; assignments keep theirs."""
    project = find(w, t.Project, project_id, "project")
    p, kept = read_file(w, command.file)
    if p.code != project.code:
        raise Refused.of("code", p.code, say("must stay {code}: another code is another project", code=project.code))
    there = w.db.get(t.ProjectVersion, command.id)
    newest, by = store.versions_of(w.db, project_id)[0]
    if there is None and newest.id != command.after:
        raise Conflict(
            say(
                "{by} changed this part meanwhile: version {number}. Nothing of yours is lost: save it as a file,"
                " look at version {number}, and change that.",
                by=by,
                number=newest.number,
            )
        )
    row = t.ProjectVersion(
        id=command.id,
        project_id=project_id,
        number=there.number if there else newest.number + 1,
        content=kept,
        made_by=who.id,
        made_at=w.now,
        change=command.change,
    )
    insert_once(w, row, ignoring=("made_at",))
    return project_detail(w, project_id)


def project_shelve(w: Work, who: Who, project_id: uuid.UUID, command: ShelveCommand) -> ProjectDetail:
    """Take a part out of the library, or put it back; job cards that are out go on."""
    find(w, t.Project, project_id, "project")
    row = t.ProjectShelving(id=command.id, project_id=project_id, retired=command.retired, by=who.id, at=w.now)
    insert_once(w, row, ignoring=("at",))
    w.db.flush()
    return project_detail(w, project_id)


def project_new(w: Work, who: Who, command: NewCommand) -> ProjectDetail:
    """Put a new part into the library, under a code of its own made from its name."""
    data = parsed(command.file, most=MOST_TEXT)
    there = w.db.get(t.Project, command.id)
    if isinstance(data, dict):
        data["code"] = there.code if there else _free_code(w, str(data.get("name", "")))
    _checked(w, read_any(data)[0])
    add_project(w, who, command.id, command.version, data)
    return project_detail(w, command.id)


def _free_code(w: Work, name: str) -> str:
    taken, code, n = store.codes(w.db), code_for(name), 2
    free = code
    while free in taken:
        free, n = f"{code}-{n}", n + 1
    return free


def add_project(w: Work, who: Who, project_id: uuid.UUID, version_id: uuid.UUID, data: Any) -> None:
    """Put a new project into the library."""
    p, kept = read_any(data)
    insert_once(w, t.Project(id=project_id, code=p.code), ignoring=())
    row = t.ProjectVersion(
        id=version_id,
        project_id=project_id,
        number=1,
        content=kept,
        made_by=who.id,
        made_at=w.now,
        change="",
    )
    insert_once(w, row, ignoring=("made_at",))
