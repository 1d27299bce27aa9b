"""What a student calls for, how a call ends, and how long it stays open."""

from __future__ import annotations

from datetime import timedelta
from enum import StrEnum

#: A call that nobody answered is forgotten after so long.
KEPT = timedelta(hours=14)


class CallKind(StrEnum):
    """What a student calls for."""

    START = "start"
    HOLD = "hold"
    SHOW = "show"
    HELP = "help"


class CallOutcome(StrEnum):
    """How a call for somebody ended."""

    DONE = "done"
    REFUSED = "refused"
    CANCELLED = "cancelled"
