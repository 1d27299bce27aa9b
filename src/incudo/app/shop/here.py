"""Whether a thing of the shop is there still."""

from __future__ import annotations

from typing import TypeVar

from incudo.core.kernel.errors import Conflict
from incudo.core.kernel.say import say
from incudo.store import schema as t

Thing = TypeVar("Thing", t.Machine, t.Instrument, t.Workholding)


def still_here(row: Thing) -> Thing:
    """The same row. Raises ``Conflict`` for what has left the shop, with why."""
    if row.gone:
        raise Conflict(say("{name} is no longer in the shop: {why}", name=row.name, why=row.gone))
    return row
