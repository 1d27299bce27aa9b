"""A practice part as its project file says it: solid, cuts, characteristics, placement.

Coordinates are the part's own: x to the right, y away from the viewer of the
front view, z up, all in the project's unit; numbers are written as text so that
2.50 stays different from 2.500. Format: docs/formats/project.md.
"""

from __future__ import annotations

from decimal import Decimal
from enum import StrEnum
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import (
    Field,
    StringConstraints,
    model_validator,
)

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.fields import Key, Line, Num, Strict, Word, read_model
from incudo.core.kernel.quantity import Length, LengthUnit, Unit
from incudo.core.kernel.say import Text, say, together
from incudo.core.measuring.tolerance import Form, Limits, Tolerance
from incudo.core.measuring.verdict import Metal, Spots
from incudo.core.parts.holds import Hold

FORMAT = "incudo-project/1"
#: Cuts of one part: what hides what is worked out for each pair of edges, within a second for so many.
MOST_CUTS = 40


Point = tuple[Num, Num, Num]


class Axis(StrEnum):
    """An axis of the part, which lies on the table as drawn."""

    X = "x"
    Y = "y"
    Z = "z"


#: The axes by number.
AXES = (Axis.X, Axis.Y, Axis.Z)


class ViewName(StrEnum):
    """The views of a third-angle drawing: top above the front, right to its right."""

    FRONT = "front"
    TOP = "top"
    RIGHT = "right"


class Block(Strict):
    """A rectangular block with one corner at the origin."""

    shape: Literal["block"]
    x: Num
    y: Num
    z: Num


class RoundBar(Strict):
    """A round bar along x from x = 0; its axis is y = 0, z = 0."""

    shape: Literal["bar"]
    diameter: Num
    length: Num


class Rounded(Strict):
    """The radius of the four edges of a box that run along ``axis``."""

    axis: Axis
    radius: Num


class BoxCut(Strict):
    """Metal taken away between two values of each axis (a step, a slot, a pocket, a flat).

    It may reach past the part, and its edges along one axis may be round, as a cutter leaves them.
    """

    shape: Literal["box"]
    name: Word
    x: tuple[Num, Num]
    y: tuple[Num, Num]
    z: tuple[Num, Num]
    rounded: Rounded | None = None


class WedgeCut(Strict):
    """A right-angled triangle along ``axis``: a chamfer, a face at an angle.

    ``corner`` is where its right angle lies, ``legs`` how far it reaches from there, with signs: both in the
    other two coordinates in the order x, y, z.
    """

    shape: Literal["wedge"]
    name: Word
    axis: Axis
    ends: tuple[Num, Num]
    corner: tuple[Num, Num]
    legs: tuple[Num, Num]


class Counterbore(Strict):
    """A flat-bottomed widening of a hole, in the unit of the part."""

    diameter: Num
    depth: Num


class Countersink(Strict):
    """A conical widening of a hole: diameter in the unit of the part, included angle in degrees."""

    diameter: Num
    angle: Num


class Hole(Strict):
    """A cylinder: ``at`` are the other two coordinates in the order x, y, z.

    ``tip_angle`` gives a drill point beyond ``end``; ``thread`` is the thread's
    outside diameter (drawn as a thread, the hole itself is the tap drill's).
    """

    shape: Literal["hole"]
    name: Word
    axis: Axis
    at: tuple[Num, Num]
    start: Num
    end: Num
    diameter: Num
    tip_angle: Num | None = None
    countersink: Countersink | None = None
    counterbore: Counterbore | None = None
    thread: Num | None = None


class ToleranceSpec(Strict):
    """One form of tolerance; see ``incudo.core.measuring.tolerance``."""

    form: Form
    first: Num | None = None
    second: Num | None = None


class Side(StrEnum):
    """On which side of something, as drawn."""

    LEFT = "left"
    RIGHT = "right"
    ABOVE = "above"
    BELOW = "below"


class LinearPlace(Strict):
    """A dimension line between two points of the part, laid out in a lane beside the view."""

    kind: Literal["linear"]
    view: ViewName
    start: Point
    end: Point
    side: Side
    lane: Annotated[int, Field(ge=1, le=6)] = 1


