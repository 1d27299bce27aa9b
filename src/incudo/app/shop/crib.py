"""The crib's counter: handing out cutters and gauges, taking them back, what is missing."""

from __future__ import annotations

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from incudo import shipped
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Command, Named, Note, View
from incudo.app.people.names import names_of
from incudo.app.register.chain import record
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.tags import closed_words
from incudo.app.shop.tooling import cutter_of, cutters
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.say import say, together
from incudo.core.people.roles import Role
from incudo.store import schema as t
from incudo.store.people import groups
from incudo.store.session import sessions as session_store
from incudo.store.shop import crib as store
from incudo.store.shop import instruments, machines

_HISTORY = 20


class Condition(StrEnum):
    """How a thing came back. BROKEN and MISSING take it off the register's number; a gauge is tagged out."""

    FINE = "fine"
    WORN = "worn"
    BROKEN = "broken"
    MISSING = "missing"


class ThingView(View):
    """A cutter or a gauge at the counter: how many are in, or why none is handed out."""

    id: uuid.UUID
    name: str
    kind: str
    gauge: bool
    place: str
    inside: int
    owned: int
    closed: str
    cautions: tuple[str, ...]


class OutView(View):
    """Something that is out. ``late`` is from a session that is over."""

    id: uuid.UUID
    thing: Named
    person: Named
    by: str
    at: datetime
    late: bool


class BackView(View):
    """Something that came back."""

    thing: str
    person: str
    condition: Condition
    note: str
    at: datetime


class CribPage(View):
    """The counter. A student sees what they have themselves."""

    things: tuple[ThingView, ...]
    people: tuple[Named, ...]
    out: tuple[OutView, ...]
    back: tuple[BackView, ...]
    session: str


class IssueCommand(Command):
    """Hand a cutter or a gauge out; exactly one of both is named."""

    id: uuid.UUID
    person: uuid.UUID
    cutter: uuid.UUID | None = None
    instrument: uuid.UUID | None = None
    note: Note = ""


class GiveBackCommand(Command):
    """It came back; ``condition`` says how."""

    condition: Condition = Condition.FINE
    note: Annotated[str, Field(max_length=400)] = ""


def crib_page(w: Work, who: Who) -> CribPage:
    """The counter as it stands."""
    own = who.id if who.role is Role.STUDENT else None
    out = store.out_now(w.db)
    meeting = session_store.open_meeting(w.db)
    names = machines.all_names(w.db)
    last = store.last_issued(w.db, _HISTORY * 3, own)
    return CribPage(
        things=(*_cutters(w, out), *_gauges(w, out)),
        people=_people(w, meeting) if own is None else (),
        out=tuple(_out(x, names, meeting) for x in out if own in (None, x.issue.person_id)),
        back=tuple(_back(x, names) for x in last if x.back)[:_HISTORY],
        session=find(w, t.Group, meeting.group_id, "group").name if meeting else "",
    )


def _thing(x: store.Issued) -> uuid.UUID:
    found = x.issue.cutter_id or x.issue.instrument_id
    if found is None:
        raise AssertionError("an issue names a cutter or an instrument")
    return found


def _cutters(w: Work, out: list[store.Issued]) -> list[ThingView]:
    closed, holders = closed_words(w), shipped.holders()
    gone = [x.issue.cutter_id for x in out]
    return [
        ThingView(
            id=i,
            name=c.name,
            kind=c.kind,
            gauge=False,
            place=c.place,
            inside=max(c.owned - gone.count(i), 0),
            owned=c.owned,
            closed=closed.get(i, ""),
            cautions=holders[c.holder].cautions if c.holder in holders else (),
        )
        for i, c in cutters(w).items()
    ]


def _gauges(w: Work, out: list[store.Issued]) -> list[ThingView]:
    closed = closed_words(w)
    gone = {x.issue.instrument_id for x in out}
    return [
        ThingView(
            id=i.id,
            name=i.name,
            kind=i.kind,
            gauge=True,
            place="",
            inside=0 if i.id in gone else 1,
            owned=1,
            closed=closed.get(i.id, ""),
            cautions=tuple(x for x in (instrument_of(i, {}).cannot_decide(w.today),) if x),
        )
        for i in instruments.instruments(w.db)
    ]


def _people(w: Work, meeting: t.Meeting | None) -> tuple[Named, ...]:
    """Who is at the counter: the open session's group and whoever is on its roll, these first. Others are searched."""
    if meeting is None:
        return ()
    roll = names_of(w, session_store.roll(w.db, meeting.id))
    group = {p.id: p.name for p in groups.students_of(w.db, meeting.group_id, w.today)}
    by_name = sorted((group | roll).items(), key=lambda x: (x[0] not in roll, x[1]))
    return tuple(Named(id=i, name=name) for i, name in by_name)


