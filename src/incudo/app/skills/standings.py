"""Standings as they are kept: read in one query for many students, worked out from the record where they do not hold.

The record and ``core.skills.standing.Book`` stay the judge. What is kept is only believed while nothing was recorded
since (counted in the transaction that records), nothing lapses by time, and graph, banks and machines are the same.
"""

from __future__ import annotations

import hashlib
import inspect
import json
import uuid
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import datetime

from incudo.app.kernel.unit import Unit, Work
from incudo.app.shop.machines import machines_here
from incudo.app.skills.graph import basis_of_graph, names_in_words, skill_graph
from incudo.app.skills.records import skill_books
from incudo.core.kernel.say import say
from incudo.core.skills import evidence, graph, permission, standing, streak
from incudo.core.skills import kept as kept_rules
from incudo.core.skills.kept import Keepsake, Kept, from_text, keep, to_text
from incudo.store import schema as t
from incudo.store.kernel.changes import touched
from incudo.store.skills import kept as store

#: The rules themselves: what was kept by others is not believed.
_RULES = hashlib.sha256(
    "".join(inspect.getsource(m) for m in (evidence, graph, kept_rules, permission, standing, streak)).encode()
).hexdigest()
#: So many students are worked out in one transaction.
AT_ONCE = 50


def standings(w: Work, students: Iterable[uuid.UUID]) -> dict[uuid.UUID, Kept]:
    """Where each of these students stands now."""
    wanted = set(students)
    now, basis, moved = skill_graph(w), _basis(w), touched(w.db)
    found = {
        s: k
        for s, row in store.kept(w.db, wanted).items()
        if s not in moved and (k := _believed(row, basis)) is not None and k.holds_at(w.now)
    }
    missing = wanted - found.keys()
    if missing:
        machines = machines_here(w)
        found |= {s: keep(book, machines) for s, book in skill_books(w, missing).items()}
        w.later.append(lambda again: keep_standings(again, missing))
    return {s: Kept(now, k, w.now) for s, k in found.items()}


def standing_of(w: Work, student: uuid.UUID) -> Kept:
    """Where one student stands now."""
    return standings(w, [student])[student]


def ready_to_sign(w: Work) -> list[tuple[uuid.UUID, str, datetime]]:
    """Who of those who are here has the inspected parts for a skill complete, and since when; not signed yet."""
    found, outdated = [], set(touched(w.db))
    for x in store.to_look_at(w.db, _basis(w), w.now, w.today):
        if x.holds and x.student not in outdated:
            found += [(x.student, skill, datetime.fromisoformat(at)) for skill, at in json.loads(x.to_sign).items()]
        else:
            outdated.add(x.student)
    for student, kept in standings(w, outdated).items():
        found += [(student, skill, at) for skill, at in kept.keepsake.inspected.items()]
    return found


def keep_standings(w: Work, students: Iterable[uuid.UUID]) -> None:
    """Work these students' standings out from the record and keep them. First in its transaction."""
    wanted = set(students)
    if not wanted:
        return
    rows = store.lock(w.db, wanted)
    books, machines, basis = skill_books(w, wanted), machines_here(w), _basis(w)
    for row in rows:
        _write(row, keep(books[row.student_id], machines), basis)
    w.db.flush()


def _write(row: t.SkillStanding, k: Keepsake, basis: str) -> None:
    row.worked_out, row.basis, row.content, row.since, row.until = row.acts, basis, to_text(k), k.since, k.until
    row.to_sign = json.dumps({s: at.isoformat() for s, at in k.inspected.items()}) if k.inspected else ""


@dataclass(frozen=True)
class Compared:
    """What a comparison of kept standings with the record found: how many held, who differed and in what."""

    students: int
    held: int
    outdated: int
    wrong: tuple[str, ...]


def rebuild(unit: Unit, say: Callable[[int, int], object] = lambda _done, _of: None) -> Compared:
    """Compare every kept standing with the record, and keep what the record says; ``say`` is told how far it is.

    One that was outdated and not believed is no fault; one that would have been believed and is wrong is named.
    """
    everybody = unit.run(lambda w: store.ever_counted(w.db))
    held, outdated, wrong = 0, 0, []
    for n in range(0, len(everybody), AT_ONCE):
        say(n, len(everybody))
        for student, faults in unit.run(lambda w, n=n: _compare(w, everybody[n : n + AT_ONCE])).items():  # type: ignore[misc]
            held, outdated = held + (faults == ()), outdated + (faults is None)
            wrong += [f"{student}: {x}" for x in faults or ()]
    return Compared(len(everybody), held, outdated, tuple(wrong))


def _compare(w: Work, students: list[uuid.UUID]) -> dict[uuid.UUID, tuple[str, ...] | None]:
    rows, basis, machines = store.lock(w.db, students), _basis(w), machines_here(w)
    books = skill_books(w, students)
    found: dict[uuid.UUID, tuple[str, ...] | None] = {}
    for row in rows:
        now, before = keep(books[row.student_id], machines), _believed(row, basis)
        found[row.student_id] = None
        if before is not None and before.holds_at(w.now):
            found[row.student_id] = _differences(before, now)
        _write(row, now, basis)
    w.db.flush()
    return found


def _differences(before: Keepsake, now: Keepsake) -> tuple[str, ...]:
    return tuple(
        say(
            "{skill}, {machine}: kept {said}; record {state}, {reason}",
            skill=skill,
            machine=machine or say("any machine"),
            said=_said(before, skill, machine),
            state=s.state,
            reason=s.reason,
        )
        for (skill, machine), s in now.standings.items()
        if before.standings.get((skill, machine)) != s
    )


def _said(k: Keepsake, skill: str, machine: str | None) -> str:
    s = k.standings.get((skill, machine))
    return f"{s.state}, {s.reason}" if s else "nothing"


def _believed(row: t.SkillStanding, basis: str) -> Keepsake | None:
    return from_text(row.content) if row.content and row.worked_out == row.acts and row.basis == basis else None


def _basis(w: Work) -> str:
    """What all standings rest on besides each student's record."""
    if "basis" not in w.memo:
        said = "|".join((_RULES, w.zone.key, basis_of_graph(w), repr(names_in_words(w)), *sorted(machines_here(w))))
        w.memo["basis"] = hashlib.sha256(said.encode()).hexdigest()
    basis: str = w.memo["basis"]
    return basis
