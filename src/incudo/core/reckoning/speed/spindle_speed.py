"""Spindle speed. From the cutting speed of the material and the cutter's diameter, to the step that the machine
has.
"""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import MM_PER_INCH
from incudo.core.kernel.say import say
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, shown
from incudo.core.reckoning.question import Draw, Given, K, Question, filled
from incudo.core.reckoning.speed.shared import (
    FOOT,
    GROUP,
    PI,
    RANGES,
    SCHOOL,
    at_step,
    next_step,
    step_at,
    steps,
    surface,
    turn_steps,
    turns,
)


def _spindle(v: Values) -> Outcome:
    surface, d = v["surface"], v["diameter"]
    speed = turns(surface, d)
    outputs, working, said = at_step(v, speed, d)
    reckoned = Output("speed", say("calculated speed"), Quantity.TURNS, speed)
    results = (outputs[0], reckoned, *outputs[1:]) if outputs else (reckoned,)
    return Outcome(results, (*turn_steps(v, surface, d), *working), tuple(said))


def _draw_spindle(v: Values, o: Outcome) -> Picture:
    d = v["diameter"]
    n = shown(o.answer.value, 0)
    shapes = (
        p.box(Ink.WORK, -d * Fraction(9, 10), -d, d * 2, d * Fraction(1, 5)),
        *p.cutter((Fraction(0), Fraction(0)), d, 4),
        p.size((-d / 2, d * Fraction(7, 10)), (d / 2, d * Fraction(7, 10)), v.len(d)),
        p.text((d * Fraction(5, 4), d / 2), f"{n} rpm", Ink.ANSWER),
    )
    return Picture(
        say("A cutter of {size} seen from above, turning clockwise {n} times a minute.", size=v.len(d), n=n), shapes
    )


def _plot_spindle(v: Values, o: Outcome) -> Picture | None:
    """Speed against diameter: the curve, this machine's steps as stairs, and where we stand."""
    steps, d, surface = v.list("steps"), v["diameter"], v["surface"]
    if not steps:
        return None
    wide, high = float(d) * 2.5, float(turns(surface, d)) * 2.5
    places = [float(d) * (0.3 + 2.2 * i / 60) for i in range(61)]
    per_mm = 1000 * float(surface) / math.pi

    def at(x: float, y: float) -> tuple[float, float]:
        return 100 * x / wide, 60 * min(y / high, 1.0)

    school = v.choice("school")
    curve = [at(x, per_mm / x) for x in places]
    stairs = [at(x, float(step_at(Fraction(int(per_mm / x * 10), 10), steps, school) or 0)) for x in places]
    here = at(float(d), float(o.answer.value))
    shapes = (
        p.line(Ink.SCRIBE, (0.0, 60.0), (0.0, 0.0), (100.0, 0.0)),
        p.line(Ink.SCRIBE, *curve, dashed=True),
        p.line(Ink.CUTTER, *stairs),
        p.disc(Ink.ANSWER, here, 1.1),
        p.text((here[0] + 4, here[1] + 5), f"{shown(o.answer.value, 0)} at {v.len(d)}", Ink.ANSWER),
        p.text((88.0, 3.0), "diameter →"),
        p.text((10.0, 62.0), "↑ rpm"),
    )
    return Picture(say("Speed against diameter: dashed as calculated, solid as this machine's steps give it."), shapes)


CALCULATION = Calculation(
    "spindle-speed",
    say("Spindle speed"),
    GROUP,
    say("From the cutting speed of the material and the cutter's diameter, to the step that the machine has."),
    (surface(), length("diameter", say("Cutter"), fills="cutter.diameter"), steps(optional=True), RANGES, SCHOOL),
    _spindle,
    (
        Slip(say("the radius was taken for the diameter"), lambda v: v.but(diameter=v["diameter"] / 2)),
        Slip(say("the diameter was doubled"), lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip(say("π was forgotten"), lambda v: v.but(surface=v["surface"] * PI)),
        Slip(say("inches were taken for millimetres"), lambda v: v.but(diameter=v["diameter"] / MM_PER_INCH)),
        Slip(say("feet were taken for metres"), lambda v: v.but(surface=v["surface"] / FOOT)),
        Slip(say("metres were taken for feet"), lambda v: v.but(surface=v["surface"] * FOOT)),
        Slip(say("it was rounded up to the machine's next step"), answer=next_step),
    ),
    _draw_spindle,
    _plot_spindle,
    order=10,
)


def ask(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING, K.BALL, K.T_SLOT, K.FACE, K.FLY)
    _, f, names = d.bench(cutter)
    steps = d.machine.spindle.steps
    given: Given = {
        "surface": filled(f["material.surface"]),
        "diameter": filled(f["cutter.diameter"]),
        "school": {"value": d.facts.school, "unit": ""},
    }
    if steps:
        given["steps"] = filled(f["machine.steps"])
        which = say("at or below") if d.facts.school == "below" else say("the nearest")
        words = say("{names}. To which step do you set the spindle ({which})?", names=names, which=which)
        return Question("spindle-speed", words, given, "rpm", Fraction(1, 2), say("the step"))
    given["ranges"] = filled(f["machine.ranges"])
    return Question(
        "spindle-speed", say("{names}. How many rpm?", names=names), given, "rpm", Fraction(10), "to 10 turns"
    )
