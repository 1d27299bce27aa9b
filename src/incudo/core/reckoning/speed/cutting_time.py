"""Time of a side cut. All passes with approach and overrun, and the handling once."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Input, Quantity, Values, count, length, root, shown
from incudo.core.reckoning.question import Draw, Given, K, Question
from incudo.core.reckoning.speed.shared import GROUP, draw_side


def approach(diameter: Fraction, engaged: Fraction) -> Fraction:
    """How far before the work a side cut begins to be whole: √(ae · (D − ae)) up to half the diameter, R above."""
    if engaged > diameter:
        raise Refused.of(
            "engaged", shown(engaged), say("must be at most the diameter, {diameter} mm", diameter=shown(diameter))
        )
    if engaged <= diameter / 2:
        return root(engaged * (diameter - engaged))
    return diameter / 2


def _time(v: Values) -> Outcome:
    before = approach(v["diameter"], v["engaged"])
    way = v["length"] + before + v["overrun"]
    seconds = v["passes"] * way / v["feed"] * 60 + v["handling"]
    steps = (
        Step(
            "approach",
            say("√(ae · (D − ae)), R above half"),
            say("D {num}, ae {num2}", num=v.num(v["diameter"]), num2=v.num(v["engaged"])),
            v.len(before, 3),
        ),
        Step(
            say("path of one pass"),
            "length + approach + overrun",
            f"{v.num(v['length'])} + {v.num(before, 3)} + {v.num(v['overrun'])}",
            v.len(way, 3),
        ),
        Step(
            "time",
            "passes · way / feed + handling",
            f"{shown(v['passes'])} · {v.num(way, 3)} / {v.feed(v['feed'])} + {shown(v['handling'])} s",
            f"{shown(seconds, 0)} s",
        ),
    )
    return Outcome((Output("time", "time", Quantity.TIME, seconds),), steps)


CALCULATION = Calculation(
    "cutting-time",
    say("Time of a side cut"),
    GROUP,
    say("All passes with approach and overrun, and the handling once."),
    (
        length("length", say("Length of the cut"), 2000),
        length("diameter", say("Cutter"), fills="cutter.diameter"),
        length("engaged", say("Engaged sideways")),
        length("overrun", say("Overrun"), zero=True, default="2", default_inch="0.1"),
        count("passes", "Passes", 1, 200, default="1"),
        Input("feed", say("Table feed"), Quantity.FEED, Fraction(0), Fraction(10_000)),
        Input(
            "handling",
            say("Handling, once in all"),
            Quantity.TIME,
            Fraction(0),
            Fraction(36_000),
            with_low=True,
            default="0",
        ),
    ),
    _time,
    (
        Slip(say("a pass was forgotten"), lambda v: v.but(passes=v["passes"] - 1)),
        Slip(say("only one pass was counted"), lambda v: v.but(passes=Fraction(1))),
        Slip(
            say("approach and overrun were forgotten"),
            answer=lambda v, _: v["passes"] * v["length"] / v["feed"] * 60 + v["handling"],
        ),
        Slip(say("the handling was forgotten"), lambda v: v.but(handling=Fraction(0))),
        Slip(
            say("the handling was counted with every pass"),
            lambda v: v.but(handling=v["handling"] * v["passes"]),
        ),
    ),
    lambda v, _: draw_side(v, v["engaged"]),
    order=70,
)


def ask(d: Draw) -> Question:
    cutter = d.cutter(K.END_MILL, K.ROUGHING)
    ae = shown(Fraction(round(Fraction(cutter.diameter) / 4 * 100), 100), 3)
    given: Given = {
        "length": d.length(d.size(60, 160)),
        "diameter": {"value": cutter.diameter, "unit": cutter.unit},
        "engaged": {"value": ae, "unit": cutter.unit},
        "overrun": d.length("0.080" if d.unit is Unit.INCH else "2"),
        "passes": {"value": d.pick("2", "3", "4"), "unit": ""},
        "feed": {
            "value": d.pick("3", "4", "5") if d.unit is Unit.INCH else d.pick("80", "100", "125"),
            "unit": f"{d.unit}/min",
        },
        "handling": {"value": d.pick("20", "30", "40"), "unit": "s"},
    }
    return Question(
        "cutting-time",
        say("{name}, {name2}. How many seconds in all?", name=d.name, name2=cutter.name),
        given,
        "s",
        Fraction(3),
        "to 3 s",
    )
