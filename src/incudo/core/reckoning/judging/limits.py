"""Limits from a tolerance. Nominal and its deviations: the two limits, the middle to aim at, the full width."""

from __future__ import annotations

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Slip
from incudo.core.reckoning.inputs import Values, length
from incudo.core.reckoning.judging.shared import GROUP, draw_limits, limits
from incudo.core.reckoning.question import Draw, Given, Question


def _plus_minus(v: Values) -> Outcome:
    low, high = v["nominal"] + v["lower"], v["nominal"] + v["upper"]
    steps = (
        Step(
            say("lower limit"),
            say("nominal + lower deviation"),
            f"{v.num(v['nominal'])} + ({v.num(v['lower'])})",
            v.len(low),
        ),
        Step(
            say("upper limit"),
            say("nominal + upper deviation"),
            f"{v.num(v['nominal'])} + ({v.num(v['upper'])})",
            v.len(high),
        ),
    )
    return limits(v, low, high, steps)


CALCULATION = Calculation(
    "limits",
    say("Limits from a tolerance"),
    GROUP,
    say("Nominal and its deviations: the two limits, the middle to aim at, the full width."),
    (
        length("nominal", say("Nominal"), 3000),
        length("upper", say("Upper deviation"), 50, low=-50),
        length("lower", say("Lower deviation (with its sign)"), 50, low=-50),
    ),
    _plus_minus,
    (
        Slip(say("the sign of the lower deviation was lost"), lambda v: v.but(lower=-v["lower"])),
        Slip(say("the upper deviation was taken for the lower"), answer=lambda v, _: v["nominal"] - abs(v["upper"])),
        Slip(say("the tolerance was halved"), lambda v: v.but(lower=v["lower"] / 2)),
        Slip(say("the other limit was given"), answer=lambda _, o: o.results[1].value),
    ),
    draw_limits,
    order=320,
)


def ask(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    up, down = (
        d.pick(*(("0.002", "0.005", "0.000") if inch else ("0.05", "0.1", "0"))),
        d.pick(*(("-0.003", "-0.001", "-0.010") if inch else ("-0.02", "-0.15", "-0.05"))),
    )
    given: Given = {"nominal": d.length(d.size(10, 80)), "upper": d.length(up), "lower": d.length(down)}
    return Question("limits", say("What is the lower limit?"), given, d.unit, d.fine[0] / 10, "exactly")
