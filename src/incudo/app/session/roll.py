"""The roll: who is here."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import Field

from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command
from incudo.app.session.now import the_session
from incudo.app.session.page import session_page
from incudo.app.session.views import Presence, SessionPage
from incudo.core.kernel.errors import NotFound
from incudo.core.kernel.say import say
from incudo.store import schema as t


class RollMark(Command):
    """Whether a student is here."""

    student: uuid.UUID
    presence: Presence


class RollCommand(Command):
    """Marks on the roll, several at once."""

    id: uuid.UUID
    marks: Annotated[tuple[RollMark, ...], Field(min_length=1, max_length=60)]


def mark_roll(w: Work, who: Who, command: RollCommand) -> SessionPage:
    """Call the roll, and show the session."""
    keep_roll(w, who, command)
    return session_page(w)


def keep_roll(w: Work, who: Who, command: RollCommand) -> None:
    """Call the roll. A student of another group who is here may be marked as well."""
    meeting = the_session(w)
    for mark in command.marks:
        person = w.db.get(t.Person, mark.student)
        if person is None or person.role != "student":
            raise NotFound(say("There is no such student."))
        row = t.Roll(
            id=uuid.uuid5(command.id, str(mark.student)),
            meeting_id=meeting.id,
            person_id=mark.student,
            presence=mark.presence.value,
            by_id=who.id,
            at=w.now,
        )
        insert_once(w, row, ignoring=("at",))
