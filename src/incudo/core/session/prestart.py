"""The pre-start list at a machine, and the three points at each later start.

The full list is ticked once per machine and session; a start after the first
asks for three points, since a cutter may have been changed in between. A rule
of thumb that a shop's own rules may add to.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say, together


@dataclass(frozen=True)
class Check:
    """One point with its reason."""

    id: str
    text: str
    why: str


FULL = (
    Check("guards", say("Guards in place and whole"), say("They catch what comes off when something breaks.")),
    Check("stop", say("Hand on the stop once, without looking"), say("In the second that counts nobody looks.")),
    Check("light", say("Light on, no flicker"), say("Under a flickering lamp a turning cutter can look still.")),
    Check("floor", say("Floor clear and dry"), say("If you slip, you grab for the table.")),
    Check("eyes", say("Eye protection on"), say("Chips fly from the neighbour's machine too.")),
    Check(
        "sleeves",
        say("Sleeves above the elbow, no gloves, no rings"),
        say("Cloth and rings are pulled in faster than you let go."),
    ),
    Check("hair", say("Hair tied up and under a cap"), say("You bend forward to see the cut.")),
    Check("phone", say("Phone put away"), say("It takes your eyes off the cutter.")),
)
EACH = (
    Check(
        "cutter",
        say("Cutter tight, every key and wrench off"),
        say("A wrench left on the drawbar is thrown at the start."),
    ),
    Check("work", say("Work tight, tried by hand"), say("A hard vise handle can sit on a chip.")),
    Check(
        "speed",
        say("Speed right, axes locked, cutter clear of the work"),
        say("A cutter that starts in contact digs in."),
    ),
)


def points(*, listed: bool) -> tuple[Check, ...]:
    """What must be ticked before this start."""
    return EACH if listed else (*FULL, *EACH)


def check_points(ticked: Collection[str], *, listed: bool) -> None:
    """Raise ``Refused`` naming every point that is not ticked."""
    open_ = [c.text for c in points(listed=listed) if c.id not in ticked]
    if open_:
        raise Refused.of(
            "points", together(sorted(ticked), ", "), say("still to do: {listed}", listed=together(open_, "; "))
        )
