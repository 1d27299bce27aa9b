"""One view as it lies on the sheet."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from incudo.core.parts.drawing.marks import Spot
from incudo.core.parts.geometry.edges import View
from incudo.core.parts.project import Side, ViewName

LANE_ASIDE = 92.0


LANE_ABOVE = 36.0


FIRST = 14.0


FLAG = 24.0


class Projection(StrEnum):
    """Where the views stand: third angle has the top view above the front and the right view to its right, first
    angle has them below and to its left.
    """

    THIRD = "third"
    FIRST = "first"


@dataclass(frozen=True)
class Placed:
    """One view on the sheet: maps part coordinates to the sheet."""

    name: ViewName
    view: View
    low: tuple[float, float]
    origin: Spot
    scale: float
    size: tuple[float, float]
    flags: frozenset[Side] = frozenset()

    def flat(self, across: float, up: float) -> Spot:
        """From the view's plane (project units) to the sheet."""
        x = self.origin[0] + (across - self.low[0]) * self.scale
        y = self.origin[1] + self.size[1] - (up - self.low[1]) * self.scale
        return x, y

    def point(self, point: tuple[str, str, str]) -> Spot:
        """From a point of the part, written as text, to the sheet."""
        return self.flat(float(point[self.view.across]), float(point[self.view.up]))

    def edge(self, side: Side) -> float:
        """The sheet coordinate of one border of the view."""
        return {
            Side.LEFT: self.origin[0],
            Side.RIGHT: self.origin[0] + self.size[0],
            Side.ABOVE: self.origin[1],
            Side.BELOW: self.origin[1] + self.size[1],
        }[side]

    def lane(self, side: Side, lane: int) -> float:
        """Where the dimension line of a lane runs."""
        pitch = LANE_ASIDE if side in (Side.LEFT, Side.RIGHT) else LANE_ABOVE
        away = first_of(side in self.flags)
        away += pitch * (lane - 1) if pitch == LANE_ASIDE else pitch * (lane - 0.5)
        sign = -1 if side in (Side.LEFT, Side.ABOVE) else 1
        return self.edge(side) + sign * away


def first_of(flagged: bool) -> float:
    """How far the first lane keeps off the part: further where a datum flag stands."""
    return FIRST + (FLAG if flagged else 0.0)
