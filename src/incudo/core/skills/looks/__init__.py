"""What the options of a question of judgement look like: setups, dials, needles, chips, drawn from a few values.

Each look is a small class that a bank's file names by ``look``; lengths are mm of the drawing, angles degrees.
Nothing here says which option is right.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from incudo.core.skills.looks.cutting import Chips, Cut, Point, Tap
from incudo.core.skills.looks.holding import Clamp, Held, Jaws, Vise
from incudo.core.skills.looks.locating import Collar, Finder, Stylus, Sweep
from incudo.core.skills.looks.measuring import Caliper, Needle, Square, Thimble, Zone

__all__ = [
    "Caliper",
    "Chips",
    "Clamp",
    "Collar",
    "Cut",
    "Finder",
    "Held",
    "Jaws",
    "Look",
    "Needle",
    "Point",
    "Square",
    "Stylus",
    "Sweep",
    "Tap",
    "Thimble",
    "Vise",
    "Zone",
]

Look = Annotated[
    Vise
    | Jaws
    | Needle
    | Collar
    | Thimble
    | Caliper
    | Cut
    | Chips
    | Clamp
    | Held
    | Finder
    | Stylus
    | Point
    | Tap
    | Zone
    | Square
    | Sweep,
    Field(discriminator="look"),
]
