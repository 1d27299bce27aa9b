"""Before a group comes: what to saw and to lay out."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Named
from incudo.app.parts.attempts import AttemptFile, newest_attempts
from incudo.app.session.views import GroupPlan, NeededView
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.tags import closed_words
from incudo.core.measuring.instrument import Instrument, Suitability
from incudo.core.parts.project import Characteristic
from incudo.core.session.duties import Needed, lay_out_for
from incudo.store import schema as t
from incudo.store.parts import attempts as attempt_store
from incudo.store.people import groups
from incudo.store.shop import instruments


class Fitting:
    """Which instruments suit a part; worked out once for each version of a part."""

    def __init__(self, tools: Sequence[Instrument]) -> None:
        self._tools = tools
        self._known: dict[uuid.UUID, list[str]] = {}

    def gauges(self, file: AttemptFile) -> list[str]:
        """For each characteristic the first instrument that suits it ideally and may decide today."""
        if file.version.id not in self._known:
            self._known[file.version.id] = [g for c in file.project.characteristics for g in self._best(file, c)]
        return self._known[file.version.id]

    def _best(self, file: AttemptFile, c: Characteristic) -> list[str]:
        limits = file.project.limits(c)
        fits = {tool.name: tool.suitability(limits, difference=c.difference) for tool in self._tools}
        best = [n for wanted in (Suitability.IDEAL, Suitability.ALLOWED) for n, s in fits.items() if s is wanted]
        return best[:1]


def plans(w: Work) -> tuple[GroupPlan, ...]:
    """What to saw and to lay out for each group whose term holds now."""
    here = {g.id: groups.students_of(w.db, g.id, w.now.date()) for g in groups.groups(w.db, w.now.date())}
    everybody = {s.id for students in here.values() for s in students}
    files = newest_attempts(w, attempt_store.open_cards(w.db, everybody))
    being_made = [f for f in files if not f.over and f.pending is None]
    closed = closed_words(w)
    tools = [instrument_of(row, closed) for row in instruments.instruments(w.db)]
    fitting = Fitting([tool for tool in tools if not tool.cannot_decide(w.now.date())])
    return tuple(_plan(g, here[g.id], being_made, fitting) for g in groups.groups(w.db, w.now.date()))


def _plan(group: t.Group, students: Sequence[t.Person], open_files: Sequence[AttemptFile], fit: Fitting) -> GroupPlan:
    members = {s.id for s in students}
    files = [f for f in open_files if f.student.id in members]
    stock = lay_out_for((f"{f.project.stock}, {f.project.material}", f.student.name) for f in files if not f.ticked)
    gauges = lay_out_for((g, f.student.name) for f in files for g in fit.gauges(f))
    return GroupPlan(
        group=Named(id=group.id, name=group.name),
        students=tuple(Named(id=s.id, name=s.name) for s in students),
        stock=_needed(stock),
        gauges=_needed(gauges),
    )


def _needed(found: tuple[Needed, ...]) -> tuple[NeededView, ...]:
    return tuple(NeededView(what=n.what, people=n.people) for n in found)
