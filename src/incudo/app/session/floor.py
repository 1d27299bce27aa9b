"""The instructor's home: the machines as they stand, and the line of who waits."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from datetime import date, datetime, timedelta

from incudo.app.kernel.kept import kept_of_the_shop
from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Named, View
from incudo.app.parts.attempts import (
    A_DAY_AT_WORK,
    CardProgress,
    kept_progress,
    missing_for_part,
    projects_of,
    stations_of,
)
from incudo.app.people.accommodations import AccommodationsHere, of_students
from incudo.app.people.names import names_of, remember_names
from incudo.app.session.line import Waiting, line_of
from incudo.app.session.shopfloor import RunView, Shop, device_of, run_view, shop_now
from incudo.app.shop.machines import machine_heads, machines_here
from incudo.app.shop.tags import StopView, stop_view
from incudo.app.skills.standings import standings
from incudo.core.kernel.say import say
from incudo.core.parts.project import Project
from incudo.core.parts.stations import Station, StationLine
from incudo.core.session.at_machine import AtMachine
from incudo.core.session.plate import PlateState, alarms, plate_state
from incudo.core.skills.kept import Kept
from incudo.core.skills.standing import Standings
from incudo.store import schema as t
from incudo.store.cutting import run as run_cards
from incudo.store.parts import attempts as store
from incudo.store.people import groups
from incudo.store.shop import machines

#: Somebody counts as at work on a job card for this long after their last entry.
AT_WORK = timedelta(hours=2)


class AtWork(View):
    """A job card that somebody works on. ``at_step`` is where its run card stands, ``late`` how many
    minutes that is behind what the plan expects.
    """

    assignment: uuid.UUID
    student: Named
    name: str
    pointer: float
    now: Station
    next_thing: str
    at_step: str
    late: int
    since: datetime
    last: datetime


#: What it reads of the whole shop, by its places in the memory of a use case.
OF_THE_SHOP = (
    *("banks", "bank versions", "graph", "graph version", "basis"),
    *("machine heads", "closed", "stop", "staff", "group now", "names of people", "session"),
)


class NextUp(View):
    """A job card that is assigned to a machine and not being worked on."""

    assignment: uuid.UUID
    student: Named
    name: str
    due: date | None
    missing: bool


class Stands(View):
    """Somebody who stands at a machine."""

    person: Named
    handles: bool


class Plate(View):
    """A machine on the floor. ``alarm``: it turns, and whoever runs it may not."""

    machine: Named
    about: str
    tagged_out: str
    open: bool
    state: PlateState
    stands: tuple[Stands, ...]
    run: RunView | None
    spindle: bool
    linked: bool
    alarm: bool
    at_work: tuple[AtWork, ...]
    next_up: tuple[NextUp, ...]
    may_alone: tuple[str, ...]


class SessionNow(View):
    """The session that is open, in short."""

    id: uuid.UUID
    group: str
    supervisors: tuple[str, ...]
    here: int
    expected: int


class Floor(View):
    """The session, the machines, who works without one, and the line."""

    session: SessionNow | None
    stopped: StopView | None
    plates: tuple[Plate, ...]
    elsewhere: tuple[AtWork, ...]
    line: tuple[Waiting, ...]
    as_of: datetime


def floor(w: Work) -> Floor:
    """The floor as it stands now. Says nothing of verdicts: an assessor may yet measure blind.

    Whose cards are shown: those of the session's group and of whoever is here, and of who was at work just now; every
    part that waits for its check stands in the line.
    """
    with kept_of_the_shop(w, "floor", *OF_THE_SHOP):
        return _floor(w)


def _floor(w: Work) -> Floor:
    shop = shop_now(w, only_reads=True)
    here = people_here(w, shop)
    files = kept_progress(w, store.being_worked_on(w.db, w.now - AT_WORK))
    waiting = store.waiting_parts(w.db)
    loaded = {f.assignment.id for f in files} | {x.assignment for x in waiting}
    heads = [c for c in store.card_heads(w.db, here) if c.assignment not in loaded]
    books = standings(w, here | {f.student.id for f in files})
    working: dict[uuid.UUID | None, list[AtWork]] = {}
    coming: dict[uuid.UUID | None, list[NextUp]] = {}
    runs = run_cards.standing(w.db, [f.attempt.id for f in files])
    for file, line in zip(files, stations_of(w, files, books), strict=True):
        # what was entered lately may belong to an attempt that was scrapped since
        run = runs.get(file.attempt.id)
        worked = [*file.worked, *((run.begun, run.last) if run else ())]
        if file.pending is None and any(w.now - x < AT_WORK for x in worked):
            working.setdefault(file.assignment.machine_id, []).append(_at_work(w, file, line, run, worked))
    parts = projects_of(w, {c.version for c in heads})
    for card in heads:
        coming.setdefault(card.machine, []).append(_next_up(card, parts[card.version], books[card.student]))
    alone = _may_alone(w, {s: books[s] for s in here})
    at = {uuid.UUID(p) for s in shop.states.values() for p in s.people}
    names = names_of(w, at)
    plates = tuple(
        _plate(w, shop, m, names, books, working.get(m.id, []), coming.get(m.id, []), alone.get(m.id, ()))
        for m in machine_heads(w)
        if m.here
    )
    return Floor(
        session=session_now(w, shop),
        stopped=stop_view(w),
        plates=plates,
        elsewhere=tuple(working.get(None, [])),
        line=line_of(w, waiting, shop.names),
        as_of=w.now,
    )


def group_now(w: Work, meeting: t.Meeting) -> dict[uuid.UUID, str]:
    """The students of a session's group now with their names, read once in a use case."""
    if "group now" not in w.memo:
        found = {p.id: p.name for p in groups.students_of(w.db, meeting.group_id, w.today)}
        w.memo["group now"] = found
        remember_names(w, found)
    group: dict[uuid.UUID, str] = w.memo["group now"]
    return group


