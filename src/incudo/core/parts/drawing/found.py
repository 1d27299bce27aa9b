"""A sheet on which every dimension finds its own place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from incudo.core.kernel.say import say
from incudo.core.parts.drawing.arrange import AGAIN, Arranger
from incudo.core.parts.drawing.dimension import Tag
from incudo.core.parts.drawing.fields import Rect, extent, moved
from incudo.core.parts.drawing.holes import marked, table, tabled
from incudo.core.parts.drawing.marks import Drawing, Frame, Group, Spot, Words
from incudo.core.parts.drawing.notes import NOTE_LINE, notes_of, wrapped
from incudo.core.parts.drawing.placed import Placed, Projection
from incudo.core.parts.drawing.views import box_of, held, outline, threads
from incudo.core.parts.geometry.edges import VIEWS, edges_of
from incudo.core.parts.geometry.solid import Solid, solid_of
from incudo.core.parts.project import Project, ViewName

#: How wide a sheet may be.
FOUND = 640.0
#: Around a sheet, and between its views.
EDGE, APART = 10.0, 14.0
#: The room for the part's own outlines that one begins with; each try after it is smaller.
ROOM_ACROSS, ROOM_UP, TRIES = 460.0, 330.0, 3
#: The longest view is at least so long; the sheet grows instead.
LEAST = 170.0
#: From one to the next of what found no place.
LISTED = 34.0
#: So few that found no place are worth another try; more are listed at once.
FEW = 4
#: A sheet that would have so much of its width to spare is tried once more, larger.
SPARE = 90.0
#: How much wider than wanted a sheet may be after the second try.
SLACK = 55.0
#: How far a dimension beside a view keeps off it, likely.
BESIDE = 24.0
#: So wide at least is the isometric view.
HELD = 120.0


@dataclass(frozen=True)
class Ground:
    """Where views stand on a sheet: their corners above left, and the corner below right of them all."""

    left: dict[ViewName, float]
    top: dict[ViewName, float]
    right: float
    bottom: float


def found_sheet(
    project: Project,
    speak: Callable[[str], str] = str,
    projection: Projection = Projection.THIRD,
    scale: float | None = None,
) -> tuple[Drawing, tuple[Placed, ...]]:
    """A sheet on which every dimension has found its own place, and where its views are.

    ``scale`` (sheet units for one of the project's unit) is found too where it is not given.
    """
    solid = solid_of(project)
    names = [n for n in ViewName if n in project.views]
    arranger = _arranged(project, solid, names, speak, scale)
    if 0 < len(arranger.left_over) <= FEW and ViewName.RIGHT not in names:
        # one more view makes room
        names = list(ViewName)
        arranger = _arranged(project, solid, names, speak, scale)
    if 0 < len(arranger.left_over) <= FEW:
        arranger.run(AGAIN)
    holes = tabled(project)
    if holes:
        for view, found, taken in zip(arranger.views, arranger.groups, arranger.taken, strict=True):
            found.append(marked(view, holes, taken))
    around = {v.name: extent(g, v) for v, g in zip(arranger.views, arranger.groups, strict=True)}
    ground = _stood(names, around, projection)
    corner, room = _free(names, around, ground, projection)
    right = max(ground.right, corner[0] + room[0])
    bottom = max(ground.bottom, corner[1] + room[1] if corner[1] > ground.top[ViewName.FRONT] else 0.0)
    width = max(right + EDGE, FOUND) if scale is None else right + EDGE
    aside = (width - right - EDGE) / 2
    groups: list[Group] = []
    for view, found in zip(arranger.views, arranger.groups, strict=True):
        by = (ground.left[view.name] + aside, ground.top[view.name])
        drawn = outline(view, edges_of(solid, view.name))
        groups.append(Group(moved(drawn, by)))
        groups.append(Group(moved(threads(project, view), by)))
        groups += [Group(moved(g.marks, by), g.number, g.label, moved(g.lights, by)) for g in found]
    groups.append(Group(held(solid, (corner[0] + aside, corner[1]), room)))
    bottom += 26
    groups += arranger.listed((20, bottom), LISTED)
    bottom += len(arranger.left_over) * LISTED
    if holes:
        drawn_table, tall = table(holes, project, (20, bottom - 12), speak)
        groups.append(drawn_table)
        bottom += tall + 14
        width = max(width, *(m.at[0] + m.width + EDGE for m in drawn_table.marks if isinstance(m, Frame)))
    notes = [line for note in notes_of(project, projection) for line in wrapped(speak(note))]
    groups.append(Group(tuple(Words("note", (20, bottom + i * NOTE_LINE), text) for i, text in enumerate(notes))))
    title = speak(say("Drawing of {name}", name=project.name))
    drawing = Drawing(width, bottom + len(notes) * NOTE_LINE, title, tuple(groups))
    at = {n: (ground.left[n] + aside, ground.top[n]) for n in names}
    return drawing, tuple(replace(view, origin=at[view.name]) for view in arranger.views)


def _stood(names: list[ViewName], around: dict[ViewName, Rect], projection: Projection) -> Ground:
    """Views in columns and rows, as the projection has them, with what stands around each between them."""
    columns = _apart(names, ViewName.RIGHT)
    rows = _apart(names, ViewName.TOP)
    if projection is Projection.THIRD:
        columns.reverse()
    else:
        rows.reverse()
    left: dict[ViewName, float] = {}
    top: dict[ViewName, float] = {}
    x = y = EDGE
    for column in columns:
        before = max(-around[n].left for n in column)
        left.update(dict.fromkeys(column, x + before))
        x += before + max(around[n].right for n in column) + APART
        if column == [ViewName.RIGHT] and projection is Projection.FIRST:
            # the part as one would hold it stands below it
            x = max(x, EDGE + HELD + APART)
    for row in rows:
        before = max(-around[n].top for n in row)
        top.update(dict.fromkeys(row, y + before))
        y += before + max(around[n].bottom for n in row) + APART
    return Ground(left, top, x - APART, y - APART)


def _apart(names: list[ViewName], one: ViewName) -> list[list[ViewName]]:
    """One view, and then the others; each a list that is not empty."""
    return [found for found in ([n for n in names if n is one], [n for n in names if n is not one]) if found]


def _free(
    names: list[ViewName], around: dict[ViewName, Rect], ground: Ground, projection: Projection
) -> tuple[Spot, Spot]:
    """The field for the part as one would hold it, corner and size: the corner between the top view and the right one,
    or beside all where there is no right view.
    """
    upright = [n for n in names if n is not ViewName.RIGHT]
    first, top = ground.top[ViewName.FRONT], ViewName.TOP
    if ViewName.RIGHT not in names:
        tall = min(max(ground.bottom - EDGE, HELD * 0.6), HELD * 1.4)
        return (ground.right + APART, EDGE), (HELD, tall)
    right, beside = ViewName.RIGHT, around[ViewName.RIGHT]
    if projection is Projection.THIRD:
        begins = max(ground.left[n] + around[n].right for n in upright) + APART
        upper = min(ground.top[n] + around[n].top for n in names)
        lower = ground.top[right] + beside.top - APART
        ends = max(ground.right, ground.left[right] + HELD)
    else:
        begins, ends = EDGE, max(min(ground.left[n] + around[n].left for n in upright) - APART, EDGE + HELD)
        upper = first + max(around[n].bottom for n in names if n is not top) + APART
        lower = max(ground.bottom, upper + HELD * 0.6)
    room = min(ends - begins, HELD * 1.8), min(max(lower - upper, HELD * 0.6), HELD * 1.4)
    return (begins + (ends - begins - room[0]) / 2, upper), room


def _arranged(
    project: Project, solid: Solid, names: list[ViewName], speak: Callable[[str], str], fixed: float | None
) -> Arranger:
    """Views and dimensions at a given scale; or at the largest at which they fit the sheet's width, or the smallest
    that still shows the part: what stands around the views keeps its size, so that one try tells the next scale.
    """
    boxes = {n: box_of(solid, VIEWS[n]) for n in names}
    wide = sum(boxes[n][1][0] for n in (names[0], *(n for n in names if n is ViewName.RIGHT)))
    high = sum(boxes[n][1][1] for n in names if n is not ViewName.RIGHT)
    least = LEAST / max(boxes[n][1][0] for n in names)
    largest = min(ROOM_ACROSS / wide, ROOM_UP / high)
    scale = fixed or min(largest, max(least, (FOUND - _beside(project, names, speak)) / wide))
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
        # a little too wide is not worth a third try
        over = across - FOUND - (SLACK if turn else 0.0)
        fits = over <= 0 and (over > -SPARE or scale >= largest * 0.99)
        if fixed or fits or (over > 0 and scale <= least) or turn == TRIES - 1:
            break
        if over <= 0 and turn:
            break
        scale = min(largest, max(least, scale * (1 - over / (wide * scale)) * 0.99))
    return arranger


def _beside(project: Project, names: list[ViewName], speak: Callable[[str], str]) -> float:
    """How much of a sheet's width the part itself will likely not have: two of the wider dimensions stand beside it."""
    widths = sorted(Tag(project, c, speak).stacked_width for c in project.characteristics)
    others = HELD + APART if ViewName.RIGHT not in names else 2 * APART
    return 2 * EDGE + others + sum(widths[-2:]) + 2 * BESIDE
