"""Squaring the head: from two readings to an angle, to what to do, to what it does to the part."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import sense
from incudo.core.kernel.say import say


class HeadAxis(StrEnum):
    """``TILT`` is side to side (read left and right), ``NOD`` fore and aft (front and rear)."""

    TILT = "tilt"
    NOD = "nod"


#: The two stations of each axis; the first is the one at the lower coordinate.
STATIONS = {HeadAxis.TILT: ("left", "right"), HeadAxis.NOD: ("front", "rear")}


@dataclass(frozen=True)
class Sweep:
    """Two readings half a turn apart, ``span`` between them, all in mm.

    ``low`` is read at the left (tilt) or at the front (nod), ``high`` at the right or at the rear.
    """

    axis: HeadAxis
    low: Fraction
    high: Fraction
    span: Fraction

    def __post_init__(self) -> None:
        if self.span <= 0:
            raise Refused.of("span", self.span, say("must be more than 0"))
        if abs(self.high - self.low) >= self.span:
            raise Refused.of("readings", self.high - self.low, say("must differ by less than the span"))

    @property
    def rise(self) -> Fraction:
        """The reading at the right (rear) less that at the left (front)."""
        return self.high - self.low

    @property
    def angle(self) -> float:
        """atan(rise / span) in radians. Positive: the right (rear) of the sweep is low,
        so the top of the head leans right (rearward).
        """
        return math.atan(float(self.rise / self.span))

    @property
    def degrees(self) -> float:
        """The angle in degrees."""
        return math.degrees(self.angle)


@dataclass(frozen=True)
class Target:
    """Where each needle should come to, in mm, and by how much each has to move (negative: it falls)."""

    low: Fraction
    high: Fraction
    low_by: Fraction
    high_by: Fraction


def tilt_target(s: Sweep) -> Target:
    """Side to side the pivot is over the spindle: both needles move by half and meet in the middle."""
    middle = (s.low + s.high) / 2
    return Target(middle, middle, middle - s.low, middle - s.high)


def nod_target(s: Sweep, behind: Fraction) -> Target:
    """Fore and aft the pivot lies ``behind`` the spindle (mm): the needles do not meet in the middle.

    With d = front - rear: the front falls by d(e + s/2)/s, the rear by d(e - s/2)/s.
    """
    if behind < 0:
        raise Refused.of("pivot_behind", behind, say("must be 0 or more: the pivot lies behind the spindle"))
    d = s.low - s.high
    front = d * (behind + s.span / 2) / s.span
    rear = d * (behind - s.span / 2) / s.span
    return Target(s.low - front, s.high - rear, -front, -rear)


def target(s: Sweep, behind: Fraction | None) -> Target | None:
    """Where the needles should come to; None for a nod whose pivot is not known yet."""
    if s.axis is HeadAxis.TILT:
        return tilt_target(s)
    return None if behind is None else nod_target(s, behind)


def learn_pivot(before: Sweep, after: Sweep) -> Fraction | None:
    """How far the nod's pivot lies behind the spindle, from one adjustment between two sweeps (mm).

    With f and r, by how much the front and the rear reading fell: e = s(f + r) / (2(f - r)).
    None when the head did not turn, or when the answer is no place for a pivot.
    """
    f, r = before.low - after.low, before.high - after.high
    if before.span != after.span or f == r:
        return None
    e = before.span * (f + r) / (2 * (f - r))
    return e if 0 <= e <= 2000 else None


def turn_words(s: Sweep) -> tuple[str, str]:
    """What is wrong, and which way the head has to go."""
    if s.rise == 0:
        return say("Both needles agree."), say("Leave the head where it is.")
    if s.axis is HeadAxis.TILT:
        side, back = ("right", "anticlockwise") if sense(s.rise) == 1 else ("left", "clockwise")
        return (
            say("The {side} of the sweep is low: the top of the head leans {side}.", side=side),
            say("Turn the head {back}, seen from the front.", back=back),
        )
    if sense(s.rise) == 1:
        return (
            say("The rear of the sweep is low: the top of the head leans back."),
            say("Nod the head forward: its rear comes up."),
        )
    return (
        say("The front of the sweep is low: the top of the head leans towards you."),
        say("Nod the head back: its front comes up."),
    )


def reach(diameter: Fraction, width: Fraction) -> float:
    """R - sqrt(R² - (w/2)²): how much less a cutter reaches at the edge of a cut of ``width``, in mm."""
    if width > diameter:
        raise Refused.of("width", width, say("a cut centred on the cutter is not wider than the cutter"))
    r, half = float(diameter) / 2, float(width) / 2
    return r - math.sqrt(r * r - half * half)


def hollow(angle: float, diameter: Fraction, width: Fraction) -> float:
    """Depth of the hollow of a facing cut, tilted along the feed and centred on the cutter, in mm."""
    return reach(diameter, width) * abs(math.sin(angle))


def step(angle: float, stepover: Fraction) -> float:
    """Step between neighbouring passes when the head is tilted across the feed, in mm."""
    return float(stepover) * abs(math.tan(angle))


def lean(angle: float, depth: Fraction) -> float:
    """How far a hole bored by the quill, or a wall cut by the cutter's side, leans over ``depth``, in mm."""
    return float(depth) * abs(math.tan(angle))
