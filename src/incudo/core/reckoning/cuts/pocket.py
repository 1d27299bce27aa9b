"""Cutter in a pocket or wide slot. How far the axis goes from the middle to each wall."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.shared import CUTTER, GROUP
from incudo.core.reckoning.inputs import Quantity, Values, length
from incudo.core.reckoning.question import Draw, Given, K, Question


def _pocket(v: Values) -> Outcome:
    d, leave = v["diameter"], v["leave"]
    if d + 2 * leave > min(v["x"], v["y"]):
        raise Refused.of(
            "diameter",
            v.num(d),
            say("must fit the pocket with what is left on, {size}", size=v.len(min(v["x"], v["y"]) - 2 * leave)),
        )
    if v["corner"] and v["corner"] < d / 2:
        raise Refused.of(
            "diameter",
            v.num(d),
            say("leaves its own radius in the corners: at most {size}", size=v.len(2 * v["corner"])),
        )
    half_x, half_y = (v["x"] - d) / 2 - leave, (v["y"] - d) / 2 - leave
    results = (
        Output("x", say("axis to each side along X, from the middle"), Quantity.LENGTH, half_x),
        Output("y", say("axis to each side along Y, from the middle"), Quantity.LENGTH, half_y),
    )
    steps = tuple(
        Step(
            say("along {n}", n=n.upper()),
            say("half the size − R − left on"),
            f"{v.num(v[n])} / 2 − {v.num(d)} / 2 − {v.num(leave)}",
            v.len(a),
        )
        for n, a in (("x", half_x), ("y", half_y))
    )
    said = (say("Leave a little on each wall, clear the middle, then take the walls in one go round at full depth."),)
    return Outcome(results, steps, said)


def _draw_pocket(v: Values, o: Outcome) -> Picture:
    x, y, d = v["x"] / 2, v["y"] / 2, v["diameter"]
    a, b = o.results[0].value, o.results[1].value
    edge = max(x, y) / 4
    shapes = (
        p.box(Ink.WORK, -x - edge, -y - edge, x + edge, y + edge),
        p.box(Ink.CUT, -x, -y, x, y),
        p.line(Ink.ANSWER, (-a, -b), (a, -b), (a, b), (-a, b), (-a, -b), dashed=True),
        *p.cutter((a, b), d, 4),
        p.cross((0, 0), d / 4),
        p.size((0, -b), (a, -b), v.len(a), Ink.ANSWER),
    )
    return Picture(
        say("A pocket from above; the axis goes {size} and {size2} from its middle.", size=v.len(a), size2=v.len(b)),
        shapes,
    )


CALCULATION = Calculation(
    "pocket",
    say("Cutter in a pocket or wide slot"),
    GROUP,
    say("How far the axis goes from the middle to each wall."),
    (
        length("x", say("Size along X"), 1000),
        length("y", say("Size along Y"), 1000),
        CUTTER,
        length("leave", say("Left on each wall"), 10, zero=True, default="0"),
        length("corner", say("Radius of the corners, 0 where any will do"), 150, zero=True, default="0"),
    ),
    _pocket,
    (
        Slip(say("the cutter's radius was forgotten"), lambda v: v.but(diameter=Fraction(0))),
        Slip(say("the whole diameter was taken off"), lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip(say("the half of the size was forgotten"), answer=lambda v, o: o.answer.value + v["x"] / 2),
        Slip(say("what is left on was forgotten"), lambda v: v.but(leave=Fraction(0))),
    ),
    _draw_pocket,
    order=200,
)


def ask(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL)
    given: Given = {
        "x": d.length(d.size(45, 100)),
        "y": d.length(d.size(45, 80)),
        "diameter": {"value": cutter.measured or cutter.diameter, "unit": cutter.unit},
        "leave": d.length("0.010" if d.unit is Unit.INCH else "0.25"),
    }
    words = say("{name}, {name2}. How far does the axis go from the middle along X?", name=d.name, name2=cutter.name)
    return Question("pocket", words, given, d.unit, *d.dial)
