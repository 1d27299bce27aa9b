"""The pre-start list at a machine, and the three points at each later start.

The full list is ticked once per machine and session; a start after the first
asks for three points, since a cutter may have been changed in between. A rule
of thumb that a shop's own rules may add to.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from incudo.core.kernel.errors import Refused


@dataclass(frozen=True)
class Check:
    """One point with its reason."""

    id: str
    text: str
    why: str


FULL = (
    Check("guards", "Guards in place and whole", "They catch what comes off when something breaks."),
    Check("stop", "Hand on the stop once, without looking", "In the second that counts nobody looks."),
    Check("light", "Light on, no flicker", "Under a flickering lamp a turning cutter can look still."),
    Check("floor", "Floor clear and dry", "Who slips grabs for the table."),
    Check("eyes", "Eye protection on", "Chips fly from the neighbour's machine too."),
    Check(
        "sleeves",
        "Sleeves above the elbow, no gloves, no rings",
        "Cloth and rings are pulled in faster than you let go.",
    ),
    Check("hair", "Hair tied up and under a cap", "You bend forward to see the cut."),
    Check("phone", "Phone put away", "It takes your eyes off the cutter."),
)
EACH = (
    Check(
        "cutter",
        "Cutter tight, every key and wrench off",
        "A wrench left on the drawbar is thrown at the start.",
    ),
    Check("work", "Work tight, tried by hand", "A hard vise handle can sit on a chip."),
    Check(
        "speed",
        "Speed right, axes locked, cutter clear of the work",
        "A cutter that starts in contact digs in.",
    ),
)


def points(*, listed: bool) -> tuple[Check, ...]:
    """What must be ticked before this start."""
    return EACH if listed else (*FULL, *EACH)


def check_points(ticked: Collection[str], *, listed: bool) -> None:
    """Raise ``Refused`` naming every point that is not ticked."""
    open_ = [c.text for c in points(listed=listed) if c.id not in ticked]
    if open_:
        raise Refused.of("points", ", ".join(sorted(ticked)), f"still to do: {'; '.join(open_)}")
