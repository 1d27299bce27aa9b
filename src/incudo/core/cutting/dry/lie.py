"""How faces and holes of a part stand to each other: what does not lie true is cut out of true with what it lies on.

Angles are small, so that they add. Each is in radians, a right-handed turn about an axis: those of the machine where
something stands on it, those of the part where they are a face's own.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.cutting.dry.causes import Off
from incudo.core.parts.features.frame import Plane
from incudo.core.planning.file import OPPOSITE, HeldIn
from incudo.core.planning.place import Place
from incudo.core.planning.settle import Settled
from incudo.core.planning.stages import Stage
from incudo.core.setup.tram import hollow, step

#: Turns about x, y and z.
Turns = tuple[Off, Off, Off]
TRUE: Turns = (Off(), Off(), Off())


@dataclass(frozen=True)
class Stands:
    """How machine and work stand while a holding is cut, in radians about the machine's axes.

    ``seat``: what the work lies on, about Y (its left end is high); ``jaw``: the fixed jaw, about Z (its right end is
    at the rear); ``tilt``: the head, about Y (its top leans right), and ``nod``, about X (its top leans to the front).
    """

    seat: Off = field(default_factory=Off)
    jaw: Off = field(default_factory=Off)
    tilt: Off = field(default_factory=Off)
    nod: Off = field(default_factory=Off)
    #: What the vise is called whose jaw it is; without a name any.
    vise: str = ""


@dataclass
class Lie:
    """The faces that were cut so far, each with how far it is turned from where the drawing has it."""

    turned: dict[str, Turns] = field(default_factory=dict)
    #: How far a face that was cut with the cutter's end is from flat, mm: hollow, or a step at each lane.
    uneven: dict[str, Off] = field(default_factory=dict)
    stands: Stands = field(default_factory=Stands)
    #: How the work lies in the holding that goes on, about the part's axes.
    work: Turns = TRUE

    def hold(self, stage: Stage, stands: Stands) -> None:
        """Put the work in as it is held in an operation: on the face below, against the fixed jaw.

        What lies flat against the fixed jaw, pressed by a soft bar, is held by that face; else by the one below.
        """
        self.stands = stands
        if stage.piece.bar or stage.holding.held is HeldIn.V_BLOCK:
            self.work = TRUE
            return
        below = _on_machine(stage.place, self.turned.get(OPPOSITE[stage.holding.up], TRUE))
        fixed = _on_machine(stage.place, self.turned.get(stage.holding.fixed, TRUE))
        upright = fixed if stage.holding.soft_bar else below
        jaw = stands.jaw if stage.holding.held is HeldIn.VISE else Off()
        lies = (_less(upright[0]), _plus(stands.seat, _less(below[1])), _plus(jaw, _less(fixed[2])))
        self.work = _on_part(stage.place, lies)

    def cut(self, stage: Stage, plane: Plane, settled: Settled, wide: Fraction) -> None:
        """A cutter so wide (mm) cuts a face: true with the table's travel, where its side cuts with its own lean."""
        head: Turns = TRUE
        if stage.place.along(plane.axis) == 2:
            self.uneven[plane.name] = self._under(settled, wide)
        else:
            head = (self.stands.nod, self.stands.tilt, Off())
            self.uneven.pop(plane.name, None)
        self._turn(stage, plane.name, head)

    def drill(self, stage: Stage, name: str, *, quill: bool) -> None:
        """A tool goes down a hole: along the leaning head where its quill slides in it, else along the column."""
        self._turn(stage, name, (self.stands.nod, self.stands.tilt, Off()) if quill else TRUE)

    def _turn(self, stage: Stage, name: str, tool: Turns) -> None:
        ours = _on_part(stage.place, tool)
        self.turned[name] = (
            _plus(ours[0], _less(self.work[0])),
            _plus(ours[1], _less(self.work[1])),
            _plus(ours[2], _less(self.work[2])),
        )

    def _under(self, settled: Settled, wide: Fraction) -> Off:
        """How far from flat a leaning cutter's end leaves a face: hollow along its feed, a step between its lanes."""
        lean = (self.stands.tilt, self.stands.nod)
        along, across = lean if settled.run == 0 else lean[::-1]
        lane = min(settled.width, wide)
        found = hollow(float(along.mm), wide, lane) if lane else 0.0
        found += step(float(across.mm), lane) if settled.across > 1 else 0.0
        return Off(Fraction(found), (*along.causes, *across.causes) if found else ())

    def apart(self, one: str, other: str, about: int) -> Off:
        """By how much two faces are turned against each other about an axis of the part."""
        return _plus(self.turned.get(one, TRUE)[about], _less(self.turned.get(other, TRUE)[about]))

    def leans(self, hole: str, along: int, other: str, axis: int) -> Off:
        """By how much a hole goes aside along an axis of the part for each mm along its own, against something else."""
        about = 3 - axis - along
        # turned about y what runs along z goes to x, about x it goes back from y
        sign = 1 if (about - axis) % 3 == 1 else -1
        turn = self.apart(hole, other, about)
        return turn if sign == 1 else _less(turn)

    def parallel(self, face: Plane, datum: Plane, unit: Fraction) -> Off:
        """What an indicator shows that is run all over a face, the part on its datum, mm. ``unit``: mm of a length."""
        found = Off()
        for about in range(3):
            if about != face.axis:
                low, high = face.spans[3 - face.axis - about]
                found = _plus(found, _over(self.apart(face.name, datum.name, about), Fraction(high - low) * unit))
        return found

    def square(self, face: Plane, datum: Plane, unit: Fraction) -> Off:
        """What an indicator shows that is run up a face, the part on its datum, mm."""
        low, high = face.spans[datum.axis]
        about = 3 - face.axis - datum.axis
        return _over(self.apart(face.name, datum.name, about), Fraction(high - low) * unit)


def _over(turn: Off, reach: Fraction) -> Off:
    return Off(abs(turn.mm) * reach, turn.causes)


def _less(off: Off) -> Off:
    return Off(-off.mm, off.causes)


def _plus(one: Off, other: Off) -> Off:
    total = one.mm + other.mm
    # what undoes itself has no cause any more: turned over, a part out of true is cut true with itself
    return Off(total, tuple(dict.fromkeys((*one.causes, *other.causes))) if total else ())


def _on_machine(place: Place, turns: Turns) -> Turns:
    x, y, z = (turns[p] if s == 1 else _less(turns[p]) for p, s in zip(place.axes, place.signs, strict=True))
    return x, y, z


def _on_part(place: Place, turns: Turns) -> Turns:
    found = [Off(), Off(), Off()]
    for machine, (p, s) in enumerate(zip(place.axes, place.signs, strict=True)):
        found[p] = turns[machine] if s == 1 else _less(turns[machine])
    return found[0], found[1], found[2]
