"""The shop: its schools, machines, instruments and people."""

from __future__ import annotations

import uuid
from datetime import date
from enum import Enum
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.administration.changed import changed, changed_rules
from incudo.app.administration.manner import SpellingOffered, check_spelling, check_zone, spellings_offered
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Both, Command, Named, View
from incudo.app.setup.standards import setup_rules
from incudo.app.shop.gone import note_change
from incudo.app.shop.instruments import InstrumentView, instrument_of, instrument_view
from incudo.app.shop.tags import closed_words
from incudo.app.skills.graph import skill_graph
from incudo.app.skills.views import SkillName
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import LengthUnit, Unit
from incudo.core.kernel.say import say, together
from incudo.core.measuring.verdict import School
from incudo.core.parts.drawing.placed import Projection
from incudo.core.people.roles import Role
from incudo.core.setup.standard import SetupRules
from incudo.store import schema as t
from incudo.store.people import people as people_store
from incudo.store.shop import instruments, machines

#: How long a confirmation can be said to hold, in minutes.
MINUTES = (15, 30, 45, 60)


class MachineView(View):
    """A machine of the shop; ``tagged_out`` says why it is out of service, if it is."""

    id: uuid.UUID
    name: str
    about: str
    tagged_out: str


class InstrumentRow(InstrumentView):
    """An instrument in the shop's register."""

    due: date
    least_width: Both
    zero_error: str
    tagged_out: str
    #: Whether it answers yes or no and has no reading.
    answers: bool


class AssistantView(View):
    """An assistant and what is delegated to them."""

    person: Named
    skills: tuple[SkillName, ...]


class ShopView(View):
    """The shop as it stands."""

    name: str
    unit: Unit
    school: School
    confirmed_minutes: int
    minutes_offered: tuple[int, ...]
    projection: Projection
    zone: str
    spelling: str
    spellings: tuple[SpellingOffered, ...]
    setup_rules: SetupRules
    machines: tuple[MachineView, ...]
    instruments: tuple[InstrumentRow, ...]
    assistants: tuple[AssistantView, ...]
    delegable: tuple[SkillName, ...]


class DelegationCommand(Command):
    """Everything that an assistant may sign from now on."""

    assistant: uuid.UUID
    skills: Annotated[tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=200)]


class ShopCommand(Command):
    """Change the shop's name, unit, school of judging, how long a confirmation holds, how it sets up, draws, writes."""

    school: School
    confirmed_minutes: Annotated[int, Field(ge=5, le=240)] | None = None
    setup_rules: SetupRules | None = None
    projection: Projection | None = None
    name: Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)] | None = None
    unit: LengthUnit | None = None
    zone: Annotated[str, StringConstraints(max_length=64)] | None = None
    spelling: Annotated[str, StringConstraints(max_length=20)] | None = None


def shop_view(w: Work) -> ShopView:
    """Machines, instruments, delegations and schools."""
    shop, graph, closed = find(w, t.Shop, 1, "shop"), skill_graph(w), closed_words(w)
    return ShopView(
        name=shop.name,
        unit=Unit(shop.unit),
        school=School(shop.verdict_school),
        confirmed_minutes=shop.confirmed_minutes,
        minutes_offered=tuple(sorted({*MINUTES, shop.confirmed_minutes})),
        projection=Projection(shop.projection),
        zone=shop.zone,
        spelling=shop.spelling,
        spellings=spellings_offered(),
        setup_rules=setup_rules(w),
        machines=tuple(
            MachineView(id=m.id, name=m.name, about=m.about, tagged_out=closed.get(m.id, ""))
            for m in machines.machines(w.db)
        ),
        instruments=tuple(
            InstrumentRow(
                **instrument_view(w, i, instrument_of(i, closed)).model_dump(),
                due=i.due,
                least_width=Both.exactly(instrument_of(i, closed).least_width, Unit(i.unit)),
                zero_error=i.zero_error,
                tagged_out=closed.get(i.id, ""),
                answers=instrument_of(i, closed).answers,
            )
            for i in instruments.instruments(w.db)
        ),
        assistants=tuple(
            AssistantView(
                person=Named(id=p.id, name=p.name),
                skills=tuple(SkillName(id=s.id, name=s.name, group=s.group) for s in graph.skills if s.id in ids),
            )
            for p, ids in people_store.assistants(w.db)
        ),
        delegable=tuple(
            SkillName(id=s.id, name=s.name, group=s.group) for s in graph.skills if s.signed_by == "assistant"
        ),
    )


def delegate(w: Work, who: Who, command: DelegationCommand) -> ShopView:
    """Say what an assistant may sign. Sign-offs that they made stay as they are.

    Raises ``Refused`` for a person who is no assistant and for a skill that only an instructor signs.
    """
    person = find(w, t.Person, command.assistant, "person")
    if person.role != Role.ASSISTANT or not person.active:
        raise Refused.of("assistant", person.name, say("must be an assistant of this shop"))
    may = {s.id for s in skill_graph(w).skills if s.signed_by == "assistant"}
    if beyond := sorted(set(command.skills) - may):
        raise Refused.of("skills", together(beyond, ", "), say("must be skills that an assistant may sign"))
    before: set[str] = next((set(ids) for p, ids in people_store.assistants(w.db) if p.id == person.id), set())
    people_store.delegate(w.db, person.id, set(command.skills))
    if before != set(command.skills):
        names = {s.id: s.name for s in skill_graph(w).skills}
        now, was = (
            together((names.get(i, i) for i in sorted(ids)), ", ") or say("nothing")
            for ids in (set(command.skills), before)
        )
        note_change(w, who, say("{name} may sign: {now}; before: {was}", name=person.name, now=now, was=was))
    return shop_view(w)


def shop_change(w: Work, who: Who, command: ShopCommand) -> ShopView:
    """Change the school and what else is named; readings that were judged keep their verdicts.

    What was before stays with who changed it and when. Raises ``Refused`` for a zone or spelling that there is not.
    """
    if command.zone is not None:
        check_zone("zone", command.zone)
    if command.spelling is not None:
        check_spelling("spelling", command.spelling)
    shop = find(w, t.Shop, 1, "shop")
    rules = setup_rules(w)
    wanted = {
        "name": command.name,
        "unit": command.unit,
        "verdict_school": command.school,
        "confirmed_minutes": command.confirmed_minutes,
        "projection": command.projection,
        "zone": command.zone,
        "spelling": command.spelling,
    }
    for key, now in wanted.items():
        before = getattr(shop, key)
        if now is None or now == before:
            continue
        setattr(shop, key, now.value if isinstance(now, Enum) else now)
        note_change(w, who, changed(key, before, getattr(shop, key)))
    if command.setup_rules is not None and command.setup_rules != rules:
        shop.setup_rules = command.setup_rules.model_dump_json()
        note_change(w, who, changed_rules(rules, command.setup_rules))
    w.db.flush()
    return shop_view(w)
