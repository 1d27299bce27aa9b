"""Instruments."""

from __future__ import annotations

import uuid
from collections.abc import Iterable

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def instruments(db: Session) -> list[t.Instrument]:
    return list(db.scalars(select(t.Instrument).order_by(t.Instrument.name, t.Instrument.id)))


def instrument_names(db: Session, wanted: Iterable[uuid.UUID]) -> dict[uuid.UUID, str]:
    query = select(t.Instrument.id, t.Instrument.name).where(t.Instrument.id.in_(set(wanted)))
    return dict(db.execute(query).all())
