"""Finding a place for every dimension of a view, so that no text lies on another and no dimension line is crossed.

Works in the view's own frame: sheet units, x to the right, y down, from the corner above left of the view's outline.
Dimensions are placed one after the other, the short ones first, each where it costs least: near the part, in the view
where it is seen best, on the side where its places are.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple

import numpy as np

from incudo.core.parts.drawing import dimension as dim
from incudo.core.parts.drawing.fields import Rect, around, crosses, fields_of, lines_of, through, touches
from incudo.core.parts.drawing.marks import Group, Mark, Spot, Stroke, Words
from incudo.core.parts.drawing.placed import Placed
from incudo.core.parts.drawing.taken import Taken, crossed, meet, run_through
from incudo.core.parts.project import Basic, BetweenPlace, Characteristic, Datum, Point, PointedPlace, Project, Side

#: Lanes stand so far apart, level and upright; the first keeps off the part.
FIRST, LEVEL, UPRIGHT = 16.0, 13.0, 15.0
MOST_LANES = 30
#: How often everything is placed anew, what found no place first.
AGAIN = 6
#: How far the letter of a datum may stand off its face.
OFF = (13.0, 34.0, 58.0, 84.0)
#: What it costs, in sheet units of distance: a worse view, the less usual side, an
#: extension line that is crossed, and each unit that the sheet grows wider.
OTHER_VIEW, OTHER_SIDE, CROSSED, WIDER = 60.0, 22.0, 30.0, 0.7
UPRIGHT_SIDES, LEVEL_SIDES = (Side.RIGHT, Side.LEFT), (Side.BELOW, Side.ABOVE)


class Trial(NamedTuple):
    """One way to place a dimension, with what it would cost."""

    cost: float
    view: int
    marks: tuple[Mark, ...]


class Arranger:
    """Places dimensions on views of one scale; ``placed`` have their origin at 0, 0."""

    def __init__(self, project: Project, views: list[Placed], speak: Callable[[str], str]) -> None:
        self.project, self.views, self.speak = project, views, speak
        self.taken: list[Taken] = []
        self.groups: list[list[Group]] = []
        #: What found no place.
        self.left_over: list[Characteristic | Basic] = []
        #: What the best trial so far costs: dearer ones need not be looked at.
        self.bar = math.inf

    def run(self, again: int = 1) -> None:
        """Places everything. What finds no place is placed before the others, and all again, as long as that helps."""
        order: list[Characteristic | Basic] = [*self.project.characteristics, *self.project.basics]
        order.sort(key=self._turn)
        best: tuple[list[Characteristic | Basic], list[list[Group]]] | None = None
        for _ in range(again):
            self.taken = [Taken(right=v.size[0]) for v in self.views]
            self.groups = [[] for _ in self.views]
            self.left_over = [c for c in order if not self._keep(self._trials(c), c)]
            for datum in self.project.datums:
                self._keep(self._datum_trials(datum), None)
            if best is None or len(self.left_over) < len(best[0]):
                best = self.left_over, self.groups
            elif len(self.left_over) > len(best[0]) + 1:
                break
            if not self.left_over:
                return
            order = [*self.left_over, *(c for c in order if c not in self.left_over)]
        if best is not None:
            self.left_over, self.groups = best

    def _turn(self, c: Characteristic | Basic) -> tuple[int, float, int]:
        """Short distances first, so that longer ones stand outside; then leaders."""
        number = 0 if isinstance(c, Basic) else c.number
        if isinstance(c.place, BetweenPlace):
            axis = "xyz".index(c.place.axis)
            return 0, abs(float(c.place.end[axis]) - float(c.place.start[axis])), number
        return 1, 0.0, number

    def _keep(self, trials: Iterable[Trial], c: Characteristic | Basic | None) -> bool:
        best: Trial | None = None
        self.bar = math.inf
        for trial in trials:
            if trial.cost < self.bar:
                best, self.bar = trial, trial.cost
        if best is None:
            return False
        taken = self.taken[best.view]
        texts = fields_of(best.marks)
        taken.add(texts, lines_of(best.marks, "dimension"), lines_of(best.marks, "extension"))
        if c is None or isinstance(c, Basic):
            self.groups[best.view].append(Group(best.marks))
            return True
        placed = self.views[best.view]
        lights = tuple(Stroke("lit-edge", (placed.point(a), placed.point(b))) for a, b in c.lights)
        self.groups[best.view].append(Group(best.marks, c.number, dim.label(self.project, c, self.speak), lights))
        return True

    def listed(self, at: Spot, step: float) -> list[Group]:
        """What found no place, one below the other, each with its balloon and its name."""
        made = []
        for n, c in enumerate(self.left_over):
            y = at[1] + n * step
            row = dim.Tag(self.project, c, self.speak)
            name = c.words if isinstance(c, Basic) else c.name
            marks = (*row.in_row(at[0], y), Words("note", (at[0] + row.width + 12, y + 5), self.speak(name)))
            if isinstance(c, Basic):
                made.append(Group(marks))
            else:
                made.append(Group(marks, c.number, dim.label(self.project, c, self.speak)))
        return made

    def _trials(self, c: Characteristic | Basic) -> Iterator[Trial]:
        tag = dim.Tag(self.project, c, self.speak)
        match c.place:
            case BetweenPlace() as place:
                yield from self._between(place, tag)
            case PointedPlace() as place:
                yield from self._pointed(place, tag)

    def _between(self, place: BetweenPlace, tag: dim.Tag) -> Iterator[Trial]:
        axis = "xyz".index(place.axis)
        for n, view in enumerate(self.views):
            if axis == view.view.depth:
                continue
            seen = [str(s) for s in place.seen]
            name = "xyz"[view.view.depth]
            worse = OTHER_VIEW * (seen.index(name) if name in seen else 2)
            for side in LEVEL_SIDES if axis == view.view.across else UPRIGHT_SIDES:
                a = _nearer(view, side, place.start, place.start_to)
                b = _nearer(view, side, place.end, place.end_to)
                yield from self._lanes(n, side, a, b, tag, worse)

    def _lanes(self, n: int, side: Side, a: Spot, b: Spot, tag: dim.Tag, worse: float) -> Iterator[Trial]:
        """The nearest free lane of one side."""
        view = self.views[n]
        is_level = side in LEVEL_SIDES
        i = 1 if is_level else 0
        edge, sign = view.edge(side), -1 if side in (Side.LEFT, Side.ABOVE) else 1
        reach = min(abs(edge - a[i]), abs(edge - b[i]))
        step = LEVEL if is_level else UPRIGHT
        shifts = (0, 1) if is_level else (0, 1, -1)

        def drawn(at: float, shift: int) -> tuple[Mark, ...]:
            return tuple(dim.level(a, b, at, tag, shift) if is_level else dim.upright(a, b, at, tag, side, shift))

        for lane in range(MOST_LANES):
            away = FIRST + lane * step
            if worse + away + 0.4 * reach >= self.bar:
                return
            for shift in shifts:
                found = drawn(edge + sign * away, shift)
                cut = self._fits(n, found)
                if cut is not None:
                    usual = 0.0 if side in (Side.BELOW, Side.RIGHT) else OTHER_SIDE
                    cost = worse + away + usual + 0.4 * reach + cut + (8.0 if shift else 0.0)
                    yield Trial(cost, n, found)
                    return

    def _fits(self, n: int, marks: tuple[Mark, ...], *, outside: bool = True) -> float | None:
        """None where it lies on something; else what it costs: extension lines crossed, width that the sheet grows."""
        taken, view = self.taken[n], self.views[n]
        texts = fields_of(marks)
        part = Rect(-3, -3, view.size[0] + 3, view.size[1] + 3)
        if outside and any(t.meets(part) for t in texts):
            return None
        lines, extensions = lines_of(marks, "dimension"), lines_of(marks, "extension")
        near_by = around(texts, (*lines, *extensions))
        near = [o for o in taken.texts if o.meets(near_by)]
        if any(t.meets(o) for t in texts for o in near):
            return None
        if any(through(x, o) for o in near for x in (*lines, *extensions)):
            return None
        old = [x for x in taken.lines if touches(x, near_by)]
        old_extensions = [x for x in taken.extensions if touches(x, near_by)]
        if any(through(x, t) for t in texts for x in (*old, *old_extensions)):
            return None
        if any(crosses(x, o) for x in lines for o in old):
            return None
        cut = sum(crosses(x, o) for x in lines for o in old_extensions)
        cut += sum(crosses(x, o) for x in extensions for o in old)
        return CROSSED * cut + WIDER * taken.wider(texts)

    def _pointed(self, place: PointedPlace, tag: dim.Tag) -> Iterator[Trial]:
        axis = "xyz".index(place.axis)
        for n, view in enumerate(self.views):
            if (axis == view.view.depth) != (place.edge is None):
                continue
            tips = self._tips(view, place)
            yield from self._leaders(n, tips, tag)

    def _tips(self, view: Placed, place: PointedPlace) -> list[Spot]:
        """Where a leader may touch: around a circle, or along an edge."""
        if place.edge is not None:
            a, b = (view.point(p) for p in place.edge)
            return [(a[0] + (b[0] - a[0]) * s, a[1] + (b[1] - a[1]) * s) for s in (0.85, 0.15, 0.6, 0.4)]
        (x, y), r = view.point(place.at), float(place.radius) * view.scale
        turns = (math.radians(d) for d in (-35, 35, -145, 145, -65, 65, -115, 115))
        return [(x + r * math.cos(t), y + r * math.sin(t)) for t in turns]

    def _leaders(self, n: int, tips: list[Spot], tag: dim.Tag) -> Iterator[Trial]:
        """Leaders that would cost less than the best so far, from each tip to beside, above and below the view."""
        for tip in tips:
            near = [e for e in self._elbows(self.views[n], tip) if math.dist(tip, e) < self.bar]
            for elbow in self._free(n, tip, near, tag):
                if math.dist(tip, elbow) >= self.bar:
                    break
                trial = self._leader(n, tip, elbow, tag)
                if trial:
                    yield trial

    def _free(self, n: int, tip: Spot, elbows: list[Spot], tag: dim.Tag) -> list[Spot]:
        """The elbows at which neither text nor line would lie on anything, the nearest first; looked at together."""
        if not elbows:
            return []
        spots = np.array(elbows)
        free = np.zeros(len(spots), dtype=np.bool_)
        wide, tall = self.views[n].size
        taken = self.taken[n]
        fields = [*taken.texts, Rect(-3, -3, wide + 3, tall + 3)]
        for rightwards in (True, False):
            side = np.flatnonzero((spots[:, 0] >= tip[0]) == rightwards)
            # the text as it lies about an elbow at 0, 0
            own = np.array(fields_of(dim.leader((-1.0 if rightwards else 1.0, 0.0), (0.0, 0.0), tag)))
            at = np.concatenate([spots[side], spots[side]], axis=1)[:, None, :] + own[None, :, :]
            clear = ~meet(at, fields)
            side, at = side[clear], at[clear]
            if not len(side):
                continue
            lines = np.stack([np.broadcast_to(np.array(tip), (len(side), 2)), spots[side]], axis=1)
            clear = ~crossed(lines, taken.lines)
            if taken.texts:
                clear &= ~run_through(lines, np.array(taken.texts)).any(axis=1)
            if old := [*taken.lines, *taken.extensions]:
                through_own = run_through(np.array(old), at.reshape(-1, 4)).reshape(len(old), len(side), -1)
                clear &= ~through_own.any(axis=(0, 2))
            free[side[clear]] = True
        return sorted((elbows[i] for i in np.flatnonzero(free)), key=lambda e: math.dist(tip, e))

    def _elbows(self, view: Placed, tip: Spot) -> Iterator[Spot]:
        wide, tall = view.size
        for k in range(40):
            y = tip[1] + (k + 1) // 2 * 14 * (-1 if k % 2 else 1)
            yield wide + 16, y
            yield -16, y
        for k in range(16):
            for way in (1, -1):
                x = tip[0] + way * (14 + 26 * (k // 4))
                yield x, -22.0 - 14 * (k % 4)
                yield x, tall + 22 + 14 * (k % 4)

    def _leader(self, n: int, tip: Spot, elbow: Spot, tag: dim.Tag) -> Trial | None:
        marks = tuple(dim.leader(tip, elbow, tag))
        cut = self._fits(n, marks)
        return None if cut is None else Trial(math.dist(tip, elbow) + cut, n, marks)

    def _datum_trials(self, datum: Datum) -> Iterator[Trial]:
        axis = "xyz".index(datum.axis or "z")
        for n, view in enumerate(self.views):
            if axis == view.view.depth or datum.edge is None:
                continue
            a, b = (view.point(p) for p in datum.edge)
            if axis == view.view.across:
                side = Side.RIGHT if datum.out > 0 else Side.LEFT
            else:
                side = Side.ABOVE if datum.out > 0 else Side.BELOW
            worse = 0.0 if view.view.depth == 1 else 10.0
            for k, (tip, start) in enumerate(_flag_spots(a, b)):
                for off in OFF:
                    if worse + k + off >= self.bar:
                        break
                    marks = dim.datum_flag(tip, side, datum.letter, off)
                    if start is not None:
                        marks = (Stroke("extension", (start, tip)), *marks)
                    cost = self._fits(n, marks, outside=False)
                    if cost is not None:
                        yield Trial(worse + k + off + cost, n, marks)


def _flag_spots(a: Spot, b: Spot) -> Iterator[tuple[Spot, Spot | None]]:
    """Where the letter of a datum may touch its face, and on the face's line beyond its ends, from where that runs."""
    for s in (0.8, 0.2, 0.5, 0.65, 0.35, 0.95, 0.05):
        yield (a[0] + (b[0] - a[0]) * s, a[1] + (b[1] - a[1]) * s), None
    length = math.dist(a, b) or 1.0
    for beyond in (18.0, 40.0, 70.0, 110.0):
        for one, two in ((a, b), (b, a)):
            ux, uy = (two[0] - one[0]) / length, (two[1] - one[1]) / length
            yield (two[0] + ux * beyond, two[1] + uy * beyond), (two[0] + ux * 3, two[1] + uy * 3)


def _nearer(view: Placed, side: Side, one: Point, two: Point | None) -> Spot:
    """Of two corners of a face the one that is nearer to a side of the view."""
    a, b = view.point(one), view.point(two or one)
    i, most = (0, side is Side.RIGHT) if side in UPRIGHT_SIDES else (1, side is Side.BELOW)
    return (max if most else min)((a, b), key=lambda p: p[i])
