"""What a practised hand does at the head rig, from what can be seen."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.quantity import sense
from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import Action, Advice
from incudo.core.practice.rigs.head.state import ARM, AXIS_WORDS, BOLTS, DRAG, TIGHT, TURN_WORDS, HeadState
from incudo.core.setup.record import Do, HeadPass, head_next, pivot_learnt
from incudo.core.setup.tram import STATIONS, HeadAxis, Sweep, Target, turn_words


def _worked(sweep: Sweep, to: Target) -> tuple[str, Fraction]:
    """At which station one works: at the right, or at the front, where the needle moves most."""
    return ("right", to.high) if sweep.axis is HeadAxis.TILT else ("front", to.low)


NEAR = 0.006


MARGIN = Fraction(3, 4)


def advise(s: HeadState) -> Advice:
    """The shop's school, step by step, from what can be seen."""
    for ready, what, words in (
        (s.isolated, "isolate", say("Isolate the spindle and take it out of gear before you turn it by hand.")),
        (s.wiped, "wipe", say("Wipe the table and stone what sticks up: a burr lifts the tip.")),
        (s.clamped, "clamp", say("Clamp the knee as it will be when cutting: free, it sags.")),
        (s.parallels or not s.slot, "parallels", say("A T-slot lies at a station: lay a parallel under each.")),
    ):
        if not ready:
            return Advice(Action(do=what), words)
    nxt = _step(s)
    if nxt is None:
        return Advice(Action(do="finish"), say("Tight, read again both ways, and square: finish."))
    return nxt


def _good(s: HeadState, p: HeadPass) -> bool:
    """Whether a practised hand leaves it: with some to spare while tightening is still to come."""
    return s.standard.allows(p.sweep.rise if p.tight else p.sweep.rise / MARGIN, p.sweep.span)


def _step(s: HeadState) -> Advice | None:
    passes = [p for p in s.sweeps if p.sweep.axis in s.axes]
    for axis in s.axes:
        mine = [p for p in passes if p.sweep.axis is axis]
        if not mine:
            return _read(s, axis, say("Read {axis_words}.", axis_words=AXIS_WORDS[axis]))
        if not _good(s, mine[-1]):
            return _adjust(s, axis, mine[-1].sweep)
        slack = [b for b in BOLTS[axis] if s.bolts[b] < TIGHT]
        if slack:
            bolt = min(slack, key=lambda b: s.bolts[b])
            name = bolt.replace("-", " ")
            return Advice(
                Action(do="wrench", on=bolt, way="tighter"),
                say("It is square. Tighten crosswise, a little each: {name}.", name=name),
            )
        if s.swept.get(axis) != s.stamp and not (axis is not s.axes[-1] and _later(passes, axis)):
            return _read(
                s, axis, say("Tight. Read {axis_words} again: tightening moves the head.", axis_words=AXIS_WORDS[axis])
            )
    return next(
        (
            _read(s, a, say("Read {axis_words} once more: the other axis was moved since.", axis_words=AXIS_WORDS[a]))
            for a in s.axes
            if s.swept.get(a) != s.stamp
        ),
        None,
    )


def _later(passes: list[HeadPass], axis: HeadAxis) -> bool:
    """Whether this axis was read tight once; it is read again at the end."""
    mine = [p for p in passes if p.sweep.axis is axis]
    return bool(mine) and mine[-1].tight


def _read(s: HeadState, axis: HeadAxis, why: str) -> Advice:
    low, high = STATIONS[axis]
    fresh = [x for x in (low, high) if s.read.get(x, (-1, 0.0))[0] == s.stamp]
    if s.down and s.at in (low, high) and s.at in fresh and not s.sweeps and s.zero == 0.0 and len(fresh) == 1:
        return Advice(Action(do="zero"), say("Zero the bezel here; the other end is read against it."))
    to = next((x for x in (low, high) if x not in fresh), low)
    if s.at in (low, high) and s.at not in fresh:
        to = s.at
    if s.at != to:
        if s.down and s.slot:
            return Advice(Action(do="lift"), say("{why} Lift the tip clear before you swing.", why=why))
        return Advice(Action(do="swing", on=to), say("{why} Swing to the {to} by hand.", why=why, to=to))
    if not s.down or s.stopped:
        return Advice(Action(do="touch"), say("{why} Bring the tip to the table at the {to}.", why=why, to=to))
    other = high if to == low else low
    return Advice(Action(do="swing", on=other), say("{why} Swing to the {other} by hand.", why=why, other=other))


