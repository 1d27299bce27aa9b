"""Cutter at a side or step. The axis runs one radius outside the edge that it makes."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.shared import CUTTER, GROUP
from incudo.core.reckoning.inputs import Quantity, Values, choice, length
from incudo.core.reckoning.question import Draw, Given, K, Question


def _side(v: Values) -> Outcome:
    sign = 1 if v.choice("cutter") in ("right", "rear") else -1
    axis = v["edge"] + sign * (v["diameter"] / 2 + v["leave"])
    op = "+" if sign > 0 else "−"
    step = Step(
        say("axis of the cutter"),
        say("edge {op} (R + what is left on)", op=op),
        f"{v.num(v['edge'])} {op} ({v.num(v['diameter'])} / 2 + {v.num(v['leave'])})",
        v.len(axis),
    )
    return Outcome((Output("axis", say("axis of the cutter at"), Quantity.LENGTH, axis),), (step,))


def _draw_side(v: Values, o: Outcome) -> Picture:
    d, e, a = v["diameter"], v["edge"], o.answer.value
    back = d * 2 * (-1 if a > e else 1)
    shapes = (
        p.box(Ink.WORK, min(e, e + back), -d * Fraction(3, 2), max(e, e + back), d * Fraction(3, 2)),
        *p.cutter((a, Fraction(0)), d, 4),
        p.line(Ink.SCRIBE, (e, -d * 2), (e, d * 2), dashed=True),
        p.line(Ink.ANSWER, (a, -d * 2), (a, d * 2)),
        p.text((a, d * Fraction(11, 5)), v.len(a), Ink.ANSWER),
        p.text((e, -d * Fraction(11, 5)), v.len(e)),
    )
    return Picture(
        say(
            "The cutter's axis at {size}, half a cutter beyond the edge at {size2}; seen from above.",
            size=v.len(a),
            size2=v.len(e),
        ),
        shapes,
    )


CALCULATION = Calculation(
    "cutter-at-edge",
    say("Cutter at a side or step"),
    GROUP,
    say("The axis runs one radius outside the edge that it makes."),
    (
        length("edge", say("The edge to be made, from the datum"), 2000, low=-2000),
        CUTTER,
        choice("cutter", say("The cutter runs on this side of the edge"), "left", "right", "front", "rear"),
        length("leave", say("Left on for later"), 10, zero=True, default="0"),
    ),
    _side,
    (
        Slip(say("the cutter's radius was forgotten"), lambda v: v.but(diameter=Fraction(0))),
        Slip(say("the whole diameter was taken"), lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip(say("the radius was taken to the wrong side"), answer=lambda v, o: 2 * v["edge"] - o.answer.value),
        Slip(say("what is left on was forgotten"), lambda v: v.but(leave=Fraction(0))),
    ),
    _draw_side,
    order=180,
)


def ask(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING)
    given: Given = {
        "edge": d.length(d.size(10, 150, 0.1)),
        "diameter": {"value": cutter.measured or cutter.diameter, "unit": cutter.unit},
        "cutter": {"value": d.pick("left", "right", "front", "rear"), "unit": ""},
        "leave": d.length(d.pick("0.010", "0.020") if d.unit is Unit.INCH else d.pick("0.25", "0.5")),
    }
    words = say("{name}, {name2}. Where does the cutter's axis run?", name=d.name, name2=cutter.name)
    return Question("cutter-at-edge", words, given, d.unit, *d.dial)
