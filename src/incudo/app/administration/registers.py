"""The append-only registers, for those who may read everything and change nothing."""

from __future__ import annotations

import csv
import io
import json
import uuid
from datetime import datetime
from enum import StrEnum

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.app.skills.graph import skill_graph
from incudo.core.measuring.verdict import WORDS, Verdict
from incudo.core.parts.project import project_of
from incudo.store import schema as t
from incudo.store.administration import registers as store
from incudo.store.people import people as people_store
from incudo.store.shop import machines

PAGE = 50
_ALL = store.Page(10_000_000, 0)
#: What a table program takes for the beginning of a formula.
_RUN = ("=", "+", "-", "@", "\t", "\r")


class RegisterName(StrEnum):
    """The append-only registers."""

    READINGS = "readings"
    DECISIONS = "decisions"
    SIGN_OFFS = "sign_offs"
    WITHDRAWALS = "withdrawals"
    ASSIGNMENTS = "assignments"
    SAFETY = "safety"


class Entry(View):
    """One line of a register."""

    id: uuid.UUID
    at: datetime
    by: str
    student: str
    what: str
    detail: str


class Register(View):
    """A page of a register, the newest first."""

    name: RegisterName
    total: int
    page: int
    pages: int
    entries: tuple[Entry, ...]


def register(w: Work, name: RegisterName, page: int, blind_for: uuid.UUID | None) -> Register:
    """One page of a register. ``blind_for`` is an assessor who may still have to measure blind."""
    total, entries = _found(w, name, blind_for, store.Page(PAGE, (page - 1) * PAGE))
    return Register(name=name, total=total, page=page, pages=max(1, -(-total // PAGE)), entries=entries)


def register_file(w: Work, name: RegisterName, blind_for: uuid.UUID | None) -> str:
    """A whole register as CSV text, the newest first; cells that a table program would run are quoted."""
    _, entries = _found(w, name, blind_for, _ALL)
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["id", "at (UTC)", "by", "student", "what", "detail"])
    for e in entries:
        row = [str(e.id), e.at.isoformat(), e.by, e.student, e.what, e.detail]
        writer.writerow([f"'{x}" if x.startswith(_RUN) else x for x in row])
    return out.getvalue()


def _found(w: Work, name: RegisterName, blind_for: uuid.UUID | None, page: store.Page) -> tuple[int, tuple[Entry, ...]]:
    match name:
        case RegisterName.READINGS:
            total, readings = store.readings(w.db, page, blind_for)
            return total, tuple(_reading(*row) for row in readings)
        case RegisterName.SIGN_OFFS | RegisterName.WITHDRAWALS:
            table = t.SignOff if name is RegisterName.SIGN_OFFS else t.Withdrawal
            total, acts = store.acts(w.db, page, table)
            return total, tuple(_act(w, row) for row in acts)
        case RegisterName.DECISIONS:
            total, decisions = store.decisions(w.db, page)
            return total, tuple(_decision(*row) for row in decisions)
        case RegisterName.SAFETY:
            total, sealed = store.sealed(w.db, page)
            return total, tuple(_sealed(w, e) for e in sealed)
        case RegisterName.ASSIGNMENTS:
            total, assignments = store.assignments(w.db, page)
            return total, tuple(_assignment(*row) for row in assignments)


def _reading(r: t.Reading, by: str, student: str, content: str) -> Entry:
    project = project_of(content)
    c = project.characteristic(r.characteristic)
    marks = [m for m, on in (("check", r.checking), ("late", r.late)) if on]
    marks += [f"supersedes {r.supersedes_id}"] if r.supersedes_id else []
    words = WORDS[Verdict(r.verdict)]
    return Entry(
        id=r.id,
        at=r.saved_at,
        by=by,
        student=student,
        what=f"{project.name} {c.number}, {c.name}",
        detail=_joined(f"{r.text} {r.unit}", words, *marks, r.undecided),
    )


def _act(w: Work, row: store.ActRow) -> Entry:
    entry, at, by, student, skill, machine, words = row
    name = skill_graph(w).get(skill).name
    what = f"{name}, {machine}" if machine else name
    return Entry(id=entry, at=at, by=by, student=student, what=what, detail=words)


#: Columns of a sealed row that name somebody, in the order in which one of them is taken.
_BY = ("assessor_id", "person_id")
#: Columns that say what happened.
_WORDS = ("what", "outcome", "repeat", "reason", "place", "witness", "done", "note")


def _sealed(w: Work, e: t.RegisterEntry) -> Entry:
    """An entry of the register of safety: a sign-off, a withdrawal, an incident, a tag, a stop."""
    c = json.loads(e.content)
    if "names" not in w.memo:
        w.memo["names"] = people_store.all_names(w.db) | machines.all_names(w.db)
    names: dict[uuid.UUID, str] = w.memo["names"]

    def named(column: str) -> str:
        return names.get(uuid.UUID(c[column]), "") if c.get(column) else ""

    skill = c.get("skill")
    about = next((s.name for s in skill_graph(w).skills if s.id == skill), skill or "")
    what = _joined(e.kind.replace("_", " "), about, named("machine_id") or named("instrument_id") or named("cutter_id"))
    return Entry(
        id=e.entry_id,
        at=e.at,
        by=next((n for k in _BY if (n := named(k))), "without a name" if e.kind == "near_miss" else ""),
        student=named("student_id"),
        what=f"{e.seq}. {what}",
        detail=_joined(*(str(c[k]) for k in _WORDS if c.get(k))),
    )


def _decision(d: t.Decision, by: str, student: str, content: str) -> Entry:
    return Entry(
        id=d.id,
        at=d.at,
        by=by,
        student=student,
        what=project_of(content).name,
        detail=_joined(d.outcome, d.remark),
    )


def _assignment(a: t.Assignment, by: str, student: str, v: t.ProjectVersion, machine: str | None) -> Entry:
    marks = (
        machine or "",
        f"due {a.due}" if a.due else "",
        "not before signed" if a.not_before_signed else "",
    )
    return Entry(
        id=a.id,
        at=a.assigned_at,
        by=by,
        student=student,
        what=f"{project_of(v.content).name}, version {v.number}",
        detail=_joined(*marks),
    )


def _joined(*parts: str) -> str:
    return " · ".join(p for p in parts if p)
