"""Chip load against the cutter's diameter: a chart of a few points, read in between, and never offered beyond a bound.

A small cutter bears a small chip: what a half-inch end mill takes in its stride breaks an eighth-inch one. Charts
rise with the diameter, as published ones do. All in mm; per tooth, for drilling per turn.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.say import say

#: Most points in a chart.
MOST_POINTS = 16
#: A chip is never offered above this share of the diameter (2 % a tooth in milling, 3.5 % a turn in drilling).
MOST_OF_DIAMETER = {"milling": Fraction(2, 100), "facing": Fraction(2, 100), "drilling": Fraction(35, 1000)}


@dataclass(frozen=True)
class ChipPoint:
    """One point of a chart: at ``diameter`` a chip of ``low`` to ``high``, in mm."""

    diameter: Fraction
    low: Fraction
    high: Fraction


def read_chart(text: str, operation: str) -> tuple[ChipPoint, ...]:
    """A chart as it is written: ``3.2:0.008-0.015 12.7:0.045-0.075``, diameters rising and chips with them.

    Raises ``ValueError`` naming the point that cannot be.
    """
    parts = text.split()
    if not 1 <= len(parts) <= MOST_POINTS:
        raise ValueError(
            say(
                "must be 1 to {most_points} points with spaces between, such as 3.2:0.008-0.015",
                most_points=MOST_POINTS,
            )
        )
    points = tuple(_point(part, MOST_OF_DIAMETER[operation]) for part in parts)
    for one, other in itertools.pairwise(points):
        if other.diameter <= one.diameter:
            raise ValueError(
                say("{diameter}: diameters must rise from point to point", diameter=f"{float(other.diameter):g}")
            )
        if other.low < one.low or other.high < one.high:
            raise ValueError(
                say(
                    "{diameter}: a larger cutter must not be given a smaller chip",
                    diameter=f"{float(other.diameter):g}",
                )
            )
    return points


def _point(part: str, most: Fraction) -> ChipPoint:
    try:
        diameter, _, chips = part.partition(":")
        low, _, high = chips.partition("-")
        point = ChipPoint(Fraction(diameter), Fraction(low), Fraction(high))
    except (ValueError, ZeroDivisionError):
        raise ValueError(say("{part}: must be diameter:low-high, such as 3.2:0.008-0.015", part=part[:40])) from None
    if not 0 < point.diameter <= 500:
        raise ValueError(say("{part}: the diameter must be more than 0 and at most 500 mm", part=part[:40]))
    if not 0 < point.low <= point.high:
        raise ValueError(
            say("{part}: the chip must be more than 0, its low end not above its high end", part=part[:40])
        )
    if point.high > 10 * point.low:
        raise ValueError(say("{part}: the high end must be at most ten times the low end", part=part[:40]))
    if point.high > point.diameter * most:
        raise ValueError(
            say(
                "{part}: the chip must be at most {most} % of the diameter",
                part=part[:40],
                most=f"{float(most * 100):g}",
            )
        )
    return point


def chip_at(points: Sequence[ChipPoint], diameter: Fraction, operation: str) -> tuple[Fraction, Fraction]:
    """The low and high chip for a diameter: straight lines between the points, from the first down to 0 in
    proportion, from the last on the same; never above the bound for its diameter.
    """
    most = diameter * MOST_OF_DIAMETER[operation]
    return min(_read(points, diameter, "low"), most), min(_read(points, diameter, "high"), most)


def _read(points: Sequence[ChipPoint], diameter: Fraction, end: str) -> Fraction:
    first, last = points[0], points[-1]
    if diameter <= first.diameter:
        return Fraction(getattr(first, end)) * diameter / first.diameter
    if diameter >= last.diameter:
        return Fraction(getattr(last, end))
    for one, other in itertools.pairwise(points):
        if diameter <= other.diameter:
            share = (diameter - one.diameter) / (other.diameter - one.diameter)
            low, high = Fraction(getattr(one, end)), Fraction(getattr(other, end))
            return low + (high - low) * share
    raise AssertionError("unreachable: the diameter lies between the first point and the last")
