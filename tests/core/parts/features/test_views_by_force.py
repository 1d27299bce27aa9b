"""Every view of ten parts against brute force: the part as a grid of small cubes, made from its file by other code.

In both directions: where the depth of the first metal jumps from one cell to the next there is a visible line between
them, and beside every line that is drawn the metal differs: at its surface for a visible one, behind it for a hidden
one.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from incudo.core.parts.features.file import PartFile
from incudo.core.parts.features.holes import Circle, Grid, HoleFeature, Row, Single
from incudo.core.parts.features.milled import Flat, Pocket, Slot, Step
from incudo.core.parts.features.sloped import Angled, Chamfer
from incudo.core.parts.geometry.edges import VIEWS, Arc, Segment, edges_of
from incudo.core.parts.project import ViewName
from tests.core.parts.features.making import shipped_part

PARTS = (
    "tide-block", "keel-step-gauge", "fairlead-plate", "cleat-base", "shackle-pin", "sheave-housing", "thole-block",
    "mast-step-pad", "tiller-key-shaft", "anchor-cheek",
)  # fmt: skip
#: Cells along the longest side, and empty ones around the part.
CELLS, PAD = 170, 7
#: So much of a line may be finer than a cell: where a flat runs out on a bar.
UNSEEN = 0.16
Cube = NDArray[np.bool_]
SIDES = {"left": (0, -1), "right": (0, 1), "front": (1, -1), "rear": (1, 1), "bottom": (2, -1), "top": (2, 1)}


class Cubes:
    """A part in cubes: where each cell's middle is, and whether there is metal."""

    def __init__(self, file: PartFile) -> None:
        body: Any = file.body
        if body.shape == "block":
            self.low, self.high = np.zeros(3), np.array([float(body.x), float(body.y), float(body.z)])
        else:
            r = float(body.diameter) / 2
            self.low, self.high = np.array([0.0, -r, -r]), np.array([float(body.length), r, r])
        self.cell = (self.high - self.low).max() / CELLS
        self.count = np.ceil((self.high - self.low) / self.cell).astype(int) + 2 * PAD
        axes = [self.low[i] + (np.arange(self.count[i]) - PAD + 0.5) * self.cell for i in range(3)]
        self.at = np.meshgrid(*axes, indexing="ij")
        _, y, z = self.at
        self.levels: dict[str, tuple[int, int, float]] = {
            k: (axis, out, float(self.high[axis] if out > 0 else self.low[axis])) for k, (axis, out) in SIDES.items()
        }
        inside = np.logical_and.reduce(
            [(a > lo) & (a < hi) for a, lo, hi in zip(self.at, self.low, self.high, strict=True)]
        )
        self.metal: Cube = inside if body.shape == "block" else inside & (y**2 + z**2 < (float(body.diameter) / 2) ** 2)
        for feature in file.features:
            self.metal &= ~self.gone(feature)

    def deep(self, face: str) -> tuple[Any, int]:
        """How far below a face each cell lies, and the face's axis."""
        axis, out, at = self.levels[face]
        return (at - self.at[axis]) * out, axis

    def flat(self, axis: int) -> tuple[Any, Any]:
        a, b = (i for i in range(3) if i != axis)
        return self.at[a], self.at[b]

    def gone(self, f: Any) -> Cube:
        match f:
            case Step():
                below, _ = self.deep(f.face)
                beside, _ = self.deep(f.side)
                depth, length = float(f.depth), float(f.length)
                self._name(f"{f.name}.floor", f.face, depth)
                self._name(f"{f.name}.wall", f.side, length)
                return (below < depth) & (beside < length) & (below > 0)  # type: ignore[no-any-return]
            case Flat():
                below, _ = self.deep(f.face)
                beside, _ = self.deep(f.end)
                least = self.high[2] - self.low[2] - float(f.across)
                return (below < least) & (beside < (float(f.length) if f.length else math.inf))  # type: ignore[no-any-return]
            case Slot():
                return self._slot(f)
            case Pocket():
                below, axis = self.deep(f.face)
                u, v = self.flat(axis)
                r = float(f.radius)
                du = np.maximum(abs(u - float(f.at[0])) - float(f.size[0]) / 2 + r, 0)
                dv = np.maximum(abs(v - float(f.at[1])) - float(f.size[1]) / 2 + r, 0)
                return (du**2 + dv**2 < r**2) & (below < (float(f.depth) if f.depth else math.inf))  # type: ignore[no-any-return]
            case HoleFeature():
                return self._holes(f)
            case Chamfer():
                below, _ = self.deep(f.face)
                beside, _ = self.deep(f.side)
                return below + beside < float(f.size)  # type: ignore[no-any-return]
            case Angled():
                below, _ = self.deep(f.face)
                beside, _ = self.deep(f.side)
                return below < (float(f.length) - beside) * math.tan(math.radians(float(f.angle)))  # type: ignore[no-any-return]
        raise AssertionError(f)

    def _name(self, name: str, face: str, depth: float) -> None:
        axis, out, at = self.levels[face]
        self.levels[name] = (axis, out, at - out * depth)

    def _slot(self, f: Slot) -> Cube:
        below, axis = self.deep(f.face)
        along = "xyz".index(f.along)
        (cross,) = (i for i in range(3) if i not in (axis, along))
        r, t = float(f.width) / 2, self.at[along]
        start = float(f.start) + r if f.start else -math.inf
        end = float(f.end) - r if f.end else math.inf
        away = np.maximum(np.maximum(start - t, t - end), 0)
        return (away**2 + (self.at[cross] - float(f.at)) ** 2 < r**2) & (
            below < (float(f.depth) if f.depth else math.inf)
        )  # type: ignore[no-any-return]

    def _holes(self, f: HoleFeature) -> Cube:
        below, axis = self.deep(f.face)
        u, v = self.flat(axis)
        found = np.zeros_like(self.metal)
        r = float(f.diameter) / 2
        for p, q in places(f, axis):
            rho = np.hypot(u - p, v - q)
            one = (rho < r) & (below < (float(f.depth) if f.depth else math.inf)) & (below > 0)
            if f.depth and f.tip and f.made in ("drilled", "tapped"):
                one |= (below >= float(f.depth)) & (
                    rho < r - (below - float(f.depth)) * math.tan(math.radians(float(f.tip) / 2))
                )
            if f.countersink:
                wide = float(f.countersink.diameter) / 2
                one |= (below > 0) & (rho < wide - below * math.tan(math.radians(float(f.countersink.angle) / 2)))
            if f.counterbore:
                one |= (below > 0) & (rho < float(f.counterbore.diameter) / 2) & (below < float(f.counterbore.depth))
            found |= one
        return found


