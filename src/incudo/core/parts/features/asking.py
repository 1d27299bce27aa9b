"""What is meant when somebody touches one or two things of a part and wants it on the drawing."""

from __future__ import annotations

from typing import Any

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together
from incudo.core.parts.features.asked import free_axes, place_on
from incudo.core.parts.features.frame import Frame, Named, Plane, RoundWall


def meant(names: tuple[str, ...], frame: Frame, datums: dict[str, str], number: int) -> dict[str, Any]:
    """A requirement of one or two named things, its tolerance left to the title block.

    One round wall: its diameter (a corner: its radius). One flat face: parallel, or square, to the first datum. Two
    things: their distance, along the first axis on which they have one. Raises ``Refused`` when they have none.
    """
    things = []
    for n, name in enumerate(names):
        if name not in frame.named:
            raise Refused.of(f"of.{n}", name, say("there is nothing of this name on the part"))
        things.append(frame.named[name])
    match things:
        case [RoundWall(corner=corner)]:
            return {"number": number, "kind": "radius" if corner else "diameter", "of": list(names)}
        case [Plane(out=out) as face] if out:
            return _form(face, frame, datums, number)
        case [one, two]:
            return {"number": number, "kind": "distance", "of": list(names), **_along(one, two, names)}
        case _:
            raise Refused.of("of", together(names, ", "), say("choose one round wall, one face, or two things"))


def _form(face: Plane, frame: Frame, datums: dict[str, str], number: int) -> dict[str, Any]:
    least = "0.002" if frame.unit == "in" else "0.05"
    for letter, name in sorted(datums.items()):
        other = frame.named.get(name)
        if isinstance(other, Plane) and name != face.name:
            kind = "parallel" if other.axis == face.axis else "square"
            return {"number": number, "kind": kind, "of": [face.name], "datum": letter, "tolerance": least}
    return {"number": number, "kind": "flat", "of": [face.name], "tolerance": least}


def _along(one: Named, two: Named, names: tuple[str, ...]) -> dict[str, Any]:
    free = free_axes((one, two), names)
    apart = [i for i in sorted(free) if place_on(one, i) != place_on(two, i)]
    if not apart:
        raise Refused.of("of", together(names, ", "), say("these two have no distance along one axis"))
    return {"along": "xyz"[apart[0]]} if len(free) > 1 else {}
