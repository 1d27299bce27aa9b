"""The skill graph of a shop: what can be signed, what it rests on, what speaks for it."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from typing import Annotated, Any, Literal

from pydantic import Field

from incudo.core.kernel.errors import FieldError, Refused
from incudo.core.kernel.fields import Key, Line, Strict, Word, read_model
from incudo.core.kernel.say import say, together


class Knowledge(Strict):
    """A knowledge check passed: all critical questions right, and the bank's score."""

    kind: Literal["knowledge"]
    bank: Key


class Demonstration(Strict):
    """Seen by an assessor, point by point."""

    kind: Literal["demonstration"]


class InspectedParts(Strict):
    """So many parts whose characteristics, checked by an assessor, count for this skill."""

    kind: Literal["inspected"]
    parts: Annotated[int, Field(ge=1, le=20)] = 1


class RigStandard(Strict):
    """The standard of a practice rig reached so many times in a row, at this level or above."""

    kind: Literal["rig"]
    rig: Key
    times: Annotated[int, Field(ge=1, le=20)] = 3
    level: Annotated[int, Field(ge=1, le=9)] = 1


class ExerciseStandard(Strict):
    """So many exercises of a calculation answered right in a row, without help."""

    kind: Literal["exercise"]
    calculation: Key
    times: Annotated[int, Field(ge=1, le=50)] = 10


class PlannedParts(Strict):
    """So many parts planned by oneself: handed in with nothing that breaks or spoils, and approved where wanted."""

    kind: Literal["plans"]
    parts: Annotated[int, Field(ge=1, le=20)] = 1


class DryRunParts(Strict):
    """So many parts cut in the dry run without a slip: every size within its limits, every place come to."""

    kind: Literal["dry-runs"]
    parts: Annotated[int, Field(ge=1, le=20)] = 1


class Hours(Strict):
    """So many hours worked, on the machine if the skill is signed per machine."""

    kind: Literal["hours"]
    hours: Annotated[int, Field(ge=1, le=2000)]


class OtherSkills(Strict):
    """So many of these other skills hold."""

    kind: Literal["skills"]
    of: Annotated[tuple[Key, ...], Field(min_length=1, max_length=20)]
    count: Annotated[int, Field(ge=1, le=20)]


Requirement = Annotated[
    Knowledge
    | Demonstration
    | InspectedParts
    | RigStandard
    | ExerciseStandard
    | PlannedParts
    | DryRunParts
    | Hours
    | OtherSkills,
    Field(discriminator="kind"),
]


class Caution(Strict):
    """What can happen, and what to do about it. Neither may be left out."""

    happens: Annotated[str, Field(min_length=10, max_length=300)]
    do: Annotated[str, Field(min_length=10, max_length=300)]


class Lapses(Strict):
    """When a sign-off ends: so many days after it, or after so many days away from the shop."""

    after_days: Annotated[int, Field(ge=1, le=3660)] | None = None
    absence_days: Annotated[int, Field(ge=1, le=3660)] | None = None


@dataclass(frozen=True)
class Point:
    """One point of the assessor's checklist, numbered from 1."""

    number: int
    text: str
    critical: bool


class Group(Strict):
    """Skills that belong together, in the order of work."""

    id: Key
    name: Word


class Skill(Strict):
    """Something a person can be signed for.

    ``critical`` and ``refresher`` are numbers of points in ``shown`` (from 1):
    one "no" at a critical point stops the demonstration; a refresher asks only
    its own points, or all when none is named. ``opens_machine`` marks what every
    operation at a machine rests on.
    """

    id: Key
    name: Word
    group: Key
    per_machine: bool = False
    opens_machine: bool = False
    operation: bool = False
    prerequisites: tuple[Key, ...] = ()
    evidence: Annotated[tuple[Requirement, ...], Field(min_length=1, max_length=8)]
    shown: Annotated[tuple[Line, ...], Field(min_length=1, max_length=12)]
    critical: tuple[int, ...] = ()
    refresher: tuple[int, ...] = ()
    mistakes: tuple[Line, ...] = ()
    cautions: Annotated[tuple[Caution, ...], Field(min_length=1, max_length=6)]
    lapses: Lapses = Lapses()
    signed_by: Literal["instructor", "assistant"] = "instructor"

    @property
    def demonstrated(self) -> bool:
        """Whether an assessor must see it done, point by point."""
        return any(isinstance(r, Demonstration) for r in self.evidence)

    def points(self, *, refresher: bool = False) -> tuple[Point, ...]:
        """The checklist; for a refresher the shorter one."""
        numbers = self.refresher if refresher and self.refresher else range(1, len(self.shown) + 1)
        return tuple(Point(n, self.shown[n - 1], n in self.critical) for n in numbers)


