"""Setting up a new shop: its people, machines, instruments, groups, and skill graph."""

from __future__ import annotations

import json
import uuid
from dataclasses import dataclass, field
from datetime import date

from incudo import shipped
from incudo.app.kernel.unit import Unit, Work
from incudo.app.people.accounts import hash_secret
from incudo.app.shop.devices import hash_key
from incudo.app.shop.tables import TableName, keep
from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.quantity import Length
from incudo.core.kernel.quantity import Unit as LengthUnit
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import School
from incudo.core.parts.drawing.placed import Projection
from incudo.core.people.roles import Role
from incudo.core.setup.standard import SetupRules
from incudo.core.shop.cutter import Cutter
from incudo.core.shop.device import Purpose
from incudo.core.shop.machine import Clamps, Machine, Parallels, Vise
from incudo.core.skills.permission import CONFIRMED_MINUTES
from incudo.store import schema as t
from incudo.store.shop.shop import has_shop


@dataclass(frozen=True)
class NewPerson:
    """A person with their first password, and a PIN if they assess."""

    id: uuid.UUID
    login: str
    name: str
    role: Role
    password: str
    pin: str | None = None
    group: uuid.UUID | None = None
    delegated: tuple[str, ...] = ()


@dataclass(frozen=True)
class NewMachine:
    id: uuid.UUID
    name: str
    about: str
    spec: Machine


@dataclass(frozen=True)
class NewHolding:
    """A vise, a drawer of parallels, a set of clamps."""

    id: uuid.UUID
    name: str
    spec: Vise | Parallels | Clamps


@dataclass(frozen=True)
class NewInstrument:
    id: uuid.UUID
    name: str
    kind: str
    least: Length
    most: Length
    resolution: Length
    uncertainty: Length
    zero_error: str
    due: date
    #: Of a go and no-go gauge the thread that it is for.
    thread: str = ""


@dataclass(frozen=True)
class NewDevice:
    """An outside device and its key, of which only the hash is kept."""

    id: uuid.UUID
    name: str
    key: str
    purpose: Purpose = Purpose.INTERLOCK


@dataclass(frozen=True)
class NewShop:
    """Everything a shop starts with."""

    name: str
    school: School
    unit: LengthUnit
    groups: tuple[tuple[uuid.UUID, str], ...]
    people: tuple[NewPerson, ...]
    machines: tuple[NewMachine, ...]
    instruments: tuple[NewInstrument, ...]
    devices: tuple[NewDevice, ...] = ()
    holding: tuple[NewHolding, ...] = ()
    cutters: tuple[Cutter, ...] = ()
    rules: SetupRules = field(default_factory=SetupRules)
    projection: Projection = Projection.THIRD


def set_up(unit: Unit, shop: NewShop) -> None:
    """Fill an empty database; skills, question banks and materials are the shipped ones.

    Raises ``Conflict`` when there is a shop already.
    """
    hashes = hashes_of(shop)
    unit.run(lambda w: write(w, shop, hashes))


def hashes_of(shop: NewShop) -> dict[str, str]:
    """The hash of every password and PIN: made before a transaction, they take their time."""
    secrets = {s for p in shop.people for s in (p.password, p.pin) if s}
    return {s: hash_secret(s) for s in secrets}


def is_set_up(w: Work) -> bool:
    """Whether this database holds a shop."""
    return has_shop(w.db)


def write(w: Work, shop: NewShop, hashes: dict[str, str]) -> None:
    """The same within a transaction. Raises ``Conflict`` likewise."""
    if is_set_up(w):
        raise Conflict(say("This database holds a shop already."))
    row = t.Shop(
        id=1,
        name=shop.name,
        verdict_school=shop.school.value,
        unit=shop.unit.value,
        confirmed_minutes=CONFIRMED_MINUTES,
        setup_rules=shop.rules.model_dump_json(),
        projection=shop.projection.value,
    )
    w.db.add(row)
    content = json.dumps(shipped.graph().model_dump(mode="json"), ensure_ascii=False)
    for name, bank in shipped.banks().items():
        text = json.dumps(bank.model_dump(mode="json"), ensure_ascii=False)
        w.db.add(t.BankVersion(bank=name, number=1, content=text, made_by=None, made_at=w.now))
    w.db.add(t.SkillFile(number=1, content=content, made_at=w.now))
    w.db.add_all(t.Group(id=i, name=name) for i, name in shop.groups)
    w.db.flush()
    for p in shop.people:
        w.db.add(
            t.Person(
                id=p.id,
                login=p.login,
                name=p.name,
                role=p.role.value,
                password_hash=hashes[p.password],
                pin_hash=hashes[p.pin] if p.pin else None,
                active=True,
            )
        )
    w.db.flush()
    w.db.add_all(
        t.Enrolment(id=p.id, person_id=p.id, group_id=p.group, begins=w.now.date()) for p in shop.people if p.group
    )
    w.db.add_all(t.Delegation(person_id=p.id, skill=s) for p in shop.people for s in p.delegated)
    for place, m in enumerate(shop.machines):
        w.db.add(t.Machine(id=m.id, name=m.name, about=m.about, place=place, spec=m.spec.model_dump_json()))
    for place, h in enumerate(shop.holding):
        w.db.add(t.Workholding(id=h.id, name=h.name, spec=h.spec.model_dump_json(), place=place))
    keep(w, TableName.MATERIALS, (s.material for s in shipped.materials()))
    keep(w, TableName.RANGES, (r for s in shipped.materials() for r in s.ranges))
    keep(w, TableName.CUTTERS, shop.cutters)
    for i in shop.instruments:
        w.db.add(
            t.Instrument(
                id=i.id,
                name=i.name,
                kind=i.kind,
                unit=i.resolution.unit.value,
                least=i.least.text,
                most=i.most.text,
                resolution=i.resolution.text,
                uncertainty=i.uncertainty.text,
                zero_error=i.zero_error,
                due=i.due,
                thread=i.thread,
            )
        )
    w.db.add_all(
        t.Device(id=d.id, name=d.name, key_hash=hash_key(d.key), active=True, purpose=d.purpose.value)
        for d in shop.devices
    )
