"""Laying out a sheet: third angle, the top view above the front, the right view to its right.

The project places each dimension in a lane beside its view; the sheet works
out how much room the lanes need and scales the part to what is left.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import capital, say, together
from incudo.core.measuring.verdict import Metal
from incudo.core.parts.drawing import dimension as dim
from incudo.core.parts.drawing.arrange import AGAIN, Arranger, extent, moved
from incudo.core.parts.drawing.marks import Curve, Drawing, Group, Mark, Stroke, Words
from incudo.core.parts.drawing.placed import LANE_ABOVE, LANE_ASIDE, Placed, first_of
from incudo.core.parts.geometry.edges import VIEWS, Arc, Edges, Segment, View, edges_of
from incudo.core.parts.geometry.isometric import isometric
from incudo.core.parts.geometry.solid import Solid, solid_of
from incudo.core.parts.project import Hole, LeaderPlace, LinearPlace, PointedPlace, Project, Side, Symbol, ViewName

Boxes = dict[ViewName, tuple[tuple[float, float], tuple[float, float]]]

WIDTH = 560.0
#: A sheet whose dimensions find their own places is wider.
FOUND = 640.0


TALLEST = 470.0


BARE = 24.0


NOTE_LINE = 20.0


NOTE_CHARACTERS = 62

#: Around a sheet whose dimensions find their own places, and between its views.
EDGE, APART = 10.0, 14.0
#: The room for the part's own outlines that one begins with; each try after it is smaller.
ROOM_ACROSS, ROOM_UP, TRIES = 460.0, 330.0, 3
#: The longest view is at least so long; the sheet grows instead.
LEAST = 170.0
#: From one to the next of what found no place.
LISTED = 34.0
#: So few that found no place are worth another try; more are listed at once.
FEW = 4
#: So wide at least is the isometric view.
HELD = 120.0


def _flags(project: Project, name: ViewName) -> frozenset[Side]:
    return frozenset(d.side for d in project.datums if d.view is name)


def lay_out(project: Project, speak: Callable[[str], str] = str) -> Drawing:
    """The whole sheet of a project: views, centre lines, dimensions, datums, notes; ``speak`` says what is written."""
    return _as_placed(project, speak) if project.is_placed else found_sheet(project, speak)[0]


def found_sheet(project: Project, speak: Callable[[str], str] = str) -> tuple[Drawing, tuple[Placed, ...]]:
    """A sheet on which every dimension has found its own place, and where its views are."""
    solid = solid_of(project)
    names = [n for n in ViewName if n in project.views]
    boxes = {n: _box(solid, VIEWS[n]) for n in names}
    arranger = _arranged(project, names, boxes, speak)
    if 0 < len(arranger.left_over) <= FEW and ViewName.RIGHT not in names:
        # one more view makes room
        names = list(ViewName)
        boxes = {n: _box(solid, VIEWS[n]) for n in names}
        arranger = _arranged(project, names, boxes, speak)
    columns: list[list[ViewName]] = [
        [n for n in names if n is not ViewName.RIGHT],
        [n for n in names if n is ViewName.RIGHT],
    ]
    rows: list[list[ViewName]] = [[n for n in names if n is ViewName.TOP], [n for n in names if n is not ViewName.TOP]]
    columns, rows = [c for c in columns if c], [r for r in rows if r]
    around = {v.name: extent(g, v) for v, g in zip(arranger.views, arranger.groups, strict=True)}
    left: dict[ViewName, float] = {}
    top: dict[ViewName, float] = {}
    x = y = EDGE
    for column in columns:
        before = max(-around[n].left for n in column)
        left.update(dict.fromkeys(column, x + before))
        x += before + max(around[n].right for n in column) + APART
    for row in rows:
        before = max(-around[n].top for n in row)
        top.update(dict.fromkeys(row, y + before))
        y += before + max(around[n].bottom for n in row) + APART
    if ViewName.RIGHT in names:
        x = max(x, left[ViewName.RIGHT] + HELD + APART)
    else:
        x += HELD + APART
    width = max(x - APART + EDGE, FOUND)
    aside = (width - (x - APART + EDGE)) / 2
    groups: list[Group] = []
    for view, found in zip(arranger.views, arranger.groups, strict=True):
        by = (left[view.name] + aside, top[view.name])
        drawn = _outline(view, edges_of(solid, view.name))
        groups.append(Group(moved(drawn, by)))
        groups.append(Group(moved(_threads(project, view), by)))
        groups += [Group(moved(g.marks, by), g.number, g.label, moved(g.lights, by)) for g in found]
    free = x - APART + aside
    # the part as one would hold it, above the right view or where that would be
    upper = min(top[n] + around[n].top for n in names)
    lower = top[ViewName.TOP] + around[ViewName.TOP].bottom
    if ViewName.RIGHT in names:
        lower = top[ViewName.RIGHT] + around[ViewName.RIGHT].top - APART
    begins = max(left[n] + around[n].right for n in names if n is not ViewName.RIGHT) + APART + aside
    room = min(free - begins, HELD * 1.8), min(max(lower - upper, HELD * 0.6), HELD * 1.4)
    groups.append(Group(_held(solid, (begins + (free - begins - room[0]) / 2, upper), room)))
    notes = [line for note in _notes(project) for line in _wrapped(speak(note))]
    bottom = y - APART + 26
    groups += arranger.listed((20, bottom), LISTED)
    bottom += len(arranger.left_over) * LISTED
    lines = [Words("note", (20, bottom + i * NOTE_LINE), text) for i, text in enumerate(notes)]
    groups.append(Group(tuple(lines)))
    title = speak(say("Drawing of {name}", name=project.name))
    drawing = Drawing(width, bottom + len(notes) * NOTE_LINE, title, tuple(groups))
    return drawing, tuple(replace(view, origin=(left[view.name] + aside, top[view.name])) for view in arranger.views)


def _apart(names: list[ViewName], one: ViewName) -> list[list[ViewName]]:
    """One view and the others, each a list that is not empty."""
    return [found for found in ([n for n in names if n is one], [n for n in names if n is not one]) if found]


def _arranged(project: Project, names: list[ViewName], boxes: Boxes, speak: Callable[[str], str]) -> Arranger:
    """Views and dimensions at the largest scale at which they fit the sheet's width, or the smallest that still shows
    the part; what stands around the views keeps its size, so that one try tells the next scale.
    """
    wide = sum(boxes[n][1][0] for n in (names[0], *(n for n in names if n is ViewName.RIGHT)))
    high = sum(boxes[n][1][1] for n in names if n is not ViewName.RIGHT)
    least = LEAST / max(boxes[n][1][0] for n in names)
    scale = min(ROOM_ACROSS / wide, ROOM_UP / high)
    for turn in range(TRIES):
        views = []
        for n in names:
            low, size = boxes[n]
            views.append(Placed(n, VIEWS[n], low, (0.0, 0.0), scale, (size[0] * scale, size[1] * scale)))
        arranger = Arranger(project, views, speak)
        arranger.run()
        around = {v.name: extent(g, v) for v, g in zip(views, arranger.groups, strict=True)}
        upright = [n for n in names if n is not ViewName.RIGHT]
        across = max(-around[n].left for n in upright) + max(around[n].right for n in upright) + 2 * EDGE
        if ViewName.RIGHT in names:
            across += max(around[ViewName.RIGHT].right - around[ViewName.RIGHT].left, HELD) + APART
        else:
            across += HELD + APART
        over = across - FOUND
        if over <= 0 or scale <= least or turn == TRIES - 1:
            break
        scale = max(least, scale * (1 - over / (wide * scale)) * 0.99)
    if 0 < len(arranger.left_over) <= FEW:
        arranger.run(AGAIN)
    return arranger


def _as_placed(project: Project, speak: Callable[[str], str]) -> Drawing:
    """A sheet whose file says where each dimension stands."""
    solid = solid_of(project)
    views, bottom = _place_views(project, solid)
    groups: list[Group] = []
    for placed in views.values():
        groups.append(Group(_outline(placed, edges_of(solid, placed.name))))
        groups.append(Group(_threads(project, placed)))
    for datum in project.datums:
        groups.append(Group(dim.datum_flag(views[datum.view].point(datum.at), datum.side, datum.letter)))
    for c in project.characteristics:
        if isinstance(c.place, (LinearPlace, LeaderPlace)):
            groups.append(dim.dimension(project, c, views[c.place.view], speak))
    notes = [line for note in _notes(project) for line in _wrapped(speak(note))]
    lines = [Words("note", (20, bottom + 22 + i * NOTE_LINE), text) for i, text in enumerate(notes)]
    groups.append(Group(tuple(lines)))
    height = bottom + 22 + len(notes) * NOTE_LINE
    return Drawing(WIDTH, height, speak(say("Drawing of {name}", name=project.name)), tuple(groups))


def outline_only(project: Project) -> Drawing:
    """Just the part as one would hold it, for a thumbnail."""
    marks = _held(solid_of(project), (10.0, 10.0), (220.0, 120.0))
    return Drawing(240, 140, project.name, (Group(marks),))


def _held(solid: Solid, at: tuple[float, float], room: tuple[float, float]) -> tuple[Mark, ...]:
    """The isometric view in the middle of a field of the sheet."""
    lines = isometric(solid)
    xs, ys = ([p[i] for s in lines for p in s] for i in (0, 1))
    wide, tall = max(xs) - min(xs), max(ys) - min(ys)
    scale = min(room[0] / wide, room[1] / tall)
    left, top = at[0] + (room[0] - wide * scale) / 2, at[1] + (room[1] - tall * scale) / 2

    def spot(p: tuple[float, float]) -> tuple[float, float]:
        return left + (p[0] - min(xs)) * scale, top + (max(ys) - p[1]) * scale

    return tuple(Stroke("held", (spot(s.a), spot(s.b))) for s in lines)


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
    """The thin three-quarter circle of a tapped hole seen from its end, and the circles that are asked for."""
    made: list[Mark] = []
    for c in project.characteristics:
        is_circle = c.metal is Metal.NONE and c.symbol is Symbol.DIAMETER
        if is_circle and isinstance(c.place, PointedPlace) and "xyz".index(c.place.axis) == placed.view.depth:
            made.append(Curve("centre", placed.point(c.place.at), float(c.place.radius) * placed.scale))
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
    if not project.is_placed:
        unit = say("Sizes in inches.") if project.unit is Unit.INCH else say("Sizes in millimetres.")
        notes = [say("{views}, third angle.", views=views), unit]
    if project.datums:
        listed = together((say("{letter}: {name}", letter=d.letter, name=d.name) for d in project.datums), ", ")
        notes.append(say("Datum {listed}.", listed=listed))
    if project.title_block:
        places = sorted(project.title_block.items())
        words = (say("whole numbers"), say("one place"), say("two places"), say("three places"), say("four places"))
        each = (*words, say("more places"))
        listed = together((say("{places} ±{text}", places=each[min(n, 5)], text=text) for n, text in places), ", ")
        notes.append(say("Unmarked: {listed}.", listed=listed))
    return [*notes, *project.notes]


def _wrapped(text: str) -> list[str]:
    lines, line = [], ""
    for word in text.split():
        if line and len(line) + 1 + len(word) > NOTE_CHARACTERS:
            lines.append(line)
            line = word
        else:
            line = f"{line} {word}".strip()
    return [*lines, line]
