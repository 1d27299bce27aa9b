"""Drift of a hole by the quill. A head that is out of tram sends the quill aside as it goes down; both of its errors
count together.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step, squared
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, root, shown
from incudo.core.reckoning.locate.shared import GROUP
from incudo.core.reckoning.question import Draw, Given, Question


def _drift(v: Values) -> Outcome:
    span, travel = v["span"], v["travel"]
    # the readings are taken across the span: their difference to it is the tangent of the tilt
    x, y = (travel * v[name] / span for name in ("side", "front"))
    both = root(x * x + y * y)
    steps = (
        Step(
            say("drift left or right"),
            "travel · difference / span",
            f"{v.num(travel)} · {v.num(v['side'])} / {v.num(span)}",
            v.len(x),
        ),
        Step(
            say("drift in or out"),
            "travel · difference / span",
            f"{v.num(travel)} · {v.num(v['front'])} / {v.num(span)}",
            v.len(y),
        ),
        Step("drift", "√(x² + y²)", f"√({squared(v.num(x))} + {squared(v.num(y))})", v.len(both)),
    )
    results = (
        Output("drift", say("drift of the hole"), Quantity.LENGTH, both),
        Output("x", say("of it left or right"), Quantity.LENGTH, abs(x)),
        Output("y", say("of it in or out"), Quantity.LENGTH, abs(y)),
    )
    said = (
        say("Fed by the knee instead of the quill, the hole does not drift: the work moves along the column."),
        say("It adds to the error at the top of the hole: check both together against the tolerance of the position."),
    )
    return Outcome(results, steps, said)


def _draw(v: Values, o: Outcome) -> Picture:
    seen = 18 if o.answer.value else 0
    shapes = (
        p.box(Ink.WORK, -50, -60, 50, 0),
        p.area(Ink.CUT, (-8, 0), (8, 0), (8 + seen, -60), (-8 + seen, -60)),
        p.line(Ink.SCRIBE, (0, 40), (0, -70), dashed=True),
        p.line(Ink.CUTTER, (-seen * 2 / 3, 40), (seen, -60)),
        p.line(Ink.ANSWER, (0, -66), (seen, -66)),
        p.text((seen + 30, -70), v.len(o.answer.value), Ink.ANSWER),
        p.text((-66, -30), v.len(v["travel"])),
    )
    return Picture(
        say("A quill that leans, drawn much larger than it is: the hole drifts {size}.", size=v.len(o.answer.value)),
        shapes,
    )


CALCULATION = Calculation(
    "quill-drift",
    say("Drift of a hole by the quill"),
    GROUP,
    say("How far a head that is out of tram sends a hole aside over the travel of the quill."),
    (
        length("side", say("Readings differ side to side by"), 10, low=-10),
        length("front", say("Readings differ front to back by"), 10, low=-10),
        length("span", say("Across, from reading to reading"), 1000),
        length("travel", say("Travel of the quill"), 300),
    ),
    _drift,
    (
        Slip(say("only side to side was looked at"), lambda v: v.but(front=Fraction(0))),
        Slip(say("only front to back was looked at"), lambda v: v.but(side=Fraction(0))),
        Slip(say("both were only added"), answer=lambda _, o: o.results[1].value + o.results[2].value),
        Slip(say("half the span was taken"), lambda v: v.but(span=v["span"] / 2)),
        Slip(say("the readings were taken for the drift"), answer=lambda v, _: root(v["side"] ** 2 + v["front"] ** 2)),
    ),
    _draw,
    order=172,
)


def ask(d: Draw) -> Question:
    fine = Fraction("0.0005") if d.unit is Unit.INCH else Fraction("0.01")
    side, front = (shown(fine * d.rng.randint(2, 9), 4) for _ in range(2))
    inch = d.unit is Unit.INCH
    given: Given = {
        "side": d.length(side),
        "front": d.length(front),
        "span": d.length(d.pick("8", "10") if inch else d.pick("200", "250")),
        "travel": d.length(d.pick("2", "3", "4") if inch else d.pick("50", "80", "100")),
    }
    near = (Fraction("0.0001") if inch else Fraction("0.002")) * d.unit.in_mm
    words = say("{name}. How far does the hole drift over that travel?", name=d.name)
    return Question("quill-drift", words, given, d.unit, near, "to 0.0001 in" if inch else "to 0.002 mm")
