"""Students among the people."""

from __future__ import annotations

import uuid

from incudo.app.kernel.unit import Work, find
from incudo.core.kernel.errors import NotFound
from incudo.store import schema as t


def student_of(w: Work, student: uuid.UUID) -> t.Person:
    """A person who is a student. Raises ``NotFound`` for anybody else."""
    person = find(w, t.Person, student, "student")
    if person.role != "student":
        raise NotFound("There is no such student.")
    return person
