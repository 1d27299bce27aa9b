"""A repeated-readings study: several people read the same parts several times, and what their readings differ by is
taken apart into the gauge, the people, and the parts.

The analysis is the usual one of variance for a crossed study (two ways, with replication). The variance of repeating
is the gauge's, what people differ by is the people's. Where people and parts do not interact, that is, where their
mean square is not above that of repeating, both are pooled; else what they interact by counts to the people. A
component that comes out below nothing is nothing.
"""

from __future__ import annotations

import math
import random
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say

#: How many parts, people, and readings of each part by each: fewer tell nothing, more are no lesson.
PARTS, PEOPLE, REPEATS = (3, 10), (2, 12), (2, 3)
#: Shares of the limits' width up to which a way to measure is good, and up to which it will do (rule of thumb).
GOOD, USABLE = Fraction(1, 10), Fraction(3, 10)
#: What spread is held against the width of the limits: six standard deviations, nearly all readings.
SIGMAS = 6
#: So many kinds of parts a way to measure should tell apart (rule of thumb).
KINDS = 5

Readings = Mapping[str, Sequence[Sequence[Fraction]]]


class StudyFit(StrEnum):
    """Whether this way to measure fits what is asked."""

    GOOD = "good"
    USABLE = "usable"
    UNFIT = "unfit"


@dataclass(frozen=True)
class Study:
    """What came of it. Standard deviations in mm: of repeating (the gauge), of people, of both together, of the parts.

    ``share`` is six of both together against the width of the limits, None without limits. ``kinds`` is how many kinds
    of parts this way to measure can tell apart; None where it tells all. ``biases``: by how much each person's mean is
    off the mean of all, mm.
    """

    gauge: float
    people: float
    both: float
    parts: float
    share: float | None
    fit: StudyFit | None
    kinds: int | None
    biases: Mapping[str, Fraction]
    pooled: bool

    def of_spread(self) -> tuple[float, float]:
        """The shares of the gauge and of the people in the variance of measuring; they sum up to 1."""
        whole = self.gauge**2 + self.people**2
        return (self.gauge**2 / whole, self.people**2 / whole) if whole else (0.0, 0.0)


def analyse(readings: Readings, width: Fraction | None = None) -> Study:
    """Take the readings (mm) apart: for each person the parts in one order, for each part its readings.

    ``width`` is that of the limits, mm, above 0. Raises ``Refused`` for too few or too many people, parts or readings,
    and where somebody has not read everything.
    """
    people, parts, repeats = _sizes(readings, width)
    whole = _mean(x for rows in readings.values() for row in rows for x in row)
    of_person = {p: _mean(x for row in rows for x in row) for p, rows in readings.items()}
    of_part = [_mean(x for rows in readings.values() for x in rows[i]) for i in range(parts)]
    of_cell = {(p, i): _mean(rows[i]) for p, rows in readings.items() for i in range(parts)}

    ss_people = parts * repeats * _squares(m - whole for m in of_person.values())
    ss_parts = people * repeats * _squares(m - whole for m in of_part)
    ss_both = repeats * _squares(m - of_person[p] - of_part[i] + whole for (p, i), m in of_cell.items())
    ss_repeat = _squares(x - of_cell[p, i] for p, rows in readings.items() for i in range(parts) for x in rows[i])

    free_both, free_repeat = (people - 1) * (parts - 1), people * parts * (repeats - 1)
    ms_people, ms_parts = ss_people / (people - 1), ss_parts / (parts - 1)
    ms_both, ms_repeat = ss_both / free_both, ss_repeat / free_repeat
    pooled = ms_both <= ms_repeat
    if pooled:
        ms_repeat = ms_both = (ss_both + ss_repeat) / (free_both + free_repeat)
    var_people = max(Fraction(0), (ms_people - ms_both) / (parts * repeats)) + (ms_both - ms_repeat) / repeats
    var_parts = max(Fraction(0), (ms_parts - ms_both) / (people * repeats))
    both, of_parts = math.sqrt(ms_repeat + var_people), math.sqrt(var_parts)
    share = SIGMAS * both / float(width) if width else None
    return Study(
        gauge=math.sqrt(ms_repeat),
        people=math.sqrt(var_people),
        both=both,
        parts=of_parts,
        share=share,
        fit=_fit(share),
        kinds=int(math.sqrt(2) * of_parts / both) if both else None,
        biases={p: m - whole for p, m in of_person.items()},
        pooled=pooled,
    )


def _mean(values: Iterable[Fraction]) -> Fraction:
    found = list(values)
    return sum(found, Fraction(0)) / len(found)


def _squares(off: Iterable[Fraction]) -> Fraction:
    return sum((x * x for x in off), Fraction(0))


def middles(readings: Sequence[Sequence[Sequence[Fraction]]]) -> list[Fraction]:
    """The mean of each part over everybody who read all, mm; none without anybody."""
    parts = len(readings[0]) if readings else 0
    return [_mean(x for rows in readings for x in rows[i]) for i in range(parts)]


def _fit(share: float | None) -> StudyFit | None:
    if share is None:
        return None
    return StudyFit.GOOD if share <= GOOD else StudyFit.USABLE if share <= USABLE else StudyFit.UNFIT


def _sizes(readings: Readings, width: Fraction | None) -> tuple[int, int, int]:
    if width is not None and width <= 0:
        raise Refused.of("width", width, say("must be above 0"))
    people = len(readings)
    _within("people", people, PEOPLE)
    first = next(iter(readings.values()))
    parts, repeats = len(first), len(first[0]) if first else 0
    _within("parts", parts, PARTS)
    _within("repeats", repeats, REPEATS)
    for rows in readings.values():
        if len(rows) != parts or any(len(row) != repeats for row in rows):
            raise Refused.of("readings", "", say("must be complete: everybody reads every part as often"))
    return people, parts, repeats


def _within(field: str, count: int, bounds: tuple[int, int]) -> None:
    if not bounds[0] <= count <= bounds[1]:
        raise Refused.of(field, count, say("must be {few} to {most}", few=bounds[0], most=bounds[1]))


def order(study: str, person: str, parts: int, repeats: int) -> tuple[int, ...]:
    """In which order somebody reads the parts (from 1), round by round, mixed so that nobody expects the next value.

    The same for the same study and person. No part comes twice in a row.
    """
    found: list[int] = []
    for turn in range(repeats):
        mixed = list(range(1, parts + 1))
        random.Random(f"{study} {person} {turn}").shuffle(mixed)  # noqa: S311 (mixes a lesson)
        if found and mixed[0] == found[-1]:
            mixed = mixed[1:] + mixed[:1]
        found += mixed
    return tuple(found)
