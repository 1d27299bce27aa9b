"""Coming in by a code: made by an instructor for somebody who stands there, used once, then a password of one's own."""

from __future__ import annotations

import secrets
import uuid
from datetime import datetime
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Unit, Work, find
from incudo.app.kernel.views import Command, View
from incudo.app.people import accounts
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.people import joining as rules
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.people import joining as store
from incudo.store.people import people, sign_ins

Code = Annotated[str, StringConstraints(min_length=1, max_length=40)]


class CodeCommand(Command):
    """A code as it was typed."""

    code: Code


class JoinCommand(CodeCommand):
    """A password of one's own; who confirms acts chooses a PIN as well."""

    password: accounts.NewPassword
    pin: accounts.Pin | None = None


class JoinView(View):
    """Whose code it is."""

    shop: str
    name: str
    login: str
    role: Role
    wants_pin: bool
    ends_at: datetime


def new_signs() -> str:
    """The signs of a new code, by chance."""
    return "".join(secrets.choice(rules.ALPHABET) for _ in range(rules.PARTS * rules.SIGNS))


def make_code(w: Work, person: t.Person, by: uuid.UUID | None) -> tuple[str, datetime]:
    """A new code for a person; the ones before hold no more. Gives what stands on the slip, and until when."""
    signs = new_signs()
    ends = rules.until(w.now, joined=bool(person.password_hash))
    w.db.add(
        t.Invitation(
            id=uuid.uuid4(),
            person_id=person.id,
            by_id=by,
            code_hash=accounts.digest(signs),
            made_at=w.now,
            ends_at=ends,
        )
    )
    w.db.flush()
    return rules.written(signs), ends


def look(unit: Unit, command: CodeCommand, device: str | None, address: str) -> JoinView:
    """Whose code it is. Raises ``WrongSecret`` or ``TooManyTries``: codes are guarded like passwords."""
    guards = _guards(device, address)
    tried = accounts.claim(unit, None, guards)

    def right(w: Work) -> JoinView:
        row, person = _open(w, command.code)
        sign_ins.take_failures_back(w.db, tried)
        role = Role(person.role)
        return JoinView(
            shop=find(w, t.Shop, 1, "shop").name,
            name=person.name,
            login=person.login,
            role=role,
            wants_pin=role in rules.WITH_PIN,
            ends_at=row.ends_at,
        )

    return unit.run(right)


def join(unit: Unit, command: JoinCommand, device: str | None, address: str) -> JoinView:
    """Take a code: the password holds from now on, whoever is signed in under this name is signed out.

    Raises ``WrongSecret``, ``TooManyTries``, and ``Refused`` for a PIN that is missing or not wanted.
    """
    view = look(unit, command, device, address)
    if view.wants_pin and command.pin is None:
        raise Refused.of("pin", "", say("must be 4 to 8 digits: you confirm acts with it"))
    if not view.wants_pin and command.pin is not None:
        raise Refused.of("pin", "", say("is for those who teach"))
    hashed = accounts.hash_secret(command.password)
    pin = accounts.hash_secret(command.pin) if command.pin else None

    def take(w: Work) -> None:
        row, person = _open(w, command.code, locked=True)
        w.db.add(t.InvitationTaken(invitation_id=row.id, at=w.now))
        person.password_hash = hashed
        person.pin_hash = pin
        w.db.add(t.PersonAct(id=uuid.uuid4(), person_id=person.id, by_id=person.id, words=_chose(), at=w.now))
        sign_ins.end_other_sign_ins(w.db, person.id, "")

    unit.run(take)
    return view


def _chose() -> str:
    return say("Signed in with a code and chose a password.")


def _open(w: Work, code: str, *, locked: bool = False) -> tuple[t.Invitation, t.Person]:
    """A code that holds now, with its person."""
    row = store.by_code(w.db, accounts.digest(rules.as_typed(code)))
    if row is not None:
        if locked:
            people.lock_person(w.db, row.person_id)
        person = find(w, t.Person, row.person_id, "person")
        newest = store.newest_of(w.db, [person.id])
        if person.active and w.now < row.ends_at and newest.get(person.id) is row:
            return row, person
    raise accounts.WrongSecret(
        say("That code is not valid: mistyped, used already, or expired. Try again, or ask for a new one.")
    )


def _guards(device: str | None, address: str) -> tuple[accounts.Guard, ...]:
    """A device that was never signed in on has no name yet: a class that comes in for the first time shares an address,
    and one who types wrong codes does not close it for the others.
    """
    what = say("entering codes")
    anybody = accounts.Guard(f"join-address|{address}", accounts.FAILURES_PER_ADDRESS, what)
    return (accounts.Guard(f"join|{device}", accounts.FAILURES, what), anybody) if device else (anybody,)
