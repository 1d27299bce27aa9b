"""What can be done at the edge rig."""

from __future__ import annotations

from incudo.core.kernel.say import capital, say
from incudo.core.locating.finders import FINDERS
from incudo.core.practice.rigs.base import Action, Control
from incudo.core.practice.rigs.edge.state import HOLDERS, SHIPPED_FINDERS, SPEEDS, EdgeState


def controls_of(s: EdgeState) -> tuple[Control, ...]:
    """Everything that can be done now, and what cannot, with why."""
    ready = "" if s.finder and s.holder else say("there is no finder in the spindle")
    down = say("the finder is raised") if s.raised else ""
    below = say("the work is below it") if s.gap(s.slide.at) <= 0 else ""
    found = [
        *s.slide.controls(s.slide.axis.upper(), ready),
        Control(Action(do="note"), say("Note the touch"), say("The touch"), ready or down),
        Control(Action(do="raise"), say("Raise the finder"), say("The touch"), ready or down),
        Control(
            Action(do="lower"),
            say("Lower it"),
            say("The touch"),
            ready or ("" if s.raised else say("it is down")) or below,
        ),
        Control(Action(do="zero"), say("Set the ring to 0"), say("The touch"), ready),
    ]
    for speed in SPEEDS:
        words = f"{speed} a minute" if speed else say("Stop")
        found.append(Control(Action(do="speed", by=speed), words, say("Spindle")))
    for name in SHIPPED_FINDERS[s.setup.unit]:
        found.append(Control(Action(do="finder", on=name), capital(FINDERS[name].name), say("Finder")))
    for name, words in HOLDERS.items():
        found.append(Control(Action(do="holder", on=name), capital(words), say("Held")))
    found.append(Control(Action(do="deburr"), say("Stone and wipe the edge"), say("The work")))
    return tuple(found)
