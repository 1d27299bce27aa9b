"""Series of moves by a dial. Several places in the order that comes to each from the same side, with the dial's
reading at every one.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating.dial import series
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Input, Quantity, Values, choice, length, shown
from incudo.core.reckoning.locate.shared import BACKLASH, GRADUATIONS, GROUP, TURN, dial_of


def _series(v: Values) -> Outcome:
    dial, side = dial_of(v), 1 if v.choice("side") == "from below" else -1
    places = v.list("places")
    found = series(dial, v["zero"], places, side=side, last=side, zero=v["zero"])
    results, steps = [], []
    for i, (place, legs) in enumerate(found, 1):
        last = legs[-1] if legs else None
        reading = dial.reading(place, v["zero"])
        results.append(Output(f"at{i}", say("{i}. {size}: dial", i=i, size=v.len(place)), Quantity.LENGTH, reading))
        turns = (
            say("{turns} turns and {divisions} divisions", turns=last.turns, divisions=shown(last.divisions, 1))
            if last
            else say("no move")
        )
        steps.append(
            Step(
                say("to {size}", size=v.len(place)),
                say("(place − zero) within one turn"),
                f"{v.num(place)} − {v.num(v['zero'])}",
                say("{size}; {turns}", size=v.len(reading), turns=turns),
            )
        )
    said = (say("In the order that approaches each from the same side, each measured from zero: no error builds up."),)
    return Outcome(tuple(results), tuple(steps), said)


def _draw_series(v: Values, o: Outcome) -> Picture:
    places = sorted((*v.list("places"), v["zero"]))
    low, wide = places[0], max(places[-1] - places[0], Fraction(1))
    shapes = [p.line(Ink.SCRIBE, (0, 0), (100, 0))]
    for i, x in enumerate(sorted(set(v.list("places")))):
        at = 100 * float((x - low) / wide)
        shapes += [p.line(Ink.ANSWER, (at, -3), (at, 3)), p.text((at, 7 if i % 2 else 12), v.num(x), Ink.ANSWER)]
    zero = 100 * float((v["zero"] - low) / wide)
    shapes += [p.line(Ink.CUTTER, (zero, -6), (zero, 6)), p.text((zero, -10), "zero")]
    right = v.choice("side") == "from below"
    shapes.append(p.arrow(Ink.CUTTER, (20 if right else 80, -16), (80 if right else 20, -16)))
    return Picture(say("The places along the axis, and the side each is approached from."), tuple(shapes))


CALCULATION = Calculation(
    "dial-series",
    say("Series of moves by a dial"),
    GROUP,
    say("Several places, in the order that approaches each from the same side, with the dial reading at each."),
    (
        Input("places", say("Places"), Quantity.LENGTHS, Fraction(-2000), Fraction(2000), with_low=True),
        length("zero", say("The dial shows 0 at"), 2000, low=-2000, default="0"),
        TURN,
        GRADUATIONS,
        BACKLASH,
        choice("side", say("Approach each"), say("from below"), say("from above")),
    ),
    _series,
    (
        Slip(
            say("the order of the list was kept"),
            answer=lambda v, _: dial_of(v).reading(v.list("places")[0], v["zero"]),
        ),
        Slip(say("the place itself was taken for the reading"), answer=lambda v, o: min(v.list("places"))),
    ),
    _draw_series,
    order=100,
)
