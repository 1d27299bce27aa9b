"""Power of a cut. Rate of removal times the material's unit power, against the motor. It warns, it forbids
nothing.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import UNITS, Input, Quantity, Values, length, shown
from incudo.core.reckoning.speed.shared import GROUP


def _power(v: Values) -> Outcome:
    removed = v["engaged"] * v["deep"] * v["feed"] / 1000
    need = removed * v["unit_power"]
    at_motor = need / (v["efficiency"] / 100)
    inch = v.unit is Unit.INCH
    cubic = shown(removed / UNITS[Quantity.REMOVAL]["in³/min"], 2) + " in³" if inch else shown(removed, 2) + " cm³"
    steps = (
        Step(
            say("rate of removal"),
            "ae · ap · feed",
            f"{v.num(v['engaged'])} · {v.num(v['deep'])} · {v.feed(v['feed'])}",
            f"{cubic}/min",
        ),
        Step(
            say("at the cutter"),
            say("rate · unit power"),
            say("{cubic}/min · unit power", cubic=cubic),
            f"{shown(need, 0)} W",
        ),
        Step(
            say("at the motor"),
            "power / efficiency",
            f"{shown(need, 0)} / {shown(v['efficiency'])} %",
            f"{shown(at_motor, 0)} W",
        ),
    )
    said = []
    if v.given("motor"):
        share = at_motor / v["motor"] * 100
        said.append(
            say("{share} % of the motor.", share=shown(share, 0))
            + (
                say(" Too much: less depth, less feed.")
                if share > 100
                else say(" Close to its limit: listen.")
                if share > 80
                else ""
            )
        )
    results = (
        Output("motor", say("power at the motor"), Quantity.POWER, at_motor),
        Output("removed", say("rate of removal"), Quantity.REMOVAL, removed),
    )
    return Outcome(results, steps, tuple(said))


def _draw_power(v: Values, o: Outcome) -> Picture:
    need = float(o.answer.value)
    motor = float(v["motor"]) if v.given("motor") else need * 1.5
    most = max(need, motor)
    shapes = [
        p.box(Ink.WORK, 0, 0, 100 * motor / most, 9),
        p.box(Ink.CUTTER, 0, 2, 100 * need / most, 7),
        p.text(
            (50.0, 13.0),
            say("{value} W of {motor} W", value=shown(o.answer.value, 0), motor=shown(v["motor"], 0))
            if v.given("motor")
            else f"{shown(o.answer.value, 0)} W",
        ),
    ]
    return Picture(say("The cut takes {value} W of the motor.", value=shown(o.answer.value, 0)), tuple(shapes))


CALCULATION = Calculation(
    "power",
    say("Power of a cut"),
    GROUP,
    say("Rate of removal times the material's unit power, against the motor. It warns, it forbids nothing."),
    (
        length("engaged", say("Engaged sideways")),
        length("deep", say("Depth of cut"), 200),
        Input("feed", say("Table feed"), Quantity.FEED, Fraction(0), Fraction(10_000)),
        Input(
            "unit_power",
            say("Unit power of the material"),
            Quantity.UNIT_POWER,
            Fraction(0),
            Fraction(1000),
            fills="material.power",
        ),
        Input(
            "efficiency", say("Efficiency"), Quantity.PERCENT, Fraction(20), Fraction(100), with_low=True, default="80"
        ),
        Input(
            "motor", say("Motor"), Quantity.POWER, Fraction(0), Fraction(50_000), optional=True, fills="machine.watts"
        ),
    ),
    _power,
    (
        Slip(say("the efficiency was forgotten"), lambda v: v.but(efficiency=Fraction(100))),
        Slip(
            say("the efficiency was multiplied, not divided"),
            answer=lambda v, o: o.answer.value * (v["efficiency"] / 100) ** 2,
        ),
        Slip(say("the width was forgotten"), lambda v: v.but(engaged=Fraction(1) * v.unit.in_mm)),
    ),
    _draw_power,
    order=60,
)
