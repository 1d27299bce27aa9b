"""Centre of a bore or boss by an indicator. Four readings of the needle, a higher one where it is pushed in
more: by how much the cutter has to move.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.locating import centre
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, shown
from incudo.core.reckoning.locate.shared import GROUP
from incudo.core.reckoning.question import Draw, Given, Question


def _bore(v: Values) -> Outcome:
    s = centre.Sweep(v["east"], v["north"], v["west"], v["south"], boss=v.choice("of") == "boss")
    x, y = s.moves
    sense = say("the lower") if s.boss else say("the higher")
    flip = 1 if s.boss else -1
    steps = (
        Step(
            say("along X"),
            say("half the difference; the spindle is off towards {sense}", sense=sense),
            f"{'' if flip > 0 else '−'}({v.num(s.east)} − {v.num(s.west)}) / 2",
            v.len(x),
        ),
        Step(
            say("along Y"),
            say("the same"),
            f"{'' if flip > 0 else '−'}({v.num(s.north)} − {v.num(s.south)}) / 2",
            v.len(y),
        ),
        Step(
            say("out of round, on the last pass only"),
            "(E + W) − (N + S)",
            f"{v.num(s.east + s.west)} − {v.num(s.north + s.south)}",
            v.len(s.out_of_round),
        ),
    )
    results = (
        Output("x", say("cutter moves along X"), Quantity.LENGTH, x),
        Output("y", say("cutter moves along Y"), Quantity.LENGTH, y),
        Output("spread", say("the needle's whole swing"), Quantity.LENGTH, s.spread),
    )
    said = (say("The spindle is isolated, out of gear, and turned by hand."),)
    return Outcome(results, steps, said)


def _draw_bore(v: Values, o: Outcome) -> Picture:
    x, y = float(o.results[0].value), float(o.results[1].value)
    most = max(abs(x), abs(y), 1e-9)
    dx, dy = 18 * x / most, 18 * y / most
    boss = v.choice("of") == "boss"
    base = [p.disc(Ink.WORK, (0, 0), 40)] if boss else [p.box(Ink.WORK, -55, -52, 55, 52), p.disc(Ink.CUT, (0, 0), 40)]
    marks = [
        p.text(at, f"{n} {v.num(v[k])}")
        for n, k, at in (
            ("E", "east", (70, 0)),
            ("N", "north", (0, 58)),
            ("W", "west", (-70, 0)),
            ("S", "south", (0, -60)),
        )
    ]
    shapes = (*base, p.cross((0, 0), 5), p.cross((-dx, -dy), 4), p.arrow(Ink.ANSWER, (-dx, -dy), (0, 0)), *marks)
    return Picture(
        say(
            "The spindle moves by {size} and {size2}; not to scale.",
            size=v.len(o.results[0].value),
            size2=v.len(o.results[1].value),
        ),
        shapes,
    )


CALCULATION = Calculation(
    "bore-centre",
    say("Centre of a bore or boss by an indicator"),
    GROUP,
    say("Four readings of the needle, a higher one where it is pushed in more: by how much the cutter has to move."),
    (
        *(
            length(n, say("Reading at the {w}", w=w), 50, low=-50)
            for n, w in (("east", "right"), ("north", "rear"), ("west", "left"), ("south", "front"))
        ),
        choice("of", say("It is a"), "bore", "boss"),
    ),
    _bore,
    (
        Slip(say("the half was forgotten"), answer=lambda _, o: o.answer.value * 2),
        Slip(say("it was taken the wrong way"), answer=lambda _, o: -o.answer.value),
    ),
    _draw_bore,
    order=150,
)


def ask(d: Draw) -> Question:
    fine = 0.0005 if d.unit is Unit.INCH else 0.01
    values = {n: shown(Fraction(str(fine)) * d.rng.randint(0, 40), 4) for n in ("east", "west", "north", "south")}
    given: Given = {n: d.length(x) for n, x in values.items()} | {"of": {"value": d.pick("bore", "boss"), "unit": ""}}
    words = say("{name}. By how much does the cutter move along X (minus: to the left)?", name=d.name)
    return Question(
        "bore-centre", words, given, d.unit, Fraction(str(fine)) * d.unit.in_mm / 2, say("to half a division")
    )