def _adjust(s: HeadState, axis: HeadAxis, sweep: Sweep) -> Advice:
    for bolt in BOLTS[axis]:
        if s.bolts[bolt] > DRAG:
            name = bolt.replace("-", " ")
            return Advice(
                Action(do="wrench", on=bolt, way="looser"),
                say("{turn_words} Slacken {name} to a drag, never loose.", turn_words=turn_words(sweep)[0], name=name),
            )
    nxt = head_next([HeadPass(sweep, False)], (axis,), s.standard, pivot_behind(s))
    aim = nxt.target if nxt.do is Do.ADJUST else _half(sweep)
    station = "right" if axis is HeadAxis.TILT else "front"
    stamp, seen = s.read.get(station, (-1, 0.0))
    if s.down and s.stopped:
        return Advice(Action(do="touch"), say("The needle is at the end of its travel: reset the tip."))
    if s.rebased:
        return _read(s, axis, say("The knee was moved: read both ends again."))
    if aim is None and s.swept.get(axis) != s.stamp and abs(seen - float(sweep.low)) > 0.02:
        return _read(s, axis, say("Read both ends again: that tells where the nod pivots."))
    to = None if aim is None else float(_worked(sweep, aim)[1])
    if to is not None and stamp == s.stamp and abs(to - seen) <= NEAR:
        return _read(s, axis, say("The needle reads what it should. Read both ends again."))
    if s.at != station:
        if s.down and s.slot:
            return Advice(Action(do="lift"), say("Lift the tip clear before you swing."))
        return Advice(
            Action(do="swing", on=station), say("Swing to the {station}, where you watch the needle.", station=station)
        )
    if not s.down:
        return Advice(Action(do="touch"), say("Bring the tip to the table at the {station}.", station=station))
    if to is None:
        way = "forward" if sense(sweep.rise) == 1 else "back"
        return Advice(
            Action(do="screw", on="nod", way=way, by=2),
            say(
                "Where the nod pivots is not known. {turn_words} Turn the screw: head {way}, a little.",
                turn_words=turn_words(sweep)[1],
                way=way,
            ),
        )
    return _turn_advice(s, axis, to - s.reading(station), to)


def _half(sweep: Sweep) -> Target:
    middle = (sweep.low + sweep.high) / 2
    return Target(middle, middle, middle - sweep.low, middle - sweep.high)


def _turn_advice(s: HeadState, axis: HeadAxis, gap: float, to: float) -> Advice:
    """The right needle rises as the head goes clockwise; the front one falls as it nods back."""
    if axis is HeadAxis.TILT:
        way, per = ("clockwise" if sense(gap) == 1 else "anticlockwise"), ARM
        station = "right"
    else:
        way, per = ("forward" if sense(gap) == 1 else "back"), ARM + s.behind
        station = "front"
    turn = abs(gap) / per
    size = 3 if turn > 0.0022 else 2 if turn > 0.0004 else 1
    words = say(
        "The {station} needle reads {reading} and should read {to}. Turn the screw: head {way}, {turn_words}.",
        station=station,
        reading=s.setup.words(s.reading(station)),
        to=s.setup.words(to),
        way=way,
        turn_words=TURN_WORDS[size],
    )
    return Advice(Action(do="screw", on=str(axis), way=way, by=size), words)


def pivot_behind(s: HeadState) -> Fraction | None:
    """How far the pivot lies behind the spindle, in mm: known, or learnt from two sweeps; None if neither."""
    return Fraction(s.behind) if s.behind_known else pivot_learnt(s.sweeps)


def best_move(s: HeadState, sweep: Sweep) -> str:
    """What to do after a sweep, in words."""
    if s.standard.allows(sweep.rise, sweep.span):
        return say("leave it") if s.tight else say("tighten crosswise, read again")
    nxt = head_next([HeadPass(sweep, s.tight)], (sweep.axis,), s.standard, pivot_behind(s))
    if nxt.target is None:
        return say("turn the screw a little and read both again: that tells where it pivots")
    station, to = _worked(sweep, nxt.target)
    return say("bring the {station} needle to {to}", station=station, to=s.setup.words(float(to)))
