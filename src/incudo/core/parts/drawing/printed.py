"""A drawing as it is printed: at a usual scale, so that what is measured on the paper is the part times the scale."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.quantity import Unit
from incudo.core.parts.drawing.as_placed import sheet_as_placed
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.marks import Drawing
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.drawing.views import box_of
from incudo.core.parts.geometry.edges import VIEWS
from incudo.core.parts.geometry.solid import solid_of
from incudo.core.parts.project import Project

#: The usual scales, paper to part, by the drawing's unit; those in mm are the standard's for technical drawings.
SCALES = {
    Unit.MM: tuple(map(Fraction, ("10", "5", "2", "1", "1/2", "1/5", "1/10"))),
    Unit.INCH: tuple(map(Fraction, ("8", "4", "2", "1", "1/2", "1/4", "1/8"))),
}
#: Millimetres of paper for one unit of a sheet: letters stand 2.6 mm high, the smaller size 2.1 mm.
SIZES = (0.26, 0.21)
#: Of the paper's room the outlines take at most so much; what stands around them takes the rest.
MOST = 0.8


#: Width and height of what is free for a drawing, mm.
Room = tuple[float, float]


@dataclass(frozen=True)
class Printed:
    """A sheet on paper: ``mm`` of paper for one unit of the sheet; the scale as text, empty where it is none of the
    usual ones; whether it lies on the paper's long side.
    """

    drawing: Drawing
    mm: float
    scale: str
    across: bool


def printed(
    project: Project,
    upright: Room,
    across: Room,
    speak: Callable[[str], str] = str,
    projection: Projection = Projection.THIRD,
) -> Printed:
    """The largest usual scale at which the sheet fits one of two rooms, paper upright or lying.

    Where none fits, or the file says itself where each dimension stands, it fills the upright room and has no scale.
    """
    if project.is_placed:
        return _filling(sheet_as_placed(project, speak), upright)
    solid = solid_of(project)
    sizes = [box_of(solid, VIEWS[n])[1] for n in project.views]
    for mm in SIZES:
        for scale in SCALES[project.unit]:
            real = float(scale * project.unit.in_mm)
            if not any(
                all(w * real < MOST * room[0] and h * real < MOST * room[1] for w, h in sizes)
                for room in (upright, across)
            ):
                continue
            drawing, _ = found_sheet(project, speak, projection, real / mm)
            for lying, room in ((False, upright), (True, across)):
                if drawing.width * mm <= room[0] and drawing.height * mm <= room[1]:
                    return Printed(drawing, mm, f"{scale.numerator}:{scale.denominator}", lying)
    return _filling(found_sheet(project, speak, projection)[0], upright)


def _filling(drawing: Drawing, room: Room) -> Printed:
    return Printed(drawing, min(room[0] / drawing.width, room[1] / drawing.height), "", across=False)
