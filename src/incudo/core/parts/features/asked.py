"""What a file asks of faces, axes and round walls of its part."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import Line, Strict
from incudo.core.kernel.say import say
from incudo.core.measuring.verdict import Spots
from incudo.core.parts.features.frame import AxisName, Plane, Spot, text_of

Kind = Literal[
    "distance", "diameter", "radius", "parallel", "square", "flat", "position", "runout", "thread", "angle", "finish"
]


class Asked(Strict):
    """One requirement, of one or two named things; a position is of an axis and the two faces that it is from.

    ``tolerance`` as a machinist writes it. For parallel, square, flat and runout the most that an indicator may show;
    for a position its zone, a diameter, with an M for the bonus; for a thread its class, for a finish its roughness.
    ``places`` are the decimal places of the nominal, as many as the part's own numbers have when not given.
    """

    number: Annotated[int, Field(ge=1, le=99)]
    kind: Kind
    of: Annotated[
        tuple[Annotated[str, StringConstraints(min_length=1, max_length=90)], ...], Field(min_length=1, max_length=3)
    ]
    along: AxisName | None = None
    tolerance: Annotated[str, StringConstraints(max_length=40)] = ""
    places: Annotated[int, Field(ge=0, le=5)] | None = None
    name: Annotated[str, StringConstraints(max_length=80)] = ""
    where: Line = ""
    datum: Annotated[str, StringConstraints(pattern=r"^[A-Z]?$")] = ""
    spots: Spots = Spots.SAME
    readings: Annotated[int, Field(ge=1, le=9)] = 1


@dataclass(frozen=True)
class Beside:
    """What stands on the drawing beside a requirement: the faces that have a letter, and the other requirements."""

    letters: Mapping[str, str] = field(default_factory=dict)
    others: tuple[Asked, ...] = ()


def outline(p: Plane) -> Iterable[tuple[tuple[str, str, str], tuple[str, str, str]]]:
    """The border lines of a face, to light up."""
    a, b = (i for i in range(3) if i != p.axis)
    corners = []
    for i, j in ((0, 0), (1, 0), (1, 1), (0, 1)):
        spot = [p.at] * 3
        spot[a], spot[b] = p.spans[a][i], p.spans[b][j]
        corners.append(texts((spot[0], spot[1], spot[2])))
    return list(zip(corners, corners[1:] + corners[:1], strict=True))


def texts(spot: Spot) -> tuple[str, str, str]:
    """The three coordinates of a spot as they are written."""
    return text_of(spot[0]), text_of(spot[1]), text_of(spot[2])


def written(value: Decimal, a: Asked) -> str:
    """A value with as many decimal places as were asked for. Raises ``Refused`` when they do not hold it."""
    text = text_of(value)
    if a.places is None:
        return text
    rounded = value.quantize(Decimal(1).scaleb(-a.places))
    if rounded != value:
        bound = say("must be enough to write {value} without rounding it", value=text)
        raise Refused.of("places", a.places, bound)
    return text_of(rounded)