def places(f: HoleFeature, axis: int) -> Iterator[tuple[float, float]]:
    a, _ = (i for i in range(3) if i != axis)
    at = f.layout
    u, v = float(at.at[0]), float(at.at[1])
    match at:
        case Single():
            yield u, v
        case Row():
            for n in range(at.count):
                step = n * float(at.pitch)
                yield (u + step, v) if "xyz".index(at.along) == a else (u, v + step)
        case Grid():
            for n in range(at.counts[0]):
                for m in range(at.counts[1]):
                    yield u + n * float(at.pitches[0]), v + m * float(at.pitches[1])
        case Circle():
            for n in range(at.count):
                turn = math.radians(float(at.start)) + math.tau * n / at.count
                yield u + float(at.diameter) / 2 * math.cos(turn), v + float(at.diameter) / 2 * math.sin(turn)


def samples(line: Segment | Arc, step: float) -> Iterator[tuple[float, float, float, float]]:
    """Spots along a line, away from its ends, with the way across it."""
    if isinstance(line, Segment):
        length = math.dist(line.a, line.b)
        nx, ny = -(line.b[1] - line.a[1]) / length, (line.b[0] - line.a[0]) / length
        for n in range(1, int(length / step) - 1):
            t = (n + 0.5) * step / length
            yield line.a[0] + (line.b[0] - line.a[0]) * t, line.a[1] + (line.b[1] - line.a[1]) * t, nx, ny
        return
    for n in range(1, int(line.radius * (line.end - line.start) / step) - 1):
        t = line.start + (n + 0.5) * step / line.radius
        yield (
            line.centre[0] + line.radius * math.cos(t),
            line.centre[1] + line.radius * math.sin(t),
            math.cos(t),
            math.sin(t),
        )


