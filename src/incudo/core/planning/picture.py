"""The part before an operation as it lies in the vise, the metal that goes in brass, the jaws, the cutter and its feed.

In the plane of the isometric view, in mm to the right and down; each role is one path of SVG. Pictures only.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from shapely.geometry.base import BaseGeometry

from incudo.core.kernel.say import say
from incudo.core.parts.geometry.isometric import flat, isometric
from incudo.core.parts.geometry.sections import reach, section, section_of
from incudo.core.parts.geometry.solid import Body, Corner, Solid
from incudo.core.planning.course import Course
from incudo.core.planning.file import HeldIn, PlanHolding
from incudo.core.planning.gripping import Grip, grip_of
from incudo.core.planning.kinds import DRILLING
from incudo.core.planning.piece import TINY
from incudo.core.planning.place import Place
from incudo.core.planning.settle import Settled
from incudo.core.planning.stages import Stage

#: Room around the drawing, and how thick jaws are drawn, as shares of the size of the work.
ROOM, JAW = 0.06, 0.22
#: Points of a drawn circle.
POINTS = 28


@dataclass(frozen=True)
class Frame:
    """One frame: what is drawn in each role, how large it is, what it shows in words and where the table goes."""

    view: tuple[float, float, float, float]
    part: str
    metal: str
    behind: str
    before: str
    cutter: str
    feed: str
    words: str
    table: str


@lru_cache(maxsize=1024)
def _edges(solid: Solid) -> tuple[tuple[tuple[float, float], tuple[float, float]], ...]:
    """Edges of a solid as one sees them: asked for again and again while a plan grows."""
    return tuple((s.a, s.b) for s in isometric(solid))


def frame_of(course: Course, stage: Stage, numbers: Settled, *, large: bool = False) -> Frame:
    """The frame of one operation; a large one with jaws, cutter and feed."""
    lying = stage.place.solid(stage.before)
    low, high = stage.block_at_start
    size = max(high[i] - low[i] for i in range(3))
    metal = _metal(stage, lying)
    behind = before = cutter = feed = table = ""
    grip = grip_of(course, stage.holding, [s for s in course.stages if s.holding.id == stage.holding.id])
    extra: list[Corner] = []
    if large:
        behind, before, extra = _jaws(stage, grip, size)
        cutter, feed, table, more = _cutter(stage, numbers, size)
        extra += more
    corners = [(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
    flats = [flat(c) for c in (*corners, *extra)]
    xs, ys = [f[0] for f in flats], [-f[1] for f in flats]
    room = size * ROOM
    view = (
        round(min(xs) - room, 2),
        round(min(ys) - room, 2),
        round(max(xs) - min(xs) + 2 * room, 2),
        round(max(ys) - min(ys) + 2 * room, 2),
    )
    words = say("{up} looks up.", up=course.piece.words(stage.holding.up))
    return Frame(view, _lines(_edges(lying)), metal, behind, before, cutter, feed, words, table)


def bare_frame(course: Course, holding: PlanHolding | None) -> Frame:
    """The part as it stands after a holding, lying as in it; without one, the stock as the drawing has it."""
    place = Place.of(holding.up, holding.fixed) if holding else Place.of("top", "rear")
    mine = [s for s in course.stages if holding is not None and s.holding.id == holding.id]
    order = [h.id for h in course.plan.holdings]
    before = [s for s in course.stages if holding is None or order.index(s.holding.id) < order.index(holding.id)]
    solid = (mine or before)[-1].after if mine or before else course.piece.stock
    lying = place.solid(solid)
    low, high = lying.extent
    flats = [flat((x, y, z)) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
    xs, ys = [f[0] for f in flats], [-f[1] for f in flats]
    room = max(high[i] - low[i] for i in range(3)) * ROOM
    view = (min(xs) - room, min(ys) - room, max(xs) - min(xs) + 2 * room, max(ys) - min(ys) + 2 * room)
    words = say("{up} looks up.", up=course.piece.words(holding.up)) if holding else say("The stock as it is sawn.")
    return Frame(view, _lines(_edges(lying)), "", "", "", "", "", words, "")


def _point(p: tuple[float, float]) -> str:
    return f"{p[0]:.1f} {-p[1]:.1f}"


def _lines(segments: Iterable[tuple[tuple[float, float], tuple[float, float]]]) -> str:
    return "".join(f"M{_point(a)}L{_point(b)}" for a, b in segments)


def _ring(corners: Sequence[Corner], *, closed: bool = True) -> str:
    if not corners:
        return ""
    points = [_point(flat(c)) for c in corners]
    return f"M{'L'.join(points)}{'Z' if closed else ''}"


def _metal(stage: Stage, lying: Solid) -> str:
    """What is seen of the metal that goes: from above, from the front, from the right."""
    found = ""
    low, high = stage.block
    for body in stage.lying:
        top = min(reach(body, 2)[1], high[2])
        found += _seen(body, lying, 2, top, -1)
        if reach(body, 1)[0] <= low[1] + TINY:
            found += _seen(body, lying, 1, low[1], 1)
        if reach(body, 0)[1] >= high[0] - TINY:
            found += _seen(body, lying, 0, high[0], -1)
    return found


def _seen(body: Body, lying: Solid, axis: int, at: float, inwards: int) -> str:
    near = at + inwards * 1e-3
    common = section_of(body, axis, near, 8).intersection(section(lying, axis, near, 8))
    return "".join(_ring([_lift(axis, at, x, y) for x, y in ring]) for ring in _rings(common))


def _rings(shape: BaseGeometry) -> Iterable[list[tuple[float, float]]]:
    for part in getattr(shape, "geoms", [shape]):
        if part.geom_type == "Polygon" and part.area > 1e-4:
            yield [(float(x), float(y)) for x, y in part.exterior.coords[:-1]]
            for hole in part.interiors:
                yield [(float(x), float(y)) for x, y in hole.coords[:-1]]


def _lift(axis: int, at: float, x: float, y: float) -> Corner:
    made = [x, y]
    made.insert(axis, at)
    return made[0], made[1], made[2]


def _jaws(stage: Stage, grip: Grip | None, size: float) -> tuple[str, str, list[Corner]]:
    """The fixed jaw behind the work and the moving one before it, as high as they reach."""
    if grip is None or stage.holding.held is not HeldIn.VISE:
        return "", "", []
    low, high = stage.block_at_start
    top, thick = low[2] + float(grip.top), size * JAW
    jaw = min(float(grip.vise.jaws.jaw), (high[0] - low[0]) * 1.6)
    out = float(stage.holding.out) * float(stage.piece.unit.in_mm)
    right = high[0] - out if out > 0 else (low[0] + high[0] + jaw) / 2
    x0, x1 = right - jaw, right
    foot = min(top, low[2]) - size * 0.02
    behind = _ring([(x0, high[1], top), (x1, high[1], top), (x1, high[1] + thick, top), (x0, high[1] + thick, top)])
    behind += _ring([(x1, high[1], foot), (x1, high[1] + thick, foot), (x1, high[1] + thick, top), (x1, high[1], top)])
    front = low[1] - thick
    before = _ring([(x0, low[1], top), (x1, low[1], top), (x1, front, top), (x0, front, top)])
    before += _ring([(x0, front, foot), (x1, front, foot), (x1, front, top), (x0, front, top)])
    before += _ring([(x1, low[1], foot), (x1, front, foot), (x1, front, top), (x1, low[1], top)])
    return (
        behind,
        before,
        [(x0, front, foot), (x1, front, foot), (x1, high[1] + thick, top), (x0, high[1] + thick, top)],
    )


def _cutter(stage: Stage, numbers: Settled, size: float) -> tuple[str, str, str, list[Corner]]:
    """The cutter above the beginning of its last pass, the way of its axis, and where the table goes meanwhile."""
    if stage.cutter is None or not numbers.path:
        return "", "", "", []
    radius = min(float(stage.cutter.real) / 2, size)
    high = stage.block[1][2]
    drilling = stage.kind in DRILLING
    lane = numbers.path[-2:] if len(numbers.path) > 1 and not drilling else numbers.path[:1]
    (x, y), tall = lane[0], max(size * 0.3, radius)
    z = high + size * 0.1
    circle = [(x + radius * math.cos(a), y + radius * math.sin(a)) for a in _turn()]
    found = _ring([(a, b, z) for a, b in circle]) + _ring([(a, b, z + tall) for a, b in circle])
    left, right = (_extreme(circle, sign) for sign in (-1, 1))
    found += _ring([(*left, z), (*left, z + tall)], closed=False) + _ring(
        [(*right, z), (*right, z + tall)], closed=False
    )
    points: list[Corner] = [(a, b, at) for a, b in circle for at in (z, z + tall)]
    if stage.cutter.on_arbor:
        found, points = _wheel((x, y, high), float(stage.cutter.width) / 2, radius)
    feed = table = ""
    if len(lane) == 2:
        end = lane[1]
        feed = _arrow((*lane[0], high), (*end, high), size)
        points += [(*end, high)]
        table = _table(lane[0], end)
    elif drilling:
        feed = _ring([(a, b, high) for a, b in numbers.path], closed=False)
        table = say("quill down")
    return found, feed, table, points


def _wheel(at: Corner, half: float, radius: float) -> tuple[str, list[Corner]]:
    """A cutter on an arbor above a place: both its sides, and the edges between them that one sees."""
    x, y, z = at[0], at[1], at[2] + radius
    rim = [(x + radius * math.cos(a), z + radius * math.sin(a)) for a in _turn()]
    sides = [[(u, v, w) for u, w in rim] for v in (y - half, y + half)]
    edges = [max(range(POINTS), key=lambda n: sign * _beside(sides[0][n])) for sign in (-1, 1)]
    found = "".join(_ring(side) for side in sides)
    found += "".join(_ring([sides[0][n], sides[1][n]], closed=False) for n in edges)
    return found, [*sides[0], *sides[1]]


def _beside(corner: Corner) -> float:
    """How far a point lies beside the way of the arbor in the view: by this the outermost points of a rim are found."""
    (x, y), (u, v) = flat(corner), flat((0.0, 1.0, 0.0))
    return x * v - y * u


def _turn() -> list[float]:
    return [math.tau * i / POINTS for i in range(POINTS)]


def _extreme(circle: list[tuple[float, float]], sign: int) -> tuple[float, float]:
    return max(circle, key=lambda p: sign * flat((p[0], p[1], 0.0))[0])


def _arrow(start: Corner, end: Corner, size: float) -> str:
    along = [b - a for a, b in zip(start, end, strict=True)]
    length = math.hypot(*along) or 1.0
    ux, uy = along[0] / length, along[1] / length
    tip = size * 0.07
    wings = [(end[0] - ux * tip - s * uy * tip * 0.6, end[1] - uy * tip + s * ux * tip * 0.6, end[2]) for s in (-1, 1)]
    return _ring([start, end], closed=False) + _ring([wings[0], end, wings[1]], closed=False)


def _table(start: tuple[float, float], end: tuple[float, float]) -> str:
    """The table goes the other way than the cutter over the work."""
    dx, dy = end[0] - start[0], end[1] - start[1]
    if abs(dx) >= abs(dy):
        return say("table left") if dx > 0 else say("table right")
    return say("table towards you") if dy > 0 else say("table away from you")
