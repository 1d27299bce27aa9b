"""What is gone through before a touch counts: a burr, a chuck or a wrong speed spoils it, a turning spindle hurts."""

from __future__ import annotations

_TOUCH = (
    "burrs are off, face and tip are clean",
    "finder in a collet, not in a chuck",
    "speed as the finder wants it",
    "quill and head locked, the other axes locked",
)

#: Way of finding → the points to tick, in this order. First chips need a turning cutter: they have a list of their own.
BEFORE: dict[str, tuple[str, ...]] = {
    "edge": _TOUCH,
    "middle": _TOUCH,
    "flat": ("the part is tight", "spindle stopped before I measure"),
    "round": (
        "spindle isolated, out of gear, turned by hand",
        "centred roughly with a pin first",
        "indicator free to go all around",
    ),
    "depth": (
        "spindle stopped",
        "a long strip, fingers away from the cutter",
        "knee or quill comes up to it, the other one locked",
    ),
    "chips": (
        "eyes protected, nobody else near",
        "a place where a scratch does not matter",
        "by single divisions, stop at the first chip, spindle off before I read",
    ),
}
