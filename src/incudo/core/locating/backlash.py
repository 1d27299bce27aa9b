"""Measured backlash of a handle: in the middle of its travel and at an end, and what the difference tells."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.locating.datum import shown
from incudo.core.locating.dial import Dial, backlash_of, taken_up

#: Divisions within which two readings, or two people's measurements, of one backlash agree.
AGREE_WITHIN = 2


@dataclass(frozen=True)
class Backlash:
    """Backlash in mm; ``end`` is None when only the middle was measured."""

    middle: Fraction
    end: Fraction | None

    @property
    def taken(self) -> Fraction:
        """What is reckoned with: the larger."""
        return self.middle if self.end is None else max(self.middle, self.end)

    def words(self, dial: Dial) -> str:
        """The backlash in the dial's unit, with what to do when it is uneven or more than half a turn."""
        u = dial.unit
        found = say("{middle} {u} in the middle", middle=shown(self.middle, u), u=u)
        if self.taken > dial.turn / 2:
            found = say("more than half a turn, have the screw looked at: {found}", found=found)
        if self.end is None:
            return found
        found += say(", {end} {u} at the end", end=shown(self.end, u), u=u)
        worn = self.middle - self.end
        if worn > dial.division:
            return say(
                "{found}: the screw is worn by {worn} {u} where it is used most", found=found, worn=shown(worn, u), u=u
            )
        return found


def measure(dial: Dial, middle: Sequence[Fraction], end: Sequence[Fraction], *, rising: bool) -> Backlash:
    """From what the dial showed when the table first moved again after a reversal; at least two in the middle.

    ``rising``: the dial's numbers rose while the handle was turned back.

    Raises ``Refused`` when readings of one place differ by more than two divisions.
    """
    if len(middle) < 2:
        raise Refused.of("middle", len(middle), say("must be at least two readings: one checks nothing"))
    near = AGREE_WITHIN * dial.division
    for name, readings in (("middle", middle), ("end", end)):
        turned = [taken_up(r, dial.turn, rising=rising) for r in readings]
        if turned and max(turned) - min(turned) > near:
            bound = say(
                "must agree within two divisions, {near} {unit}: read again",
                near=shown(near, dial.unit),
                unit=dial.unit,
            )
            raise Refused.of(name, shown(max(turned), dial.unit), bound)
    found = [backlash_of(x, dial.turn, rising=rising) if x else None for x in (middle, end)]
    return Backlash(found[0] or Fraction(0), found[1])


@dataclass(frozen=True)
class Measurement:
    """One measurement of a handle: by whom, whether they teach, and what was found."""

    person: str
    teaches: bool
    lost: Backlash


def confirmed(dial: Dial, measurements: Sequence[Measurement]) -> tuple[bool, ...]:
    """Which measurements of a handle, oldest first, moves may reckon with.

    One by somebody who teaches stands by itself. A student's is a proposal unless it agrees, within two divisions, with
    what holds now or with another person's proposal made since then. What held before that confirms nothing: a screw
    wears, and an old value must not come back because somebody once measured it.
    """
    near = AGREE_WITHIN * dial.division
    found = [False] * len(measurements)
    holds: Fraction | None = None
    proposed: list[int] = []
    for n, m in enumerate(measurements):
        alike = [
            i
            for i in proposed
            if measurements[i].person != m.person and abs(measurements[i].lost.taken - m.lost.taken) <= near
        ]
        if not (m.teaches or alike or (holds is not None and abs(holds - m.lost.taken) <= near)):
            proposed.append(n)
            continue
        for i in (n, *alike):
            found[i] = True
        if m.teaches or alike:
            # a student's that agrees with what holds changes nothing: many small steps would lead anywhere
            holds, proposed = m.lost.taken, []
    return tuple(found)
