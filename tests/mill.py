"""One axis of a mill as it really is: a screw with play behind a dial. What the tests turn, and what they see."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.locating.dial import Dial, Leg, Turning


class MillAxis:
    """``at`` is where the cutter truly stands over the work, in mm; a person sees only the dial."""

    def __init__(self, dial: Dial, lost: Fraction, at: Fraction = Fraction(0), ring: Fraction = Fraction(0)) -> None:
        self.dial, self.lost = dial, lost
        self.screw = self.at = at
        self.ring = ring

    def turn(self, turning: Turning, travel: Fraction) -> None:
        self.screw += travel if turning is self.dial.grows else -travel
        self.at = min(max(self.at, self.screw), self.screw + self.lost)

    @property
    def shows(self) -> Fraction:
        sign = 1 if self.dial.grows is self.dial.dial_up else -1
        return sign * (self.screw - self.ring) % self.dial.turn

    def follow(self, leg: Leg) -> None:
        self.turn(leg.turning, leg.travel)

    def come_to(self, place: Fraction, sign: int) -> Fraction:
        """Turn in one sense until the cutter truly stands there, from a whole turn before; what the dial shows then."""
        before = place - sign * self.dial.turn
        for target in (before - sign * self.dial.turn, before, place):
            away = target - self.at
            if away:
                way = 1 if away > 0 else -1
                slack = (self.at - self.screw) if way > 0 else (self.screw + self.lost - self.at)
                self.turn(self.dial.turning(way), abs(away) + slack)
        return self.shows
