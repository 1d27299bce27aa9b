"""Datums: what a dial or readout shows over a known place of the part, and where everything else is from there.

All values in mm. A datum holds for one axis of one machine, in one holding of the work.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit, in_places, plain
from incudo.core.kernel.say import capital, say, say_many, together
from incudo.core.kernel.working import Step
from incudo.core.locating.dial import GROWS, Dial, Leg, series
from incudo.core.shop.machine import Axis, Way


class Scale(StrEnum):
    """By what a place is read: the handle's dial, or a readout's scale on the table."""

    DIAL = "dial"
    READOUT = "readout"


#: Places that are shown of a dial reading or a coordinate.
_LEAST = {Unit.INCH: 3, Unit.MM: 2}
#: What goes where while a coordinate grows or falls, for the words.
_PARTS = {Axis.X: "table", Axis.Y: "table", Axis.KNEE: "knee", Axis.QUILL: "quill"}
_OTHER = {
    Way.LEFT: Way.RIGHT,
    Way.RIGHT: Way.LEFT,
    Way.AWAY: Way.TOWARDS,
    Way.TOWARDS: Way.AWAY,
    Way.UP: Way.DOWN,
    Way.DOWN: Way.UP,
}
_SEEN = {
    Way.LEFT: say("to the left"),
    Way.RIGHT: say("to the right"),
    Way.AWAY: say("away from you"),
    Way.TOWARDS: say("towards you"),
    Way.UP: "up",
    Way.DOWN: "down",
}
#: How the cutter's place over the work is said, by axis and sign.
_CUTTER = {
    (Axis.X, 1): say("further right over the work"),
    (Axis.X, -1): say("further left over the work"),
    (Axis.Y, 1): say("further back over the work"),
    (Axis.Y, -1): say("further forward over the work"),
    (Axis.KNEE, 1): "higher",
    (Axis.KNEE, -1): "deeper",
    (Axis.QUILL, 1): "higher",
    (Axis.QUILL, -1): "deeper",
}


def goes(axis: Axis, sign: int) -> Way:
    """Where table, knee or quill goes while the coordinate grows (1) or falls (-1)."""
    return GROWS[axis] if sign > 0 else _OTHER[GROWS[axis]]


def way_words(axis: Axis, sign: int) -> str:
    """What is seen: the table one way, the cutter the other over the work."""
    return say(
        "the {parts} goes {seen}, the cutter comes {cutter}",
        parts=_PARTS[axis],
        seen=_SEEN[goes(axis, sign)],
        cutter=_CUTTER[axis, sign],
    )


def shown(mm: Fraction, unit: Unit) -> str:
    """A reading or coordinate as it stands on a dial, without its unit."""
    return plain(mm, unit, _LEAST[unit]) if _ends(mm, unit) else in_places(mm / unit.in_mm, _LEAST[unit] + 2)


def _ends(mm: Fraction, unit: Unit) -> bool:
    return (mm / unit.in_mm * 10**5).denominator == 1


def divisions_words(divisions: Fraction) -> str:
    """Divisions to the half that can be set by eye: 143½."""
    halves = round(divisions * 2)
    return f"{halves // 2}½" if halves % 2 else str(halves // 2)


@dataclass(frozen=True)
class Datum:
    """Over the part's coordinate ``part`` the scale shows ``shows``; ``side`` is the sign in which it was come to."""

    axis: Axis
    scale: Scale
    part: Fraction
    shows: Fraction
    side: int

    def __post_init__(self) -> None:
        if self.side not in (1, -1):
            raise Refused.of("side", self.side, say("must be 1 or -1"))

    def zero(self, dial: Dial) -> Fraction:
        """The part's coordinate at which a dial would show 0."""
        return self.part - dial.sign * self.shows

    def coordinate(self, part: Fraction) -> Fraction:
        """What a readout shows over a place of the part."""
        return part - self.part + self.shows


@dataclass(frozen=True)
class Line:
    """One place in a list: its coordinate, how to come there, what is shown there, what rounding costs."""

    place: Fraction
    settable: Fraction
    legs: tuple[Leg, ...]
    reading: Fraction

    @property
    def cost(self) -> Fraction:
        """How far beside the place half a division can set it."""
        return self.settable - self.place


