"""Versions of the skill file."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def newest_skill_file(db: Session) -> tuple[int, datetime]:
    """The number of the newest version of the skill graph, and when it was made: both name its content for good."""
    query = select(t.SkillFile.number, t.SkillFile.made_at).order_by(t.SkillFile.number.desc()).limit(1)
    number, made_at = db.execute(query).one()
    return number, made_at


def skill_file(db: Session, number: int) -> str:
    """The content of one version."""
    return db.scalars(select(t.SkillFile.content).where(t.SkillFile.number == number)).one()


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
