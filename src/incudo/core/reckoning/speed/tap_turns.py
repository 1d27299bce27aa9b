"""Turns of a tap by hand. How many turns a thread takes. A tap has no cutting speed here: it is turned by hand."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Input, Quantity, Values, length, shown
from incudo.core.reckoning.speed.shared import GROUP


def _tap_turns(v: Values) -> Outcome:
    deep = v["thread"] + v["lead"] * v["pitch"]
    found = deep / v["pitch"]
    steps = (
        Step(
            say("how deep the tap goes"),
            say("full thread + lead"),
            f"{v.num(v['thread'])} + {shown(v['lead'])} · {v.num(v['pitch'])}",
            v.len(deep),
        ),
        Step(say("turns by hand"), "depth / pitch", f"{v.num(deep)} / {v.num(v['pitch'])}", shown(found, 1)),
    )
    said = (
        say("By hand, guided from the spindle; the spindle never under power, its guide spring not fully pressed."),
        say("Eye protection: taps shatter. When it stops, stop; clear the chips; again."),
    )
    results = (
        Output("turns", say("turns by hand"), Quantity.COUNT, found),
        Output("deep", say("how deep the tap goes"), Quantity.LENGTH, deep),
    )
    return Outcome(results, steps, said)


def _draw_tap(v: Values, o: Outcome) -> Picture:
    """The tap in its hole: how much of what it goes down is full thread, how much its lead."""
    deep, thread = o.results[1].value, v["thread"]
    r = deep / 5
    shapes = (
        p.box(Ink.WORK, -r * 3, -deep - r, r * 3, 0),
        p.box(Ink.CUT, -r, -deep, r, 0),
        p.area(Ink.CUTTER, (-r, deep / 4), (r, deep / 4), (r, -thread), (r / 2, -deep), (-r / 2, -deep), (-r, -thread)),
        p.size((r * 2, 0), (r * 2, -thread), v.len(thread)),
        p.size((-r * 2, 0), (-r * 2, -deep), v.len(deep), Ink.ANSWER),
        p.text((0, deep * Fraction(2, 5)), f"{shown(o.answer.value, 1)} turns", Ink.ANSWER),
    )
    return Picture(
        say("A tap {size} down its hole, of which {size2} is full thread.", size=v.len(deep), size2=v.len(thread)),
        shapes,
    )


CALCULATION = Calculation(
    "tap-turns",
    say("Turns of a tap by hand"),
    GROUP,
    say("How many turns a thread takes. A tap has no cutting speed here: it is turned by hand."),
    (
        length("thread", say("Full thread"), 200),
        length("pitch", say("Pitch"), 10, fills="cutter.pitch"),
        Input("lead", say("Lead of the tap, in pitches"), Quantity.NUMBER, Fraction(0), Fraction(12), default="4"),
    ),
    _tap_turns,
    (
        Slip(say("the lead was forgotten"), lambda v: v.but(lead=Fraction(0))),
        Slip(say("the pitch was multiplied, not divided"), answer=lambda v, o: o.results[1].value * v["pitch"]),
    ),
    _draw_tap,
    order=80,
)