class Picture:
    """One view of the cubes: the depth of the first metal, and the columns behind each cell."""

    def __init__(self, cubes: Cubes, name: ViewName) -> None:
        view = VIEWS[name]
        order = (view.across, view.up, view.depth)
        self.columns = np.transpose(cubes.metal, order)
        if not view.towards_plus:
            self.columns = self.columns[:, :, ::-1]
        self.low = cubes.low[view.across] - PAD * cubes.cell, cubes.low[view.up] - PAD * cubes.cell
        self.cell = cubes.cell
        deep = self.columns.shape[2]
        self.first = np.where(self.columns.any(axis=2), self.columns.argmax(axis=2), 3 * deep)

    def index(self, across: float, up: float) -> tuple[int, int]:
        return int((across - self.low[0]) / self.cell), int((up - self.low[1]) / self.cell)

    def differs(self, spot: tuple[float, float, float, float], *, surface: bool) -> bool:
        """Whether metal differs across a line: its surface jumps or bends, or what is behind it does."""
        x, y, nx, ny = spot
        at = [self.index(x + nx * s * self.cell, y + ny * s * self.cell) for s in (-4, -2.2, 2.2, 4)]
        if surface:
            a, b, c, d = (int(self.first[i]) for i in at)
            far = [int(self.first[self.index(x + nx * s * self.cell, y + ny * s * self.cell)]) for s in (-6.5, 6.5)]
            return abs(c - b) > 1 or abs((d - c) - (b - a)) > 0 or abs((far[1] - c) - (b - far[0])) > 0
        a, b, c, d = (self.columns[i] for i in at)
        changes = [int((p != q).sum()) for p, q in ((a, b), (b, c), (c, d))]
        return changes[1] > 1 or changes[0] != changes[2]


@pytest.mark.parametrize("code", PARTS)
def test_every_line_of_every_view(code: str) -> None:
    part = shipped_part(code)
    cubes = Cubes(part.file)
    for name in ViewName:
        edges = edges_of(part.solid, name)
        picture = Picture(cubes, name)
        near = np.zeros(picture.first.shape, dtype=bool)
        for line in edges.visible:
            found = list(samples(line, cubes.cell / 2))
            wrong = [s for s in found if not picture.differs(s, surface=True)]
            assert len(wrong) <= UNSEEN * len(found), (name, line, len(wrong), len(found))
            for x, y, _, _ in [*found, *ends(line)]:
                i, j = picture.index(x, y)
                near[max(i - 2, 0) : i + 3, max(j - 2, 0) : j + 3] = True
        for line in edges.hidden:
            found = list(samples(line, cubes.cell))
            wrong = [s for s in found if not picture.differs(s, surface=False)]
            assert len(wrong) <= UNSEEN * len(found), (name, line, len(wrong), len(found))
        jump = np.zeros_like(near)
        jump[:-1] |= abs(np.diff(picture.first, axis=0)) > 4
        jump[:, :-1] |= abs(np.diff(picture.first, axis=1)) > 4
        assert not (jump & ~near).any(), (name, np.argwhere(jump & ~near)[:5])


def ends(line: Segment | Arc) -> list[tuple[float, float, float, float]]:
    """The ends of a line and close to them, and all of a line that is short."""
    if isinstance(line, Segment):
        shares = [n / 20 for n in range(21)]
        return [
            (line.a[0] + (line.b[0] - line.a[0]) * s, line.a[1] + (line.b[1] - line.a[1]) * s, 0.0, 0.0) for s in shares
        ]
    turns = [line.start + (line.end - line.start) * n / 60 for n in range(61)]
    return [
        (line.centre[0] + line.radius * math.cos(t), line.centre[1] + line.radius * math.sin(t), 0.0, 0.0)
        for t in turns
    ]
