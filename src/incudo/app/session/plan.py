"""Before a group comes: what to saw and to lay out."""

from __future__ import annotations

from datetime import timedelta

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Named
from incudo.app.parts.attempts import AttemptFile, newest_attempts
from incudo.app.session.views import GroupPlan, NeededView
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.tags import closed_words
from incudo.core.measuring.instrument import Suitability
from incudo.core.session.duties import Needed, lay_out_for
from incudo.store import schema as t
from incudo.store.parts import attempts as attempt_store
from incudo.store.people import people as people_store
from incudo.store.shop import instruments


def open_files_of(w: Work) -> list[AttemptFile]:
    """The job cards that are being worked on, of everybody."""
    files = newest_attempts(w, attempt_store.open_assignments(w.db, w.now - timedelta(days=365)))
    return [f for f in files if not f.over and f.pending is None]


def plan(w: Work, group: t.Group, open_files: list[AttemptFile]) -> GroupPlan:
    students = people_store.students_of(w.db, group.id)
    members = {s.id for s in students}
    files = [f for f in open_files if f.student.id in members]
    stock = lay_out_for((f"{f.project.stock}, {f.project.material}", f.student.name) for f in files if not f.ticked)
    gauges = lay_out_for((g, f.student.name) for f in files for g in _gauges(w, f))
    return GroupPlan(
        group=Named(id=group.id, name=group.name),
        students=tuple(Named(id=s.id, name=s.name) for s in students),
        stock=_needed(stock),
        gauges=_needed(gauges),
    )


def _needed(found: tuple[Needed, ...]) -> tuple[NeededView, ...]:
    return tuple(NeededView(what=n.what, people=n.people) for n in found)


def _gauges(w: Work, file: AttemptFile) -> list[str]:
    """For each characteristic the first instrument that suits it ideally and may decide today."""
    tools = [instrument_of(row, closed_words(w)) for row in instruments.instruments(w.db)]
    found = []
    for c in file.project.characteristics:
        limits = file.project.limits(c)
        fits = {
            tool.name: tool.suitability(limits, difference=c.difference)
            for tool in tools
            if not tool.cannot_decide(w.now.date())
        }
        best = [n for wanted in (Suitability.IDEAL, Suitability.ALLOWED) for n, s in fits.items() if s is wanted]
        found += best[:1]
    return found
