"""How the part lies on the machine: its axes turned to the machine's. Lengths in mm as floats.

Machine axes: 0 X to the right, 1 Y away from the operator (the fixed jaw is at the rear), 2 Z up.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from incudo.core.parts.features.frame import SIDES
from incudo.core.parts.geometry.solid import Body, Box, Corner, Revolved, RoundedBox, Solid, Wedge


@dataclass(frozen=True)
class Place:
    """For each machine axis the part's axis that lies along it, and whether it runs the same way (1) or not (-1)."""

    axes: tuple[int, int, int]
    signs: tuple[int, int, int]

    @classmethod
    def of(cls, up: str, fixed: str) -> Place:
        """With face ``up`` looking up and ``fixed`` at the fixed jaw. They must be beside each other."""
        (z, s), (y, t) = SIDES[up], SIDES[fixed]
        x = 3 - y - z
        # X is Y crossed with Z; the sign of the permutation makes the frame right-handed
        even = (x, y, z) in ((0, 1, 2), (1, 2, 0), (2, 0, 1))
        return cls((x, y, z), (s * t * (1 if even else -1), t, s))

    def along(self, part_axis: int) -> int:
        """The machine axis along which a part's axis lies."""
        return self.axes.index(part_axis)

    def face_at(self, machine_axis: int, out: int) -> str:
        """The part's face that looks along a machine axis (``out`` 1: to its high end)."""
        wanted = self.axes[machine_axis], out * self.signs[machine_axis]
        return next(name for name, side in SIDES.items() if side == wanted)

    def span(self, spans: tuple[tuple[float, float], ...], machine_axis: int) -> tuple[float, float]:
        """A span of the part along a machine axis."""
        low, high = spans[self.axes[machine_axis]]
        return (low, high) if self.signs[machine_axis] == 1 else (-high, -low)

    def spot(self, at: Corner) -> Corner:
        """A point of the part in machine axes."""
        a, b, c = (at[p] * s for p, s in zip(self.axes, self.signs, strict=True))
        return a, b, c

    def body(self, body: Body) -> Body:
        """A body of the part as it lies."""
        match body:
            case Box(low=low, high=high):
                return Box(*self._corners(low, high))
            case RoundedBox(low=low, high=high):
                one, two = self._corners(low, high)
                return replace(body, low=one, high=two, axis=self.along(body.axis))
            case Wedge():
                return self._wedge(body)
            case Revolved():
                return self._revolved(body)

    def solid(self, solid: Solid) -> Solid:
        """A solid as it lies."""
        base = self.body(solid.base)
        assert isinstance(base, (Box, Revolved))  # noqa: S101 (a body turns into one of its own kind)
        return Solid(base, tuple(self.body(c) for c in solid.cuts))

    def _corners(self, low: Corner, high: Corner) -> tuple[Corner, Corner]:
        pairs = [sorted((low[p] * s, high[p] * s)) for p, s in zip(self.axes, self.signs, strict=True)]
        (a, d), (b, e), (c, f) = pairs
        return (a, b, c), (d, e, f)

    def _two(self, others: tuple[int, int], values: tuple[float, float]) -> tuple[float, float]:
        """Two coordinates of the part, given for two of its axes, in the order of the machine's."""
        found = sorted((self.along(a), v * self.signs[self.along(a)]) for a, v in zip(others, values, strict=True))
        return found[0][1], found[1][1]

    def _wedge(self, body: Wedge) -> Wedge:
        axis = self.along(body.axis)
        ends = sorted(e * self.signs[axis] for e in body.ends)
        return replace(
            body,
            axis=axis,
            ends=(ends[0], ends[1]),
            corner=self._two(body.others, body.corner),
            legs=self._two(body.others, body.legs),
        )

    def _revolved(self, body: Revolved) -> Revolved:
        axis = self.along(body.axis)
        profile = tuple((t * self.signs[axis], r) for t, r in body.profile)
        return replace(body, axis=axis, centre=self._two(body.others, body.centre), profile=profile)
