"""Limits from the title block. The default by decimal places as written: 2.50 is not 2.500."""

from __future__ import annotations

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Slip
from incudo.core.reckoning.inputs import Values, count, length
from incudo.core.reckoning.judging.shared import GROUP, draw_limits, limits
from incudo.core.reckoning.question import Draw, Given, Question


def _title(v: Values) -> Outcome:
    places = int(v["places"])
    name = f"places{places}"
    if not v.given(name):
        raise Refused.of(name, "", say("is missing: the title block says nothing for so many places"))
    t = v[name]
    if not t:
        raise Refused.of(name, "0", say("must be more than 0"))
    put = f"{v.num(v['nominal'])} ± {v.num(t)}"
    steps = (
        Step(
            "tolerance", say("by the decimal places as written"), say("{places} places", places=places), f"±{v.len(t)}"
        ),
        Step(
            "limits",
            "nominal ± tolerance",
            put,
            say("{num} to {size}", num=v.num(v["nominal"] - t), size=v.len(v["nominal"] + t)),
        ),
    )
    return limits(v, v["nominal"] - t, v["nominal"] + t, steps)


CALCULATION = Calculation(
    "title-block",
    say("Limits from the title block"),
    GROUP,
    say("The default by decimal places as written: 2.50 is not 2.500."),
    (
        length("nominal", say("Nominal"), 3000),
        count("places", "Decimal places as written", 1, 4),
        *(length(f"places{n}", say("± for {n} decimals", n=n), 10, zero=True, optional=True) for n in (1, 2, 3, 4)),
    ),
    _title,
    (
        Slip(say("a decimal place was dropped"), lambda v: v.but(places=v["places"] - 1)),
        Slip(say("a decimal place was added"), lambda v: v.but(places=v["places"] + 1)),
        Slip(say("the other limit was given"), answer=lambda _, o: o.results[1].value),
        Slip(say("the tolerance was halved"), answer=lambda v, o: (o.answer.value + v["nominal"]) / 2),
    ),
    draw_limits,
    order=330,
)


def ask(d: Draw) -> Question:
    inch = d.unit is Unit.INCH
    places = d.rng.choice((2, 3))
    text = f"{float(d.size(10, 80)):.{places}f}"
    given: Given = {
        "nominal": d.length(text),
        "places": {"value": str(places), "unit": ""},
        "places1": d.length("0.030" if inch else "0.5"),
        "places2": d.length("0.010" if inch else "0.2"),
        "places3": d.length("0.005" if inch else "0.05"),
        "places4": d.length("0.0005" if inch else "0.01"),
    }
    words = say(
        "The drawing says {text} {unit} and nothing more. What is the lower limit by the title block?",
        text=text,
        unit=d.unit,
    )
    return Question("title-block", words, given, d.unit, d.fine[0] / 10, "exactly", ("places",))
