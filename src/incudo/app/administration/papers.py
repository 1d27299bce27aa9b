"""What is printed: a student's skill record, the wall leaflet, labels for machines, gauges and cutters."""

from __future__ import annotations

import uuid
from datetime import datetime
from enum import StrEnum
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

import segno
from jinja2 import Environment, PackageLoader, select_autoescape

from incudo.app.kernel.language import code_now, speak
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.parts.drawings import projection_of
from incudo.app.people.students import group_of, student_of
from incudo.app.practice import sheets
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.machines import machine_names
from incudo.app.shop.tooling import cutters
from incudo.app.skills import words
from incudo.app.skills.records import skill_book
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say, together
from incudo.core.parts.drawing import Scaled, render
from incudo.core.parts.drawing.notes import tolerance_lines
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.drawing.printed import printed
from incudo.core.parts.features.versions import project_of
from incudo.core.parts.requirement import elements
from incudo.core.people.notice import LINES, TITLE, VERSION
from incudo.core.people.roles import Role
from incudo.core.session.prestart import EACH, FULL
from incudo.core.skills.evidence import ActKind
from incudo.core.skills.standing import State
from incudo.store import schema as t
from incudo.store.shop import instruments, machines


class Paper(StrEnum):
    """The sheet to print on."""

    A4 = "A4"
    LETTER = "Letter"


#: How a state is said on paper.
STATE_WORDS = {
    State.SIGNED: say("signed"),
    State.DUE_SOON: say("signed, due soon"),
    State.LAPSED: say("lapsed"),
    State.SUSPENDED: say("suspended"),
    State.WITHDRAWN: say("withdrawn"),
    State.READY: say("ready to be shown"),
    State.OPEN: say("open"),
    State.LOCKED: say("not yet"),
}


#: Where templates and the fonts they are printed in lie.
_TEMPLATES = f"{Path(__file__).resolve().parents[1] / 'templates'}/"


@cache
def _templates() -> Environment:
    made = Environment(loader=PackageLoader("incudo.app"), autoescape=select_autoescape(default=True), finalize=_spoken)
    made.globals["say"] = say
    return made


def _spoken(value: object) -> object:
    return speak(value) if isinstance(value, str) else value


#: What is free for a drawing on each paper, upright and lying, mm: the paper less its margins and the title block.
ROOMS = {Paper.A4: ((180.0, 222.0), (267.0, 136.0)), Paper.LETTER: ((186.0, 204.0), (249.0, 142.0))}


def part_print(w: Work, version_id: uuid.UUID, paper: Paper) -> tuple[str, bytes]:
    """The drawing of a version of a part to scale, with its title block, and a sheet to measure by."""
    values = part_values(w, version_id, paper)
    return f"{values['part'].code}-{values['version']}.pdf", to_pdf("part.html", paper, **values)


def part_values(w: Work, version_id: uuid.UUID, paper: Paper) -> dict[str, Any]:
    """What the print of a part is made of."""
    v = find(w, t.ProjectVersion, version_id, say("project version"))
    p = project_of(v.content)
    projection = projection_of(w)
    sheet = printed(p, *ROOMS[paper], speak, projection)
    drawing = sheet.drawing
    scaled = Scaled(drawing.width * sheet.mm, drawing.height * sheet.mm)
    lines = []
    for c in p.characteristics:
        limits = p.limits(c)
        shown = [limits.text(x) for x in (limits.lower, limits.upper) if x is not None]
        lines.append(
            {
                "number": c.number,
                "name": c.name,
                "where": c.where,
                "drawn": c.callout or together((c.nominal, *p.tolerance_words(c))),
                "limits": "" if c.callout else together(shown, " … "),
                "reads": [e.words for e in elements(p, c)] * (c.readings if len(elements(p, c)) == 1 else 1),
            }
        )
    return {
        "shop": find(w, t.Shop, 1, "shop").name,
        "part": p,
        "version": v.number,
        "made": _when(w, v.made_at),
        "drawing": render(drawing, standalone=True, size=scaled),
        "scale": sheet.scale,
        "across": sheet.across,
        "first": projection is Projection.FIRST and not p.is_placed,
        "tolerances": tolerance_lines(p),
        "lines": lines,
    }


def to_pdf(*pages: Any, **values: Any) -> bytes:
    """One or several templates, each with its paper and values, as one PDF.

    ``to_pdf("part.html", paper, name=value)`` or ``to_pdf(("plan.html", paper, {…}), ("part.html", paper, {…}))``.
    """
    from weasyprint import HTML  # noqa: PLC0415 (takes a second to load, and a server prints seldom)

    wanted = pages if isinstance(pages[0], tuple) else ((*pages, values),)
    made = []
    for template, paper, given in wanted:
        text = _templates().get_template(template).render(paper=paper.value, language=code_now(), **given)
        made.append(HTML(string=text, base_url=str(_TEMPLATES)).render())
    found: bytes = made[0].copy([page for d in made for page in d.pages]).write_pdf()
    return found


def _when(w: Work, moment: datetime) -> str:
    return f"{w.day(moment):%Y-%m-%d}"


