"""One machine in one session: who is at it, who has the handles, what runs.

Folded from its events, oldest first. Nothing is ever changed; what a machine is
doing now is a function of what was recorded.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.say import say


class EventKind(StrEnum):
    """What is recorded at a machine."""

    COME = "come"
    GO = "go"
    HANDLES = "handles"
    LISTED = "listed"
    CONFIRMED = "confirmed"
    START = "start"
    END = "end"
    HANDED_BACK = "handed_back"


@dataclass(frozen=True)
class Event:
    """One event; ``operation`` and ``until`` belong to a start or a confirmation."""

    kind: EventKind
    person: str
    at: datetime
    operation: str = ""
    assignment: str = ""
    by: str = ""
    until: datetime | None = None


@dataclass(frozen=True)
class Run:
    """A spindle that a student has started."""

    person: str
    operation: str
    assignment: str
    since: datetime
    beside: str = ""


@dataclass(frozen=True)
class AtMachine:
    """A machine now. ``people`` in the order in which they came; the first had the handles first."""

    people: tuple[str, ...] = ()
    handles: str = ""
    since: datetime | None = None
    listed: bool = False
    run: Run | None = None
    confirmed: Event | None = None
    handed_back: bool = False


def fold(events: Iterable[Event]) -> AtMachine:
    """The machine after these events."""
    now = AtMachine()
    for e in events:
        now = _after(now, e)
    return now


def _after(now: AtMachine, e: Event) -> AtMachine:
    match e.kind:
        case EventKind.COME:
            people = now.people if e.person in now.people else (*now.people, e.person)
            since = now.since if now.people else e.at
            return replace(now, people=people, handles=now.handles or e.person, since=since)
        case EventKind.GO:
            people = tuple(p for p in now.people if p != e.person)
            handles = now.handles if now.handles != e.person else (people[0] if people else "")
            run = None if now.run and now.run.person == e.person else now.run
            return replace(now, people=people, handles=handles, run=run, since=now.since if people else None)
        case EventKind.HANDLES:
            return replace(now, handles=e.person, confirmed=None)
        case EventKind.LISTED:
            return replace(now, listed=True)
        case EventKind.CONFIRMED:
            return replace(now, confirmed=e)
        case EventKind.START:
            return replace(now, run=Run(e.person, e.operation, e.assignment, e.at, e.by))
        case EventKind.END:
            return replace(now, run=None)
        case EventKind.HANDED_BACK:
            return AtMachine(handed_back=True)
    raise AssertionError(e)


def check_may_take_handles(now: AtMachine, person: str) -> None:
    """The handles change hands only among those at the machine, and never while it runs."""
    if person not in now.people:
        raise Conflict(say("Go to this machine first, then take the handles."))
    if now.run is not None:
        raise Conflict(say("The machine runs: end the run before the handles change hands."))


#: What ends a run, whoever runs.
_ENDS_ANY = (EventKind.END, EventKind.HANDED_BACK)


def hours(events: Iterable[Event]) -> list[tuple[str, datetime, int]]:
    """Who worked from when for how many minutes, from starts and ends; open runs do not count."""
    found = []
    running: Run | None = None
    for e in events:
        if e.kind is EventKind.START:
            running = Run(e.person, e.operation, e.assignment, e.at)
        elif running and (e.kind in _ENDS_ANY or (e.kind is EventKind.GO and e.person == running.person)):
            minutes = int((e.at - running.since).total_seconds() // 60)
            found.append((running.person, running.since, minutes))
            running = None
    return found
