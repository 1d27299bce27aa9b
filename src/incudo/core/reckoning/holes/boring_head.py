"""Boring by a head. What is left, what to set on a dial that reads on the diameter or on the radius, and the
cuts.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import MM_PER_INCH
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip, numbered
from incudo.core.reckoning.cuts.shared import passes
from incudo.core.reckoning.holes.shared import GROUP
from incudo.core.reckoning.inputs import Quantity, Values, choice, length, shown
from incudo.core.reckoning.question import Draw, Given, K, Question


def _bore(v: Values) -> Outcome:
    left = v["target"] - v["measured"]
    if left < 0:
        raise Refused.of(
            "measured", v.num(v["measured"]), say("must be at most the target, {size}", size=v.len(v["target"]))
        )
    on_radius = v.choice("dial") == "radius"
    dial = left / 2 if on_radius else left
    steps = [
        Step(
            say("left on the diameter"),
            "target − measured",
            f"{v.num(v['target'])} − {v.num(v['measured'])}",
            v.len(left),
        ),
        Step(
            say("in all on the dial"),
            say("half of it") if on_radius else say("the whole"),
            f"{v.num(left)}{' / 2' if on_radius else ''}",
            v.len(dial),
        ),
    ]
    results = [Output("dial", say("in all on the dial"), Quantity.LENGTH, dial)]
    if left and v.given("limit"):
        if left / v["limit"] > 100:
            raise Refused.of(
                "limit", v.num(v["limit"]), say("would make more than 100 cuts of {size}", size=v.len(left))
            )
        cuts = passes(left, v["limit"], v["finish"])
        set_to = [c / 2 if on_radius else c for c in cuts]
        steps.append(
            Step(
                say("cuts, on the diameter"),
                say("remainder first, then the limit, then the finish"),
                " + ".join(v.num(c) for c in cuts),
                v.len(left),
            )
        )
        results += [
            Output("cuts", "cuts", Quantity.COUNT, Fraction(len(cuts))),
            *numbered("cut", say("on the dial, cut"), Quantity.LENGTH, set_to),
        ]
    said = (
        say(
            "Does this head's dial read on the diameter or on the radius? Check it with an indicator "
            "and note the answer on the head."
        ),
        say("Measure before the last cut; then a spring pass at the same setting."),
        say("Shortest, stiffest bar; screws tight; mind the swing of the head."),
    )
    return Outcome(tuple(results), tuple(steps), said)


def _draw_bore(v: Values, o: Outcome) -> Picture:
    target, now = v["target"], v["measured"]
    reach = target * Fraction(4, 5)
    shapes = (
        p.box(Ink.WORK, -reach, -reach, reach, reach),
        p.disc(Ink.CUT, (0, 0), target / 2),
        p.disc(Ink.WORK, (0, 0), target / 2) if now < target else p.cross((0, 0), 1),
        p.disc(Ink.CUT, (0, 0), now / 2),
        p.ring(Ink.ANSWER, (0, 0), target / 2, dashed=True),
        p.line(Ink.CUTTER, (0, 0), (now / 2, 0)),
        p.rotation((0, 0), now / 2),
        p.size(
            (-target / 2, reach * Fraction(11, 10)), (target / 2, reach * Fraction(11, 10)), v.len(target), Ink.ANSWER
        ),
        p.size((-now / 2, -reach * Fraction(11, 10)), (now / 2, -reach * Fraction(11, 10)), v.len(now)),
    )
    return Picture(say("A bore of {size} that should come to {size2}.", size=v.len(now), size2=v.len(target)), shapes)


CALCULATION = Calculation(
    "boring-head",
    say("Boring with a boring head"),
    GROUP,
    say("What is left, what to set on a dial that reads on the diameter or on the radius, and the cuts."),
    (
        length("target", say("Diameter that is wanted"), 300),
        length("measured", say("Measured now"), 300),
        choice("dial", say("The head's dial reads on"), "diameter", "radius", fills="cutter.dial"),
        length("limit", say("At most in one cut, on the diameter"), 10, low=0.01, optional=True),
        length("finish", say("Last cut, on the diameter"), 2, zero=True, default="0.1", default_inch="0.004"),
    ),
    _bore,
    (
        Slip(say("half was set on a dial that reads on the diameter"), lambda v: v.but(dial="radius")),
        Slip(say("the whole was set on a dial that reads on the radius"), lambda v: v.but(dial="diameter")),
        Slip(say("the difference was doubled"), answer=lambda _, o: o.answer.value * 2),
        Slip(say("inches were taken for millimetres"), answer=lambda _, o: o.answer.value / MM_PER_INCH),
    ),
    _draw_bore,
    order=310,
    holds_reading=True,
)


def ask(d: Draw) -> Question:
    head = d.cutter(K.HEAD)
    target = d.mm(d.size(20, 45))
    left = d.mm(d.size(0.3, 1.6, 0.02))
    given: Given = {
        "target": d.length(shown(target / d.unit.in_mm, 4)),
        "measured": d.length(shown((target - left) / d.unit.in_mm, 4)),
        "dial": {"value": head.dial, "unit": ""},
    }
    words = say(
        "{name}: its dial reads on the {dial}. How much do you set on the dial, in all?", name=head.name, dial=head.dial
    )
    return Question("boring-head", words, given, d.unit, *d.fine)
