"""What a practised hand does at the edge rig."""

from __future__ import annotations

from incudo.core.kernel.say import say
from incudo.core.locating.datum import way_words
from incudo.core.locating.finders import FINDERS
from incudo.core.practice.rigs.base import Action, Advice
from incudo.core.practice.rigs.edge.state import SHIPPED_FINDERS, SPEEDS, EdgeState, said_in


def advise(s: EdgeState) -> Advice:
    """The next thing to do, from the beginning to the zero over the edge."""
    prepared = prepare(s)
    if prepared:
        return prepared
    if s.agreed is None:
        return approach(s)
    if s.zeroed is not None:
        return Advice(Action(do="finish"), say("Zero is over the edge: finish."))
    if not s.raised:
        return Advice(Action(do="raise"), say("Both touches agree. Raise the finder clear of the work first."))
    target = s.slide.dial.nearest(s.agreed + s.side * s.half, s.slide.ring)
    on = s.slide.towards(target, s.side)
    if on:
        return Advice(
            on.action,
            say(
                "On by half the tip, {said_in}, in the same sense. {words}", said_in=said_in(s, s.half), words=on.words
            ),
        )
    return Advice(Action(do="zero"), say("The spindle is over the edge: set the ring to 0."))


def prepare(s: EdgeState) -> Advice | None:
    """What is missing before the work may be approached: burr, holder, finder, speed."""
    dirty, chuck = s.burr > 0, s.holder != "collet"
    if s.speed and (dirty or chuck or not s.finder):
        return Advice(Action(do="speed", by=0), say("Stop the spindle first."))
    if dirty:
        return Advice(Action(do="deburr"), say("There is a burr: the tip would touch it and not the edge."))
    if not s.finder:
        name = SHIPPED_FINDERS[s.setup.unit][0]
        return Advice(Action(do="finder", on=name), say("Take the {name}.", name=FINDERS[name].name))
    if chuck:
        return Advice(
            Action(do="holder", on="collet"), say("Into a collet: a chuck runs out, and the tip kicks early.")
        )
    if not s.right_speed and s.agreed is None:
        low, high = (s.what.speed if s.what else None) or (0, 0)
        right = next(x for x in SPEEDS if low <= x <= high)
        return Advice(
            Action(do="speed", by=right),
            say("Its speed is {low} to {high}: {right} rpm.", low=low, high=high, right=right),
        )
    return None


def approach(s: EdgeState) -> Advice:
    """The next step of creeping to the edge and of setting zero."""
    d, side, gap = s.slide.dial, s.side, s.gap(s.slide.at)
    if s.raised:
        return Advice(Action(do="lower"), say("Lower the finder beside the work."))
    if s.kicked and not s.noted:
        return Advice(Action(do="note"), say("It kicks: note what the dial shows."))
    if s.kicked or gap <= 0:
        return Advice(s.slide.press(-side, d.turn), say("Back off a whole turn, to come again in the same sense."))
    way = say("{turning}: {way_words}", turning=d.turning(side), way_words=way_words(s.slide.axis, side))
    for step in ("turn", "ten"):
        if gap > s.slide.travel(step) + 3 * d.division:
            action = Action(do="turn", on=s.slide.axis.value, way=f"{d.turning(side)}-{step}")
            return Advice(action, say("It is well away: turn {way}.", way=way))
    action = Action(do="turn", on=s.slide.axis.value, way=f"{d.turning(side)}-one")
    return Advice(action, say("Creep up by single divisions, {way}.", way=way))
