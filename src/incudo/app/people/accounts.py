"""Who is at the device: sign-in, sign-out, PIN, and the limits on guessing."""

from __future__ import annotations

import hashlib
import os
import secrets
import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from typing import Annotated

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from pydantic import StringConstraints

from incudo.app.kernel.unit import Unit, Who, Work, find
from incudo.app.kernel.views import Command, View
from incudo.app.people.students import group_of
from incudo.core.kernel import quantity
from incudo.core.kernel.errors import DomainError
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import School
from incudo.core.people.notice import VERSION
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.people import joining, sign_ins
from incudo.store.people import people as store

SIGN_IN_HOURS = 12
FAILURES = 5
FAILURES_PER_ADDRESS = 40
#: Wrong PINs of one assessor on all devices together.
FAILURES_PER_PIN = 10
WINDOW = timedelta(minutes=15)
#: Hashing costs time on purpose. Where a test run says so it costs none; ``serve`` refuses to run like that.
CHEAP = "INCUDO_CHEAP_SECRETS"
_hasher = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1) if os.environ.get(CHEAP) else PasswordHasher()

Pin = Annotated[str, StringConstraints(pattern=r"^[0-9]{4,8}$")]
NewPassword = Annotated[str, StringConstraints(min_length=8, max_length=200)]


class WrongSecret(DomainError):
    """The password or the PIN does not fit."""


