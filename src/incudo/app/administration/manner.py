"""How a shop writes: its English, and the clock by which its days begin and end."""

from __future__ import annotations

import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from zoneinfo import available_timezones

from incudo import shipped
from incudo.app.kernel.language import ENGLISH, speak, speaking
from incudo.app.kernel.unit import DatabaseAway, TakesNothingNew, Unit, Work
from incudo.app.kernel.views import View
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.store import schema as t

#: A process asks again how the shop writes after so many seconds.
KEPT = 5.0


class SpellingOffered(View):
    """A way to write English, with words that show it."""

    key: str
    words: str


def spellings_offered() -> tuple[SpellingOffered, ...]:
    """Each way to write English; the first as the texts stand."""
    found = []
    for key in ("", *shipped.spellings()):
        with speaking(ENGLISH, key):
            found.append(SpellingOffered(key=key, words=speak(say("centre, grey, aluminium, vise, wrench"))))
    return tuple(found)


def check_zone(field: str, name: str) -> str:
    """The name of a time zone. Raises ``Refused`` for one that there is not."""
    if name not in available_timezones():
        raise Refused.of(field, name, say("must be the name of a time zone, such as UTC"))
    return name


def check_spelling(field: str, key: str) -> str:
    """The key of a spelling, or nothing for English as the texts stand. Raises ``Refused`` for another."""
    if key and key not in shipped.spellings():
        raise Refused.of(
            field, key, say("must be one of: {those}, or empty", those=together(shipped.spellings(), ", "))
        )
    return key


@dataclass(frozen=True)
class Manner:
    """How a shop writes."""

    spelling: str = ""
    zone: str = "UTC"


class Manners:
    """How the shop writes, as this process read it a few seconds ago at most. ``clock``: seconds that only grow."""

    def __init__(self, unit: Unit, clock: Callable[[], float] = time.monotonic) -> None:
        # nobody waits for a database that is away: what it asked for will wait anyway
        self._unit, self._clock = Unit(unit.engine, unit.clock, tries=1), clock
        self._kept, self._until = Manner(), float("-inf")

    def now(self) -> Manner:
        """How it writes; while the database is away, how it wrote before."""
        if self._clock() >= self._until:
            with suppress(DatabaseAway, TakesNothingNew):
                self._kept = self._unit.run(_manner)
            self._until = self._clock() + KEPT
        return self._kept

    def forget(self) -> None:
        """It was changed: the next one who asks reads it anew."""
        self._until = float("-inf")


def _manner(w: Work) -> Manner:
    shop = w.db.get(t.Shop, 1)
    return Manner(shop.spelling, shop.zone) if shop else Manner()
