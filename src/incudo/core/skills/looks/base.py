"""What every drawn option has: shapes made of a few values."""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import Annotated

from pydantic import Field

from incudo.core.kernel.fields import Strict
from incudo.core.kernel.picture import Picture, Shape, Spot

Label = Annotated[str, Field(max_length=24)]


def turned(spots: tuple[Spot, ...], degrees: float, about: Spot = (0.0, 0.0)) -> tuple[Spot, ...]:
    """Spots turned anticlockwise about one of them."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    x0, y0 = float(about[0]), float(about[1])
    found = []
    for x, y in spots:
        dx, dy = float(x) - x0, float(y) - y0
        found.append((x0 + dx * c - dy * s, y0 + dx * s + dy * c))
    return tuple(found)


def corners(left: float, low: float, right: float, high: float) -> tuple[Spot, ...]:
    """The corners of a rectangle."""
    return (left, low), (right, low), (right, high), (left, high)


class Drawn(Strict, ABC):
    """A drawing made of a few values."""

    @abstractmethod
    def shapes(self) -> Iterator[Shape]:
        """What is drawn, from the rear to the front."""

    def picture(self, words: str) -> Picture:
        """The drawing, and what it shows in words."""
        return Picture(words, tuple(self.shapes()))
