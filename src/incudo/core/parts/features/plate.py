"""A plate from a DXF outline: rectangle, circles, round-ended slots and rounded rectangles become features.

What is not understood is listed with its place and is not guessed at.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.filemanagement import read
from ezdxf.lldxf.const import DXFError

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say

Flat = tuple[float, float]
#: Ends that lie so close together, in the file's unit, are one.
CLOSE = 1e-4
#: The bulge of an arc is the tangent of a quarter of its angle: of a quarter turn and of half a turn.
QUARTER, HALF = math.tan(math.pi / 8), 1.0
#: Units of a file by its own number.
UNITS = {1: Unit.INCH, 4: Unit.MM}
PLACES = {Unit.INCH: 4, Unit.MM: 3}


@dataclass(frozen=True)
class LeftOut:
    """Something of the file that was not understood: what it is, on which layer, where."""

    what: str
    layer: str
    at: Flat
    why: str


@dataclass(frozen=True)
class Plate:
    """A part's file as data, as far as the outline says, and what was left out."""

    data: dict[str, Any]
    left_out: tuple[LeftOut, ...]


@dataclass(frozen=True)
class Loop:
    """A closed outline: corners with the bulge of what follows each, and the layer."""

    corners: tuple[tuple[float, float, float], ...]
    layer: str

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, front, right, rear. Arcs of these outlines bulge no further than their ends and half circles."""
        xs, ys = [], []
        for (x0, y0, bulge), (x1, y1, _) in zip(self.corners, self.corners[1:] + self.corners[:1], strict=True):
            xs += [x0, x1]
            ys += [y0, y1]
            if abs(abs(bulge) - HALF) < 1e-3:
                # the far side of a half circle
                xs.append((x0 + x1) / 2 + (y1 - y0) / 2 * bulge)
                ys.append((y0 + y1) / 2 - (x1 - x0) / 2 * bulge)
        return min(xs), min(ys), max(xs), max(ys)


def plate_of(text: str, thickness: str, unit: Unit | None = None) -> Plate:
    """A plate of this thickness from the text of a DXF file.

    ``unit`` is used where the file names none. Raises ``Refused`` for what is no DXF and where there is no rectangle.
    """
    try:
        file = read(io.StringIO(text))
    except (DXFError, ValueError, KeyError, IndexError, TypeError, AttributeError):
        raise Refused.of("text", "", say("must be a DXF file")) from None
    known = UNITS.get(int(file.header.get("$INSUNITS", 0)), unit)
    if known is None:
        raise Refused.of("unit", "", say("must be given: the file does not say whether it is in inches or millimetres"))
    circles: list[tuple[Flat, float, str]] = []
    pieces: list[tuple[Flat, Flat, float, str]] = []
    loops: list[Loop] = []
    left_out: list[LeftOut] = []
    for e in file.modelspace():
        _sort(e, circles, pieces, loops, left_out)
    loops += _chained(pieces, left_out)
    plates = [x for x in loops if _is_rectangle(x)]
    if not plates:
        raise Refused.of("text", "", say("must have a closed rectangle: the outline of the plate"))
    plate = max(plates, key=lambda x: (x.box[2] - x.box[0]) * (x.box[3] - x.box[1]))
    features: list[dict[str, Any]] = []
    zero = plate.box[0], plate.box[1]
    for loop in loops:
        if loop is not plate:
            found = _opening(loop, zero, known, len(features) + 1)
            if isinstance(found, LeftOut):
                left_out.append(found)
            else:
                features.append(found)
    for centre, radius, _ in circles:
        at = [_text(c - z, known) for c, z in zip(centre, zero, strict=True)]
        features.append(
            {
                "kind": "hole",
                "name": f"hole {len(features) + 1}",
                "layout": {"layout": "single", "at": at},
                "diameter": _text(2 * radius, known),
            }
        )
    x, y = _text(plate.box[2] - zero[0], known), _text(plate.box[3] - zero[1], known)
    return Plate({"unit": known, "x": x, "y": y, "z": thickness, "features": features}, tuple(left_out))


def _text(value: float, unit: Unit) -> str:
    return f"{value:.{PLACES[unit]}f}".rstrip("0").rstrip(".") if abs(value) > 1e-9 else "0"


def _sort(
    e: DXFEntity,
    circles: list[tuple[Flat, float, str]],
    pieces: list[tuple[Flat, Flat, float, str]],
    loops: list[Loop],
    left_out: list[LeftOut],
) -> None:
    layer, kind = str(e.dxf.layer), e.dxftype()
    match kind:
        case "CIRCLE":
            circles.append(((e.dxf.center.x, e.dxf.center.y), float(e.dxf.radius), layer))
        case "LINE":
            pieces.append(((e.dxf.start.x, e.dxf.start.y), (e.dxf.end.x, e.dxf.end.y), 0.0, layer))
        case "ARC":
            sweep = math.radians((e.dxf.end_angle - e.dxf.start_angle) % 360)
            ends = (e.start_point, e.end_point)  # type: ignore[attr-defined]
            pieces.append(((ends[0].x, ends[0].y), (ends[1].x, ends[1].y), math.tan(sweep / 4), layer))
        case "LWPOLYLINE":
            corners = tuple((float(x), float(y), float(b)) for x, y, b in e.get_points("xyb"))  # type: ignore[attr-defined]
            if e.closed or (len(corners) > 2 and math.dist(corners[0][:2], corners[-1][:2]) < CLOSE):  # type: ignore[attr-defined]
                loops.append(Loop(corners if e.closed else corners[:-1], layer))  # type: ignore[attr-defined]
            else:
                left_out.append(LeftOut(kind, layer, corners[0][:2] if corners else (0, 0), say("is not closed")))
        case _:
            at = getattr(e.dxf, "insert", None) or getattr(e.dxf, "start", None) or getattr(e.dxf, "center", None)
            spot = (float(at.x), float(at.y)) if at is not None else (0.0, 0.0)
            left_out.append(LeftOut(kind, layer, spot, say("is no line, arc, circle or closed outline")))


def _chained(pieces: Iterable[tuple[Flat, Flat, float, str]], left_out: list[LeftOut]) -> list[Loop]:
    """Lines and arcs that follow each other, as closed outlines."""
    rest, loops = list(pieces), []
    while rest:
        first = rest.pop(0)
        chain = [first]
        while math.dist(chain[-1][1], first[0]) >= CLOSE:
            follows = next(
                (p for p in rest if min(math.dist(p[0], chain[-1][1]), math.dist(p[1], chain[-1][1])) < CLOSE), None
            )
            if follows is None:
                break
            rest.remove(follows)
            turned = math.dist(follows[0], chain[-1][1]) >= CLOSE
            chain.append((follows[1], follows[0], -follows[2], follows[3]) if turned else follows)
        if math.dist(chain[-1][1], first[0]) < CLOSE and len(chain) > 1:
            loops.append(Loop(tuple((p[0][0], p[0][1], p[2]) for p in chain), first[3]))
        else:
            left_out += [
                LeftOut("ARC" if p[2] else "LINE", p[3], p[0], say("is not part of a closed outline")) for p in chain
            ]
    return loops


def _is_rectangle(loop: Loop) -> bool:
    c = loop.corners
    straight = len(c) == 4 and all(abs(b) < 1e-9 for _, _, b in c)
    return straight and all(abs(c[i][0] - c[i - 1][0]) < CLOSE or abs(c[i][1] - c[i - 1][1]) < CLOSE for i in range(4))


def _opening(loop: Loop, zero: Flat, unit: Unit, n: int) -> dict[str, Any] | LeftOut:
    """A slot or a pocket through the plate, or why it is neither."""
    left, front, right, rear = loop.box
    wide, tall = right - left, rear - front
    middle = ((left + right) / 2 - zero[0], (front + rear) / 2 - zero[1])
    bulges = sorted(abs(b) for _, _, b in loop.corners)
    where = (left, front)
    if _is_rectangle(loop):
        return LeftOut("outline", loop.layer, where, say("has sharp corners inside: no cutter makes them"))
    if len(bulges) == 4 and bulges[1] < 1e-6 and all(abs(b - HALF) < 1e-3 for b in bulges[2:]):
        along = wide > tall
        ends = (left - zero[0], right - zero[0]) if along else (front - zero[1], rear - zero[1])
        return {
            "kind": "slot",
            "name": f"slot {n}",
            "along": "x" if along else "y",
            "at": _text(middle[1] if along else middle[0], unit),
            "width": _text(min(wide, tall), unit),
            "start": _text(ends[0], unit),
            "end": _text(ends[1], unit),
        }
    if len(bulges) == 8 and bulges[3] < 1e-6 and all(abs(b - QUARTER) < 1e-3 for b in bulges[4:]):
        radius = _corner_radius(loop)
        if radius is not None:
            return {
                "kind": "pocket",
                "name": f"window {n}",
                "at": [_text(m, unit) for m in middle],
                "size": [_text(wide, unit), _text(tall, unit)],
                "radius": _text(radius, unit),
            }
    return LeftOut("outline", loop.layer, where, say("is no rectangle, slot or rounded rectangle"))


def _corner_radius(loop: Loop) -> float | None:
    """The radius of all four corners, when it is one and their ends lie along the axes."""
    found = []
    for (x0, y0, bulge), (x1, y1, _) in zip(loop.corners, loop.corners[1:] + loop.corners[:1], strict=True):
        if abs(bulge) > 1e-6:
            if abs(abs(x1 - x0) - abs(y1 - y0)) > CLOSE * 10:
                return None
            found.append(abs(x1 - x0))
        elif abs(x1 - x0) > CLOSE and abs(y1 - y0) > CLOSE:
            return None
    return found[0] if found and max(found) - min(found) < CLOSE * 10 else None
