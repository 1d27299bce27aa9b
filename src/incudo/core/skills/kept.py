"""What follows from one student's record, worked out once and kept until it changes.

``keep`` works out every skill on every machine; ``Kept`` answers as the ``Book`` it was made from would, at every
moment from ``since`` to before ``until``. What is recorded later it cannot know: whoever keeps it must see to that.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from functools import lru_cache

from incudo.core.kernel.say import packed, unpacked
from incudo.core.skills.graph import Skill, SkillGraph
from incudo.core.skills.permission import Answer, decide
from incudo.core.skills.standing import IN_REACH, Book, Met, Standing, State


@dataclass(frozen=True)
class Keepsake:
    """Every standing, how far inspected parts have brought a skill that is ready, and how long it stays so.

    ``alone`` names the operations that are allowed on each machine as far as skills go; ``met`` is the evidence of
    the skills that are in reach. ``newest`` is the moment of the newest act. By time alone nothing changes from
    ``since`` to before ``until``; ``None`` means ever and for ever.
    """

    standings: Mapping[tuple[str, str | None], Standing]
    inspected: Mapping[str, datetime]
    alone: Mapping[str, tuple[str, ...]]
    met: Mapping[tuple[str, str | None], tuple[Met, ...]]
    newest: datetime | None
    since: datetime | None
    until: datetime | None

    def holds_at(self, now: datetime) -> bool:
        """Whether this is what a ``Book`` of the same record would say at a moment."""
        moment = max(now, self.newest or now)
        return (self.since is None or moment >= self.since) and (self.until is None or moment < self.until)


def keep(book: Book, machines: Iterable[str]) -> Keepsake:
    """Work out every skill, over all machines and on each of these."""
    on = tuple(machines)
    places: list[str | None] = [None, *on]
    standings = {(s.id, m): book.standing(s.id, m) for s in book.graph.skills for m in places}
    inspected = {
        s.id: parts[-1].at
        for s in book.graph.skills
        if not s.demonstrated and standings[s.id, None].state is State.READY and (parts := book.inspected(s.id))
    }
    operations = [s.id for s in book.graph.skills if s.operation]
    return Keepsake(
        standings,
        inspected,
        {m: tuple(o for o in operations if decide(book, (o,), m).answer is Answer.ALLOWED) for m in on},
        {(s, m): book.evidence(book.graph.get(s), m) for (s, m), x in standings.items() if x.state in IN_REACH},
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
        self.graph.get(skill_id)
        return self.keepsake.standings[skill_id, machine]

    def evidence(self, skill: Skill, machine: str | None) -> tuple[Met, ...]:
        """As ``Book.evidence``, for a skill that is in reach. Raises ``KeyError`` for another."""
        return self.keepsake.met[skill.id, machine]

    def alone(self, machine: str) -> tuple[str, ...]:
        """The operations that are allowed on a machine as far as skills go."""
        return self.keepsake.alone.get(machine, ())


class _Said(Mapping[tuple[str, str | None], Standing]):
    """Standings as they stand in the text; each is made when it is asked for."""

    def __init__(self, places: list[str | None], of: dict[str, list[int]], said: list[list[str | None]]) -> None:
        self._places, self._of, self._said = {m: n for n, m in enumerate(places)}, of, said
        self._made: dict[int, Standing] = {}

    def __getitem__(self, key: tuple[str, str | None]) -> Standing:
        number = self._of[key[0]][self._places[key[1]]]
        if number not in self._made:
            skill, machine, state, reason, until = self._said[number]
            ends = date.fromisoformat(until) if until else None
            self._made[number] = Standing(skill or "", machine, State(state or ""), unpacked(reason or ""), ends)
        return self._made[number]

    def __iter__(self) -> Iterator[tuple[str, str | None]]:
        return ((skill, m) for skill in self._of for m in self._places)

    def __len__(self) -> int:
        return len(self._of) * len(self._places)


def to_text(k: Keepsake) -> str:
    """As JSON: each standing once, and which of them holds for which skill on which machine."""
    places = list(dict.fromkeys(m for _, m in k.standings))
    numbers: dict[Standing, int] = {}
    of: dict[str, list[int]] = {}
    for (skill, _), s in sorted(k.standings.items(), key=lambda x: places.index(x[0][1])):
        of.setdefault(skill, []).append(numbers.setdefault(s, len(numbers)))
    said = [
        [s.skill, s.machine, s.state.value, packed(s.reason), s.until.isoformat() if s.until else None] for s in numbers
    ]
    moments = [x.isoformat() if x else None for x in (k.newest, k.since, k.until)]
    inspected = {skill: at.isoformat() for skill, at in k.inspected.items()}
    alone = {m: list(of_machine) for m, of_machine in k.alone.items()}
    # on most machines the same is met: written once, and which of the writings holds where
    writings: dict[tuple[Met, ...], int] = {}
    met = [[skill, m, writings.setdefault(x, len(writings))] for (skill, m), x in k.met.items()]
    written = [[[x.kind, x.key, x.ok, packed(x.words)] for x in each] for each in writings]
    said_of = {"at": moments, "places": places, "said": said, "of": of, "inspected": inspected, "alone": alone}
    return json.dumps({**said_of, "met": met, "written": written})


@lru_cache(maxsize=256)
def from_text(text: str) -> Keepsake:
    """Read what ``to_text`` wrote."""
    found = json.loads(text)
    newest, since, until = (datetime.fromisoformat(x) if x else None for x in found["at"])
    written = [tuple(Met(kind, key, ok, unpacked(words)) for kind, key, ok, words in each) for each in found["written"]]
    return Keepsake(
        _Said(found["places"], found["of"], found["said"]),
        {skill: datetime.fromisoformat(at) for skill, at in found["inspected"].items()},
        {m: tuple(operations) for m, operations in found["alone"].items()},
        {(skill, m): written[n] for skill, m, n in found["met"]},
        newest,
        since,
        until,
    )