class LeaderPlace(Strict):
    """A leader from a point of the part to its text; ``reach`` in drawing units right and up."""

    kind: Literal["leader"]
    view: ViewName
    at: Point
    reach: tuple[Annotated[int, Field(ge=-300, le=300)], Annotated[int, Field(ge=-300, le=300)]]


class BetweenPlace(Strict):
    """A dimension between two places along one axis; the sheet finds view, side and lane.

    ``seen`` are the axes along which one would best look at it, the best first. A place on a face reaches from
    one corner of it to the other; the dimension takes hold of the nearer.
    """

    kind: Literal["between"]
    axis: Axis
    start: Point
    end: Point
    start_to: Point | None = None
    end_to: Point | None = None
    seen: tuple[Axis, ...] = ()


class PointedPlace(Strict):
    """A leader to something round seen along ``axis``, or (radius 0) to a face seen from its edge."""

    kind: Literal["pointed"]
    axis: Axis
    at: Point
    radius: Num = "0"
    edge: tuple[Point, Point] | None = None


class Symbol(StrEnum):
    """A drawing symbol in front of the value."""

    NONE = "none"
    DIAMETER = "diameter"
    PARALLEL = "parallel"
    SQUARE = "square"
    FLAT = "flat"
    RADIUS = "radius"
    RUNOUT = "runout"
    POSITION = "position"
    FINISH = "finish"


class Method(StrEnum):
    """How a requirement is judged: a size or a whole movement as read; the movement over several places; the position
    of an axis; an angle; a thread by its gauge; a surface by specimens.
    """

    SIZE = "size"
    MOVEMENT = "movement"
    POSITION = "position"
    ANGLE = "angle"
    THREAD = "thread"
    FINISH = "finish"


class Basic(Strict):
    """Where the axis of a position should be along one axis, from a datum; ``words`` say it.

    The drawing gives it in a box, as a size without a tolerance of its own.
    """

    axis: Axis
    nominal: Num
    words: Text
    place: BetweenPlace


class Characteristic(Strict):
    """One numbered requirement of the drawing.

    For a position its ``basics`` and the limits of the hole's size that a ``bonus`` comes from; ``callout`` is what
    the drawing says instead of a number (a thread, a roughness), ``thread`` the gauge that is wanted.
    """

    number: Annotated[int, Field(ge=1, le=99)]
    name: Word
    where: Line = ""
    nominal: Num
    tolerance: ToleranceSpec
    metal: Metal
    symbol: Symbol = Symbol.NONE
    datum: Annotated[str, StringConstraints(pattern=r"^[A-Z]{0,3}$")] = ""
    spots: Spots = Spots.SAME
    readings: Annotated[int, Field(ge=1, le=9)] = 1
    method: Method = Method.SIZE
    basics: Annotated[tuple[Basic, ...], Field(max_length=2)] = ()
    bonus: tuple[Num, Num] | None = None
    callout: Annotated[str, StringConstraints(max_length=50)] = ""
    thread: Annotated[str, StringConstraints(max_length=40)] = ""
    place: Annotated[LinearPlace | LeaderPlace | BetweenPlace | PointedPlace, Field(discriminator="kind")]
    lights: tuple[tuple[Point, Point], ...] = ()

    @property
    def difference(self) -> bool:
        """Whether it is measured as a difference (an indicator's job), not as a size."""
        return self.symbol in (Symbol.PARALLEL, Symbol.SQUARE, Symbol.FLAT, Symbol.RUNOUT)

    @property
    def framed(self) -> bool:
        """Whether the drawing gives it in a frame: symbol, tolerance, datums."""
        return self.difference or self.symbol is Symbol.POSITION


class Datum(Strict):
    """A named surface that dimensions start from, with the place of its letter on the drawing.

    Without a view the sheet finds one along ``edge``, for a face that looks along ``axis`` (``out`` 1 or -1).
    """

    letter: Annotated[str, StringConstraints(pattern=r"^[A-Z]$")]
    name: Word
    view: ViewName = ViewName.FRONT
    at: Point
    side: Side = Side.BELOW
    axis: Axis | None = None
    out: Literal[-1, 1] = 1
    edge: tuple[Point, Point] | None = None


