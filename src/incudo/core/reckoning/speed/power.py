"""Power of a cut. Rate of removal times the material's unit power, against the motor. It warns, it forbids
nothing.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.working import Step
from incudo.core.reckoning import picture as p
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import UNITS, Input, Quantity, Values, length, shown
from incudo.core.reckoning.picture import Ink, Picture
from incudo.core.reckoning.speed.shared import GROUP


def _power(v: Values) -> Outcome:
    removed = v["engaged"] * v["deep"] * v["feed"] / 1000
    need = removed * v["unit_power"]
    at_motor = need / (v["efficiency"] / 100)
    inch = v.unit is Unit.INCH
    cubic = shown(removed / UNITS[Quantity.REMOVAL]["in³/min"], 2) + " in³" if inch else shown(removed, 2) + " cm³"
    steps = (
        Step(
            "rate of removal",
            "ae · ap · feed",
            f"{v.num(v['engaged'])} · {v.num(v['deep'])} · {v.feed(v['feed'])}",
            f"{cubic}/min",
        ),
        Step("at the cutter", "rate · unit power", f"{cubic}/min · unit power", f"{shown(need, 0)} W"),
        Step(
            "at the motor",
            "power / efficiency",
            f"{shown(need, 0)} / {shown(v['efficiency'])} %",
            f"{shown(at_motor, 0)} W",
        ),
    )
    said = []
    if v.given("motor"):
        share = at_motor / v["motor"] * 100
        said.append(
            f"{shown(share, 0)} % of the motor."
            + (" Too much: less depth, less feed." if share > 100 else " Near its end: listen." if share > 80 else "")
        )
    results = (
        Output("motor", "power at the motor", Quantity.POWER, at_motor),
        Output("removed", "rate of removal", Quantity.REMOVAL, removed),
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
            f"{shown(o.answer.value, 0)} W" + (f" of {shown(v['motor'], 0)} W" if v.given("motor") else ""),
        ),
    ]
    return Picture(f"The cut takes {shown(o.answer.value, 0)} W of the motor.", tuple(shapes))


CALCULATION = Calculation(
    "power",
    "Power of a cut",
    GROUP,
    "Rate of removal times the material's unit power, against the motor. It warns, it forbids nothing.",
    (
        length("engaged", "Engaged sideways"),
        length("deep", "Depth of cut", 200),
        Input("feed", "Table feed", Quantity.FEED, Fraction(0), Fraction(10_000)),
        Input(
            "unit_power",
            "Unit power of the material",
            Quantity.UNIT_POWER,
            Fraction(0),
            Fraction(1000),
            fills="material.power",
        ),
        Input("efficiency", "Efficiency", Quantity.PERCENT, Fraction(20), Fraction(100), with_low=True, default="80"),
        Input("motor", "Motor", Quantity.POWER, Fraction(0), Fraction(50_000), optional=True, fills="machine.watts"),
    ),
    _power,
    (
        Slip("the efficiency was forgotten", lambda v: v.but(efficiency=Fraction(100))),
        Slip(
            "the efficiency was multiplied, not divided",
            answer=lambda v, o: o.answer.value * (v["efficiency"] / 100) ** 2,
        ),
        Slip("the width was forgotten", lambda v: v.but(engaged=Fraction(1) * v.unit.in_mm)),
    ),
    _draw_power,
    order=60,
)
