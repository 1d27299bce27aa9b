"""What follows from one student's record, worked out once and kept until it changes.

``keep`` works out every skill on every machine; ``Kept`` answers as the ``Book`` it was made from would, at every
moment from ``since`` to before ``until``. What is recorded later it cannot know: whoever keeps it must see to that.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime

from incudo.core.skills.graph import SkillGraph
from incudo.core.skills.standing import Book, Standing, State


@dataclass(frozen=True)
class Keepsake:
    """Every standing, how far inspected parts have brought a skill that is ready, and how long it stays so.

    ``newest`` is the moment of the newest act. By time alone nothing changes from ``since`` to before ``until``;
    ``None`` means ever and for ever.
    """

    standings: Mapping[tuple[str, str | None], Standing]
    inspected: Mapping[str, datetime]
    newest: datetime | None
    since: datetime | None
    until: datetime | None

    def holds_at(self, now: datetime) -> bool:
        """Whether this is what a ``Book`` of the same record would say at a moment."""
        moment = max(now, self.newest or now)
        return (self.since is None or moment >= self.since) and (self.until is None or moment < self.until)


def keep(book: Book, machines: Iterable[str]) -> Keepsake:
    """Work out every skill, over all machines and on each of these."""
    places: list[str | None] = [None, *machines]
    standings = {(s.id, m): book.standing(s.id, m) for s in book.graph.skills for m in places}
    inspected = {
        s.id: parts[-1].at
        for s in book.graph.skills
        if not s.demonstrated and standings[s.id, None].state is State.READY and (parts := book.inspected(s.id))
    }
    return Keepsake(
        standings,
        inspected,
        max((a.at for a in book.record.acts), default=None),
        max((x for x in book.turns if x <= book.moment), default=None),
        min((x for x in book.turns if x > book.moment), default=None),
    )


class Kept:
    """One student's skills at one moment, from what was kept."""

    def __init__(self, graph: SkillGraph, keepsake: Keepsake, now: datetime) -> None:
        self.graph, self.keepsake = graph, keepsake
        self.moment = max(now, keepsake.newest or now)

    def standing(self, skill_id: str, machine: str | None) -> Standing:
        """As ``Book.standing``. Raises ``Refused`` for an unknown skill, ``KeyError`` for an unknown machine."""
        found = self.keepsake.standings.get((skill_id, machine))
        if found is None:
            self.graph.get(skill_id)
            raise KeyError(machine)
        return found


def to_text(k: Keepsake) -> str:
    """As JSON: each standing once, and which of them holds for which skill on which machine."""
    places = list(dict.fromkeys(m for _, m in k.standings))
    numbers: dict[Standing, int] = {}
    of: dict[str, list[int]] = {}
    for (skill, _), s in sorted(k.standings.items(), key=lambda x: places.index(x[0][1])):
        of.setdefault(skill, []).append(numbers.setdefault(s, len(numbers)))
    said = [[s.skill, s.machine, s.state.value, s.reason, s.until.isoformat() if s.until else None] for s in numbers]
    moments = [x.isoformat() if x else None for x in (k.newest, k.since, k.until)]
    inspected = {skill: at.isoformat() for skill, at in k.inspected.items()}
    return json.dumps({"at": moments, "places": places, "said": said, "of": of, "inspected": inspected})


def from_text(text: str) -> Keepsake:
    """Read what ``to_text`` wrote."""
    found = json.loads(text)
    said = [
        Standing(skill, machine, State(state), reason, date.fromisoformat(until) if until else None)
        for skill, machine, state, reason, until in found["said"]
    ]
    newest, since, until = (datetime.fromisoformat(x) if x else None for x in found["at"])
    return Keepsake(
        {
            (skill, m): said[n]
            for skill, each in found["of"].items()
            for m, n in zip(found["places"], each, strict=True)
        },
        {skill: datetime.fromisoformat(at) for skill, at in found["inspected"].items()},
        newest,
        since,
        until,
    )
