"""What can be done at the holding rig."""

from __future__ import annotations

from incudo.core.practice.rigs.base import Action, Control
from incudo.core.practice.rigs.hold.state import BOLTS, HEEL_WORDS, HEELS, HoldState, bolt_words, size


def controls_of(s: HoldState) -> tuple[Control, ...]:
    found = [
        Control(Action(do="pair", by=i), f"Parallels {size(s, p.height)}", "Stand it on")
        for i, p in enumerate(s.drawer)
    ]
    found.append(Control(Action(do="bed"), "Nothing: on the bed", "Stand it on"))
    found += [Control(Action(do="stop", on=x), f"Stop at the {x}", "Stop") for x in ("left", "right")]
    if s.strapped:
        found += [Control(Action(do="strap", on=x), f"Strap at the {x} end", "Strap") for x in ("left", "right")]
        second = "Take the second strap away" if s.second else "A second strap beside it"
        found.append(Control(Action(do="second"), second, "Strap"))
        found += [Control(Action(do="bolt", on=x), bolt_words(x), "Strap") for x in BOLTS]
        found += [Control(Action(do="heel", on=x), f"Heel {HEEL_WORDS[x]}", "Strap") for x in HEELS]
    else:
        found.append(
            Control(Action(do="bar"), "Put the bar away" if s.bar else "Soft round bar at the moving jaw", "Jaws")
        )
        found += [
            Control(Action(do="tap"), "Tap it down", "Seat"),
            Control(Action(do="slips"), "Try the paper slips", "Seat"),
        ]
    found.append(Control(Action(do="tighten"), "Tighten", "Seat"))
    found.append(Control(Action(do="try"), "Run the cutter over it, spindle standing", "Look"))
    return tuple(found)
