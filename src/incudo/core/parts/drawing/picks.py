"""Where the named things of a part lie on its sheet, so that a page can let them be touched."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from incudo.core.parts.drawing.marks import Spot
from incudo.core.parts.drawing.placed import Placed
from incudo.core.parts.features.frame import Axle, Frame, Plane, RoundWall, Slope
from incudo.core.parts.features.frame import Spot as Corner


@dataclass(frozen=True)
class Pick:
    """A thing in one view: a line (a face from its edge), a field (a face from the front), or a ring.

    ``points`` are two ends, two opposite corners, or the middle and a spot on the ring, in sheet units.
    """

    name: str
    words: str
    kind: str
    points: tuple[Spot, Spot]


def picks(frame: Frame, views: Iterable[Placed]) -> tuple[Pick, ...]:
    """All that can be touched; fields first, then lines and rings, which lie on them."""
    fields: list[Pick] = []
    others: list[Pick] = []
    for view in views:
        for thing in frame.named.values():
            match thing:
                case Plane(axis=axis, out=out) if out:
                    a, b = (_flat(view, tuple(s[n] for s in thing.spans)) for n in (0, 1))  # type: ignore[arg-type]
                    if axis != view.view.depth:
                        others.append(Pick(thing.name, thing.words, "line", (a, b)))
                    elif (out < 0) == view.view.towards_plus:
                        fields.append(Pick(thing.name, thing.words, "field", (a, b)))
                case Slope(axis=axis, ends=(one, two)) if axis == view.view.depth:
                    others.append(Pick(thing.name, thing.words, "line", (_flat(view, one), _flat(view, two))))
                case Axle(axis=axis) if axis == view.view.depth:
                    middle = _flat(view, thing.centre)
                    others.append(Pick(thing.name, thing.words, "centre", (middle, middle)))
                case RoundWall(axis=axis) if axis == view.view.depth:
                    middle = _flat(view, thing.centre)
                    edge = middle[0] + float(thing.diameter) / 2 * view.scale, middle[1]
                    others.append(Pick(thing.name, thing.words, "ring", (middle, edge)))
    return (*fields, *others)


def _flat(view: Placed, corner: Corner) -> Spot:
    return view.flat(float(corner[view.view.across]), float(corner[view.view.up]))
