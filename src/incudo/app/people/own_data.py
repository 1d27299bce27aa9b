"""The data of one person, whole: what the shop keeps of them and what they entered, as a file for them."""

from __future__ import annotations

import json
import uuid
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any

from pydantic import StringConstraints

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Command, View
from incudo.core.kernel.errors import NotFound, Refused
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.people import own_data as store

FORMAT = 1
_MEANT = "what stands in the shop's records under this name, and what was entered under it"

Value = str | int | float | bool | None | list[Any] | dict[str, Any]


class TakeOut(Command):
    """Give somebody's data out. ``pin`` confirms it where somebody else's data are asked for."""

    pin: Annotated[str, StringConstraints(max_length=8)] = ""


class KeptTable(View):
    """The rows of one table; a column that names something has its name."""

    table: str
    what: str
    rows: tuple[dict[str, Any], ...]


class PersonData(View):
    """Everything of one person. ``not_in_it``: what is left out, and why."""

    format: int
    made_at: datetime
    shop: str
    name: str
    login: str
    what: str
    tables: tuple[KeptTable, ...]
    not_in_it: tuple[str, ...]


def needs_pin(who: Who, person: uuid.UUID, pin: str) -> bool:
    """Whether a PIN must confirm it: one's own data need none. Raises ``NotFound`` for who may have their own alone."""
    if who.id == person:
        return False
    if who.role is not Role.INSTRUCTOR:
        raise NotFound(say("There is no such person."))
    if not pin:
        raise Refused.of("pin", "", say("must be yours: it confirms that somebody's data are given out"))
    return True


def person_data(w: Work, who: Who, person: uuid.UUID) -> PersonData:
    """All rows of a person; that they were given out stays with who did it. Raises ``NotFound``."""
    row = find(w, t.Person, person, "person")
    w.db.add(
        t.PersonAct(
            id=uuid.uuid4(),
            person_id=person,
            by_id=who.id,
            words=say("Their data were given out as a file."),
            at=w.now,
        )
    )
    w.db.flush()
    everybody, names = store.people(w.db), store.names(w.db)
    tables = []
    for kept in store.kept_of(w.db, person):
        what = (kept.table.__doc__ or "").strip().split("\n\n")[0].replace("\n", " ")
        rows = tuple(_row(x, person, everybody, names) for x in kept.rows)
        tables.append(KeptTable(table=str(kept.table.__tablename__), what=" ".join(what.split()), rows=rows))
    return PersonData(
        format=FORMAT,
        made_at=w.now,
        shop=find(w, t.Shop, 1, "shop").name,
        name=row.name,
        login=row.login,
        what=_MEANT,
        tables=tuple(tables),
        not_in_it=(
            "passwords, PINs and codes: only their hashes are kept, and those stay where they are",
            "readings, plans and finds of a part that is not decided yet: whoever checks it must not know them",
            "readings of a study that is not ended: nobody may know what they read before",
            "questions of a sheet in class that goes on, or that are not answered, and checks that are not ended",
            "the names of other students: 'another student' stands for them",
            *(f"{table.__tablename__}: {why}" for table, why in store.LEFT_OUT.items()),
        ),
    )


def _row(
    row: t.Base, person: uuid.UUID, everybody: dict[uuid.UUID, tuple[str, bool]], names: dict[uuid.UUID, str]
) -> dict[str, Value]:
    people = set(store.people_in(type(row)))
    found: dict[str, Value] = {}
    for key in store.columns_of(type(row)):
        if key in store.SECRETS:
            continue
        value = getattr(row, key)
        if key in people and value is not None:
            name, student = everybody[value]
            found[key] = "another student" if student and value != person else name
        elif isinstance(value, uuid.UUID):
            found[key] = names.get(value) or str(value)
        else:
            found[key] = _plain(value)
    return found


def _plain(value: Any) -> Value:
    """A value as JSON has it; text that is JSON itself is opened."""
    if isinstance(value, (datetime, date)):
        return value.isoformat()
    if isinstance(value, bytes):
        return f"{len(value)} bytes"
    if isinstance(value, Decimal):
        return format(value.normalize(), "f")
    if isinstance(value, str) and value[:1] in ("{", "["):
        try:
            opened: Value = json.loads(value)
        except ValueError:
            return value
        return opened
    return value if isinstance(value, (bool, int, float)) or value is None else str(value)
