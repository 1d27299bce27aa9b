"""Edges and centres: from touches to places, with the checks that find a bad touch. All lengths in mm.

A touch is the spindle's coordinate at contact. ``towards`` is the sign in which the
finder came: 1 from below the edge, -1 from above it.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import MM_PER_INCH
from incudo.core.kernel.say import say

#: Two touches of an edge agree within half a thou or one graduation, whichever is more.
AGREE = MM_PER_INCH / 2000


def edge(touch: Fraction, tip: Fraction, towards: int) -> Fraction:
    """The edge lies half a tip beyond the contact."""
    if tip <= 0:
        raise Refused.of("tip", tip, say("must be more than 0"))
    if towards not in (1, -1):
        raise Refused.of("towards", towards, say("must be 1 or -1"))
    return touch + towards * tip / 2


def agreement(graduation: Fraction) -> Fraction:
    """How far touches of one edge may differ."""
    return max(AGREE, graduation)


def agree(touches: Sequence[Fraction], graduation: Fraction) -> Fraction | None:
    """The mean of two touches or more that agree; None when they do not."""
    if len(touches) < 2:
        raise Refused.of("touches", len(touches), say("must be at least two: a single touch checks nothing"))
    if max(touches) - min(touches) > agreement(graduation):
        return None
    return sum(touches, Fraction(0)) / len(touches)


@dataclass(frozen=True)
class Centre:
    """A centre by two contacts, with the width that they give against the width that was measured."""

    at: Fraction
    width: Fraction
    out_by: Fraction | None

    def bad(self, graduation: Fraction, unsure: Fraction) -> bool:
        """Whether one contact was bad: out by more than touches may differ plus what the width is unsure by."""
        return self.out_by is not None and abs(self.out_by) > agreement(graduation) + unsure


def block(low: Fraction, high: Fraction, tip: Fraction, width: Fraction | None = None) -> Centre:
    """Centre of a block by both sides on a readout: the mean; the contacts lie a tip further apart than its sides."""
    if high - low <= tip:
        raise Refused.of("touches", high - low, say("must lie further apart than the tip's diameter"))
    found = high - low - tip
    return Centre((low + high) / 2, found, None if width is None else found - width)


def slot(low: Fraction, high: Fraction, tip: Fraction, width: Fraction | None = None) -> Centre:
    """Centre of a slot on a readout: the contacts lie a tip nearer to each other than its walls."""
    if high < low:
        raise Refused.of("touches", high - low, say("must be given low side first"))
    found = high - low + tip
    return Centre((low + high) / 2, found, None if width is None else found - width)


def block_by_dial(low: Fraction, high: Fraction, tip: Fraction, backlash: Fraction, width: Fraction) -> Centre:
    """The same by a dial: the contacts face opposite ways, so the dial's span is short by the backlash.

    The mean of both dials would be out by half of it; the centre is taken from the low contact alone.
    """
    found = high - low + backlash - tip
    return Centre(low + tip / 2 + width / 2, found, found - width)


def slot_by_dial(low: Fraction, high: Fraction, tip: Fraction, backlash: Fraction, width: Fraction) -> Centre:
    """A slot by a dial: the span is long by the backlash. The centre comes from the high wall,
    which is touched in the sense in which the low side of a block is.
    """
    found = high - low - backlash + tip
    return Centre(high + tip / 2 - width / 2, found, found - width)


def bar_clear(bar: Fraction, tip: Fraction, body: Fraction, above: Fraction) -> bool:
    """Whether the tip reaches a bar's widest line before the finder's body touches the bar.

    ``bar``, ``tip``, ``body`` are diameters, ``above`` how high the body's lower edge stands above the widest line.
    """
    big, small, thick = bar / 2, tip / 2, body / 2
    if above >= big:
        return True
    room = big + small - thick
    return room >= 0 and big * big - above * above <= room * room


def flat_is_circle(bar: Fraction, mill: Fraction, depth: Fraction, offset: Fraction) -> bool:
    """Whether an end mill sunk ``depth`` into a bar, ``offset`` beside its middle, leaves a full circle.

    The chord 2 sqrt(D d - d²) must be wider than the mill and twice the offset. One that
    runs out on both flanks is always central and tells nothing.
    """
    if not 0 < depth <= bar / 2:
        raise Refused.of("depth", depth, say("must be more than 0 and at most half the bar"))
    wanted = mill + 2 * abs(offset)
    return 4 * (bar * depth - depth * depth) > wanted * wanted


@dataclass(frozen=True)
class Sweep:
    """Four readings of an indicator that is turned in a bore or around a boss (mm, higher: pushed in more)."""

    east: Fraction
    north: Fraction
    west: Fraction
    south: Fraction
    boss: bool = False

    @property
    def off(self) -> tuple[Fraction, Fraction]:
        """Where the spindle is from the centre: half the difference, in a bore towards the higher
        reading, on a boss towards the lower.
        """
        sense = -1 if self.boss else 1
        return sense * (self.east - self.west) / 2, sense * (self.north - self.south) / 2

    @property
    def moves(self) -> tuple[Fraction, Fraction]:
        """By how much the cutter's coordinates have to change."""
        x, y = self.off
        return -x, -y

    @property
    def out_of_round(self) -> Fraction:
        """(E + W) - (N + S). Only on the last pass: far off it is false. Blind to an oval at 45° and to three lobes."""
        return self.east + self.west - self.north - self.south

    @property
    def spread(self) -> Fraction:
        """The needle's whole swing."""
        return max(self.east, self.north, self.west, self.south) - min(self.east, self.north, self.west, self.south)


def swept(radius: float, off: tuple[float, float], degrees: float, *, boss: bool = False) -> float:
    """What a needle shows of a round wall from a spindle that stands ``off`` its centre, less what it shows centred."""
    a = math.radians(degrees)
    along = off[0] * math.cos(a) + off[1] * math.sin(a)
    across = -off[0] * math.sin(a) + off[1] * math.cos(a)
    if abs(across) >= radius:
        raise Refused.of("off", across, say("must be less than the radius: rough centring comes first"))
    reach = math.sqrt(radius * radius - across * across) - along
    return reach - radius if boss else radius - reach
