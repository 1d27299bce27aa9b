"""In, out, or too close to call. A reading, corrected for the zero error, against limits guarded by the
instrument's uncertainty.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.measuring.tolerance import Limits
from incudo.core.measuring.verdict import Measured, Metal, School, Verdict, judge
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, shown
from incudo.core.reckoning.judging.shared import GROUP, bar
from incudo.core.reckoning.question import Draw, Given, Question

JUDGED = (Verdict.IN, Verdict.OUT, Verdict.TOO_CLOSE)


VERDICTS = ("in", "out", say("too close to call"))


def _verdict(v: Values) -> Outcome:
    low, high, x = v["lower"], v["upper"], v["reading"] - v["zero"]
    if low >= high:
        raise Refused.of("upper", v.num(high), say("must be more than the lower limit, {num}", num=v.num(low)))
    u = v["unsure"] if v.choice("school") == "guard band" else Fraction(0)
    limits = Limits(low, high, v.unit, 0, Step("limits", say("as given"), v.num(low), v.len(high)))
    judged = judge(Measured(x, u, u), limits, Metal.NONE, School.GUARD_BAND, v.unit)
    found = JUDGED.index(judged.verdict)
    steps = (
        Step("corrected", say("reading − zero error"), f"{v.num(v['reading'])} − ({v.num(v['zero'])})", v.len(x)),
        Step(say("in from … to"), "LL + U … UL − U", f"U {v.num(u)}", f"{v.num(low + u)} … {v.num(high - u)}"),
        Step(say("out beyond"), "LL − U … UL + U", f"U {v.num(u)}", f"{v.num(low - u)} … {v.num(high + u)}"),
    )
    said = (say("Too close to call: measure better, with a finer instrument."),) if found == 2 else ()
    results = (
        Output("verdict", say("it is"), Quantity.CHOICE, Fraction(found), VERDICTS),
        Output("value", say("corrected reading"), Quantity.LENGTH, x),
    )
    return Outcome(results, steps, said)


CALCULATION = Calculation(
    "verdict",
    say("In, out, or too close to call"),
    GROUP,
    say("A reading, corrected for the zero error, against limits guarded by the instrument's uncertainty."),
    (
        length("reading", say("Reading"), 3000, low=-100),
        length("zero", say("Zero error"), 5, low=-5, default="0"),
        length("lower", say("Lower limit"), 3000, zero=True),
        length("upper", say("Upper limit"), 3000),
        length("unsure", say("Uncertainty U"), 10, zero=True),
        choice("school", say("The shop judges by"), say("guard band"), say("bare limits")),
    ),
    _verdict,
    (
        Slip(say("the uncertainty was forgotten"), lambda v: v.but(school=say("bare limits"))),
        Slip(say("the zero error was forgotten"), lambda v: v.but(zero=Fraction(0))),
        Slip(say("the zero error was added"), lambda v: v.but(zero=-v["zero"])),
    ),
    lambda v, o: bar(v, v["lower"], v["upper"], o.results[1].value, "corrected", v["unsure"]),
    order=370,
    holds_reading=True,
)


def ask(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    nominal, half = d.mm(d.size(10, 60)), d.mm("0.004" if inch else "0.1")
    u = d.mm("0.0015" if inch else "0.04")
    off = half * d.rng.choice((0, 70, 90, 110, 150)) / 100 * d.rng.choice((1, -1))
    zero = d.pick("0", "0.002", "-0.001") if inch else d.pick("0", "0.05", "-0.03")
    unit = d.unit.in_mm
    given: Given = {
        "reading": d.length(shown((nominal + off) / unit + Fraction(zero), 4)),
        "zero": d.length(zero),
        "lower": d.length(shown((nominal - half) / unit, 4)),
        "upper": d.length(shown((nominal + half) / unit, 4)),
        "unsure": d.length(shown(u / unit, 4)),
        "school": {"value": say("guard band"), "unit": ""},
    }
    return Question("verdict", say("What is the verdict, guarded by the uncertainty?"), given, "", Fraction(0), "")
