"""Laying out a sheet: third angle, the top view above the front, the right view to its right.

The project places each dimension in a lane beside its view; the sheet works
out how much room the lanes need and scales the part to what is left.
"""

from __future__ import annotations

from collections.abc import Callable

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import capital, say, together
from incudo.core.parts.drawing import dimension as dim
from incudo.core.parts.drawing.marks import Curve, Drawing, Group, Mark, Stroke, Words
from incudo.core.parts.drawing.placed import LANE_ABOVE, LANE_ASIDE, Placed, first_of
from incudo.core.parts.geometry.edges import VIEWS, Arc, Edges, Segment, View, edges_of
from incudo.core.parts.geometry.solid import Solid, solid_of
from incudo.core.parts.project import Hole, LinearPlace, Project, Side, ViewName

WIDTH = 560.0


TALLEST = 470.0


BARE = 24.0


NOTE_LINE = 20.0


NOTE_CHARACTERS = 62


def _flags(project: Project, name: ViewName) -> frozenset[Side]:
    return frozenset(d.side for d in project.datums if d.view is name)


def lay_out(project: Project, speak: Callable[[str], str] = str) -> Drawing:
    """The whole sheet of a project: views, centre lines, dimensions, datums, notes; ``speak`` says what is written."""
    solid = solid_of(project)
    views, bottom = _place_views(project, solid)
    groups: list[Group] = []
    for placed in views.values():
        groups.append(Group(_outline(placed, edges_of(solid, placed.name))))
        groups.append(Group(_threads(project, placed)))
    for datum in project.datums:
        groups.append(Group(dim.datum_flag(views[datum.view].point(datum.at), datum)))
    groups.extend(dim.dimension(project, c, views[c.place.view], speak) for c in project.characteristics)
    notes = [line for note in _notes(project) for line in _wrapped(speak(note))]
    lines = [Words("note", (20, bottom + 22 + i * NOTE_LINE), text) for i, text in enumerate(notes)]
    groups.append(Group(tuple(lines)))
    height = bottom + 22 + len(notes) * NOTE_LINE
    return Drawing(WIDTH, height, speak(say("Drawing of {name}", name=project.name)), tuple(groups))


def outline_only(project: Project) -> Drawing:
    """Just the front view, for a thumbnail."""
    solid = solid_of(project)
    name = project.views[0]
    view = VIEWS[name]
    low, size = _box(solid, view)
    scale = min(220 / size[0], 120 / size[1])
    shown = (size[0] * scale, size[1] * scale)
    origin = ((240 - shown[0]) / 2, (140 - shown[1]) / 2)
    placed = Placed(name, view, low, origin, scale, shown)
    marks = tuple(m for m in _outline(placed, edges_of(solid, name)) if m.kind == "visible")
    return Drawing(240, 140, project.name, (Group(marks),))


def _box(solid: Solid, view: View) -> tuple[tuple[float, float], tuple[float, float]]:
    low, high = solid.extent
    a, b = view.across, view.up
    return (low[a], low[b]), (high[a] - low[a], high[b] - low[b])


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
    boxes = {n: _box(solid, VIEWS[n]) for n in shown}
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


def _outline(placed: Placed, edges: Edges) -> tuple[Stroke | Curve, ...]:
    made: list[Stroke | Curve] = []
    for kind, lines in (("hidden", edges.hidden), ("visible", edges.visible)):
        made.extend(_drawn(placed, kind, line) for line in lines)
    made.extend(_drawn(placed, "centre", line) for line in edges.centre_lines)
    return tuple(made)


def _drawn(placed: Placed, kind: str, line: Segment | Arc) -> Stroke | Curve:
    if isinstance(line, Segment):
        return Stroke(kind, (placed.flat(*line.a), placed.flat(*line.b)))
    centre, radius = placed.flat(*line.centre), line.radius * placed.scale
    if line.end - line.start > 6.2831:
        return Curve(kind, centre, radius)
    return Curve(kind, centre, radius, line.start, line.end)


def _threads(project: Project, placed: Placed) -> tuple[Mark, ...]:
    """The thin three-quarter circle of a tapped hole seen from its end."""
    made: list[Mark] = []
    for cut in project.cuts:
        if not isinstance(cut, Hole) or cut.thread is None:
            continue
        if "xyz".index(cut.axis) == placed.view.depth:
            centre = placed.flat(float(cut.at[0]), float(cut.at[1]))
            radius = float(cut.thread) / 2 * placed.scale
            made.append(Curve("thread", centre, radius, 0.2, 4.9))
    return tuple(made)


def _notes(project: Project) -> list[str]:
    names = [n.value for n in ViewName if n in project.views]
    views = capital(together((together(names[:-1], ", "), names[-1]), say(" and ")))
    sized = (
        "{views}, third angle. Sizes in inches."
        if project.unit is Unit.INCH
        else "{views}, third angle. Sizes in millimetres."
    )
    notes = [say(sized, views=views)]
    if project.datums:
        listed = together((say("{letter}: {name}", letter=d.letter, name=d.name) for d in project.datums), ", ")
        notes.append(say("Datum {listed}.", listed=listed))
    if project.title_block:
        places = sorted(project.title_block.items())
        words = (say("whole numbers"), say("one place"), say("two places"), say("three places"), say("four places"))
        each = (*words, say("more places"))
        listed = together((say("{places} ±{text}", places=each[min(n, 5)], text=text) for n, text in places), ", ")
        notes.append(say("Unmarked: {listed}.", listed=listed))
    return notes


def _wrapped(text: str) -> list[str]:
    lines, line = [], ""
    for word in text.split():
        if line and len(line) + 1 + len(word) > NOTE_CHARACTERS:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    return [*lines, line]
