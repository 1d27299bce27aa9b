"""Exercises: a question from this shop's machines and cutters, the one answer, the slip; sheets for a group."""

from __future__ import annotations

from collections.abc import Sequence

from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Named
from incudo.app.people.students import group_of
from incudo.app.practice.exercise_views import ExerciseCard, ExercisePage, GroupSlips
from incudo.app.practice.sheets import sheet_line
from incudo.app.practice.slips import SLIPS_OF, slip_lines
from incudo.app.skills.graph import skill_graph
from incudo.core.people.roles import Role
from incudo.core.reckoning import CALCULATIONS, MAKERS
from incudo.core.skills.graph import ExerciseStandard
from incudo.core.skills.streak import streak_of
from incudo.store.people import groups as people_groups
from incudo.store.practice import exercises as store


def exercise_page(w: Work, who: Who) -> ExercisePage:
    """The exercises as they stand for this person."""
    student = who.role is Role.STUDENT
    group = group_of(w, who.id) if student else None
    by: dict[str, list[store.Result]] = {name: [] for name in MAKERS}
    for x in store.results(w.db, [who.id]):
        by.setdefault(x.calculation, []).append(x)
    wanted = _wanted(w)
    groups = [] if student else people_groups.groups(w.db, w.today)
    sheets = store.sheets(w.db, group.id if group else None) if group or not student else []
    return ExercisePage(
        cards=tuple(
            ExerciseCard(
                calculation=name,
                name=CALCULATIONS[name].name,
                group=CALCULATIONS[name].group,
                in_a_row=_row(by[name], wanted[name][0] if name in wanted else 0),
                wanted=wanted[name][0] if name in wanted else 0,
                skill=wanted[name][1] if name in wanted else "",
                answered=len(by[name]),
                right=sum(a.right for a in by[name]),
            )
            for name in MAKERS
        ),
        sheets=tuple(sheet_line(w, s, g, who) for s, g in sheets),
        groups=tuple(Named(id=g.id, name=g.name) for g in groups),
        slips=tuple(
            GroupSlips(group=g.name, slips=slip_lines(store.slips(w.db, g.id, w.now - SLIPS_OF))) for g in groups
        ),
    )


def _row(answers: Sequence[store.Result], wanted: int) -> int:
    """How many are right in a row now; all that are wanted once they were reached."""
    row = streak_of(x.right for x in answers)
    return row.toward(wanted) if wanted else row.now


def _wanted(w: Work) -> dict[str, tuple[int, str]]:
    """What the skill graph asks of exercises: how many in a row, for which skill; the first that asks."""
    found: dict[str, tuple[int, str]] = {}
    for s in skill_graph(w).skills:
        for r in s.evidence:
            if isinstance(r, ExerciseStandard):
                found.setdefault(r.calculation, (r.times, s.name))
    return found
