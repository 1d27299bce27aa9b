"""How the setups of a machine stand for somebody now."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from incudo.app.kernel.unit import Work
from incudo.app.setup.standards import setup_rules
from incudo.app.setup.views import (
    SetupState,
)
from incudo.core.setup.record import (
    Kept,
    SetupKind,
    standing,
)
from incudo.core.setup.standard import SetupRules
from incudo.store import schema as t
from incudo.store.setup import setups as store

#: How far back the history of a machine's head is drawn.
HISTORY = timedelta(days=400)


@dataclass(frozen=True)
class _Newest:
    setup: t.Setup
    end: t.SetupEnd
    by: str

    @property
    def kept(self) -> Kept:
        return Kept(self.end.at, str(self.setup.person_id), self.end.good)


def setup_states(
    w: Work, person: uuid.UUID, machine: uuid.UUID | None, assignment: uuid.UUID | None
) -> tuple[SetupState, ...]:
    """How head and vise of a machine and the holding of a job stand for a person, in a fixed number of queries."""
    rules, found = setup_rules(w), []
    if machine is not None:
        newest = {s.kind: _Newest(s, e, by) for s, e, by in store.newest_ends(w.db, [machine])}
        since = min((n.end.at for n in newest.values()), default=w.now)
        moved = store.moves(w.db, [machine], since)
        for kind in (SetupKind.HEAD, SetupKind.VISE):
            mine = [(m.at, m.words) for m in moved if m.kind == kind]
            found.append(_state(kind, newest.get(kind), mine, w.now, person, rules))
    if assignment is not None:
        held = next((_Newest(s, e, by) for s, e, by in store.holds_for(w.db, assignment)), None)
        found.append(_state(SetupKind.HOLD, held, (), w.now, person, rules))
    return tuple(found)


def _state(
    kind: SetupKind,
    newest: _Newest | None,
    moved: Sequence[tuple[datetime, str]],
    now: datetime,
    person: uuid.UUID,
    rules: SetupRules,
) -> SetupState:
    s = standing(kind, newest.kept if newest else None, moved, now, str(person), rules)
    return SetupState(
        kind=kind,
        state=s.state,
        reason=s.reason,
        by=newest.by if newest else "",
        at=newest.end.at if newest else None,
        words=newest.end.words if newest else "",
        setup=newest.setup.id if newest else None,
    )