def people_here(w: Work, shop: Shop) -> set[uuid.UUID]:
    """The students whom the floor is about: the session's group, and whoever is on its roll or at a machine."""
    if shop.meeting is None:
        return set()
    group = group_now(w, shop.meeting)
    return set(group) | shop.present | {uuid.UUID(p) for s in shop.states.values() for p in s.people}


def accommodations_here(w: Work) -> AccommodationsHere:
    """What was agreed with the students whom the floor is about."""
    return AccommodationsHere(people=of_students(w, people_here(w, shop_now(w))))


def _plate(
    w: Work,
    shop: Shop,
    m: machines.MachineHead,
    names: Mapping[uuid.UUID, str],
    books: Mapping[uuid.UUID, Standings],
    working: Sequence[AtWork],
    coming: Sequence[NextUp],
    alone: tuple[str, ...],
) -> Plate:
    state, device = shop.states.get(m.id, AtMachine()), device_of(w, m.id)
    book = books.get(uuid.UUID(state.run.person)) if state.run else None
    run = run_view(w, shop, m.id, book)
    tagged = shop.closed.get(m.id, "")
    turning = device is not None and device.spindle
    alarm = alarms(still_may=run.still_may if run else None, spindle=turning, tagged_out=bool(tagged))
    return Plate(
        machine=Named(id=m.id, name=m.name),
        about=m.about,
        tagged_out=tagged,
        open=m.id in shop.open,
        stands=tuple(
            Stands(person=Named(id=uuid.UUID(p), name=names[uuid.UUID(p)]), handles=p == state.handles)
            for p in state.people
        ),
        run=run,
        spindle=turning,
        linked=device is not None,
        alarm=alarm,
        state=plate_state(
            tagged_out=bool(tagged),
            alarm=alarm,
            spindle=turning,
            started=run is not None,
            people=bool(state.people),
            open_=m.id in shop.open,
        ),
        at_work=tuple(sorted(working, key=lambda a: a.since)),
        next_up=tuple(sorted(coming, key=lambda n: n.due or date.max)),
        may_alone=alone,
    )


def session_now(w: Work, shop: Shop) -> SessionNow | None:
    """The session that is open, in short."""
    if shop.meeting is None:
        return None
    return SessionNow(
        id=shop.meeting.id,
        group=find(w, t.Group, shop.meeting.group_id, "group").name,
        supervisors=tuple(s.name for s in shop.supervisors),
        here=len(shop.present),
        expected=len(group_now(w, shop.meeting)),
    )


def _at_work(
    w: Work, file: CardProgress, line: StationLine, run: run_cards.RunAt | None, worked: Sequence[datetime]
) -> AtWork:
    today = [x for x in worked if w.now - x < A_DAY_AT_WORK]
    at_step, late = "", 0
    if run is not None and line.now not in (Station.MEASURE, Station.SIGN) and run.place < run.places:
        at = run.place + 1
        at_step = say("Run card {at} of {places}: {title}", at=at, places=run.places, title=run.title)
        late = max(0, round(((w.now - run.begun).total_seconds() - run.planned) / 60))
    return AtWork(
        assignment=file.assignment.id,
        student=Named(id=file.student.id, name=file.student.name),
        name=file.project.name,
        pointer=line.pointer,
        now=line.now,
        next_thing=line.next_thing,
        at_step=at_step,
        late=late,
        since=min(today),
        last=max(today),
    )


def _next_up(card: store.CardHead, part: Project, book: Standings) -> NextUp:
    return NextUp(
        assignment=card.assignment,
        student=Named(id=card.student, name=card.student_name),
        name=part.name,
        due=card.due,
        missing=bool(missing_for_part(book, part, card.machine)),
    )


def _may_alone(w: Work, books: Mapping[uuid.UUID, Kept]) -> dict[uuid.UUID, tuple[str, ...]]:
    """Per machine, who of those who are here may do at least one operation there alone."""
    names = names_of(w, books)
    return {
        uuid.UUID(m): tuple(sorted(names[student] for student, book in books.items() if book.alone(m)))
        for m in machines_here(w)
    }