class SkillGraph(Strict):
    """All skills of a shop."""

    format: Literal["incudo-skills/2"]
    groups: Annotated[tuple[Group, ...], Field(min_length=1, max_length=20)]
    skills: Annotated[tuple[Skill, ...], Field(min_length=1, max_length=120)]

    def get(self, skill: str) -> Skill:
        """One skill. Raises ``Refused`` when the graph has none of that name."""
        found = self._by_id.get(skill)
        if found is None:
            raise Refused.of("skill", skill, say("there is no such skill in this shop"))
        return found

    @cached_property
    def _by_id(self) -> dict[str, Skill]:
        return {s.id: s for s in self.skills}

    @cached_property
    def opening(self) -> tuple[Skill, ...]:
        """The skills that open a machine as such: every operation at it rests on them."""
        return tuple(s for s in self.skills if s.opens_machine)

    def rests_on(self, operation: str) -> tuple[str, ...]:
        """What must hold before an operation, in the order of the graph: what opens a machine, and its own needs.

        Raises ``Refused`` when the graph has no such skill.
        """
        if operation not in self._resting:
            under = {s.id for s in self.opening} | set(self.get(operation).prerequisites)
            self._resting[operation] = tuple(s.id for s in self.skills if s.id in under)
        return self._resting[operation]

    @cached_property
    def _resting(self) -> dict[str, tuple[str, ...]]:
        return {}

    def levels(self) -> dict[str, int]:
        """How many steps each skill is away from the start; 0 rests on nothing."""
        found: dict[str, int] = {}
        order = TopologicalSorter({s.id: s.prerequisites for s in self.skills}).static_order()
        for skill in order:
            found[skill] = max((found[p] + 1 for p in self.get(skill).prerequisites), default=0)
        return found

    def before(self, skill: str) -> frozenset[str]:
        """All that a skill rests on, directly or not."""
        found: set[str] = set()
        open_ = list(self.get(skill).prerequisites)
        while open_:
            at = open_.pop()
            if at not in found:
                found.add(at)
                open_.extend(self.get(at).prerequisites)
        return frozenset(found)


def read_graph(
    data: Any, banks: Collection[str], rigs: Collection[str] = (), exercises: Collection[str] = ()
) -> SkillGraph:
    """Check a skill file's content.

    Names once; prerequisites, groups, banks, rigs and exercises known; points named that
    exist; no circles; nothing that can never be reached. Raises ``Refused`` with
    all faults of one kind together.
    """
    graph = read_model(SkillGraph, data)
    faults = [*_twice(graph), *_unknown(graph, banks, rigs, exercises), *_points(graph)]
    if faults:
        raise Refused(*faults)
    try:
        TopologicalSorter({s.id: s.prerequisites for s in graph.skills}).prepare()
    except CycleError as error:
        circle = together(error.args[1], " → ")
        raise Refused.of("skills", circle, say("prerequisites must not run in a circle")) from None
    lost = [
        FieldError(f"skills.{s}", s, say("can never be reached: its evidence asks for skills that rest on it"))
        for s in _unreachable(graph)
    ]
    if lost:
        raise Refused(*lost)
    return graph


def _twice(graph: SkillGraph) -> Iterable[FieldError]:
    for field, names in (("skills", [s.id for s in graph.skills]), ("groups", [g.id for g in graph.groups])):
        for name in sorted({n for n in names if names.count(n) > 1}):
            yield FieldError(field, name, say("appears twice; each may appear once"))


def _unknown(
    graph: SkillGraph, banks: Collection[str], rigs: Collection[str], exercises: Collection[str]
) -> Iterable[FieldError]:
    names, groups = {s.id for s in graph.skills}, {g.id for g in graph.groups}
    for s in graph.skills:
        where = f"skills.{s.id}"
        if s.group not in groups:
            yield FieldError(f"{where}.group", s.group, say("is not one of the groups"))
        for p in s.prerequisites:
            if p not in names:
                yield FieldError(
                    f"{where}.prerequisites", p, say("is a prerequisite of {id} but not in the graph", id=s.id)
                )
        for r in s.evidence:
            if isinstance(r, Knowledge) and r.bank not in banks:
                yield FieldError(f"{where}.evidence", r.bank, say("there is no such question bank"))
            if isinstance(r, RigStandard) and r.rig not in rigs:
                yield FieldError(f"{where}.evidence", r.rig, say("there is no such rig"))
            if isinstance(r, ExerciseStandard) and r.calculation not in exercises:
                yield FieldError(f"{where}.evidence", r.calculation, say("there is no such exercise"))
            if isinstance(r, OtherSkills):
                for other in r.of:
                    if other not in names:
                        yield FieldError(f"{where}.evidence", other, say("is not in the graph"))
                if r.count > len(set(r.of)):
                    yield FieldError(
                        f"{where}.evidence", str(r.count), say("must be at most {count}", count=len(set(r.of)))
                    )


def _points(graph: SkillGraph) -> Iterable[FieldError]:
    for s in graph.skills:
        for field, numbers in (("critical", s.critical), ("refresher", s.refresher)):
            for n in numbers:
                if not 1 <= n <= len(s.shown):
                    bound = say("must be the number of a point, 1 to {count}", count=len(s.shown))
                    yield FieldError(f"skills.{s.id}.{field}", str(n), bound)
        if s.opens_machine and not s.per_machine:
            bound = say("only a skill signed per machine can open a machine")
            yield FieldError(f"skills.{s.id}.opens_machine", "true", bound)


def _unreachable(graph: SkillGraph) -> list[str]:
    """Skills that no order of sign-offs can reach."""
    reached: set[str] = set()
    opening = {s.id for s in graph.opening}
    while True:
        more = {s.id for s in graph.skills if s.id not in reached and _within(s, reached, opening)}
        if not more:
            return [s.id for s in graph.skills if s.id not in reached]
        reached |= more


def _within(s: Skill, reached: set[str], opening: set[str]) -> bool:
    needed = set(s.prerequisites) | (opening if s.operation else set())
    enough = all(len(reached & set(r.of)) >= r.count for r in s.evidence if isinstance(r, OtherSkills))
    return needed <= reached and enough
