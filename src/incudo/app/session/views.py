"""A session as it goes out."""

from __future__ import annotations

import uuid
from datetime import datetime
from enum import StrEnum

from incudo.app.kernel.views import Named, View
from incudo.app.shop.crib import OutView


class Presence(StrEnum):
    """Whether somebody is at a meeting."""

    HERE = "here"
    LATE = "late"
    ABSENT = "absent"
    GONE = "gone"

    @property
    def present(self) -> bool:
        return self in (Presence.HERE, Presence.LATE)


class RollLine(View):
    """One student on the roll; ``presence`` is empty until it was called."""

    student: Named
    presence: Presence | None
    at: datetime | None


class SessionMachine(View):
    """A machine in the session."""

    machine: Named
    open: bool
    tagged_out: str
    people: tuple[Named, ...]
    handles: uuid.UUID | None
    running: bool
    handed_back: bool


class NeededView(View):
    """Something to lay out before the group comes, and for whom."""

    what: str
    people: tuple[str, ...]


class DutyView(View):
    """Who cleans what."""

    person: str
    what: str


class SessionView(View):
    """The session that is open."""

    id: uuid.UUID
    group: Named
    opened_at: datetime
    opened_by: str
    supervisors: tuple[Named, ...]
    roll: tuple[RollLine, ...]
    machines: tuple[SessionMachine, ...]
    duties: tuple[DutyView, ...]
    out: tuple[OutView, ...]


class GroupPlan(View):
    """A group, and what to lay out before it comes."""

    group: Named
    students: tuple[Named, ...]
    stock: tuple[NeededView, ...]
    gauges: tuple[NeededView, ...]


class PastSession(View):
    """A session that is over."""

    id: uuid.UUID
    group: str
    opened_at: datetime
    ended_at: datetime | None
    duties: tuple[DutyView, ...]


class SessionPage(View):
    """The open session, or what is needed to open one."""

    session: SessionView | None
    groups: tuple[GroupPlan, ...]
    machines: tuple[Named, ...]
    past: tuple[PastSession, ...]
