"""Depth of a blind tapped hole. Full thread, lead of the tap and room for chips; to the tip the drill's point
comes on top.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.holes.shared import GROUP, PITCH, POINT, point_length
from incudo.core.reckoning.inputs import Input, Quantity, Values, length, shown
from incudo.core.reckoning.question import Draw, Given, K, Question, coarse


def _blind(v: Values) -> Outcome:
    lead = v["lead"] * v["pitch"]
    full = v["thread"] + lead + v["room"]
    point = point_length(v["drill"], v["angle"])
    steps = (
        Step(say("lead of the tap"), "pitches · P", f"{shown(v['lead'])} · {v.num(v['pitch'])}", v.len(lead)),
        Step(
            say("full-diameter depth"),
            say("full thread + lead + chip room"),
            f"{v.num(v['thread'])} + {v.num(lead)} + {v.num(v['room'])}",
            v.len(full),
        ),
        Step(
            say("point length"),
            "D / 2 / tan(A / 2)",
            f"{v.num(v['drill'])} / 2 / tan({shown(v['angle'] / 2)}°)",
            v.len(point),
        ),
        Step(
            say("to the tip"),
            say("full-diameter depth + point"),
            f"{v.num(full)} + {v.num(point)}",
            v.len(full + point),
        ),
    )
    results = (
        Output("full", say("full-diameter depth"), Quantity.LENGTH, full),
        Output("tip", say("depth to the tip"), Quantity.LENGTH, full + point),
    )
    return Outcome(results, steps, (say("Is there enough work under it?"),))


def _draw_blind(v: Values, o: Outcome) -> Picture:
    d, full, tip = v["drill"], o.results[0].value, o.results[1].value
    t = d * Fraction(13, 20)
    shapes = (
        p.box(Ink.WORK, -d * 2, -tip - d / 2, d * 2, 0),
        p.drill(Ink.CUT, 0, -tip, d, 0, v["angle"]),
        p.line(Ink.CUTTER, (-t, 0), (-t, -v["thread"]), (t, -v["thread"]), (t, 0)),
        p.size((d * Fraction(6, 5), 0), (d * Fraction(6, 5), -v["thread"]), v.len(v["thread"])),
        p.size((-d * Fraction(6, 5), 0), (-d * Fraction(6, 5), -full), v.len(full), Ink.ANSWER),
    )
    return Picture(
        say(
            "A blind hole in section: {size} at full diameter, {size2} to the tip.",
            size=v.len(full),
            size2=v.len(tip),
        ),
        shapes,
    )


CALCULATION = Calculation(
    "blind-depth",
    say("Depth of a blind tapped hole"),
    GROUP,
    say("Full thread, lead of the tap and room for chips; to the tip the drill's point comes on top."),
    (
        length("thread", say("Full thread"), 200),
        PITCH,
        Input(
            "lead",
            say("Lead of the tap, in pitches"),
            Quantity.NUMBER,
            Fraction(0),
            Fraction(12),
            with_low=True,
            default="4",
        ),
        length("room", say("Room for chips"), 50, zero=True, default="2", default_inch="0.080"),
        length("drill", say("Tap drill"), 100),
        POINT,
    ),
    _blind,
    (
        Slip(say("the lead was forgotten"), lambda v: v.but(lead=Fraction(0))),
        Slip(say("the room for chips was forgotten"), lambda v: v.but(room=Fraction(0))),
        Slip(say("the point was counted into the full diameter"), answer=lambda _, o: o.results[1].value),
        Slip(say("the point was taken off"), answer=lambda _, o: 2 * o.answer.value - o.results[1].value),
    ),
    _draw_blind,
    order=270,
)


def ask(d: Draw) -> Question:
    tap = d.cutter(K.TAP)
    thread = d.facts.threads[tap.thread]
    pitch = shown(thread.pitch_mm / thread.unit.in_mm, 6)
    drill = shown((thread.diameter_mm - thread.pitch_mm) / thread.unit.in_mm, 3)
    full = shown(Fraction(round(thread.diameter_mm * d.rng.randint(12, 20) / 10 / thread.unit.in_mm * 100), 100), 3)
    given: Given = {
        "thread": {"value": full, "unit": thread.unit},
        "pitch": {"value": pitch, "unit": thread.unit},
        "lead": {"value": d.pick("2", "4"), "unit": ""},
        "room": {"value": "0.080" if thread.unit is Unit.INCH else "2", "unit": thread.unit},
        "drill": {"value": drill, "unit": thread.unit},
        "angle": {"value": "118", "unit": "°"},
    }
    words = say("{name}, a blind hole. How deep at full diameter?", name=tap.name)
    return Question("blind-depth", words, given, thread.unit, *coarse(d))
