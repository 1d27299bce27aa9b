"""Things of the job that belong together, for arguments that numbers alone do not make: a part with its muddled plan on
a machine, a rig half done, a student's record.
"""

from __future__ import annotations

import copy
import dataclasses
import random
from collections import defaultdict
from collections.abc import Mapping
from fractions import Fraction
from functools import cache
from typing import Any

from pydantic import BaseModel

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.parts.features.frame import Frame
from incudo.core.planning.course import Course
from incudo.core.planning.file import Plan
from incudo.core.practice.rigs import RIGS
from incudo.core.practice.rigs.base import RigSetup, begin, do
from incudo.core.setup.standard import SetupRules
from tests.approved.muddled import muddle
from tests.core.cutting.test_worker import rings_of
from tests.core.planning import shops
from tests.core.skills import records

#: So many parts in a world each, so many values of one class in it, so deep inside each other.
PLACES = (
    *(("keel-step-gauge", "petrel"), ("fairlead-plate", "gannet"), ("cleat-base", "dunlin"), ("hollow", "fulmar")),
    ("tiller-key-shaft", "gannet"),
)
MOST, DEEP = 24, 7


class World:
    """Values by their class, all of one job."""

    def __init__(self, *things: Any) -> None:
        self.of: dict[type, list[Any]] = defaultdict(list)
        self._seen: set[int] = set()
        for thing in things:
            self._take(thing, 0)

    def _take(self, thing: Any, deep: int) -> None:
        if deep > DEEP or thing is None or isinstance(thing, str | int | float | Length) or id(thing) in self._seen:
            return
        self._seen.add(id(thing))
        inside: list[Any] = []
        if isinstance(thing, Mapping):
            inside = list(thing.values())
        elif isinstance(thing, list | tuple):
            inside = list(thing)
        elif isinstance(thing, BaseModel):
            inside = [getattr(thing, name) for name in type(thing).model_fields]
        elif dataclasses.is_dataclass(thing):
            # what is not compared is what was worked out meanwhile
            inside = [getattr(thing, f.name) for f in dataclasses.fields(thing) if f.compare]
        ours = type(thing).__module__.startswith("incudo")
        if ours and len(self.of[type(thing)]) < MOST:
            self.of[type(thing)].append(thing)
        for x in inside:
            self._take(x, deep + 1)

    def one(self, kind: type, chance: random.Random) -> Any:
        """A value of a class; a copy of what can be changed, so that nobody changes it for others."""
        found = chance.choice(self.of[kind])
        params = getattr(type(found), "__dataclass_params__", None)
        return copy.deepcopy(found) if params is not None and not params.frozen else found


@cache
def jobs() -> tuple[World, ...]:
    """A world for each of some parts, whose plan somebody muddled."""
    found = []
    for number, (part, machine) in enumerate(PLACES):
        piece, shop = shops.piece(part), shops.on(machine, part)
        for seed in range(20):
            _, plan = muddle(part, machine, seed)
            course = Course(piece, plan or Plan(), shop, complete=number % 2 == 0)
            try:
                stages, settled = course.stages, course.settled
            except Refused:
                continue
            break
        rings = rings_of(machine, piece.part.file.material, Fraction(1, 9), turned=number % 2 == 0, rising=number > 3)
        frame = Frame.of(piece.part.file.body, piece.part.file.unit)
        found.append(World(course, stages, settled, course.asked, rings, frame, *others()))
    return tuple(found)


@cache
def others() -> tuple[Any, ...]:
    """Rigs half done, and the record of a student."""
    rigs = []
    for number, (ident, rig) in enumerate(RIGS.items()):
        unit = (Unit.INCH, Unit.MM)[number % 2]
        for level in rig.levels[:2]:
            s = begin(rig, RigSetup(rules=SetupRules(), unit=unit), level.number, ident)
            for _ in range(number % 5 + level.number):
                if not s.finished:
                    do(rig, s, rig.advice(s).action)
            rigs.append(s)
    return (*rigs, records.book(*records.upto("facing", days=30)))
