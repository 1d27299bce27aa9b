"""Which slips are made most."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from datetime import timedelta

from incudo.app.practice.exercise_views import SlipLine
from incudo.core.reckoning import CALCULATIONS

#: Slips of so many days are counted.
SLIPS_OF = timedelta(days=60)


_MOST_SLIPS = 12


def slip_lines(made: Sequence[tuple[str, str, str]]) -> tuple[SlipLine, ...]:
    """Slips as calculation, slip, student; the most frequent first, at most so many."""
    by: dict[tuple[str, str], Counter[str]] = {}
    for calculation, slip, name in made:
        by.setdefault((calculation, slip), Counter())[name] += 1
    lines = [
        SlipLine(
            calculation=c,
            name=CALCULATIONS[c].name,
            slip=slip,
            times=names.total(),
            students=tuple(name for name, _ in names.most_common()),
        )
        for (c, slip), names in by.items()
    ]
    return tuple(sorted(lines, key=lambda x: (-x.times, x.name, x.slip))[:_MOST_SLIPS])
