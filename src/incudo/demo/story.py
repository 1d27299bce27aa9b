"""Telling the story of the demo shop: moments of the past, and the ids that stay the same."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import TypeVar

from incudo.app.kernel.unit import Unit, Who, Work
from incudo.core.people.roles import Role
from incudo.demo import people as cast

T = TypeVar("T")
_SPACE = uuid.UUID("5ce4407e-0000-4000-8000-000000000000")


def key(*words: object) -> uuid.UUID:
    """The fixed id of something in the demo."""
    return uuid.uuid5(_SPACE, "|".join(map(str, words)))


def who(login: str) -> Who:
    """A person of the demo, by their sign-in name."""
    person = cast.PEOPLE[login]
    return Who(key("person", login), person.name, Role(person.role))


class Story:
    """Runs use cases at moments of the past."""

    def __init__(self, unit: Unit, base: datetime, zone: str = "UTC") -> None:
        self.base, self.now, self.zone = base, base, zone
        self.unit = Unit(unit.engine, lambda: self.now, unit.key, unit.on_head)

    def at(self, days: float, minutes: float = 0) -> None:
        """Go to so many days and minutes before the moment of loading."""
        self.now = self.base - timedelta(days=days, minutes=minutes)

    def run(self, use_case: Callable[[Work], T]) -> T:
        return self.unit.run(use_case)
