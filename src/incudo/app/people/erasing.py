"""A former student is erased, except for what the register of safety must keep."""

from __future__ import annotations

import uuid
from dataclasses import dataclass

from incudo.app.kernel.unit import Work, find_locked
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.people import erasure as store
from incudo.store.people import people


@dataclass(frozen=True)
class Erasure:
    """What is deleted and what stays, table by table, and where free text still names them."""

    name: str
    stand_in: str
    deleted: dict[str, int]
    sealed: dict[str, int]
    of_the_shop: dict[str, int]
    mentions: tuple[tuple[str, str, int], ...]


def erase(w: Work, login: str, *, really: bool) -> Erasure:
    """Say what erasing a former student comes to; with ``really`` do it. Needs the account that owns the tables.

    Raises ``Refused`` for who is unknown, no student, still here, or has something of the crib.
    """
    person = _leaver(w, login)
    if store.out_of_the_crib(w.db, person.id):
        raise Refused.of("login", login, say("still has something of the crib: take it back, or write it off, first"))
    name, old_login, stand_in = person.name, person.login, _stand_in(person.id)
    deleted = store.counts(w.db, person.id, store.OWN)
    sealed = store.counts(w.db, person.id, store.SEALED)
    of_the_shop = store.counts(w.db, person.id, store.OF_THE_SHOP)
    if really:
        store.delete_own(w.db, person.id)
        person.name, person.login = stand_in, f"erased-{person.id.hex[-12:]}"
        person.password_hash, person.pin_hash = "", None
        w.db.add(
            t.PersonAct(
                id=uuid.uuid4(),
                person_id=person.id,
                by_id=None,
                words=say("Erased. What the register of safety seals stays, and what is a record of the shop."),
                at=w.now,
            )
        )
        w.db.flush()
        store.forget_past(w.db, person.id)
    found = tuple(m for m in store.mentions(w.db, (name, old_login)) if really or m[0] != "person")
    return Erasure(name, stand_in, deleted, sealed, of_the_shop, found)


def _leaver(w: Work, login: str) -> t.Person:
    found = people.person_by_login(w.db, login.strip().lower())
    if found is None:
        raise Refused.of("login", login, say("must be the sign-in name of a former student"))
    person = find_locked(w, t.Person, found.id, "person")
    if Role(person.role) is not Role.STUDENT:
        raise Refused.of("login", login, say("must be a student: who taught and signed stays named in the records"))
    if person.active:
        raise Refused.of("login", login, say("still works here: mark them as left on the page of people first"))
    return person


def _stand_in(person: uuid.UUID) -> str:
    return f"Former student {person.hex[-6:]}"
