"""The judge of a plan: all rules over it, the worst findings first."""

from __future__ import annotations

from collections.abc import Iterable

from incudo.core.kernel.say import capital
from incudo.core.planning.course import Course
from incudo.core.planning.file import Plan, PlanHolding
from incudo.core.planning.piece import Piece
from incudo.core.planning.rules import cut, cutter, datum, holding, order, person, reaching, seating
from incudo.core.planning.rules.base import FaultWeight, Finding, Hit, Rule
from incudo.core.planning.shop import PlanShop
from incudo.core.planning.stages import Stage

#: Every rule, by subject, in the order in which they are documented.
RULES: dict[str, tuple[Rule, ...]] = {
    "holding": (*holding.RULES, *seating.RULES),
    "datum": tuple(datum.RULES),
    "order": tuple(order.RULES),
    "cutter": (*cutter.RULES, *reaching.RULES),
    "cut": tuple(cut.RULES),
    "person": tuple(person.RULES),
}
_ORDER = list(FaultWeight)


def judge(course: Course, subjects: Iterable[str] = RULES) -> tuple[Finding, ...]:
    """Everything that is wrong with a plan: by weight, then where it stands. Raises ``Refused`` for unknown names.

    ``subjects`` are those of ``RULES`` that are asked.
    """
    found = [_finding(r, hit) for subject in subjects for r in RULES[subject] for hit in r.check(course)]
    at = {o.id: n for n, (_, o) in enumerate(course.plan.each())}
    first = {h.id: at[h.operations[0].id] if h.operations else len(at) for h in course.plan.holdings}
    return tuple(
        sorted(found, key=lambda f: (_ORDER.index(f.weight), at.get(f.operation, first.get(f.holding, len(at)))))
    )


def judged(piece: Piece, plan: Plan, shop: PlanShop, complete: bool = True) -> tuple[Finding, ...]:
    """The same from its parts."""
    return judge(Course(piece, plan, shop, complete))


def _finding(rule: Rule, hit: Hit) -> Finding:
    # many begin with the name of a face or a feature
    said = capital(hit.words), capital(hit.cure), hit.fix
    match hit.where:
        case Stage(holding=h, operation=o):
            return Finding(rule, h.id, o.id, *said)
        case PlanHolding(id=id_):
            return Finding(rule, id_, "", *said)
    return Finding(rule, "", "", *said)


def sound(findings: tuple[Finding, ...]) -> bool:
    """Whether nothing breaks and nothing is spoilt."""
    return not any(f.weight in (FaultWeight.BREAKS, FaultWeight.SPOILS) for f in findings)
