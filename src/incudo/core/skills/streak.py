"""How many tries in a row were good: one rule for evidence, rigs and exercises.

What is reached stays reached: ten right and one wrong are ten. Before that a wrong one begins the row anew.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class Streak:
    """``now`` is how many of the newest tries in a row were good, ``best`` the longest row ever."""

    now: int
    best: int

    def toward(self, wanted: int) -> int:
        """How far this is on the way to so many in a row; all of them once they were reached."""
        return wanted if self.best >= wanted else self.now

    def reached(self, wanted: int) -> bool:
        """Whether so many in a row were ever reached."""
        return self.best >= wanted


def streak_of(good: Iterable[bool]) -> Streak:
    """The row of tries, the oldest first."""
    now = best = 0
    for x in good:
        now = now + 1 if x else 0
        best = max(best, now)
    return Streak(now, best)
