"""Everybody in the shop: who they are, in which group, and what was changed of them; one by one, by hand."""

from __future__ import annotations

import uuid
from datetime import date, datetime, timedelta
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Command, Named, View
from incudo.app.people import accounts, joining
from incudo.app.people.names import names_of
from incudo.core.kernel.errors import Conflict, NotPermitted, Refused
from incudo.core.kernel.say import say
from incudo.core.people import joining as rules
from incudo.core.people.class_list import check_login, check_name, suggest_login
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.people import groups, people, sign_ins
from incudo.store.people import joining as store

#: So many are named in one answer, and so many changes of one person.
MOST, MOST_ACTS = 50, 30

PersonName = Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]
GroupName = Annotated[str, StringConstraints(min_length=2, max_length=60, strip_whitespace=True)]


class GroupLine(View):
    """A group with its term and how many are in it."""

    id: uuid.UUID
    name: str
    begins: date | None
    ends: date | None
    students: int
    over: bool


class PersonLine(View):
    """Somebody. ``code_until`` is there while a code of theirs waits to be used; ``joined`` once they were in."""

    person: Named
    login: str
    role: Role
    group: Named | None
    active: bool
    joined: bool
    code_until: datetime | None
    last_sign_in: datetime | None
    why_not: str


class PeopleList(View):
    """Who was asked for, and all groups; ``more``: not all are named; ``never_in``: so many have not come in yet."""

    people: tuple[PersonLine, ...]
    more: bool
    never_in: int
    groups: tuple[GroupLine, ...]


class PersonActView(View):
    """One change."""

    words: str
    by: str
    at: datetime


class PersonActs(View):
    """What was changed of somebody, the newest first."""

    acts: tuple[PersonActView, ...]


class CodeView(View):
    """A slip for somebody: shown once."""

    person: Named
    login: str
    role: Role
    code: str
    ends_at: datetime


class NewPersonCommand(Command):
    """Somebody new. Without a sign-in name one is made from the name."""

    id: uuid.UUID
    name: PersonName
    login: Annotated[str, StringConstraints(max_length=60, strip_whitespace=True, to_lower=True)]
    role: Role
    group: uuid.UUID | None
    pin: accounts.Pin


class PersonCommand(Command):
    """All that can be changed of somebody, as it is to be."""

    name: PersonName
    role: Role
    group: uuid.UUID | None
    active: bool
    pin: accounts.Pin


class CodeForCommand(Command):
    """A new code for somebody who stands there."""

    pin: accounts.Pin


class GroupCommand(Command):
    """A group and its term; without days it has none."""

    name: GroupName
    begins: Annotated[date | None, Field()]
    ends: Annotated[date | None, Field()]


class NewGroupCommand(GroupCommand):
    """A group that is new."""

    id: uuid.UUID


def people_list(w: Work, who: Who, words: str, role: Role | None, *, active: bool) -> PeopleList:
    """People by parts of their name or sign-in name; ``active`` who works here now, else who has left or pauses."""
    rows = store.people(w.db, w.today, words, role.value if role else "", active=active, limit=MOST + 1)
    shown = rows[:MOST]
    codes = store.newest_of(w.db, (p.id for p, _, _ in shown))
    lines = _groups(w)
    named = {g.id: Named(id=g.id, name=g.name) for g in lines}
    mine = rules.Someone(who.id, who.role)

    def line(p: t.Person, group: uuid.UUID | None, at: datetime | None) -> PersonLine:
        code = codes.get(p.id)
        return PersonLine(
            person=Named(id=p.id, name=p.name),
            login=p.login,
            role=Role(p.role),
            group=named.get(group) if group else None,
            active=p.active,
            joined=bool(p.password_hash),
            code_until=code.ends_at if code and code.ends_at > w.now else None,
            last_sign_in=at,
            why_not=rules.why_not_change(mine, rules.Someone(p.id, Role(p.role))),
        )

    return PeopleList(
        people=tuple(line(*row) for row in shown), more=len(rows) > MOST, never_in=store.never_in(w.db), groups=lines
    )


def person_acts(w: Work, person: uuid.UUID) -> PersonActs:
    """What was changed of somebody. Raises ``NotFound``."""
    find(w, t.Person, person, "person")
    rows = store.acts(w.db, person, MOST_ACTS)
    names = names_of(w, (a.by_id for a in rows if a.by_id))
    return PersonActs(
        acts=tuple(
            PersonActView(words=a.words, by=names[a.by_id] if a.by_id else say("the server"), at=a.at) for a in rows
        )
    )


