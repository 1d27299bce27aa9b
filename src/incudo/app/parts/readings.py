"""Saving a reading: judged at once, never changed afterwards."""

from __future__ import annotations

import uuid
from dataclasses import replace
from fractions import Fraction
from typing import Annotated

from pydantic import AwareDatetime, Field, StringConstraints

from incudo.app.kernel.unit import Who, Work, insert_once
from incudo.app.kernel.views import Command, View
from incudo.app.parts.attempts import AttemptFile, load_attempt, missing_skills, names_in
from incudo.app.parts.findings import finding_view, reading_view
from incudo.app.parts.taken import NO, YES
from incudo.app.parts.views import FindingView, ReadingView
from incudo.app.shop.instruments import gauge_here, instrument_of
from incudo.app.shop.tags import closed_words
from incudo.core.kernel.errors import Conflict, NotFound, NotPermitted, Refused
from incudo.core.kernel.quantity import Length, Unit, to_decimal
from incudo.core.kernel.say import say, together
from incudo.core.measuring.instrument import Instrument, Measure
from incudo.core.measuring.tolerance import Limits
from incudo.core.measuring.verdict import Measured, Verdict, corrected
from incudo.core.parts.project import Characteristic
from incudo.core.parts.requirement import Element, Reading, alone, element_of, elements
from incudo.store import schema as t

#: A reading may be this many times the drawing's size before it must be a slip.
FAR_OFF = 30


class ReadingCommand(Command):
    """One reading as it was typed. ``id`` is made by the browser, so that sending twice saves once."""

    id: uuid.UUID
    characteristic: Annotated[int, Field(ge=1, le=99)]
    #: What was read of a requirement that takes more than one thing.
    element: Annotated[str, StringConstraints(max_length=8)] = ""
    #: A number, or yes or no.
    value: Annotated[str, StringConstraints(min_length=1, max_length=40)]
    unit: Annotated[str, StringConstraints(max_length=10)]
    instrument: uuid.UUID
    supersedes: uuid.UUID | None = None
    why: Annotated[str, StringConstraints(max_length=200, strip_whitespace=True)] = ""
    measured_at: AwareDatetime


class SavedReading(View):
    """What the server made of a reading, and of its characteristic with it."""

    characteristic: int
    reading: ReadingView
    finding: FindingView


def save_reading(w: Work, who: Who, attempt_id: uuid.UUID, command: ReadingCommand) -> SavedReading:
    """A student's reading of their own part.

    Raises ``NotFound`` for another's part, ``NotPermitted`` while a needed
    skill is missing, ``Refused`` for a value that cannot be one.
    """
    file = load_attempt(w, attempt_id)
    if file.student.id != who.id:
        raise NotFound(say("There is no such job card."))
    known = any(r.id == command.id for r in file.readings)
    missing = () if known else missing_skills(w, file)
    if missing:
        raise NotPermitted(*(say("{name}: {reason}.", name=m.name, reason=m.reason) for m in missing))
    late = file.pending is not None or file.over or not file.newest
    return _save(w, who, file, command, checking=False, late=late)


def save_check_reading(w: Work, who: Who, attempt_id: uuid.UUID, command: ReadingCommand) -> SavedReading:
    """An assessor's own reading of a part that was handed in."""
    file = load_attempt(w, attempt_id)
    known = any(r.id == command.id for r in file.readings)
    if file.pending is None and not known:
        raise Conflict(say("This part is not handed in, so there is nothing to check."))
    if file.student.id == who.id:
        raise NotPermitted(say("Nobody checks their own part."))
    return _save(w, who, file, command, checking=True, late=False)


