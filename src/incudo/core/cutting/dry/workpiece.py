"""The part as it was really cut: how deep each face is, and where each hole lies.

What is cut away stays away: of several cuts the deepest counts. Lengths in mm, along the part's own axes.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from decimal import Decimal
from fractions import Fraction
from math import hypot

from incudo.core.cutting.dry.causes import Cause, Off
from incudo.core.cutting.dry.lie import Lie
from incudo.core.cutting.measure import middle_of
from incudo.core.cutting.milled import runs_free
from incudo.core.parts.features.frame import Axle, Plane, RoundWall
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.planning.course import Course
from incudo.core.planning.file import OperationKind
from incudo.core.planning.stages import Stage
from incudo.core.shop.machine import Axis

K = OperationKind
_SAME = 1e-3
#: By what a hole's place is made; what comes after follows the hole that is there.
_PLACES = (K.SPOT, K.DRILL)
#: What gives a hole its direction; a reamer and a tap follow it.
_DIRECTS = (K.DRILL, K.BORE)
#: Walls that are as wide as the tool; the others are set by eye or by the boring head.
_SIZED_BY_TOOL = {K.DRILL: ".bore", K.REAM: ".bore", K.COUNTERBORE: ".counterbore"}


@dataclass(frozen=True)
class Stand:
    """Where the cutter stood while it cut, in machine axes, each with how far that is off and why."""

    at: tuple[Fraction | None, Fraction | None, Fraction | None]
    off: tuple[Off, Off, Off]


@dataclass(frozen=True)
class Wide:
    """The cutter that cut: its true diameter, and why it is not the plan's."""

    real: Fraction
    planned: Fraction
    cause: Cause | None = None


