"""Sign-ins and failed ones."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def end_sign_in(db: Session, token_hash: str) -> None:
    db.execute(delete(t.SignIn).where(t.SignIn.token_hash == token_hash))


def end_sign_ins_before(db: Session, moment: datetime) -> None:
    db.execute(delete(t.SignIn).where(t.SignIn.ends_at < moment))


def failures(db: Session, scope: str, since: datetime) -> tuple[int, datetime | None]:
    """How many failures a scope has since a moment, and when the first of them was."""
    query = select(func.count(), func.min(t.Failure.at)).where(t.Failure.scope == scope, t.Failure.at > since)
    count, first = db.execute(query).one()
    return count, first


def forget_failures(db: Session, scope: str) -> None:
    db.execute(delete(t.Failure).where(t.Failure.scope == scope))


def forget_failures_before(db: Session, moment: datetime) -> None:
    db.execute(delete(t.Failure).where(t.Failure.at < moment))
