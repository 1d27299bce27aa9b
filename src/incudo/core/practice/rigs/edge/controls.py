"""What can be done at the edge rig."""

from __future__ import annotations

from incudo.core.locating.finders import FINDERS
from incudo.core.practice.rigs.base import Action, Control
from incudo.core.practice.rigs.edge.state import HOLDERS, SHIPPED_FINDERS, SPEEDS, EdgeState


def controls_of(s: EdgeState) -> tuple[Control, ...]:
    ready = "" if s.finder and s.holder else "there is no finder in the spindle"
    down = "the finder is raised" if s.raised else ""
    below = "the work is below it" if s.gap(s.slide.at) <= 0 else ""
    found = [
        *s.slide.controls(s.slide.axis.upper(), ready),
        Control(Action(do="note"), "Note the touch", "The touch", ready or down),
        Control(Action(do="raise"), "Raise the finder", "The touch", ready or down),
        Control(Action(do="lower"), "Lower it", "The touch", ready or ("" if s.raised else "it is down") or below),
        Control(Action(do="zero"), "Set the ring to 0", "The touch", ready),
    ]
    for speed in SPEEDS:
        words = f"{speed} a minute" if speed else "Stop"
        found.append(Control(Action(do="speed", by=speed), words, "Spindle"))
    for name in SHIPPED_FINDERS[s.setup.unit]:
        found.append(Control(Action(do="finder", on=name), FINDERS[name].name.capitalize(), "Finder"))
    for name, words in HOLDERS.items():
        found.append(Control(Action(do="holder", on=name), words.capitalize(), "Held"))
    found.append(Control(Action(do="deburr"), "Stone and wipe the edge", "The work"))
    return tuple(found)