class Gives(Strict):
    """A skill that this part gives evidence for, by these characteristics being in."""

    skill: Key
    characteristics: Annotated[tuple[int, ...], Field(min_length=1)]


class Project(Strict):
    """A whole project file."""

    format: Literal["incudo-project/1"]
    code: Key
    name: Word
    about: Line = ""
    #: What a learner is expected to take.
    minutes: Annotated[int, Field(ge=5, le=6000)] | None = None
    unit: LengthUnit
    material: Word
    stock: Word
    solid: Annotated[Block | RoundBar, Field(discriminator="shape")]
    cuts: Annotated[
        tuple[Annotated[BoxCut | Hole | WedgeCut, Field(discriminator="shape")], ...], Field(max_length=MOST_CUTS)
    ] = ()
    views: Annotated[tuple[ViewName, ...], Field(min_length=1, max_length=3)]
    datums: Annotated[tuple[Datum, ...], Field(max_length=12)] = ()
    title_block: Annotated[dict[Annotated[int, Field(ge=0, le=6)], Num], Field(default_factory=dict)]
    characteristics: Annotated[tuple[Characteristic, ...], Field(min_length=1, max_length=60)]
    needs: Annotated[tuple[Key, ...], Field(max_length=40)] = ()
    gives: Annotated[tuple[Gives, ...], Field(max_length=40)] = ()
    #: Skills that are done on this part, in the order of work.
    operations: Annotated[tuple[Key, ...], Field(max_length=20)] = ()
    hold_points: Annotated[tuple[Hold, ...], Field(max_length=3)] = ()
    #: What the drawing says in words: threads, corners, chamfers.
    notes: Annotated[tuple[Text, ...], Field(max_length=40)] = ()

    @property
    def basics(self) -> tuple[Basic, ...]:
        """The boxed sizes of its positions, each once, and none that the drawing asks for with a tolerance."""
        asked = {_ends(c.place) for c in self.characteristics if isinstance(c.place, BetweenPlace)}
        found = {_ends(b.place): b for c in self.characteristics for b in c.basics}
        return tuple(b for ends, b in found.items() if ends not in asked)

    @property
    def is_placed(self) -> bool:
        """Whether its file says where each dimension stands; else the sheet finds the places."""
        return all(isinstance(c.place, (LinearPlace, LeaderPlace)) for c in self.characteristics)

    @property
    def top(self) -> Decimal:
        """How high the top of the finished part lies, in its own unit."""
        return Decimal(self.solid.z) if isinstance(self.solid, Block) else Decimal(self.solid.diameter) / 2

    @property
    def footprint(self) -> tuple[Fraction, Fraction]:
        """How long and how wide the finished part is as it lies, mm."""
        solid = self.solid
        one, two = (solid.x, solid.y) if isinstance(solid, Block) else (solid.length, solid.diameter)
        return self.length(one).mm, self.length(two).mm

    def is_from_above(self, cut: BoxCut | Hole | WedgeCut) -> bool:
        """Whether a cut is made from above: it is open to the top, or to another cut that is."""
        if isinstance(cut, Hole):
            return cut.axis is Axis.Z and Decimal(cut.start) >= Decimal(cut.end)
        tops = {self.top}
        for other in self.cuts:
            if isinstance(other, BoxCut) and Decimal(other.z[1]) in tops:
                tops.add(Decimal(other.z[0]))
        return isinstance(cut, BoxCut) and Decimal(cut.z[1]) in tops

    def length(self, text: str) -> Length:
        """A number of this file as a length in the file's unit."""
        return Length.parse(text, self.unit)

    def limits(self, c: Characteristic) -> Limits:
        """The limits of one characteristic, an angle's in degrees. Raises ``Refused`` when the file contradicts itself.

        What is answered yes or no (a thread, a finish) has its nominal as a name only: nothing is held against it.
        """
        block = {places: self.length(text) for places, text in self.title_block.items()}
        if c.method is Method.ANGLE:
            # the title block is of lengths
            block = {}
        return self._tolerance(c).limits(self._value(c, c.nominal), block)

    def width(self, c: Characteristic) -> Fraction | None:
        """The width of its limits in mm; none of a lone minimum, and of what is no length."""
        return None if c.method in (Method.ANGLE, Method.THREAD, Method.FINISH) else self.limits(c).width

    def _value(self, c: Characteristic, text: str) -> Length:
        return Length(text, Unit.DEGREE) if c.method is Method.ANGLE else self.length(text)

    def nominal(self, c: Characteristic) -> Length:
        """The nominal of one characteristic, with its unit."""
        return self._value(c, c.nominal)

    def _tolerance(self, c: Characteristic) -> Tolerance:
        t = c.tolerance
        first = None if t.first is None else self._value(c, t.first)
        second = None if t.second is None else self._value(c, t.second)
        return Tolerance(t.form, first, second)

    def tolerance_words(self, c: Characteristic) -> tuple[str, str]:
        """What stands after the nominal on the drawing, in one or two lines."""
        if c.method in (Method.THREAD, Method.FINISH):
            return "", ""
        return self._tolerance(c).words()

    def characteristic(self, number: int) -> Characteristic:
        """The characteristic with this number. Raises ``Refused`` when there is none."""
        for c in self.characteristics:
            if c.number == number:
                return c
        known = together((str(c.number) for c in self.characteristics), ", ")
        raise Refused.of("characteristic", number, say("must be one of: {known}", known=known))

    @model_validator(mode="after")
    def _consistent(self) -> Project:
        numbers = [c.number for c in self.characteristics]
        if len(set(numbers)) != len(numbers):
            raise ValueError(say("characteristics: each number may appear only once"))
        for g in self.gives:
            unknown = set(g.characteristics) - set(numbers)
            if unknown:
                raise ValueError(
                    say("gives.{skill}: there is no characteristic {unknown}", skill=g.skill, unknown=min(unknown))
                )
        _solid_is_real(self)
        for c in self.characteristics:
            if isinstance(c.place, (LinearPlace, LeaderPlace)) and c.place.view not in self.views:
                raise ValueError(
                    say("characteristic {number}: the view {view} is not drawn", number=c.number, view=c.place.view)
                )
            try:
                self.limits(c)
            except Refused as refused:
                first = refused.errors[0]
                raise ValueError(say("characteristic {number}, {first}", number=c.number, first=first)) from None
        return self


