"""Depth of a countersink. From the first touch on the hole's edge to the diameter that is wanted."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP, angle
from incudo.core.reckoning.inputs import Quantity, Values, length, shown, tan
from incudo.core.reckoning.question import Draw, Given, K, Question


def _countersink(v: Values) -> Outcome:
    wide, hole = v["wide"], v["hole"]
    if wide <= hole:
        raise Refused.of("wide", v.num(wide), say("must be more than the hole, {size}", size=v.len(hole)))
    depth = (wide - hole) / 2 / tan(v["angle"] / 2)
    put = f"({v.num(wide)} − {v.num(hole)}) / 2 / tan({shown(v['angle'] / 2)}°)"
    step = Step(say("depth from the first touch"), "(Dc − Dh) / 2 / tan(A / 2)", put, v.len(depth))
    said = (say("Zero where it first touches the hole's edge; a burr there gives a false zero."),)
    return Outcome((Output("depth", "depth", Quantity.LENGTH, depth),), (step,), said)


def _draw_countersink(v: Values, o: Outcome) -> Picture:
    wide, hole, depth = v["wide"], v["hole"], o.answer.value
    w, h = wide / 2, hole / 2
    low = -depth - wide
    shapes = (
        p.box(Ink.WORK, -wide, low, wide, 0),
        p.area(Ink.CUT, (-w, 0), (w, 0), (h, -depth), (h, low), (-h, low), (-h, -depth)),
        p.area(Ink.CUTTER, (-w, 0), (w, 0), (0, -w / tan(v["angle"] / 2))),
        p.box(Ink.CUTTER, -w, 0, w, wide / 2),
        p.size((wide * Fraction(4, 5), 0), (wide * Fraction(4, 5), -depth), v.len(depth), Ink.ANSWER),
        p.size((-w, wide * Fraction(3, 4)), (w, wide * Fraction(3, 4)), v.len(wide)),
        p.size((-h, low), (h, low), v.len(hole)),
    )
    return Picture(say("A countersink in section, {size} deep from the first touch.", size=v.len(depth)), shapes)


CALCULATION = Calculation(
    "countersink-depth",
    say("Depth of a countersink"),
    GROUP,
    say("From the first touch on the hole's edge to the diameter that is wanted."),
    (
        length("wide", "Countersink's diameter", 100),
        length("hole", say("Hole"), 100),
        angle("angle", say("Angle of the countersink"), "90", "cutter.angle"),
    ),
    _countersink,
    (
        Slip(say("the half was forgotten"), answer=lambda _, o: o.answer.value * 2),
        Slip(say("the hole was forgotten"), answer=lambda v, _: v["wide"] / 2 / tan(v["angle"] / 2)),
        Slip(say("82° and 90° were mixed up"), lambda v: v.but(angle=Fraction(90 if v["angle"] == 82 else 82))),
        Slip(say("the whole angle was taken"), answer=lambda v, _: abs((v["wide"] - v["hole"]) / 2 / tan(v["angle"]))),
    ),
    _draw_countersink,
    order=250,
)


def ask(d: Draw) -> Question:
    tool = d.cutter(K.COUNTERSINK)
    wide = d.mm(d.size(9, 14, 0.2))
    hole = d.mm(d.size(4, 7, 0.1))
    given: Given = {
        "wide": d.length(shown(wide / d.unit.in_mm, 3)),
        "hole": d.length(shown(hole / d.unit.in_mm, 3)),
        "angle": {"value": tool.angle or "90", "unit": "°"},
    }
    return Question(
        "countersink-depth", say("{name}. How deep from the first touch?", name=tool.name), given, d.unit, *d.fine
    )
