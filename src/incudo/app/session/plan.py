"""Before a group comes: what to saw and to lay out."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence

from incudo.app.kernel.unit import Work
from incudo.app.kernel.views import Named
from incudo.app.parts.attempts import projects_of
from incudo.app.session.views import GroupPlan, NeededView
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.tags import closed_words
from incudo.core.kernel.say import say
from incudo.core.measuring.instrument import Instrument
from incudo.core.parts.gauging import gauges_for
from incudo.core.parts.project import Project
from incudo.core.session.duties import Needed, lay_out_for
from incudo.store import schema as t
from incudo.store.parts import attempts as attempt_store
from incudo.store.parts.attempts import CardToLayOut
from incudo.store.people import groups
from incudo.store.shop import instruments


class Fitting:
    """Which instruments suit a part; worked out once for each version of a part."""

    def __init__(self, tools: Sequence[Instrument]) -> None:
        self._tools = tools
        self._known: dict[uuid.UUID, list[str]] = {}

    def gauges(self, version: uuid.UUID, part: Project) -> list[str]:
        """For all that is read of each characteristic the first instrument that suits it best and may decide today."""
        if version not in self._known:
            self._known[version] = [g for _, names in gauges_for(part, self._tools) for g in names]
        return self._known[version]


def plans(w: Work) -> tuple[GroupPlan, ...]:
    """What to saw and to lay out for each group whose term holds now."""
    day = w.today
    now, here = groups.groups(w.db, day), groups.students_by_group(w.db, day)
    cards = attempt_store.cards_to_lay_out(w.db, {s for g in now for s, _ in here[g.id]})
    parts, closed = projects_of(w, {c.version for c in cards}), closed_words(w)
    tools = [instrument_of(row, closed) for row in instruments.instruments(w.db)]
    fitting = Fitting([tool for tool in tools if not tool.cannot_decide(day)])
    mine: dict[uuid.UUID, list[CardToLayOut]] = {}
    for c in cards:
        mine.setdefault(c.student, []).append(c)
    return tuple(_plan(g, here[g.id], mine, parts, fitting) for g in now)


def _plan(
    group: t.Group,
    students: Sequence[tuple[uuid.UUID, str]],
    cards: Mapping[uuid.UUID, Sequence[CardToLayOut]],
    parts: Mapping[uuid.UUID, Project],
    fit: Fitting,
) -> GroupPlan:
    mine = [(c, parts[c.version]) for s, _ in students for c in cards.get(s, ())]
    stock = lay_out_for(
        (say("{stock}, {material}", stock=p.stock, material=p.material), c.student_name) for c, p in mine if not c.begun
    )
    gauges = lay_out_for((g, c.student_name) for c, p in mine for g in fit.gauges(c.version, p))
    return GroupPlan(
        group=Named(id=group.id, name=group.name),
        students=tuple(Named(id=i, name=name) for i, name in students),
        stock=_needed(stock),
        gauges=_needed(gauges),
    )


def _needed(found: tuple[Needed, ...]) -> tuple[NeededView, ...]:
    return tuple(NeededView(what=n.what, people=n.people) for n in found)
