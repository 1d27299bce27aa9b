"""Handles, dials and backlash: which way, how many turns, what the dial shows at arrival.

A coordinate is the cutter's place over the work, in mm: X to the right, Y away from the
person, Z up. The table goes the other way: with the table to the left the cutter comes
further right. Backlash is a play operator between screw and table.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Length, LengthUnit
from incudo.core.kernel.say import say
from incudo.core.shop.machine import Axis, Handle, Way

#: Where the table, knee or quill goes while the cutter's coordinate grows.
GROWS = {Axis.X: Way.LEFT, Axis.Y: Way.TOWARDS, Axis.KNEE: Way.DOWN, Axis.QUILL: Way.UP}


class Turning(StrEnum):
    """Which way a handle is turned."""

    CLOCKWISE = "clockwise"
    ANTICLOCKWISE = "anticlockwise"

    @property
    def other(self) -> Turning:
        """The other way round."""
        return Turning.ANTICLOCKWISE if self is Turning.CLOCKWISE else Turning.CLOCKWISE


@dataclass(frozen=True)
class Dial:
    """A handle's dial. ``turn`` and ``backlash`` in mm; ``grows`` is the turning by which the coordinate grows,
    ``dial_up`` that by which the dial's numbers do.
    """

    turn: Fraction
    graduations: int
    backlash: Fraction
    grows: Turning
    dial_up: Turning
    unit: LengthUnit

    def __post_init__(self) -> None:
        if self.turn <= 0:
            raise Refused.of("per_turn", self.turn, say("must be more than 0"))
        if not 0 <= self.backlash <= self.turn:
            raise Refused.of("backlash", self.backlash, say("must lie between 0 and one turn"))

    @classmethod
    def of(cls, handle: Handle) -> Dial:
        """The dial of a machine's handle; backlash that nobody measured counts as none."""
        lost = Length(handle.backlash, handle.unit).mm if handle.backlash else Fraction(0)
        clockwise_grows = handle.clockwise is GROWS[handle.axis]
        return cls(
            Length(handle.per_turn, handle.unit).mm,
            handle.graduations,
            lost,
            Turning.CLOCKWISE if clockwise_grows else Turning.ANTICLOCKWISE,
            Turning(handle.dial_up),
            handle.unit,
        )

    @property
    def division(self) -> Fraction:
        """The travel of one division."""
        return self.turn / self.graduations

    @property
    def sign(self) -> int:
        """1 where the dial's numbers rise with the coordinate, -1 where they fall."""
        return 1 if self.grows is self.dial_up else -1

    def turning(self, sign: int) -> Turning:
        """Which way to turn for a coordinate that grows (1) or falls (-1)."""
        return self.grows if sign > 0 else self.grows.other

    def reading(self, position: Fraction, zero: Fraction = Fraction(0)) -> Fraction:
        """What the dial shows, in mm from 0 to one turn, at a place that is approached as its zero was."""
        return (self.sign * (position - zero)) % self.turn

    def nearest(self, position: Fraction, zero: Fraction = Fraction(0)) -> Fraction:
        """The nearest place that half a division can set; what the rounding costs is the difference."""
        step = self.division / 2
        return zero + round((position - zero) / step) * step


@dataclass(frozen=True)
class Leg:
    """One turning of the handle without a stop. ``travel`` is the screw's, backlash included, in mm, exactly.

    ``turns`` and ``divisions`` are what is counted at the handle: to the half division that can be set by eye,
    rounded before it is split, so that 99.9 of 100 divisions are one turn.
    """

    turning: Turning
    travel: Fraction
    turns: int
    divisions: Fraction
    reading: Fraction
    takes_up: bool


def leg(dial: Dial, sign: int, by: Fraction, reading: Fraction, *, reversing: bool) -> Leg:
    """A leg of the coordinate by ``by`` (more than 0); after a change of side the backlash is turned away first."""
    travel = by + (dial.backlash if reversing else 0)
    turns, halves = divmod(round(travel / dial.division * 2), 2 * dial.graduations)
    takes_up = reversing and dial.backlash > 0
    return Leg(dial.turning(sign), travel, turns, Fraction(halves, 2), reading, takes_up)


def move(
    dial: Dial, start: Fraction, end: Fraction, *, side: int, last: int, zero: Fraction = Fraction(0)
) -> tuple[Leg, ...]:
    """How to come from one place to another so that the last turning is always the same.

    ``side`` is the sign in which every place is approached, ``last`` that of the turning
    before. From the wrong side one goes past by a whole turn and comes back: by habit a
    turn, so that nothing is miscounted; it is never less than the backlash. One goes on to the
    next half division there: where one turns round is read off the dial as well.
    """
    if side not in (1, -1) or last not in (1, -1):
        raise Refused.of("side", side, say("must be 1 or -1"))
    by = end - start
    arrival = dial.reading(end, zero)
    if by * side >= 0 and (last == side or by != 0):
        return (leg(dial, side, abs(by), arrival, reversing=last != side),) if by else ()
    beyond = dial.turn + -dial.backlash % (dial.division / 2)
    past = end - side * beyond
    away = abs(past - start)
    back = leg(dial, side, beyond, arrival, reversing=True)
    # on the way out the screw leads by the backlash, and so does the dial
    out = dial.reading(past - side * dial.backlash, zero)
    return (leg(dial, -side, away, out, reversing=last == side), back)


def series(
    dial: Dial, start: Fraction, places: Iterable[Fraction], *, side: int, last: int, zero: Fraction = Fraction(0)
) -> tuple[tuple[Fraction, tuple[Leg, ...]], ...]:
    """Places in the order in which each is approached from the same side, each with its legs."""
    ordered = sorted(set(places), reverse=side < 0)
    found, here, turned = [], start, last
    for place in ordered:
        legs = move(dial, here, place, side=side, last=turned, zero=zero)
        found.append((place, legs))
        here, turned = place, side if legs else turned
    return tuple(found)


def play(screw: Sequence[Fraction], backlash: Fraction, table: Fraction) -> tuple[Fraction, ...]:
    """Where the table stands as the screw goes from place to place: it follows only outside a gap of ``backlash``.

    The gap is taken so that driven upwards the table stands where the screw does.
    """
    found = []
    for at in screw:
        table = min(max(table, at), at + backlash)
        found.append(table)
    return tuple(found)


def taken_up(reading: Fraction, turn: Fraction, *, rising: bool) -> Fraction:
    """How far a dial went from 0 to a reading (mm): as far as it shows where its numbers rose, else the rest of a turn.

    Less than one turn; whoever turned the handle back saw which way the numbers went.
    """
    return reading if rising else -reading % turn


def backlash_of(readings: Sequence[Fraction], turn: Fraction, *, rising: bool) -> Fraction:
    """Backlash from dial readings: zeroed when the table moved, reversed, read when it moves again; their mean (mm).

    ``rising``: the numbers rose while the handle was turned back. Raises ``Refused`` outside of one turn.
    """
    if not readings:
        raise Refused.of("readings", "", say("must be at least one"))
    if any(not 0 <= r < turn for r in readings):
        raise Refused.of("readings", max(readings), say("must lie between 0 and one turn"))
    turned = [taken_up(r, turn, rising=rising) for r in readings]
    return sum(turned, Fraction(0)) / len(turned)
