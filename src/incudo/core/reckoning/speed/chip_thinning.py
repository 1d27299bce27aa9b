"""Chip thinning. With less than half the diameter engaged the chip is thinner than the feed per tooth: raise it."""

from __future__ import annotations

from fractions import Fraction

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.working import Step
from incudo.core.reckoning.calculation import Calculation, Outcome, Output, Slip
from incudo.core.reckoning.inputs import Quantity, Values, length, root, shown
from incudo.core.reckoning.speed.shared import GROUP, draw_side

#: A feed is never raised to more than this times for thin chips.
MOST_RAISE = Fraction(2)


def _thinning(v: Values) -> Outcome:
    d, ae, fz = v["diameter"], v["engaged"], v["chip"]
    if ae > d:
        raise Refused.of("engaged", v.num(ae), f"must be at most the diameter, {v.len(d)}")
    k = ae / d
    if k >= Fraction(1, 2):
        step = Step("thickest chip", "from half the diameter on the chip is fz", f"{shown(k, 3)} ≥ 0.5", v.len(fz))
        return Outcome((Output("feed", "feed per tooth to set", Quantity.LENGTH, fz),), (step,))
    thin = 2 * root(k - k * k)
    raised = min(fz / thin, fz * MOST_RAISE)
    steps = (
        Step("share engaged", "ae / D", f"{v.num(ae)} / {v.num(d)}", shown(k, 4)),
        Step(
            "thickest chip without raising",
            "2 · fz · √(k − k²)",
            f"2 · {v.num(fz)} · √({shown(k, 4)} − {shown(k * k, 4)})",
            v.len(thin * fz),
        ),
        Step(
            "feed per tooth for a full chip",
            "fz / (2 · √(k − k²)), at most twice",
            f"{v.num(fz)} / {shown(thin, 4)}",
            v.len(raised),
        ),
    )
    said = ("It would be more than twice: not above that.",) if fz / thin > fz * MOST_RAISE else ()
    return Outcome((Output("feed", "feed per tooth to set", Quantity.LENGTH, raised),), steps, said)


CALCULATION = Calculation(
    "chip-thinning",
    "Chip thinning",
    GROUP,
    "With less than half the diameter engaged the chip is thinner than the feed per tooth: raise it.",
    (
        length("diameter", "Cutter", fills="cutter.diameter"),
        length("engaged", "Engaged sideways"),
        length("chip", "Chip that is wanted", 2, fills="material.chip"),
    ),
    _thinning,
    (
        Slip("nothing was raised", answer=lambda v, _: v["chip"]),
        Slip("it was lowered instead of raised", answer=lambda v, o: v["chip"] * v["chip"] / o.answer.value),
        Slip("the radius was taken for the diameter", lambda v: v.but(diameter=v["diameter"] / 2)),
    ),
    lambda v, _: draw_side(v, v["engaged"]),
    order=50,
)
