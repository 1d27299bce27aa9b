"""What is meant when somebody touches things of a part and wants them on the drawing, and what else it could be."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.distances import free_axes, place_on
from incudo.core.parts.features.frame import Axle, Frame, Named, Plane, RoundWall, Slope, others

#: What a new requirement begins with, by unit: an indicator's movement, a position's zone, a roughness. Common values
#: of a teaching shop; whoever draws the part writes their own.
BEGINS = {
    "movement": {Unit.INCH: "0.002", Unit.MM: "0.05"},
    "zone": {Unit.INCH: "0.010", Unit.MM: "0.25"},
    "finish": {Unit.INCH: "63", Unit.MM: "1.6"},
}


@dataclass(frozen=True)
class AskSpec:
    """A kind of requirement and what is said of it: ``tolerance`` and ``readings`` are the names of their fields
    (empty: there is none), ``empty`` what an empty tolerance means; ``datum`` whether it is held against a letter.
    """

    key: str
    words: str
    tolerance: str
    empty: str = ""
    readings: str = ""
    datum: bool = False


def specs() -> tuple[AskSpec, ...]:
    """All kinds of requirement."""
    of_size, block, times = say("Tolerance"), say("title block"), say("Readings")
    most, places = say("At most"), say("Places to read")
    return (
        AskSpec("distance", say("distance"), of_size, block, times),
        AskSpec("diameter", say("diameter"), of_size, block, times),
        AskSpec("radius", say("radius"), of_size, block, times),
        AskSpec("parallel", say("parallel"), most, readings=places, datum=True),
        AskSpec("square", say("square"), most, readings=places, datum=True),
        AskSpec("flat", say("flat"), most, readings=places),
        AskSpec("position", say("position"), say("Zone ø, M for bonus")),
        AskSpec("runout", say("runout"), most, readings=times, datum=True),
        AskSpec("thread", say("thread, by its gauge"), say("Class"), say("any")),
        AskSpec("angle", say("angle"), say("Tolerance, degrees"), readings=times),
        AskSpec("finish", say("finish"), say("Roughness Ra")),
    )


def touched(of: Sequence[str]) -> Sequence[str]:
    """What was touched for a requirement: of a position the hole alone, its faces were found."""
    return of[:1] if len(of) == 3 else of


def kinds_for(names: Sequence[str], frame: Frame) -> tuple[str, ...]:
    """What could be asked of these things, the likeliest first; nothing where one of them is not there."""
    things = [frame.named.get(n) for n in names]
    match things:
        case [RoundWall(corner=True)]:
            return ("radius",)
        case [RoundWall() as wall] if wall.name.endswith(".circle"):
            return ("diameter",)
        case [RoundWall() as wall]:
            is_hole = wall.name.endswith(".bore")
            tapped = ("thread",) if wall.thread else ()
            return (*tapped, "diameter", *(("position",) if is_hole else ()), "runout", "finish")
        case [Axle() as axle] if axle.name.endswith(".axis") and f"{axle.feature}.bore" in frame.named:
            return ("position",)
        case [Plane(out=out)] if out:
            return ("parallel", "square", "flat", "finish")
        case [Slope()]:
            return ("angle",)
        case [RoundWall() | Axle(), Plane(), Plane()]:
            return ("position",)
        case [Plane() | Axle() | RoundWall(), Plane() | Axle() | RoundWall()]:
            return ("distance",)
    return ()


def meant(
    names: Sequence[str], frame: Frame, datums: Mapping[str, str], number: int, kind: str | None = None
) -> dict[str, Any]:
    """A requirement of these things, of a kind or of the likeliest; a size has its tolerance from the title block.

    One flat face: parallel, or square, to the first datum. Two things: their distance, along the first axis on which
    they have one. Raises ``Refused`` when there is nothing of the kind to ask.
    """
    for n, name in enumerate(names):
        if name not in frame.named:
            raise Refused.of(f"of.{n}", name, say("there is nothing of this name on the part"))
    known = kinds_for(names, frame)
    if not known:
        bound = say("choose one round wall, one face, a hole's axis, or two things")
        raise Refused.of("of", together(names, ", "), bound)
    if kind is not None and kind not in known:
        raise Refused.of("kind", kind, say("must be one of: {known}", known=together(known, ", ")))
    made: dict[str, Any] = {"number": number, "of": list(names)}
    things = [frame.named[n] for n in names]
    match things[0]:
        case Plane() as face if len(things) == 1 and kind != "finish":
            return made | _form(face, frame, datums, kind)
    return made | _of_kind(kind or known[0], things, names, frame, datums)


def _of_kind(
    kind: str, things: Sequence[Named], names: Sequence[str], frame: Frame, datums: Mapping[str, str]
) -> dict[str, Any]:
    match kind:
        case "distance":
            return {"kind": kind, **_along(things[0], things[1], names)}
        case "position":
            faces = names[1:] or _from_datums(things[0], frame, datums)
            return {"kind": kind, "of": [names[0], *faces], "tolerance": BEGINS["zone"][frame.unit]}
        case "runout":
            letter = min(datums, default="")
            return {"kind": kind, "datum": letter, "tolerance": BEGINS["movement"][frame.unit]}
        case "finish":
            return {"kind": kind, "tolerance": BEGINS["finish"][frame.unit]}
        case "angle":
            return {"kind": kind, "tolerance": "±0.5"}
    return {"kind": kind}


def _from_datums(hole: Named, frame: Frame, datums: Mapping[str, str]) -> list[str]:
    """The first two datum faces along a hole that lie across each other."""
    found: dict[int, str] = {}
    for _, name in sorted(datums.items()):
        face = frame.named.get(name)
        if isinstance(face, Plane) and isinstance(hole, (Axle, RoundWall)) and face.axis in others(hole.axis):
            found.setdefault(face.axis, name)
    if len(found) < 2:
        bound = say("a position is from two faces that have letters: make one along each axis a datum first")
        raise Refused.of("of", hole.name, bound)
    return list(found.values())


def _form(face: Plane, frame: Frame, datums: Mapping[str, str], kind: str | None) -> dict[str, Any]:
    least = BEGINS["movement"][frame.unit]
    for letter, name in sorted(datums.items()):
        other = frame.named.get(name)
        if not isinstance(other, Plane) or name == face.name:
            continue
        found = "parallel" if other.axis == face.axis else "square"
        if kind in (None, found):
            return {"kind": found, "datum": letter, "tolerance": least}
    if kind in (None, "flat"):
        return {"kind": "flat", "tolerance": least}
    return {"kind": kind, "datum": "", "tolerance": least}


def _along(one: Named, two: Named, names: Sequence[str]) -> dict[str, Any]:
    free = free_axes((one, two), names)
    apart = [i for i in sorted(free) if place_on(one, i) != place_on(two, i)]
    if not apart:
        raise Refused.of("of", together(names, ", "), say("these two have no distance along one axis"))
    return {"along": "xyz"[apart[0]]} if len(free) > 1 else {}
