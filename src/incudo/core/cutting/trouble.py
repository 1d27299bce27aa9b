"""Something is not right: what is heard, seen, felt or smelled, what it probably is, and what to look at in order.

The likeliest cause stands first. Cures say this operation's own numbers where they have any. The machine's manual, the
shop's rules and whoever teaches come before anything here.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from typing import Literal

from incudo.core.cutting.step import StepKind
from incudo.core.kernel.say import say
from incudo.core.planning.course import Course
from incudo.core.planning.settle import Settled
from incudo.core.reckoning.inputs import shown

#: Without steps a spindle is turned down to so much of its speed.
SLOWER = Fraction(7, 10)


class Sense(StrEnum):
    """By what something is noticed."""

    HEARD = "heard"
    SEEN = "seen"
    FELT = "felt"
    SMELLED = "smelled"
    HAPPENED = "happened"


def sense_words() -> dict[Sense, str]:
    """Each as a heading."""
    return {
        Sense.HEARD: say("Heard"),
        Sense.SEEN: say("Seen"),
        Sense.FELT: say("Felt"),
        Sense.SMELLED: say("Smelled"),
        Sense.HAPPENED: say("Happened"),
    }


@dataclass(frozen=True)
class Sign:
    """One sign. ``causes`` are pairs of what it probably is and what helps; ``zeros`` which zeros are lost by it.

    ``stop``: the spindle is stopped at once; ``call``: whoever teaches is called before it goes on. ``again`` is the
    kind of step from which the card goes on then.
    """

    id: str
    by: Sense
    name: str
    now: str
    causes: tuple[tuple[str, str], ...]
    stop: bool = True
    call: bool = False
    zeros: str = ""
    again: StepKind | Literal[""] = ""


def slower_words(course: Course, n: Settled | None) -> str:
    """The next lower speed of this machine, from the one that is set for an operation."""
    if n is None or not n.speed:
        return say("Take the next lower speed.")
    spindle = course.shop.machine.spindle
    below = [s for s in spindle.steps if s < n.speed]
    if spindle.steps and not below:
        return say("{now} rpm is this machine's slowest: take a smaller cutter.", now=shown(n.speed, 0))
    if spindle.steps:
        return say("From {now} to {lower} rpm, the next lower step.", now=shown(n.speed, 0), lower=below[-1])
    lower = max(round(n.speed * SLOWER), min(r[0] for r in spindle.ranges))
    return say("From {now} to about {lower} rpm.", now=shown(n.speed, 0), lower=lower)


def signs(course: Course, n: Settled | None) -> tuple[Sign, ...]:
    """Every sign, for an operation with its numbers; for none in general."""
    slower = slower_words(course, n)
    fluid = course.shop.stock.material.fluid
    wet = say("Use {fluid}.", fluid=fluid) if fluid else say("Cut it dry, and clear the chips.")
    back = say("Stop the feed, back off, stop the spindle.")
    halt = say("Stop the spindle now. Wait until it has stopped.")
    leave = say("Stop. Leave everything as it is and call.")
    level = course.shop.level
    shorter = (
        say("Close to the column, and the support close to it; lower in the jaws.")
        if level
        else say("Shorter in the collet; lower in the jaws.")
    )
    refit = (
        say("Clean the collars, the arbor and its taper, fit it again.")
        if level
        else say("Clean collet and taper, fit it again.")
    )
    blunt = say("The edge is blunt or chipped.")
    change = say("Check it with the spindle stopped; change the cutter.")
    found_again = say("The zeros are lost: find them again before the next cut.")
    return (
        Sign(
            "chatter",
            Sense.HEARD,
            say("It chatters, hums or rattles"),
            back,
            (
                (say("Cutter or work sticks out too far."), shorter),
                (say("Too fast for this overhang."), slower),
                (say("Something is loose."), say("Lock the axes that do not move; try the work by hand.")),
                (say("It only rubs."), say("Feed a little faster, take less depth.")),
            ),
        ),
        Sign(
            "squeal",
            Sense.HEARD,
            say("It squeals"),
            halt,
            ((blunt, change), (say("Too fast."), slower), (say("It runs dry."), wet)),
        ),
        Sign(
            "knock",
            Sense.HEARD,
            say("It knocks once in every turn"),
            halt,
            (
                (say("One tooth is broken."), change),
                (say("The cutter does not run true."), refit),
                (say("The cut is interrupted."), say("Over a gap that is usual: less feed until it is past.")),
            ),
        ),
        Sign(
            "crunch",
            Sense.HEARD,
            say("The tap crunches"),
            say("Stop turning."),
            (
                (say("Chips are packed in the hole."), say("Back it out slowly, clear them, oil, go on by hand.")),
                (say("It has hit the bottom."), say("Back it out; the thread is as deep as it gets.")),
                (say("The hole is too small."), say("Measure the drill against the table.")),
            ),
        ),
        Sign(
            "slows",
            Sense.HEARD,
            say("The spindle slows down"),
            back,
            (
                (say("Too deep or too much feed for the motor."), say("Half the depth, the same feed.")),
                (say("The belt slips."), say("Isolate it, look at the belt, call.")),
                (blunt, change),
            ),
        ),
        Sign(
            "blue",
            Sense.SEEN,
            say("The chips turn blue"),
            back,
            ((say("Too fast."), slower), (blunt, change), (say("It runs dry."), wet)),
        ),
        Sign(
            "smoke",
            Sense.SEEN,
            say("It smokes"),
            say("Stop the spindle at once. If it burns: the stop, away from it, the shop's rules for fire."),
            ((say("The edge rubs and is hot."), change), (say("Too fast."), slower), (say("Oil on a hot edge."), wet)),
            call=True,
        ),
        Sign(
            "finish",
            Sense.SEEN,
            say("The surface is torn or rough"),
            say("Finish the pass, then stop and look."),
            (
                (say("Metal sticks to the edge."), wet),
                (blunt, change),
                (say("Too much feed for a last pass."), say("A light last pass at half the feed.")),
            ),
            stop=False,
        ),
        Sign(
            "burr",
            Sense.SEEN,
            say("Large burrs at the edges"),
            say("Finish the pass, then stop and look."),
            (
                (blunt, change),
                (say("It runs out where nothing holds the edge."), say("Deburr before it is turned over.")),
            ),
            stop=False,
        ),
        Sign(
            "dust",
            Sense.SEEN,
            say("Dust instead of chips"),
            back,
            ((say("It rubs: too little feed."), say("Feed until it makes chips.")), (blunt, change)),
        ),
        Sign(
            "strings",
            Sense.SEEN,
            say("Long strings round the drill"),
            say("Stop the spindle. Never by hand while it turns."),
            (
                (say("Too little feed, no pecking."), say("Out of the hole every diameter; a hook, not fingers.")),
                (blunt, change),
            ),
        ),
        Sign(
            "moved",
            Sense.SEEN,
            say("The work has moved"),
            leave,
            (
                (say("Too little grip, or it was not seated."), say("Take it out, clean, hold it deeper.")),
                (say("Too heavy a cut."), say("Less depth.")),
            ),
            call=True,
            zeros=found_again,
            again=StepKind.HOLD,
        ),
        Sign(
            "pulled",
            Sense.SEEN,
            say("The cutter has come down out of its holder"),
            leave,
            (
                (
                    say("Oil or a chip in the collet, not tight enough."),
                    say("Clean it, tighten it, or an end-mill holder."),
                ),
                (say("Too heavy a cut."), say("Less depth.")),
            ),
            call=True,
            zeros=say("Z is lost: touch off again with this cutter. X and Y are still good if the work did not move."),
            again=StepKind.CUTTER,
        ),
        Sign(
            "differ",
            Sense.SEEN,
            say("Dial and readout do not agree"),
            say("Stop. Set nothing by either of them."),
            (
                (say("The backlash was not taken up."), say("Back off a whole turn and approach from the right side.")),
                (say("A turn was miscounted."), say("Go back to the zero and count again.")),
                (say("The dial's ring has slipped."), say("Set it again over the zero; does it lock?")),
            ),
            again=StepKind.ZERO,
        ),
        Sign(
            "line",
            Sense.SEEN,
            say("A step between two cuts side by side"),
            say("Finish the pass, then stop and look."),
            (
                (say("The head is not square to the table."), say("Read it with an indicator; square it.")),
                (say("Z was not locked."), say("Lock it, take one light pass over all.")),
            ),
            stop=False,
        ),
        Sign(
            "slope",
            Sense.SEEN,
            say("One end is deeper than the other"),
            say("Stop. Measure at both ends before anything is cut again."),
            (
                (say("A chip lies under the work."), say("Take it out, clean, seat it until the parallels hold.")),
                (say("The parallels are not a pair."), say("Measure both.")),
            ),
            zeros=say("Once it is reseated, find the zeros again."),
            again=StepKind.HOLD,
        ),
        Sign(
            "wanders",
            Sense.SEEN,
            say("The drill wanders"),
            back,
            (
                (say("It was not spotted, or too small."), say("Spot it deeper, begin again.")),
                (say("Its point is ground off the middle."), say("Use another drill.")),
            ),
        ),
        Sign(
            "hot",
            Sense.FELT,
            say("The work is hot"),
            say("Go on gently; let it cool before you measure."),
            ((say("It runs dry."), wet), (blunt, change)),
            stop=False,
        ),
        Sign(
            "light",
            Sense.FELT,
            say("The handle suddenly goes light"),
            halt,
            (
                (
                    say("The cutter pulls the table: a climb cut with play."),
                    say("Feed the other way, against the cutter."),
                ),
                (say("The cutter is broken, nothing is cut."), change),
            ),
            call=True,
        ),
        Sign(
            "heavy",
            Sense.FELT,
            say("The handle goes heavy"),
            back,
            (
                (say("A lock is on."), say("Which axis feeds? Unlock that one.")),
                (say("Chips are packed."), say("Clear them with the spindle stopped.")),
                (blunt, change),
                (say("The end of the travel."), say("Never force it.")),
            ),
        ),
        Sign(
            "jerks",
            Sense.FELT,
            say("The table jerks"),
            back,
            (
                (say("A climb cut with play in the screw."), say("Feed the other way, against the cutter.")),
                (say("Dry ways or tight gibs."), say("Leave the gibs alone; report it.")),
            ),
        ),
        Sign(
            "burnt",
            Sense.SMELLED,
            say("It smells of burnt rubber or varnish"),
            say("Stop, isolate the machine, call. Nobody starts it again."),
            ((say("Belt or motor."), say("The machine is tagged out until somebody qualified has looked.")),),
            call=True,
        ),
        Sign(
            "hot-oil",
            Sense.SMELLED,
            say("It smells of hot oil"),
            back,
            ((say("The edge rubs."), change), (say("Too fast."), slower)),
        ),
        Sign(
            "broke",
            Sense.HAPPENED,
            say("The cutter broke"),
            say("Stop. Hands away until it has stopped. Leave everything as it is and call."),
            (
                (
                    say("Too deep, too much feed, or it was pulled in."),
                    say("Half the depth with the new one; which way did it feed?"),
                ),
                (say("Chips were packed."), say("Clear them more often.")),
                (say("A piece is left in the work."), say("Get it out before anything is cut there.")),
            ),
            call=True,
            zeros=say(
                "Z is lost with the cutter: touch off again. X and Y are still good if the work did not move: "
                "check at the zero."
            ),
            again=StepKind.CUTTER,
        ),
        Sign(
            "knocked",
            Sense.HAPPENED,
            say("A handle was knocked"),
            halt,
            ((say("The position is lost."), say("Go back to the zero and approach from the right side.")),),
            zeros=say("If nobody knows how many turns it was: find the zero again."),
            again=StepKind.ZERO,
        ),
        Sign(
            "power",
            Sense.HAPPENED,
            say("Power cut"),
            say("Switch off, so that it cannot start by itself. Back the cutter out by hand."),
            ((say("It can come back at any time."), say("Wait for the instructor, then ask for a new start.")),),
            zeros=say("Dials keep their place; a readout may not: try it over the zero."),
            call=True,
        ),
        Sign(
            "too-deep",
            Sense.HAPPENED,
            say("It was cut too deep"),
            leave,
            (
                (
                    say("A turn was miscounted, or the depth was set in the work."),
                    say("Measure; nothing more is cut before it is decided."),
                ),
            ),
            call=True,
        ),
        Sign(
            "jammed",
            Sense.HAPPENED,
            say("The tap or reamer is stuck"),
            say("Stop. The spindle stays isolated."),
            (
                (
                    say("Chips, or it was turned backwards."),
                    say("Oil; small movements both ways by hand; never force it."),
                ),
                (say("It does not come."), say("Call: a broken one is harder to get out.")),
            ),
            call=True,
        ),
    )
