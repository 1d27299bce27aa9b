"""Where the cutter stands along each axis of the machine, and how to come to the next place by dial or readout.

Places are coordinates of the work as it lies: mm, X to the right, Y away from the person, Z up. Over the zero the dial
(and the readout) shows 0, come to from the side in which everything after it is come to.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from incudo.core.kernel.quantity import Unit, in_places, sense
from incudo.core.kernel.say import say
from incudo.core.locating.datum import Datum, Scale, leg_words, lines_from, rounding_words, shown, shown_from, way_words
from incudo.core.locating.dial import Dial, Leg
from incudo.core.shop.machine import Axis, Handle

#: The handle that is used along each axis, the first that there is.
USED: Mapping[str, tuple[Axis, ...]] = {"x": (Axis.X,), "y": (Axis.Y,), "z": (Axis.KNEE, Axis.QUILL)}


def set_to(mm: Fraction, unit: Unit) -> str:
    """A length as it is set or read at a machine, with its unit: to a tenth of a thou, or to a hundredth of a mm."""
    text = in_places(mm / unit.in_mm, 4 if unit is Unit.INCH else 3)
    return f"{text.removesuffix('0')} {unit}"


@dataclass(frozen=True)
class Ring:
    """A handle with its dial as it stands today; ``readout`` where the axis has a scale, in ``unit``."""

    handle: Handle
    dial: Dial
    readout: bool
    unit: Unit

    @property
    def axis(self) -> Axis:
        """The axis that its handle moves."""
        return self.handle.axis


@dataclass(frozen=True)
class Go:
    """A place to go to along one axis: ``legs`` are the turnings, ``told`` the same in words.

    ``reading`` is what the dial shows there, ``readout`` what a scale shows, empty without one. ``settable`` is what
    half a division can set. ``from_zero``: the turnings are counted from the zero, where one goes first.
    """

    axis: str
    handle: str
    place: Fraction
    settable: Fraction
    legs: tuple[Leg, ...]
    told: tuple[str, ...]
    reading: str
    readout: str
    rounding: str
    from_zero: bool


@dataclass
class Slide:
    """One axis while a card is worked through: its zero, and where the cutter stands."""

    ring: Ring
    side: int
    zero: Fraction = Fraction(0)
    here: Fraction | None = None
    last: int = 0

    def set_zero(self, at: Fraction, side: int) -> None:
        """The cutter stands over a place, and the dial is set to 0 there."""
        self.zero, self.here, self.side, self.last = at, at, side, side

    def lost(self) -> None:
        """The cutter was run somewhere along this axis, nobody counted how far."""
        self.here = None

    def go(self, axis: str, place: Fraction, *, straight: bool = False) -> Go | None:
        """To a place, come to from the side of the zero; none where the cutter is listed already.

        From an unknown place one goes back to the zero first, and counts from there. ``straight``: the cutter stands
        in metal and must not go past; from the other side the dial shows the backlash more or less.
        """
        from_zero = self.here is None
        start = self.zero if self.here is None else self.here
        dial, side = self.ring.dial, self.side
        if straight and place != start:
            side = sense(place - start)
        shows = shown_from(dial, Fraction(0), side=side, last=self.side)
        datum = Datum(self.ring.axis, Scale.DIAL, self.zero, shows, side)
        (line,) = lines_from(dial, datum, [place], last=self.side if from_zero else self.last, start=start)
        if not line.legs and not from_zero:
            return None
        self.here, self.last = line.settable, side if line.legs else self.last
        unit = self.ring.unit
        handle = self.ring.handle
        return Go(
            axis=axis,
            handle=say("{axis} handle, {place}", axis=axis.upper(), place=handle.place),
            place=place,
            settable=line.settable,
            legs=line.legs,
            told=tuple(w for leg in line.legs for w in leg_words(self.ring.axis, dial, leg)),
            reading=f"{shown(line.reading, dial.unit)} {dial.unit}",
            readout=f"{shown(place - self.zero, unit)} {unit}" if self.ring.readout else "",
            rounding=rounding_words(line, dial.unit),
            from_zero=from_zero,
        )

    def way(self, sign: int) -> str:
        """What is seen while the coordinate grows (1) or falls (-1)."""
        return way_words(self.ring.axis, sign)


@dataclass
class Slides:
    """The axes of one machine."""

    of: dict[str, Slide] = field(default_factory=dict)

    @classmethod
    def on(cls, rings: Mapping[Axis, Ring]) -> Slides:
        """The slides of a machine with these handles; Z goes by the knee, without one by the quill."""
        made = {}
        for axis, used in USED.items():
            ring = next((rings[a] for a in used if a in rings), None)
            if ring is not None:
                made[axis] = Slide(ring, -1 if axis == "z" else 1)
        return cls(made)
