"""Who cleans what."""

from __future__ import annotations

import json

from incudo.app.kernel.unit import Work
from incudo.app.people.names import names_of
from incudo.app.session.now import the_session
from incudo.app.session.page import session_page
from incudo.app.session.views import Presence, SessionPage
from incudo.app.shop.machines import machine_names
from incudo.core.kernel.say import as_json
from incudo.core.session.at_machine import EventKind
from incudo.core.session.duties import share_out
from incudo.store import schema as t
from incudo.store.session import sessions as store


def duties_now(w: Work) -> SessionPage:
    """Share out the cleaning: who was at a machine cleans it, the others take the rest in turn."""
    share_duties(w, the_session(w))
    return session_page(w)


def share_duties(w: Work, meeting: t.Meeting) -> None:
    """Share the duties of the evening among who is here, once a meeting."""
    if meeting.duties:
        return
    roll = store.roll(w.db, meeting.id)
    names = names_of(w, roll)
    present = sorted(names[p] for p, row in roll.items() if Presence(row.presence).present)
    turn = store.meeting_count(w.db, meeting.group_id)
    shared = share_out(_who_was_where(w, meeting), present, turn)
    meeting.duties = json.dumps(as_json([[d.person, d.what] for d in shared]), ensure_ascii=False)
    w.db.flush()


def _who_was_where(w: Work, meeting: t.Meeting) -> dict[str, list[str]]:
    events, names = store.machine_events(w.db, meeting.id), machine_names(w)
    people = names_of(w, {e.person_id for found in events.values() for e in found})
    return {
        names[str(machine)]: list(dict.fromkeys(people[e.person_id] for e in found if e.kind == EventKind.COME))
        for machine, found in events.items()
    }
