"""The shop's row, its machines, instruments and skill graph."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def has_shop(db: Session) -> bool:
    return db.scalar(select(t.Shop.id)) is not None


def machines(db: Session) -> list[t.Machine]:
    """All machines in the order they stand."""
    return list(db.scalars(select(t.Machine).order_by(t.Machine.place)))


def instruments(db: Session) -> list[t.Instrument]:
    return list(db.scalars(select(t.Instrument).order_by(t.Instrument.name)))


def instrument_names(db: Session, wanted: Iterable[uuid.UUID]) -> dict[uuid.UUID, str]:
    query = select(t.Instrument.id, t.Instrument.name).where(t.Instrument.id.in_(set(wanted)))
    return dict(db.execute(query).all())


def newest_skill_file(db: Session) -> str:
    """The content of the newest version of the skill graph."""
    return db.scalars(select(t.SkillFile.content).order_by(t.SkillFile.number.desc()).limit(1)).one()


def newest_skill_number(db: Session) -> int:
    """The number of the newest version of the skill graph; 0 when there is none."""
    return db.scalar(select(func.max(t.SkillFile.number))) or 0


def skill_file_at(db: Session, moment: datetime) -> str | None:
    """The skill graph that held at a moment; ``None`` when there was none yet."""
    query = select(t.SkillFile.content).where(t.SkillFile.made_at <= moment)
    return db.scalar(query.order_by(t.SkillFile.number.desc()).limit(1))


def signed_skills(db: Session) -> set[str]:
    """Every skill that was ever signed."""
    return set(db.scalars(select(t.SignOff.skill).distinct()))


def all_names(db: Session) -> dict[uuid.UUID, str]:
    """The names of all machines, instruments and cutters."""
    found: dict[uuid.UUID, str] = {}
    for table in (t.Machine, t.Instrument, t.Cutter):
        found |= dict(db.execute(select(table.id, table.name)).all())
    return found
