"""The drawing of a part: views laid out on a sheet with dimensions and balloons, and its SVG."""

from incudo.core.parts.drawing.sheet import lay_out
from incudo.core.parts.drawing.svg import Scaled, render, render_outline

__all__ = ["Scaled", "lay_out", "render", "render_outline"]
