"""Plan again from a measurement. Before the last pass: what is left to the middle of the limits or to another aim,
and how it is divided from here.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.shared import FINISH, GROUP, LIMIT, draw_passes, pass_outcome
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, shown
from incudo.core.reckoning.question import Draw, Given, Question

#: Limits may not meet: this far apart their middle is either of them.
_HAIR = Fraction(1, 10**9)


def _replan(v: Values) -> Outcome:
    low, high = v["lower"], v["upper"]
    if low >= high:
        raise Refused.of("upper", v.num(high), say("must be more than the lower limit, {num}", num=v.num(low)))
    aim = v["aim"] if v.given("aim") else (low + high) / 2
    if not low <= aim <= high:
        raise Refused.of(
            "aim", v.num(aim), say("must lie within the limits, {num} to {size}", num=v.num(low), size=v.len(high))
        )
    kind = v.choice("of")
    left = v["measured"] - aim if kind == "outside" else aim - v["measured"]
    share = left / 2 if kind == "slot on both walls" else left
    formula = "measured − aim" if kind == "outside" else "aim − measured"
    put = f"{v.num(v['measured'])} − {v.num(aim)}" if kind == "outside" else f"{v.num(aim)} − {v.num(v['measured'])}"
    middle = Step("aim", say("middle of the limits"), f"({v.num(low)} + {v.num(high)}) / 2", v.len(aim))
    steps = [
        Step("aim", say("as chosen"), v.num(aim), v.len(aim)) if v.given("aim") else middle,
        Step(say("left to take"), formula, put, v.len(left)),
    ]
    if kind == "slot on both walls":
        steps.append(Step(say("on each wall"), "half", f"{v.num(left)} / 2", v.len(share)))
    first = Output(
        "left",
        say("left on each wall") if kind == "slot on both walls" else say("left to take"),
        Quantity.LENGTH,
        share,
    )
    if share <= 0:
        inside = low <= v["measured"] <= high
        said = say("It is in: leave it.") if inside else say("More is gone than the limits allow. Stop, and ask.")
        return Outcome((first,), tuple(steps), (said,))
    return pass_outcome(v, share, tuple(steps), (first,))


def _one_side(v: Values) -> str:
    """A slot that is taken for a cut on one side. Raises ``ValueError`` for what is no slot."""
    if v.choice("of") != "slot on both walls":
        raise ValueError(say("no slot"))
    return say("inside or depth")


def _halved(v: Values, o: Outcome) -> Fraction:
    """Half of what is left, where only one side is cut. Raises ``ValueError`` for a slot, which is halved rightly."""
    if v.choice("of") == "slot on both walls":
        raise ValueError(say("a slot is halved"))
    return o.answer.value / 2


CALCULATION = Calculation(
    "replan",
    say("Plan again from a measurement"),
    GROUP,
    say("Before the last pass: what is left to the middle of the limits, and how it is divided from here."),
    (
        length("measured", say("Measured now"), 1000),
        length("lower", say("Lower limit"), 1000, zero=True),
        length("upper", say("Upper limit"), 1000),
        choice("of", say("It is"), "outside", say("inside or depth"), say("slot on both walls")),
        length("aim", say("Aim, if not the middle"), 1000, optional=True),
        LIMIT,
        FINISH,
    ),
    _replan,
    (
        Slip(say("the aim was the lower limit, not the middle"), lambda v: v.but(upper=v["lower"] + _HAIR)),
        Slip(say("the aim was the upper limit, not the middle"), lambda v: v.but(lower=v["upper"] - _HAIR)),
        Slip(
            say("half was forgotten: both walls are cut"),
            lambda v: v.but(of=_one_side(v)),
        ),
        Slip(say("it was halved though only one side is cut"), answer=_halved),
        Slip(say("it was taken the wrong way round"), answer=lambda _, o: -o.answer.value),
    ),
    draw_passes,
    order=230,
    holds_reading=True,
)


def ask(d: Draw) -> Question:
    nominal, wide = d.mm(d.size(12, 50)), d.mm("0.004" if d.unit is Unit.INCH else "0.1")
    of = d.pick("outside", say("inside or depth"), say("slot on both walls"))
    over = d.mm(d.size(0.5, 1.5, 0.02))
    measured = nominal + wide / 2 + (over if of == "outside" else -over)
    given: Given = {
        "measured": d.length(shown(measured / d.unit.in_mm, 4)),
        "lower": d.length(shown(nominal / d.unit.in_mm, 4)),
        "upper": d.length(shown((nominal + wide) / d.unit.in_mm, 4)),
        "of": {"value": of, "unit": ""},
        "limit": d.length("0.050" if d.unit is Unit.INCH else "1"),
        "finish": d.length("0.010" if d.unit is Unit.INCH else "0.25"),
    }
    each = say(" on each wall") if of == "slot on both walls" else ""
    return Question(
        "replan", say("{name}. How much is left to take{each}?", name=d.name, each=each), given, d.unit, *d.dial
    )
