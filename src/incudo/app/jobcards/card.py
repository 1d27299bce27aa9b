"""The student's working page: the job card, its stations, handing in; and the Bench."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import replace
from datetime import date, datetime

from pydantic import AwareDatetime

from incudo.app.kernel.unit import Who, Work, find, insert_once
from incudo.app.kernel.views import Both, Command, FindingView, Named, ReadingView, View
from incudo.app.locating.finding import datums_of
from incudo.app.locating.views import DatumView
from incudo.app.parts.attempts import (
    AttemptFile,
    finding_view,
    load_attempt,
    missing_of,
    missing_skills,
    names_in,
    newest_attempts,
    own_attempt,
    own_only,
    reading_view,
    station_machine,
    stations_of,
)
from incudo.app.reckoning.reckoner import ReckonedView, reckoned_of
from incudo.app.session.calls import HoldView, holds_of
from incudo.app.session.sessions import is_present, states_at_machines
from incudo.app.setup.records import setup_states
from incudo.app.setup.views import SetupState
from incudo.app.shop.instruments import instrument_of
from incudo.app.shop.tags import closed_words
from incudo.app.skills.records import machine_names, skill_book
from incudo.app.skills.standing import steps_for
from incudo.app.skills.views import SkillStep
from incudo.core.kernel.errors import Conflict, FieldError, NotPermitted, Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.measuring.instrument import Instrument, Suitability
from incudo.core.measuring.verdict import Metal, Spots
from incudo.core.parts.inspection import Disposition, Outcome
from incudo.core.parts.project import Characteristic, Symbol
from incudo.core.parts.stations import Station, StationLine, StationState, may_tick
from incudo.core.skills.permission import Answer, decide
from incudo.core.skills.standing import Book, State
from incudo.store import schema as t
from incudo.store.parts import attempts as store
from incudo.store.people import people as people_store
from incudo.store.session import sessions as session_store
from incudo.store.shop import shop as shop_store


class InstrumentView(View):
    """An instrument to choose, and whether it can decide today."""

    id: uuid.UUID
    name: str
    kind: str
    unit: Unit
    sure: Both
    resolution: Both
    cannot_decide: str


class Fit(View):
    """How well an instrument suits a characteristic."""

    instrument: uuid.UUID
    suitability: Suitability


class CharacteristicView(View):
    """A characteristic with its limits and all readings that may be seen."""

    number: int
    name: str
    where: str
    symbol: Symbol
    nominal: Both
    tolerance: tuple[str, ...]
    lower: Both | None
    upper: Both | None
    aim: Both | None
    metal: Metal
    spots: Spots
    wanted: int
    fits: tuple[Fit, ...]
    readings: tuple[ReadingView, ...]
    finding: FindingView
    rework: bool


class StationView(View):
    station: Station
    state: StationState


class DecidedFinding(View):
    """What was decided about one characteristic."""

    characteristic: int
    name: str
    verdict: str
    disposition: Disposition | None
    reason: str


class DecisionView(View):
    """What an instructor said about a part."""

    at: datetime
    by: str
    outcome: Outcome
    remark: str
    findings: tuple[DecidedFinding, ...]


class MissingView(View):
    """A skill that is missing, with the reason in words."""

    skill: str
    name: str
    reason: str


class OperationView(View):
    """An operation that is done on this part, and the answer for it by skills alone."""

    operation: str
    name: str
    answer: Answer
    reasons: tuple[str, ...]


class JobCard(View):
    """One assignment from Ready to Sign."""

    assignment: uuid.UUID
    attempt: uuid.UUID
    attempt_number: int
    round: int
    student: Named
    project: uuid.UUID
    version: uuid.UUID
    version_number: int
    name: str
    about: str
    unit: Unit
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


class TickCommand(Command):
    """A station of one's own job card is done."""

    id: uuid.UUID
    station: Station
    at: AwareDatetime


