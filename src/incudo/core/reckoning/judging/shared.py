"""What several calculations of this group share."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel import picture as p
from incudo.core.kernel.errors import Refused
from incudo.core.kernel.picture import Ink, Picture
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Outcome, Output
from incudo.core.reckoning.inputs import Quantity, Values

GROUP = "measuring"


def limits(v: Values, low: Fraction, high: Fraction, steps: tuple[Step, ...]) -> Outcome:
    if low >= high:
        raise Refused.of(
            "lower", v.num(low), say("the lower limit must lie below the upper one, {num}", num=v.num(high))
        )
    results = (
        Output("lower", say("lower limit"), Quantity.LENGTH, low),
        Output("upper", say("upper limit"), Quantity.LENGTH, high),
        Output("aim", say("middle, to aim at"), Quantity.LENGTH, (low + high) / 2),
        Output("width", say("full width"), Quantity.LENGTH, high - low),
    )
    return Outcome(results, steps)


def held(squared: Fraction, most: Fraction, unsure: Fraction, subject: str) -> str:
    """What is said of an error that has only an upper limit, from its square: exact where there is no uncertainty.

    In up to ``most`` − ``unsure``, out beyond ``most`` + ``unsure``, too close to call between the two.
    """
    if most >= unsure and squared <= (most - unsure) ** 2:
        return say("{subject} is within the tolerance.", subject=subject)
    if squared > (most + unsure) ** 2:
        return say("{subject} is out.", subject=subject)
    return say("{subject} is too close to call: measure better, with a finer instrument.", subject=subject)


def draw_limits(v: Values, o: Outcome) -> Picture:
    low, high, aim = (o.results[i].value for i in range(3))
    return bar(v, low, high, aim, "aim")


def bar(v: Values, low: Fraction, high: Fraction, at: Fraction, word: str, unsure: Fraction = Fraction(0)) -> Picture:
    """A tolerance bar: limits at a quarter and three quarters; a value off the scale is pinned at its end.

    ``word`` says what the value is; it may say all of it, with a full stop at its end.
    """
    said = word.removesuffix(".") if word.endswith(".") else f"{word} {v.len(at)}"
    width = high - low

    def place(x: Fraction) -> float:
        return max(0.0, min(100.0, 25 + 50 * float((x - low) / width)))

    here = place(at)
    shapes = (
        p.box(Ink.CUT, 0, 0, 100, 10),
        p.box(Ink.WORK, 25, 0, 75, 10),
        p.text((25.0, -5.0), v.num(low)),
        p.text((75.0, -5.0), v.num(high)),
        *((p.box(Ink.CUTTER, place(at - unsure), 3, place(at + unsure), 7),) if unsure else ()),
        p.line(Ink.ANSWER, (here, -2.0), (here, 13.0)),
        p.text((here, 18.0), said, Ink.ANSWER),
    )
    return Picture(
        say("{said} between the limits {num} and {num2}.", said=said, num=v.num(low), num2=v.num(high)), shapes
    )
