"""The skill graph laid out as a picture: what rests on what, from left to right.

A lane is a group of skills, in the order of work; a column is how many steps a
skill is away from the start. Lines stand only for prerequisites that no other
line implies.
"""

from __future__ import annotations

from dataclasses import dataclass

from incudo.core.skills.graph import SkillGraph

COLUMN, ROW = 141, 58
BOX_WIDTH, BOX_HEIGHT = 122, 48
LEFT, TOP, LANE_GAP = 80, 10, 12


@dataclass(frozen=True)
class Box:
    """A skill in the picture; ``x`` and ``y`` are its upper left corner."""

    skill: str
    x: int
    y: int


@dataclass(frozen=True)
class Lane:
    """A group's stripe from ``y`` on, ``height`` high."""

    group: str
    y: int
    height: int


@dataclass(frozen=True)
class Link:
    """A line from a prerequisite to what rests on it, as a path."""

    before: str
    after: str
    path: str


@dataclass(frozen=True)
class SkillMap:
    """The whole picture in its own units, y downwards."""

    width: int
    height: int
    lanes: tuple[Lane, ...]
    boxes: tuple[Box, ...]
    links: tuple[Link, ...]


def lay_out(graph: SkillGraph) -> SkillMap:
    """Lay the graph out. The same graph gives the same picture."""
    levels = graph.levels()
    places: dict[str, tuple[int, int]] = {}
    lanes = []
    y = TOP
    for group in graph.groups:
        members = [s.id for s in graph.skills if s.group == group.id]
        if not members:
            continue
        depth: dict[int, int] = {}
        for skill in members:
            column = levels[skill]
            row = depth.get(column, 0)
            depth[column] = row + 1
            places[skill] = (LEFT + column * COLUMN, y + LANE_GAP // 2 + row * ROW)
        height = max(depth.values()) * ROW + LANE_GAP
        lanes.append(Lane(group.id, y, height))
        y += height
    links = tuple(
        Link(before, s.id, _path(places[before], places[s.id]))
        for s in graph.skills
        for before in s.prerequisites
        if not any(before in graph.before(other) for other in s.prerequisites if other != before)
    )
    return SkillMap(
        width=LEFT + (max(levels.values()) + 1) * COLUMN,
        height=y + TOP,
        lanes=tuple(lanes),
        boxes=tuple(Box(s.id, *places[s.id]) for s in graph.skills),
        links=links,
    )


def _path(a: tuple[int, int], b: tuple[int, int]) -> str:
    """From the right side of one box to the left side of the other, between the boxes and through none.

    Down or up the gap beside the first box, along the gap between two rows, down or up the gap before the
    second box: lines that go the same way lie on each other.
    """
    x1, y1 = a[0] + BOX_WIDTH, a[1] + BOX_HEIGHT // 2
    x2, y2 = b[0], b[1] + BOX_HEIGHT // 2
    aside = (COLUMN - BOX_WIDTH) // 2
    first, last = x1 + aside, x2 - (COLUMN - BOX_WIDTH - aside)
    spots = [(x1, y1), (first, y1), (last, y2), (x2, y2)]
    if last - first > COLUMN // 2:
        between = b[1] - (ROW - BOX_HEIGHT) // 2 if y1 <= y2 else b[1] + BOX_HEIGHT + (ROW - BOX_HEIGHT) // 2
        spots[2:2] = [(first, between), (last, between)]
    return _rounded(spots)


def _rounded(spots: list[tuple[int, int]], radius: int = 5) -> str:
    """Level and upright lines through spots, their corners rounded."""
    found = f"M{spots[0][0]} {spots[0][1]}"
    for (px, py), (x, y), (nx, ny) in zip(spots, spots[1:], spots[2:], strict=False):
        r = min(radius, *(max(abs(x - ax), abs(y - ay)) // 2 for ax, ay in ((px, py), (nx, ny))))
        before = (x + _sign(px - x) * r, y + _sign(py - y) * r)
        after = (x + _sign(nx - x) * r, y + _sign(ny - y) * r)
        found += f"L{before[0]} {before[1]}Q{x} {y} {after[0]} {after[1]}"
    return f"{found}L{spots[-1][0]} {spots[-1][1]}"


def _sign(n: int) -> int:
    return (n > 0) - (n < 0)
