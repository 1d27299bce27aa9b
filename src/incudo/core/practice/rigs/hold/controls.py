"""What can be done at the holding rig."""

from __future__ import annotations

from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import Action, Control
from incudo.core.practice.rigs.hold.state import BOLTS, HEEL_WORDS, HEELS, HoldState, bolt_words, size


def controls_of(s: HoldState) -> tuple[Control, ...]:
    """Everything that can be done now, and what cannot, with why."""
    found = [
        Control(Action(do="pair", by=i), say("Parallels {size}", size=size(s, p.height)), say("Stand it on"))
        for i, p in enumerate(s.drawer)
    ]
    found.append(Control(Action(do="bed"), say("Nothing: on the bed"), say("Stand it on")))
    found += [Control(Action(do="stop", on=x), say("Stop at the {x}", x=x), say("Stop")) for x in ("left", "right")]
    if s.strapped:
        found += [
            Control(Action(do="strap", on=x), say("Strap at the {x} end", x=x), say("Strap")) for x in ("left", "right")
        ]
        second = say("Remove the second strap") if s.second else say("A second strap beside it")
        found.append(Control(Action(do="second"), second, say("Strap")))
        found += [Control(Action(do="bolt", on=x), bolt_words(x), say("Strap")) for x in BOLTS]
        found += [
            Control(Action(do="heel", on=x), say("Heel {heel_words}", heel_words=HEEL_WORDS[x]), say("Strap"))
            for x in HEELS
        ]
    else:
        found.append(
            Control(
                Action(do="bar"),
                say("Put the bar away") if s.bar else say("Soft round bar at the moving jaw"),
                say("Jaws"),
            )
        )
        found += [
            Control(Action(do="tap"), say("Tap it down"), say("Seat")),
            Control(Action(do="slips"), say("Try the paper slips"), say("Seat")),
        ]
    found.append(Control(Action(do="tighten"), say("Tighten"), say("Seat")))
    found.append(Control(Action(do="try"), say("Run the cutter over it, spindle stopped"), say("Look")))
    return tuple(found)
