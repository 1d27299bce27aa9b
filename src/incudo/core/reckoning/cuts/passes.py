"""Passes. How stock is divided into passes: an awkward remainder first, then full passes, the finish last."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.reckoning.calculation import Calculation, Outcome, Slip
from incudo.core.reckoning.cuts.shared import FINISH, GROUP, LIMIT, draw_passes, pass_outcome
from incudo.core.reckoning.inputs import Values, length
from incudo.core.reckoning.question import Draw, Given, Question


def _passes(v: Values) -> Outcome:
    return pass_outcome(v, v["stock"], (), ())


CALCULATION = Calculation(
    "passes",
    say("Passes"),
    GROUP,
    say("How stock is divided into passes: an awkward remainder first, then full passes, the finish last."),
    (length("stock", say("Stock to take off"), 100), LIMIT, FINISH),
    _passes,
    (
        Slip(say("the finishing pass was forgotten"), answer=lambda _, o: o.answer.value - 1),
        Slip(say("one pass too many was counted"), answer=lambda _, o: o.answer.value + 1),
    ),
    draw_passes,
    order=220,
)


def ask(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    given: Given = {
        "stock": d.length(d.size(3, 12, 0.1)),
        "limit": d.length(d.pick("0.050", "0.060", "0.100") if inch else d.pick("1", "1.5", "2.5")),
        "finish": d.length(d.pick("0.010", "0.015") if inch else d.pick("0.25", "0.3")),
    }
    return Question(
        "passes", say("{name}. How many passes, the finishing one counted?", name=d.name), given, "", Fraction(0), ""
    )