def _save(w: Work, who: Who, file: AttemptFile, command: ReadingCommand, *, checking: bool, late: bool) -> SavedReading:
    c = file.project.characteristic(command.characteristic)
    element = element_of(file.project, c, command.element)
    if element is None:
        keys = together((e.key or say("none") for e in elements(file.project, c)), ", ")
        raise Refused.of("element", command.element, say("must be one of: {keys}", keys=keys))
    tool = gauge_here(w, command.instrument)
    sure = instrument_of(tool, closed_words(w))
    value, text = _answered(command, element, sure)
    undecided = sure.cannot_decide(w.today)
    reading = Reading(element.key, answer=text == YES)
    if value is not None:
        x, _ = corrected(value, sure.zero_error)
        reading = Reading(element.key, Measured(x, sure.uncertainty.mm, sure.resolution.mm))
    verdict = alone(file.project, c, reading, file.school)
    row = t.Reading(
        id=command.id,
        attempt_id=file.attempt.id,
        characteristic=c.number,
        element=element.key,
        round=file.round,
        checking=checking,
        late=late,
        person_id=who.id,
        text=text,
        unit=value.unit.value if value is not None else "",
        value_mm=to_decimal(value.mm, 8) if value is not None and value.unit is not Unit.DEGREE else None,
        instrument_id=tool.id,
        instrument_unit=tool.unit,
        resolution=tool.resolution,
        uncertainty=tool.uncertainty,
        zero_error=tool.zero_error,
        undecided=undecided,
        school=file.school.value,
        verdict=(Verdict.NOT_MEASURED if undecided else verdict).value,
        supersedes_id=command.supersedes,
        why=command.why,
        measured_at=command.measured_at,
        saved_at=w.now,
    )
    known = any(r.id == command.id for r in file.readings)
    if not known:
        _may_supersede(file, row)
    server_made = (
        "round", "late", "resolution", "uncertainty", "zero_error", "instrument_unit",
        "undecided", "school", "verdict", "saved_at",
    )  # fmt: skip
    if insert_once(w, row, ignoring=server_made):
        file = replace(file, readings=(*file.readings, row))
    return saved_view(w, who, file, c, command.id)


def saved_view(w: Work, who: Who, file: AttemptFile, c: Characteristic, reading_id: uuid.UUID) -> SavedReading:
    """A saved reading with the verdict over all of the same person's readings."""
    row = next(r for r in file.readings if r.id == reading_id)
    mine = file.checked(c.number, row.round, who.id) if row.checking else file.counting(c.number, file.round)
    return SavedReading(
        characteristic=c.number,
        reading=reading_view(file, row, names_in(w, file)),
        finding=finding_view(file, c, mine),
    )


def _answered(command: ReadingCommand, element: Element, sure: Instrument) -> tuple[Length | None, str]:
    """The value that was typed, and its text; no value of a yes or no. Raises ``Refused`` for what cannot be one."""
    fits = sure.may_read(element.measure)
    if element.limits is None:
        if not fits:
            raise Refused.of("instrument", sure.name, say("must be a gauge for this: it answers yes or no"))
        if command.value not in (YES, NO):
            raise Refused.of("value", command.value, say("must be yes or no"))
        return None, command.value
    if not fits:
        raise Refused.of("instrument", sure.name, say("does not measure this"))
    if element.measure is Measure.ANGLE:
        value = Length.degrees(command.value)
    else:
        value = Length.parse(command.value, command.unit, "value")
        _plausible(value, element.limits, signed=element.signed)
    if not sure.can_show(value, signed=element.signed):
        span = say("{text} to {text2} {unit}", text=sure.least.text, text2=sure.most.text, unit=sure.most.unit)
        raise Refused.of(
            "value", value.text, say("must lie within what {name} can show, {span}", name=sure.name, span=span)
        )
    return value, value.text


def _plausible(value: Length, limits: Limits, *, signed: bool) -> None:
    """No size is negative, and thirty times the drawing's size is a slip of the key."""
    top = limits.upper or limits.lower or Fraction(0)
    if not signed and (value.mm < 0 or (value.mm == 0 and limits.lower)):
        raise Refused.of("value", value.text, say("must be above 0: it is a size, not a difference"))
    if abs(value.mm) > FAR_OFF * max(top, Length("1", Unit.MM).mm):
        bound = say(
            "must be under {far_off} times the drawing's {text} {unit}",
            far_off=FAR_OFF,
            text=limits.text(top),
            unit=limits.unit,
        )
        raise Refused.of("value", value.text, say("{bound}: is a decimal point missing?", bound=bound))


def _may_supersede(file: AttemptFile, row: t.Reading) -> None:
    if row.supersedes_id is None:
        return
    old = next((r for r in file.readings if r.id == row.supersedes_id), None)
    same = old is not None and all(
        getattr(old, k) == getattr(row, k) for k in ("characteristic", "element", "person_id", "checking")
    )
    if not same:
        raise Refused.of("supersedes", row.supersedes_id, say("must be your own reading of this characteristic"))
    if row.checking and file.opened_by(row.person_id, row.round) is not None:
        raise Conflict(
            say("You have seen the student's values: your reading stands. Add another, or let somebody else measure.")
        )
    if row.late and not row.checking:
        raise Conflict(say("This part is handed in: what was handed in stands. Save it as a reading of its own."))
    if any(r.supersedes_id == row.supersedes_id for r in file.readings):
        raise Conflict(say("That reading was superseded already."))
