"""What a practised hand does at the holding rig."""

from __future__ import annotations

from incudo.core.kernel.say import say
from incudo.core.practice.rigs.base import Action, Advice
from incudo.core.practice.rigs.hold.state import HoldState, size
from incudo.core.setup.holding import (
    choose,
)


def advise(s: HoldState) -> Advice:
    """The next thing to do, in a vise or under straps."""
    free = "left" if s.runs_out == "right" else "right"
    if s.strapped:
        return strap_advice(s, free)
    best = choose(s.work, s.vise, s.drawer, s.cuts, s.holes, s.setup.unit)[0].pair
    wanted = None if best is None else s.drawer.index(best)
    if not s.chosen or s.pair != wanted:
        if wanted is None:
            return Advice(Action(do="bed"), say("No pair is right here: the bed itself holds it best."))
        return Advice(
            Action(do="pair", by=wanted),
            say(
                "Proud by the cut and a little, gripped by a third: the pair of {size}.",
                size=size(s, s.drawer[wanted].height),
            ),
        )
    if s.bar != s.rough:
        why = (
            say("The face at the moving jaw is rough: put the soft round bar between.")
            if s.rough
            else say("No bar here.")
        )
        return Advice(Action(do="bar"), why)
    if s.stop != free:
        return Advice(
            Action(do="stop", on=free),
            say("The cut runs out at the {runs_out}: the stop goes to the {free}.", runs_out=s.runs_out, free=free),
        )
    for ready, what, words in (
        (s.tight, "tighten", say("Tighten the vise.")),
        (s.tapped, "tap", say("Tightening lifts the work: tap it down.")),
        (s.tried, "slips", say("Try the paper slips: they must not pull out.")),
        (
            bool(s.passes and s.passes[-1].words == "good"),
            "try",
            say("Run the cutter over it with the spindle stopped."),
        ),
    ):
        if not ready:
            return Advice(Action(do=what), words)
    return Advice(Action(do="finish"), say("Nothing in the way, held well: finish."))


def strap_advice(s: HoldState, free: str) -> Advice:
    """The next thing to do under straps; ``free`` is the side on which nothing runs out."""
    through = any(h.through for h in s.holes)
    for ready, action, words in (
        (
            s.pair is not None or not through,
            Action(do="pair", by=0),
            say("A drill comes out below: parallels under the work."),
        ),
        (
            s.stop == free,
            Action(do="stop", on=free),
            say("A stop at the {free}, where the cut does not run out.", free=free),
        ),
        (
            s.strap_side == free,
            Action(do="strap", on=free),
            say("The strap at the {free}, clear of the cutter.", free=free),
        ),
        (s.second, Action(do="second"), say("A second strap beside it: one lets the work turn about its bolt.")),
        (
            s.bolt == "near",
            Action(do="bolt", on="near"),
            say("The bolt close to the work: most of its force holds there."),
        ),
        (s.heel == "hair-higher", Action(do="heel", on="hair-higher"), say("The heel a hair higher than the work.")),
        (s.tight, Action(do="tighten"), say("Tighten both, a little each in turn.")),
        (
            bool(s.passes and s.passes[-1].words == "good"),
            Action(do="try"),
            say("Run the cutter over it with the spindle stopped."),
        ),
    ):
        if not ready:
            return Advice(action, words)
    return Advice(Action(do="finish"), say("Nothing in the way, held well: finish."))
