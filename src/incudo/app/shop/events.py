"""What was recorded at a machine, as the core takes it."""

from __future__ import annotations

from incudo.core.session.at_machine import Event, EventKind
from incudo.store import schema as t


def event_of(e: t.MachineEvent) -> Event:
    """A row as the core takes it."""
    return Event(
        kind=EventKind(e.kind),
        person=str(e.person_id),
        at=e.at,
        operation=e.operation,
        assignment=str(e.assignment_id) if e.assignment_id else "",
        by=str(e.by_id) if e.by_id else "",
        until=e.until,
    )
