"""Face mill and fly cutter. Speed by the swing, feed, and the time of a centred pass: to full engagement, or
until it is clear behind.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, count, length, root, shown
from incudo.core.reckoning.speed.shared import GROUP, RANGES, SCHOOL, at_step, steps, surface, turn_steps, turns


def _face(v: Values) -> Outcome:
    d, w = v["diameter"], v["width"]
    if w > d:
        raise Refused.of(
            "width", v.num(w), say("must be at most the cutter's swing, {size}: face it in two passes", size=v.len(d))
        )
    reckoned = turns(v["surface"], d)
    outputs, working, said_step = at_step(v, reckoned, d)
    # the table follows the spindle as it is set, not as it was reckoned
    speed = outputs[0].value if outputs else reckoned
    enter = d / 2 - root(d * d / 4 - w * w / 4)
    full = v["length"] + enter
    clean = v["length"] + d
    way = clean if v.choice("exit") == "clean" else full
    feed = speed * v["teeth"] * v["chip"]
    seconds = way / feed * 60
    formula = "length + D" if v.choice("exit") == "clean" else "length + R − √(R² − (w/2)²)"
    shown_steps = (
        turn_steps(v, v["surface"], d)[0],
        *working,
        Step(
            say("table feed"),
            "n · z · fz",
            f"{shown(speed, 1)} · {shown(v['teeth'])} · {v.num(v['chip'])}",
            v.feed(feed),
        ),
        Step(
            "way",
            formula,
            say("length {num}, D {num2}, w {num3}", num=v.num(v["length"]), num2=v.num(d), num3=v.num(w)),
            v.len(way, 3),
        ),
        Step(say("time of one pass"), "way / feed", f"{v.num(way, 3)} / {v.feed(feed)}", f"{shown(seconds, 0)} s"),
    )
    said = (
        *said_step,
        say(
            "The speed goes by the swing, over the tips. A fly cutter has one tooth and knocks: start clear "
            "of the work."
        ),
        say("It swings wider than it looks: look round the whole circle, and have every screw tight."),
    )
    results = (
        Output("time", say("time of one pass"), Quantity.TIME, seconds),
        Output("speed", say("calculated speed"), Quantity.TURNS, reckoned),
        Output("feed", say("table feed at the speed that is set"), Quantity.FEED, feed),
        Output("enter", say("path to full engagement"), Quantity.LENGTH, enter),
        *outputs,
    )
    return Outcome(results, shown_steps, said)


def _draw_face(v: Values, o: Outcome) -> Picture:
    d, w = v["diameter"], v["width"]
    along = d * 2
    enter = o.results[3].value
    shapes = (
        p.box(Ink.WORK, enter - d / 2, -w / 2, along, w / 2),
        p.box(Ink.CUT, enter - d / 2, -w / 2, 0, w / 2),
        *p.cutter((Fraction(0), Fraction(0)), d, int(v["teeth"])),
        p.arrow(Ink.ANSWER, (d * Fraction(3, 5), 0), (d * Fraction(6, 5), 0)),
        p.size((along, -w / 2), (along, w / 2), v.len(w)),
        p.size((-d / 2, d * Fraction(3, 5)), (d / 2, d * Fraction(3, 5)), v.len(d)),
    )
    return Picture(
        say(
            "A facing cut {size} wide, centred under a swing of {size2}, seen from above.",
            size=v.len(w),
            size2=v.len(d),
        ),
        shapes,
    )


CALCULATION = Calculation(
    "facing",
    say("Face mill and fly cutter"),
    GROUP,
    say("Speed by the swing, feed, and the time of a centred pass: to full engagement, or until it is clear behind."),
    (
        surface(),
        length("diameter", say("Swing over the tips"), fills="cutter.diameter"),
        count("teeth", "Teeth", 1, 20, default="1", fills="cutter.teeth"),
        length("chip", say("Feed per tooth"), 2, fills="material.chip"),
        length("width", say("Width of the work")),
        length("length", say("Length of the work"), 2000),
        choice("exit", say("The pass ends"), "clean", "full"),
        steps(optional=True),
        RANGES,
        SCHOOL,
    ),
    _face,
    (
        Slip(say("the overrun was forgotten"), lambda v: v.but(exit="full")),
        Slip(say("only the length of the work was counted"), answer=lambda v, o: v["length"] / o.results[2].value * 60),
        Slip(say("the radius was taken for the diameter"), lambda v: v.but(surface=v["surface"] * 2)),
        Slip(say("the teeth were forgotten"), lambda v: v.but(teeth=Fraction(1))),
        Slip(say("the calculated speed was used, not the one that is set"), lambda v: v.but(steps=(), ranges=())),
    ),
    _draw_face,
    order=40,
)
