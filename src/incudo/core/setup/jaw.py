"""Aligning a vise: a rigid body that turns about whatever holds it.

Places along the jaw and readings are in mm. For a jaw along X a place grows to the
right; for a jaw along Y it grows away from the person. The indicator touches the
working face of the fixed jaw, so a reading grows as the face comes towards the tip.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say


@dataclass(frozen=True)
class JawSweep:
    """Two readings along the jaw, at two places."""

    left_at: Fraction
    right_at: Fraction
    left: Fraction
    right: Fraction

    def __post_init__(self) -> None:
        if self.right_at <= self.left_at:
            raise Refused.of("right_at", self.right_at, say("must lie beyond the other place"))
        if abs(self.right - self.left) >= self.travel:
            raise Refused.of("readings", self.right - self.left, say("must differ by less than the travel"))

    @property
    def travel(self) -> Fraction:
        """How far the table went between the readings, in mm."""
        return self.right_at - self.left_at

    @property
    def rise(self) -> Fraction:
        """By how much the right reading is more than the left one, in mm."""
        return self.right - self.left

    @property
    def slope(self) -> Fraction:
        """θ = Δ/L: positive when the right end stands nearer to the tip."""
        return self.rise / self.travel

    def at(self, place: Fraction) -> Fraction:
        """The reading at a place of the jaw: c + θ(x - xp), for any place."""
        return self.left + self.slope * (place - self.left_at)

    def over(self, length: Fraction) -> Fraction:
        """The taper over a length: Δ·ℓ/L."""
        return abs(self.rise) * length / self.travel


@dataclass(frozen=True)
class Bring:
    """What to do next: at which end, from where to where the needle, by how much, what this leaves."""

    end: str
    now: Fraction
    to: Fraction
    leaves: Fraction

    @property
    def by(self) -> Fraction:
        """How far the needle is to go, in mm."""
        return self.to - self.now


def bring_to_pivot(s: JawSweep, pivot_at: Fraction, end: str) -> Bring:
    """Schools *pivot* and *long parallel*: every reading comes to the pivot's own,
    rL + (rR - rL)(xp - xL)/(xR - xL). ``end`` is where one taps, "left" or "right".
    """
    now = s.left if end == "left" else s.right
    return Bring(end, now, s.at(pivot_at), Fraction(0))


def left_by_meeting(s: JawSweep, pivot_at: Fraction, end: str) -> Fraction:
    """What is left between the ends when the loose end is simply brought to the snug end's reading:
    (r_loose - r_snug)(x_snug - xp)/(x_loose - xp).
    """
    loose_at, snug_at = (s.left_at, s.right_at) if end == "left" else (s.right_at, s.left_at)
    gap = (s.left - s.right) if end == "left" else (s.right - s.left)
    if loose_at == pivot_at:
        raise Refused.of("pivot_at", pivot_at, say("must not lie at the end that is tapped"))
    return gap * (snug_at - pivot_at) / (loose_at - pivot_at)


def walk_in(s: JawSweep, end: str) -> Bring:
    """School *walk in*: both lightly snug, half of the error each time at the end where one stands."""
    now, other = (s.left, s.right) if end == "left" else (s.right, s.left)
    half = (now + other) / 2
    return Bring(end, now, half, Fraction(0))


def lever_factor(degrees: float) -> float:
    """A lever indicator at an angle to the face reads too much by 1/cos; the true movement is reading times this."""
    if not 0 <= degrees <= 60:
        raise Refused.of("lever_degrees", degrees, say("must lie between 0 and 60 degrees"))
    return math.cos(math.radians(degrees))


def jumped(before: JawSweep, after: JawSweep, allowed: Fraction) -> bool:
    """Whether tightening moved the jaw by more than it should have: dirt underneath is likely."""
    return abs(after.rise - before.rise * after.travel / before.travel) > allowed


@dataclass(frozen=True)
class Frame:
    """One member of the chain from the table to the work: turned by ``slope``, tilted by ``rise`` per length."""

    name: str
    slope: Fraction


def chain(frames: Sequence[Frame], length: Fraction) -> Fraction:
    """How far out of true the work is over a length: the slopes of table, base, vise, jaw and work add up (mm)."""
    return sum((f.slope for f in frames), Fraction(0)) * length
