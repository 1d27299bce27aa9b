"""Length of a drill's point. How much deeper the point goes than the full diameter, and the depth to the tip."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP, POINT, point_length
from incudo.core.reckoning.inputs import Quantity, Values, length, shown, tan
from incudo.core.reckoning.question import Draw, Given, K, Question, coarse


def _point(v: Values) -> Outcome:
    found = point_length(v["diameter"], v["angle"])
    steps = [
        Step(
            say("point length"),
            "D / 2 / tan(A / 2)",
            f"{v.num(v['diameter'])} / 2 / tan({shown(v['angle'] / 2)}°)",
            v.len(found),
        )
    ]
    results = [Output("length", say("point length"), Quantity.LENGTH, found)]
    if v.given("deep"):
        total = v["deep"] + found + v["through"]
        steps.append(
            Step(
                say("to the tip"),
                say("full diameter + point + breakthrough"),
                f"{v.num(v['deep'])} + {v.num(found)} + {v.num(v['through'])}",
                v.len(total),
            )
        )
        results.append(Output("tip", say("depth to the tip"), Quantity.LENGTH, total))
    said = (say("What lies under the hole? Parallels, vise, table."),) if v["through"] else ()
    return Outcome(tuple(results), tuple(steps), said)


def _draw_hole(v: Values, o: Outcome) -> Picture:
    d, a = v["diameter"], v["angle"]
    point = o.answer.value
    deep = v["deep"] if v.given("deep") else d * Fraction(3, 2)
    tip = -deep - point
    shapes = (
        p.box(Ink.WORK, -d * 2, tip - d / 2, d * 2, 0),
        p.drill(Ink.CUT, 0, tip, d, 0, a),
        p.drill(Ink.CUTTER, 0, tip, d * Fraction(9, 10), d, a),
        p.size((d, -deep), (d, tip), v.len(point), Ink.ANSWER),
        p.size((-d * Fraction(3, 2), 0), (-d * Fraction(3, 2), -deep), v.len(deep)),
    )
    return Picture(say("A drill in section; its point is {size} long.", size=v.len(point)), shapes)


CALCULATION = Calculation(
    "drill-point",
    say("Length of a drill's point"),
    GROUP,
    say("How much deeper the point goes than the full diameter, and the depth to the tip."),
    (
        length("diameter", say("Drill"), 100, fills="cutter.diameter"),
        POINT,
        length("deep", say("Full-diameter depth"), 300, optional=True),
        length("through", say("Breakthrough allowance"), 20, zero=True, default="0"),
    ),
    _point,
    (
        Slip(say("the diameter was taken for the radius"), lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip(say("the whole angle was taken"), answer=lambda v, _: abs(v["diameter"] / 2 / tan(v["angle"]))),
        Slip(say("a third of the diameter was taken, whatever the angle"), answer=lambda v, _: v["diameter"] / 3),
    ),
    _draw_hole,
    order=240,
)


def ask(d: Draw) -> Question:
    drill = d.cutter(K.DRILL)
    given: Given = {
        "diameter": {"value": drill.diameter, "unit": drill.unit},
        "angle": {"value": str(drill.point), "unit": "°"},
    }
    return Question("drill-point", say("{name}. How long is its point?", name=drill.name), given, d.unit, *coarse(d))
