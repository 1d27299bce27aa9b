"""The plans of a group for one part: what they got wrong most, and what they are cut and held with."""

from __future__ import annotations

import json
import uuid
from collections import Counter

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Named, View
from incudo.app.parts.attempts import AttemptFile
from incudo.app.people.groups import choose_group
from incudo.app.planning.looking import look_at, need_view
from incudo.app.planning.made_with import course_of
from incudo.app.planning.views import NeedView, PlanLook
from incudo.core.kernel.say import unpacked
from incudo.core.planning.course import Course
from incudo.core.planning.file import read_plan
from incudo.core.planning.judge import RULES
from incudo.core.planning.needs import together_needed, tools_needed
from incudo.core.planning.rules.base import FaultWeight, weight_words
from incudo.store import schema as t
from incudo.store.people import people as people_store
from incudo.store.planning import plans as store


class OftenWrong(View):
    """A kind of finding with how many plans have it, why it matters, and one of the sentences."""

    code: str
    title: str
    why: str
    heavy: str
    plans: int
    example: str


class GroupPlanLine(View):
    """One student's newest plan: what was found in it by weight, and what was decided."""

    hand_in: uuid.UUID
    assignment: uuid.UUID
    student: Named
    breaks: int
    spoils: int
    costs: int
    approved: bool | None


class GroupPlans(View):
    """The plans of a group for one part."""

    project: uuid.UUID
    group: Named | None
    choices: tuple[Named, ...]
    plans: tuple[GroupPlanLine, ...]
    often: tuple[OftenWrong, ...]
    needs: tuple[NeedView, ...]


class ShownPlan(View):
    """One plan of the group to show to the class: without a name."""

    look: PlanLook


def group_plans(w: Work, who: Who, project: uuid.UUID, group: uuid.UUID | None) -> GroupPlans:
    """Every newest plan that a student of the group handed in for a part, and what all of them need together."""
    find(w, t.Project, project, "project")
    chosen = choose_group(w, group, people_store.meets_now(w.db))
    rows = store.handed_in(w.db, project, [x.id for x, _ in chosen.students])
    lines: list[GroupPlanLine] = []
    counts, examples = Counter[str](), dict[str, str]()
    wanted = []
    for hand_in, name, assignment in rows:
        kept = json.loads(hand_in.findings)
        decision = store.of_card(w.db, assignment.id).decision
        weights = Counter(f["weight"] for f in kept)
        lines.append(
            GroupPlanLine(
                hand_in=hand_in.id,
                assignment=assignment.id,
                student=Named(id=assignment.student_id, name=name),
                breaks=weights[FaultWeight.BREAKS],
                spoils=weights[FaultWeight.SPOILS],
                costs=weights[FaultWeight.COSTS],
                approved=decision.approved if decision else None,
            )
        )
        for f in kept:
            examples.setdefault(f["code"], unpacked(f["words"]))
        counts.update({f["code"] for f in kept})
        course, _, _ = _course(w, who, hand_in)
        wanted.append((name, tools_needed(course)))
    heavy = weight_words()
    rules = {r.code: r for subject in RULES.values() for r in subject}
    often = tuple(
        OftenWrong(
            code=code,
            title=rules[code].title,
            why=rules[code].why,
            heavy=heavy[rules[code].weight],
            plans=n,
            example=examples[code],
        )
        for code, n in sorted(counts.items(), key=lambda x: (-x[1], x[0]))
        if code in rules
    )
    return GroupPlans(
        project=project,
        group=chosen.group,
        choices=chosen.choices,
        plans=tuple(lines),
        often=often,
        needs=tuple(need_view(n.need) for n in together_needed(wanted)),
    )


def _course(w: Work, who: Who, hand_in: t.PlanHandIn) -> tuple[Course, AttemptFile, t.Machine]:
    version = find(w, t.PlanVersion, hand_in.version_id, "plan")
    plan = read_plan(json.loads(version.content))
    return course_of(w, who, hand_in.assignment_id, plan, version.machine_id)


def shown_plan(w: Work, who: Who, hand_in: uuid.UUID) -> ShownPlan:
    """A plan that was handed in, as it was, to be shown to a class: nothing says whose it is."""
    row = find(w, t.PlanHandIn, hand_in, "plan")
    course, _, machine = _course(w, who, row)
    return ShownPlan(look=look_at(course, Named(id=machine.id, name=machine.name)))
