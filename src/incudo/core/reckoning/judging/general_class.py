"""Limits from a general class. General tolerances for linear sizes without a tolerance of their own: fine,
medium, coarse, very coarse.
"""

from __future__ import annotations

from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.measuring import fits
from incudo.core.reckoning.calculation import Calculation, Outcome, Slip
from incudo.core.reckoning.inputs import Values, choice, length
from incudo.core.reckoning.judging.shared import GROUP, draw_limits, limits


def _general(v: Values) -> Outcome:
    t = fits.general(v["nominal"], v.choice("class"))
    step = Step(
        "tolerance",
        say("table of the general class by size"),
        f"{v.num(v['nominal'])}, {v.choice('class')}",
        f"±{v.len(t)}",
    )
    return limits(v, v["nominal"] - t, v["nominal"] + t, (step,))


CALCULATION = Calculation(
    "general-class",
    say("Limits from a general class"),
    GROUP,
    say("General tolerances for linear sizes without a tolerance of their own: fine, medium, coarse, very coarse."),
    (
        length("nominal", say("Nominal"), 2000, low=0.5, zero=True),
        choice("class", say("Class"), "medium", "fine", "coarse", say("very coarse")),
    ),
    _general,
    (
        Slip(
            say("the next finer class was taken"), lambda v: v.but(**{"class": fits.next_class(v.choice("class"), -1)})
        ),
        Slip(
            say("the next coarser class was taken"), lambda v: v.but(**{"class": fits.next_class(v.choice("class"), 1)})
        ),
        Slip(say("the other limit was given"), answer=lambda _, o: o.results[1].value),
    ),
    draw_limits,
    order=340,
)
