"""What is gone through before a touch counts: a burr, a chuck or a wrong speed spoils it, a turning spindle hurts."""

from __future__ import annotations

from incudo.core.kernel.say import say

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