def _out(x: store.Issued, names: dict[uuid.UUID, str], meeting: t.Meeting | None) -> OutView:
    return OutView(
        id=x.issue.id,
        thing=Named(id=_thing(x), name=names.get(_thing(x), "")),
        person=Named(id=x.issue.person_id, name=x.person),
        by=x.by,
        at=x.issue.at,
        late=meeting is None or x.issue.at < meeting.opened_at,
    )


def not_back(w: Work, meeting: t.Meeting | None) -> tuple[OutView, ...]:
    """What is out: this is missing when the session ends."""
    names = machines.all_names(w.db)
    return tuple(_out(x, names, meeting) for x in store.out_now(w.db))


def _back(x: store.Issued, names: dict[uuid.UUID, str]) -> BackView:
    if x.back is None:
        raise AssertionError("it is still out")
    return BackView(
        thing=names.get(_thing(x), ""),
        person=x.person,
        condition=Condition(x.back.condition),
        note=x.back.note,
        at=x.back.at,
    )


def issue(w: Work, who: Who, command: IssueCommand) -> CribPage:
    """Hand something out. Raises ``Conflict`` when it is closed or none is left."""
    if (command.cutter is None) is (command.instrument is None):
        raise Refused.of("cutter", command.cutter, say("name a cutter or an instrument, not both"))
    person = find(w, t.Person, command.person, "person")
    if not person.active:
        raise Refused.of("person", person.name, say("is not here any more"))
    row = t.CribIssue(
        id=command.id,
        cutter_id=command.cutter,
        instrument_id=command.instrument,
        person_id=person.id,
        by_id=who.id,
        note=command.note,
        at=w.now,
    )
    if w.db.get(t.CribIssue, command.id) is None:
        _may_go_out(w, command)
    insert_once(w, row, ignoring=("at", "by_id"))
    return crib_page(w, who)


def _may_go_out(w: Work, command: IssueCommand) -> None:
    """The row is held until the end of the transaction, so that the last one is handed out once."""
    held: t.Cutter | t.Instrument | None = None
    if command.cutter:
        held = store.locked_cutter(w.db, command.cutter)
    elif command.instrument:
        held = store.locked_instrument(w.db, command.instrument)
    if held is None:
        field = "cutter" if command.cutter else "instrument"
        raise Refused.of(field, command.cutter or command.instrument, say("is not in the register"))
    thing, name = held.id, held.name
    owned = cutter_of(held).owned if isinstance(held, t.Cutter) else 1
    if held.gone:
        raise Conflict(say("{name} is no longer in the shop: {why}", name=name, why=held.gone))
    if why := closed_words(w).get(thing, ""):
        raise Conflict(say("{name} is tagged out: {why}", name=name, why=why))
    gone = store.out_with(w.db, thing)
    if len(gone) >= owned:
        has = say("; out with {listed}", listed=together(gone, ", ")) if gone else ""
        raise Conflict(say("There is no {name} left{has}.", name=name, has=has))


def give_back(w: Work, who: Who, issue_id: uuid.UUID, command: GiveBackCommand) -> CribPage:
    """It came back. What is broken or missing leaves the register's number; a gauge that is broken is tagged out."""
    issued = find(w, t.CribIssue, issue_id, "issue")
    if command.condition is not Condition.FINE and len(command.note.strip()) < 3:
        raise Refused.of("note", command.note, say("must say what happened, at least 3 letters"))
    row = t.CribReturn(
        issue_id=issue_id, by_id=who.id, condition=command.condition.value, note=command.note.strip(), at=w.now
    )
    if not insert_once(w, row, ignoring=("at", "by_id")):
        return crib_page(w, who)
    lost = command.condition in (Condition.BROKEN, Condition.MISSING)
    if lost and issued.cutter_id:
        kept = store.locked_cutter(w.db, issued.cutter_id)
        if kept:
            c = cutter_of(kept)
            kept.content = c.model_copy(update={"owned": max(c.owned - 1, 0)}).model_dump_json()
            w.memo.pop("cutters", None)
    elif lost and issued.instrument_id:
        tag = t.Tag(
            id=uuid.uuid5(issue_id, "tag"),
            machine_id=None,
            instrument_id=issued.instrument_id,
            cutter_id=None,
            person_id=who.id,
            note=say("{condition}: {note}", condition=command.condition, note=command.note.strip())[:400],
            at=w.now,
        )
        if insert_once(w, tag, ignoring=("at",)):
            record(w, tag)
            w.memo.pop("closed", None)
    w.db.flush()
    return crib_page(w, who)
