"""What can be done at the head rig."""

from __future__ import annotations

from incudo.core.kernel.say import say
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
    """Everything that can be done now, and what cannot, with why."""
    up = "" if s.down else say("the tip does not touch")
    found = [
        Control(Action(do="isolate"), say("Isolate, out of gear"), say("Before"), "done" if s.isolated else ""),
        Control(Action(do="wipe"), say("Wipe and stone the table"), say("Before")),
        Control(Action(do="clamp"), say("Free the knee") if s.clamped else say("Clamp the knee"), say("Before")),
        Control(
            Action(do="parallels"),
            say("Put the parallels away") if s.parallels else say("Lay a parallel under each station"),
            say("Before"),
        ),
        Control(
            Action(do="touch"),
            say("Bring the tip to the table"),
            say("Indicator"),
            say("it touches") if s.down and not s.stopped else "",
        ),
        Control(Action(do="lift"), say("Lift the tip clear"), say("Indicator"), up),
        Control(Action(do="zero"), say("Zero the bezel"), say("Indicator"), up),
    ]
    for station in ("left", "right", "front", "rear"):
        closed = say("it is there") if s.at == station else ""
        found.append(
            Control(
                Action(do="swing", on=station),
                say("Swing to the {station}", station=station),
                say("Spindle, by hand"),
                closed,
            )
        )
    for axis in s.axes:
        for bolt in BOLTS[axis]:
            name = bolt.replace("-", " ")
            group = say("Bolts, {axis_words}", axis_words=AXIS_WORDS[axis])
            now = s.bolts[bolt]
            for way, verb, end in (("tighter", say("Tighten"), TIGHT), ("looser", say("Slacken"), LOOSE)):
                closed = GRIP_WORDS[end] if now == end else ""
                found.append(Control(Action(do="wrench", on=bolt, way=way), f"{verb} {name}", group, closed))
        for (on, way), _ in WAYS.items():
            if on == axis:
                for by, how in TURN_WORDS.items():
                    label = say("Head {way}, {how}", way=way, how=how)
                    group = say("Screw, {axis_words}: {way}", axis_words=AXIS_WORDS[axis], way=way)
                    found.append(Control(Action(do="screw", on=on, way=way, by=by), label, group))
    found += [
        Control(Action(do="tap", on=side), say("Tap the head at its {side}", side=side), say("Soft hammer"))
        for side in ("left", "right")
    ]
    return tuple(found)
