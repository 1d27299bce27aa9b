"""Pictures that the core made, as they go out."""

from __future__ import annotations

from incudo.app.kernel.views import View
from incudo.core.kernel.picture import Ink, Picture, Stroke


class ShapeView(View):
    """One stroke of a picture."""

    stroke: Stroke
    ink: Ink
    points: tuple[tuple[float, float], ...]
    text: str


class PictureView(View):
    """Shapes from the rear to the front, y upwards, and the same in words."""

    words: str
    free: bool
    shapes: tuple[ShapeView, ...]

    @classmethod
    def of(cls, p: Picture) -> PictureView:
        shapes = tuple(ShapeView(stroke=s.stroke, ink=s.ink, points=s.points, text=s.text) for s in p.shapes)
        return cls(words=p.words, free=p.free, shapes=shapes)
