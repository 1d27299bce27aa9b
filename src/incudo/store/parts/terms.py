"""The parts that a group makes in its term, in their order."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from incudo.store import schema as t


def parts_of(db: Session, group: uuid.UUID) -> list[uuid.UUID]:
    """The projects of a group, in their order."""
    query = select(t.GroupPart.project_id).where(t.GroupPart.group_id == group)
    return list(db.scalars(query.order_by(t.GroupPart.number)))


def set_parts(db: Session, group: uuid.UUID, projects: Sequence[uuid.UUID]) -> None:
    """These and no others, in this order."""
    db.execute(delete(t.GroupPart).where(t.GroupPart.group_id == group))
    db.add_all(t.GroupPart(group_id=group, project_id=p, number=n) for n, p in enumerate(projects, start=1))
    db.flush()
