"""A part as it was cut, held against its drawing: what each size, form and place becomes. Lengths in mm."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from math import hypot

from incudo.core.cutting.dry.causes import Cause, Off
from incudo.core.cutting.dry.workpiece import Workpiece
from incudo.core.cutting.measure import middle_of
from incudo.core.kernel.quantity import Length, Unit, settable
from incudo.core.parts.features.asked import Asked
from incudo.core.parts.features.frame import Axle, Named, Plane, RoundWall, Slope
from incudo.core.parts.features.holes import HoleFeature
from incudo.core.planning.course import runs_along
from incudo.core.planning.cutters import DRILL_OFF


def seen(value: Fraction, unit: Unit) -> Fraction:
    """A size, mm, as it is read: to half a thou, or to a hundredth of a mm."""
    fine = Length("0.0005", Unit.INCH) if unit is Unit.INCH else Length("0.01", Unit.MM)
    return settable(value, fine, halves=False).mm


@dataclass(frozen=True)
class CameOut:
    """One requirement of the drawing on the part as it came out, mm; ``causes`` are none where it is as planned."""

    number: int
    name: str
    value: Fraction | None
    nominal: Fraction
    low: Fraction | None
    high: Fraction | None
    causes: tuple[Cause, ...]
    #: What is asked where it is no length: an angle, in degrees, or a thread, by how far its hole is off its drill.
    kind: str = ""

    @property
    def good(self) -> bool:
        """Whether it lies within the limits."""
        if self.value is None:
            return False
        return not (self.low is not None and self.value < self.low) and not (
            self.high is not None and self.value > self.high
        )


@dataclass(frozen=True)
class CameOutOf:
    """What the drawing's requirements have become on a part."""

    part: Workpiece

    def size(self, number: int) -> Fraction:
        """A distance of the drawing as it is now."""
        a = next(a for a, _ in self.part.course.asked if a.number == number)
        one, two = self._things(a)
        value, _ = self._distance(a, one, two)
        return value

    def come_out(self) -> tuple[CameOut, ...]:
        """Every length of the drawing as it would be measured now."""
        found = []
        for a, _ in self.part.course.asked:
            got = self._one(a)
            if got is not None:
                found.append(got)
        return tuple(found)

    def _things(self, a: Asked) -> list[Named]:
        """What a requirement names, as it is on the part."""
        return [self.part.course.piece.part.frame.named[n] for n in a.of]

    def _one(self, a: Asked) -> CameOut | None:
        project = self.part.course.piece.part.project
        characteristic = project.characteristic(a.number)
        things = self._things(a)
        nominal = self.part.nominal(characteristic.nominal) if a.kind != "position" else Fraction(0)
        value: Fraction | None
        limits = project.limits(characteristic)
        low, high = limits.lower, limits.upper
        if a.kind == "distance":
            value, causes = self._at_its_worse_end(
                a, things[0], things[1], nominal + middle_of(self.part.course, *a.of)
            )
        elif a.kind == "thread":
            off = self.part.wide.get(a.of[0], Off())
            value = off.mm if a.of[0] in self.part.tapped else None
            causes, nominal, low, high = off.causes, Fraction(0), -DRILL_OFF, DRILL_OFF
        elif a.kind == "angle":
            # it is cut until it measures what the drawing says
            value, causes, nominal = Fraction(characteristic.nominal), (), Fraction(characteristic.nominal)
        elif a.kind == "diameter" and isinstance(things[0], RoundWall):
            off = self.part.wide.get(a.of[0], Off())
            value, causes = nominal + off.mm, off.causes
        elif a.kind == "position":
            value, causes = self._position(a, things[1], things[2])
        elif (form := self._form(a, things[0])) is not None:
            value, causes, nominal = form.mm, form.causes, Fraction(0)
        else:
            return None
        missed = self._missed(a, things)
        if missed is not None:
            value, causes = None, (missed,)
        kind = a.kind if a.kind in ("thread", "angle") else ""
        return CameOut(a.number, characteristic.name, value, nominal, low, high, tuple(dict.fromkeys(causes)), kind)

    def _at_its_worse_end(
        self, a: Asked, one: Named, two: Named, middle: Fraction
    ) -> tuple[Fraction, tuple[Cause, ...]]:
        """A distance where it is further from the middle of its limits: faces out of true, holes that lean."""
        value, causes = self._distance(a, one, two)
        taper, far = self._taper(one, two), self._far(a, one, two)
        if taper.mm:
            return value + (-1 if value < middle else 1) * taper.mm / 2, (*causes, *taper.causes)
        there, more = self._distance(a, one, two, far.mm)
        return (there, (*more, *far.causes)) if abs(there - middle) > abs(value - middle) else (value, causes)

    def _far(self, a: Asked, one: Named, two: Named) -> Off:
        """How much further along a distance its first thing lies from its second at the far end of a hole, mm."""
        axis = runs_along(a, one, two)
        if axis is None or isinstance(one, Slope) or isinstance(two, Slope):
            return Off()
        if not isinstance(one, Plane):
            return self._below(one, two, axis)
        if not isinstance(two, Plane):
            return replace(found := self._below(two, one, axis), mm=-found.mm)
        return Off()

    def _below(self, hole: Axle | RoundWall, other: Named, axis: int) -> Off:
        """How much further along an axis of the part a hole lies at its far end than at its face, against something."""
        feature = self.part.course.piece.features.get(hole.feature)
        if not isinstance(feature, HoleFeature) or hole.axis == axis:
            return Off()
        leans = self.part.lie.leans(hole.name, hole.axis, other.name, axis)
        face = self.part.course.piece.part.frame.plane(feature.face, "face")
        return replace(leans, mm=-face.out * self._deep(feature) * leans.mm)

    def _deep(self, hole: HoleFeature) -> Fraction:
        """How deep a hole goes, mm."""
        frame = self.part.course.piece.part.frame
        return self.part.nominal(hole.depth or frame.thickness(frame.plane(hole.face, "face")))

    def _taper(self, one: Named, two: Named) -> Off:
        """By how much the distance of two faces differs from end to end, mm, over the smaller of them."""
        if not (isinstance(one, Plane) and isinstance(two, Plane)):
            return Off()
        unit = self.part.course.piece.unit.in_mm
        found = (self.part.lie.parallel(one, two, unit), self.part.lie.parallel(two, one, unit))
        return min(found, key=lambda x: x.mm)

    def _form(self, a: Asked, thing: Named) -> Off | None:
        """What an indicator shows over a face or in a hole, mm; none where no face of the part is the datum."""
        if a.kind == "flat":
            return self.part.lie.uneven.get(thing.name, Off())
        letters = {d.letter: d.face for d in self.part.course.piece.part.file.datums}
        datum = self.part.course.named(letters.get(a.datum, ""))
        if not isinstance(datum, Plane):
            return None
        if isinstance(thing, RoundWall):
            return self._runout(thing, datum)
        if not isinstance(thing, Plane):
            return None
        measured = self.part.lie.parallel if a.kind == "parallel" else self.part.lie.square
        return measured(thing, datum, self.part.course.piece.unit.in_mm)

    def _runout(self, wall: RoundWall, datum: Plane) -> Off:
        """The whole movement at the far end of a hole, turned about its near end square to the datum, mm."""
        found = [self._below(wall, datum, axis) for axis in range(3) if axis != datum.axis]
        return Off(Fraction(2 * hypot(*(f.mm for f in found))), tuple(c for f in found for c in f.causes))

    def _missed(self, a: Asked, things: Sequence[Named]) -> Cause | None:
        """Why one of these is not on the part at all."""
        if a.kind in ("thread", "angle") and a.of[0] not in self.part.tapped:
            return self.part.missed.get(things[0].feature)
        for t in things:
            if not t.feature:
                continue
            cause = self.part.missed.get(t.feature)
            there = t.name in self.part.deep if isinstance(t, Plane) and t.out else t.name in self.part.beside
            if cause is not None and not there and isinstance(t, (Plane, Axle, RoundWall)):
                return cause
        return None

    def _distance(
        self, a: Asked, one: Named, two: Named, more: Fraction = Fraction(0)
    ) -> tuple[Fraction, tuple[Cause, ...]]:
        axis = runs_along(a, one, two)
        project = self.part.course.piece.part.project
        nominal = self.part.nominal(project.characteristic(a.number).nominal)
        if axis is None:
            return nominal, ()
        first, second = self._at(one, axis), self._at(two, axis)
        offs = self.part.shift(a.of[0], axis), self.part.shift(a.of[1], axis)
        value = abs(first + offs[0].mm + more - second - offs[1].mm)
        return value, (*offs[0].causes, *offs[1].causes)

    def _position(self, a: Asked, one: Named, two: Named) -> tuple[Fraction, tuple[Cause, ...]]:
        """Twice the distance of an axis from its true place, counted from the two faces as they are."""
        hole = self.part.course.piece.part.frame.named[a.of[0]]
        near: list[Fraction] = []
        far: list[Fraction] = []
        causes: list[Cause] = []
        leans: list[Cause] = []
        for face, name in ((one, a.of[1]), (two, a.of[2])):
            if not isinstance(face, Plane) or not isinstance(hole, (Axle, RoundWall)):
                continue
            mine, other, more = (
                self.part.shift(a.of[0], face.axis),
                self.part.shift(name, face.axis),
                self._below(hole, face, face.axis),
            )
            near.append(mine.mm - other.mm)
            far.append(near[-1] + more.mm)
            causes += [*mine.causes, *other.causes]
            leans += more.causes
        here, there = hypot(*near), hypot(*far)
        # at both ends of the hole, and the worse one counts
        return Fraction(2 * max(here, there)), (*causes, *(leans if there > here else ()))

    def _at(self, thing: Named, axis: int) -> Fraction:
        match thing:
            case Plane():
                return self.part.nominal(thing.at)
            case Axle() | RoundWall():
                return self.part.nominal(thing.centre[axis])
        return Fraction(0)
