"""Rays through a solid in one direction, many at once: what stands between a place and the viewer.

Places are arrays of shape (n, 3) in the project's unit. A stretch of a ray is two arrays of multiples of the direction,
from and to; where the first is not below the second there is none.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from incudo.core.parts.geometry.solid import Body, Box, Corner, Revolved, RoundedBox, Solid, Wedge

Array = NDArray[np.float64]
Stretch = tuple[Array, Array]


def metal_beyond(solid: Solid, places: Array, towards: Corner, least: float) -> NDArray[np.bool_]:
    """Whether a ray from each place meets a stretch of metal longer than ``least`` multiples of the direction."""
    ((starts, ends),) = _stretches(solid.base, places, towards)
    gone = [s for cut in solid.cuts for s in _stretches(cut, places, towards)]
    found = np.zeros(len(places), dtype=np.bool_)
    for i in np.flatnonzero(ends - np.maximum(starts, 0.0) > least):
        at, end = max(float(starts[i]), 0.0), float(ends[i])
        for low, high in sorted((float(a[i]), float(b[i])) for a, b in gone if a[i] < b[i] and b[i] > at):
            if min(low, end) - at > least:
                break
            at = max(at, high)
        else:
            found[i] = end - at > least
            continue
        found[i] = True
    return found


def _stretches(body: Body, places: Array, d: Corner) -> Iterator[Stretch]:
    match body:
        case Box():
            yield _in_box(body.low, body.high, places, d)
        case RoundedBox():
            for narrow in body.others:
                low, high = list(body.low), list(body.high)
                low[narrow] += body.radius
                high[narrow] -= body.radius
                if high[narrow] > low[narrow]:
                    yield _in_box((low[0], low[1], low[2]), (high[0], high[1], high[2]), places, d)
            ends = body.low[body.axis], body.high[body.axis]
            for centre in body.corners:
                yield from _in_cone(body.axis, centre, (ends[0], body.radius), (ends[1], body.radius), places, d)
        case Wedge():
            yield _in_wedge(body, places, d)
        case Revolved():
            for one, two in pairwise(body.profile):
                yield from _in_cone(body.axis, body.centre, one, two, places, d)


def _between(low: float, high: float, at: Array, step: float) -> Stretch:
    if abs(step) < 1e-15:
        inside = (at > low) & (at < high)
        return np.where(inside, -np.inf, np.inf), np.where(inside, np.inf, -np.inf)
    one, two = (low - at) / step, (high - at) / step
    return np.minimum(one, two), np.maximum(one, two)


def _common(*found: Stretch) -> Stretch:
    return np.maximum.reduce([a for a, _ in found]), np.minimum.reduce([b for _, b in found])


def _in_box(low: Corner, high: Corner, places: Array, d: Corner) -> Stretch:
    return _common(*(_between(low[i], high[i], places[:, i], d[i]) for i in range(3)))


def _in_wedge(w: Wedge, places: Array, d: Corner) -> Stretch:
    # shares of the two legs: inside both are above 0 and their sum is below 1
    here = [(places[:, i] - w.corner[n]) / w.legs[n] for n, i in enumerate(w.others)]
    step = [d[i] / w.legs[n] for n, i in enumerate(w.others)]
    return _common(
        _between(w.ends[0], w.ends[1], places[:, w.axis], d[w.axis]),
        _between(0, np.inf, here[0], step[0]),
        _between(0, np.inf, here[1], step[1]),
        _between(-np.inf, 1, here[0] + here[1], step[0] + step[1]),
    )


def _in_cone(
    axis: int,
    centre: tuple[float, float],
    one: tuple[float, float],
    two: tuple[float, float],
    places: Array,
    d: Corner,
) -> Iterator[Stretch]:
    """Rays through a stretch of a cone or cylinder from (place, radius) to (place, radius)."""
    (t0, r0), (t1, r1) = one, two
    if abs(t1 - t0) < 1e-12:
        return
    a, b = (i for i in range(3) if i != axis)
    x, y = places[:, a] - centre[0], places[:, b] - centre[1]
    slope = (r1 - r0) / (t1 - t0)
    r, dr = r0 + slope * (places[:, axis] - t0), slope * d[axis]
    # (x + t dx)² + (y + t dy)² < (r + t dr)²
    qa = d[a] ** 2 + d[b] ** 2 - dr**2
    qb = x * d[a] + y * d[b] - r * dr
    qc = x * x + y * y - r * r
    ends = _between(min(t0, t1), max(t0, t1), places[:, axis], d[axis])
    qa = qa if abs(qa) > 1e-12 else 1e-12
    root = qb * qb - qa * qc
    real = root > 0
    half = np.sqrt(np.where(real, root, 0.0))
    low, high = np.minimum(-qb - half, -qb + half) / qa, np.maximum(-qb - half, -qb + half) / qa
    if qa > 0:
        yield _common(ends, (np.where(real, low, np.inf), np.where(real, high, -np.inf)))
        return
    low, high = np.minimum(low, high), np.maximum(low, high)
    yield _common(ends, (np.full_like(low, -np.inf), np.where(real, low, np.inf)))
    yield _common(ends, (np.where(real, high, np.inf), np.full_like(high, np.inf)))
