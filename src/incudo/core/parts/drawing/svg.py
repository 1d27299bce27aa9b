"""The one renderer: a laid-out drawing as SVG text, for the page, the printout and the thumbnail.

Marks carry classes only; the style sheet decides between the blue plate and
grey print. ``standalone=True`` puts a print-ready style into the file itself.
"""

from __future__ import annotations

import math
from typing import NamedTuple
from xml.sax.saxutils import escape, quoteattr

from incudo.core.parts.drawing.marks import Arrow, Balloon, Curve, Drawing, Frame, Glyph, Group, Mark, Stroke, Words
from incudo.core.parts.drawing.views import outline_only
from incudo.core.parts.project import Project

_GLYPHS = {
    "diameter": '<circle cx="7" cy="7" r="5.2"/><path d="M2 13 12 1"/>',
    "parallel": '<path d="M2 13 7 1M7 13 12 1"/>',
    "square": '<path d="M7 1V13M1 13H13"/>',
    "radius": '<path d="M3 13V1H8A3.4 3.4 0 0 1 8 7.6H3M7.4 7.6 12 13"/>',
    "position": '<circle cx="7" cy="7" r="4.6"/><path d="M7 .5V13.5M.5 7H13.5"/>',
    "runout": '<path d="M2 13 12 2M12 2 6.5 4M12 2 10.5 8"/>',
    "finish": '<path d="M1 7.5 4.5 13 11.5 1"/>',
    "flat": '<path d="M1 12 4.5 2H13L9.5 12Z"/>',
}

_STYLE = """
svg{background:#fff}path,circle,rect,line{fill:none;stroke:#18212B;stroke-width:1}
.d-visible{stroke-width:2}.d-held{stroke-width:1.4}.d-hidden{stroke-dasharray:6 3;stroke-width:1.2}
.d-centre{stroke-dasharray:14 3 3 3;stroke-width:.8}.d-lit-edge,.d-hit{display:none}
.d-arrow{fill:#18212B;stroke:none}text{font-family:B612,sans-serif;font-size:14px;fill:#18212B}
.d-outline{background:none}.d-outline .d-held{stroke:#24418F;stroke-width:2}
"""


class Scaled(NamedTuple):
    """How wide and tall a sheet is on paper, mm."""

    width: float
    height: float


def render(drawing: Drawing, *, standalone: bool = False, size: Scaled | None = None) -> str:
    """The whole sheet as an ``<svg>`` element, on paper in a size of its own."""
    return _svg(drawing, "d-sheet", standalone, size)


def render_outline(project: Project) -> str:
    """The thumbnail: the outline of the first view, with its style inside."""
    return _svg(outline_only(project), "d-outline", standalone=True)


def _svg(drawing: Drawing, css: str, standalone: bool, size: Scaled | None = None) -> str:
    w, h = _n(drawing.width), _n(drawing.height)
    wide, tall = (w, h) if size is None else (f"{size.width:.3f}mm", f"{size.height:.3f}mm")
    style = f"<style>{_STYLE}</style>" if standalone else ""
    body = "".join(_group(g) for g in drawing.groups)
    title = quoteattr(drawing.title)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" class="{css}" viewBox="0 0 {w} {h}" '
        f'width="{wide}" height="{tall}" role="img" aria-label={title}>{style}{body}</svg>'
    )


def _group(group: Group) -> str:
    marks = "".join(_mark(m) for m in group.marks)
    if group.number is None:
        return f"<g>{marks}</g>"
    lights = "".join(_mark(m) for m in group.lights)
    return (
        f'<g class="d-dim" data-c="{group.number}"><title>{escape(group.label)}</title>{lights}{_hit(group)}{marks}</g>'
    )


def _hit(group: Group) -> str:
    """An unseen field of at least 44 units around balloon and text, for fingers."""
    xs, ys = [], []
    for m in group.marks:
        if isinstance(m, Balloon):
            xs += [m.at[0] - 16, m.at[0] + 60]
            ys += [m.at[1] - 22, m.at[1] + 22]
    return (
        f'<rect class="d-hit" x="{_n(min(xs))}" y="{_n(min(ys))}" '
        f'width="{_n(max(xs) - min(xs))}" height="{_n(max(ys) - min(ys))}"/>'
    )


def _mark(m: Mark) -> str:
    match m:
        case Stroke(kind, points):
            d = "M" + "L".join(f"{_n(x)} {_n(y)}" for x, y in points)
            return f'<path class="d-{kind}" d="{d}"/>'
        case Curve(kind, (cx, cy), radius, start, end):
            return _curve(kind, cx, cy, radius, start, end)
        case Arrow((x, y), angle):
            move = f"translate({_n(x)} {_n(y)}) rotate({_n(math.degrees(angle))})"
            return f'<path class="d-arrow" d="M0 0-9-2.8V2.8Z" transform="{move}"/>'
        case Words(kind, (x, y), text, anchor):
            return f'<text class="d-{kind}" x="{_n(x)}" y="{_n(y)}" text-anchor="{anchor}">{escape(text)}</text>'
        case Balloon((x, y), number):
            return (
                f'<circle class="d-balloon" cx="{_n(x)}" cy="{_n(y)}" r="12"/>'
                f'<text class="d-number" x="{_n(x)}" y="{_n(y + 5)}" text-anchor="middle">{number}</text>'
            )
        case Glyph((x, y), name):
            return f'<g class="d-glyph" transform="translate({_n(x)} {_n(y)})">{_GLYPHS[name]}</g>'
        case Frame(kind, (x, y), width, height):
            return f'<rect class="d-{kind}" x="{_n(x)}" y="{_n(y)}" width="{_n(width)}" height="{_n(height)}"/>'


def _curve(kind: str, cx: float, cy: float, r: float, start: float | None, end: float | None) -> str:
    if start is None or end is None:
        return f'<circle class="d-{kind}" cx="{_n(cx)}" cy="{_n(cy)}" r="{_n(r)}"/>'
    ax, ay = cx + r * math.cos(start), cy - r * math.sin(start)
    bx, by = cx + r * math.cos(end), cy - r * math.sin(end)
    large = 1 if (end - start) % math.tau > math.pi else 0
    return f'<path class="d-{kind}" d="M{_n(ax)} {_n(ay)}A{_n(r)} {_n(r)} 0 {large} 0 {_n(bx)} {_n(by)}"/>'


def _n(value: float) -> str:
    return f"{value:.2f}".rstrip("0").rstrip(".")
