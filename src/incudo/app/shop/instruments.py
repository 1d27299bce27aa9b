"""Instruments as the core takes them: the row, and the tag that may hang on it."""

from __future__ import annotations

import uuid
from collections.abc import Mapping

from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import Both, View
from incudo.app.shop.here import still_here
from incudo.core.kernel.quantity import Length, Unit
from incudo.core.measuring.instrument import MEASURES, Instrument, Measure
from incudo.store import schema as t


def instrument_of(row: t.Instrument, closed: Mapping[uuid.UUID, str]) -> Instrument:
    """A row as the core takes it. ``closed`` says which instruments are tagged out, and why."""
    unit = Unit(row.unit)
    return Instrument(
        name=row.name,
        least=Length(row.least, unit),
        most=Length(row.most, unit),
        measures=MEASURES.get(row.kind, Measure.SIZE),
        resolution=Length(row.resolution, unit),
        uncertainty=Length(row.uncertainty, unit),
        zero_error=Length(row.zero_error, unit),
        due=row.due,
        tagged_out=closed.get(row.id, ""),
        thread=row.thread,
    )


def gauge_here(w: Work, gauge: uuid.UUID) -> t.Instrument:
    """A gauge of the shop. Raises ``NotFound`` for none at all, ``Conflict`` for one that has left."""
    return still_here(find(w, t.Instrument, gauge, "instrument"))


class InstrumentView(View):
    """An instrument to choose, and whether it can decide today."""

    id: uuid.UUID
    name: str
    kind: str
    unit: Unit
    sure: Both
    resolution: Both
    cannot_decide: str


def instrument_view(w: Work, row: t.Instrument, i: Instrument) -> InstrumentView:
    """An instrument as it is offered today."""
    return InstrumentView(
        id=row.id,
        name=row.name,
        kind=row.kind,
        unit=Unit(row.unit),
        sure=Both.of(i.uncertainty),
        resolution=Both.of(i.resolution),
        cannot_decide=i.cannot_decide(w.today),
    )