class TooManyTries(DomainError):
    """Guessing is stopped for a while; ``seconds`` says how long."""

    def __init__(self, what: str, seconds: int) -> None:
        self.seconds = seconds
        super().__init__(
            say("Too many wrong tries: {what} is closed for {seconds} minutes.", what=what, seconds=-(-seconds // 60))
        )


class SignInCommand(Command):
    """A sign-in."""

    login: Annotated[str, StringConstraints(min_length=1, max_length=60, strip_whitespace=True)]
    password: Annotated[str, StringConstraints(min_length=1, max_length=200)]


class Me(View):
    """Who is signed in, and what every page needs to know."""

    id: uuid.UUID
    name: str
    role: Role
    token: str
    shop: str
    unit: quantity.LengthUnit
    school: School
    group: str
    has_pin: bool
    notice_signed: bool


@cache
def _nobody() -> str:
    """A hash that nothing fits: an unknown name takes as long as a wrong password."""
    return _hasher.hash("nobody")


def hash_secret(secret: str) -> str:
    """argon2id of a password or PIN."""
    return _hasher.hash(secret)


def _fits(hashed: str, secret: str) -> bool:
    try:
        return _hasher.verify(hashed, secret)
    except (VerificationError, InvalidHashError):
        return False


def sign_in(unit: Unit, command: SignInCommand, device: str, address: str) -> tuple[Me, str]:
    """Check login and password; returns who it is and the session's secret token.

    Raises ``WrongSecret`` or ``TooManyTries``. A try is counted for this login on this device, and for the network
    address. For those who teach the address counts their own name only: otherwise whoever types forty wrong names
    closes the shop for its instructors.
    """
    login = command.login.lower()
    what = say("this sign-in")
    person = unit.run(lambda w: store.person_by_login(w.db, login))
    mine = Guard(f"sign-in|{login}|{device}", FAILURES, what)
    everybody = Guard(f"address|{address}", FAILURES_PER_ADDRESS, what)
    staff = Guard(f"staff|{login}|{address}", FAILURES_PER_ADDRESS, what)
    teaches = person is not None and person.active and Role(person.role) is not Role.STUDENT
    guards = (mine, staff) if teaches else (mine, everybody)
    tried = claim(unit, person.id if person else None, guards)
    # who has not chosen a password yet takes as long as a wrong one
    fits = _fits((person.password_hash if person else "") or _nobody(), command.password)
    if person is None or not person.active or not fits:
        raise WrongSecret(say("That name and password do not match."))
    token = secrets.token_urlsafe(32)

    def start(w: Work) -> Me:
        sign_ins.end_sign_ins_before(w.db, w.now)
        sign_ins.take_failures_back(w.db, tried)
        sign_ins.forget_failures(w.db, mine.scope)
        w.db.add(
            t.SignIn(
                token_hash=digest(token),
                person_id=person.id,
                csrf=secrets.token_urlsafe(24),
                made_at=w.now,
                ends_at=w.now + timedelta(hours=SIGN_IN_HOURS),
            )
        )
        joining.signed_in_at(w.db, person.id, w.now)
        w.db.flush()
        return me(w, token)

    return unit.run(start), token


def sign_out(w: Work, token: str) -> None:
    """End the session of this token; ending one that is not there is no error."""
    sign_ins.end_sign_in(w.db, digest(token))


class Session(View):
    """A valid session: the person and the token that changing requests must carry."""

    person: uuid.UUID
    name: str
    role: Role
    csrf: str

    @property
    def who(self) -> Who:
        return Who(self.person, self.name, self.role)


def session_of(w: Work, token: str) -> Session | None:
    """The session of a token, if it holds now."""
    found = sign_ins.signed_in(w.db, digest(token))
    if found is None or found[0].ends_at <= w.now or not found[1].active:
        return None
    row, person = found
    return Session(person=person.id, name=person.name, role=Role(person.role), csrf=row.csrf)


def me(w: Work, token: str) -> Me:
    """Everything a page needs about the person who is signed in."""
    row = find(w, t.SignIn, digest(token), "session")
    person = find(w, t.Person, row.person_id, "person")
    shop = find(w, t.Shop, 1, "shop")
    group = group_of(w, person.id)
    return Me(
        id=person.id,
        name=person.name,
        role=Role(person.role),
        token=row.csrf,
        shop=shop.name,
        unit=quantity.Unit(shop.unit),
        school=School(shop.verdict_school),
        group=group.name if group else "",
        has_pin=person.pin_hash is not None,
        notice_signed=store.notice_of(w.db, person.id, VERSION) is not None,
    )


def confirm_pin(unit: Unit, who: Who, pin: str, device: str) -> None:
    """Check the assessor's own PIN before an act. Raises ``WrongSecret`` or ``TooManyTries``.

    Five failures close it on this device, ten on all devices together: a PIN is short, and more devices must not
    mean more guesses.
    """
    here = Guard(f"pin|{who.id}|{device}", FAILURES, say("your PIN on this device"))
    anywhere = Guard(f"pin|{who.id}", FAILURES_PER_PIN, say("your PIN"))
    tried = claim(unit, who.id, (here, anywhere))
    person = unit.run(lambda w: find(w, t.Person, who.id, "person"))
    if person.pin_hash is None or not _fits(person.pin_hash, pin):
        raise WrongSecret(say("That is not your PIN."))

    def right(w: Work) -> None:
        sign_ins.take_failures_back(w.db, tried)
        sign_ins.forget_failures(w.db, here.scope)

    unit.run(right)


class PasswordCommand(Command):
    """A new password; the old one says that it is you."""

    old: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    new: NewPassword


def change_password(unit: Unit, who: Who, command: PasswordCommand, device: str, token: str) -> None:
    """Change one's own password; every other session of this person ends, only that of ``token`` goes on.

    Raises ``WrongSecret`` or ``TooManyTries``.
    """
    guard = Guard(f"password|{who.id}|{device}", FAILURES, say("your password on this device"))
    tried = claim(unit, who.id, (guard,))
    person = unit.run(lambda w: find(w, t.Person, who.id, "person"))
    if not _fits(person.password_hash, command.old):
        raise WrongSecret(say("That is not your password."))
    hashed = hash_secret(command.new)

    def change(w: Work) -> None:
        find(w, t.Person, who.id, "person").password_hash = hashed
        sign_ins.take_failures_back(w.db, tried)
        sign_ins.end_other_sign_ins(w.db, who.id, digest(token))

    unit.run(change)


@dataclass(frozen=True)
class Guard:
    """What is being guarded, how many wrong tries close it, and how it is called then."""

    scope: str
    limit: int
    what: str


def claim(unit: Unit, person: uuid.UUID | None, guards: Sequence[Guard]) -> tuple[uuid.UUID, ...]:
    """Count a try before it is looked at; gives what to take back when it was right.

    Tries at one person come one after the other, so that no number of them at the same moment outruns the count.
    Raises ``TooManyTries``.
    """
    ids = tuple(uuid.uuid4() for _ in guards)

    def count(w: Work) -> None:
        if person is not None:
            store.lock_person(w.db, person)
        for guard in guards:
            so_far, first = sign_ins.failures(w.db, guard.scope[:160], w.now - WINDOW)
            if so_far >= guard.limit and first:
                raise TooManyTries(guard.what, _seconds_left(first, w.now))
        sign_ins.forget_failures_before(w.db, w.now - WINDOW)
        for row_id, guard in zip(ids, guards, strict=True):
            w.db.add(t.Failure(id=row_id, scope=guard.scope[:160], at=w.now))

    unit.run(count)
    return ids


def forget_tries(w: Work, tried: Sequence[uuid.UUID]) -> None:
    """Tries that were right do not count."""
    sign_ins.take_failures_back(w.db, tried)


def _seconds_left(first: datetime, now: datetime) -> int:
    return max(1, int((first + WINDOW - now).total_seconds()))


def digest(secret: str) -> str:
    """What is kept of a secret that is long and random, as tokens and codes are: a plain hash is enough."""
    return hashlib.sha256(secret.encode()).hexdigest()
