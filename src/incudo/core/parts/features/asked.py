"""What a drawing asks of faces, axes and round walls.

The nominal, and on which side there is metal left, follow from the part.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import Line, Strict
from incudo.core.kernel.say import capital, say, together
from incudo.core.measuring.tolerance import Form
from incudo.core.measuring.verdict import Metal, Spots
from incudo.core.parts.features.frame import AxisName, Axle, Frame, Named, Plane, RoundWall, Slope, Spot, text_of
from incudo.core.parts.features.tolerances import read_tolerance
from incudo.core.parts.project import AXES, Axis, BetweenPlace, Characteristic, PointedPlace, Symbol, ToleranceSpec

Kind = Literal["distance", "diameter", "radius", "parallel", "square", "flat"]
FORM_SYMBOLS = {"parallel": Symbol.PARALLEL, "square": Symbol.SQUARE, "flat": Symbol.FLAT}


class Asked(Strict):
    """One requirement, of one or two named things.

    ``tolerance`` as a machinist writes it; for parallel, square and flat the most that a reading may show.
    ``places`` are the decimal places of the nominal, as many as the part's own numbers have when not given.
    """

    number: Annotated[int, Field(ge=1, le=99)]
    kind: Kind
    of: Annotated[
        tuple[Annotated[str, StringConstraints(min_length=1, max_length=90)], ...], Field(min_length=1, max_length=2)
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
class Resolved:
    """A requirement with all that follows from the part; ``features`` are those that it is measured on."""

    characteristic: Characteristic
    features: frozenset[str]


def resolve(a: Asked, frame: Frame) -> Resolved:
    """Raises ``Refused`` for names that are not there, things that have no such dimension, and tolerances."""
    things = [_thing(name, n, frame) for n, name in enumerate(a.of)]
    features = frozenset(t.feature for t in things if t.feature)
    made: dict[str, object] = {
        "number": a.number,
        "where": a.where,
        "datum": a.datum,
        "spots": a.spots,
        "readings": a.readings,
    }
    match a.kind:
        case "distance":
            made |= _distance(a, things, frame)
        case "diameter" | "radius":
            made |= _round(a, things, frame)
        case _:
            made |= _form(a, things)
    if a.name:
        made["name"] = a.name
    # a model keeps plain text only: a name of ours stays a sentence that can be spoken
    return Resolved(Characteristic.model_validate(made).model_copy(update={"name": made["name"]}), features)


def _thing(name: str, n: int, frame: Frame) -> Named:
    found = frame.named.get(name)
    if found is None:
        bound = say("there is nothing of this name on the part: {names}", names=together(frame.named, ", "))
        raise Refused.of(f"of.{n}", name, bound)
    return found


def _distance(a: Asked, things: list[Named], frame: Frame) -> dict[str, object]:
    if len(things) != 2:
        raise Refused.of("of", together(a.of, ", "), say("a distance is between two things"))
    axis = _axis(a, things)
    at = [place_on(t, axis) for t in things]
    if at[0] == at[1]:
        raise Refused.of("of.1", a.of[1], say("lies at the same place as {of}", of=a.of[0]))
    nominal = _written(abs(at[1] - at[0]), a)
    spec = read_tolerance(a.tolerance, nominal, frame.unit)
    spots = [_reach(t) for t in things]
    return {
        "name": capital(_distance_words(a, things)),
        "nominal": nominal,
        "tolerance": spec,
        "metal": _metal(things, at),
        "place": BetweenPlace(
            kind="between",
            axis=AXES[axis],
            start=_texts(spots[0][0]),
            end=_texts(spots[1][0]),
            start_to=_texts(spots[0][1]),
            end_to=_texts(spots[1][1]),
            seen=_seen(things, axis, frame),
        ),
        "lights": tuple(line for t in things if isinstance(t, Plane) and t.out for line in _outline(t)),
    }


def free_axes(things: Iterable[Named], names: Iterable[str]) -> set[int]:
    """Along which axes things can lie apart: a face along its own, an axis across itself.

    Raises ``Refused`` at ``of.N`` for a thing at an angle.
    """
    free = set(range(3))
    for n, (thing, name) in enumerate(zip(things, names, strict=True)):
        match thing:
            case Plane():
                free &= {thing.axis}
            case Axle() | RoundWall():
                free -= {thing.axis}
            case _:
                raise Refused.of(f"of.{n}", name, say("has no distance: it is at an angle"))
    return free


def _axis(a: Asked, things: list[Named]) -> int:
    free = free_axes(things, a.of)
    if a.along is not None:
        free &= {"xyz".index(a.along)}
    if len(free) == 1:
        return free.pop()
    if not free:
        raise Refused.of("of", together(a.of, ", "), say("these two have no distance along one axis"))
    axes = together(("xyz"[i] for i in sorted(free)), ", ")
    raise Refused.of("along", a.along or "", say("must say along which axis: {axes}", axes=axes))


def place_on(thing: Named, axis: int) -> Decimal:
    """Where a thing lies along an axis that it has a place on (``free_axes``)."""
    assert not isinstance(thing, Slope)  # noqa: S101 (``free_axes`` has refused it)
    return thing.at if isinstance(thing, Plane) else thing.centre[axis]


def _metal(things: list[Named], at: list[Decimal]) -> Metal:
    """Too large with metal left between faces that look apart; too small between faces that look at each other.

    Two faces that look the same way are a depth: the deeper one is cut, so what is too shallow has metal left.
    An axis or a middle that is out of place stays there.
    """
    if not all(isinstance(t, Plane) and t.out for t in things):
        return Metal.NONE
    low, high = sorted(zip(at, things, strict=True), key=lambda x: x[0])
    ways = [t.out for _, t in (low, high) if isinstance(t, Plane)]
    if ways[0] == ways[1]:
        return Metal.INSIDE
    return Metal.OUTSIDE if ways == [-1, 1] else Metal.INSIDE


def _reach(thing: Named) -> tuple[Spot, Spot]:
    """From where to where a dimension may take hold of a thing: two corners of a face, or one place on an axis."""
    if isinstance(thing, Plane):
        low, high = (tuple(s[n] for s in thing.spans) for n in (0, 1))
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])
    assert isinstance(thing, (Axle, RoundWall))  # noqa: S101 (``_axis`` has refused the others)
    return thing.centre, thing.centre


def _seen(things: list[Named], axis: int, frame: Frame) -> tuple[Axis, ...]:
    """Along which axes one would look at a distance along ``axis``: a hole's own first, then the way that a wall or
    a floor runs right through the part, for there one sees its profile; else from front, top, right.
    """
    wish = {i: 0 for i in range(3) if i != axis}
    for t in things:
        if isinstance(t, (Axle, RoundWall)):
            wish[t.axis] += 4
        elif isinstance(t, Plane) and t.feature:
            for i in wish:
                wish[i] += t.spans[i] == frame.spans[i]
    return tuple(AXES[i] for i in sorted(wish, key=lambda i: (-wish[i], (1, 2, 0).index(i))))


def _outline(p: Plane) -> Iterable[tuple[tuple[str, str, str], tuple[str, str, str]]]:
    """The border lines of a face, to light up."""
    a, b = (i for i in range(3) if i != p.axis)
    corners = []
    for i, j in ((0, 0), (1, 0), (1, 1), (0, 1)):
        spot = [p.at] * 3
        spot[a], spot[b] = p.spans[a][i], p.spans[b][j]
        corners.append(_texts((spot[0], spot[1], spot[2])))
    return list(zip(corners, corners[1:] + corners[:1], strict=True))


def _texts(spot: Spot) -> tuple[str, str, str]:
    return text_of(spot[0]), text_of(spot[1]), text_of(spot[2])


def _written(value: Decimal, a: Asked) -> str:
    text = text_of(value)
    if a.places is None:
        return text
    rounded = value.quantize(Decimal(1).scaleb(-a.places))
    if rounded != value:
        bound = say("must be enough to write {value} without rounding it", value=text)
        raise Refused.of("places", a.places, bound)
    return text_of(rounded)


def _distance_words(a: Asked, things: list[Named]) -> str:
    whole = {
        frozenset(("left", "right")): say("length"),
        frozenset(("front", "rear")): say("width"),
        frozenset(("bottom", "top")): say("height"),
    }
    if frozenset(a.of) in whole:
        return whole[frozenset(a.of)]
    features = {t.feature for t in things}
    if len(features) == 1 and (name := features.pop()):
        return (
            say("{name}, width", name=name)
            if all(isinstance(t, Plane) for t in things)
            else say("{name} to {name2}", name=things[0].words, name2=things[1].words)
        )
    return say("{thing} from {thing2}", thing=things[1].words, thing2=things[0].words)


def _round(a: Asked, things: list[Named], frame: Frame) -> dict[str, object]:
    thing = things[0]
    if len(things) != 1 or not isinstance(thing, RoundWall) or thing.corner != (a.kind == "radius"):
        walls = (n for n, t in frame.named.items() if isinstance(t, RoundWall) and t.corner == (a.kind == "radius"))
        bound = say("must be one of: {names}", names=together(walls, ", ") or "none")
        raise Refused.of("of.0", a.of[0], bound)
    value = thing.diameter / 2 if thing.corner else thing.diameter
    if thing.corner:
        value = Decimal(text_of(value.normalize())) if value != value.to_integral() else Decimal(int(value))
    nominal = _written(value, a)
    names = {"radius": say("{name}, radius", name=thing.words), "diameter": say("{name}, diameter", name=thing.words)}
    return {
        "name": capital(names[a.kind]),
        "nominal": nominal,
        "tolerance": read_tolerance(a.tolerance, nominal, frame.unit),
        "metal": Metal.NONE if thing.name.endswith(".circle") else Metal.INSIDE if thing.inside else Metal.OUTSIDE,
        "symbol": Symbol.RADIUS if thing.corner else Symbol.DIAMETER,
        "place": PointedPlace(
            kind="pointed", axis=AXES[thing.axis], at=_texts(thing.centre), radius=text_of(thing.diameter / 2)
        ),
    }


def _form(a: Asked, things: list[Named]) -> dict[str, object]:
    """A face's own form: what an indicator shows over it, never more than the number."""
    face = things[0]
    if len(things) != 1 or not isinstance(face, Plane) or not face.out:
        raise Refused.of("of.0", a.of[0], say("must be a flat face"))
    if (a.kind == "flat") == bool(a.datum):
        bound = (
            say("a flat face needs no datum") if a.datum else say("must be the letter of the face it is held against")
        )
        raise Refused.of("datum", a.datum, bound)
    text = a.tolerance.strip().removesuffix("max").strip()
    if not text.replace(".", "", 1).isdigit() or Decimal(text) <= 0:
        raise Refused.of("tolerance", a.tolerance, say("must be the most a reading may show, such as 0.002"))
    words = {
        "parallel": say("{face} parallel to {datum}", face=face.words, datum=a.datum),
        "square": say("{face} square to {datum}", face=face.words, datum=a.datum),
        "flat": say("{face} flat", face=face.words),
    }
    spot = _texts(tuple(sum(s, Decimal(0)) / 2 for s in face.spans))  # type: ignore[arg-type]
    lines = list(_outline(face))
    return {
        "name": capital(words[a.kind]),
        "nominal": text,
        "tolerance": ToleranceSpec(form=Form.MAXIMUM),
        "metal": Metal.NONE,
        "symbol": FORM_SYMBOLS[a.kind],
        "place": PointedPlace(kind="pointed", axis=AXES[face.axis], at=spot, edge=(lines[0][0], lines[1][1])),
        "lights": tuple(lines),
    }