def lines_from(
    dial: Dial, datum: Datum, places: Iterable[Fraction], *, last: int = 0, start: Fraction | None = None
) -> tuple[Line, ...]:
    """Places of the part by dial, in the order in which each is approached from the datum's own side.

    ``start`` is where the cutter stands (at the datum if not given), ``last`` the sign of the turning before.
    Places that the same half division sets are lines of their own; the later ones need no turning.
    """
    zero = datum.zero(dial)
    wanted: dict[Fraction, list[Fraction]] = {}
    for p in sorted(set(places), reverse=datum.side < 0):
        wanted.setdefault(dial.nearest(p, zero), []).append(p)
    here = datum.part if start is None else start
    found = series(dial, here, wanted, side=datum.side, last=last or datum.side, zero=zero)
    return tuple(
        Line(place, at, () if n else legs, dial.reading(at, zero))
        for at, legs in found
        for n, place in enumerate(wanted[at])
    )


def shown_from(dial: Dial, shows: Fraction, *, side: int, last: int) -> Fraction:
    """What the dial would show here, had it been come to from ``side`` and not with ``last`` (mm, not within a turn).

    The two flanks of the screw lie the backlash apart: with ``last`` against ``side`` the table stands on the other.
    """
    return shows if last == side else shows + dial.sign * side * dial.backlash


def leg_words(axis: Axis, dial: Dial, leg: Leg) -> tuple[str, ...]:
    """A leg in words: which way, how far, what is seen, what the dial shows at its end."""
    sign = 1 if leg.turning is dial.grows else -1
    turns = say_many("{count} whole turn", "{count} whole turns", leg.turns) if leg.turns else ""
    parts = divisions_words(leg.divisions)
    far = together(
        (x for x in (turns, "" if parts == "0" and turns else say("{parts} divisions", parts=parts)) if x), " and "
    )
    found = [
        say("Turn {turning}: {far}.", turning=leg.turning, far=far),
        say("{way_words}.", way_words=capital(way_words(axis, sign))),
    ]
    if leg.takes_up:
        found.append(
            say(
                "The first {backlash} {unit} take up the backlash: nothing moves.",
                backlash=shown(dial.backlash, dial.unit),
                unit=dial.unit,
            )
        )
    found.append(say("Then the dial shows {reading} {unit}.", reading=shown(leg.reading, dial.unit), unit=dial.unit))
    return tuple(found)


def rounding_words(line: Line, unit: Unit) -> str:
    """What it costs that a dial is set to half a division; empty when it costs nothing."""
    if not line.cost:
        return ""
    places = 5 if unit is Unit.INCH else 4
    off = abs(line.cost)
    return say("set to half a division: {off} {unit} off", off=in_places(off / unit.in_mm, places), unit=unit)


def move_steps(dial: Dial, by: Fraction) -> tuple[Step, ...]:
    """The working of a move: whole turns, then divisions."""
    u, p = dial.unit, dial.turn
    turns, halves = divmod(round(abs(by) / dial.division * 2), 2 * dial.graduations)
    return (
        Step(
            say("whole turns"),
            say("⌊Δ / travel per turn⌋"),
            say("⌊{by} / {p}⌋, to half a division", by=shown(abs(by), u), p=shown(p, u)),
            str(turns),
        ),
        Step(
            "divisions",
            "(Δ − turns · travel) / division",
            f"({shown(abs(by), u)} − {turns} · {shown(p, u)}) / {shown(dial.division, u)}",
            divisions_words(Fraction(halves, 2)),
        ),
    )


def touched(dial: Dial, touches: Sequence[Fraction]) -> tuple[Fraction, ...]:
    """Dial readings of one place as coordinates near each other, though the ring goes round between them.

    In the sense of the coordinate: a dial whose numbers fall while it grows is turned about.
    """
    if not touches:
        return ()
    first = touches[0]
    return tuple(dial.sign * (first + _near(t - first, dial.turn)) for t in touches)


def _near(difference: Fraction, turn: Fraction) -> Fraction:
    return (difference + turn / 2) % turn - turn / 2


def counted(dial: Dial, reading: Fraction) -> Fraction:
    """What a dial shows, as a coordinate. Raises ``Refused`` beyond one turn."""
    if not 0 <= reading < dial.turn:
        bound = say("must lie between 0 and one turn, {turn} {unit}", turn=shown(dial.turn, dial.unit), unit=dial.unit)
        raise Refused.of("dial", shown(reading, dial.unit), bound)
    return dial.sign * reading
