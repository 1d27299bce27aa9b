"""Middle of a bar at the fixed jaw. A round bar gripped against the fixed jaw: half a diameter from the jaw's
face.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, choice, length
from incudo.core.reckoning.locate.shared import GROUP
from incudo.core.reckoning.question import Draw, Given, Question


def _jaw(v: Values) -> Outcome:
    sign = -1 if v.choice("jaw") == "at the rear" else 1
    found = v["face"] + sign * v["diameter"] / 2
    put = f"{v.num(v['face'])} {'−' if sign < 0 else '+'} {v.num(v['diameter'])} / 2"
    step = Step(say("middle of the bar"), say("face of the fixed jaw ∓ D / 2"), put, v.len(found))
    return Outcome((Output("middle", say("middle of the bar"), Quantity.LENGTH, found),), (step,))


def _draw_jaw(v: Values, o: Outcome) -> Picture:
    d, m, f = v["diameter"], o.answer.value, v["face"]
    out = d * (1 if f > m else -1)
    shapes = (
        p.box(Ink.CUT, -d * 2, min(f, f + out), d * 2, max(f, f + out)),
        p.disc(Ink.WORK, (0, m), d / 2),
        p.line(Ink.ANSWER, (-d * 2, m), (d * 2, m)),
        p.text((d * Fraction(3, 2), m + d / 8), v.len(m), Ink.ANSWER),
        p.size((-d, f), (-d, m), v.len(d / 2)),
    )
    return Picture(say("A bar against the fixed jaw, seen along it; its middle at {size}.", size=v.len(m)), shapes)


CALCULATION = Calculation(
    "bar-at-jaw",
    say("Middle of a bar at the fixed jaw"),
    GROUP,
    say("A round bar gripped against the fixed jaw: half a diameter from the jaw's face."),
    (
        length("face", say("Face of the fixed jaw"), 2000, low=-2000, default="0"),
        length("diameter", say("Bar")),
        choice("jaw", say("The fixed jaw is"), say("at the rear"), say("in front")),
    ),
    _jaw,
    (
        Slip(say("the whole diameter was taken"), lambda v: v.but(diameter=v["diameter"] * 2)),
        Slip(say("it was taken to the wrong side"), lambda v: v.but(diameter=-v["diameter"])),
    ),
    _draw_jaw,
    order=140,
)


def ask(d: Draw) -> Question:
    given: Given = {
        "face": d.length(d.size(5, 60, 0.1)),
        "diameter": d.length(d.size(10, 60)),
        "jaw": {"value": d.pick(say("at the rear"), say("in front")), "unit": ""},
    }
    words = say("{name}. A round bar is gripped against the fixed jaw. At which Y is its middle?", name=d.name)
    return Question("bar-at-jaw", words, given, d.unit, *d.dial)
