"""Students among the people."""

from __future__ import annotations

import uuid

from incudo.app.kernel.unit import Work, find
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say
from incudo.store import schema as t
from incudo.store.people import groups


def student_of(w: Work, student: uuid.UUID) -> t.Person:
    """A person who is a student. Raises ``NotFound`` for anybody else."""
    person = find(w, t.Person, student, "student")
    if person.role != "student":
        raise NotFound(say("There is no such student."))
    return person


def group_of(w: Work, person: uuid.UUID) -> t.Group | None:
    """The group that somebody is enrolled in now."""
    return groups.group_of(w.db, person, w.today)


def in_group(w: Work, person: uuid.UUID, group: uuid.UUID) -> bool:
    """Whether somebody is enrolled in this group now."""
    found = group_of(w, person)
    return found is not None and found.id == group
