"""Before a group comes: the cutters and the workholding of its plans, and who needs them."""

from __future__ import annotations

import json
import uuid

from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Named, View
from incudo.app.planning.looking import need_view
from incudo.app.planning.made_with import piece_for, plan_shop
from incudo.app.planning.views import NeedView
from incudo.core.planning.course import Course
from incudo.core.planning.file import read_plan
from incudo.core.planning.needs import together_needed, tools_needed
from incudo.store import schema as t
from incudo.store.parts import attempts
from incudo.store.people import groups
from incudo.store.planning import plans as store


class GroupNeed(View):
    """Something to lay out, and for whom."""

    need: NeedView
    people: tuple[str, ...]


class GroupNeeds(View):
    """What a group's plans are cut and held with at the same time. ``unplanned``: whose job cards have no plan yet."""

    group: Named
    needs: tuple[GroupNeed, ...]
    unplanned: tuple[str, ...]


def group_needs(w: Work, group: uuid.UUID) -> GroupNeeds:
    """What the newest plans of a group's open job cards are cut and held with; of what there are too few first."""
    row = find(w, t.Group, group, "group")
    students = {p.id for p in groups.students_of(w.db, group, w.today)}
    cards = attempts.cards_to_lay_out(w.db, students)
    made = store.newest_versions(w.db, [c.assignment for c in cards])
    wanted, unplanned = [], []
    for c in cards:
        version = made.get(c.assignment)
        if version is None:
            unplanned.append(c.student_name)
            continue
        piece = piece_for(w, c.version)
        shop = plan_shop(w, find(w, t.Machine, version.machine_id, "machine"), c.student, piece)
        wanted.append((c.student_name, tools_needed(Course(piece, read_plan(json.loads(version.content)), shop))))
    return GroupNeeds(
        group=Named(id=row.id, name=row.name),
        needs=tuple(GroupNeed(need=need_view(x.need), people=x.people) for x in together_needed(wanted)),
        unplanned=tuple(dict.fromkeys(unplanned)),
    )
