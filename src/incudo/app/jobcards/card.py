"""The student's working page: the job card, its stations, handing in; and the Bench."""

from __future__ import annotations

import uuid
from datetime import date, datetime

from incudo.app.jobcards.characteristics import CharacteristicView, characteristic_view
from incudo.app.jobcards.decisions import DecisionView, decision_views
from incudo.app.kernel.unit import Who, Work
from incudo.app.kernel.views import Named, View
from incudo.app.locating.datums import datums_of
from incudo.app.locating.views import DatumView
from incudo.app.parts.attempts import (
    AttemptFile,
    CardRecord,
    missing_of,
    names_in,
    own_attempt,
    station_machine,
    stations_in,
)
from incudo.app.parts.views import MissingView
from incudo.app.reckoning.reckoner import holds_reading, reckoned_of
from incudo.app.reckoning.views import ReckonedView
from incudo.app.session.calls import HoldView, holds_of
from incudo.app.setup.states import setup_states
from incudo.app.setup.views import SetupState
from incudo.app.shop.instruments import InstrumentView, instrument_of, instrument_view
from incudo.app.shop.tags import closed_words
from incudo.app.skills.standing import steps_for
from incudo.app.skills.standings import standing_of
from incudo.app.skills.views import SkillStep
from incudo.core.kernel.quantity import NUMBER_FORM, LengthUnit
from incudo.core.parts.stations import Station, StationState
from incudo.core.skills.permission import Answer, decide
from incudo.core.skills.standing import Standings, State
from incudo.store.shop import instruments


class StationView(View):
    """A station of the line, and how far it is."""

    station: Station
    state: StationState


class OperationView(View):
    """An operation that is done on this part, and the answer for it by skills alone."""

    operation: str
    name: str
    answer: Answer
    reasons: tuple[str, ...]


class JobCard(View):
    """One assignment from Ready to Sign. ``number_form`` is the pattern of what counts as a number."""

    assignment: uuid.UUID
    attempt: uuid.UUID
    attempt_number: int
    number_form: str
    round: int
    student: Named
    project: uuid.UUID
    version: uuid.UUID
    version_number: int
    name: str
    about: str
    unit: LengthUnit
    material: str
    stock: str
    machine: Named | None
    due: date | None
    stations: tuple[StationView, ...]
    pointer: float
    now: Station
    next_thing: str
    missing: tuple[MissingView, ...]
    steps: tuple[SkillStep, ...]
    operations: tuple[OperationView, ...]
    holds: tuple[HoldView, ...]
    setups: tuple[SetupState, ...]
    datums: tuple[DatumView, ...]
    reckoned: tuple[ReckonedView, ...]
    handed_in_at: datetime | None
    over: bool
    hidden: bool
    decisions: tuple[DecisionView, ...]
    instruments: tuple[InstrumentView, ...]
    characteristics: tuple[CharacteristicView, ...]


def job_card(w: Work, who: Who, assignment_id: uuid.UUID) -> JobCard:
    """The job card as this person may see it (see ``AttemptFile.may_see``)."""
    return card_of(w, who, own_attempt(w, who, assignment_id))


def card_of(w: Work, who: Who, file: AttemptFile) -> JobCard:
    """A job card from a loaded attempt."""
    book = standing_of(w, file.student.id)
    line, names = stations_in(book, file), names_in(w, file)
    closed = closed_words(w)
    rows = instruments.instruments(w.db)
    tools = {row.id: instrument_of(row, closed) for row in rows}
    missing = missing_of(book, file)
    visible = {r.id for r in file.readings if file.may_see(who, r)}
    kept = reckoned_of(w, file.assignment.id)
    return JobCard(
        assignment=file.assignment.id,
        attempt=file.attempt.id,
        attempt_number=file.attempt.number,
        number_form=NUMBER_FORM,
        round=file.round,
        student=Named(id=file.student.id, name=file.student.name),
        project=file.version.project_id,
        version=file.version.id,
        version_number=file.version.number,
        name=file.project.name,
        about=file.project.about,
        unit=file.project.unit,
        material=file.project.material,
        stock=file.project.stock,
        machine=station_machine(w, file),
        due=file.assignment.due,
        stations=tuple(StationView(station=s, state=x) for s, x in line.states.items()),
        pointer=line.pointer,
        now=line.now,
        next_thing=line.next_thing,
        missing=tuple(MissingView(skill=m.skill, name=m.name, reason=m.reason) for m in missing),
        steps=steps_of(w, file, {m.skill for m in missing}),
        operations=_operations(file, book),
        holds=holds_of(w, file),
        setups=setup_states(w, file.student.id, file.assignment.machine_id, file.assignment.id),
        datums=datums_of(w, file),
        reckoned=tuple(r for r in kept if not holds_reading(r.calculation) or file.may_see_reckoned(who, r.at)),
        handed_in_at=file.pending.at if file.pending else None,
        over=file.over,
        hidden=len(visible) < len(file.readings),
        decisions=decision_views(w, file),
        instruments=tuple(instrument_view(w, x, tools[x.id]) for x in rows),
        characteristics=tuple(
            characteristic_view(file, c, tools, names, visible, w.today) for c in file.project.characteristics
        ),
    )


def steps_of(w: Work, file: CardRecord, missing: set[str]) -> tuple[SkillStep, ...]:
    """What the student can do at once about what is missing, on this card's machine."""
    if not missing:
        return ()
    book = standing_of(w, file.student.id)
    wanted = missing.union(*(book.graph.before(m) for m in missing))
    place = file.assignment.machine_id
    found = steps_for(w, file.student.id, book, wanted)
    lacking = [x for x in found if x.state is not State.DUE_SOON]
    return tuple(x for x in lacking if x.machine is None or place is None or x.machine.id == place)


def _operations(file: AttemptFile, book: Standings) -> tuple[OperationView, ...]:
    machine = str(file.assignment.machine_id) if file.assignment.machine_id else None
    found = []
    for o in file.project.operations:
        d = decide(book, (o,), machine)
        name = book.graph.get(o).name
        found.append(OperationView(operation=o, name=name, answer=d.answer, reasons=d.reasons))
    return tuple(found)
