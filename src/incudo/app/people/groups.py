"""Which group a page is about, who belongs to it, and finding one student among many."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Named, View
from incudo.store import schema as t
from incudo.store.people import groups as store

#: So many students are named in one answer of a search.
MOST_FOUND = 20


@dataclass(frozen=True)
class Chosen:
    """The group that a page shows, those that can be chosen, and the students with the name of their group."""

    group: Named | None
    choices: tuple[Named, ...]
    students: tuple[tuple[t.Person, str], ...]


class FoundStudent(View):
    """A student that a search found; ``group`` is empty for who is in none now."""

    student: Named
    group: str


class FoundStudents(View):
    """What a search found; ``more`` when not all are named."""

    students: tuple[FoundStudent, ...]
    more: bool


def choose_group(w: Work, group: uuid.UUID | None, meeting: uuid.UUID | None) -> Chosen:
    """The group that was asked for, else that of the open session, else the first of this term.

    Students who have not been put into a group yet are shown with every group. Raises ``NotFound``.
    """
    day = w.today
    choices = [Named(id=g.id, name=g.name) for g in store.groups(w.db, day)]
    if group is not None:
        row = find(w, t.Group, group, "group")
        chosen: Named | None = Named(id=row.id, name=row.name)
    else:
        chosen = next((c for c in choices if c.id == meeting), choices[0] if choices else None)
    mine = store.students_of(w.db, chosen.id, day) if chosen else []
    named = [(p, chosen.name if chosen else "") for p in mine]
    return Chosen(chosen, tuple(choices), (*named, *((p, "") for p in store.ungrouped(w.db))))


def find_students(w: Work, words: str) -> FoundStudents:
    """Students by parts of their name, who is here first."""
    found = store.find_students(w.db, w.today, words, MOST_FOUND + 1) if words.strip() else []
    return FoundStudents(
        students=tuple(
            FoundStudent(student=Named(id=i, name=name), group=group) for i, name, group in found[:MOST_FOUND]
        ),
        more=len(found) > MOST_FOUND,
    )
