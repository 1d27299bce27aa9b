"""People's names, each read once in a use case."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping

from incudo.app.kernel.unit import Work
from incudo.store.people import people


def names_of(w: Work, who: Iterable[uuid.UUID]) -> dict[uuid.UUID, str]:
    """The names of these people."""
    known: dict[uuid.UUID, str] = w.memo.setdefault("names of people", {})
    wanted = set(who)
    if missing := wanted - known.keys():
        known |= people.names(w.db, missing)
    return {p: known[p] for p in wanted if p in known}


def remember_names(w: Work, names: Mapping[uuid.UUID, str]) -> None:
    """Names that came with something else need not be read again."""
    w.memo.setdefault("names of people", {}).update(names)
