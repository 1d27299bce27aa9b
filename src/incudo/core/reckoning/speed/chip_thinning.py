"""Chip thinning. With less than half the diameter engaged the chip is thinner than the feed per tooth: raise it."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, root, shown
from incudo.core.reckoning.speed.shared import GROUP, draw_side

#: A feed is never raised to more than this times for thin chips.
MOST_RAISE = Fraction(2)


def _thinning(v: Values) -> Outcome:
    d, ae, fz = v["diameter"], v["engaged"], v["chip"]
    if ae > d:
        raise Refused.of("engaged", v.num(ae), say("must be at most the diameter, {size}", size=v.len(d)))
    k = ae / d
    if k >= Fraction(1, 2):
        step = Step(
            say("thickest chip"), say("from half the diameter on the chip is fz"), f"{shown(k, 3)} ≥ 0.5", v.len(fz)
        )
        return Outcome((Output("feed", say("feed per tooth to set"), Quantity.LENGTH, fz),), (step,))
    thin = 2 * root(k - k * k)
    raised = min(fz / thin, fz * MOST_RAISE)
    steps = (
        Step(say("share engaged"), "ae / D", f"{v.num(ae)} / {v.num(d)}", shown(k, 4)),
        Step(
            say("thickest chip without raising"),
            "2 · fz · √(k − k²)",
            f"2 · {v.num(fz)} · √({shown(k, 4)} − {shown(k * k, 4)})",
            v.len(thin * fz),
        ),
        Step(
            say("feed per tooth for a full chip"),
            say("fz / (2 · √(k − k²)), at most twice"),
            f"{v.num(fz)} / {shown(thin, 4)}",
            v.len(raised),
        ),
    )
    said = (say("It would be more than twice: not above that."),) if fz / thin > fz * MOST_RAISE else ()
    return Outcome((Output("feed", say("feed per tooth to set"), Quantity.LENGTH, raised),), steps, said)


CALCULATION = Calculation(
    "chip-thinning",
    say("Chip thinning"),
    GROUP,
    say("With less than half the diameter engaged the chip is thinner than the feed per tooth: raise it."),
    (
        length("diameter", say("Cutter"), fills="cutter.diameter"),
        length("engaged", say("Engaged sideways")),
        length("chip", say("Chip that is wanted"), 2, fills="material.chip"),
    ),
    _thinning,
    (
        Slip(say("nothing was raised"), answer=lambda v, _: v["chip"]),
        Slip(say("it was lowered instead of raised"), answer=lambda v, o: v["chip"] * v["chip"] / o.answer.value),
        Slip(say("the radius was taken for the diameter"), lambda v: v.but(diameter=v["diameter"] / 2)),
    ),
    lambda v, _: draw_side(v, v["engaged"]),
    order=50,
)
