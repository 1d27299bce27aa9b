"""What a student sees at a machine who is about to start."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from datetime import datetime

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Named, View
from incudo.app.parts.attempts import AttemptFile, newest_attempts
from incudo.app.people.names import names_of
from incudo.app.session.shopfloor import RunView, Shop, as_listed, device_of, here, run_view, shop_now
from incudo.app.skills.standings import standing_of
from incudo.app.skills.views import CautionView, caution_views
from incudo.core.kernel.say import say
from incudo.core.people.roles import Role
from incudo.core.session.at_machine import AtMachine
from incudo.core.session.calls import KEPT, CallKind
from incudo.core.session.prestart import points
from incudo.core.skills.permission import Answer, decide
from incudo.store import schema as t
from incudo.store.parts import attempts as attempt_store
from incudo.store.session import calling


class PrestartPoint(View):
    """One point to tick before the start, with its reason."""

    id: str
    text: str
    why: str


class StartOption(View):
    """One operation at this machine and the answer for it now."""

    operation: str
    name: str
    on_part: bool
    answer: Answer
    starts: bool
    reasons: tuple[str, ...]
    assessors: tuple[str, ...]
    confirmed_by: str
    confirmed_until: datetime | None
    called: uuid.UUID | None
    cautions: tuple[CautionView, ...]


class CardOption(View):
    """A job card that the student may work on here."""

    assignment: uuid.UUID
    name: str
    operations: tuple[str, ...]


class StartPage(View):
    """A machine as the person in front of it sees it."""

    machine: Named
    about: str
    session: str
    closed: tuple[str, ...]
    people: tuple[Named, ...]
    handles: Named | None
    here: bool
    listed: bool
    points: tuple[PrestartPoint, ...]
    cards: tuple[CardOption, ...]
    options: tuple[StartOption, ...]
    run: RunView | None
    spindle: bool
    linked: bool


def start_page(w: Work, who: Who, machine_id: uuid.UUID) -> StartPage:
    """A machine as this person sees it; the options are worked out for a student only."""
    machine = find(w, t.Machine, machine_id, "machine")
    shop = shop_now(w)
    state = shop.states.get(machine_id, AtMachine())
    people = names_of(w, {uuid.UUID(p) for p in state.people})
    group = find(w, t.Group, shop.meeting.group_id, "group").name if shop.meeting else ""
    closed = [shop.stopped] if shop.stopped else []
    if tag := shop.closed.get(machine_id):
        closed.append(say("{name} is tagged out: {tag}", name=machine.name, tag=tag))
    cards = open_cards(w, who, machine_id) if who.role is Role.STUDENT else []
    device = device_of(w, machine_id)
    return StartPage(
        machine=Named(id=machine.id, name=machine.name),
        about=machine.about,
        session=group,
        closed=tuple(closed),
        people=tuple(Named(id=uuid.UUID(p), name=people[uuid.UUID(p)]) for p in state.people),
        handles=_named(people, state.handles),
        here=str(who.id) in state.people,
        listed=state.listed,
        points=tuple(PrestartPoint(id=c.id, text=c.text, why=c.why) for c in points(listed=state.listed)),
        cards=tuple(
            CardOption(assignment=f.assignment.id, name=f.project.name, operations=f.project.operations) for f in cards
        ),
        options=_options(w, shop, who, machine_id, cards) if who.role is Role.STUDENT else (),
        run=run_view(w, shop, machine_id),
        spindle=device is not None and device.spindle,
        linked=device is not None,
    )


def _named(names: Mapping[uuid.UUID, str], person: str) -> Named | None:
    return Named(id=uuid.UUID(person), name=names[uuid.UUID(person)]) if person else None


def open_cards(w: Work, who: Who, machine: uuid.UUID) -> list[AttemptFile]:
    """The parts that this student is making, those for this machine first."""
    files = newest_attempts(w, attempt_store.open_cards(w.db, [who.id]))
    open_ = [f for f in files if not f.over and f.pending is None]
    return sorted(open_, key=lambda f: f.assignment.machine_id != machine)


def _options(w: Work, shop: Shop, who: Who, machine: uuid.UUID, cards: list[AttemptFile]) -> tuple[StartOption, ...]:
    """Every operation with its answer now; those of the student's own job cards first."""
    book = standing_of(w, who.id)
    of_card = {o: f for f in reversed(cards) for o in f.project.operations}
    called = {
        c.what: c.id
        for c, end, _ in calling.calls_of(w.db, who.id, w.now - KEPT)
        if end is None and c.kind == CallKind.START and c.machine_id == machine
    }
    found = []
    for s in book.graph.skills:
        if not s.operation:
            continue
        facts = here(w, shop, who.id, machine, s.id, [of_card[s.id]] if s.id in of_card else cards)
        d = decide(book, (s.id,), str(machine), as_listed(facts))
        found.append(
            StartOption(
                operation=s.id,
                name=s.name,
                on_part=s.id in of_card,
                answer=d.answer,
                starts=d.starts,
                reasons=d.reasons,
                assessors=d.assessors,
                confirmed_by=d.confirmed.assessor if d.confirmed else "",
                confirmed_until=d.confirmed.until if d.confirmed else None,
                called=called.get(s.id),
                cautions=caution_views(book.graph, s.id),
            )
        )
    return tuple(sorted(found, key=lambda o: not o.on_part))
