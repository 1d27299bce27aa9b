"""How much of a thread's height a hole leaves, and the drill for a thread. Lengths in mm, exact."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

#: More of the thread's height than this breaks the tap; less than LEAST strips.
MOST_THREAD, LEAST_THREAD = Fraction(83), Fraction(50)


#: Percent of thread in the usual short ways: D − P · % / 76.98, cutting; / 147.06, forming. In inches they are
#: 0.01299 · % / TPI and 0.0068 · % / TPI.
PER_PERCENT = {"cutting": Fraction(7698, 100), "forming": Fraction(14706, 100)}


def percent_of(diameter: Fraction, pitch: Fraction, hole: Fraction, tap: str) -> Fraction:
    """The percent of thread that a hole leaves."""
    return (diameter - hole) * PER_PERCENT[tap] / pitch


@dataclass(frozen=True)
class Choice:
    """A drill of the shop for a thread, and the percent of thread it really gives."""

    drill: Fraction
    percent: Fraction


def tap_drill_of(
    diameter: Fraction, pitch: Fraction, wanted: Fraction, tap: str, own: Sequence[Fraction], others: Sequence[Fraction]
) -> Choice | None:
    """The nearest usable drill of the thread's own series, else the nearest other; None where none is usable."""
    hole = diameter - pitch * wanted / PER_PERCENT[tap]
    for series in (own, others):
        usable = [
            Choice(d, share)
            for d in series
            if LEAST_THREAD <= (share := percent_of(diameter, pitch, d, tap)) <= MOST_THREAD
        ]
        if usable:
            # of two as near the larger: it is easier on the tap
            return min(usable, key=lambda c: (abs(c.drill - hole), -c.drill))
    return None
