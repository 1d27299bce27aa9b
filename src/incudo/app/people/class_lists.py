"""Importing a class list: a report per line first, and nothing from a list with errors unless told so."""

from __future__ import annotations

import uuid
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Unit, Work
from incudo.app.kernel.views import Command, View
from incudo.app.people.accounts import hash_secret
from incudo.app.people.joining import new_signs
from incudo.core.kernel.errors import Conflict, FieldError, Refused
from incudo.core.kernel.say import say
from incudo.core.people.class_list import Line, read_class_list
from incudo.core.people.joining import written
from incudo.store import schema as t
from incudo.store.people import groups
from incudo.store.people import people as store


class ClassListText(Command):
    """A class list as CSV text, and the group that it is for."""

    group: Annotated[str, StringConstraints(min_length=2, max_length=60, strip_whitespace=True)]
    text: Annotated[str, StringConstraints(min_length=1, max_length=100_000)]


class ClassListCommand(ClassListText):
    """Import the list. ``skip_faulty`` takes the good lines of a list that has bad ones."""

    id: uuid.UUID
    skip_faulty: bool = False


class ListLine(View):
    """What becomes of one line. The first password is shown once, here."""

    number: int
    name: str
    login: str
    faults: tuple[str, ...]
    password: str


class ClassListReport(View):
    """The report, line by line. ``group_id`` is there once somebody was put into the group."""

    group: str
    group_id: uuid.UUID | None
    new_group: bool
    lines: tuple[ListLine, ...]
    good: int
    faulty: int
    imported: int


def check_class_list(w: Work, command: ClassListText) -> ClassListReport:
    """What would become of each line; changes nothing."""
    lines = read_class_list(command.text, store.logins(w.db))
    return _report(w, command, lines, {}, 0)


def take_class_list(unit: Unit, command: ClassListCommand) -> ClassListReport:
    """Put the students of a list into a group, each with a first password of their own.

    Raises ``Refused`` with every fault when the list has any and ``skip_faulty``
    was not said. A repeat of the same command does nothing but say so.
    """
    lines = unit.run(lambda w: read_class_list(command.text, store.logins(w.db)))
    passwords = {line.login: _password() for line in lines if not line.faults}
    hashes = {login: hash_secret(p) for login, p in passwords.items()}
    return unit.run(lambda w: _take(w, command, passwords, hashes))


def _take(w: Work, command: ClassListCommand, passwords: dict[str, str], hashes: dict[str, str]) -> ClassListReport:
    if any(w.db.get(t.Person, _person_id(command, login)) for login in hashes) or _taken_before(w, command):
        raise Conflict(say("This list was imported already; the students are in their group."))
    lines = read_class_list(command.text, store.logins(w.db))
    faulty = [line for line in lines if line.faults]
    if faulty and not command.skip_faulty:
        raise Refused(*(FieldError(say("line {number}", number=x.number), x.name, "; ".join(x.faults)) for x in faulty))
    good = [line for line in lines if not line.faults and line.login in hashes]
    if not good:
        raise Refused.of("text", "", say("no line of this list can be imported"))
    report = _report(w, command, lines, passwords, len(good))
    group = groups.group_named(w.db, command.group)
    if group is None:
        group = t.Group(id=uuid.uuid5(command.id, "group"), name=command.group)
        w.db.add(group)
        w.db.flush()
    for line in good:
        person = _person_id(command, line.login)
        w.db.add(
            t.Person(
                id=person,
                login=line.login,
                name=line.name,
                role="student",
                password_hash=hashes[line.login],
                pin_hash=None,
                active=True,
            )
        )
        w.db.flush()
        w.db.add(t.Enrolment(id=person, person_id=person, group_id=group.id, begins=w.now.date()))
    w.db.flush()
    return report.model_copy(update={"group_id": group.id})


def _person_id(command: ClassListCommand, login: str) -> uuid.UUID:
    return uuid.uuid5(command.id, login)


def _taken_before(w: Work, command: ClassListCommand) -> bool:
    lines = read_class_list(command.text, ())
    return any(w.db.get(t.Person, _person_id(command, line.login)) is not None for line in lines)


def _report(
    w: Work, command: ClassListText, lines: tuple[Line, ...], passwords: dict[str, str], taken: int
) -> ClassListReport:
    good = sum(not line.faults for line in lines)
    return ClassListReport(
        group=command.group,
        group_id=None,
        new_group=groups.group_named(w.db, command.group) is None,
        lines=tuple(
            ListLine(
                number=x.number,
                name=x.name,
                login=x.login,
                faults=x.faults,
                password="" if x.faults else passwords.get(x.login, ""),
            )
            for x in lines
        ),
        good=good,
        faulty=len(lines) - good,
        imported=taken,
    )


def _password() -> str:
    return written(new_signs())
