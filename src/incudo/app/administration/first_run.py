"""An empty installation becomes a shop: a code that its server printed, then who teaches there and how it works."""

from __future__ import annotations

import json
import uuid
from collections.abc import Callable
from typing import Annotated

from pydantic import StringConstraints

from incudo import shipped
from incudo.app.administration.manner import SpellingOffered, check_spelling, check_zone, spellings_offered
from incudo.app.kernel.unit import Unit, Who, Work
from incudo.app.kernel.views import Command, View
from incudo.app.parts import library
from incudo.app.people import accounts
from incudo.app.people.joining import new_signs
from incudo.app.shop.tables import TableName, keep
from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.quantity import LengthUnit
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import School
from incudo.core.parts.drawing.placed import Projection
from incudo.core.people import joining as rules
from incudo.core.people.class_list import check_login, check_name, suggest_login
from incudo.core.people.roles import Role
from incudo.core.setup.standard import USUAL_RULES
from incudo.core.skills.permission import CONFIRMED_MINUTES
from incudo.store import schema as t
from incudo.store.shop.shop import has_shop

#: The id of something that is made, from what it is and its name.
Ids = Callable[[str, str], uuid.UUID]


class FirstRunView(View):
    """Whether this installation is empty still."""

    empty: bool
    spellings: tuple[SpellingOffered, ...]


class FirstRunCommand(Command):
    """The shop, and the instructor who sets it up. Without a sign-in name one is made from the name."""

    code: Annotated[str, StringConstraints(min_length=1, max_length=40)]
    shop: Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)]
    unit: LengthUnit
    school: School
    projection: Projection
    zone: Annotated[str, StringConstraints(max_length=64)]
    spelling: Annotated[str, StringConstraints(max_length=20)] = ""
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
    return FirstRunView(empty=not is_set_up(w), spellings=spellings_offered())


def first_code(w: Work) -> str:
    """A new code for an empty installation, as it is printed; empty when there is a shop already."""
    if is_set_up(w):
        return ""
    signs = new_signs()
    w.db.merge(t.FirstCode(id=1, code_hash=accounts.digest(signs), ends_at=w.now + rules.FIRST))
    w.db.flush()
    return rules.written(signs)


def first_run(unit: Unit, command: FirstRunCommand, address: str, ids: Ids | None = None) -> FirstRunDone:
    """Set up the shop with what is shipped: skills, question banks, materials, practice parts.

    ``ids`` gives what is made known ids: the person and the group by sign-in name and name, the parts
    ("project", "version") by their short names. Raises ``WrongSecret`` or ``TooManyTries`` for the code, ``Refused``
    for a name that is none, ``Conflict`` when somebody was faster.
    """
    ids = ids or (lambda *_: uuid.uuid4())
    name = check_name("name", command.name)
    login = check_login("login", command.login or suggest_login(name), ())
    check_zone("zone", command.zone)
    check_spelling("spelling", command.spelling)
    guards = (accounts.Guard(f"first|{address}", accounts.FAILURES, say("setting up")),)
    tried = accounts.claim(unit, None, guards)
    unit.run(lambda w: _check_code(w, command.code))
    unit.run(lambda w: accounts.forget_tries(w, tried))
    boss, group = Who(ids("person", login), name, Role.INSTRUCTOR), ids("group", command.group)
    password, pin = accounts.hash_secret(command.password), accounts.hash_secret(command.pin)
    parts = {(ids("project", code), ids("version", code)): data for code, data in shipped.parts().items()}

    def begin(w: Work) -> None:
        _check_code(w, command.code)
        _found(w, command)
        row = t.Person(id=boss.id, login=login, name=name, role=boss.role.value, active=True)
        row.password_hash, row.pin_hash = password, pin
        w.db.add_all((row, t.Group(id=group, name=command.group)))
        w.db.flush()
        for (project, version), data in parts.items():
            library.add_project(w, boss, project, version, data)

    unit.run(begin)
    return FirstRunDone(login=login)


def is_set_up(w: Work) -> bool:
    """Whether this database holds a shop."""
    return has_shop(w.db)


def _found(w: Work, command: FirstRunCommand) -> None:
    """The shop with its settings, and the skills, question banks and materials that are shipped."""
    w.db.add(
        t.Shop(
            id=1,
            name=command.shop,
            verdict_school=command.school.value,
            unit=command.unit.value,
            confirmed_minutes=CONFIRMED_MINUTES,
            setup_rules=USUAL_RULES[command.unit].model_dump_json(),
            projection=command.projection.value,
            zone=command.zone,
            spelling=command.spelling,
        )
    )
    content = json.dumps(shipped.graph().model_dump(mode="json"), ensure_ascii=False)
    w.db.add(t.SkillFile(number=1, content=content, made_at=w.now))
    for name, bank in shipped.banks().items():
        text = json.dumps(bank.model_dump(mode="json"), ensure_ascii=False)
        w.db.add(t.BankVersion(bank=name, number=1, content=text, made_by=None, made_at=w.now))
    w.db.flush()
    keep(w, TableName.MATERIALS, (s.material for s in shipped.materials()))
    keep(w, TableName.RANGES, (r for s in shipped.materials() for r in s.ranges))


def _check_code(w: Work, code: str) -> None:
    if is_set_up(w):
        raise Conflict(say("This shop is set up already: sign in."))
    row = w.db.get(t.FirstCode, 1)
    if row is None or row.ends_at <= w.now or row.code_hash != accounts.digest(rules.as_typed(code)):
        raise accounts.WrongSecret(
            say("That is not the code of this server, or it has expired. Start the server again: it prints a new one.")
        )
