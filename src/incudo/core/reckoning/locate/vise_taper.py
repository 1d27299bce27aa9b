"""What a vise out of line does to the part. Two readings along the fixed jaw: the taper that it leaves over the
part's length.
"""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.quantity import Unit
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, shown
from incudo.core.reckoning.locate.shared import GROUP
from incudo.core.reckoning.question import Draw, Given, Question
from incudo.core.setup import tram


def _taper(v: Values) -> Outcome:
    over = v["high"] - v["low"]
    found = over * v["part"] / v["travel"]
    put = f"({v.num(v['high'])} − {v.num(v['low'])}) · {v.num(v['part'])} / {v.num(v['travel'])}"
    step = Step(say("taper over the part"), say("(right − left) · length of the part / travel"), put, v.len(found, 5))
    angle = Fraction(tram.Sweep(tram.HeadAxis.TILT, v["low"], v["high"], v["travel"]).degrees)
    results = (
        Output("taper", say("taper over the part"), Quantity.LENGTH, found),
        Output("angle", "angle", Quantity.ANGLE, angle),
    )
    return Outcome(results, (step,))


def _draw_taper(v: Values, o: Outcome) -> Picture:
    rise = 6 if o.answer.value > 0 else -6 if o.answer.value < 0 else 0
    shapes = (
        p.area(Ink.CUT, (-60, 20 - rise), (60, 20 + rise), (60, 40), (-60, 40)),
        p.area(Ink.WORK, (-35, 20 - rise * 35 / 60), (35, 20 + rise * 35 / 60), (35, -10), (-35, -10)),
        p.line(Ink.SCRIBE, (-70, 20), (70, 20), dashed=True),
        p.text((0, -18), f"{v.len(o.answer.value, 5)} over {v.len(v['part'])}", Ink.ANSWER),
    )
    return Picture(say("The fixed jaw out of line, seen from above and drawn larger than it is."), shapes)


CALCULATION = Calculation(
    "vise-taper",
    say("What a vise out of line does to the part"),
    GROUP,
    say("Two readings along the fixed jaw: the taper that it leaves over the part's length."),
    (
        length("low", say("Reading at the left"), 50, low=-50),
        length("high", say("Reading at the right"), 50, low=-50),
        length("travel", say("Travel between the two"), 1000, low=5),
        length("part", say("Length of the part"), 1000),
    ),
    _taper,
    (
        Slip(say("the whole difference was taken"), answer=lambda v, _: v["high"] - v["low"]),
        Slip(say("the lengths were swapped"), answer=lambda v, _: (v["high"] - v["low"]) * v["travel"] / v["part"]),
    ),
    _draw_taper,
    order=170,
)


def ask(d: Draw) -> Question:
    fine = Fraction("0.0005") if d.unit is Unit.INCH else Fraction("0.01")
    given: Given = {
        "low": d.length("0"),
        "high": d.length(shown(fine * d.rng.randint(3, 14), 4)),
        "travel": d.length(d.size(100, 150)),
        "part": d.length(d.size(40, 90)),
    }
    return Question(
        "vise-taper",
        say("What taper does this vise leave?"),
        given,
        d.unit,
        fine * d.unit.in_mm / 4,
        say("to {fine} {unit}", fine=shown(fine / 4, 6), unit=d.unit),
    )