def add_person(w: Work, who: Who, command: NewPersonCommand) -> CodeView:
    """Somebody new, with the code by which they come in: it is shown once, here.

    Raises ``Refused`` for a name that is none, a sign-in name that is taken, and a group that only students are in;
    ``Conflict`` for an act that was done before: its code cannot be shown again.
    """
    if w.db.get(t.Person, command.id) is not None:
        raise Conflict(say("They were added already. A code is shown once: make a new one for them."))
    name = check_name("name", command.name)
    login = check_login("login", command.login or suggest_login(name), people.logins(w.db))
    if command.group and command.role is not Role.STUDENT:
        raise Refused.of("group", "", say("is for students"))
    group = find(w, t.Group, command.group, "group") if command.group else None
    return enter(w, who, t.Person(id=command.id, login=login, name=name, role=command.role.value), group)


def enter(w: Work, who: Who, person: t.Person, group: t.Group | None) -> CodeView:
    """Enter somebody whose name and sign-in name were checked, in a group or in none, with the code to come in by."""
    person.password_hash, person.pin_hash, person.active = "", None, True
    w.db.add(person)
    w.db.flush()
    if group:
        _enrol(w, person.id, group)
    said = say("Added as {role}, to sign in as {login}.", role=Role(person.role), login=person.login)
    _note(w, person.id, who.id, said)
    return _slip(w, who.id, person)


def new_code(w: Work, who: Who, person_id: uuid.UUID) -> CodeView:
    """A new code for somebody: for the first time, or because a password was forgotten. Codes before hold no more.

    Raises ``NotPermitted`` for another instructor, ``Conflict`` for somebody who has left.
    """
    person = _mine_to_change(w, who, person_id)
    if not person.active:
        raise Conflict(say("{name} is marked as away or left: change that first.", name=person.name))
    _note(w, person.id, who.id, say("Was given a new code."))
    return _slip(w, who.id, person)


def change_person(w: Work, who: Who, person_id: uuid.UUID, command: PersonCommand) -> PeopleList:
    """Change name, role, group, or whether somebody works here. Gives them as they are then.

    Whoever leaves is signed out everywhere, and their group and what is delegated to them end. Raises ``NotPermitted``
    for another instructor, and ``Refused`` for what one cannot do to oneself or for a group that is for students.
    """
    person = _mine_to_change(w, who, person_id)
    mine, was = rules.Someone(who.id, who.role), Role(person.role)
    why = rules.why_not_become(mine, rules.Someone(person.id, was), role=command.role, active=command.active)
    if why:
        raise Refused.of("role", command.role, why)
    if command.group and (command.role is not Role.STUDENT or not command.active):
        raise Refused.of("group", "", say("is for students who work here"))
    name = check_name("name", command.name)
    if name != person.name:
        _note(w, person.id, who.id, say("Name: {before} became {after}.", before=person.name, after=name))
        person.name = name
    if command.role is not was:
        _note(w, person.id, who.id, say("Role: {before} became {after}.", before=was, after=command.role))
        person.role = command.role.value
        person.pin_hash = None
        if command.role in rules.WITH_PIN:
            # what confirms acts is chosen anew, by a code
            person.password_hash = ""
        people.delegate(w.db, person.id, set())
        sign_ins.end_other_sign_ins(w.db, person.id, "")
    if command.active and not person.active:
        _note(w, person.id, who.id, say("Came back."))
        person.active = True
    elif person.active and not command.active:
        mark_left(w, who, person)
    _move(w, who, person, command.group)
    w.db.flush()
    found = people_list(w, who, person.login, command.role, active=command.active)
    return found.model_copy(update={"people": tuple(p for p in found.people if p.person.id == person.id)})


def mark_left(w: Work, who: Who, person: t.Person) -> None:
    """Somebody is away or has left: signed out everywhere, and nothing is delegated to them any more."""
    _note(w, person.id, who.id, say("Marked as away or left."))
    person.active = False
    people.delegate(w.db, person.id, set())
    sign_ins.end_other_sign_ins(w.db, person.id, "")
    w.db.flush()


