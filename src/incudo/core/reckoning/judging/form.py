"""Flatness, parallelism, squareness. From several readings of an indicator over the surface: the spread between the
highest and the lowest, against its tolerance.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Input, Quantity, Values, choice, length, shown
from incudo.core.reckoning.judging.shared import GROUP, held
from incudo.core.reckoning.question import Draw, Given, Question

#: How many readings say something at all.
LEAST = 3
_HOW = {
    "flatness": say(
        "Level the face on three points far apart first: the spread is then the largest its flatness can be."
    ),
    "parallelism": say("Lay the datum face on a surface plate, and run the indicator over the whole other face."),
    "squareness": say("Clamp the datum face to an angle plate, and run the indicator up the other face, square to it."),
}


def _form(v: Values) -> Outcome:
    readings = v.list("readings")
    if len(readings) < LEAST:
        raise Refused.of(
            "readings", str(len(readings)), say("must be at least {least} readings, spread over the face", least=LEAST)
        )
    low, high = min(readings), max(readings)
    spread = high - low
    step = Step("spread", "highest − lowest", f"{v.num(high)} − {v.num(low)}", v.len(spread))
    verdict = held(spread * spread, v["tolerance"], v["uncertainty"], "It")
    said = (verdict, _HOW[v.choice("of")])
    return Outcome((Output("spread", v.choice("of"), Quantity.LENGTH, spread),), (step,), said)


def _draw(v: Values, o: Outcome) -> Picture:
    readings = v.list("readings")
    low, spread = min(readings), max(o.answer.value, v["tolerance"])
    n = len(readings)
    at = [(Fraction(120 * i, max(n - 1, 1)) - 60, (x - low) / spread * 40) for i, x in enumerate(readings)]
    shapes = (
        p.area(Ink.WORK, (-66, -30), (66, -30), *[(x, y) for x, y in at[::-1]]),
        p.line(Ink.SCRIBE, (-66, 0), (66, 0), dashed=True),
        p.line(Ink.ANSWER, (-66, o.answer.value / spread * 40), (66, o.answer.value / spread * 40)),
        *(p.disc(Ink.CUTTER, a, 1.8) for a in at),
        p.text((0, 52), f"{v.len(o.answer.value)} of {v.len(v['tolerance'])}", Ink.ANSWER),
    )
    return Picture(
        say("{n} readings over the face, {size} from the lowest to the highest.", n=n, size=v.len(o.answer.value)),
        shapes,
    )


CALCULATION = Calculation(
    "form",
    say("Flatness, parallelism, squareness"),
    GROUP,
    say("From several readings of an indicator over the face: the spread, against its tolerance."),
    (
        choice("of", say("It is"), *_HOW),
        Input("readings", say("Readings"), Quantity.LENGTHS, Fraction(-50), Fraction(50), with_low=True),
        length("tolerance", say("Tolerance"), 10),
        length("uncertainty", say("Uncertainty of a difference"), 1, zero=True, default="0"),
    ),
    _form,
    (
        Slip(say("the largest reading was taken by itself"), answer=lambda v, _: max(map(abs, v.list("readings")))),
        Slip(say("half the spread was taken"), answer=lambda _, o: o.answer.value / 2),
        Slip(
            say("only the first and the last were looked at"),
            answer=lambda v, _: abs(v.list("readings")[-1] - v.list("readings")[0]),
        ),
    ),
    _draw,
    order=392,
    holds_reading=True,
)


def ask(d: Draw) -> Question:
    fine = Fraction("0.0005") if d.unit is Unit.INCH else Fraction("0.01")
    readings = [shown(fine * d.rng.randint(-6, 6), 4) for _ in range(5)]
    of = d.pick(*_HOW)
    given: Given = {
        "of": {"value": of, "unit": ""},
        "readings": d.length(" ".join(readings)),
        "tolerance": d.length("0.002" if d.unit is Unit.INCH else "0.05"),
    }
    near = fine * d.unit.in_mm / 2
    return Question(
        "form",
        say("What is the {of}?", of=of),
        given,
        d.unit,
        near,
        say("to {fine} {unit}", fine=shown(fine / 2, 5), unit=d.unit),
    )
