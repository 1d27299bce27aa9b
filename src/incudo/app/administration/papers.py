"""What is printed: a student's skill record, the wall leaflet, labels for the machines."""

from __future__ import annotations

import uuid
from datetime import datetime
from enum import StrEnum
from functools import cache
from pathlib import Path
from typing import Any

import segno
from jinja2 import Environment, PackageLoader, select_autoescape

from incudo.app.kernel.language import code_now, speak
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.people.students import group_of, student_of
from incudo.app.practice import sheets
from incudo.app.shop.machines import machine_names
from incudo.app.skills import words
from incudo.app.skills.records import skill_book
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say
from incudo.core.people.notice import LINES, TITLE, VERSION
from incudo.core.people.roles import Role
from incudo.core.session.prestart import EACH, FULL
from incudo.core.skills.evidence import ActKind
from incudo.core.skills.standing import State
from incudo.store import schema as t
from incudo.store.shop import machines


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


def _pdf(template: str, paper: Paper, **values: Any) -> bytes:
    from weasyprint import HTML  # noqa: PLC0415 (takes a second to load, and a server prints seldom)

    text = _templates().get_template(template).render(paper=paper.value, language=code_now(), **values)
    found: bytes = HTML(string=text, base_url=str(_TEMPLATES)).write_pdf()
    return found


def _when(moment: datetime) -> str:
    return f"{moment.astimezone():%Y-%m-%d}"


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
                        "signed": say("{when}, {by}", when=_when(last.at), by=last.by) if last else "",
                        "until": str(standing.until or ""),
                        "times": len(signed),
                        "remark": standing.reason if standing.state in (State.WITHDRAWN, State.SUSPENDED) else "",
                    }
                )
        groups.append({"name": g.name, "lines": lines})
    data = _pdf(
        "skill_record.html",
        paper,
        student=person.name,
        group=group.name if group else "",
        shop=find(w, t.Shop, 1, "shop").name,
        now=f"{w.now.astimezone():%Y-%m-%d %H:%M %Z}",
        groups=groups,
    )
    return f"skills-{person.login}.pdf", data


def exercise_sheet(w: Work, who: Who, ident: uuid.UUID, paper: Paper) -> tuple[str, bytes]:
    """An exercise sheet with room to work in; for who teaches with its key behind it."""
    view = sheets.sheet(w, who, ident)
    key = sheets.sheet_key(w, who, ident) if who.role is not Role.STUDENT else ()
    data = _pdf(
        "exercise_sheet.html",
        paper,
        shop=find(w, t.Shop, 1, "shop").name,
        title=view.title,
        group=view.group,
        words=view.words,
        date=_when(view.at),
        questions=view.questions,
        key=key,
    )
    return f"exercises-{_when(view.at)}.pdf", data


def glossary(w: Work, paper: Paper) -> bytes:
    """The words of the trade, to hand out."""
    shop = find(w, t.Shop, 1, "shop").name
    return _pdf("glossary.html", paper, shop=shop, terms=words.glossary().terms)


def leaflet(w: Work, paper: Paper) -> bytes:
    """The leaflet for the wall: the notice, the list before every start, what to do when it goes wrong."""
    return _pdf(
        "leaflet.html",
        paper,
        shop=find(w, t.Shop, 1, "shop").name,
        title=TITLE,
        lines=LINES,
        version=VERSION,
        full=FULL,
        each=EACH,
    )


def machine_labels(w: Work, paper: Paper, address: str) -> bytes:
    """A label per machine with the code that leads to its start page under ``address``."""
    labels = []
    for m in machines.machines(w.db):
        link = f"{address.rstrip('/')}/start/{m.id}"
        code = segno.make(link, error="m").svg_data_uri(scale=4, border=2)
        labels.append({"name": m.name, "about": m.about, "code": code, "link": link})
    return _pdf("labels.html", paper, shop=find(w, t.Shop, 1, "shop").name, labels=labels)
