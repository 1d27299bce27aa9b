"""The page of a session."""

from __future__ import annotations

import json

from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Named
from incudo.app.session.now import machines_in, supervisors
from incudo.app.session.plan import plans
from incudo.app.session.views import DutyView, PastSession, Presence, RollLine, SessionPage, SessionView
from incudo.app.shop.crib import not_back
from incudo.core.kernel.say import from_json
from incudo.store import schema as t
from incudo.store.people import groups
from incudo.store.session import sessions as store
from incudo.store.shop import machines


def session_page(w: Work) -> SessionPage:
    """The open session, what to lay out for each group, and the last sessions."""
    meeting = store.open_meeting(w.db)
    return SessionPage(
        session=session_view(w, meeting) if meeting else None,
        groups=plans(w),
        machines=tuple(Named(id=m.id, name=m.name) for m in machines.machines(w.db)),
        past=tuple(
            PastSession(id=m.id, group=g, opened_at=m.opened_at, ended_at=m.ended_at, duties=_duties(m.duties))
            for m, g in store.meetings(w.db, 6)
            if m.ended_at
        ),
    )


def _duties(text: str) -> tuple[DutyView, ...]:
    return tuple(DutyView(person=p, what=x) for p, x in from_json(json.loads(text or "[]")))


def session_view(w: Work, meeting: t.Meeting) -> SessionView:
    """One session as it stands."""
    group = find(w, t.Group, meeting.group_id, "group")
    roll = store.roll(w.db, meeting.id)
    students = groups.students_of(w.db, group.id, w.today)
    others = [find(w, t.Person, p, "person") for p in roll if p not in {s.id for s in students}]
    return SessionView(
        id=meeting.id,
        group=Named(id=group.id, name=group.name),
        opened_at=meeting.opened_at,
        opened_by=find(w, t.Person, meeting.opened_by, "person").name,
        supervisors=supervisors(w, meeting),
        roll=tuple(_roll_line(s, roll.get(s.id)) for s in (*students, *others)),
        machines=machines_in(w, meeting),
        duties=_duties(meeting.duties),
        out=not_back(w, meeting),
    )


def _roll_line(person: t.Person, row: t.Roll | None) -> RollLine:
    return RollLine(
        student=Named(id=person.id, name=person.name),
        presence=Presence(row.presence) if row else None,
        at=row.at if row else None,
    )
