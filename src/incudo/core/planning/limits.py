"""How deep and how wide one pass may be, and what handling costs: rules of thumb. Lengths in mm, times in seconds."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.planning.file import OperationKind
from incudo.core.shop.cutter import Cutter, CutterKind

#: Depth of one pass as a share of the diameter where the cutter is in the metal with its full width.
DEPTH_SOFT, DEPTH_HARD = Fraction(1, 2), Fraction(1, 4)
#: Facing: the depth of one pass of a face or shell mill, and of a fly cutter, in soft metal and in hard.
FACING = {True: Fraction(5, 2), False: Fraction(3, 2)}
FLY = {True: Fraction(1), False: Fraction(1, 2)}
#: A wide cutter on an arbor: the depth of one pass in soft metal and in hard; one that cuts with its sides as well goes
#: down by so much of its width.
ARBOR_DEPTH = {True: Fraction(4), False: Fraction(5, 2)}
ARBOR_SHARE = {True: Fraction(1), False: Fraction(1, 2)}
#: How wide a pass beside the last one is, as a share of the diameter.
OVERLAP = Fraction(3, 4)
#: A cut with the side of the cutter at full height takes so much of the diameter sideways.
SIDEWAYS = Fraction(1, 4)
#: What is left for the finishing pass.
FINISH = {Unit.MM: Fraction(1, 4), Unit.INCH: MM_PER_INCH / 100}
#: A finishing pass is wanted for limits narrower than this.
FINISH_WIDTH = Fraction(1, 4)
#: A measurement before the last pass is wanted for limits narrower than this.
MEASURE_WIDTH = Fraction(1, 4)
#: A climbing pass counts as light up to this.
LIGHT = Fraction(1, 4)
#: So far a pass begins and ends clear of the work.
CLEAR = Fraction(2)
#: Handling: of one pass by hand, of a hole, of a change of cutter, of a new holding; of measuring and of deburring.
PASS, HOLE, CHANGE, HOLDING, MEASURING, DEBURRING, TAP_TURN = 10, 15, 120, 600, 90, 120, 3
#: Boring: what one pass takes on the diameter, and the feed of one turn.
BORING_PASS, BORING_FEED = Fraction(1), Fraction(1, 20)


def depth_limit(kind: OperationKind, cutter: Cutter, soft: bool) -> Fraction:
    """The most that one pass of this cutter goes down, mm."""
    if cutter.kind is CutterKind.PLAIN:
        return ARBOR_DEPTH[soft]
    if cutter.kind is CutterKind.SIDE_AND_FACE:
        return cutter.width * ARBOR_SHARE[soft]
    d = cutter.real
    share = DEPTH_SOFT if soft else DEPTH_HARD
    if kind is OperationKind.FACE:
        if cutter.kind is CutterKind.FLY:
            return FLY[soft]
        if cutter.kind in (CutterKind.FACE, CutterKind.SHELL):
            return FACING[soft]
        return min(d * share, FACING[soft])
    if kind is OperationKind.SIDE:
        return flute(cutter)
    if cutter.kind is CutterKind.ROUGHING:
        return d * share * 2
    return d * share


def width_limit(kind: OperationKind, cutter: Cutter) -> Fraction:
    """The most that one pass takes sideways, mm."""
    if cutter.on_arbor:
        return cutter.width
    return cutter.real * (SIDEWAYS if kind is OperationKind.SIDE else OVERLAP)


def flute(cutter: Cutter) -> Fraction:
    """How long a cutter cuts, mm; where its entry does not say, about as long as is usual for its diameter."""
    if cutter.length is not None:
        return Fraction(cutter.length) * cutter.unit.in_mm
    if cutter.kind is CutterKind.DRILL:
        # a jobber drill of 6 mm has about 57 mm of flute, one of 13 mm about 100
        return 8 * cutter.real + 10
    return 3 * cutter.real
