"""The hole table of a part with many holes: where each is, by its letter and number on the drawing."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from itertools import groupby

from incudo.core.kernel.say import say
from incudo.core.parts.drawing.fields import Rect, fields_of, through
from incudo.core.parts.drawing.marks import Frame, Group, Mark, Spot, Stroke, Words
from incudo.core.parts.drawing.placed import Placed
from incudo.core.parts.drawing.taken import Taken
from incudo.core.parts.project import AXES, Block, Hole, Project

#: Up to so many holes along one axis are dimensioned one by one; more have a table.
MOST = 6
ROW, WIDTHS = 18.0, (46.0, 78.0, 78.0, 128.0)
#: So many rows stand below each other; then the next column begins.
DEEP = 10
GAP = 18.0


@dataclass(frozen=True)
class Tabled:
    """One hole of the table: its mark, its axis (0, 1, 2), where it is along the other two, what it is."""

    mark: str
    axis: int
    at: tuple[str, str]
    radius: float
    size: str


def tabled(project: Project) -> tuple[Tabled, ...]:
    """The holes along each axis that has more than six; like ones share a letter, in the order of the file."""
    found: list[Tabled] = []
    letters = iter("ABCDEFGHJKLMNPQRSTUVWXYZ")
    for axis in AXES:
        holes = [c for c in project.cuts if isinstance(c, Hole) and c.axis is axis]
        if len(holes) <= MOST:
            continue
        for _, like in groupby(sorted(holes, key=_likeness), key=_likeness):
            letter = next(letters, "Z")
            for n, hole in enumerate(like, start=1):
                wide = max(float(x.diameter) for x in (hole, hole.countersink, hole.counterbore) if x)
                size = f"ø{hole.diameter}"
                if hole.thread is not None:
                    size = say("{size}, thread {thread}", size=size, thread=hole.thread)
                found.append(Tabled(f"{letter}{n}", AXES.index(axis), hole.at, wide / 2, size))
    return tuple(found)


def _likeness(h: Hole) -> tuple[str, ...]:
    bore, sink = h.counterbore, h.countersink
    return (
        h.diameter, h.start, h.end, h.tip_angle or "", h.thread or "",
        f"{bore.diameter} {bore.depth}" if bore else "", f"{sink.diameter} {sink.angle}" if sink else "",
    )  # fmt: skip


def marked(view: Placed, holes: Iterable[Tabled], taken: Taken) -> Group:
    """The mark of each hole beside it, in the view's own frame, on no text and no other mark; clear of lines if it can.

    ``taken`` is what lies on the view already.
    """
    marks: list[Mark] = []
    fields, lines = list(taken.texts), [*taken.lines, *taken.extensions]
    for hole in holes:
        if hole.axis != view.view.depth:
            continue
        free = [w for w in _spots(view, hole) if not any(f.meets(_field(w)) for f in fields)]
        clear = (w for w in free if not any(through(x, _field(w)) for x in lines))
        words = next(clear, free[0] if free else None)
        if words is not None:
            fields.append(_field(words))
            marks.append(words)
    return Group(tuple(marks))


def _field(words: Words) -> Rect:
    return fields_of([words])[0]


def _spots(view: Placed, hole: Tabled) -> Iterator[Words]:
    """Where a mark could stand: around the hole, near and then further off; in it at last."""
    x, y = view.flat(float(hole.at[0]), float(hole.at[1]))
    radius = hole.radius * view.scale
    for off in (7.0, 12.0, 18.0):
        for turn in (45, 135, 225, 315, 90, 270, 0, 180):
            away = radius + off
            cx, cy = x + away * math.cos(math.radians(turn)), y - away * math.sin(math.radians(turn))
            side = "start" if turn in (45, 315, 0) else "end" if turn in (135, 225, 180) else "middle"
            yield Words("note", (cx, cy + 5), hole.mark, side)
    yield Words("note", (x, y + 5), hole.mark, "middle")


def table(holes: tuple[Tabled, ...], project: Project, at: Spot, speak: Callable[[str], str]) -> tuple[Group, float]:
    """The table with its corner above left at a place, and how tall it is; nothing without holes."""
    marks: list[Mark] = []
    x, tall = at[0], 0.0
    for axis, of_axis in groupby(holes, key=lambda h: h.axis):
        rows = list(of_axis)
        for first in range(0, len(rows), DEEP):
            block = rows[first : first + DEEP]
            marks += _block(block, axis, project, (x, at[1]), speak)
            x += sum(WIDTHS) + GAP
            tall = max(tall, (len(block) + 1) * ROW)
    return Group(tuple(marks)), tall


def _block(rows: list[Tabled], axis: int, project: Project, at: Spot, speak: Callable[[str], str]) -> Iterator[Mark]:
    a, b = (i for i in range(3) if i != axis)
    lines = [(say("Hole"), _from(project, a), _from(project, b), say("Size")), *((h.mark, *h.at, h.size) for h in rows)]
    wide, tall = sum(WIDTHS), len(lines) * ROW
    yield Frame("control", at, wide, tall)
    left = at[0]
    for width in WIDTHS[:-1]:
        left += width
        yield Stroke("control", ((left, at[1]), (left, at[1] + tall)))
    for n, line in enumerate(lines):
        top = at[1] + n * ROW
        if n:
            yield Stroke("control", ((at[0], top), (at[0] + wide, top)))
        left = at[0]
        for width, text in zip(WIDTHS, line, strict=True):
            yield Words("tolerance", (left + 5, top + ROW - 5), speak(text))
            left += width


def _from(project: Project, axis: int) -> str:
    """From where a column counts."""
    if isinstance(project.solid, Block) or axis == 0:
        return (say("from left"), say("from front"), say("from below"))[axis]
    return say("from axis")
