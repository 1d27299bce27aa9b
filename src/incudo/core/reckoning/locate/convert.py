"""Inches and millimetres on a dial. A length in both units, and what it costs to set it on a dial of one of
them.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.quantity import MM_PER_INCH, Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating.dial import Dial, Turning
from incudo.core.reckoning.bench import x_handle
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, shown
from incudo.core.reckoning.locate.shared import GRADUATIONS, GROUP, TURN, dial_picture
from incudo.core.reckoning.question import Draw, Given, Question


def _convert(v: Values) -> Outcome:
    division = v["per_turn"] / v["graduations"]
    half = division / 2
    set_to = round(v["size"] / half) * half
    off = set_to - v["size"]
    other = v.unit.other
    both = f"{shown(v['size'] / other.in_mm, 6)} {other.value}"
    steps = (
        Step(say("in the other unit, exactly"), "1 in = 25.4 mm", v.len(v["size"], 6), both),
        Step(
            say("one division of the dial"),
            say("travel of a turn / divisions"),
            f"{v.num(v['per_turn'])} / {shown(v['graduations'])}",
            v.len(division, 6),
        ),
        Step(
            say("as it can be set"),
            say("rounded to half a division"),
            say("{num} by {num2}", num=v.num(v["size"], 6), num2=v.num(half, 6)),
            v.len(set_to, 6),
        ),
    )
    results = (
        Output("size", say("the length"), Quantity.LENGTH, v["size"]),
        Output("set", say("as it can be set"), Quantity.LENGTH, set_to),
        Output("off", say("what the rounding costs"), Quantity.LENGTH, off),
    )
    return Outcome(results, steps, (say("Round each target, never each step: rounded steps add up."),))


CALCULATION = Calculation(
    "convert",
    say("Inches and millimetres on a dial"),
    GROUP,
    say("A length in both units, and what it costs to set it on a dial of one of them."),
    (length("size", say("Length"), 10_000, low=-10_000), TURN, GRADUATIONS),
    _convert,
    (
        Slip(say("it was multiplied by 25.4 where it is divided"), lambda v: v.but(size=v["size"] / MM_PER_INCH)),
        Slip(say("it was divided by 25.4 where it is multiplied"), lambda v: v.but(size=v["size"] * MM_PER_INCH)),
        Slip(say("25 was taken for 25.4"), lambda v: v.but(size=v["size"] * 25 / MM_PER_INCH)),
    ),
    lambda v, o: dial_picture(
        Dial(v["per_turn"], int(v["graduations"]), Fraction(0), Turning.CLOCKWISE, Turning.CLOCKWISE, v.unit),
        o.results[1].value % v["per_turn"],
        v.len(o.results[1].value),
    ),
    order=110,
)


def ask(d: Draw) -> Question:
    other = d.unit.other
    size = str(d.rng.randint(20, 2000) / 1000) if other is Unit.INCH else str(d.rng.randint(5, 600) / 10)
    handle = x_handle(d.machine)
    given: Given = {
        "size": {"value": size, "unit": other},
        "per_turn": {"value": handle.per_turn, "unit": handle.unit},
        "graduations": {"value": str(handle.graduations), "unit": ""},
    }
    near, said = d.dial
    return Question(
        "convert", say("{name}. How long is that in {unit}?", name=d.name, unit=d.unit), given, d.unit, near, said
    )
