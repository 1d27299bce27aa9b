"""Instruments."""

from __future__ import annotations

import uuid
from collections.abc import Iterable

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def instruments(db: Session, *, also_gone: bool = False) -> list[t.Instrument]:
    """The gauges of the shop by name; ``also_gone``: and those that it had once."""
    query = select(t.Instrument).order_by(t.Instrument.name, t.Instrument.id)
    return list(db.scalars(query if also_gone else query.where(t.Instrument.gone == "")))


def instrument_names(db: Session, wanted: Iterable[uuid.UUID]) -> dict[uuid.UUID, str]:
    query = select(t.Instrument.id, t.Instrument.name).where(t.Instrument.id.in_(set(wanted)))
    return dict(db.execute(query).all())


def lock_instrument(db: Session, instrument: uuid.UUID) -> None:
    """One check of a gauge after the other."""
    db.execute(select(t.Instrument.id).where(t.Instrument.id == instrument).with_for_update())


def checks_of(db: Session, instrument: uuid.UUID, limit: int) -> list[tuple[t.GaugeCheck, str]]:
    """The newest checks of a gauge, with the name of who made each."""
    query = (
        select(t.GaugeCheck, t.Person.name)
        .join(t.Person, t.Person.id == t.GaugeCheck.person_id)
        .where(t.GaugeCheck.instrument_id == instrument)
        .order_by(t.GaugeCheck.at.desc(), t.GaugeCheck.id)
        .limit(limit)
    )
    return [(row, name) for row, name in db.execute(query)]
