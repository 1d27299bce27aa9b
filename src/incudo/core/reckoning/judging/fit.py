"""Limits of a fit. Size, letter and grade, from the standard tables; a capital letter is a hole, a small one a
shaft.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.measuring import fits
from incudo.core.reckoning.calculation import Calculation, Outcome, Slip
from incudo.core.reckoning.inputs import Values, choice, count, length, shown
from incudo.core.reckoning.judging.shared import GROUP, draw_limits, limits
from incudo.core.reckoning.question import Draw, Given, Question


def _fit(v: Values) -> Outcome:
    low, high = fits.deviations(v["size"], v.choice("letter"), int(v["grade"]))
    tolerance = high - low
    kind = "hole" if v.choice("letter").isupper() else "shaft"
    steps = (
        Step(
            "tolerance",
            say("IT{v} for this size", v=shown(v["grade"])),
            v.num(v["size"]),
            f"{shown(tolerance * 1000, 1)} µm",
        ),
        Step(
            "deviations",
            f"{kind} {v.choice('letter')}{shown(v['grade'])}",
            say("standard table"),
            say("{low} to {high} µm", low=shown(low * 1000, 1), high=shown(high * 1000, 1)),
        ),
    )
    return limits(v, v["size"] + low, v["size"] + high, steps)


CALCULATION = Calculation(
    "fit",
    say("Limits of a fit"),
    GROUP,
    say("Size, letter and grade, from the standard tables; a capital letter is a hole, a small one a shaft."),
    (
        length("size", say("Nominal size"), 400),
        choice("letter", say("Letter"), *fits.LETTERS),
        count("grade", "Grade", min(fits.GRADES), max(fits.GRADES), default="7"),
    ),
    _fit,
    (
        Slip(say("the next finer grade was taken"), lambda v: v.but(grade=v["grade"] - 1)),
        Slip(say("the next coarser grade was taken"), lambda v: v.but(grade=v["grade"] + 1)),
        Slip(say("hole and shaft were mixed up"), lambda v: v.but(letter=v.choice("letter").swapcase())),
        Slip(say("the other limit was given"), answer=lambda _, o: o.results[1].value),
        Slip(say("microns were read as hundredths"), answer=lambda v, o: v["size"] + (o.answer.value - v["size"]) * 10),
    ),
    draw_limits,
    order=350,
)


def ask(d: Draw) -> Question:
    given: Given = {
        "size": {"value": str(d.rng.randint(4, 60)), "unit": "mm"},
        "letter": {"value": d.pick("H", "G", "F", "g", "f", "h", "k", "p"), "unit": ""},
        "grade": {"value": d.pick("6", "7", "8"), "unit": ""},
    }
    return Question(
        "fit", say("By the table of fits: what is the lower limit?"), given, "mm", Fraction(1, 5000), "exactly"
    )