@dataclass
class Workpiece:
    """A part while it is cut. ``deep`` is how much deeper than drawn a face lies, by its name."""

    course: Course
    deep: dict[str, Off] = field(default_factory=dict)
    beside: dict[str, tuple[Off, Off, Off]] = field(default_factory=dict)
    wide: dict[str, Off] = field(default_factory=dict)
    #: How the faces stand to each other.
    lie: Lie = field(default_factory=Lie)
    #: Why something of an operation was not cut at all.
    missed: dict[str, Cause] = field(default_factory=dict)
    #: Walls that have their thread.
    tapped: set[str] = field(default_factory=set)

    # ── cutting ───────────────────────────────────────────────────────────

    def cut(self, stage: Stage, stands: Sequence[Stand], wide: Wide, more: Mapping[str, tuple[Cause, ...]]) -> None:
        """Mill with the cutter standing at these places. ``more`` are causes along an axis before any handle."""
        names = (*stage.faces, *(n.name for n in self._planes() if n.feature and n.feature in stage.operation.of))
        free = runs_free(stage)
        for name in names:
            plane = self.course.named(name)
            if not isinstance(plane, Plane) or not plane.out:
                continue
            axis = stage.place.along(plane.axis)
            sign = stage.place.signs[axis]
            if "xyz"[axis] in free or (stage.kind is K.FACE and axis != 2) or (axis == 2 and plane.out != sign):
                # its end is not counted by anybody, or looks away from the cutter
                self.deep.setdefault(name, Off())
                continue
            for stand in stands:
                at = stand.at[axis]
                if at is None:
                    continue
                out = plane.out * sign
                edge = at if axis == 2 else at - out * wide.real / 2
                deep = (self.nominal(plane.at) * sign - edge) * out
                causes = (*stand.off[axis].causes, *more.get("xyz"[axis], ()))
                if axis != 2 and wide.cause is not None:
                    causes = (*causes, wide.cause)
                before = self.deep.get(name)
                if before is None or deep > before.mm:
                    self.deep[name] = Off(deep, causes)
                    self.lie.cut(stage, plane, self.course.settled[stage.index], wide.real)
                elif before.mm < 0 and causes:
                    # metal is left because this cut, which should have taken it, went beside
                    self.deep[name] = Off(before.mm, causes)
        for wall in self._walls(stage):
            if wall.corner and wide.cause is not None:
                self.wide[wall.name] = Off(wide.real - wide.planned, (wide.cause,))

    def leave(self, stage: Stage, cause: Cause) -> None:
        """A pass or a hole is left out."""
        for name in stage.operation.of:
            self.missed.setdefault(name, cause)
        for plane in self._planes():
            if plane.name in stage.faces or (plane.feature and plane.feature in stage.operation.of):
                before = self.deep.get(plane.name)
                if before is not None and before.mm < 0:
                    self.deep[plane.name] = Off(before.mm, (cause,))

    def drill(self, stage: Stage, number: int, stand: Stand, wide: Wide) -> None:
        """Work on one hole of an operation, counted from 0 in the order of the card."""
        spot = self.course.settled[stage.index].path[number]
        for name in self._round(stage, spot):
            thing = self.course.named(name)
            if stage.kind is K.BORE or (stage.kind in _PLACES and name not in self.beside):
                moved = [Off(), Off(), Off()]
                for axis in (0, 1):
                    at = stand.at[axis]
                    if at is not None:
                        off = (at - Fraction(spot[axis])) * stage.place.signs[axis]
                        moved[stage.place.axes[axis]] = Off(off, stand.off[axis].causes)
                self.beside[name] = (moved[0], moved[1], moved[2])
            if stage.kind in _DIRECTS:
                self.lie.drill(stage, name, quill=Axis.QUILL in self.course.shop.handles)
            if stage.kind is K.TAP:
                self.tapped.add(name)
            if isinstance(thing, RoundWall):
                self._size(stage, thing, wide)
        for plane in self._planes():
            # a depth is counted from the face that the tool begins at, as it really is
            if plane.feature and plane.feature in stage.operation.of and plane.out:
                hole = self.course.piece.features[plane.feature]
                if isinstance(hole, HoleFeature):
                    self.deep.setdefault(plane.name, self._aimed(plane, hole))

    def _aimed(self, floor: Plane, hole: HoleFeature) -> Off:
        """How much deeper than drawn a hole goes: as the face that it begins at, and to the middle of the limits."""
        face = self.deep.get(hole.face, Off())
        more = middle_of(self.course, floor.name, hole.face)
        return replace(face, mm=face.mm + more)

    def _size(self, stage: Stage, wall: RoundWall, wide: Wide) -> None:
        name = wall.name
        if stage.kind in _SIZED_BY_TOOL and name.endswith(_SIZED_BY_TOOL[stage.kind]):
            more = wide.real - self.nominal(wall.diameter)
            before = self.wide.get(name)
            if before is None or more > before.mm:
                self.wide[name] = Off(more, (wide.cause,) if wide.cause else ())
        elif stage.kind is K.BORE and name.endswith(".bore"):
            self.wide[name] = Off()

    def nominal(self, value: Decimal | str) -> Fraction:
        """A number of the part's file in mm."""
        return Fraction(value) * self.course.piece.unit.in_mm

    def _planes(self) -> list[Plane]:
        return [n for n in self.course.piece.part.frame.named.values() if isinstance(n, Plane)]

    def _walls(self, stage: Stage) -> list[RoundWall]:
        named = self.course.piece.part.frame.named.values()
        return [n for n in named if isinstance(n, RoundWall) and n.feature and n.feature in stage.operation.of]

    def _round(self, stage: Stage, spot: tuple[float, float]) -> list[str]:
        """The axis and the wall of the hole at a place of the machine."""
        k = float(self.course.piece.unit.in_mm)
        found = []
        for n in self.course.piece.part.frame.named.values():
            if isinstance(n, (Axle, RoundWall)) and n.feature and n.feature in stage.operation.of:
                there = stage.place.spot((float(n.centre[0]) * k, float(n.centre[1]) * k, float(n.centre[2]) * k))
                if hypot(there[0] - spot[0], there[1] - spot[1]) < _SAME:
                    found.append(n.name)
        return found

    # ── what is where ─────────────────────────────────────────────────────

    def shift(self, name: str, axis: int) -> Off:
        """How far something lies from where the drawing wants it, along an axis of the part."""
        thing = self.course.named(name)
        match thing:
            case Plane() if thing.out and thing.axis == axis:
                off = self.deep.get(name, Off())
                return replace(off, mm=-thing.out * off.mm)
            case Plane() if thing.axis == axis and thing.feature:
                walls = [p.name for p in self._planes() if p.feature == thing.feature and p.axis == axis and p.out]
                offs = [self.shift(w, axis) for w in walls]
                total = sum((o.mm for o in offs), Fraction(0)) / max(len(offs), 1)
                return Off(total, tuple(c for o in offs for c in o.causes))
            case Axle() | RoundWall():
                return self.beside.get(name, (Off(), Off(), Off()))[axis]
        return Off()

    def off_machine(self, stage: Stage, name: str, axis: int) -> Off:
        """The same along a machine axis, for something that is touched or measured from in an operation."""
        off = self.shift(name, stage.place.axes[axis])
        return replace(off, mm=off.mm * stage.place.signs[axis])

    def floor(self, stage: Stage) -> Fraction:
        """How much deeper than drawn the floor of what an operation cuts is now; less than 0 while metal is left."""
        floors = [
            p.name
            for p in self._planes()
            if p.feature and p.feature in stage.operation.of and stage.place.along(p.axis) == 2 and p.name in self.deep
        ]
        return max((self.deep[n].mm for n in floors), default=Fraction(0))
