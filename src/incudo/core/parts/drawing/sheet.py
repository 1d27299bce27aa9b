"""Laying out a sheet: as its file says, or with every dimension at the place that it finds."""

from __future__ import annotations

from collections.abc import Callable

from incudo.core.parts.drawing.as_placed import sheet_as_placed
from incudo.core.parts.drawing.found import found_sheet
from incudo.core.parts.drawing.marks import Drawing
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.project import Project


def lay_out(project: Project, speak: Callable[[str], str] = str, projection: Projection = Projection.THIRD) -> Drawing:
    """The whole sheet of a project: views, centre lines, dimensions, datums, notes; ``speak`` says what is written.

    A sheet whose file says where each dimension stands is in third angle, as it was given.
    """
    return sheet_as_placed(project, speak) if project.is_placed else found_sheet(project, speak, projection)[0]
