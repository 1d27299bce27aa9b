"""Groups and who is in them."""

from __future__ import annotations

import uuid

from sqlalchemy import select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def groups(db: Session) -> list[t.Group]:
    """The shop's groups, by name."""
    return list(db.scalars(select(t.Group).order_by(t.Group.name)))


def students_of(db: Session, group: uuid.UUID) -> dict[uuid.UUID, str]:
    """The students of a group who are here now: id and name."""
    here = (t.Person.group_id == group, t.Person.active, t.Person.role == "student")
    return {i: name for i, name in db.execute(select(t.Person.id, t.Person.name).where(*here))}
