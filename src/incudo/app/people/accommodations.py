"""What helps a student to work here: larger print, a seat, more time, a light instead of a bell.

For who teaches alone.
"""

from __future__ import annotations

import uuid
from collections.abc import Collection
from datetime import datetime
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Command, Named, View
from incudo.app.people.names import names_of
from incudo.app.people.students import student_of
from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.say import say
from incudo.store import schema as t
from incudo.store.people import people as store

MOST = 1000


class AccommodationView(View):
    """What was agreed with a student, by whom and when; nothing yet without a moment."""

    student: Named
    words: str
    by: str
    at: datetime | None


class AccommodationsHere(View):
    """What was agreed with those who are here."""

    people: tuple[AccommodationView, ...]


class AccommodationCommand(Command):
    """What shall be known; nothing takes it away. ``based_on`` is the moment of what the page showed."""

    words: Annotated[str, StringConstraints(max_length=MOST, strip_whitespace=True)]
    based_on: datetime | None = None


def accommodation(w: Work, student: uuid.UUID) -> AccommodationView:
    """What was agreed with a student. Raises ``NotFound`` for who is none."""
    person = student_of(w, student)
    found = of_students(w, [person.id])
    return (
        found[0]
        if found
        else AccommodationView(student=Named(id=person.id, name=person.name), words="", by="", at=None)
    )


def change_accommodation(w: Work, who: Who, student: uuid.UUID, command: AccommodationCommand) -> AccommodationView:
    """Change what was agreed; that it was changed is kept, not what it said.

    Raises ``Conflict`` when somebody else has changed it since it was looked at, unless to the same words.
    """
    store.lock_person(w.db, student)
    person = student_of(w, student)
    row = w.db.get(t.Accommodation, person.id)
    if command.words == (row.words if row else ""):
        return accommodation(w, student)
    if command.based_on != (row.at if row else None):
        raise Conflict(say("This was changed meanwhile: look at it again."))
    if row is None:
        w.db.add(t.Accommodation(student_id=person.id, words=command.words, by_id=who.id, at=w.now))
    elif command.words:
        row.words, row.by_id, row.at = command.words, who.id, w.now
    else:
        w.db.delete(row)
    act = say("Accommodations changed.") if command.words else say("Accommodations removed.")
    w.db.add(t.PersonAct(id=uuid.uuid4(), person_id=person.id, by_id=who.id, words=act, at=w.now))
    w.db.flush()
    return accommodation(w, student)


def of_students(w: Work, students: Collection[uuid.UUID]) -> tuple[AccommodationView, ...]:
    """What was agreed with these students, by name."""
    rows = store.accommodations(w.db, students)
    names = names_of(w, {row.by_id for row, _ in rows})
    return tuple(
        AccommodationView(student=Named(id=row.student_id, name=name), words=row.words, by=names[row.by_id], at=row.at)
        for row, name in rows
    )
