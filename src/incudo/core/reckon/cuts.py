"""Passes and measuring: how stock is shared out, position, growth with warmth. Sources: geometry, the shop's rules."""

from __future__ import annotations

import math
from fractions import Fraction

from incudo.core.reckon.base import Calculation, Input, Outcome, Output, Quantity, Slip, Values, shown
from incudo.core.working import Step


def passes(stock: Fraction, limit: Fraction, finish: Fraction) -> tuple[Fraction, ...]:
    """Depths of the passes: an awkward remainder first, then full ones, the finish last; their sum is the stock.

    Stock not above the finishing allowance is one finishing pass.
    """
    if stock <= finish:
        return (stock,)
    rough = stock - finish
    full, rest = divmod(rough, limit)
    return (*((rest,) if rest else ()), *([limit] * int(full)), *((finish,) if finish else ()))


def _passes(v: Values) -> Outcome:
    found = passes(v["stock"], v["limit"], v["finish"])
    rough = v["stock"] - v["finish"]
    results = [Output("passes", "passes", Quantity.COUNT, Fraction(len(found)))]
    results += [Output(f"pass{i}", f"pass {i}", Quantity.LENGTH, x) for i, x in enumerate(found, 1)]
    steps = (
        Step(
            "to rough",
            "stock − finishing allowance",
            f"{shown(v['stock'])} − {shown(v['finish'])}",
            shown(max(rough, Fraction(0))),
        ),
        Step(
            "passes",
            "remainder first, then the limit, then the finish",
            " + ".join(shown(x) for x in found),
            shown(v["stock"]),
        ),
    )
    return Outcome(
        tuple(results), steps, ("Measure before the last pass and plan again from there: none can be put back.",)
    )


PASSES = Calculation(
    "passes",
    "Passes",
    "cuts",
    "How stock is shared out: an awkward remainder first, then full passes, the finish last.",
    (
        Input("stock", "Stock to take off", Quantity.LENGTH, Fraction(0), Fraction(100)),
        Input("limit", "At most in one pass", Quantity.LENGTH, Fraction(1, 20), Fraction(50), with_low=True),
        Input(
            "finish", "Finishing allowance", Quantity.LENGTH, Fraction(0), Fraction(5), with_low=True, default="0.25"
        ),
    ),
    _passes,
    (
        Slip("the finishing pass was forgotten", answer=lambda _, o: o.answer.value - 1),
        Slip("one pass too many was counted", answer=lambda _, o: o.answer.value + 1),
    ),
)


def _position(v: Values) -> Outcome:
    dx, dy = v["dx"], v["dy"]
    off = 2 * Fraction(math.sqrt(dx * dx + dy * dy))
    allowed = v["tolerance"] + v["bonus"]
    put = f"2 · √({shown(dx)}² + {shown(dy)}²)"
    steps = (
        Step("position, as a diameter", "2 · √(dx² + dy²)", put, shown(off, 4)),
        Step("allowed", "tolerance + bonus", f"{shown(v['tolerance'])} + {shown(v['bonus'])}", shown(allowed)),
    )
    # held exactly, without the root
    inside = 4 * (dx * dx + dy * dy) <= allowed * allowed
    said = ("It is in." if inside else "It is out.",)
    return Outcome((Output("position", "position", Quantity.LENGTH, off),), steps, said)


POSITION = Calculation(
    "position",
    "Position of a hole",
    "measuring",
    "From the errors along X and Y, against its tolerance with a bonus.",
    (
        Input("dx", "Off along X", Quantity.LENGTH, Fraction(-50), Fraction(50), with_low=True),
        Input("dy", "Off along Y", Quantity.LENGTH, Fraction(-50), Fraction(50), with_low=True),
        Input("tolerance", "Tolerance, a diameter", Quantity.LENGTH, Fraction(0), Fraction(50)),
        Input("bonus", "Bonus", Quantity.LENGTH, Fraction(0), Fraction(50), with_low=True, default="0"),
    ),
    _position,
    (
        Slip("the radius was taken for the diameter", answer=lambda _, o: o.answer.value / 2),
        Slip("both errors were only added", answer=lambda v, _: 2 * (abs(v["dx"]) + abs(v["dy"]))),
    ),
)


def _growth(v: Values) -> Outcome:
    grown = v["length"] * v["micro"] / 1_000_000 * v["warmer"]
    put = f"{shown(v['length'])} · {shown(v['micro'])} / 10⁶ · {shown(v['warmer'])}"
    cool = v["length"] / (1 + v["micro"] / 1_000_000 * v["warmer"])
    steps = (
        Step("growth", "L · α · ΔT", put, shown(grown, 4)),
        Step("size at 20 °C", "reading / (1 + α · ΔT)", put, shown(cool, 4)),
    )
    return Outcome(
        (Output("growth", "growth", Quantity.LENGTH, grown), Output("cool", "size at 20 °C", Quantity.LENGTH, cool)),
        steps,
    )


GROWTH = Calculation(
    "growth",
    "Growth with warmth",
    "measuring",
    "How much longer warm work is than at 20 °C. Expansion in millionths per °C: steel about 12, aluminium about 23.",
    (
        Input("length", "Measured length", Quantity.LENGTH, Fraction(0), Fraction(2000)),
        Input(
            "micro",
            "Expansion, millionths per °C",
            Quantity.COUNT,
            Fraction(1),
            Fraction(200),
            with_low=True,
            default="12",
        ),
        Input("warmer", "Warmer than 20 °C by", Quantity.TEMPERATURE, Fraction(-40), Fraction(150), with_low=True),
    ),
    _growth,
    (
        Slip("°F were taken for °C", lambda v: v.but(warmer=v["warmer"] * Fraction(9, 5))),
        Slip("a power of ten was lost", answer=lambda _, o: o.answer.value * 10),
    ),
)
