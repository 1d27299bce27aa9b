"""What can be done at the head rig."""

from __future__ import annotations

from incudo.core.practice.rigs.base import Action, Control
from incudo.core.practice.rigs.head.state import (
    AXIS_WORDS,
    BOLTS,
    GRIP_WORDS,
    LOOSE,
    TIGHT,
    TURN_WORDS,
    WAYS,
    HeadState,
)


def controls_of(s: HeadState) -> tuple[Control, ...]:
    up = "" if s.down else "the tip does not touch"
    found = [
        Control(Action(do="isolate"), "Isolate, out of gear", "Before", "done" if s.isolated else ""),
        Control(Action(do="wipe"), "Wipe and stone the table", "Before"),
        Control(Action(do="clamp"), "Free the knee" if s.clamped else "Clamp the knee", "Before"),
        Control(
            Action(do="parallels"),
            "Put the parallels away" if s.parallels else "Lay a parallel under each station",
            "Before",
        ),
        Control(
            Action(do="touch"),
            "Bring the tip to the table",
            "Indicator",
            "it touches" if s.down and not s.stopped else "",
        ),
        Control(Action(do="lift"), "Lift the tip clear", "Indicator", up),
        Control(Action(do="zero"), "Zero the bezel", "Indicator", up),
    ]
    for station in ("left", "right", "front", "rear"):
        closed = "it stands there" if s.at == station else ""
        found.append(Control(Action(do="swing", on=station), f"Swing to the {station}", "Spindle, by hand", closed))
    for axis in s.axes:
        for bolt in BOLTS[axis]:
            name = bolt.replace("-", " ")
            group = f"Bolts, {AXIS_WORDS[axis]}"
            now = s.bolts[bolt]
            for way, verb, end in (("tighter", "Tighten", TIGHT), ("looser", "Slacken", LOOSE)):
                closed = GRIP_WORDS[end] if now == end else ""
                found.append(Control(Action(do="wrench", on=bolt, way=way), f"{verb} {name}", group, closed))
        for (on, way), _ in WAYS.items():
            if on == axis:
                for by, how in TURN_WORDS.items():
                    label = f"Head {way}, {how}"
                    group = f"Screw, {AXIS_WORDS[axis]}: {way}"
                    found.append(Control(Action(do="screw", on=on, way=way, by=by), label, group))
    found += [
        Control(Action(do="tap", on=side), f"Tap the head at its {side}", "Soft hammer") for side in ("left", "right")
    ]
    return tuple(found)