class HandInCommand(Command):
    """The part is ready to be checked."""

    id: uuid.UUID
    at: AwareDatetime


class BenchCard(View):
    """A job card in short."""

    assignment: uuid.UUID
    version: uuid.UUID
    name: str
    machine: str
    due: date | None
    pointer: float
    now: Station
    waiting: bool
    done: bool
    next_thing: str


class SaidView(View):
    """What an instructor said last."""

    assignment: uuid.UUID
    name: str
    decision: DecisionView


class Bench(View):
    """The student's home: one next thing, the cards, what is in reach, what was said."""

    first: BenchCard | None
    missing: tuple[MissingView, ...]
    steps: tuple[SkillStep, ...]
    cards: tuple[BenchCard, ...]
    reach: tuple[SkillStep, ...]
    withdrawn: tuple[MissingView, ...]
    session: str
    here: bool
    machine: Named | None
    machines: tuple[Named, ...]
    said: SaidView | None


def job_card(w: Work, who: Who, assignment_id: uuid.UUID) -> JobCard:
    """The job card as this person may see it (see ``AttemptFile.may_see``)."""
    return card_of(w, who, own_attempt(w, who, assignment_id))


def card_of(w: Work, who: Who, file: AttemptFile) -> JobCard:
    """A job card from a loaded attempt."""
    # loaded once: skills are most of what a card asks the database for
    book = skill_book(w, file.student.id)
    (line,), names = stations_of(w, [file], {file.student.id: book}), names_in(w, file)
    closed = closed_words(w)
    rows = shop_store.instruments(w.db)
    tools = {row.id: instrument_of(row, closed) for row in rows}
    missing = missing_of(book, file)
    visible = {r.id for r in file.readings if file.may_see(who, r)}
    return JobCard(
        assignment=file.assignment.id,
        attempt=file.attempt.id,
        attempt_number=file.attempt.number,
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
        steps=_steps(w, file, book, {m.skill for m in missing}),
        operations=_operations(file, book),
        holds=holds_of(w, file),
        setups=setup_states(w, file.student.id, file.assignment.machine_id, file.assignment.id),
        datums=datums_of(w, file),
        reckoned=reckoned_of(w, file.assignment.id),
        handed_in_at=file.pending.at if file.pending else None,
        over=file.over,
        hidden=len(visible) < len(file.readings),
        decisions=decision_views(w, file),
        instruments=tuple(instrument_view(w, x, tools[x.id]) for x in rows),
        characteristics=tuple(
            characteristic_view(file, c, tools, names, visible) for c in file.project.characteristics
        ),
    )


def _steps(w: Work, file: AttemptFile, book: Book, missing: set[str]) -> tuple[SkillStep, ...]:
    """What the student can do at once about what is missing, on this card's machine."""
    wanted = missing.union(*(book.graph.before(m) for m in missing)) if missing else set()
    place = file.assignment.machine_id
    found = steps_for(w, file.student.id, book, wanted)
    lacking = [x for x in found if x.state is not State.DUE_SOON]
    return tuple(x for x in lacking if x.machine is None or place is None or x.machine.id == place)


def _operations(file: AttemptFile, book: Book) -> tuple[OperationView, ...]:
    machine = str(file.assignment.machine_id) if file.assignment.machine_id else None
    found = []
    for o in file.project.operations:
        d = decide(book, (o,), machine)
        name = book.graph.get(o).name
        found.append(OperationView(operation=o, name=name, answer=d.answer, reasons=d.reasons))
    return tuple(found)


def instrument_view(w: Work, row: t.Instrument, i: Instrument) -> InstrumentView:
    """An instrument as it is offered today."""
    return InstrumentView(
        id=row.id,
        name=row.name,
        kind=row.kind,
        unit=Unit(row.unit),
        sure=Both.of(i.uncertainty),
        resolution=Both.of(i.resolution),
        cannot_decide=i.cannot_decide(w.now.date()),
    )


