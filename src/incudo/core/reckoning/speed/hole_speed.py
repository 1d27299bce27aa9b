"""Speed of a drill, reamer or countersink. A reamer at about half a drill's speed and twice its feed, a
countersink at a third. Taps are turned by hand.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.bench import HOLE_TOOLS
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, shown
from incudo.core.reckoning.question import Draw, Given, K, Question, filled
from incudo.core.reckoning.speed.shared import (
    GROUP,
    PI,
    RANGES,
    SCHOOL,
    at_step,
    next_step,
    steps,
    surface,
    turn_steps,
    turns,
)

#: How much a reamer takes on the diameter, in mm, up to a diameter (rule of thumb): enough to cut, not to tear.
REAMING_STOCK = ((3, Fraction(1, 10)), (10, Fraction(1, 5)), (20, Fraction(3, 10)), (30, Fraction(2, 5)))
MOST_REAMING_STOCK = Fraction(1, 2)


def reaming_stock(diameter: Fraction) -> Fraction:
    """What is left for a machine reamer, on the diameter, in mm (rule of thumb); never above a tenth of it."""
    tabled = next((stock for top, stock in REAMING_STOCK if diameter <= top), MOST_REAMING_STOCK)
    return min(tabled, diameter / 10)


def _hole_speed(v: Values) -> Outcome:
    share, more = HOLE_TOOLS[v.choice("tool")]
    surface, d = v["surface"] * share, v["diameter"]
    speed = turns(surface, d)
    outputs, working, said = at_step(v, speed, d)
    reckoned = Output("speed", say("calculated speed"), Quantity.TURNS, speed)
    results = [outputs[0], reckoned, *outputs[1:]] if outputs else [reckoned]
    first = Step(
        say("cutting speed of a {choice}", choice=v.choice("tool")),
        say("{share} of a drill's (rule of thumb)", share=shown(share, 2)),
        f"{v.surface(v['surface'])} · {shown(share, 2)}",
        f"{v.surface(surface)}",
    )
    if v.given("feed"):
        feed = v["feed"] * more
        results.append(Output("feed", say("feed in one turn"), Quantity.LENGTH, feed))
        working.append(
            Step(say("feed in one turn"), "a drill's · factor", f"{v.num(v['feed'])} · {shown(more)}", v.len(feed))
        )
    if v.choice("tool") == "reamer":
        left = reaming_stock(d)
        results += [
            Output("stock", say("left for the reamer, on the diameter"), Quantity.LENGTH, left),
            Output("before", say("hole before reaming"), Quantity.LENGTH, d - left),
        ]
        working.append(
            Step(
                say("hole before reaming"),
                say("D − stock (rule of thumb)"),
                f"{v.num(d)} − {v.num(left)}",
                v.len(d - left),
            )
        )
        said.append(say("A reamer is never turned backwards: it goes out turning forwards."))
    return Outcome(tuple(results), (first, *turn_steps(v, surface, d), *working), tuple(said))


def _draw_hole_speed(v: Values, o: Outcome) -> Picture:
    d = v["diameter"]
    shapes = (
        p.box(Ink.WORK, -d * 2, -d * 2, d * 2, 0),
        p.box(Ink.CUT, -d / 2, -d, d / 2, 0),
        p.drill(Ink.CUTTER, 0, -d * Fraction(5, 4), d, d * 2),
        p.size((-d / 2, d * Fraction(9, 4)), (d / 2, d * Fraction(9, 4)), v.len(d)),
        p.text((d * Fraction(7, 4), d), f"{shown(o.answer.value, 0)} rpm", Ink.ANSWER),
    )
    return Picture(say("A {choice} of {size} from the side.", choice=v.choice("tool"), size=v.len(d)), shapes)


CALCULATION = Calculation(
    "hole-speed",
    say("Speed of a drill, reamer or countersink"),
    GROUP,
    say(
        "A reamer at about half a drill's speed and twice its feed, a countersink at a third. Taps are turned by hand."
    ),
    (
        surface(say("Cutting speed of a drill"), "material.drill"),
        length("diameter", say("Tool"), 100, fills="cutter.diameter"),
        choice("tool", say("What turns"), *HOLE_TOOLS, fills="cutter.tool"),
        length("feed", say("A drill's feed in one turn"), 2, optional=True, fills="material.turn"),
        steps(optional=True),
        RANGES,
        SCHOOL,
    ),
    _hole_speed,
    (
        Slip(say("the drill's own speed was taken"), lambda v: v.but(tool="drill")),
        Slip(say("the radius was taken for the diameter"), lambda v: v.but(diameter=v["diameter"] / 2)),
        Slip(say("π was forgotten"), lambda v: v.but(surface=v["surface"] * PI)),
        Slip(say("a countersink's factor was taken"), lambda v: v.but(tool="countersink")),
        Slip(say("a reamer's factor was taken"), lambda v: v.but(tool="reamer")),
        Slip(say("it was rounded up to the machine's next step"), answer=next_step),
    ),
    _draw_hole_speed,
    order=30,
)


def ask(d: Draw) -> Question:
    tool = d.pick("drill", "reamer", "countersink")
    cutter = d.cutter(K(tool))
    _, f, names = d.bench(cutter)
    given: Given = {
        "surface": filled(f["material.drill"]),
        "diameter": filled(f["cutter.diameter"]),
        "tool": {"value": tool, "unit": ""},
        "school": {"value": d.facts.school, "unit": ""},
    }
    if d.machine.spindle.steps:
        given["steps"] = filled(f["machine.steps"])
        words = say("{names}. The cutting speed is a drill's. To which step do you set the spindle?", names=names)
        return Question("hole-speed", words, given, "rpm", Fraction(1, 2), say("the step"))
    given["ranges"] = filled(f["machine.ranges"])
    words = say("{names}. The cutting speed is a drill's. How many rpm?", names=names)
    return Question("hole-speed", words, given, "rpm", Fraction(10), "to 10 turns")
