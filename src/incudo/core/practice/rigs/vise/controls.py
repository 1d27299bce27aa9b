"""What can be done at the vise rig."""

from __future__ import annotations

from incudo.core.practice.rigs.base import Action, Control
from incudo.core.practice.rigs.vise.state import ENDS, LOOSE, TAP_WORDS, TIGHT, ViseState


def controls_of(s: ViseState) -> tuple[Control, ...]:
    far = "" if s.touched else "the tip does not touch the jaw"
    found = [
        Control(Action(do="touch"), "Bring the tip to the jaw", "Indicator"),
        Control(Action(do="push"), "Push the tip in by hand", "Indicator", far),
        Control(Action(do="zero"), "Zero the bezel", "Indicator", far),
        Control(Action(do="run", on="left"), "Run to the left end", "Run the table to the"),
        Control(Action(do="run", on="right"), "Run to the right end", "Run the table to the"),
    ]
    for end in ENDS:
        for way in ("tighter", "looser"):
            words = f"{'Tighten' if way == 'tighter' else 'Slacken'} the {end} bolt"
            closed = "tight" if s.bolts[end] == TIGHT and way == "tighter" else ""
            closed = "loose" if s.bolts[end] == LOOSE and way == "looser" else closed
            found.append(Control(Action(do="wrench", on=end, way=way), words, "Wrench", closed))
    for end in ENDS:
        for way in ("towards", "away"):
            to = "towards you" if way == "towards" else "away from you"
            for by, how in TAP_WORDS.items():
                label = f"Tap the {end} end {to}, {how}"
                found.append(Control(Action(do="tap", on=end, way=way, by=by), label, f"Tap the {end} end {to}"))
    other = "steel" if s.hammer == "soft" else "soft"
    found += [
        Control(Action(do="tap", on="moving", way="away", by=2), "Tap the moving jaw", "More"),
        Control(Action(do="hammer", on=other), f"Take the {other} hammer", "More"),
        Control(Action(do="clean"), "Lift, wipe and stone underneath", "More"),
    ]
    return tuple(found)