def characteristic_view(
    file: AttemptFile,
    c: Characteristic,
    tools: Mapping[uuid.UUID, Instrument],
    names: dict[uuid.UUID, str],
    visible: set[uuid.UUID],
) -> CharacteristicView:
    """One characteristic; only readings in ``visible`` take part in anything that goes out."""
    p = file.project
    limits = p.limits(c)
    counting = [r for r in file.counting(c.number, file.round) if r.id in visible]
    return CharacteristicView(
        number=c.number,
        name=c.name,
        where=c.where,
        symbol=c.symbol,
        nominal=Both.of(p.length(c.nominal)),
        tolerance=tuple(line for line in p.tolerance_words(c) if line),
        lower=None if limits.lower is None else Both.exactly(limits.lower, limits.unit, limits.places),
        upper=None if limits.upper is None else Both.exactly(limits.upper, limits.unit, limits.places),
        aim=None if limits.aim is None else Both.exactly(limits.aim, limits.unit, limits.places),
        metal=c.metal,
        spots=c.spots,
        wanted=c.readings,
        fits=tuple(
            Fit(instrument=x, suitability=tool.suitability(limits, difference=c.difference))
            for x, tool in tools.items()
        ),
        readings=tuple(
            reading_view(file, r, names)
            for r in file.readings
            if r.characteristic == c.number and r.id in visible and not r.checking
        ),
        finding=finding_view(file, c, counting),
        rework=c.number in file.rework and file.pending is None,
    )


def decision_views(w: Work, file: AttemptFile) -> tuple[DecisionView, ...]:
    """All decisions about an attempt, the newest first."""
    decided = [file.decisions[h.id] for h in file.hand_ins if h.id in file.decisions]
    names = people_store.names(w.db, (d.assessor_id for d in decided))
    return tuple(_decision_view(file, d, names[d.assessor_id]) for d in reversed(decided))


def _decision_view(file: AttemptFile, d: t.Decision, by: str) -> DecisionView:
    return DecisionView(
        at=d.at,
        by=by,
        outcome=Outcome(d.outcome),
        remark=d.remark,
        findings=tuple(
            DecidedFinding(
                characteristic=f.characteristic,
                name=file.project.characteristic(f.characteristic).name,
                verdict=f.verdict,
                disposition=Disposition(f.disposition) if f.disposition else None,
                reason=f.reason,
            )
            for f in sorted(file.findings[d.id], key=lambda f: f.characteristic)
            if f.disposition
        ),
    )


def tick_station(w: Work, who: Who, attempt_id: uuid.UUID, command: TickCommand) -> JobCard:
    """The student ticks Plan, Set up, Locate or Cut, in order."""
    file = load_attempt(w, attempt_id)
    own_only(file, who)
    row = t.Progress(
        id=command.id,
        attempt_id=attempt_id,
        station=command.station.value,
        person_id=who.id,
        at=w.now,
    )
    if w.db.get(t.Progress, command.id) is None:
        missing = missing_skills(w, file)
        if missing:
            raise NotPermitted(*(f"{m.name}: {m.reason}." for m in missing))
        if file.over or file.pending or not may_tick(file.ticked, command.station):
            raise Conflict("The stations are ticked in order, each once: reload to see where you are.")
        if command.station is Station.CUT:
            held = [h.words for h in holds_of(w, file) if not h.released]
            if held:
                raise NotPermitted(*(f"Hold point {x}: call your instructor." for x in held))
    fresh = insert_once(w, row, ignoring=("at",))
    return card_of(w, who, replace(file, ticks=(*file.ticks, row)) if fresh else file)


