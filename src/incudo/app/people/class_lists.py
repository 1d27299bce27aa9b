"""Importing a class list: a report per line first, and nothing from a list with errors unless told so."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Annotated

from pydantic import StringConstraints

from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Command, View
from incudo.app.people import accounts, everybody
from incudo.core.kernel.errors import Conflict, FieldError, Refused
from incudo.core.kernel.say import say
from incudo.core.people.class_list import Line, read_class_list
from incudo.core.people.roles import Role
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
    pin: accounts.Pin


class ListLine(View):
    """What becomes of one line. The code to come in by is shown once, here, with until when it can be used."""

    number: int
    name: str
    login: str
    faults: tuple[str, ...]
    code: str
    code_until: datetime | None


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
    return _report(w, command, lines)


def take_class_list(w: Work, who: Who, command: ClassListCommand) -> ClassListReport:
    """Put the students of a list into a group, each with a code to come in by.

    Raises ``Refused`` with every fault when the list has any and ``skip_faulty`` was not said, or for a group whose
    term is over; ``Conflict`` for a list that was imported before: its codes cannot be shown again.
    """
    before = read_class_list(command.text, ())
    if any(w.db.get(t.Person, _person_id(command, line.login)) for line in before):
        raise Conflict(say("This list was imported already; the students are in their group."))
    lines = read_class_list(command.text, store.logins(w.db))
    faulty = [line for line in lines if line.faults]
    if faulty and not command.skip_faulty:
        raise Refused(*(FieldError(say("line {number}", number=x.number), x.name, "; ".join(x.faults)) for x in faulty))
    good = [line for line in lines if not line.faults]
    if not good:
        raise Refused.of("text", "", say("no line of this list can be imported"))
    report = _report(w, command, lines)
    group = groups.group_named(w.db, command.group)
    if group is None:
        group = t.Group(id=uuid.uuid5(command.id, "group"), name=command.group)
        w.db.add(group)
        w.db.flush()
    slips = {}
    for line in good:
        person = t.Person(id=_person_id(command, line.login), login=line.login, name=line.name, role=Role.STUDENT.value)
        slips[line.login] = everybody.enter(w, who, person, group)
    told = tuple(_with_slip(line, slips.get(line.login)) if not line.faults else line for line in report.lines)
    return report.model_copy(update={"group_id": group.id, "lines": told, "imported": len(slips)})


def _person_id(command: ClassListCommand, login: str) -> uuid.UUID:
    return uuid.uuid5(command.id, login)


def _with_slip(line: ListLine, slip: everybody.CodeView | None) -> ListLine:
    return line.model_copy(update={"code": slip.code, "code_until": slip.ends_at}) if slip else line


def _report(w: Work, command: ClassListText, lines: tuple[Line, ...]) -> ClassListReport:
    good = sum(not line.faults for line in lines)
    return ClassListReport(
        group=command.group,
        group_id=None,
        new_group=groups.group_named(w.db, command.group) is None,
        lines=tuple(
            ListLine(number=x.number, name=x.name, login=x.login, faults=x.faults, code="", code_until=None)
            for x in lines
        ),
        good=good,
        faulty=len(lines) - good,
        imported=0,
    )
