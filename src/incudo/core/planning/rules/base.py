"""What a rule is: its code, its weight, its reason, and the function that looks for it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from enum import StrEnum

from incudo.core.kernel.say import say
from incudo.core.planning.change import Fix
from incudo.core.planning.course import Course
from incudo.core.planning.cutters import fitting
from incudo.core.planning.file import PlanHolding
from incudo.core.planning.kinds import MILLING
from incudo.core.planning.stages import Stage
from incudo.core.shop.cutter import Cutter


class FaultWeight(StrEnum):
    """How much a finding weighs; the first two are never in a sound plan."""

    BREAKS = "breaks"
    SPOILS = "spoils"
    COSTS = "costs"
    PERSON = "person"


def weight_words() -> dict[FaultWeight, str]:
    """The weights as one says them."""
    return {
        FaultWeight.BREAKS: say("hurts somebody or breaks something"),
        FaultWeight.SPOILS: say("spoils the part"),
        FaultWeight.COSTS: say("costs time or finish"),
        FaultWeight.PERSON: say("somebody must stand beside"),
    }


@dataclass(frozen=True)
class Hit:
    """Where a rule found something: what would happen in this case, what cures it, and the change that does."""

    where: Stage | PlanHolding | None
    words: str
    cure: str
    fix: Fix | None = None


@dataclass(frozen=True)
class Rule:
    """One rule. ``why`` is its reason in general; ``check`` yields what it finds in a plan."""

    code: str
    weight: FaultWeight
    title: str
    why: str
    check: Callable[[Course], Iterable[Hit]]


@dataclass(frozen=True)
class Finding:
    """One thing that is wrong with a plan."""

    rule: Rule
    holding: str
    operation: str
    words: str
    cure: str
    fix: Fix | None = field(default=None, compare=False)

    @property
    def code(self) -> str:
        """The code of its rule."""
        return self.rule.code

    @property
    def weight(self) -> FaultWeight:
        """How grave its rule is."""
        return self.rule.weight


def fit_for(course: Course, stage: Stage) -> list[Cutter]:
    """The cutters of the crib that could do an operation as the work lies, the one that one would reach for first."""
    deep = stage.sizes[3] if stage.kind in MILLING and stage.taken else None
    feature, face = next(iter(stage.features), None), next(iter(stage.faces), "")
    return fitting(course.piece, course.shop, stage.kind, feature, face, deep)


#: What a module's rules are gathered in.
Rules = list[Rule]


def rule(
    rules: Rules, code: str, weight: FaultWeight, title: str, why: str
) -> Callable[..., Callable[..., Iterator[Hit]]]:
    """Declare a function as a rule of a subject."""

    def declared(check: Callable[[Course], Iterator[Hit]]) -> Callable[[Course], Iterator[Hit]]:
        rules.append(Rule(code, weight, title, why, check))
        return check

    return declared