def hand_in(w: Work, who: Who, attempt_id: uuid.UUID, command: HandInCommand) -> JobCard:
    """The student hands the part in. Every characteristic must have a reading that decides."""
    file = load_attempt(w, attempt_id)
    own_only(file, who)
    known = next((h for h in file.hand_ins if h.id == command.id), None)
    if known is None:
        missing = missing_skills(w, file)
        if missing:
            raise NotPermitted(*(f"{m.name}: {m.reason}." for m in missing))
        if file.pending or file.over or not file.newest:
            raise Conflict("This part is handed in already.")
        unmeasured = [
            FieldError(f"characteristics.{c.number}", "", "measure it before you hand in")
            for c in file.project.characteristics
            if not file.counting(c.number, file.round)
        ]
        if unmeasured:
            raise Refused(*unmeasured)
    number = known.number if known else file.round
    row = t.HandIn(id=command.id, attempt_id=attempt_id, number=number, at=w.now)
    fresh = insert_once(w, row, ignoring=("at",))
    return card_of(w, who, replace(file, hand_ins=(*file.hand_ins, row)) if fresh else file)


def bench(w: Work, who: Who) -> Bench:
    """The student's home."""
    files = newest_attempts(w, store.assignments_of(w.db, who.id))
    machines = machine_names(w)
    lines = stations_of(w, files)
    cards = [_bench_card(f, line, machines) for f, line in zip(files, lines, strict=True)]
    cards.sort(key=lambda c: (c.done, c.waiting, c.due or date.max))
    said = [(d, f) for f in files for d in f.decisions.values()]
    last = max(said, key=lambda df: df[0].at, default=None)
    doing = [c for c in cards if not c.done]
    book = skill_book(w, who.id)
    first = next((f for f in files if doing and f.assignment.id == doing[0].assignment), None)
    missing = missing_skills(w, first) if first else ()
    withdrawn = [s for s in book.graph.skills if book.standing(s.id, None).state is State.WITHDRAWN]
    session, here, machine, open_ = _where(w, who)
    return Bench(
        first=doing[0] if doing else None,
        missing=tuple(MissingView(skill=m.skill, name=m.name, reason=m.reason) for m in missing),
        steps=_steps(w, first, book, {m.skill for m in missing}) if first else (),
        cards=tuple(cards),
        reach=steps_for(w, who.id, book, {s.id for s in book.graph.skills}),
        withdrawn=tuple(
            MissingView(skill=s.id, name=s.name, reason=book.standing(s.id, None).reason) for s in withdrawn
        ),
        session=session,
        here=here,
        machine=machine,
        machines=open_,
        said=None if last is None else _said(w, last[1]),
    )


def _where(w: Work, who: Who) -> tuple[str, bool, Named | None, tuple[Named, ...]]:
    """The open session's group, whether he is on its roll, the machine he stands at, the open machines."""
    meeting = session_store.open_meeting(w.db)
    if meeting is None:
        return "", False, None, ()
    named = {uuid.UUID(m): Named(id=uuid.UUID(m), name=name) for m, name in machine_names(w).items()}
    at = next((m for m, s in states_at_machines(w, meeting).items() if str(who.id) in s.people), None)
    open_ = session_store.open_machines(w.db, meeting.id)
    group = find(w, t.Group, meeting.group_id, "group").name
    return (
        group,
        is_present(w, meeting, who.id),
        named[at] if at else None,
        tuple(n for m, n in named.items() if m in open_),
    )


def _said(w: Work, file: AttemptFile) -> SaidView:
    return SaidView(assignment=file.assignment.id, name=file.project.name, decision=decision_views(w, file)[0])


def _bench_card(file: AttemptFile, line: StationLine, machines: dict[str, str]) -> BenchCard:
    return BenchCard(
        assignment=file.assignment.id,
        version=file.version.id,
        name=file.project.name,
        machine=machines.get(str(file.assignment.machine_id), ""),
        due=file.assignment.due,
        pointer=line.pointer,
        now=line.now,
        waiting=line.states[line.now] is StationState.WAITING,
        done=file.over,
        next_thing=line.next_thing,
    )
