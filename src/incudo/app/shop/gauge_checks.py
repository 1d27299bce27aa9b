"""Checking a gauge: what it reads on blocks, what that says of it, the day of the next check; the past stays."""

from __future__ import annotations

import json
import uuid
from dataclasses import asdict, replace
from datetime import date, datetime
from typing import Annotated

from pydantic import Field, StringConstraints

from incudo.app.kernel.unit import Who, Work, find
from incudo.app.kernel.views import Command, View
from incudo.app.people.accounts import Pin
from incudo.app.shop import tags
from incudo.app.shop.instruments import InstrumentView, gauge_here, instrument_of, instrument_view
from incudo.core.kernel.errors import Conflict, Refused
from incudo.core.kernel.quantity import Length, Unit, in_places
from incudo.core.kernel.say import say, together
from incudo.core.measuring import checking
from incudo.core.measuring.instrument import Instrument
from incudo.store import schema as t
from incudo.store.shop import instruments as store

#: So many past checks are shown.
MOST = 20
#: So many parts that were measured with a gauge.
MOST_JUDGED = 60
Text = Annotated[str, StringConstraints(min_length=1, max_length=20, strip_whitespace=True)]


class BlockEntry(Command):
    """A block and what was read on it, as text in the gauge's own unit."""

    size: Text
    readings: Annotated[tuple[Text, ...], Field(min_length=1, max_length=checking.MOST_READINGS)]


class CheckEntry(Command):
    """What was read, how sure the blocks are, and how sure the gauge is to be called."""

    blocks: Annotated[tuple[BlockEntry, ...], Field(max_length=checking.MOST_BLOCKS)]
    blocks_sure: Text
    uncertainty: Text


class GaugeCheckCommand(CheckEntry):
    """Keep a check. ``fine`` is what was seen of a gauge that answers yes or no; ``due`` the day of the next check."""

    id: uuid.UUID
    standard: Annotated[str, StringConstraints(min_length=2, max_length=80, strip_whitespace=True)]
    fine: bool
    due: date
    pin: Pin


class CheckedBlock(View):
    """A block, in the gauge's own unit: the mean error, what of it is left beside the zero error, the spread."""

    size: str
    error: str
    left: str
    spread: str


class CheckedView(View):
    """What a check found."""

    points: tuple[CheckedBlock, ...]
    zero_error: str
    holds: bool
    said: tuple[str, ...]


class PastCheck(View):
    """A check that was made."""

    at: datetime
    by: str
    standard: str
    zero_error: str
    uncertainty: str
    holds: bool
    due: date | None
    words: str


class JudgedPart(View):
    """A job card whose part was measured with this gauge; ``accepted``: by what was measured then."""

    assignment: uuid.UUID
    part: str
    student: str
    readings: int
    last: datetime
    accepted: bool


class GaugeCheckPage(View):
    """A gauge, the blocks proposed for it, and its checks, the newest first.

    ``since`` is the last check that it passed; ``judged`` what was measured with it since then, the newest first.
    """

    gauge: InstrumentView
    least: str
    most: str
    resolution: str
    uncertainty: str
    zero_error: str
    due: date
    tagged_out: str
    answers: bool
    sizes: tuple[str, ...]
    blocks_sure: str
    most_readings: int
    past: tuple[PastCheck, ...]
    since: datetime | None
    judged: tuple[JudgedPart, ...]


def gauge_check_page(w: Work, gauge: uuid.UUID) -> GaugeCheckPage:
    """A gauge and its checks. Raises ``NotFound``."""
    row = find(w, t.Instrument, gauge, "instrument")
    i = instrument_of(row, tags.closed_words(w))
    since = store.last_good_check(w.db, gauge)
    return GaugeCheckPage(
        gauge=instrument_view(w, row, i),
        least=row.least,
        most=row.most,
        resolution=row.resolution,
        uncertainty=row.uncertainty,
        zero_error=row.zero_error,
        due=row.due,
        tagged_out=i.tagged_out,
        answers=i.answers,
        sizes=checking.sizes_for(i),
        blocks_sure=checking.USUAL[Unit(row.unit)],
        most_readings=checking.MOST_READINGS,
        past=tuple(
            PastCheck(
                at=c.at,
                by=by,
                standard=c.standard,
                zero_error=c.zero_error,
                uncertainty=c.uncertainty,
                holds=c.holds,
                due=c.due,
                words=c.words,
            )
            for c, by in store.checks_of(w.db, gauge, MOST)
        ),
        since=since,
        judged=tuple(JudgedPart(**asdict(x)) for x in store.judged_since(w.db, gauge, since, MOST_JUDGED)),
    )


