"""A sheet whose file says where each dimension stands: in lanes beside its views, or at a leader's end."""

from __future__ import annotations

from collections.abc import Callable

from incudo.core.kernel.say import say
from incudo.core.parts.drawing import dimension as dim
from incudo.core.parts.drawing.marks import Drawing, Group, Words
from incudo.core.parts.drawing.notes import NOTE_LINE, notes_of, wrapped
from incudo.core.parts.drawing.placed import LANE_ABOVE, LANE_ASIDE, Placed, Projection, first_of
from incudo.core.parts.drawing.views import box_of, outline, threads
from incudo.core.parts.geometry.edges import VIEWS, edges_of
from incudo.core.parts.geometry.solid import Solid, solid_of
from incudo.core.parts.project import LeaderPlace, LinearPlace, Project, Side, ViewName

WIDTH, TALLEST, BARE = 560.0, 470.0, 24.0


def sheet_as_placed(project: Project, speak: Callable[[str], str]) -> Drawing:
    """A sheet whose file says where each dimension stands."""
    solid = solid_of(project)
    views, bottom = _place_views(project, solid)
    groups: list[Group] = []
    for placed in views.values():
        groups.append(Group(outline(placed, edges_of(solid, placed.name))))
        groups.append(Group(threads(project, placed)))
    for datum in project.datums:
        groups.append(Group(dim.datum_flag(views[datum.view].point(datum.at), datum.side, datum.letter)))
    for c in project.characteristics:
        if isinstance(c.place, (LinearPlace, LeaderPlace)):
            groups.append(dim.dimension(project, c, views[c.place.view], speak))
    notes = [line for note in notes_of(project, Projection.THIRD) for line in wrapped(speak(note))]
    lines = [Words("note", (20, bottom + 22 + i * NOTE_LINE), text) for i, text in enumerate(notes)]
    groups.append(Group(tuple(lines)))
    height = bottom + 22 + len(notes) * NOTE_LINE
    return Drawing(WIDTH, height, speak(say("Drawing of {name}", name=project.name)), tuple(groups))


def _flags(project: Project, name: ViewName) -> frozenset[Side]:
    return frozenset(d.side for d in project.datums if d.view is name)


def _border(project: Project, name: ViewName, side: Side) -> tuple[int, float]:
    """The axis and the coordinate (project units) of one border of a view."""
    view, (low, high) = VIEWS[name], solid_of(project).extent
    axis = view.across if side in (Side.LEFT, Side.RIGHT) else view.up
    return axis, (low if side in (Side.LEFT, Side.BELOW) else high)[axis]


def _margin(project: Project, name: ViewName, side: Side) -> float:
    lanes = [
        c.place.lane
        for c in project.characteristics
        if isinstance(c.place, LinearPlace) and c.place.view is name and c.place.side is side
    ]
    bare = max([BARE, *dim.reach(project, name, side, _border(project, name, side))])
    flagged = side in _flags(project, name)
    if not lanes:
        return max(bare, first_of(flagged) + 6)
    pitch = LANE_ASIDE if side in (Side.LEFT, Side.RIGHT) else LANE_ABOVE
    return max(bare, first_of(flagged) + max(lanes) * pitch)


def _place_views(project: Project, solid: Solid) -> tuple[dict[ViewName, Placed], float]:
    shown = [n for n in ViewName if n in project.views]
    boxes = {n: box_of(solid, VIEWS[n]) for n in shown}
    margin = {n: {s: _margin(project, n, s) for s in Side} for n in shown}
    upright = (ViewName.TOP, ViewName.FRONT)
    columns: list[list[ViewName]] = [[n for n in shown if n in upright]]
    rows: list[list[ViewName]] = [
        [n for n in shown if n is ViewName.TOP],
        [n for n in shown if n is not ViewName.TOP],
    ]
    if ViewName.RIGHT in shown:
        columns.append([ViewName.RIGHT])
    columns, rows = [c for c in columns if c], [r for r in rows if r]

    def across(side: Side, names: list[ViewName]) -> float:
        return max(margin[n][side] for n in names)

    wide = [max(boxes[n][1][0] for n in c) for c in columns]
    high = [max(boxes[n][1][1] for n in r) for r in rows]
    free_x = WIDTH - sum(across(s, c) for c in columns for s in (Side.LEFT, Side.RIGHT))
    free_y = TALLEST - sum(across(s, r) for r in rows for s in (Side.ABOVE, Side.BELOW))
    scale = min(free_x / sum(wide), max(free_y, 120) / sum(high))
    x, lefts = (free_x - scale * sum(wide)) / 2, []
    for c, w in zip(columns, wide, strict=True):
        x += across(Side.LEFT, c)
        lefts.append(x)
        x += w * scale + across(Side.RIGHT, c)
    y, tops = 8.0, []
    for r, h in zip(rows, high, strict=True):
        y += across(Side.ABOVE, r)
        tops.append(y)
        y += h * scale + across(Side.BELOW, r)
    placed = {}
    for n in shown:
        left = next(at for at, c in zip(lefts, columns, strict=True) if n in c)
        top = next(at for at, r in zip(tops, rows, strict=True) if n in r)
        low, size = boxes[n]
        shown_size = (size[0] * scale, size[1] * scale)
        flags = _flags(project, n)
        placed[n] = Placed(n, VIEWS[n], low, (left, top), scale, shown_size, flags)
    return placed, y
