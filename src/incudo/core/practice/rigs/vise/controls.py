"""What can be done at the vise rig."""

from __future__ import annotations

from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import Action, Control
from incudo.core.practice.rigs.vise.state import ENDS, LOOSE, TAP_WORDS, TIGHT, ViseState


def controls_of(s: ViseState) -> tuple[Control, ...]:
    """Everything that can be done now, and what cannot, with why."""
    far = "" if s.touched else say("the tip does not touch the jaw")
    found = [
        Control(Action(do="touch"), say("Bring the tip to the jaw"), say("Indicator")),
        Control(Action(do="push"), say("Push the tip in by hand"), say("Indicator"), far),
        Control(Action(do="zero"), say("Zero the bezel"), say("Indicator"), far),
        Control(Action(do="run", on="left"), say("Run to the left end"), say("Run the table to the")),
        Control(Action(do="run", on="right"), say("Run to the right end"), say("Run the table to the")),
    ]
    for end in ENDS:
        for way in ("tighter", "looser"):
            tighten, slacken = say("Tighten the {end} bolt", end=end), say("Slacken the {end} bolt", end=end)
            words = tighten if way == "tighter" else slacken
            closed = "tight" if s.bolts[end] == TIGHT and way == "tighter" else ""
            closed = "loose" if s.bolts[end] == LOOSE and way == "looser" else closed
            found.append(Control(Action(do="wrench", on=end, way=way), words, say("Wrench"), closed))
    for end in ENDS:
        for way in ("towards", "away"):
            to = say("towards you") if way == "towards" else say("away from you")
            for by, how in TAP_WORDS.items():
                label = say("Tap the {end} end {to}, {how}", end=end, to=to, how=how)
                found.append(
                    Control(
                        Action(do="tap", on=end, way=way, by=by), label, say("Tap the {end} end {to}", end=end, to=to)
                    )
                )
    other = "steel" if s.hammer == "soft" else "soft"
    found += [
        Control(Action(do="tap", on="moving", way="away", by=2), say("Tap the moving jaw"), say("More")),
        Control(Action(do="hammer", on=other), say("Take the {other} hammer", other=other), say("More")),
        Control(Action(do="clean"), say("Lift, wipe and stone underneath"), say("More")),
    ]
    return tuple(found)
