"""How fast a shop works: what operations took on its machines against what is reckoned for them.

The rules reckon with speeds, feeds and handling times by rule of thumb. What a shop's own runs took says how far that
is off there: the median of taken by reckoned, for each kind of operation on each machine.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from statistics import median

#: The shop's own times count from so many runs on; one or two may be anything.
FROM = 3
#: The name under which holding the work anew counts.
HOLDING = "holding"


@dataclass(frozen=True)
class Taken:
    """How long something took at the machine: what (a kind of operation, or ``HOLDING``), reckoned and taken, s."""

    work: str
    reckoned: int
    taken: int


@dataclass(frozen=True)
class Pace:
    """How long things take here, as a multiple of what is reckoned, and from how many runs that is known."""

    ratio: Fraction
    runs: int


def paces(times: Iterable[Taken]) -> dict[str, Pace]:
    """The pace of each kind of work that was done ``FROM`` times or more; nothing reckoned says nothing."""
    found = defaultdict(list)
    for t in times:
        if t.reckoned > 0:
            found[t.work].append(Fraction(t.taken, t.reckoned))
    return {work: Pace(median(ratios), len(ratios)) for work, ratios in found.items() if len(ratios) >= FROM}


def runs(known: Mapping[str, Pace], work: Iterable[str]) -> int:
    """How many of the shop's own runs say how long this work takes here."""
    return sum(known[x].runs for x in set(work) & known.keys())


def here(known: Mapping[str, Pace], work: str, seconds: Fraction) -> Fraction:
    """So many seconds as reckoned, as they are here: by the shop's own runs where there are enough of them."""
    pace = known.get(work)
    return seconds * pace.ratio if pace else seconds
