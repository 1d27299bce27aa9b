"""How a machine stands, in one word, for the Floor and for the wall."""

from __future__ import annotations

from enum import StrEnum


class PlateState(StrEnum):
    """From what must be seen first to what can wait."""

    CLOSED = "closed"
    ALARM = "alarm"
    RUNS = "runs"
    MAY_START = "may-start"
    IN_USE = "in-use"
    FREE = "free"
    NOT_OPEN = "not-open"


def alarms(*, still_may: bool | None, spindle: bool, tagged_out: bool) -> bool:
    """Whether a machine turns, or may be started, and whoever runs it may not.

    ``still_may``: the decision for who was given a start, asked again now; none where nobody was.
    """
    return still_may is False or (spindle and (still_may is None or tagged_out))


def plate_state(
    *, tagged_out: bool, alarm: bool, spindle: bool, started: bool, people: bool, open_: bool
) -> PlateState:
    """The word for a machine.

    ``alarm``: it turns and whoever runs it may not. ``spindle``: it turns. ``started``: somebody was given a start.
    ``people``: somebody is at it. ``open_``: open in this session.
    """
    if tagged_out:
        return PlateState.CLOSED
    if alarm:
        return PlateState.ALARM
    if spindle:
        return PlateState.RUNS
    if started:
        return PlateState.MAY_START
    if people:
        return PlateState.IN_USE
    return PlateState.FREE if open_ else PlateState.NOT_OPEN
