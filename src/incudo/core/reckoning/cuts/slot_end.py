"""End of a slot. Where the axis stops: the drawing may mean the centre of the round end, or its tangent."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.working import Step
from incudo.core.reckoning import picture as p
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.shared import CUTTER, GROUP
from incudo.core.reckoning.inputs import Quantity, Values, choice, length
from incudo.core.reckoning.picture import Ink, Picture
from incudo.core.reckoning.question import Draw, Given, K, Question


def _slot(v: Values) -> Outcome:
    d = v["diameter"]
    centre = v.choice("ends") == "centre of the end"
    end = v["length"] if centre else v["length"] - d / 2
    if end <= v["start"]:
        raise Refused.of(
            "length", v.num(v["length"]), f"must end beyond its start, {v.num(v['start'])}, by more than the radius"
        )
    formula = "as dimensioned" if centre else "tangent of the end − R"
    put = v.num(v["length"]) if centre else f"{v.num(v['length'])} − {v.num(d)} / 2"
    step = Step("axis at the end", formula, put, v.len(end))
    way = Step("way of the axis", "end − start", f"{v.num(end)} − {v.num(v['start'])}", v.len(end - v["start"]))
    results = (
        Output("end", "axis at the slot's end", Quantity.LENGTH, end),
        Output("way", "way of the axis", Quantity.LENGTH, end - v["start"]),
    )
    return Outcome(
        results,
        (step, way),
        ("A slot is cut by its centre line. It has both sides: climb on one, conventional on the other.",),
    )


def _draw_slot(v: Values, o: Outcome) -> Picture:
    d, a, b = v["diameter"], v["start"], o.answer.value
    r = d / 2
    shapes = (
        p.box(Ink.WORK, a, -d * Fraction(3, 2), b + d * Fraction(3, 2), d * Fraction(3, 2)),
        p.area(Ink.CUT, (a, -r), (b, -r), *p.arc((b, 0), r, -90, 90, 24), (a, r)),
        p.line(Ink.SCRIBE, (a - d, 0), (b + d, 0), dashed=True),
        *p.cutter((b, Fraction(0)), d, 4),
        p.line(Ink.ANSWER, (b, -d * 2), (b, d * 2)),
        p.text((b, d * Fraction(11, 5)), v.len(b), Ink.ANSWER),
    )
    return Picture(f"A slot from above; the axis stops at {v.len(b)}.", shapes)


CALCULATION = Calculation(
    "slot-end",
    "End of a slot",
    GROUP,
    "Where the axis stops: the drawing may mean the centre of the round end, or its tangent.",
    (
        length("start", "The axis starts at", 2000, low=-2000, default="0"),
        length("length", "The slot ends at", 2000),
        CUTTER,
        choice("ends", "The drawing means the", "tangent of the end", "centre of the end"),
    ),
    _slot,
    (
        Slip("the tangent was taken for the centre", lambda v: v.but(ends="centre of the end")),
        Slip("the centre was taken for the tangent", lambda v: v.but(ends="tangent of the end")),
        Slip("the whole diameter was taken off", lambda v: v.but(length=v["length"] - v["diameter"] / 2)),
        Slip("the radius was added", lambda v: v.but(length=v["length"] + v["diameter"])),
    ),
    _draw_slot,
    order=190,
)


def ask(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL)
    given: Given = {
        "start": d.length(d.size(5, 15)),
        "length": d.length(d.size(60, 150)),
        "diameter": {"value": cutter.measured or cutter.diameter, "unit": cutter.unit},
        "ends": {"value": d.pick("tangent of the end", "centre of the end"), "unit": ""},
    }
    return Question("slot-end", f"{d.name}, {cutter.name}. Where does the axis stop?", given, d.unit, *d.dial)
