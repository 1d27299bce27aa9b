"""What lies on a view's part of the sheet already, and many texts and lines looked at together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from incudo.core.parts.drawing.fields import Line, Rect

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]


@dataclass
class Taken:
    """Texts and lines that have their place."""

    texts: list[Rect] = field(default_factory=list)
    lines: list[Line] = field(default_factory=list)
    extensions: list[Line] = field(default_factory=list)
    left: float = 0.0
    right: float = 0.0

    def wider(self, texts: list[Rect]) -> float:
        """How much wider these texts make it."""
        return max(0.0, self.left - min(t.left for t in texts)) + max(0.0, max(t.right for t in texts) - self.right)

    def add(self, texts: list[Rect], lines: list[Line], extensions: list[Line]) -> None:
        """Keep what has found its place."""
        self.texts += texts
        self.lines += lines
        self.extensions += extensions
        self.left = min(self.left, *(t.left for t in texts))
        self.right = max(self.right, *(t.right for t in texts))


def meet(fields: Floats, others: Sequence[Rect]) -> Bools:
    """Which of many groups of fields, shape (groups, fields, 4), lie on one of the others; shape (groups,)."""
    if not others:
        return np.zeros(len(fields), dtype=np.bool_)
    o = np.array(others)
    level = (fields[:, :, None, 0] < o[:, 2]) & (fields[:, :, None, 2] > o[:, 0])
    upright = (fields[:, :, None, 1] < o[:, 3]) & (fields[:, :, None, 3] > o[:, 1])
    return np.asarray(np.any(np.logical_and(level, upright), axis=(1, 2)), dtype=np.bool_)


def run_through(lines: Floats, fields: Floats) -> Bools:
    """Which lines, shape (lines, 2, 2), run through which fields, shape (fields, 4); shape (lines, fields)."""
    start, way = lines[:, 0, :], lines[:, 1, :] - lines[:, 0, :]
    low = np.zeros((len(lines), len(fields)))
    high = np.ones_like(low)
    for axis in (0, 1):
        a, d = start[:, None, axis], way[:, None, axis]
        near, far = fields[None, :, axis], fields[None, :, axis + 2]
        level = np.abs(d) < 1e-12
        safe = np.where(level, 1.0, d)
        t0, t1 = (near - a) / safe, (far - a) / safe
        within = (a > near) & (a < far)
        low = np.maximum(low, np.where(level, np.where(within, 0.0, 2.0), np.minimum(t0, t1)))
        high = np.minimum(high, np.where(level, 1.0, np.maximum(t0, t1)))
    found: Bools = low < high
    return found


def crossed(lines: Floats, others: Sequence[Line]) -> Bools:
    """Which of many lines, shape (lines, 2, 2), cross one of the others; parallel ones are not told."""
    if not others:
        return np.zeros(len(lines), dtype=np.bool_)
    o = np.array(others)
    a, ab = lines[:, None, 0, :], (lines[:, 1, :] - lines[:, 0, :])[:, None, :]
    c, cd = o[None, :, 0, :], (o[:, 1, :] - o[:, 0, :])[None, :, :]
    turn = ab[..., 0] * cd[..., 1] - ab[..., 1] * cd[..., 0]
    flat = np.abs(turn) < 1e-9
    safe = np.where(flat, 1.0, turn)
    ac = c - a
    t = (ac[..., 0] * cd[..., 1] - ac[..., 1] * cd[..., 0]) / safe
    u = (ac[..., 0] * ab[..., 1] - ac[..., 1] * ab[..., 0]) / safe
    hit = ~flat & (t > 1e-6) & (t < 1 - 1e-6) & (u > 1e-6) & (u < 1 - 1e-6)
    found: Bools = hit.any(axis=1)
    return found
