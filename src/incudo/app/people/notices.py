"""The safety notice: read and signed once by everybody, again when it changes."""

from __future__ import annotations

import uuid
from datetime import datetime

from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command, View
from incudo.app.register.chain import record
from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.say import say
from incudo.core.people.notice import LINES, TITLE, VERSION
from incudo.store import schema as t
from incudo.store.people import people as store


class NoticeView(View):
    """The notice, and when this person signed it."""

    version: int
    title: str
    lines: tuple[str, ...]
    signed_at: datetime | None


class NoticeCommand(Command):
    """I have read this version."""

    id: uuid.UUID
    version: int


def notice(w: Work, who: Who) -> NoticeView:
    """The notice as it stands, and whether this person has signed it."""
    row = store.notice_of(w.db, who.id, VERSION)
    return NoticeView(version=VERSION, title=TITLE, lines=LINES, signed_at=row.at if row else None)


def sign_notice(w: Work, who: Who, command: NoticeCommand) -> NoticeView:
    """Sign the notice. Raises ``Conflict`` when another version was read than the one that holds."""
    if command.version != VERSION:
        raise Conflict(say("The notice was changed meanwhile: read the new one."))
    if store.notice_of(w.db, who.id, VERSION) is None:
        row = t.NoticeSigned(id=command.id, person_id=who.id, version=VERSION, at=w.now)
        if insert_once(w, row, ignoring=("at",)):
            record(w, row)
    return notice(w, who)
