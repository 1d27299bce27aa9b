"""How far a cutter must stand out of its holder, so that the holder behind it clears what stands beside the cut.

Lengths in mm. What is looked for is the highest metal, and the top of the jaws, that lies under the way of the holder.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from shapely import LineString, MultiPoint, box
from shapely.geometry.base import BaseGeometry

from incudo.core.kernel.say import say
from incudo.core.parts.geometry.sections import reach, section
from incudo.core.parts.geometry.solid import Revolved, Solid
from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind
from incudo.core.planning.gripping import Grip
from incudo.core.planning.kinds import DRILLING
from incudo.core.planning.piece import exact
from incudo.core.planning.settle import path_of
from incudo.core.planning.stages import Stage
from incudo.core.reckoning.holes.shared import point_length
from incudo.core.setup.holding import CLEARANCE

#: A section this small is a line that two outlines share, mm².
_NOTHING = 1e-3
#: So far below a top its metal is looked for, and so finely on a bar, whose flank falls away.
_UNDER, _FINE = 1e-3, 0.25
#: These are turned by hand, or take nothing.
_BY_HAND = (OperationKind.TAP, OperationKind.DEBURR, OperationKind.MEASURE)


@dataclass(frozen=True)
class Standing:
    """How far a cutter must stand out at least, and what the holder would meet with less."""

    least: Fraction
    what: str


def standing_out(course: Course, stage: Stage, grip: Grip | None) -> Standing | None:
    """How far the cutter of an operation must stand out of its holder at least: what rises beside the cut, as far as
    the holder reaches, and a sixteenth of an inch. None where nothing is cut, or nothing is known of its holder.
    """
    cutter, tip = stage.cutter, _tip(stage)
    if cutter is None or tip is None or stage.kind in _BY_HAND or cutter.on_arbor:
        return None
    nose = course.shop.nose(stage.operation.holder or cutter.holder)
    way = way_of(stage, cutter.real, nose) if nose is not None else None
    if nose is None or way is None:
        return None
    found = [(_top(stage.place.solid(stage.after), way, tip), say("the work"))]
    jaws = _jaws(stage, grip, float(nose)) if grip else None
    if jaws is not None and jaws[0].intersects(way):
        found.append((jaws[1], say("the jaws")))
    top, what = max(found, key=lambda x: x[0])
    return Standing(max(exact(top - tip), Fraction(0)) + CLEARANCE, what)


def _tip(stage: Stage) -> float | None:
    """How low the end of the cutter comes; none where it takes nothing."""
    if not stage.lying:
        return None
    if stage.kind in DRILLING:
        bottom = stage.block[0][2]
        low = max(min(reach(b, 2)[0] for b in stage.lying), bottom)
        if stage.through and stage.kind is OperationKind.DRILL and stage.cutter is not None:
            low -= float(point_length(stage.cutter.real, stage.cutter.point) + CLEARANCE)
        return low
    return stage.floor


def way_of(stage: Stage, diameter: Fraction, nose: Fraction) -> BaseGeometry | None:
    """Where something so wide passes that turns with the cutter, seen from above; mm. None where nothing moves."""
    points = path_of(stage, diameter)
    if not points:
        return None
    line = MultiPoint(points) if stage.kind in DRILLING or len(points) == 1 else LineString(points)
    return line.buffer(float(nose) / 2)


def _top(lying: Solid, way: BaseGeometry, tip: float) -> float:
    """How high the metal under the holder's way reaches; ``tip`` where there is none above it."""
    tops = {end for b in (lying.base, *lying.cuts) for end in reach(b, 2)}
    low, high = reach(lying.base, 2)
    if isinstance(lying.base, Revolved):
        steps = int((high - low) / _FINE)
        tops |= {low + i * _FINE for i in range(steps + 1)}
    for top in sorted((t for t in tops if tip < t <= high), reverse=True):
        if section(lying, 2, top - _UNDER).intersection(way).area > _NOTHING:
            return top
    return tip


def _jaws(stage: Stage, grip: Grip, nose: float) -> tuple[BaseGeometry, float] | None:
    """The jaws from above as far as a holder would reach over them, and their height."""
    (left, front, bottom), (right, rear, _) = stage.block_at_start
    out = float(Fraction(stage.holding.out) * stage.piece.unit.in_mm)
    jaw = float(grip.vise.jaws.jaw)
    # work that stands out at the right is gripped up to there; other work lies in their middle
    end = right - out if out else (left + right + jaw) / 2
    both = box(end - jaw, rear, end, rear + nose).union(box(end - jaw, front - nose, end, front))
    return both, bottom + float(grip.top)
