"""Bolt circle. Hole positions on a circle, and the chord that checks them."""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP, draw_places, order_words, placed
from incudo.core.reckoning.inputs import Input, Quantity, Values, count, length, shown
from incudo.core.reckoning.question import Draw, Given, Question

MOST_HOLES = 24


def bolt_circle(radius: Fraction, holes: int, first: Fraction) -> tuple[tuple[Fraction, Fraction], ...]:
    """Places from the circle's middle, anticlockwise from +X: first + 360 · i / n degrees."""
    found = []
    for i in range(holes):
        a = math.radians(float(first) + 360 * i / holes)
        found.append((Fraction(float(radius) * math.cos(a)), Fraction(float(radius) * math.sin(a))))
    return tuple(found)


def _circle(v: Values) -> Outcome:
    r, n = v["diameter"] / 2, int(v["holes"])
    places = bolt_circle(r, n, v["first"])
    chord = 2 * r * Fraction(math.sin(math.pi / n))
    results = [Output("chord", say("from hole to hole, for checking"), Quantity.LENGTH, chord), *placed(places)]
    angle = Step(
        "angles",
        "a0 + 360° · i / n",
        f"{shown(v['first'])}° + 360° · i / {n}",
        say("every {fraction}°", fraction=shown(Fraction(360, n), 3)),
    )
    x, y = places[0]
    first = Step("hole 1", say("R · cos a, R · sin a"), f"{v.num(r)}, {shown(v['first'])}°", f"{v.num(x)}, {v.len(y)}")
    step = Step("chord", "2 · R · sin(180° / n)", f"2 · {v.num(r)} · sin(180° / {n})", v.len(chord))
    return Outcome(tuple(results), (angle, first, step), (order_words(places),))


CALCULATION = Calculation(
    "bolt-circle",
    say("Bolt circle"),
    GROUP,
    say("Hole positions on a circle, and the chord that checks them."),
    (
        length("diameter", "Circle's diameter", 1000),
        count("holes", "Holes", 2, MOST_HOLES),
        Input(
            "first",
            say("First hole at, from +X"),
            Quantity.ANGLE,
            Fraction(-360),
            Fraction(360),
            with_low=True,
            default="0",
        ),
    ),
    _circle,
    (
        Slip(say("the diameter was taken for the radius"), lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip(say("a hole was forgotten"), lambda v: v.but(holes=v["holes"] - 1) if v["holes"] > 2 else v),
        Slip(
            say("the arc was taken for the chord"), answer=lambda v, _: Fraction(math.pi) * v["diameter"] / v["holes"]
        ),
        Slip(
            say("the whole angle was taken, not its half"),
            answer=lambda v, _: v["diameter"] * abs(Fraction(math.sin(2 * math.pi / int(v["holes"])))),
        ),
    ),
    lambda v, _: draw_places(
        v, bolt_circle(v["diameter"] / 2, int(v["holes"]), v["first"]), v["diameter"], v["diameter"] / 2
    ),
    order=290,
)


def ask(d: Draw) -> Question:
    given: Given = {
        "diameter": d.length(d.size(30, 100)),
        "holes": {"value": d.pick("3", "4", "5", "6", "8"), "unit": ""},
        "first": {"value": d.pick("0", "30", "45"), "unit": "°"},
    }
    return Question("bolt-circle", say("How far is it from hole to hole?"), given, d.unit, *d.fine)
