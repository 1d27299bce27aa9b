"""Requirements of a size: the distance of two things, the diameter or radius of a round wall.

The nominal, and on which side there is metal left, follow from the part.
"""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length
from incudo.core.kernel.say import capital, say, together
from incudo.core.measuring.tolerance import Form, Tolerance
from incudo.core.measuring.verdict import Metal
from incudo.core.parts.features.asked import Asked, outline, texts, written
from incudo.core.parts.features.frame import Axle, Frame, Named, Plane, RoundWall, Slope, Spot, text_of
from incudo.core.parts.features.tolerances import read_tolerance
from incudo.core.parts.project import AXES, Axis, BetweenPlace, PointedPlace, Symbol


def distance(a: Asked, things: list[Named], frame: Frame) -> dict[str, object]:
    """The characteristic of a distance between two things, in the unit of the part. Raises ``Refused``."""
    if len(things) != 2:
        raise Refused.of("of", together(a.of, ", "), say("a distance is between two things"))
    axis = _axis(a, things)
    at = [place_on(t, axis) for t in things]
    if at[0] == at[1]:
        raise Refused.of("of.1", a.of[1], say("lies at the same place as {of}", of=a.of[0]))
    nominal = written(abs(at[1] - at[0]), a)
    spec = read_tolerance(a.tolerance, nominal, frame.unit)
    return {
        "name": capital(_distance_words(a, things)),
        "nominal": nominal,
        "tolerance": spec,
        "metal": _metal(things, at),
        "place": between((things[0], things[1]), axis, frame),
        "lights": tuple(line for t in things if isinstance(t, Plane) and t.out for line in outline(t)),
    }


def between(things: tuple[Named, Named], axis: int, frame: Frame) -> BetweenPlace:
    """A dimension between two things along an axis."""
    (start, start_to), (end, end_to) = (_reach(t) for t in things)
    return BetweenPlace(
        kind="between",
        axis=AXES[axis],
        start=texts(start),
        end=texts(end),
        start_to=texts(start_to),
        end_to=texts(end_to),
        seen=_seen(things, axis, frame),
    )


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
    raise Refused.of("along", a.along, say("must say along which axis: {axes}", axes=axes))


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


def _seen(things: Iterable[Named], axis: int, frame: Frame) -> tuple[Axis, ...]:
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


def round_size(a: Asked, things: list[Named], frame: Frame) -> dict[str, object]:
    """The characteristic of a diameter or a radius, in the unit of the part. Raises ``Refused``."""
    thing = things[0]
    if len(things) != 1 or not isinstance(thing, RoundWall) or thing.corner != (a.kind == "radius"):
        walls = (n for n, t in frame.named.items() if isinstance(t, RoundWall) and t.corner == (a.kind == "radius"))
        bound = say("must be one of: {names}", names=together(walls, ", ") or "none")
        raise Refused.of("of.0", a.of[0], bound)
    value = thing.diameter / 2 if thing.corner else thing.diameter
    if thing.corner:
        value = Decimal(text_of(value.normalize())) if value != value.to_integral() else Decimal(int(value))
    nominal = written(value, a)
    names = {"radius": say("{name}, radius", name=thing.words), "diameter": say("{name}, diameter", name=thing.words)}
    return {
        "name": capital(names[a.kind]),
        "nominal": nominal,
        "tolerance": read_tolerance(a.tolerance, nominal, frame.unit),
        "metal": Metal.NONE if thing.name.endswith(".circle") else Metal.INSIDE if thing.inside else Metal.OUTSIDE,
        "symbol": Symbol.RADIUS if thing.corner else Symbol.DIAMETER,
        "place": PointedPlace(
            kind="pointed", axis=AXES[thing.axis], at=texts(thing.centre), radius=text_of(thing.diameter / 2)
        ),
    }


def limits_of(a: Asked, wall: RoundWall, frame: Frame) -> tuple[Fraction, Fraction] | None:
    """Both limits of a diameter in mm, where its tolerance says both. Raises ``Refused`` for what cannot be read."""
    nominal = written(wall.diameter, a)
    t = read_tolerance(a.tolerance, nominal, frame.unit)
    if t.form is Form.TITLE_BLOCK:
        return None
    first, second = (None if x is None else Length(x, frame.unit) for x in (t.first, t.second))
    found = Tolerance(t.form, first, second).limits(Length(nominal, frame.unit), {})
    return None if found.lower is None or found.upper is None else (found.lower, found.upper)
