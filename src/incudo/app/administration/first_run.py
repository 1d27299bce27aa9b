"""An empty installation becomes a shop: a code that its server printed, then who teaches there and how it works."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import StringConstraints

from incudo import shipped
from incudo.app.administration import setting_up
from incudo.app.kernel.unit import Unit, Who, Work
from incudo.app.kernel.views import Command, View
from incudo.app.parts import library
from incudo.app.people import accounts
from incudo.app.people.joining import new_signs
from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import School
from incudo.core.parts.drawing.placed import Projection
from incudo.core.people import joining as rules
from incudo.core.people.class_list import check_login, check_name, suggest_login
from incudo.core.people.roles import Role
from incudo.core.setup.standard import USUAL_RULES
from incudo.store import schema as t


class FirstRunView(View):
    """Whether this installation is empty still."""

    empty: bool


class FirstRunCommand(Command):
    """The shop, and the instructor who sets it up. Without a sign-in name one is made from the name."""

    code: Annotated[str, StringConstraints(min_length=1, max_length=40)]
    shop: Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)]
    unit: LengthUnit
    school: School
    projection: Projection
    group: Annotated[str, StringConstraints(min_length=2, max_length=60, strip_whitespace=True)]
    name: Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]
    login: Annotated[str, StringConstraints(max_length=60, strip_whitespace=True, to_lower=True)]
    password: accounts.NewPassword
    pin: accounts.Pin


class FirstRunDone(View):
    """The shop is there; with this name one signs in."""

    login: str


def first_run_view(w: Work) -> FirstRunView:
    """Whether there is no shop yet."""
    return FirstRunView(empty=not setting_up.is_set_up(w))


def first_code(w: Work) -> str:
    """A new code for an empty installation, as it is printed; empty when there is a shop already."""
    if setting_up.is_set_up(w):
        return ""
    signs = new_signs()
    w.db.merge(t.FirstCode(id=1, code_hash=accounts.digest(signs), ends_at=w.now + rules.FIRST))
    w.db.flush()
    return rules.written(signs)


def first_run(unit: Unit, command: FirstRunCommand, address: str) -> FirstRunDone:
    """Set up the shop with what is shipped: skills, question banks, materials, practice parts.

    Raises ``WrongSecret`` or ``TooManyTries`` for the code, ``Refused`` for a name that is none, ``Conflict`` when
    somebody was faster.
    """
    name = check_name("name", command.name)
    login = check_login("login", command.login or suggest_login(name), ())
    guards = (accounts.Guard(f"first|{address}", accounts.FAILURES, say("setting up")),)
    tried = accounts.claim(unit, None, guards)
    unit.run(lambda w: _check_code(w, command.code))
    unit.run(lambda w: accounts.forget_tries(w, tried))
    person = setting_up.NewPerson(uuid.uuid4(), login, name, Role.INSTRUCTOR, command.password, command.pin)
    shop = setting_up.NewShop(
        name=command.shop,
        school=command.school,
        unit=command.unit,
        groups=((uuid.uuid4(), command.group),),
        people=(person,),
        machines=(),
        instruments=(),
        rules=USUAL_RULES[command.unit],
        projection=command.projection,
    )
    hashes = setting_up.hashes_of(shop)
    boss = Who(person.id, name, Role.INSTRUCTOR)

    def begin(w: Work) -> None:
        _check_code(w, command.code)
        setting_up.write(w, shop, hashes)
        for data in shipped.parts().values():
            library.add_project(w, boss, uuid.uuid4(), uuid.uuid4(), data)

    unit.run(begin)
    return FirstRunDone(login=login)


def _check_code(w: Work, code: str) -> None:
    if setting_up.is_set_up(w):
        raise Conflict(say("This shop is set up already: sign in."))
    row = w.db.get(t.FirstCode, 1)
    if row is None or row.ends_at <= w.now or row.code_hash != accounts.digest(rules.as_typed(code)):
        raise accounts.WrongSecret(
            say("That is not the code of this server, or it has expired. Start the server again: it prints a new one.")
        )
