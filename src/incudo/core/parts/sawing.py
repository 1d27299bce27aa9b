"""A saw list: which pieces come off which bar, so that as little bar as possible is opened. Lengths in mm, exact.

An integer program (cutting stock) for the kept solver HiGHS: how many pieces of each length come from each bar.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import highspy

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit, plain
from incudo.core.kernel.say import say

#: So many pieces and bars are worked out at once, within seconds.
MOST_PIECES, MOST_BARS = 60, 30
#: The solver stops after so many seconds with the best list it has.
SECONDS = 5.0


@dataclass(frozen=True)
class SawnBar:
    """A bar that is opened: its place in the list of bars, the lengths that come off it in order, what is left."""

    bar: int
    pieces: tuple[Fraction, ...]
    left: Fraction


def saw(pieces: Sequence[Fraction], bars: Sequence[Fraction], kerf: Fraction, unit: Unit) -> tuple[SawnBar, ...]:
    """The bars to open and what comes off each, the longest piece first.

    Each piece costs its length and one kerf; the last of a bar may end at the bar's end. Raises ``Refused`` when the
    bars do not do, naming what is missing, and for more than can be worked out at once.
    """
    if not 0 < len(pieces) <= MOST_PIECES:
        raise Refused.of("pieces", len(pieces), say("must be 1 to {most}", most=MOST_PIECES))
    if not 0 < len(bars) <= MOST_BARS:
        raise Refused.of("bars", len(bars), say("must be 1 to {most}", most=MOST_BARS))
    for n, bar in enumerate(bars):
        if bar <= 0:
            raise Refused.of(f"bars.{n}", plain(bar, unit), say("must be above 0"))
    if kerf < 0:
        raise Refused.of("kerf", plain(kerf, unit), say("must not be negative"))
    longest = max(pieces)
    if longest > max(bars):
        bound = say("must have one of at least {longest} {unit}", longest=plain(longest, unit), unit=unit)
        raise Refused.of("bars", plain(max(bars), unit), bound)
    counts = Counter(pieces)
    found = _solved(counts, bars, kerf)
    if found is None:
        need = sum(pieces, Fraction(0)) + kerf * len(pieces)
        bound = say(
            "are not enough: the pieces need {need} {unit} with their cuts, and how they divide must fit too",
            need=plain(need, unit),
            unit=unit,
        )
        raise Refused.of("bars", plain(sum(bars, Fraction(0)), unit), bound)
    opened = []
    for n, off in enumerate(found):
        if off:
            used = sum(off, Fraction(0)) + kerf * len(off)
            opened.append(SawnBar(n, tuple(sorted(off, reverse=True)), max(bars[n] - used, Fraction(0))))
    return tuple(opened)


def _solved(counts: Counter[Fraction], bars: Sequence[Fraction], kerf: Fraction) -> list[list[Fraction]] | None:
    """The lengths off each bar; None where there is no way."""
    solver = highspy.Highs()  # type: ignore[no-untyped-call]
    solver.setOptionValue("output_flag", False)
    solver.setOptionValue("time_limit", SECONDS)
    solver.setOptionValue("threads", 1)
    opened = [solver.addBinary() for _ in bars]
    off = {length: [solver.addIntegral(lb=0, ub=count) for _ in bars] for length, count in counts.items()}
    for length, count in counts.items():
        solver.addConstr(sum(off[length]) == count)
    for n, bar in enumerate(bars):
        room = float(bar + kerf)
        solver.addConstr(sum(float(length + kerf) * off[length][n] for length in counts) <= room * opened[n])
    solver.minimize(sum(float(bar) * o for bar, o in zip(bars, opened, strict=True)))
    if solver.getInfo().primal_solution_status != highspy.SolutionStatus.kSolutionStatusFeasible:
        return None
    values = {length: [round(float(v)) for v in solver.vals(off[length])] for length in counts}
    return [[length for length in counts for _ in range(values[length][n])] for n in range(len(bars))]
