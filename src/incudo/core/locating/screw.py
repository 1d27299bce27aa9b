"""One axis of a simulated machine: a screw with play and the ring of its dial. Exact millimetres."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from incudo.core.kernel.quantity import LengthUnit
from incudo.core.kernel.say import Text
from incudo.core.locating.datum import goes, shown
from incudo.core.locating.dial import Dial, Turning
from incudo.core.shop.machine import Axis, Way


class DialShown(BaseModel):
    """A dial as it is drawn; ``at`` is what stands under the index in turns, counted on over whole turns."""

    model_config = ConfigDict(frozen=True)
    axis: Axis
    unit: LengthUnit
    dial_up: Turning
    marks: tuple[Text, ...]
    at: float
    shows: Text
    division: Text
    per_turn: Text
    clockwise: Way


@dataclass
class Screw:
    """``at`` is where the cutter truly stands, ``screw`` where it would stand without play, ``ring`` the screw's place
    at which the dial shows 0. Driven so that the coordinate grows, the cutter stands where the screw does.
    """

    dial: Dial
    at: Fraction = Fraction(0)
    screw: Fraction = Fraction(0)
    ring: Fraction = Fraction(0)

    @property
    def shows(self) -> Fraction:
        """What the dial shows, from 0 to less than one turn."""
        return self.dial.reading(self.screw, self.ring)

    def turn(self, sign: int, travel: Fraction) -> None:
        """Turn the handle so that the coordinate grows (1) or falls (-1); the table follows outside its play."""
        self.screw += sign * travel
        self.at = min(max(self.at, self.screw), self.screw + self.dial.backlash)

    def stand(self, at: Fraction, side: int) -> None:
        """The table stands at a place that it was driven to in a sense: the play lies behind it."""
        self.at = at
        self.screw = at if side > 0 else at - self.dial.backlash

    def until(self, sign: int, travel: Fraction, reading: Fraction) -> Fraction:
        """How far a handle is turned by somebody who counts about ``travel`` and stops where the dial shows
        ``reading``: of all such places the nearest; less than 0 where it lies behind.
        """
        turn = self.dial.turn
        first = (sign * self.dial.sign * (reading - self.shows)) % turn
        return first + round((travel - first) / turn) * turn

    def counted(self, sign: int, turns: int, reading: Fraction) -> Fraction:
        """How far a handle is turned by so many whole turns and on until the dial shows ``reading``.

        What is a quarter of a division short of a whole turn is none: the dial shows it already.
        """
        rest = (sign * self.dial.sign * (reading - self.shows)) % self.dial.turn
        if self.dial.turn - rest < self.dial.division / 4:
            rest -= self.dial.turn
        return turns * self.dial.turn + rest


def dial_shown(axis: Axis, screw: Screw) -> DialShown:
    """A dial as it is drawn."""
    dial, unit = screw.dial, screw.dial.unit
    return DialShown(
        axis=axis,
        unit=unit,
        dial_up=dial.dial_up,
        marks=tuple(shown(dial.turn * n / 10, unit) for n in range(10)),
        at=float(dial.sign * (screw.screw - screw.ring) / dial.turn),
        shows=f"{shown(screw.shows, unit)} {unit}",
        division=f"{shown(dial.division, unit)} {unit}",
        per_turn=f"{shown(dial.turn, unit)} {unit}",
        clockwise=goes(axis, 1 if dial.grows is Turning.CLOCKWISE else -1),
    )
