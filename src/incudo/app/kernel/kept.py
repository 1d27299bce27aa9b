"""What use cases that only read have read of the whole shop, kept from one to the next while nothing of it changes."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from typing import Any

from incudo.app.kernel.unit import Work
from incudo.store.kernel import changes
from incudo.store.kernel.database import cache_of


@dataclass(frozen=True)
class _Kept:
    """What was read of the shop, up to which change of it and on which of its days."""

    number: int
    day: date
    memo: dict[str, Any]


@contextmanager
def kept_of_the_shop(w: Work, name: str, *keys: str) -> Iterator[None]:
    """Inside, ``w.memo`` has under these keys what the last use case of this name left there, if it still holds.

    It holds while the count of changes of the shop stands (written in the transaction that changes something) and it
    is the same day. For use cases that only read: rows among it belong to no session any more. It is kept once the
    use case is done: rows of one that came to nothing are not to be read again.
    """
    if changes.has_written(w.db):
        yield
        return
    number = changes.numbers(w.db, [changes.SHOP])[changes.SHOP]
    there: _Kept | None = cache_of(w.db).get(("of the shop", name))
    if there is not None and there.number == number:
        w.memo.update(there.memo)
        if there.day != w.today:
            for key in there.memo:
                del w.memo[key]
    yield
    found = _Kept(number, w.today, {key: w.memo[key] for key in (*keys, "zone") if key in w.memo})
    w.later.append(lambda after: cache_of(after.db).update({("of the shop", name): found}))
