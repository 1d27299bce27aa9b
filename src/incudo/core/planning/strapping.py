"""Where straps can stand on work that lies on the table: clear of every way of the cutter, on metal that stays.

Lengths in mm, seen from above in machine X and Y.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

from shapely import Polygon, box
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from incudo.core.kernel.quantity import Length
from incudo.core.kernel.say import say
from incudo.core.parts.geometry.sections import section
from incudo.core.parts.geometry.solid import Corner
from incudo.core.planning.course import Course
from incudo.core.planning.reach import way_of
from incudo.core.planning.shop import USUAL_STRAP
from incudo.core.planning.stages import Stage
from incudo.core.setup.holding import CLEARANCE

#: A strap: how far its nose lies on the work, how high it stands over the work with its nut, and the least that must
#: be left of it behind the work for its stud and its heel. Rule of thumb.
NOSE, HIGH, LEAST_BEHIND = 12.0, 40.0, 40.0
#: Places are looked for so far apart along an edge.
_STEP = 5.0
#: So much of the nose must lie on metal.
_ON_METAL = 0.95
#: Two straps stand at least so far apart, as a share of the longer side: closer, the work turns about them.
APART = 0.5
#: So far below the top its metal is looked for.
_UNDER = 1e-3


@dataclass(frozen=True)
class StrapPlace:
    """One strap: on which edge (the machine axis across it, 0 X, 1 Y, and its side) and how far along that edge."""

    axis: int
    out: int
    along: float
    nose: tuple[float, float, float, float]
    strap: tuple[float, float, float, float]

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of its nose."""
        low_x, low_y, high_x, high_y = self.nose
        return (low_x + high_x) / 2, (low_y + high_y) / 2

    def words(self, course: Course) -> str:
        """Where it stands, from a corner that one can measure from."""
        k = course.piece.unit.in_mm
        number = round(self.along / float(k), 0 if k == 1 else 1)
        at = say("{number} {unit}", number=f"{number:g}", unit=course.piece.unit)
        edges = {
            (0, -1): say("on the left edge, {at} from the front", at=at),
            (0, 1): say("on the right edge, {at} from the front", at=at),
            (1, -1): say("on the front edge, {at} from the left", at=at),
            (1, 1): say("on the rear edge, {at} from the left", at=at),
        }
        return edges[self.axis, self.out]


@dataclass(frozen=True)
class Strapping:
    """A holding under straps from above: the work's box, its metal at the top, where the cutter passes, the straps.

    ``long`` is the strap of the shop that is taken.
    """

    low: tuple[float, float]
    high: tuple[float, float]
    metal: tuple[tuple[tuple[float, float], ...], ...]
    way: tuple[tuple[tuple[float, float], ...], ...]
    places: tuple[StrapPlace, ...]
    long: Length


def strap_to_take(straps: Sequence[Length]) -> Length:
    """The shortest strap that leaves enough behind the work; the longest where none does."""
    ordered = sorted(straps, key=lambda x: x.mm) or [USUAL_STRAP]
    return next((x for x in ordered if x.mm >= NOSE + LEAST_BEHIND), ordered[-1])


def strapping(course: Course, stages: Sequence[Stage]) -> Strapping:
    """The holding with the two places of its straps that are furthest apart; fewer where there is no room for two."""
    low, high = stages[0].block_at_start
    metal = section(stages[-1].place.solid(stages[-1].after), 2, high[2] - _UNDER)
    way = unary_union([_way(course, s, high[2]) for s in stages])
    long = strap_to_take(course.shop.straps)
    places = list(_places(low, high, metal, way, (float(long.mm) - NOSE, float(course.shop.strap_width))))
    chosen = tuple(places[:1])
    pairs = [(_distance(a, b), a, b) for a, b in combinations(places, 2)]
    if pairs:
        far, a, b = max(pairs, key=lambda p: p[0])
        if far >= APART * max(high[0] - low[0], high[1] - low[1]):
            chosen = (a, b)
    return Strapping((low[0], low[1]), (high[0], high[1]), _outlines(metal), _outlines(way), chosen, long)


def _outlines(shape: BaseGeometry) -> tuple[tuple[tuple[float, float], ...], ...]:
    """The rings of a shape, outer and inner."""
    polygons = [g for g in getattr(shape, "geoms", [shape]) if isinstance(g, Polygon) if not g.is_empty]
    return tuple(tuple((x, y) for x, y in ring.coords) for g in polygons for ring in (g.exterior, *g.interiors))


def _distance(a: StrapPlace, b: StrapPlace) -> float:
    (ax, ay), (bx, by) = a.middle, b.middle
    return float(((ax - bx) ** 2 + (ay - by) ** 2) ** 0.5)


def _places(
    low: Corner, high: Corner, metal: BaseGeometry, way: BaseGeometry, strap: tuple[float, float]
) -> Iterator[StrapPlace]:
    """Every place along the four edges where a strap lies on metal that stays, and in no cutter's way; ``strap`` is
    how far it stands out behind the work, and how wide it is.
    """
    behind, wide = strap
    for axis in (0, 1):
        along = 1 - axis
        length = high[along] - low[along]
        first, last = min(wide, length) / 2, length - min(wide, length) / 2
        count = int((last - first) / _STEP)
        for out in (-1, 1):
            edge = (high if out > 0 else low)[axis]
            for at in (*(first + n * _STEP for n in range(count + 1)), last):
                middle = low[along] + at
                place = StrapPlace(
                    axis,
                    out,
                    at,
                    _across(axis, (edge - out * NOSE, edge), middle, wide),
                    _across(axis, (edge - out * NOSE, edge + out * behind), middle, wide),
                )
                nose = box(*place.nose)
                if nose.intersection(metal).area >= _ON_METAL * nose.area and not box(*place.strap).intersects(way):
                    yield place


def _across(axis: int, ends: tuple[float, float], middle: float, wide: float) -> tuple[float, float, float, float]:
    low, high = min(ends), max(ends)
    if axis == 0:
        return low, middle - wide / 2, high, middle + wide / 2
    return middle - wide / 2, low, middle + wide / 2, high


def _way(course: Course, stage: Stage, top: float) -> BaseGeometry:
    """Where the cutter passes with a sixteenth of an inch to spare, and its holder where it comes as low as a strap."""
    cutter = stage.cutter
    if cutter is None or not stage.taken:
        return Polygon()
    wide = cutter.real
    nose = course.shop.nose(stage.operation.holder or cutter.holder)
    deep = top - (stage.floor if stage.floor is not None else top)
    out = cutter.out
    if nose is not None and out is not None and out < deep + HIGH:
        wide = max(wide, nose)
    return way_of(stage, cutter.real, wide + 2 * CLEARANCE) or Polygon()
