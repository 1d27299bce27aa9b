"""What several calculations of this group share."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say, together
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Outcome, Output, numbered
from incudo.core.reckoning.inputs import Quantity, Values, length

GROUP = "cuts"


LIMIT = length("limit", say("At most in one pass"), 50, low=0.01)


FINISH = length("finish", say("Finishing allowance"), 5, zero=True, default="0.25", default_inch="0.010")


CUTTER = length("diameter", say("Cutter"), 300, fills="cutter.diameter")


def passes(stock: Fraction, limit: Fraction, finish: Fraction) -> tuple[Fraction, ...]:
    """Depths of the passes: an awkward remainder first, then full ones, the finish last; their sum is the stock.

    Stock not above the finishing allowance is one finishing pass.
    """
    if stock <= finish:
        return (stock,)
    rough = stock - finish
    full, rest = divmod(rough, limit)
    return (*((rest,) if rest else ()), *([limit] * int(full)), *((finish,) if finish else ()))


def _check_number(v: Values, stock: Fraction) -> None:
    if stock / v["limit"] > 200:
        raise Refused.of(
            "limit", v.num(v["limit"]), say("would make more than 200 passes of {size}", size=v.len(stock))
        )


def pass_outcome(v: Values, stock: Fraction, first: tuple[Step, ...], before: tuple[Output, ...]) -> Outcome:
    _check_number(v, stock)
    found = passes(stock, v["limit"], v["finish"])
    rough = max(stock - v["finish"], Fraction(0))
    steps = (
        *first,
        Step(
            say("to rough"), say("stock − finishing allowance"), f"{v.num(stock)} − {v.num(v['finish'])}", v.len(rough)
        ),
        Step(
            "passes",
            say("remainder first, then the limit, then the finish"),
            " + ".join(v.num(x) for x in found),
            v.len(stock),
        ),
    )
    depths = numbered("pass", "pass", Quantity.LENGTH, found)
    said = (say("Measure before the last pass and plan the rest from that reading."),)
    return Outcome((*before, Output("passes", "passes", Quantity.COUNT, Fraction(len(found))), *depths), steps, said)


def draw_passes(v: Values, o: Outcome) -> Picture:
    depths = [r.value for r in o.results if r.name.startswith("pass") and r.kind is Quantity.LENGTH]
    total = sum(depths, Fraction(0)) or Fraction(1)
    shapes = [p.box(Ink.WORK, 0, -30, 100, 0)]
    top = Fraction(60)
    for i, d in enumerate(depths):
        low = top - 60 * d / total
        last = i == len(depths) - 1
        shapes.append(p.box(Ink.ANSWER if last else Ink.CUT, 0, low, 100, top))
        if len(depths) <= 14:
            shapes.append(p.text((118, (low + top) / 2), v.num(d), Ink.ANSWER if last else Ink.SCRIBE))
        top = low
    shapes.append(p.size((-12, 0), (-12, 60), v.len(total)))
    words = together((v.num(d) for d in depths[:14]), ", ")
    return Picture(
        say("{count} passes from the top: {words}.", count=len(depths), words=words), tuple(shapes), free=True
    )
