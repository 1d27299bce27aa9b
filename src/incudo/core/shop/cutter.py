"""Cutters of the crib, drills, threads and holders: rows of their registers with what is plausible."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from enum import StrEnum
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field, model_validator

from incudo.core.kernel.fields import Key, Num
from incudo.core.kernel.quantity import Length, LengthUnit, Unit
from incudo.core.kernel.say import say, together
from incudo.core.shop.material import CutterMaterial, Operation
from incudo.core.shop.table import Maybe, Name, Row, Source, Text, Texts


class CutterKind(StrEnum):
    """What kind of cutter it is."""

    END_MILL = "end mill"
    ROUGHING = "roughing end mill"
    BALL = "ball end mill"
    SHELL = "shell mill"
    FACE = "face mill"
    FLY = "fly cutter"
    T_SLOT = "T-slot cutter"
    DOVETAIL = "dovetail cutter"
    ANGLE = "angle cutter"
    PLAIN = "plain milling cutter"
    SIDE_AND_FACE = "side and face cutter"
    DRILL = "drill"
    SPOT = "spot drill"
    CENTRE = "centre drill"
    COUNTERSINK = "countersink"
    COUNTERBORE = "counterbore"
    TAP = "tap"
    REAMER = "reamer"
    HEAD = "boring head"
    BAR = "boring bar"
    FINDER = "edge finder"


K = CutterKind
#: What sits on a level arbor between collars; its length is how wide it cuts.
ON_ARBOR = (K.PLAIN, K.SIDE_AND_FACE)
_DRILLING = (K.DRILL, K.SPOT, K.CENTRE, K.COUNTERSINK, K.COUNTERBORE, K.REAMER)
#: Which range of speed holds for a kind; the others are not cut by a surface speed of their own.
OPERATION: dict[CutterKind, Operation] = {
    **dict.fromkeys((K.END_MILL, K.ROUGHING, K.BALL, K.T_SLOT, K.DOVETAIL, K.ANGLE, *ON_ARBOR), Operation.MILLING),
    **dict.fromkeys((K.SHELL, K.FACE, K.FLY), Operation.FACING),
    **dict.fromkeys(_DRILLING, Operation.DRILLING),
}
#: How many teeth are plausible.
TEETH: dict[CutterKind, tuple[int, int]] = {
    K.END_MILL: (2, 6),
    K.ROUGHING: (3, 6),
    K.BALL: (2, 4),
    K.SHELL: (4, 16),
    K.FACE: (2, 16),
    K.FLY: (1, 1),
    K.T_SLOT: (4, 12),
    K.DOVETAIL: (4, 16),
    K.ANGLE: (6, 20),
    K.PLAIN: (4, 20),
    K.SIDE_AND_FACE: (8, 40),
    K.DRILL: (2, 2),
    K.COUNTERSINK: (1, 6),
    K.REAMER: (4, 12),
}
#: Which angles are plausible, in degrees: points of drills, included angles of countersinks, dovetails.
ANGLES: dict[CutterKind, tuple[int, ...]] = {
    K.DRILL: (118, 120, 130, 135, 140),
    K.SPOT: (90, 120),
    K.CENTRE: (60,),
    K.COUNTERSINK: (60, 82, 90, 100, 120),
    K.DOVETAIL: (45, 60),
    K.ANGLE: (45, 60, 90),
}
#: The point of a drill of which nobody says another, degrees.
USUAL_POINT = 118
#: A cutter stands out of its holder by twenty times its diameter and this at most, mm.
MOST_SHANK = 100
#: A reground cutter is smaller than its nominal, and not less than this share of it.
LEAST_REGROUND = Fraction(4, 5)

Number = Annotated[int, BeforeValidator(lambda v: int(v) if isinstance(v, str) and v.isascii() and v.isdigit() else v)]


class Thread(Row):
    """A thread: ``pitch`` in mm for metric ones, threads per inch for inch ones; clearance holes close and free."""

    designation: Name
    series: Literal["inch coarse", "inch fine", "metric coarse", "metric fine"]
    unit: LengthUnit
    diameter: Num
    pitch: Num
    close: Num
    free: Num
    source: Source = Source.STANDARD

    @model_validator(mode="after")
    def _plausible(self) -> Thread:
        if (self.unit is Unit.INCH) != self.series.startswith("inch"):
            raise ValueError(say("unit: must be the series' own"))
        if not 0 < self.pitch_mm < self.diameter_mm / 2:
            raise ValueError(say("pitch: must be more than 0 and less than half the diameter"))
        if not Fraction(self.diameter) < Fraction(self.close) < Fraction(self.free):
            raise ValueError(say("close: must lie between the thread's diameter and the free hole"))
        return self

    @property
    def diameter_mm(self) -> Fraction:
        """The diameter in mm."""
        return Length(self.diameter, self.unit).mm

    @property
    def pitch_mm(self) -> Fraction:
        """The pitch in mm; 25.4 / TPI for an inch thread."""
        pitch = Fraction(self.pitch)
        return Unit.INCH.in_mm / pitch if self.unit is Unit.INCH else pitch


class Drill(Row):
    """A size of one of the four series of drills."""

    designation: Name
    series: Literal["fraction", "number", "letter", "metric"]
    unit: LengthUnit
    diameter: Num
    source: Source = Source.STANDARD

    @model_validator(mode="after")
    def _plausible(self) -> Drill:
        if (self.unit is Unit.MM) != (self.series == "metric"):
            raise ValueError(say("unit: must be mm for the metric series, in for the others"))
        size = Fraction(self.diameter)
        if self.series == "fraction" and abs(Fraction(self.designation) - size) > Fraction(1, 20_000):
            raise ValueError(say("diameter: must be {designation} as a decimal", designation=self.designation))
        if self.series == "metric" and Fraction(self.designation) != size:
            raise ValueError(say("diameter: must be what the designation says"))
        if not 0 < Length(self.diameter, self.unit).mm <= 50:
            raise ValueError(say("diameter: must be more than 0 and at most 50 mm"))
        return self


class Holder(Row):
    """A way to hold a cutter, with the cautions that go with it. ``nose``: how wide it is where the cutter comes out
    of it, mm; a boring head or a fly cutter sweeps no wider than its own diameter.
    """

    key: Key
    name: Name
    kinds: Texts
    cautions: Texts
    nose: Num
    source: Source = Source.RULE

    @model_validator(mode="after")
    def _plausible(self) -> Holder:
        if strange := sorted(set(self.kinds) - {k.value for k in CutterKind}):
            raise ValueError(say("kinds: are not kinds of cutter: {listed}", listed=", ".join(strange)))
        if not self.cautions:
            raise ValueError(say("cautions: must say at least one"))
        if not 5 <= Fraction(self.nose) <= 200:
            raise ValueError(say("nose: must be from 5 to 200 mm"))
        return self


class Cutter(Row):
    """A cutter as the crib has it. ``measured`` is its real diameter when reground, ``owned`` how many there are.

    ``angle`` is a point's, a countersink's or a dovetail's; ``thread`` a tap's designation; ``dial`` what a
    boring head's dial reads on. ``length`` is how long it cuts (of what sits on an arbor: how wide), ``stickout`` how
    far it stands out of its holder.
    Fewer than ``keep`` are low; 0: not watched.
    """

    name: Name
    kind: CutterKind
    unit: LengthUnit
    diameter: Num
    owned: Annotated[Number, Field(ge=0, le=999)]
    made_of: CutterMaterial = CutterMaterial.HSS
    measured: Maybe = None
    teeth: Annotated[Number, Field(ge=0, le=40)] = 0
    length: Maybe = None
    angle: Maybe = None
    thread: Text = ""
    tap: Literal["", "cutting", "forming"] = ""
    dial: Literal["", "diameter", "radius"] = ""
    holder: Text = ""
    place: Text = ""
    source: Source = Source.SHOP
    keep: Annotated[Number, Field(ge=0, le=999)] = 0
    stickout: Maybe = None

    @model_validator(mode="after")
    def _plausible(self) -> Cutter:
        nominal = Length(self.diameter, self.unit).mm
        if not 0 < nominal <= 300:
            raise ValueError(say("diameter: must be more than 0 and at most 300 mm"))
        if self.measured is not None and not nominal * LEAST_REGROUND <= self.real <= nominal * Fraction(101, 100):
            raise ValueError(
                say("measured: must lie between 80 and 101 % of the diameter, {diameter}", diameter=self.diameter)
            )
        if self.kind in TEETH:
            low, high = TEETH[self.kind]
            if not low <= self.teeth <= high:
                raise ValueError(
                    say("teeth: must be {low} to {high} for {kind}", kind=self.kind, low=low, high=high)
                    if high > low
                    else say("teeth: must be {low} for {kind}", kind=self.kind, low=low)
                )
        if self.kind in ANGLES and (self.angle is None or Fraction(self.angle) not in ANGLES[self.kind]):
            raise ValueError(
                say(
                    "angle: must be one of {listed} degrees for {kind}",
                    kind=self.kind,
                    listed=", ".join(map(str, ANGLES[self.kind])),
                )
            )
        if (self.kind is K.TAP) != bool(self.thread):
            raise ValueError(say("thread: a tap has one, and nothing else has"))
        if self.kind is K.TAP and not self.tap:
            raise ValueError(say("tap: must be cutting or forming"))
        if (self.kind is K.HEAD) != bool(self.dial):
            raise ValueError(say("dial: a boring head's reads on diameter or radius, and nothing else has one"))
        return self

    @model_validator(mode="after")
    def _long_enough(self) -> Cutter:
        nominal = Length(self.diameter, self.unit).mm
        if self.length is not None and not 0 < Length(self.length, self.unit).mm <= 20 * nominal + 60:
            raise ValueError(say("length: must be more than 0 and no more than is plausible for the diameter"))
        if self.on_arbor and self.length is None:
            raise ValueError(say("length: must say how wide it is"))
        if self.on_arbor and self.stickout is not None:
            raise ValueError(say("stickout: what sits between collars has none"))
        if self.out is not None:
            if self.length is not None and self.out < Length(self.length, self.unit).mm:
                raise ValueError(
                    say(
                        "stickout: must be at least the cutting length, {length} {unit}",
                        length=self.length,
                        unit=self.unit,
                    )
                )
            if not 1 <= self.out <= 20 * nominal + MOST_SHANK:
                raise ValueError(
                    say("stickout: must be from 1 mm to twenty times the diameter and {most} mm", most=MOST_SHANK)
                )
        return self

    @property
    def out(self) -> Fraction | None:
        """How far it stands out of its holder, in mm; none where nobody has said."""
        return None if self.stickout is None else Length(self.stickout, self.unit).mm

    @property
    def real(self) -> Fraction:
        """The diameter that it cuts, in mm."""
        return Length(self.measured or self.diameter, self.unit).mm

    @property
    def point(self) -> Fraction:
        """The angle of its point, in degrees: that of a usual drill where its entry says none."""
        return Fraction(self.angle or USUAL_POINT)

    @property
    def on_arbor(self) -> bool:
        """Whether it sits on a level arbor, between collars."""
        return self.kind in ON_ARBOR

    @property
    def width(self) -> Fraction:
        """How wide one straight cut of it is, in mm: its diameter, or on an arbor its length along it."""
        return Length(self.length, self.unit).mm if self.on_arbor and self.length else self.real

    def lacking(self, *, usable: bool) -> int:
        """How many are lacking of those that the shop keeps; of a cutter that may not be used all of them."""
        return max(self.keep - (self.owned if usable else 0), 0)

    @property
    def operation(self) -> Operation | None:
        """Which range of cutting speed holds for it."""
        return OPERATION.get(self.kind)


def implausible(cutter: Cutter, threads: Mapping[str, Thread], holders: Mapping[str, Holder]) -> tuple[str, ...]:
    """What does not fit the other tables: an unknown thread or holder, a tap of another diameter."""
    found = []
    if cutter.thread:
        thread = threads.get(cutter.thread)
        if thread is None:
            found.append(say("thread: {thread} is not in the table of threads", thread=cutter.thread))
        elif abs(thread.diameter_mm - cutter.real) > Fraction(1, 100):
            found.append(
                say(
                    "diameter: {thread} has {diameter} {unit}",
                    thread=cutter.thread,
                    diameter=thread.diameter,
                    unit=thread.unit,
                )
            )
    if cutter.holder:
        holder = holders.get(cutter.holder)
        if holder is None:
            found.append(say("holder: must be one of {listed}", listed=together(holders, ", ")))
        elif cutter.kind.value not in holder.kinds:
            found.append(
                say("holder: {name} does not hold this kind of cutter, {kind}", kind=cutter.kind, name=holder.name)
            )
    return tuple(found)


def out_of_order(drills: Sequence[Drill]) -> tuple[str, ...]:
    """Drills of a series that do not get larger (numbers: smaller) from each to the next."""
    found = []
    for before, after in itertools.pairwise(drills):
        if before.series != after.series:
            continue
        grows = Fraction(after.diameter) > Fraction(before.diameter)
        if grows == (after.series == "number"):
            found.append(
                say(
                    "{designation}: out of order after {designation2}",
                    designation=after.designation,
                    designation2=before.designation,
                )
            )
    return tuple(found)
