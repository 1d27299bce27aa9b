"""The marks a drawing is made of, in sheet units: x to the right, y downwards.

One sheet unit is one CSS pixel when the sheet is shown 560 pixels wide.
``kind`` names the sort of line; how it looks is the style sheet's business.
"""

from __future__ import annotations

from dataclasses import dataclass, field

Spot = tuple[float, float]


@dataclass(frozen=True)
class Stroke:
    """A line through two or more points."""

    kind: str
    points: tuple[Spot, ...]


@dataclass(frozen=True)
class Curve:
    """A circle, or an arc of one (angles in radians, anticlockwise as seen on the sheet)."""

    kind: str
    centre: Spot
    radius: float
    start: float | None = None
    end: float | None = None


@dataclass(frozen=True)
class Arrow:
    """An arrow head with its tip at ``tip``, pointing along ``angle`` (radians, y downwards)."""

    tip: Spot
    angle: float


@dataclass(frozen=True)
class Words:
    """A line of text; ``anchor`` is start, middle or end."""

    kind: str
    at: Spot
    text: str
    anchor: str = "start"


@dataclass(frozen=True)
class Balloon:
    """The numbered circle of a characteristic."""

    at: Spot
    number: int


@dataclass(frozen=True)
class Glyph:
    """A drawing symbol (diameter, parallel, position and so on) in a 14 by 14 field from its corner."""

    at: Spot
    name: str


@dataclass(frozen=True)
class Frame:
    """An upright rectangle."""

    kind: str
    at: Spot
    width: float
    height: float


Mark = Stroke | Curve | Arrow | Words | Balloon | Glyph | Frame


@dataclass(frozen=True)
class Group:
    """Marks that belong to one characteristic (or to none), with the words that name it."""

    marks: tuple[Mark, ...]
    number: int | None = None
    label: str = ""
    lights: tuple[Mark, ...] = field(default=())


@dataclass(frozen=True)
class Drawing:
    """A laid-out sheet."""

    width: float
    height: float
    title: str
    groups: tuple[Group, ...]
