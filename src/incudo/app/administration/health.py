"""Whether the database can be read and written now."""

from __future__ import annotations

from datetime import timedelta

from incudo.app.kernel.unit import Work
from incudo.store import schema as t

#: A write is made for it at most this often.
EVERY = timedelta(seconds=2)


def beat(w: Work) -> None:
    """Read, and write if that was not done just now. Raises what a reading or an entry would meet."""
    w.db.get(t.Shop, 1)  # an empty installation is in good health too
    pulse = w.db.get(t.Pulse, 1)
    if pulse is None:
        w.db.add(t.Pulse(id=1, at=w.now))
    elif abs(w.now - pulse.at) > EVERY:
        pulse.at = w.now
