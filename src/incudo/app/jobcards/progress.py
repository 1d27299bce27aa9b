"""Ticking a station off, handing the part in."""

from __future__ import annotations

import uuid
from dataclasses import replace

from pydantic import AwareDatetime

from incudo.app.jobcards.card import JobCard, card_of
from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command
from incudo.app.parts.attempts import (
    AttemptFile,
    load_attempt,
    missing_skills,
    own_only,
)
from incudo.app.session.calls import holds_of
from incudo.core.kernel.errors import Conflict, FieldError, NotPermitted, Refused
from incudo.core.kernel.say import say
from incudo.core.parts.stations import Station, may_tick
from incudo.store import schema as t
from incudo.store.parts.attempts import Tick
from incudo.store.planning import plans


class TickCommand(Command):
    """A station of one's own job card is done."""

    id: uuid.UUID
    station: Station
    at: AwareDatetime


class HandInCommand(Command):
    """The part is ready to be checked."""

    id: uuid.UUID
    at: AwareDatetime


def tick_station(w: Work, who: Who, attempt_id: uuid.UUID, command: TickCommand) -> JobCard:
    """The student ticks a station and sees the job card."""
    return card_of(w, who, keep_tick(w, who, attempt_id, command))


def keep_tick(w: Work, who: Who, attempt_id: uuid.UUID, command: TickCommand) -> AttemptFile:
    """The student ticks Plan, Set up, Locate or Cut, in order. Raises ``NotPermitted``, ``Conflict``."""
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
            raise NotPermitted(*(say("{name}: {reason}.", name=m.name, reason=m.reason) for m in missing))
        if file.over or file.pending or not may_tick(file.ticked, command.station):
            raise Conflict(say("The stations are ticked in order, each once: reload to see where you are."))
        if command.station is Station.PLAN and plans.unapproved(w.db, {file.assignment.id}):
            raise NotPermitted(say("The plan has to be approved first: hand it in."))
        if command.station is Station.CUT:
            held = [h.words for h in holds_of(w, file) if not h.released]
            if held:
                raise NotPermitted(*(say("Hold point {x}: call your instructor.", x=x) for x in held))
    fresh = insert_once(w, row, ignoring=("at",))
    done = Tick(row.attempt_id, row.station, row.at)
    return replace(file, ticks=(*file.ticks, done)) if fresh else file


def hand_in(w: Work, who: Who, attempt_id: uuid.UUID, command: HandInCommand) -> JobCard:
    """The student hands the part in and sees the job card."""
    return card_of(w, who, keep_hand_in(w, who, attempt_id, command))


def keep_hand_in(w: Work, who: Who, attempt_id: uuid.UUID, command: HandInCommand) -> AttemptFile:
    """The student hands the part in. Every characteristic must have a reading that decides.

    Raises ``NotPermitted``, ``Conflict``, ``Refused`` naming what is not measured.
    """
    file = load_attempt(w, attempt_id)
    own_only(file, who)
    known = next((h for h in file.hand_ins if h.id == command.id), None)
    if known is None:
        missing = missing_skills(w, file)
        if missing:
            raise NotPermitted(*(say("{name}: {reason}.", name=m.name, reason=m.reason) for m in missing))
        if file.pending or file.over or not file.newest:
            raise Conflict(say("This part is handed in already."))
        unmeasured = [
            FieldError(f"characteristics.{c.number}", "", say("measure it before you hand in"))
            for c in file.project.characteristics
            if not file.is_measured(c, file.round)
        ]
        if unmeasured:
            raise Refused(*unmeasured)
    number = known.number if known else file.round
    row = t.HandIn(id=command.id, attempt_id=attempt_id, number=number, at=w.now)
    fresh = insert_once(w, row, ignoring=("at",))
    return replace(file, hand_ins=(*file.hand_ins, row)) if fresh else file
