"""What is gone through before a touch counts: a burr, a chuck or a wrong speed spoils it, a turning spindle hurts."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from incudo.core.kernel.quantity import LengthUnit, Unit
from incudo.core.kernel.say import say


@dataclass(frozen=True)
class Entered:
    """What stands in the fields before anything is entered: how unsure a width is, one division of an indicator, the
    thickness of a strip of paper. Rules of thumb, in the unit they are for.
    """

    unsure: str
    division: str
    paper: str


#: By the unit of the drawing.
ENTERED: Mapping[LengthUnit, Entered] = {
    Unit.INCH: Entered("0.001", "0.0005", "0.003"),
    Unit.MM: Entered("0.02", "0.01", "0.08"),
}

_TOUCH = (
    say("burrs are off, face and tip are clean"),
    say("finder in a collet, not in a chuck"),
    say("speed as the finder wants it"),
    say("quill and head locked, the other axes locked"),
)

#: Way of finding → the points to tick, in this order. First chips need a turning cutter: they have a list of their own.
BEFORE: dict[str, tuple[str, ...]] = {
    "edge": _TOUCH,
    "middle": _TOUCH,
    "flat": (say("the part is tight"), say("spindle stopped before I measure")),
    "round": (
        say("spindle isolated, out of gear, turned by hand"),
        say("centred roughly with a pin first"),
        say("indicator free to go all around"),
    ),
    "depth": (
        say("spindle stopped"),
        say("a long strip, fingers away from the cutter"),
        say("knee or quill comes up to it, the other one locked"),
    ),
    "chips": (
        say("eyes protected, nobody else near"),
        say("a place where a scratch does not matter"),
        say("by single divisions, stop at the first chip, spindle off before I read"),
    ),
}
