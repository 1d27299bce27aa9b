"""Growth with warmth. How much longer warm work is than at 20 °C."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Input, Quantity, Values, length, shown
from incudo.core.reckoning.judging.shared import GROUP


def _growth(v: Values) -> Outcome:
    part = v["micro"] / 1_000_000 * v["warmer"]
    cool = v["length"] / (1 + part)
    put = f"{v.num(v['length'])} / (1 + {shown(v['micro'])} / 10⁶ · {shown(v['warmer'], 2)})"
    steps = (
        Step(say("size at 20 °C"), "reading / (1 + α · ΔT)", put, v.len(cool)),
        Step(
            "growth", say("reading − size at 20 °C"), f"{v.num(v['length'])} − {v.num(cool)}", v.len(v["length"] - cool)
        ),
    )
    results = (
        Output("growth", "growth", Quantity.LENGTH, v["length"] - cool),
        Output("cool", say("size at 20 °C"), Quantity.LENGTH, cool),
    )
    return Outcome(results, steps, (say("Better: let it cool beside the instrument."),))


def _draw_growth(v: Values, o: Outcome) -> Picture:
    shapes = (
        p.box(Ink.WORK, 0, 0, 90, 14),
        p.box(Ink.ANSWER, 90, 0, 96, 14),
        p.size((0, -6), (90, -6), v.len(o.results[1].value)),
        p.text((93, 20), f"+ {v.len(o.answer.value)}", Ink.ANSWER),
    )
    return Picture(
        say("Warm work is {size} longer; the growth is drawn larger than it is.", size=v.len(o.answer.value)), shapes
    )


CALCULATION = Calculation(
    "growth",
    say("Thermal growth"),
    GROUP,
    say("How much longer warm work is than at 20 °C."),
    (
        length("length", say("Measured length"), 2000),
        Input(
            "micro",
            say("Expansion, millionths per °C"),
            Quantity.NUMBER,
            Fraction(1),
            Fraction(200),
            with_low=True,
            default="12",
            fills="material.expansion",
        ),
        Input("warmer", say("Warmer than 20 °C by"), Quantity.TEMPERATURE, Fraction(-40), Fraction(150), with_low=True),
    ),
    _growth,
    (
        Slip(say("°F were taken for °C"), lambda v: v.but(warmer=v["warmer"] * Fraction(9, 5))),
        Slip(say("a power of ten was lost"), lambda v: v.but(micro=v["micro"] * 10)),
    ),
    _draw_growth,
    order=400,
    holds_reading=True,
)
