"""A drawing as DXF: the sheet to the part's own scale, one layer for each sort of line (docs/formats/dxf.md)."""

from __future__ import annotations

import io
import math
from collections.abc import Callable

from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace

from incudo.core.kernel.quantity import Unit
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.marks import Arrow, Balloon, Curve, Frame, Glyph, Mark, Spot, Stroke, Words
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.drawing.sheet import lay_out
from incudo.core.parts.project import Project

#: Layer, colour number, line type.
LAYERS = {
    "VISIBLE": (7, "CONTINUOUS"),
    "HIDDEN": (8, "DASHED"),
    "CENTRE": (4, "CENTER"),
    "ISOMETRIC": (7, "CONTINUOUS"),
    "THREAD": (8, "CONTINUOUS"),
    "DIMENSION": (5, "CONTINUOUS"),
    "TEXT": (5, "CONTINUOUS"),
}
_OF = {"visible": "VISIBLE", "hidden": "HIDDEN", "centre": "CENTRE", "thread": "THREAD", "held": "ISOMETRIC"}
#: Height of text on the sheet, in sheet units.
TEXT = 11.0
_ANCHOR = {"start": TextEntityAlignment.LEFT, "middle": TextEntityAlignment.CENTER, "end": TextEntityAlignment.RIGHT}


def dxf_of(project: Project, speak: Callable[[str], str] = str, projection: Projection = Projection.THIRD) -> str:
    """The text of a DXF file (R2010): views in the part's unit, so that what is measured on them is the part.

    The isometric view is a picture and not to scale.
    """
    if project.is_placed:
        drawing, scale = lay_out(project, speak), 1.0
    else:
        drawing, views = found_sheet(project, speak, projection)
        scale = views[0].scale
    file = new("R2010", setup=True)
    file.header["$INSUNITS"] = 1 if project.unit is Unit.INCH else 4
    for name, (colour, line) in LAYERS.items():
        file.layers.add(name, color=colour, linetype=line)
    space = file.modelspace()
    for group in drawing.groups:
        for mark in group.marks:
            _add(space, mark, scale, drawing.height)
    text = io.StringIO()
    file.write(text)
    return text.getvalue()


def _add(space: Modelspace, mark: Mark, scale: float, height: float) -> None:
    def at(p: Spot) -> Spot:
        return p[0] / scale, (height - p[1]) / scale

    match mark:
        case Stroke(kind, points):
            space.add_lwpolyline([at(p) for p in points], dxfattribs={"layer": _OF.get(kind, "DIMENSION")})
        case Curve(kind, centre, radius, start, end):
            layer = {"layer": _OF.get(kind, "DIMENSION")}
            if start is None or end is None:
                space.add_circle(at(centre), radius / scale, dxfattribs=layer)
            else:
                space.add_arc(at(centre), radius / scale, math.degrees(start), math.degrees(end), dxfattribs=layer)
        case Arrow((x, y), angle):
            back = (x - 9 * math.cos(angle), y - 9 * math.sin(angle))
            side = (2.8 * math.sin(angle), -2.8 * math.cos(angle))
            ends = [(back[0] + side[0], back[1] + side[1]), (back[0] - side[0], back[1] - side[1])]
            space.add_solid([at((x, y)), *map(at, ends)], dxfattribs={"layer": "DIMENSION"})
        case Words(_, spot, text, anchor):
            words = space.add_text(text, height=TEXT / scale, dxfattribs={"layer": "TEXT"})
            words.set_placement(at(spot), align=_ANCHOR[anchor])
        case Balloon((x, y), number):
            space.add_circle(at((x, y)), 12 / scale, dxfattribs={"layer": "DIMENSION"})
            words = space.add_text(str(number), height=TEXT / scale, dxfattribs={"layer": "TEXT"})
            words.set_placement(at((x, y)), align=TextEntityAlignment.MIDDLE_CENTER)
        case Glyph((x, y), name):
            words = space.add_text(_SIGNS[name], height=TEXT / scale, dxfattribs={"layer": "TEXT"})
            words.set_placement(at((x, y + 12)))
        case Frame(_, (x, y), width, tall):
            corners = [(x, y), (x + width, y), (x + width, y + tall), (x, y + tall)]
            space.add_lwpolyline([at(c) for c in corners], close=True, dxfattribs={"layer": "DIMENSION"})


#: Drawing symbols as text: %%c is the diameter sign of the format.
_SIGNS = {
    "diameter": "%%c",
    "radius": "R",
    "parallel": "//",
    "square": "\u22a5",
    "flat": "\u25b1",
    "position": "\u2316",
    "runout": "\u2197",
    "finish": "\u221a",
}
