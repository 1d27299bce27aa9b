"""Who must stand beside: no fault of the plan, but part of it."""

from __future__ import annotations

from collections.abc import Iterator

from incudo.core.kernel.say import say
from incudo.core.planning.course import Course
from incudo.core.planning.kinds import skills_for
from incudo.core.planning.rules.base import FaultWeight, Hit, Rules, rule

RULES: Rules = []


@rule(
    RULES,
    "beside",
    FaultWeight.PERSON,
    say("Not signed for this alone"),
    say("An operation that is not signed yet is done with an assessor beside."),
)
def beside(course: Course) -> Iterator[Hit]:
    said: set[str] = set()
    for s in course.stages:
        feature = s.features[0] if s.features else None
        for skill in skills_for(s.kind, feature):
            words = course.shop.beside.get(skill)
            if words and skill not in said:
                said.add(skill)
                yield Hit(s, words, say("Call for it before this operation."))
