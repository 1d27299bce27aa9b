"""Working records at the machines: beginning one, a sweep, the next thing, accepting it; how setups stand."""

from __future__ import annotations

import json
import uuid

from incudo.app.kernel.language import ENGLISH, speaking
from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.parts.attempts import newest_attempt, own_attempt
from incudo.app.setup.head import head_page
from incudo.app.setup.passes import positive, settings_of, stations_of
from incudo.app.setup.standards import holding_of
from incudo.app.setup.views import (
    AcceptCommand,
    BeginSetup,
    HeadSettings,
    PassCommand,
    SetupPage,
    ViseSettings,
)
from incudo.app.setup.vise import vise_page
from incudo.app.shop.here import still_here
from incudo.app.shop.machines import machine_here, spec_of
from incudo.core.kernel.errors import Conflict, NotFound, NotPermitted, Refused
from incudo.core.kernel.quantity import Length
from incudo.core.kernel.say import say, together
from incudo.core.people.roles import Role
from incudo.core.setup.effect import job_of
from incudo.core.setup.guide import AXIS_WORDS
from incudo.core.setup.record import (
    Do,
    SetupKind,
)
from incudo.store import schema as t
from incudo.store.setup import setups as store


def begin_setup(w: Work, who: Who, machine_id: uuid.UUID, command: BeginSetup) -> SetupPage:
    """Begin a record of a head or a vise. Raises ``Refused`` for a head that cannot be set or a place off the jaw."""
    row = machine_here(w, machine_id)
    if command.assignment:
        own_attempt(w, who, command.assignment)
    settings = command.settings
    holding = None
    if isinstance(settings, HeadSettings):
        head = spec_of(row).head
        if not head.tilt and head.nod is None:
            raise Refused.of("machine", row.name, say("must have a head that can be set; this one is fixed"))
        positive(settings.span, settings.unit, "span")
        positive(settings.cutter, settings.cutter_unit, "cutter")
    else:
        holding = settings.vise
        jaw = holding_of(still_here(find(w, t.Workholding, settings.vise, "vise")))
        stations_of(settings, jaw)
        if settings.range:
            positive(settings.range, settings.unit, "range")
    division = positive(settings.division, settings.unit, "division")
    if division.mm > 1:
        raise Refused.of("division", settings.division, say("must be at most 1 mm: an indicator's division"))
    setup = t.Setup(
        id=command.id,
        machine_id=row.id,
        kind=settings.kind,
        person_id=who.id,
        assignment_id=command.assignment,
        holding_id=holding,
        settings=settings.model_dump_json(),
        at=w.now,
    )
    insert_once(w, setup, ignoring=("at",))
    return setup_page(w, who, command.id)


def save_pass(w: Work, who: Who, setup_id: uuid.UUID, command: PassCommand) -> SetupPage:
    """Keep one sweep of one's own record."""
    row = _own(w, who, setup_id)
    if w.db.get(t.SetupEnd, setup_id):
        raise Conflict(say("This setup is accepted already: begin a new one."))
    rows = store.passes(w.db, [setup_id]).get(setup_id, [])
    known = next((r for r in rows if r.id == command.id), None)
    settings = settings_of(row)
    axis = command.axis if isinstance(settings, HeadSettings) else None
    if isinstance(settings, HeadSettings) and axis is None:
        raise Refused.of("axis", "", say("must be tilt or nod"))
    low, high = (Length.parse(v, settings.unit, f) for v, f in ((command.low, "low"), (command.high, "high")))
    if isinstance(settings, ViseSettings) and settings.range:
        whole = Length.parse(settings.range, settings.unit, "range")
        if abs(high.mm - low.mm) > whole.mm:
            words = say(
                "lies beyond the indicator's travel of {range} {unit}: tap the jaw in as you go",
                range=settings.range,
                unit=settings.unit,
            )
            raise Refused.of("high", command.high, words)
    content = {"axis": axis.value if axis else "", "low": low.text, "high": high.text, "tight": command.tight}
    saved = t.SetupPass(
        id=command.id,
        setup_id=setup_id,
        number=known.number if known else len(rows) + 1,
        content=json.dumps(content),
        at=w.now,
    )
    insert_once(w, saved, ignoring=("at",))
    # reading it back now lets the core refuse what cannot be before it is kept
    return setup_page(w, who, setup_id)


def accept_setup(w: Work, who: Who, setup_id: uuid.UUID, command: AcceptCommand) -> SetupPage:  # noqa: ARG001 (its form is the whole of it)
    """Accept a setup that was tightened and read again. Raises ``NotPermitted`` with what is still to do."""
    row = _own(w, who, setup_id)
    if w.db.get(t.SetupEnd, setup_id) is None:
        with speaking(ENGLISH):
            # what is kept is said again in the language of whoever reads it
            page = setup_page(w, who, setup_id)
        if page.next.do is not Do.ACCEPT:
            raise NotPermitted(say("Not yet: {title}.", title=page.next.title))
        words = together(_left_words(page), ", ")
        w.db.add(t.SetupEnd(setup_id=row.id, good=True, words=words, at=w.now))
        w.db.flush()
    return setup_page(w, who, setup_id)


def _left_words(page: SetupPage) -> list[str]:
    last = {p.axis: p for p in page.passes}
    if page.kind is SetupKind.VISE:
        return [say("{holding}: {off} over the jaw", holding=page.holding, off=page.passes[-1].off)]
    axes = {str(x): x for x in AXIS_WORDS.values()}
    return [say("{axis} {off}", axis=axes[axis], off=p.off) for axis, p in last.items()]


def _may_read(w: Work, who: Who, row: t.Setup) -> bool:
    return row.person_id == who.id or who.role is not Role.STUDENT or w.db.get(t.SetupEnd, row.id) is not None


def _own(w: Work, who: Who, setup_id: uuid.UUID) -> t.Setup:
    row = find(w, t.Setup, setup_id, "setup")
    if row.person_id != who.id:
        raise NotPermitted(say("A setup is read and accepted by the person who began it."))
    if row.kind == SetupKind.HOLD:
        raise NotFound(say("There is no such setup."))
    return row


def setup_page(w: Work, who: Who, setup_id: uuid.UUID) -> SetupPage:
    """A working record with its next thing.

    An accepted one says how the machine stands and is open to all who may use it; one that is
    only begun is its student's own work, which others could copy: open to them and to who teaches.
    """
    row = find(w, t.Setup, setup_id, "setup")
    if row.kind == SetupKind.HOLD or not _may_read(w, who, row):
        raise NotFound(say("There is no such setup."))
    settings = settings_of(row)
    rows = store.passes(w.db, [setup_id]).get(setup_id, [])
    job = job_of(newest_attempt(w, row.assignment_id).project) if row.assignment_id else None
    if isinstance(settings, HeadSettings):
        return head_page(w, who, row, settings, rows, job)
    return vise_page(w, who, row, settings, rows, job)
