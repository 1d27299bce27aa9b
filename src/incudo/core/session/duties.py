"""What to lay out before a session, and who cleans what after it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from incudo.core.kernel.say import say

#: What somebody does at the end who was not last at a machine.
SHARED = (
    say("sweep the floor, chips sorted by metal"),
    say("wipe the gauges, check that each is back in its place"),
    say("empty the chip trays"),
    say("put stock and offcuts back, sorted"),
    say("hang up hoses, lamps off, main switch off"),
)


@dataclass(frozen=True)
class Duty:
    """One cleaning duty: who, where or what."""

    person: str
    what: str


def share_out(at_machines: Mapping[str, Sequence[str]], present: Sequence[str], turn: int) -> tuple[Duty, ...]:
    """Who cleans what.

    Whoever was at a machine cleans it. The others take the shared duties in
    turn; ``turn`` (the number of the session) moves the start, so that nobody
    sweeps every week. With nobody left over, those present share them as well.
    """
    duties = [
        Duty(p, say("{machine}: chips out, wiped, oiled, cutter out", machine=machine))
        for machine, people in at_machines.items()
        for p in people
    ]
    busy = {p for people in at_machines.values() for p in people}
    hands = [p for p in present if p not in busy] or list(present)
    if hands:
        duties += [Duty(hands[(i + turn) % len(hands)], what) for i, what in enumerate(SHARED)]
    return tuple(duties)


@dataclass(frozen=True)
class Needed:
    """Something to lay out, for whom."""

    what: str
    people: tuple[str, ...]


def lay_out_for(wants: Iterable[tuple[str, str]]) -> tuple[Needed, ...]:
    """Gather (what, person) pairs into a list of what to lay out, most wanted first."""
    found: dict[str, list[str]] = {}
    for what, person in wants:
        people = found.setdefault(what, [])
        if person not in people:
            people.append(person)
    ranked = sorted(found.items(), key=lambda item: (-len(item[1]), item[0]))
    return tuple(Needed(what, tuple(people)) for what, people in ranked)
