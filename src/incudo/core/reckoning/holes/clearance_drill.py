"""Clearance hole. The hole through which a screw passes: close where it also places the part, else free."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP, LIST, THREAD
from incudo.core.reckoning.inputs import Input, Quantity, Values, choice, length, shown


def _clearance(v: Values) -> Outcome:
    close = v.choice("fit") == "close"
    table = "close" if close else "free"
    steps = []
    if v.given(table):
        hole = v[table]
        if hole <= v["diameter"]:
            raise Refused.of(table, v.num(hole), say("must be more than the thread, {size}", size=v.len(v["diameter"])))
        steps.append(
            Step("hole", say("table of {table} clearance holes", table=table), v.len(v["diameter"]), v.len(hole))
        )
        said = ""
    else:
        more = Fraction(105 if close else 110, 100)
        hole = v["diameter"] * more
        steps.append(
            Step(
                "hole",
                say("D · {more} (rule of thumb, no table value given)", more=shown(more)),
                v.num(v["diameter"]),
                v.len(hole),
            )
        )
        said = say("By a rule of thumb: give the table's value where there is one.")
    results = [Output("hole", say("clearance hole"), Quantity.LENGTH, hole)]
    if drills := sorted(v.list("drills")):
        larger = [d for d in drills if d >= hole]
        if not larger:
            raise Refused.of("drills", "", say("none is as large as the hole, {size}", size=v.len(hole)))
        steps.append(
            Step(say("drill of the shop"), say("the smallest not below the hole"), v.len(hole), v.len(larger[0]))
        )
        results.insert(0, Output("drill", say("drill to take"), Quantity.LENGTH, larger[0]))
    return Outcome(tuple(results), tuple(steps), (said,) if said else ())


def _draw_clearance(v: Values, o: Outcome) -> Picture:
    d, hole = v["diameter"], o.answer.value
    shapes = (
        p.box(Ink.WORK, -d * 2, -d, d * 2, d),
        p.disc(Ink.CUT, (0, 0), hole / 2),
        p.disc(Ink.CUTTER, (0, 0), d / 2),
        p.size((-hole / 2, d * Fraction(5, 4)), (hole / 2, d * Fraction(5, 4)), v.len(hole), Ink.ANSWER),
        p.text((0, 0), v.len(d)),
    )
    return Picture(say("A screw of {size} in its hole of {size2}.", size=v.len(d), size2=v.len(hole)), shapes)


CALCULATION = Calculation(
    "clearance-drill",
    say("Clearance hole"),
    GROUP,
    say("The hole through which a screw passes: close where it also places the part, else free."),
    (
        THREAD,
        choice("fit", say("Fit"), "close", "free"),
        length("close", say("Close hole, of the table"), 110, optional=True, fills="thread.close"),
        length("free", say("Free hole, of the table"), 110, optional=True, fills="thread.free"),
        Input("drills", say("Drills of the shop"), fills="crib.own", **LIST),  # type: ignore[arg-type]
    ),
    _clearance,
    (
        Slip(say("the screw's own diameter was drilled"), answer=lambda v, _: v["diameter"]),
        Slip(
            say("close and free were mixed up"), lambda v: v.but(fit="free" if v.choice("fit") == "close" else "close")
        ),
    ),
    _draw_clearance,
    order=280,
)