def _ends(p: BetweenPlace) -> tuple[Axis, frozenset[Decimal]]:
    """Between which two places along its axis a dimension stands."""
    i = AXES.index(p.axis)
    return p.axis, frozenset((Decimal(p.start[i]), Decimal(p.end[i])))


def _solid_is_real(project: Project) -> None:
    solid = project.solid
    sizes = (solid.x, solid.y, solid.z) if isinstance(solid, Block) else (solid.diameter, solid.length)
    if any(Decimal(s) <= 0 for s in sizes):
        raise ValueError(say("solid: every size must be above 0"))
    for cut in project.cuts:
        if isinstance(cut, BoxCut):
            for axis in Axis:
                low, high = getattr(cut, axis.value)
                if Decimal(low) >= Decimal(high):
                    raise ValueError(
                        say("cut {name}, {axis}: the first value must be below the second", name=cut.name, axis=axis)
                    )
            continue
        if isinstance(cut, WedgeCut):
            continue
        if Decimal(cut.diameter) <= 0:
            raise ValueError(say("hole {name}: the diameter must be above 0", name=cut.name))
        if Decimal(cut.start) == Decimal(cut.end):
            raise ValueError(say("hole {name}: start and end must differ", name=cut.name))
        if cut.tip_angle is not None and not 0 < Decimal(cut.tip_angle) < 180:
            raise ValueError(say("hole {name}: the tip angle must lie between 0 and 180 degrees", name=cut.name))
        if cut.countersink is not None:
            if not 0 < Decimal(cut.countersink.angle) < 180:
                raise ValueError(
                    say("hole {name}: the countersink angle must lie between 0 and 180 degrees", name=cut.name)
                )
            if Decimal(cut.countersink.diameter) <= Decimal(cut.diameter):
                raise ValueError(say("hole {name}: the countersink must be wider than the hole", name=cut.name))


def read_project(data: Any) -> Project:
    """Check a project file's content. Raises ``Refused`` with one error per place in the file."""
    return read_model(Project, data, "project")
