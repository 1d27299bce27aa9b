"""Whether features can be cut where they are: in metal that is there, from a face that is free, leaving one piece."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from itertools import pairwise

from shapely import box
from shapely.geometry.base import BaseGeometry

from incudo.core.kernel.errors import FieldError
from incudo.core.kernel.quantity import sense
from incudo.core.kernel.say import say
from incudo.core.parts.features.file import Feature
from incudo.core.parts.features.frame import Frame, Plane, Span
from incudo.core.parts.geometry.sections import levels, reach, section, section_of
from incudo.core.parts.geometry.solid import Body, Solid, Wedge

#: A share of an area below this is rounding of arcs.
NOTHING = 0.004
#: Where along a cut one looks for metal.
LOOKS = (0.08, 0.5, 0.92)


def can_be_cut(feature: Feature, cuts: tuple[Body, ...], before: Solid, frame: Frame) -> list[FieldError]:
    """What is wrong with cutting a feature from the metal that is there; fields within the feature."""
    if feature.kind in ("chamfer", "angled"):
        return _at_an_edge(cuts, before)
    face = frame.named.get(feature.face)
    if not isinstance(face, Plane):
        return []
    if not any(_takes(c, before, face.axis) for c in cuts):
        return [FieldError("face", feature.face, say("there is no metal left where this would be cut"))]
    tiny = _tiny(before)
    for n, cut in enumerate(cuts):
        foot = section_of(cut, face.axis, float(face.at) - face.out * tiny)
        above = section(before, face.axis, float(face.at) + face.out * tiny)
        if foot.intersection(above).area > NOTHING * foot.area:
            return [FieldError("face", feature.face, say("there is still metal above this face there: cut that first"))]
        if feature.kind == "hole" and not (frame.bar and face.axis and not face.feature):
            there = section(before, face.axis, float(face.at) - face.out * tiny)
            if foot.difference(there).area > NOTHING * foot.area:
                which = say("hole {n}", n=n + 1) if len(cuts) > 1 else say("the hole")
                words = say("{which} would not start in full metal: choose the face that it starts from", which=which)
                return [FieldError("layout.at.0", feature.layout.at[0], words)]
    return []


def _tiny(solid: Solid) -> float:
    low, high = solid.extent
    return max(high[i] - low[i] for i in range(3)) * 1e-6


def _takes(cut: Body, before: Solid, axis: int) -> bool:
    low, high = reach(cut, axis)
    edge_low, edge_high = before.extent[0][axis], before.extent[1][axis]
    low, high = max(low, edge_low), min(high, edge_high)
    for share in LOOKS:
        at = low + (high - low) * share
        foot = section_of(cut, axis, at)
        if foot.intersection(section(before, axis, at)).area > NOTHING * foot.area:
            return True
    return False


def _at_an_edge(cuts: tuple[Body, ...], before: Solid) -> list[FieldError]:
    """A chamfer needs an outside corner: metal within it, none beside either face."""
    (wedge,) = (c for c in cuts if isinstance(c, Wedge))
    a, b = wedge.others
    tiny = _tiny(before) * 10

    def metal(share: float, into_a: int, into_b: int) -> bool:
        at = [0.0, 0.0, 0.0]
        at[wedge.axis] = wedge.ends[0] + (wedge.ends[1] - wedge.ends[0]) * share
        at[a] = wedge.corner[0] + into_a * tiny * sense(wedge.legs[0])
        at[b] = wedge.corner[1] + into_b * tiny * sense(wedge.legs[1])
        spans = before.column(a, (at[0], at[1], at[2]))
        return any(s.low < at[a] < s.high for s in spans)

    for share in (0.11, 0.5, 0.89):
        if metal(share, 1, 1) and not metal(share, -1, 1) and not metal(share, 1, -1):
            return []
    return [FieldError("side", "", say("there is no outside edge between these two faces"))]


def pieces(solid: Solid) -> int:
    """How many pieces of metal there are: layers between levels, joined where one lies on the other."""
    layers: list[list[BaseGeometry]] = []
    for low, high in pairwise(levels(solid, 2)):
        if high - low < 1e-9:
            continue
        metal = section(solid, 2, (low + high) / 2)
        layers.append([g for g in getattr(metal, "geoms", (metal,)) if g.area > 1e-12])
    groups: list[set[tuple[int, int]]] = []
    for n, layer in enumerate(layers):
        for m, part in enumerate(layer):
            below = {(n - 1, k) for k, other in enumerate(layers[n - 1]) if other.intersects(part)} if n else set()
            joined = [g for g in groups if g & below]
            groups = [g for g in groups if not g & below]
            groups.append({(n, m)}.union(*joined))
    return len(groups)


def what_is_left(face: Plane, solid: Solid) -> Plane | None:
    """A face as far as it still reaches: metal behind it and none before it. None when all of it has been cut away."""
    tiny = _tiny(solid)
    behind = section(solid, face.axis, float(face.at) - face.out * tiny)
    before = section(solid, face.axis, float(face.at) + face.out * tiny)
    a, b = (i for i in range(3) if i != face.axis)
    (x0, x1), (y0, y1) = (tuple(map(float, face.spans[i])) for i in (a, b))
    if x0 == x1 or y0 == y1:
        # the side of a bar, which is a line: it is there as long as the bar is anywhere so high
        return face if behind.area > 0 else None
    left = behind.difference(before).intersection(box(x0, y0, x1, y1))
    if left.area <= 1e-6 * (x1 - x0) * (y1 - y0):
        return None
    low_a, low_b, high_a, high_b = left.bounds
    spans = list(face.spans)
    spans[a] = _trimmed(face.spans[a], low_a, high_a)
    spans[b] = _trimmed(face.spans[b], low_b, high_b)
    return replace(face, spans=(spans[0], spans[1], spans[2]))


def _trimmed(span: Span, low: float, high: float) -> Span:
    """A span cut down to where something was found; its own ends stay exact."""
    close = float(span[1] - span[0]) * 1e-3

    def end(exact: Decimal, found: float) -> Decimal:
        return exact if abs(float(exact) - found) < close else Decimal(str(round(found, 4)))

    return end(span[0], low), end(span[1], high)
