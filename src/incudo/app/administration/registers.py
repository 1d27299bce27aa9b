"""The append-only registers, for those who may read everything and change nothing."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta
from enum import StrEnum

from pydantic import BaseModel, Field

from incudo.app.kernel.spreadsheets import as_csv
from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import View
from incudo.app.parts.attempts import projects_of
from incudo.app.skills.graph import skill_graph
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.measuring.verdict import WORDS, Verdict
from incudo.core.parts.inspection import Outcome
from incudo.core.parts.project import Project
from incudo.core.register.chain import Kind
from incudo.core.skills.checklist import Outcome as Shown
from incudo.store import schema as t
from incudo.store.administration import registers as store
from incudo.store.people import people as people_store
from incudo.store.shop import machines

PAGE = 50
#: A file is written so many lines at a time.
PIECE = 1000


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
    """A page of a register, the newest first. ``older`` and ``newer`` are the keys of the pages beside it."""

    name: RegisterName
    entries: tuple[Entry, ...]
    older: str
    newer: str


class Wanted(BaseModel):
    """Which page: behind a key, before one, or of a day; of one student, or of all."""

    before: str = Field("", max_length=80)
    after: str = Field("", max_length=80)
    on: date | None = None
    student: uuid.UUID | None = None


def register(w: Work, name: RegisterName, wanted: Wanted, blind_for: uuid.UUID | None) -> Register:
    """One page of a register. ``blind_for`` is an assessor who may still have to measure blind."""
    before, after = _place("before", wanted.before), _place("after", wanted.after)
    if wanted.on is not None and before is None and after is None:
        before = _end_of(w, name, wanted.on)
    page = store.Page(PAGE + 1, before, after, wanted.student)
    found = _found(w, name, blind_for, page)
    more, lines = len(found) > PAGE, found[:PAGE]
    if after is not None:
        lines = found[-PAGE:]
    # forwards there is more when a line too many came; backwards one has come from somewhere newer
    older = more if after is None else True
    newer = more if after is not None else before is not None
    return Register(
        name=name,
        entries=tuple(e for _, e in lines),
        older=_key(lines[-1][0]) if lines and older else "",
        newer=_key(lines[0][0]) if lines and newer else "",
    )


def register_file(w: Work, name: RegisterName, blind_for: uuid.UUID | None) -> Iterator[str]:
    """A whole register as CSV text piece by piece, the newest first.

    Cells that a table program would run are quoted. Memory does not grow with the register.
    """
    yield as_csv([["id", say("at (UTC)"), "by", "student", "what", "detail"]])
    before: store.Place | None = None
    while found := _found(w, name, blind_for, store.Page(PIECE, before)):
        yield as_csv([str(e.id), e.at.isoformat(), e.by, e.student, e.what, e.detail] for _, e in found)
        before = found[-1][0]
        w.db.expunge_all()


def _key(place: store.Place) -> str:
    return f"{place.at.isoformat()}_{place.key}"


def _place(field: str, text: str) -> store.Place | None:
    """The place that a key names. Raises ``Refused``."""
    if not text:
        return None
    at, _, key = text.partition("_")
    try:
        return store.Place(datetime.fromisoformat(at).astimezone(UTC), uuid.UUID(key))
    except (ValueError, OverflowError):
        raise Refused.of(field, text, say("must be a key that a page gave")) from None


def _end_of(w: Work, name: RegisterName, day: date) -> store.Place:
    """Behind the last line of a day."""
    if day >= date.max:
        raise Refused.of("on", day, say("must be before {max}", max=date.max))
    moment = datetime.combine(day + timedelta(days=1), time(), w.zone)
    if name is RegisterName.SAFETY:
        return store.Place(moment, uuid.UUID(int=store.first_sealed_from(w.db, moment)))
    return store.Place(moment, uuid.UUID(int=0))


Found = tuple[store.Place, Entry]


def _found(w: Work, name: RegisterName, blind_for: uuid.UUID | None, page: store.Page) -> list[Found]:
    match name:
        case RegisterName.READINGS:
            readings = store.readings(w.db, page, blind_for)
            parts = projects_of(w, {row[3] for row in readings})
            return [_at(_reading(r, by, student, parts[v])) for r, by, student, v in readings]
        case RegisterName.SIGN_OFFS | RegisterName.WITHDRAWALS:
            table = t.SignOff if name is RegisterName.SIGN_OFFS else t.Withdrawal
            return [_at(_act(w, row)) for row in store.acts(w.db, page, table)]
        case RegisterName.DECISIONS:
            decisions = store.decisions(w.db, page)
            parts = projects_of(w, {row[3] for row in decisions})
            return [_at(_decision(d, by, student, parts[v])) for d, by, student, v in decisions]
        case RegisterName.SAFETY:
            # numbers are what orders the register of safety
            return [(store.Place(e.at, uuid.UUID(int=e.seq)), _sealed(w, e)) for e in store.sealed(w.db, page)]
        case RegisterName.ASSIGNMENTS:
            given = store.assignments(w.db, page)
            parts = projects_of(w, {row[3] for row in given})
            return [_at(_assignment(a, by, student, parts[v], n, machine)) for a, by, student, v, n, machine in given]


def _at(entry: Entry) -> Found:
    return store.Place(entry.at, entry.id), entry


def _reading(r: t.Reading, by: str, student: str, project: Project) -> Entry:
    c = project.characteristic(r.characteristic)
    marks = [m for m, on in ((say("check"), r.checking), (say("late"), r.late)) if on]
    marks += [say("supersedes {supersedes_id}", supersedes_id=r.supersedes_id)] if r.supersedes_id else []
    words = WORDS[Verdict(r.verdict)]
    return Entry(
        id=r.id,
        at=r.saved_at,
        by=by,
        student=student,
        what=say("{name} {number}, {name2}", name=project.name, number=c.number, name2=c.name),
        detail=_joined(f"{r.element} {r.text} {r.unit}".strip(), words, *marks, r.undecided),
    )


def _act(w: Work, row: store.ActRow) -> Entry:
    entry, at, by, student, skill, machine, words = row
    name = skill_graph(w).get(skill).name
    what = say("{name}, {machine}", name=name, machine=machine) if machine else name
    return Entry(id=entry, at=at, by=by, student=student, what=what, detail=words)


#: What stands in the register of safety, in words.
_KINDS = {
    Kind.SIGN_OFF: say("sign-off"),
    Kind.DEMONSTRATION: say("demonstration"),
    Kind.WITHDRAWAL: say("withdrawal"),
    Kind.RESTORATION: say("reinstated"),
    Kind.INCIDENT: say("incident"),
    Kind.NEAR_MISS: say("near miss"),
    Kind.TAG_OUT: say("tag-out"),
    Kind.TAG_CLEARED: say("tag cleared"),
    Kind.STOP: say("stop"),
    Kind.STOP_CLEARED: say("stop lifted"),
    Kind.NOTICE: say("notice"),
}
_OUTCOMES = {Shown.SIGNED: say("signed"), Shown.NOT_YET: say("not yet")}
#: What a decision was, in words.
DECIDED = {
    Outcome.ACCEPTED: say("accepted"),
    Outcome.REWORK: say("rework"),
    Outcome.SCRAPPED: say("scrapped"),
}
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
    what = _joined(_KINDS[Kind(e.kind)], about, named("machine_id") or named("instrument_id") or named("cutter_id"))
    return Entry(
        id=e.entry_id,
        at=e.at,
        by=next((n for k in _BY if (n := named(k))), say("without a name") if e.kind == "near_miss" else ""),
        student=named("student_id"),
        what=say("{seq}. {what}", seq=e.seq, what=what),
        detail=_joined(*(_OUTCOMES.get(c[k], str(c[k])) if k == "outcome" else str(c[k]) for k in _WORDS if c.get(k))),
    )


def _decision(d: t.Decision, by: str, student: str, project: Project) -> Entry:
    return Entry(
        id=d.id,
        at=d.at,
        by=by,
        student=student,
        what=project.name,
        detail=_joined(DECIDED[Outcome(d.outcome)], d.remark),
    )


def _assignment(a: t.Assignment, by: str, student: str, project: Project, number: int, machine: str | None) -> Entry:
    marks = (
        machine or "",
        say("due {due}", due=a.due) if a.due else "",
        say("start after sign-offs") if a.not_before_signed else "",
    )
    return Entry(
        id=a.id,
        at=a.assigned_at,
        by=by,
        student=student,
        what=say("{name}, version {number}", name=project.name, number=number),
        detail=_joined(*marks),
    )


def _joined(*parts: str) -> str:
    return together((p for p in parts if p), " · ")