def skill_record(w: Work, who: Who, student_id: uuid.UUID, paper: Paper) -> tuple[str, bytes]:
    """One student's skills with who signed what when, as PDF; a student prints only their own."""
    if who.role is Role.STUDENT and who.id != student_id:
        raise NotFound(say("There is no such student."))
    person = student_of(w, student_id)
    group = group_of(w, student_id)
    book, machines = skill_book(w, student_id), machine_names(w)
    groups = []
    for g in book.graph.groups:
        lines = []
        for s in book.graph.skills:
            if s.group != g.id:
                continue
            places: list[str | None] = [*machines] if s.per_machine else [None]
            for m in places:
                standing = book.standing(s.id, m)
                if s.per_machine and standing.state in (State.LOCKED, State.OPEN, State.READY):
                    continue
                acts = [a for a in book.record.acts if a.skill == s.id and a.machine == m]
                signed = [a for a in acts if a.kind is ActKind.SIGN_OFF]
                last = max(signed, key=lambda a: a.at, default=None)
                lines.append(
                    {
                        "name": say("{name}, {machines}", name=s.name, machines=machines[m]) if m else s.name,
                        "state": STATE_WORDS[standing.state],
                        "current": standing.state.current,
                        "signed": say("{when}, {by}", when=_when(w, last.at), by=last.by) if last else "",
                        "until": str(standing.until or ""),
                        "times": len(signed),
                        "remark": standing.reason if standing.state in (State.WITHDRAWN, State.SUSPENDED) else "",
                    }
                )
        groups.append({"name": g.name, "lines": lines})
    data = to_pdf(
        "skill_record.html",
        paper,
        student=person.name,
        group=group.name if group else "",
        shop=find(w, t.Shop, 1, "shop").name,
        now=f"{w.local(w.now):%Y-%m-%d %H:%M %Z}",
        groups=groups,
    )
    return f"skills-{person.login}.pdf", data


def exercise_sheet(w: Work, who: Who, ident: uuid.UUID, paper: Paper) -> tuple[str, bytes]:
    """An exercise sheet with room to work in; for who teaches with its key behind it."""
    view = sheets.sheet(w, who, ident)
    key = sheets.sheet_key(w, who, ident) if who.role is not Role.STUDENT else ()
    data = to_pdf(
        "exercise_sheet.html",
        paper,
        shop=find(w, t.Shop, 1, "shop").name,
        title=view.title,
        group=view.group,
        words=view.words,
        date=_when(w, view.at),
        questions=view.questions,
        key=key,
    )
    return f"exercises-{_when(w, view.at)}.pdf", data


def glossary(w: Work, paper: Paper) -> bytes:
    """The words of the trade, to hand out."""
    shop = find(w, t.Shop, 1, "shop").name
    return to_pdf("glossary.html", paper, shop=shop, terms=words.glossary().terms)


def leaflet(w: Work, paper: Paper) -> bytes:
    """The leaflet for the wall: the notice, the list before every start, what to do when it goes wrong."""
    return to_pdf(
        "leaflet.html",
        paper,
        shop=find(w, t.Shop, 1, "shop").name,
        title=TITLE,
        lines=LINES,
        version=VERSION,
        full=FULL,
        each=EACH,
    )


@lru_cache(maxsize=2048)
def _code(link: str, border: int) -> str:
    """The code of a link as a picture in dots, which a sheet of hundreds prints at once; ``border`` in modules."""
    return segno.make(link, error="m").png_data_uri(scale=4, border=border)


def machine_labels(w: Work, paper: Paper, address: str) -> bytes:
    """A label per machine with the code that leads to its start page under ``address``."""
    labels = []
    for m in machines.machines(w.db):
        link = f"{address.rstrip('/')}/start/{m.id}"
        code = _code(link, 2)
        labels.append({"name": m.name, "about": m.about, "code": code, "link": link})
    return to_pdf("labels.html", paper, shop=find(w, t.Shop, 1, "shop").name, labels=labels)


def gauge_labels(w: Work, paper: Paper, address: str) -> bytes:
    """A small label per gauge: how sure it is, its next check, and the code of its page under ``address``."""
    labels = []
    for row in instruments.instruments(w.db):
        link = f"{address.rstrip('/')}/shop/gauges/{row.id}"
        answers = instrument_of(row, {}).answers
        labels.append(
            {
                "name": row.name,
                "about": "" if answers else say("sure to ±{sure} {unit}", sure=row.uncertainty, unit=row.unit),
                "due": say("check due {due}", due=row.due),
                "code": _code(link, 1),
            }
        )
    return to_pdf("small-labels.html", paper, title=say("Gauge labels"), labels=labels)


def cutter_labels(w: Work, paper: Paper, address: str) -> bytes:
    """A small label per cutter: its place, what it really measures, and the code of its page under ``address``."""
    labels = []
    for i, c in cutters(w).items():
        link = f"{address.rstrip('/')}/crib/cutters?cutter={i}"
        real = say("reground: {measured} {unit}", measured=c.measured, unit=c.unit) if c.measured else ""
        code = _code(link, 1)
        labels.append({"name": c.name, "about": c.place, "due": real, "code": code})
    return to_pdf("small-labels.html", paper, title=say("Cutter labels"), labels=labels)