def add_group(w: Work, command: NewGroupCommand) -> PeopleList:
    """A new group. Raises ``Refused`` for a name that is taken and a term that ends before it begins."""
    _check_group(w, command, None)
    if w.db.get(t.Group, command.id) is None:
        w.db.add(t.Group(id=command.id, name=command.name, begins=command.begins, ends=command.ends))
        w.db.flush()
    return PeopleList(people=(), more=False, never_in=store.never_in(w.db), groups=_groups(w))


def change_group(w: Work, group: uuid.UUID, command: GroupCommand) -> PeopleList:
    """Change a group's name and term; when it is over its students are in no group. Raises like ``add_group``."""
    row = find(w, t.Group, group, "group")
    people.lock_group(w.db, row.id)
    _check_group(w, command, row.id)
    row.name, row.begins, row.ends = command.name, command.begins, command.ends
    w.db.flush()
    return PeopleList(people=(), more=False, never_in=store.never_in(w.db), groups=_groups(w))


def _check_group(w: Work, command: GroupCommand, mine: uuid.UUID | None) -> None:
    there = groups.group_named(w.db, command.name)
    repeated = isinstance(command, NewGroupCommand) and there is not None and there.id == command.id
    if there is not None and there.id != mine and not repeated:
        raise Refused.of("name", command.name, say("is another group's name"))
    if command.begins and command.ends and command.ends < command.begins:
        raise Refused.of("ends", command.ends, say("must not be before it begins"))


def _groups(w: Work) -> tuple[GroupLine, ...]:
    day, many = w.today, store.in_groups(w.db, w.today)
    return tuple(
        GroupLine(
            id=g.id,
            name=g.name,
            begins=g.begins,
            ends=g.ends,
            students=many.get(g.id, 0),
            over=g.ends is not None and g.ends < day,
        )
        for g in store.all_groups(w.db)
    )


def _mine_to_change(w: Work, who: Who, person_id: uuid.UUID) -> t.Person:
    """Somebody whom this person may change, one change after the other."""
    people.lock_person(w.db, person_id)
    person = find(w, t.Person, person_id, "person")
    why = rules.why_not_change(rules.Someone(who.id, who.role), rules.Someone(person.id, Role(person.role)))
    if why:
        raise NotPermitted(why)
    return person


def _move(w: Work, who: Who, person: t.Person, group: uuid.UUID | None) -> None:
    """Into another group from today on; what was before stays as it was."""
    day = w.today
    now = groups.group_of(w.db, person.id, day)
    if (now.id if now else None) == group:
        return
    for e in store.enrolments_of(w.db, person.id, day):
        if e.begins >= day:
            w.db.delete(e)
        else:
            e.ends = day - timedelta(days=1)
    w.db.flush()
    before = now.name if now else say("none")
    if group is None:
        _note(w, person.id, who.id, say("Group: {before} became {after}.", before=before, after=say("none")))
        return
    row = find(w, t.Group, group, "group")
    _enrol(w, person.id, row)
    _note(w, person.id, who.id, say("Group: {before} became {after}.", before=before, after=row.name))


def _enrol(w: Work, person: uuid.UUID, group: t.Group) -> None:
    if group.ends is not None and group.ends < w.today:
        raise Refused.of("group", group.name, say("must be a group whose term is not over"))
    w.db.add(t.Enrolment(id=uuid.uuid4(), person_id=person, group_id=group.id, begins=w.today))
    w.db.flush()


def _note(w: Work, person: uuid.UUID, by: uuid.UUID | None, words: str) -> None:
    w.db.add(t.PersonAct(id=uuid.uuid4(), person_id=person, by_id=by, words=words, at=w.now))
    w.db.flush()


def _slip(w: Work, by: uuid.UUID | None, person: t.Person) -> CodeView:
    code, ends = joining.make_code(w, person, by)
    named = Named(id=person.id, name=person.name)
    return CodeView(person=named, login=person.login, role=Role(person.role), code=code, ends_at=ends)


def code_by_server(w: Work, login: str) -> CodeView:
    """A code made by whoever runs the server, for an instructor above all. Raises ``Refused`` for an unknown name."""
    person = people.person_by_login(w.db, login.strip().lower())
    if person is None or not person.active:
        raise Refused.of("login", login, say("must be the sign-in name of somebody who works here"))
    _note(w, person.id, None, say("Was given a new code."))
    return _slip(w, None, person)
