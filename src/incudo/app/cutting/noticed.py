"""What was noticed at the machine: kept as it is chosen on the run card, and counted for the class."""

from __future__ import annotations

import uuid
from collections import Counter
from datetime import timedelta
from typing import Annotated

from pydantic import AwareDatetime, StringConstraints

from incudo.app.cutting.run import card_of
from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command, Named, View
from incudo.app.parts.attempts import load_attempt, own_only
from incudo.app.people.groups import choose_group
from incudo.core.cutting.trouble import signs
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.say import say, together
from incudo.store import schema as t
from incudo.store.cutting import run as store
from incudo.store.people import people as people_store

#: So far back a class looks: a term.
_TERM = timedelta(days=120)
#: So many machines and operations are named for a sign.
_NAMED = 3


class KeepSign(Command):
    """Something is not right at a step; ``at`` is when, by the device."""

    id: uuid.UUID
    step: Annotated[str, StringConstraints(min_length=1, max_length=60)]
    sign: Annotated[str, StringConstraints(min_length=1, max_length=40)]
    at: AwareDatetime


class NoticedView(View):
    """What was kept."""

    sign: str


class NoticedLine(View):
    """A sign with how often it was chosen, by how many students, at which machines and during what."""

    sign: str
    name: str
    count: int
    students: int
    machines: tuple[str, ...]
    during: tuple[str, ...]


class NoticedTable(View):
    """What goes wrong most at the machine, in a group."""

    group: Named | None
    days: int
    lines: tuple[NoticedLine, ...]


def keep_sign(w: Work, who: Who, attempt: uuid.UUID, command: KeepSign) -> NoticedView:
    """Keep what was chosen. Raises ``NotFound``, ``Conflict`` for a step that is not on the card, ``Refused``."""
    file = load_attempt(w, attempt)
    own_only(file, who)
    card = card_of(w, who, file)
    step = next((s for s in card.steps(card.done()) if s.id == command.step), None)
    if step is None:
        raise Conflict(say("The plan was changed meanwhile: this step is not on the card any more."))
    known = {s.id: s.name for s in signs(card.course, None)}
    if command.sign not in known:
        raise Refused.of("sign", command.sign, say("must be one of: {listed}", listed=together(known, ", ")))
    row = t.NoticedSign(
        id=command.id,
        attempt_id=attempt,
        machine_id=card.machine.id,
        person_id=who.id,
        step=command.step,
        sign=command.sign,
        name=known[command.sign],
        during=step.head or step.title,
        noticed_at=min(command.at, w.now),
        at=w.now,
    )
    insert_once(w, row, ignoring=("at", "noticed_at", "machine_id", "name", "during"))
    return NoticedView(sign=command.sign)


def noticed_table(w: Work, group: uuid.UUID | None) -> NoticedTable:
    """What a group noticed most in this term; without one the group that meets now."""
    chosen = choose_group(w, group, people_store.meets_now(w.db))
    rows = store.noticed(w.db, [s.id for s, _ in chosen.students], w.now - _TERM)
    lines = []
    for sign, count in Counter(row.sign for row, _ in rows).most_common():
        mine = [(row, machine) for row, machine in rows if row.sign == sign]
        lines.append(
            NoticedLine(
                sign=sign,
                name=mine[0][0].name,
                count=count,
                students=len({row.person_id for row, _ in mine}),
                machines=tuple(m for m, _ in Counter(m for _, m in mine).most_common(_NAMED)),
                during=tuple(d for d, _ in Counter(row.during for row, _ in mine).most_common(_NAMED)),
            )
        )
    return NoticedTable(group=chosen.group, days=_TERM.days, lines=tuple(lines))
