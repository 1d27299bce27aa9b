"""A demonstration seen by an assessor, point by point."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.say import say
from incudo.core.skills.graph import Point


class Outcome(StrEnum):
    """What came of showing a skill."""

    SIGNED = "signed"
    NOT_YET = "not_yet"


@dataclass(frozen=True)
class Seen:
    """What came of a demonstration: signed, or not yet with the points to repeat."""

    outcome: Outcome
    repeat: tuple[str, ...] = ()


def judge_demonstration(points: tuple[Point, ...], seen: Mapping[int, bool], field: str) -> Seen:
    """Judge the answers, by number of the point.

    One "no" at a critical point ends it at once, so points after it may stay
    open. Otherwise every point must be answered. Raises ``Refused`` naming the
    points that are missing or unknown.
    """
    known = {p.number: p for p in points}
    faults = [
        FieldError(f"{field}.{n}", str(n), say("is not a point of this checklist")) for n in seen if n not in known
    ]
    stopped = any(known[n].critical and not ok for n, ok in seen.items() if n in known)
    if not stopped:
        faults += [
            FieldError(f"{field}.{p.number}", "", say("answer this point: {text}", text=p.text))
            for p in points
            if p.number not in seen
        ]
    if faults:
        raise Refused(*faults)
    repeat = tuple(p.text for p in points if seen.get(p.number) is False)
    return Seen(Outcome.NOT_YET if repeat else Outcome.SIGNED, repeat)
