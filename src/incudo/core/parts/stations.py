"""The line of stations of a job card, and the one next thing."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from enum import StrEnum

from incudo.core.kernel.say import say, together
from incudo.core.parts.inspection import Outcome


class Station(StrEnum):
    """The seven stations in the order people work."""

    READY = "ready"
    PLAN = "plan"
    SET_UP = "set_up"
    LOCATE = "locate"
    CUT = "cut"
    MEASURE = "measure"
    SIGN = "sign"


#: The stations that the student ticks; the others follow from the record.
TICKED = (Station.PLAN, Station.SET_UP, Station.LOCATE, Station.CUT)


class StationState(StrEnum):
    """How far a station of a job card is."""

    NOT_YET = "not_yet"
    OPEN = "open"
    DOING = "doing"
    WAITING = "waiting"
    DONE = "done"
    REPEAT = "repeat"


@dataclass(frozen=True)
class Facts:
    """What the stations of one job card follow from (the current attempt only)."""

    missing: tuple[str, ...]
    ticked: frozenset[Station]
    measured: int
    characteristics: int
    handed_in: bool
    outcome: Outcome | None
    rework: tuple[int, ...] = ()


@dataclass(frozen=True)
class StationLine:
    """State of each station, where the pointer stands (0 to 7) and what comes next, in words."""

    states: dict[Station, StationState]
    pointer: float
    now: Station
    next_thing: str


def line_of(f: Facts) -> StationLine:
    """The stations of a job card. A station is open only when all before it are done."""
    states = {s: StationState.NOT_YET for s in Station}
    done: set[Station] = set()
    if not f.missing:
        done.add(Station.READY)
    if f.measured or f.handed_in or f.outcome is Outcome.ACCEPTED:
        done.update(TICKED, {Station.READY})
    done.update(f.ticked)
    if f.handed_in or f.outcome is Outcome.ACCEPTED:
        done.add(Station.MEASURE)
    if f.outcome is Outcome.ACCEPTED:
        done.add(Station.SIGN)
    if f.missing and f.outcome is None and not f.handed_in:
        done.discard(Station.READY)
    for s in Station:
        if s in done:
            states[s] = StationState.DONE
    at = next((s for s in Station if s not in done), Station.SIGN)
    states[at] = _doing(f, at)
    if f.outcome is Outcome.REWORK and not f.handed_in:
        states[Station.CUT] = StationState.REPEAT
        at = Station.MEASURE
    pointer = 7.0 if f.outcome is Outcome.ACCEPTED else list(Station).index(at) + _share(f, at)
    return StationLine(states, pointer, at, _next(f, at))


def _doing(f: Facts, at: Station) -> StationState:
    if f.outcome is Outcome.ACCEPTED:
        return StationState.DONE
    if at is Station.SIGN or (at is Station.READY and f.missing):
        return StationState.WAITING
    if at is Station.MEASURE and f.measured:
        return StationState.DOING
    return StationState.OPEN


def _share(f: Facts, at: Station) -> float:
    if at is Station.MEASURE and f.characteristics:
        return f.measured / f.characteristics * 0.9
    return 0.5 if at is Station.SIGN else 0.0


def _next(f: Facts, at: Station) -> str:
    if f.outcome is Outcome.ACCEPTED:
        return say("Done: the part is accepted")
    if f.outcome is Outcome.REWORK and not f.handed_in:
        numbers = together((str(n) for n in f.rework), ", ")
        return say("Rework characteristic {numbers}, measure it again and hand in", numbers=numbers)
    match at:
        case Station.READY:
            return say("Get signed first: {listed}", listed=together(f.missing, "; "))
        case Station.PLAN:
            return say("Read the drawing and plan the work")
        case Station.SET_UP:
            return say("Set up: head, vise, work holding")
        case Station.LOCATE:
            return say("Find the datum edges and set zero")
        case Station.CUT:
            return say("Cut, and measure before each last pass")
        case Station.MEASURE if f.measured >= f.characteristics:
            return say("Everything is measured: hand the part in")
        case Station.MEASURE:
            left = f.characteristics - f.measured
            return say(
                "Measure: {left} of {characteristics} characteristics to go",
                left=left,
                characteristics=f.characteristics,
            )
    return say("Handed in: wait for your instructor's check")


def may_tick(states: Collection[Station], station: Station) -> bool:
    """Stations are ticked in order, each once; only Plan to Cut are ticked by hand."""
    if station not in TICKED or station in states:
        return False
    before = TICKED[: TICKED.index(station)]
    return all(s in states for s in before)
