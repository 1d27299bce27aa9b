"""Calls to show a skill, and how a call is ended."""

from __future__ import annotations

import uuid

from incudo.app.kernel.unit import Who, Work
from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.say import say
from incudo.core.session.calls import KEPT, CallKind, CallOutcome
from incudo.store import schema as t
from incudo.store.session import calling


def end_call(w: Work, call_id: uuid.UUID, by: uuid.UUID, outcome: CallOutcome, words: str) -> None:
    """Close a call. Raises ``Conflict`` when somebody did already."""
    if w.db.get(t.CallEnd, call_id) is not None:
        raise Conflict(say("This call is answered already."))
    w.db.add(t.CallEnd(call_id=call_id, by_id=by, outcome=outcome.value, words=words, at=w.now))
    w.db.flush()


def answer_shows(
    w: Work, who: Who, student: uuid.UUID, skill: str, machine: uuid.UUID | None, outcome: CallOutcome
) -> None:
    """A skill was seen: whoever called to show it waits no longer."""
    for c, end, _ in calling.calls_of(w.db, student, w.now - KEPT):
        if end is None and c.kind == CallKind.SHOW and (c.what, c.machine_id) == (skill, machine):
            end_call(
                w, c.id, who.id, outcome, "" if outcome is CallOutcome.DONE else say("not yet: see what to show again")
            )
