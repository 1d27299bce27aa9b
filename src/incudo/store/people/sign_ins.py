"""Sign-ins and failed ones."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import datetime

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def signed_in(db: Session, token_hash: str) -> tuple[t.SignIn, t.Person] | None:
    """A sign-in with its person, by the hash of its token."""
    query = select(t.SignIn, t.Person).join(t.Person, t.Person.id == t.SignIn.person_id)
    row = db.execute(query.where(t.SignIn.token_hash == token_hash)).first()
    return None if row is None else (row[0], row[1])


def end_sign_in(db: Session, token_hash: str) -> None:
    """End the sign-in with this hash of a token."""
    db.execute(delete(t.SignIn).where(t.SignIn.token_hash == token_hash))


def end_other_sign_ins(db: Session, person: uuid.UUID, but: str) -> None:
    """End every session of a person but the one with this token hash."""
    db.execute(delete(t.SignIn).where(t.SignIn.person_id == person, t.SignIn.token_hash != but))


def take_failures_back(db: Session, ids: Iterable[uuid.UUID]) -> None:
    """Forget the tries with these ids: they were right."""
    db.execute(delete(t.Failure).where(t.Failure.id.in_(list(ids))))


def end_sign_ins_before(db: Session, moment: datetime) -> None:
    """End every sign-in that held until before this moment."""
    db.execute(delete(t.SignIn).where(t.SignIn.ends_at < moment))


def failures(db: Session, scope: str, since: datetime) -> tuple[int, datetime | None]:
    """How many failures a scope has since a moment, and when the first of them was."""
    query = select(func.count(), func.min(t.Failure.at)).where(t.Failure.scope == scope, t.Failure.at > since)
    count, first = db.execute(query).one()
    return count, first


def forget_failures(db: Session, scope: str) -> None:
    """Forget the failures counted in this scope."""
    db.execute(delete(t.Failure).where(t.Failure.scope == scope))


def forget_failures_before(db: Session, moment: datetime) -> None:
    """Forget failures from before this moment."""
    db.execute(delete(t.Failure).where(t.Failure.at < moment))