def look(w: Work, gauge: uuid.UUID, entry: CheckEntry) -> CheckedView:
    """What readings on blocks say about a gauge; keeps nothing. Raises ``Refused``."""
    i = _as_called(instrument_of(find(w, t.Instrument, gauge, "instrument"), {}), entry)
    return _view(i, _checked(i, entry))


def keep(w: Work, who: Who, gauge: uuid.UUID, command: GaugeCheckCommand) -> GaugeCheckPage:
    """Keep a check. One that holds sets zero error, U and the day of the next; one that fails closes the gauge.

    Sent again, it changes nothing. Raises ``Refused`` at the field, ``Conflict`` for an id that was used before.
    """
    store.lock_instrument(w.db, gauge)
    row = gauge_here(w, gauge)
    before = w.db.get(t.GaugeCheck, command.id)
    if before is not None:
        if before.instrument_id != gauge or before.person_id != who.id:
            raise Conflict(say("This id was used before, when {key} was different.", key="gauge"))
        return gauge_check_page(w, gauge)
    checking.check_due(command.due, w.today)
    i = instrument_of(row, {})
    if i.answers:
        zero, holds = row.zero_error, command.fine
        words = say("Inspected: undamaged.") if command.fine else say("Inspected: damaged or worn.")
    else:
        i = _as_called(i, command)
        found = _checked(i, command)
        zero, holds, words = found.zero_error.text, found.holds, together(found.said, " ")
    w.db.add(
        t.GaugeCheck(
            id=command.id,
            instrument_id=gauge,
            person_id=who.id,
            at=w.now,
            standard=command.standard,
            content=json.dumps(command.model_dump(mode="json", include={"blocks", "blocks_sure"})),
            zero_error=zero,
            uncertainty=i.uncertainty.text,
            holds=holds,
            due=command.due if holds else None,
            words=words,
        )
    )
    if holds:
        row.zero_error, row.uncertainty, row.due = zero, i.uncertainty.text, command.due
    elif gauge not in tags.closed_words(w):
        note = say("failed its check on {day}", day=w.today)
        closed = tags.TagCommand(id=uuid.uuid5(command.id, "tag"), instrument=gauge, note=note)
        tags.tag_out(w, who, closed)
        w.memo.pop("closed", None)
    w.db.flush()
    return gauge_check_page(w, gauge)


def _length(text: str, unit: Unit, field: str) -> Length:
    return Length.degrees(text, field) if unit is Unit.DEGREE else Length.parse(text, unit, field)


def _as_called(i: Instrument, entry: CheckEntry) -> Instrument:
    """The gauge with the U that it is to be called by."""
    sure = _length(entry.uncertainty, i.resolution.unit, "uncertainty")
    least, most = i.resolution.mm / 4, (i.most.mm - i.least.mm) / 2
    if not i.answers and not least <= sure.mm <= most:
        bound = say("must be from a quarter of the smallest step to half of what it spans")
        raise Refused.of("uncertainty", sure.text, bound)
    return replace(i, uncertainty=sure)


def _checked(i: Instrument, entry: CheckEntry) -> checking.GaugeChecked:
    unit = i.resolution.unit
    blocks = [
        checking.GaugeBlock(
            _length(b.size, unit, f"blocks.{n}.size"),
            tuple(_length(x, unit, f"blocks.{n}.readings.{k}") for k, x in enumerate(b.readings)),
        )
        for n, b in enumerate(entry.blocks)
    ]
    return checking.check(i, blocks, _length(entry.blocks_sure, unit, "blocks_sure"))


def _view(i: Instrument, found: checking.GaugeChecked) -> CheckedView:
    unit, places = i.resolution.unit, i.resolution.decimals + 1
    return CheckedView(
        points=tuple(
            CheckedBlock(
                size=in_places(p.size / unit.in_mm, places),
                error=in_places(p.error / unit.in_mm, places),
                left=in_places(p.left / unit.in_mm, places),
                spread=in_places(p.spread / unit.in_mm, places),
            )
            for p in found.points
        ),
        zero_error=found.zero_error.text,
        holds=found.holds,
        said=found.said,
    )
