"""Which stations of a job card are done when its run card has come so far."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from incudo.core.cutting.step import RunStep, StepKind
from incudo.core.parts.stations import Station

#: The first step of one of these kinds that is done makes the station done.
_FIRST = ((Station.SET_UP, (StepKind.HOLD,)), (Station.LOCATE, (StepKind.PASS, StepKind.HOLE)))


def reached(steps: Sequence[RunStep], done: Collection[str]) -> tuple[Station, ...]:
    """The stations that need not be ticked by hand any more, in their order.

    Whoever works by a card has planned; the part is set up when it is held for the first time, located when the first
    chip has come off where the card says, and cut when no step is left.
    """
    if not any(s.id in done for s in steps):
        return ()
    found = [Station.PLAN]
    for station, kinds in _FIRST:
        if not any(s.id in done and s.kind in kinds for s in steps):
            return tuple(found)
        found.append(station)
    return (*found, Station.CUT) if all(s.id in done for s in steps) else tuple(found)
