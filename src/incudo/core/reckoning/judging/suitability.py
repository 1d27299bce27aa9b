"""Is this instrument good enough?. Its uncertainty against the full width of the limits: at most a tenth is
ideal, a quarter allowed.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.picture import Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.measuring.instrument import Suitability, grade
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, shown
from incudo.core.reckoning.judging.shared import GROUP, bar
from incudo.core.reckoning.question import Draw, Given, Question

SUITS = (Suitability.IDEAL, Suitability.ALLOWED, Suitability.COARSE, Suitability.USELESS)


SUIT_WORDS = ("ideal", "allowed", say("too coarse"), say("far too coarse: nothing could be called in"))


def _suit(v: Values) -> Outcome:
    u, width = v["unsure"], v["width"]
    ratio = u / width
    found = SUITS.index(grade(u, width))
    step = Step(
        say("share of the width"),
        say("U / (UL − LL): a tenth ideal, a quarter allowed"),
        f"{v.num(u)} / {v.num(width)}",
        shown(ratio, 3),
    )
    results = (
        Output("suits", say("the instrument is"), Quantity.CHOICE, Fraction(found), SUIT_WORDS),
        Output("least", say("narrowest limits it is allowed for"), Quantity.LENGTH, 4 * u),
        Output("ideal", say("ideal from a width of"), Quantity.LENGTH, 10 * u),
    )
    return Outcome(results, (step,))


def _draw_suit(v: Values, o: Outcome) -> Picture:
    half = v["width"] / 2
    return bar(
        v,
        -half,
        half,
        Fraction(0),
        say("±{size} within {size2}.", size=v.len(v["unsure"]), size2=v.len(v["width"])),
        v["unsure"],
    )


CALCULATION = Calculation(
    "suitability",
    say("Is this instrument good enough?"),
    GROUP,
    say("Its uncertainty against the full width of the limits: at most a tenth is ideal, a quarter allowed."),
    (length("unsure", say("Uncertainty U"), 10), length("width", say("Full width of the limits"), 100)),
    _suit,
    (
        Slip(say("U was held against half the width"), lambda v: v.but(width=v["width"] / 2)),
        Slip(say("2U was held against the width"), lambda v: v.but(unsure=v["unsure"] * 2)),
        Slip(say("half of U was held against the width"), lambda v: v.but(unsure=v["unsure"] / 2)),
    ),
    _draw_suit,
    order=360,
)


def ask(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    given: Given = {
        "unsure": d.length(d.pick(*(("0.0002", "0.0015", "0.001") if inch else ("0.005", "0.04", "0.02")))),
        "width": d.length(d.pick(*(("0.002", "0.004", "0.010", "0.001") if inch else ("0.05", "0.1", "0.2", "0.03")))),
    }
    return Question("suitability", say("How does this instrument suit these limits?"), given, "", Fraction(0), "")
