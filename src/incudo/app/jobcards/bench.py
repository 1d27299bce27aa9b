"""A student's bench: the next thing, the job cards, what was said last."""

from __future__ import annotations

import uuid
from datetime import date

from incudo.app.jobcards.card import steps_of
from incudo.app.jobcards.decisions import DecisionView, decision_views
from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Named, View
from incudo.app.parts.attempts import (
    AttemptFile,
    CardProgress,
    load_attempt,
    missing_skills,
    progress_of,
    projects_of,
    stations_of,
)
from incudo.app.parts.views import MissingView
from incudo.app.session.now import is_present, states_at_machines
from incudo.app.shop.machines import machine_names
from incudo.app.skills.standing import steps_for
from incudo.app.skills.standings import standing_of
from incudo.app.skills.views import SkillStep
from incudo.core.parts.inspection import Outcome
from incudo.core.parts.project import Project
from incudo.core.parts.stations import TICKED, Facts, Station, StationLine, StationState, line_of
from incudo.core.skills.standing import State
from incudo.store import schema as t
from incudo.store.parts import attempts as store
from incudo.store.session import sessions as session_store

#: So many of the parts that were accepted last stand on the bench.
CLOSED_SHOWN = 8


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


def bench(w: Work, who: Who) -> Bench:
    """The student's home."""
    files = progress_of(w, store.open_cards(w.db, [who.id]))
    machines = machine_names(w)
    lines = stations_of(w, files)
    cards = [_bench_card(f, line, machines) for f, line in zip(files, lines, strict=True)]
    accepted = store.last_accepted(w.db, who.id, CLOSED_SHOWN)
    parts = projects_of(w, {c.version for c in accepted})
    cards += [_accepted_card(c, parts[c.version], machines) for c in accepted]
    cards.sort(key=lambda c: (c.done, c.waiting, c.due or date.max))
    last = store.last_decided(w.db, who.id)
    doing = [c for c in cards if not c.done]
    book = standing_of(w, who.id)
    first = next((f for c in doing[:1] for f in files if f.assignment.id == c.assignment), None)
    missing = missing_skills(w, first) if first else ()
    withdrawn = [s for s in book.graph.skills if book.standing(s.id, None).state is State.WITHDRAWN]
    session, here, machine, open_ = _where(w, who)
    return Bench(
        first=doing[0] if doing else None,
        missing=tuple(MissingView(skill=m.skill, name=m.name, reason=m.reason) for m in missing),
        steps=steps_of(w, first, {m.skill for m in missing}) if first else (),
        cards=tuple(cards),
        reach=steps_for(w, who.id, book, {s.id for s in book.graph.skills}),
        withdrawn=tuple(
            MissingView(skill=s.id, name=s.name, reason=book.standing(s.id, None).reason) for s in withdrawn
        ),
        session=session,
        here=here,
        machine=machine,
        machines=open_,
        said=None if last is None else _said(w, load_attempt(w, last)),
    )


def _where(w: Work, who: Who) -> tuple[str, bool, Named | None, tuple[Named, ...]]:
    """The open session's group, whether they are on its roll, the machine they stand at, the open machines."""
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


def _accepted_card(card: store.CardHead, part: Project, machines: dict[str, str]) -> BenchCard:
    """A part that was accepted: nothing about it changes any more."""
    count = len(part.characteristics)
    line = line_of(Facts((), frozenset(TICKED), count, count, handed_in=False, outcome=Outcome.ACCEPTED, rework=()))
    return BenchCard(
        assignment=card.assignment,
        version=card.version,
        name=part.name,
        machine=machines.get(str(card.machine), ""),
        due=card.due,
        pointer=line.pointer,
        now=line.now,
        waiting=False,
        done=True,
        next_thing=line.next_thing,
    )


def _bench_card(file: CardProgress, line: StationLine, machines: dict[str, str]) -> BenchCard:
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
