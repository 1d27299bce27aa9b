"""Do two people agree?. Two readings of the same thing, each with its uncertainty; compared in squares, exactly."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.measuring.verdict import Estimate, agree
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, root
from incudo.core.reckoning.judging.shared import GROUP, bar


def _agree(v: Values) -> Outcome:
    x1, x2, u1, u2 = v["first"], v["second"], v["unsure1"], v["unsure2"]
    same = agree(Estimate(x1, u1), Estimate(x2, u2))
    allowed = root(u1 * u1 + u2 * u2)
    steps = (
        Step("difference", "x1 − x2", f"{v.num(x1)} − {v.num(x2)}", v.len(abs(x1 - x2))),
        Step(say("may differ by"), "√(U1² + U2²)", f"√({v.num(u1)}² + {v.num(u2)}²)", v.len(allowed)),
    )
    results = (
        Output("agree", "they", Quantity.CHOICE, Fraction(0 if same else 1), ("agree", say("do not agree"))),
        Output("allowed", say("may differ by"), Quantity.LENGTH, allowed),
    )
    return Outcome(results, steps)


CALCULATION = Calculation(
    "agreement",
    say("Do two people agree?"),
    GROUP,
    say("Two readings of the same thing, each with its uncertainty; compared in squares, exactly."),
    (
        length("first", say("First reading"), 3000, low=-100),
        length("unsure1", say("Its U"), 10, zero=True),
        length("second", say("Second reading"), 3000, low=-100),
        length("unsure2", say("Its U"), 10, zero=True),
    ),
    _agree,
    (
        Slip(say("only the first one's uncertainty was counted"), lambda v: v.but(unsure2=Fraction(0))),
        Slip(
            say("the uncertainties were added, not taken as the root of their squares"),
            lambda v: v.but(unsure1=v["unsure1"] + v["unsure2"], unsure2=Fraction(0)),
        ),
    ),
    lambda v, o: bar(
        v,
        v["first"] - v["unsure1"],
        v["first"] + v["unsure1"] + Fraction(1, 10**6),
        v["second"],
        "second",
        v["unsure2"],
    ),
    order=380,
    holds_reading=True,
)
