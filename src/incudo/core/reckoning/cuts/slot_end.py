"""End of a slot. Where the axis stops: the drawing may mean the centre of a round end, its tangent, or the length over
all.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.cuts.shared import CUTTER, GROUP
from incudo.core.reckoning.inputs import Quantity, Values, choice, length
from incudo.core.reckoning.question import Draw, Given, K, Question

TANGENT = say("tangent of the first end")
END, CENTRE, OVERALL = say("tangent of the end"), say("centre of the end"), say("overall length")


def _slot(v: Values) -> Outcome:
    d, radius = v["diameter"], v["diameter"] / 2
    tangent_first = v.choice("first") == TANGENT
    begin = v["start"] + radius if tangent_first else v["start"]
    ends = v.choice("ends")
    if ends == CENTRE:
        end, formula, put = v["length"], say("as dimensioned"), v.num(v["length"])
    elif ends == OVERALL:
        end, formula = begin + v["length"] - d, say("axis at the first end + length − D")
        put = f"{v.num(begin)} + {v.num(v['length'])} − {v.num(d)}"
    else:
        end, formula, put = (
            v["length"] - radius,
            say("tangent of the end − R"),
            f"{v.num(v['length'])} − {v.num(d)} / 2",
        )
    if end <= begin:
        raise Refused.of(
            "length", v.num(v["length"]), say("must end beyond the axis at the first end, {num}", num=v.num(begin))
        )
    steps = [Step(say("axis at the end"), formula, put, v.len(end))]
    if tangent_first:
        put = f"{v.num(v['start'])} + {v.num(d)} / 2"
        steps.insert(0, Step(say("axis at the first end"), "tangent + R", put, v.len(begin)))
    steps.append(Step(say("way of the axis"), "end − start", f"{v.num(end)} − {v.num(begin)}", v.len(end - begin)))
    results = (
        Output("end", say("axis at the slot's end"), Quantity.LENGTH, end),
        Output("begin", say("axis at its first end"), Quantity.LENGTH, begin),
        Output("way", say("way of the axis"), Quantity.LENGTH, end - begin),
        Output("overall", say("slot over all"), Quantity.LENGTH, end - begin + d),
    )
    return Outcome(
        results,
        tuple(steps),
        (say("A slot is cut by its centre line. It has both sides: climb on one, conventional on the other."),),
    )


def _draw_slot(v: Values, o: Outcome) -> Picture:
    d, a, b = v["diameter"], o.results[1].value, o.answer.value
    r = d / 2
    shapes = (
        p.box(Ink.WORK, a - d * Fraction(3, 2), -d * Fraction(3, 2), b + d * Fraction(3, 2), d * Fraction(3, 2)),
        p.area(Ink.CUT, *p.arc((b, 0), r, -90, 90, 24), *p.arc((a, 0), r, 90, 270, 24)),
        p.line(Ink.SCRIBE, (a - d, 0), (b + d, 0), dashed=True),
        *p.cutter((b, Fraction(0)), d, 4),
        p.line(Ink.ANSWER, (b, -d * 2), (b, d * 2)),
        p.text((b, d * Fraction(11, 5)), v.len(b), Ink.ANSWER),
    )
    return Picture(say("A slot from above; the axis stops at {size}.", size=v.len(b)), shapes)


def _instead(v: Values, meant: str, taken: str) -> Values:
    """One meaning of the end taken for another. Raises ``ValueError`` where the drawing means a third."""
    if v.choice("ends") != meant:
        raise ValueError(meant)
    return v.but(ends=taken)


CALCULATION = Calculation(
    "slot-end",
    say("End of a slot"),
    GROUP,
    say("Where the axis stops: the drawing may mean the centre of a round end, its tangent, or the length over all."),
    (
        length("start", say("The slot begins at"), 2000, low=-2000, default="0"),
        choice("first", say("That is the"), say("centre of the first end"), TANGENT),
        length("length", say("It ends at, or its length"), 2000),
        CUTTER,
        choice("ends", say("The drawing means the"), END, CENTRE, OVERALL),
    ),
    _slot,
    (
        Slip(say("the tangent was taken for the centre"), lambda v: _instead(v, END, CENTRE)),
        Slip(say("the centre was taken for the tangent"), lambda v: _instead(v, CENTRE, END)),
        Slip(
            say("the whole diameter was taken off"),
            lambda v: _instead(v, END, END).but(length=v["length"] - v["diameter"] / 2),
        ),
        Slip(say("the radius was added"), lambda v: _instead(v, END, END).but(length=v["length"] + v["diameter"])),
        Slip(
            say("the first end's tangent was taken for its centre"),
            lambda v: v.but(first=say("centre of the first end")),
        ),
        Slip(say("the overall length was taken for the place of the end"), lambda v: _instead(v, OVERALL, END)),
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
        "first": {"value": d.pick(say("centre of the first end"), TANGENT), "unit": ""},
        "ends": {"value": d.pick(END, CENTRE, OVERALL), "unit": ""},
    }
    return Question(
        "slot-end",
        say("{name}, {name2}. Where does the axis stop?", name=d.name, name2=cutter.name),
        given,
        d.unit,
        *d.dial,
    )
